"""Takes: the same trace again, in another process too; edits carried over; exits explained."""

from __future__ import annotations

import csv
import io
import json
import subprocess
import sys
import tempfile
from pathlib import Path

from hypothesis import given
from hypothesis import strategies as some

from tests.core.test_demo_promises import presses
from tests.helpers import (
    Case,
    Press,
    clip,
    controls,
    demo_puppet,
    demo_setup,
    demo_world,
    puppet_of,
    run,
    state_of,
)
from yarn_puppet.cli import main
from yarn_puppet.core.formats.errors import FileProblem
from yarn_puppet.core.formats.take_file import load_take
from yarn_puppet.core.formats.trace_file import flat_lines, write_table
from yarn_puppet.core.model.edits import graph as graph_edits
from yarn_puppet.core.model.edits.frames import frames as frame_edits
from yarn_puppet.core.model.graph import Leave, State, Transition
from yarn_puppet.core.model.take import Take
from yarn_puppet.core.takes.controls import Controls
from yarn_puppet.core.takes.explaining.explain import Exit, TickConditions, exits
from yarn_puppet.core.takes.recording import Recording, run_again
from yarn_puppet.core.takes.run import Record, replay, set_up
from yarn_puppet.core.takes.trace import trace_lines
from yarn_puppet.demo import DEMO_BOOTH, DEMO_TAKE, FIRST_STEPS

ROOT = Path(__file__).parents[2]


def lines(records: list[Record]) -> str:
    """A trace as text."""
    return "".join(json.dumps(line, ensure_ascii=False) + "\n" for line in trace_lines(records))


