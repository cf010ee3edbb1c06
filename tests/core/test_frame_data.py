"""Frame data says what a run shows: when the hit window opens, for how long, and when the puppet is
free again."""

from __future__ import annotations

import unittest
from typing import Any

from msgspec.structs import replace

from tests.depth import some_of
from tests.helpers import Case, clip, demo_puppet, demo_setup, demo_world, puppet_of, run, state_of
from tests.random_puppets import Shaker
from yarn_puppet.core.engine.compiling.puppets import compile_puppet
from yarn_puppet.core.model.events import Rule, Window
from yarn_puppet.core.model.graph import Group, Leave, Placed, SpeedMap, Spread, State, Transition
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.model.wiring import Action, Intent, Memo, Sense
from yarn_puppet.core.pose.frame_data.table import COLUMNS, FrameData, frame_data, frame_data_rows


class Counted(Case):
    def test_every_number_is_what_a_run_shows(self) -> None:
        puppet = demo_puppet()
        rows = {each.state: each
                for each in frame_data(puppet, compile_puppet(puppet), demo_world())}
        for state, presses in (("light_swing_state", [(20, 21, "attack")]),
                               ("heavy_slam_state", [(20, 60, "attack")])):
            row, records = rows[state], run(demo_setup(), presses, 140)
            inside = [record.report.tick for record in records if state_of(record) == state]
            hits = [record.report.tick for record in records
                    if any(opened.window.kind == "hit" for opened in record.report.windows)]
            self.assertEqual((hits[0] - inside[0], len(hits)), (row.startup, row.active))
            self.assertEqual((inside[-1] - hits[-1], len(inside)), (row.recovery, row.total))
            self.assertEqual(hits[0] - 20, row.from_control)
            free = inside[-1] + 1 - hits[0] - 1
            self.assertEqual((row.on_hit, row.on_guard), (24 - free, 14 - free))

    def test_a_dummy_that_does_not_say_leaves_the_advantage_open(self) -> None:
        puppet, world = demo_puppet(), demo_world()
        silent = replace(world, dummies=tuple(replace(dummy, reels=0, reels_guarding=0)
                                              for dummy in world.dummies))
        for row in (*frame_data(puppet, compile_puppet(puppet), silent),
                    *frame_data(puppet, compile_puppet(puppet))):
            self.assertEqual((row.on_hit, row.on_guard), (None, None))
        table = list(frame_data_rows(frame_data(puppet, compile_puppet(puppet), silent)))
        self.assertEqual({len(line) for line in table}, {len(COLUMNS)})
        self.assertEqual(table[1][-2:], ["", ""])

    def test_each_of_several_at_random_is_measured_as_if_it_were_the_only_one(self) -> None:
        puppet = demo_puppet()

        def playing(clip: str | None, spread: str | None) -> list[FrameData]:
            made = replace(puppet, spreads=(any_of,), states=tuple(
                replace(state, clip=clip, spread=spread) if state.id == "idle_state" else state
                for state in puppet.states))
            return [replace_name(each) for each in frame_data(made, compile_puppet(made))
                    if each.state == "idle_state"]

        def replace_name(row: FrameData) -> FrameData:
            return row._replace(name="")

        any_of = Spread("any", "any", (Placed("walk", (1.0,)), Placed("light_swing", (1.0,)),
                                       Placed("heavy_slam", (4.0,))), ())
        alone = [*playing("light_swing", None), *playing("heavy_slam", None)]
        self.assertEqual(len(alone), 2)
        self.assertEqual(playing(None, "any"), alone)

    def test_every_clip_of_a_spread_that_hits_has_a_row(self) -> None:
        puppet = demo_puppet()
        spread = Spread("both", "both",
                        (Placed("light_swing", (0.0,)), Placed("heavy_slam", (180.0,)),
                                         Placed("walk", (90.0,))))
        puppet = replace(puppet, spreads=(spread,), states=tuple(
            replace(state, spread="both") if state.id == "idle_state" else state
            for state in puppet.states))
        names = [each.name for each in frame_data(puppet, compile_puppet(puppet))
                 if each.state == "idle_state"]
        self.assertEqual(names, ["Idle · light_swing", "Idle · heavy_slam"])

    def test_a_clip_that_stands_still_has_no_row(self) -> None:
        puppet = demo_puppet()
        puppet = replace(puppet, states=tuple(replace(state, speed=0.0) for state in puppet.states))
        self.assertEqual(frame_data(puppet, compile_puppet(puppet)), ())


class OfAnyPuppet(Case):
    def test_it_is_measured_whatever_was_taken_away(self) -> None:
        """Groups without states, layers without a start, states without clips."""
        for seed in some_of(range(24)):
            shaker = Shaker(seed)
            puppet = shaker.puppet()
            for _ in range(4):
                gone = shaker.pick([None, *puppet.states, *puppet.groups, *puppet.clips])
                without = {field: tuple(each for each in getattr(puppet, field) if each is not gone)
                           for field in ("states", "groups", "clips")}
                puppet = replace(puppet, **without)
            rows = frame_data(puppet, compile_puppet(puppet))
            self.assertLessEqual({row.state for row in rows}, {state.id for state in puppet.states})

    def test_a_group_that_lost_its_states_leads_nowhere(self) -> None:
        puppet = demo_puppet()
        left = [state.id for state in puppet.states if state.group != "ground"]
        empty = replace(puppet, states=tuple(state for state in puppet.states if state.id in left))
        ways = (Transition("on", "ground", left[0], "tap_attack"), *puppet.transitions)
        puppet = replace(empty, transitions=ways)
        self.assertEqual({row.from_control
                          for row in frame_data(puppet, compile_puppet(puppet))} - {None}, set())