class Read(Case):
    def test_a_sense_of_another_type_is_said_with_its_place(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "odd.take.json"
            for value, said in (('"abc"', "expected a number for speed, found 'abc'"),
                                ("true", "found True"),
                                ("1" + "0" * 400, None), ("null", None)):
                senses = f'[[0, "vx", 1], [1, "speed", {value}]]'
                path.write_text(f'{{"booth": null, "rate": 60, "ticks": 3, "senses": {senses}}}')
                if said is None:
                    load_take(path, demo_puppet())
                    continue
                with self.assertRaises(FileProblem) as caught:
                    load_take(path, demo_puppet())
                self.assertIn("senses[1]", str(caught.exception))
                self.assertIn(said, str(caught.exception))


class Again(Case):
    @given(presses())
    def test_a_take_gives_the_same_trace_twice(self, pressed: list[Press]) -> None:
        setup = demo_setup()
        recording = Recording(setup.puppet, setup.world, DEMO_BOOTH)
        for control in controls(pressed, 200):
            recording.step(control)
        again = list(replay(demo_setup(), recording.take()))
        self.assertEqual(lines(again), lines(recording.records))
        self.assertEqual([record.after for record in again],
                         [record.after for record in recording.records])

    def test_and_in_a_second_process_bit_for_bit(self) -> None:
        here = lines(list(replay(demo_setup(), load_take(DEMO_TAKE))))
        for seed in ("1", "2"):
            there = subprocess.run(
                [sys.executable, "-m", "yarn_puppet", "play", str(FIRST_STEPS), "--take",
                 str(DEMO_TAKE)],
                cwd=ROOT, capture_output=True, text=True, check=True,
                env={"PYTHONHASHSEED": seed, "PATH": ""},
            )
            self.assertEqual(there.stdout, here)

    def test_forced_senses_are_part_of_a_take(self) -> None:
        recording = Recording(demo_puppet(), demo_world(), DEMO_BOOTH)
        for tick in range(30):
            recording.step(Controls(frozenset(), (("grounded", False),) if 10 <= tick < 20 else ()))
        self.assertEqual(recording.take().senses, ((10, "grounded", False), (20, "grounded", None)))
        again = list(replay(demo_setup(), recording.take()))
        self.assertEqual(lines(again), lines(recording.records))
        self.assertEqual(state_of(again[15]), "fall_state")

    def test_without_a_booth_the_listed_senses_are_all_that_changes(self) -> None:
        take = Take(None, 60, 40, senses=((10, "move_x", 1), (30, "move_x", 0)))
        records = list(replay(set_up(demo_puppet(), None), take))
        walking = [record.report.tick for record in records if state_of(record) == "walk_state"]
        self.assertEqual(walking, list(range(10, 30)))
        self.assertIsNone(records[0].after.booth)

    def test_a_hostile_sense_is_read_as_its_type(self) -> None:
        take = Take(None, 60, 3,
                    senses=((0, "move_x", "left"), (0, "grounded", "x"), (1, "speed", True)))
        records = list(replay(set_up(demo_puppet(), None), take))
        senses = dict(zip([sense.id for sense in demo_puppet().senses], records[2].report.senses,
                          strict=True))
        self.assertEqual((senses["move_x"], senses["grounded"], senses["speed"]), (0, True, 1.0))


class Editing(Case):
    def recording(self, ticks: int = 160) -> Recording:
        """Up to Old Thatch, and a swing begun."""
        recording = Recording(demo_puppet(), demo_world(), DEMO_BOOTH)
        for control in controls([(5, 100, "right"), (140, 144, "attack")], ticks):
            recording.step(control)
        return recording

    def test_an_edit_while_running_keeps_the_state_and_its_time(self) -> None:
        recording = self.recording(150)
        before = recording.records[-1].report.layers[0]
        recording.edit(graph_edits.state_added(recording.setup.puppet, "New", "idle", "air")[0])
        after = recording.step().report.layers[0]
        self.assertEqual((before.state, after.state), ("light_swing_state", "light_swing_state"))
        self.assertAlmostEqual(after.clip_time, before.clip_time + 1 / 60)

    def test_the_active_state_removed_gives_way_to_the_start(self) -> None:
        recording = self.recording(150)
        recording.edit(graph_edits.state_removed(recording.setup.puppet, "light_swing_state"))
        self.assertEqual(state_of(recording.step()), "idle_state")

    @given(some.integers(1, 200), some.sampled_from(["idle", "walk", "light_swing", "heavy_slam"]))
    def test_a_clip_shortened_under_way_never_stops_the_run(
        self, ticks: int, shortened: str
    ) -> None:
        recording = self.recording(ticks)
        puppet = frame_edits.frames_changed(recording.setup.puppet, shortened, duration=5.0)
        for _ in range(4):
            puppet = frame_edits.frames_removed(puppet, shortened, (0,))
        recording.edit(puppet)
        for _ in range(90):
            recording.step()
        self.assertEqual(state_of(recording.records[-1]), "idle_state")

    def test_run_again_after_an_edit_is_the_run_of_the_edited_puppet_and_keeps_the_earlier(
        self,
    ) -> None:
        recording = self.recording()
        old = list(recording.records)
        slower = frame_edits.frames_changed(recording.setup.puppet, "light_swing", duration=120.0)
        recording.edit(slower)
        *_, again = run_again(recording.setup, recording.controls)
        self.assertTrue(recording.adopt(again))
        fresh = run(set_up(slower, demo_world()), [(5, 100, "right"), (140, 144, "attack")], 160)
        self.assertEqual(lines(recording.records), lines(fresh))
        self.assertEqual(list(recording.earlier), old)
        self.assertEqual(recording.state, fresh[-1].after)

    def test_restarting_forgets_the_run(self) -> None:
        recording = self.recording()
        recording.restart()
        self.assertEqual((recording.ticks, recording.take().controls), (0, ()))


class WaysOut(Case):
    def named(self, found: tuple[Exit, ...]) -> dict[str, Exit]:
        return {each.transition: each for each in found}

    def test_exits_stand_in_the_order_of_trying_with_terms_lit_and_reasons(self) -> None:
        records = run(demo_setup(), [(5, 60, "right"), (70, 74, "attack"), (90, 160, "guard")], 160)
        walking = exits(records[30])
        first = [each.transition for each in walking[:3]]
        self.assertEqual(first, ["walk_to_crouch", "walk_to_idle", "ground_to_fall"])
        by_id = self.named(walking)
        self.assertEqual([(term.text, term.lit) for term in by_id["ground_to_rise"].terms],
                         [("press jump", False), ("grounded", True)])
        self.assertEqual(by_id["ground_to_rise"].reason, "waiting for press jump")
        self.assertEqual(by_id["walk_to_idle"].reason, "move x is 1")
        swinging = self.named(exits(records[80]))
        self.assertEqual(swinging["light_to_guard"].reason, "no cancel window is open")
        self.assertIn("s of the clip to go", swinging["light_to_idle"].reason)

    def test_the_one_taken_is_said_and_agrees_with_the_report_in_every_tick(self) -> None:
        for record in run(demo_setup(), [(5, 60, "right"), (70, 74, "attack"), (85, 120, "guard")],
                          200):
            taken = [each.transition for each in exits(record) if each.taken]
            self.assertEqual(taken, [each.transition for each in record.report.taken])
            for each in exits(record):
                if each.taken:
                    self.assertTrue(all(term.lit for term in each.terms))
                    self.assertEqual(each.reason, "leaves this tick")

    def test_those_one_term_short_are_those_whose_terms_say_so(self) -> None:
        seen = set()
        for record in run(demo_setup(), [(5, 60, "right"), (70, 74, "attack"), (85, 120, "guard")],
                          200):
            conditions = TickConditions(record)
            short = {each.transition for layer in range(len(record.before.machine.layers))
                     for each in conditions.exits(layer)
                     if not each.taken and len(each.terms) > 1
                     and [term.lit for term in each.terms].count(False) == 1}
            self.assertEqual(TickConditions(record).one_short(), short)
            seen |= short
        self.assertGreater(len(seen), 2)

    def test_how_long_ago_an_intent_was_armed_is_said_where_it_is_known(self) -> None:
        record = run(demo_setup(), [], 40)[-1]
        found = self.named(exits(record, 0, {"tap_attack": 8}))
        self.assertEqual(found["ground_to_light"].reason,
                         "waiting for tap attack (last 31 ticks ago)")

    def test_one_that_is_open_but_later_says_which_is_tried_first(self) -> None:
        transitions = [Transition("ab", "a", "b", "held_guard"),
                       Transition("ac", "a", "c", "held_guard"),
                       Transition("ad", "a", "b", "", Leave("after", 0.5))]
        states = [State(id, id.upper(), clip="c") for id in "abc"]
        record = run(set_up(puppet_of([clip("c")], states, transitions), None), [(3, 9, "guard")],
                     4)[-1]
        self.assertEqual([each.reason for each in exits(record)],
                         ["leaves this tick", "B is tried first", "0.45 s to go"])


class Traces(Case):
    def test_a_line_has_the_fields_the_file_describes(self) -> None:
        records = list(replay(demo_setup(), load_take(DEMO_TAKE)))
        line = next(trace_lines([records[146]]))
        self.assertEqual(list(line),
                         ["tick", "layers", "facing", "senses", "memos", "armed", "used", "moments",
                                      "windows", "rules", "taken", "booth"])
        self.assertEqual(line["layers"]["body"]["state"], "Light swing")
        self.assertEqual(line["moments"],
                         [{"name": "spark", "kind": "effect", "anchor": "pole tip"}])
        self.assertEqual(line["booth"]["hits"],
                         [{"window": "pole", "target": "Old Thatch", "damage": 4}])
        taken = next(trace_lines([records[137]]))
        self.assertEqual((taken["used"], taken["taken"]),
                         (["tap_attack"], [{"layer": "body", "from": "Idle", "to": "Light swing"}]))

    def test_a_table_has_a_row_a_tick_and_the_same_columns_throughout(self) -> None:
        records = list(replay(demo_setup(), load_take(DEMO_TAKE)))
        out = io.StringIO()
        write_table(lambda: flat_lines(trace_lines(records)), out)
        rows = list(csv.DictReader(io.StringIO(out.getvalue())))
        self.assertEqual(len(rows), len(records))
        self.assertEqual(rows[146]["layers.body.state"], "Light swing")
        self.assertEqual(rows[146]["windows"], "pole")
        self.assertEqual({len(row) for row in rows}, {len(rows[0])})

    def test_the_command_writes_both_forms(self) -> None:
        with tempfile.TemporaryDirectory() as folder:


            for name in ("trace.jsonl", "trace.csv"):
                out = Path(folder) / name
                code = main(["play", str(FIRST_STEPS), "--take", str(DEMO_TAKE), "--trace",
                             str(out)])
                self.assertEqual(code, 0)
                self.assertEqual(len(out.read_text().splitlines()), 500 + name.endswith("csv"))