class Measured(Case):
    """What changes the speed, every gesture, and what lies between a control and a hit."""

    def puppet(
        self,
        intent: Intent,
        when: str = "it",
        speed: float = 1.0,
        rules: tuple[Rule, ...] = (),
        between: tuple[State, ...] = (),
        ways: tuple[Transition, ...] = (),
        **more: Any,
    ) -> Puppet:
        """A swing whose hit window opens after five ticks and is open for two, of ten in all."""
        clips = (clip("rest", (500.0,)),
                 clip("swing", (5000 / 60, 2000 / 60, 3000 / 60), "once", (), (
            Window("w", 5000 / 60, 7000 / 60, "hit", "pole"),)), clip("wind", (4000 / 60,), "once"))
        states = (State("rest", "rest", clip="rest"),
                  State("swing", "swing", clip="swing", speed=speed, rules=rules),
                  *between)
        go = ways or (Transition("go", "rest", "swing", when),)
        back = Transition("back", "swing", "rest", "", Leave("at the end"))
        actions = tuple(Action(each, each) for each in "abc")
        more = {"senses": (Sense("strong", "strong"), Sense("speed", "speed", "float", 0.0)),
                **more}
        return puppet_of(clips, states, (*go, back), actions=actions,
                         intents=(intent, Intent("other", "other", "b")),
                         **more)

    def row(self, puppet: Puppet) -> FrameData:
        row, = frame_data(puppet, compile_puppet(puppet))
        return row

    def test_every_gesture_from_its_first_press(self) -> None:
        for intent, ticks in (
            (Intent("it", "it", "a", "press"), 5), (Intent("it", "it", "a", "release"), 6),
            (Intent("it", "it", "a", "tap", 0.2), 6), (Intent("it", "it", "a", "hold", 0.1), 11),
            (Intent("it", "it", "a", "double tap", 0.3), 7), (Intent("it", "it", "a", "held"), 5),
            (Intent("it", "it", "a", "repeat", 0.1), 5),
            (Intent("it", "it", "a", "sequence", 0.5, others=("b", "c")), 5),
            (Intent("it", "it", "a", "sequence", 0.5, others=("a", "b")), 7),
            (Intent("it", "it", "a", "both", 0.1, others=("b",)), 5),
        ):
            row = self.row(self.puppet(intent))
            self.assertEqual((row.from_control, row.control), (ticks, "it"), intent)

    def test_what_changes_how_fast_a_clip_plays(self) -> None:
        it = Intent("it", "it", "a", "press")
        self.assertEqual(self.row(self.puppet(it))[2:6], (5, 2, 3, 10))
        self.assertEqual(self.row(self.puppet(it, speed=0.5))[2:6], (10, 4, 6, 20))
        slow = self.row(self.puppet(it, rules=(Rule("playback", 0.5),)))
        self.assertEqual((slow[2:6], slow.from_control), ((10, 4, 6, 20), 10))
        mapped = self.puppet(it)
        mapped = replace(mapped, states=tuple(
            replace(state, speed_map=SpeedMap("speed", 0.0, 10.0, 0.25, 2.0))
            if state.id == "swing" else state
            for state in mapped.states))
        self.assertEqual(self.row(mapped)[2:6], (20, 8, 12, 40))

    def test_through_states_in_between(self) -> None:
        it = Intent("it", "it", "a", "press")
        wind = State("wind", "wind", clip="wind")
        ways = (Transition("go", "rest", "wind", "it"),
                Transition("on", "wind", "swing", "", Leave("at the end")))
        self.assertEqual(self.row(self.puppet(it, between=(wind,), ways=ways)).from_control, 9)
        gate = State("gate", "gate")
        ways = (Transition("go", "rest", "gate", "it"), Transition("on", "gate", "swing"))
        self.assertEqual(self.row(self.puppet(it, between=(gate,), ways=ways)).from_control, 5)

    def test_a_control_that_does_not_lead_there_is_not_said(self) -> None:
        it = Intent("it", "it", "a", "press")
        for when in ("not it", "it and not it", "it and other and not other",
                     "strong and not strong and it", "done"):
            row = self.row(self.puppet(it, when))
            self.assertEqual((row.from_control, row.control), (None, ""), when)
        earlier = (Transition("first", "rest", "rest2", "it"),
                   Transition("go", "rest", "swing", "it"))
        never = self.puppet(it, between=(State("rest2", "rest2", clip="rest"),), ways=earlier)
        self.assertIsNone(self.row(never).from_control)

    def test_what_a_condition_asks_besides_is_brought_about(self) -> None:
        it = Intent("it", "it", "a", "press")
        for when in ("it and strong", "it and speed > 40", "it and not strong and speed <= -2",
                     "it and other",
                     "strong and (other or it)", "it and elapsed > 0.2", 'it and memo == 3'):
            row = self.row(self.puppet(it, when, memos=(Memo("memo", "memo"),)))
            self.assertEqual(row.from_control, 5, when)

    def test_in_a_window_of_the_state_before(self) -> None:
        puppet = demo_puppet()
        rows = {each.state: each
                for each in frame_data(puppet, compile_puppet(puppet), demo_world())}
        self.assertEqual(rows["light_swing_state"].control, "tap_attack")

    def test_a_group_is_entered_where_it_starts(self) -> None:
        it = Intent("it", "it", "a", "press")
        made = self.puppet(it, ways=(Transition("go", "rest", "strike", "it"),), groups=(
            Group("strike", "strike", start="swing"),))
        made = replace(made, states=tuple(
            replace(state, group="strike") if state.id == "swing" else state
            for state in made.states))
        self.assertEqual(self.row(made).from_control, 5)


if __name__ == "__main__":
    unittest.main()
