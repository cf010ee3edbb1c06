"""Corners of the tick that a hasty engine gets wrong, each to the exact tick."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from msgspec.structs import replace

from tests.helpers import Case, clip, controls, entered, puppet_of, run
from yarn_puppet.core.engine.plain.beginning import initial_state
from yarn_puppet.core.engine.state import Inputs, Landed, Report
from yarn_puppet.core.model.clips import Box
from yarn_puppet.core.model.edits import graph as edits
from yarn_puppet.core.model.events import Deed, Moment, Window
from yarn_puppet.core.model.graph import Group, Layer, Leave, Placed, Spread, State, Transition
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.model.wiring import Intent, Memo, Sense
from yarn_puppet.core.model.world import Dummy, World
from yarn_puppet.core.snags.check import check
from yarn_puppet.core.takes.recording import Recording, run_again
from yarn_puppet.core.takes.run import Record, advance, set_up, start

FLAT = World("Flat", (*["." * 40] * 4, "#" * 40), 100.0, 64.0,
             dummies=(Dummy("Straw", 125.0, 64.0, 18.0, 40.0),))


def ticked(
    puppet: Puppet,
    ticks: int,
    stops: Iterable[int] = (),
    news: dict[int, Landed] | None = None,
    **senses: Any,
) -> list[Report]:
    """Reports of a run without a booth; a sense given as a set is true in these ticks."""
    setup = set_up(puppet, None)
    state, reports, stopped = initial_state(setup.program), [], set(stops)
    for number in range(ticks):
        forced = tuple((id, number in value if isinstance(value, set) else value)
                       for id, value in senses.items())
        landed = (news[number],) if news and number in news else ()
        state, report = setup.tick(state, Inputs(
            (False,) * len(setup.program.actions), setup.sampler.alone(forced), landed,
            number in stopped))
        reports.append(report)
    return reports


def fired(reports: list[Report], id: str) -> list[int]:
    """The ticks in which a moment fired."""
    return [report.tick for report in reports
            for moment in report.moments if moment.moment.id == id]


def swinging(mode: str = "once", durations: tuple[float, ...] = (100.0,) * 4, **window: Any) -> Any:
    """A clip with a hit box in every frame and one hit window."""
    made = clip("c", durations, mode,
                windows=[Window("w", window.pop("start", 100), window.pop("end", 200), "hit",
                                                     "pole", **window)])
    box = (Box("hit", 40, 0, 60, 64),)
    return replace(made, frames=tuple(replace(frame, boxes=box) for frame in made.frames))


def found(puppet: Puppet) -> set[tuple[str, str]]:
    """Where there are snags, but for the art that these puppets lack."""
    return {(snag.kind, snag.id) for snag in check(puppet) if snag.kind != "clip"}


class HitsAndStops(Case):
    def test_a_cancel_on_hit_comes_in_the_first_tick_after_the_stop(self) -> None:
        puppet = puppet_of([swinging(hit_stop=4), clip("d")],
                           [State("a", "A", clip="c"), State("b", "B", clip="d")],
                           [Transition("ab", "a", "b", "hit_landed")])
        records = run(set_up(puppet, FLAT), [], 30)
        hit = next(record.report.tick
                   for record in records if record.after.booth and record.after.booth.hits)
        self.assertEqual(entered(records, "b"), [hit + 5])
        self.assertTrue(all(record.report.senses[7] for record in records[hit + 1: hit + 6]))
        self.assertFalse(records[hit + 6].report.senses[7])

    def test_a_sense_that_reports_an_event_is_kept_until_a_tick_that_chooses(self) -> None:
        sense = Sense("bell", "bell", event=True)
        puppet = puppet_of([clip("c")], [State("a", "A", clip="c"), State("b", "B", clip="c")],
                           [Transition("ab", "a", "b", "bell")], senses=(sense,))
        taken = [report.tick for report in ticked(puppet, 12, stops=(3, 4, 5), bell={3})
                 if report.taken]
        self.assertEqual(taken, [6])
        plain = replace(puppet, senses=(replace(sense, event=False),))
        self.assertEqual([report
                          for report in ticked(plain, 12, stops=(3, 4, 5), bell={3})
                          if report.taken], [])

    def test_a_stop_on_the_seam_swallows_no_end_and_closes_no_short_window(self) -> None:
        short = clip("c", (50.0, 50.0), "loop", windows=[Window("w", 95, 99, "guard", "g")])
        puppet = puppet_of([short, clip("d")],
                           [State("a", "A", clip="c"), State("b", "B", clip="d")],
                           [Transition("ab", "a", "b", "", Leave("at the end"))])
        free, held = ticked(puppet, 12), ticked(puppet, 12, stops=(6, 7))
        self.assertEqual([report.tick for report in free if report.taken], [6])
        self.assertEqual([report.tick for report in held if report.taken], [8])
        self.assertEqual([bool(report.windows) for report in held[4:9]],
                         [False, True, True, True, False])
        self.assertEqual([report.layers[0].done for report in held[5:8]], [True] * 3)

    def test_only_on_a_hit_belongs_to_its_pass(self) -> None:
        moments = [Moment(id, at, "call", id, only_on_hit=True)
                   for id, at in (("early", 10), ("last", 95))]
        puppet = puppet_of([clip("c", (50.0, 50.0), "loop", moments)], [State("a", "A", clip="c")])
        late = ticked(puppet, 30, news={6: Landed(0, 0, 0)})
        self.assertEqual((fired(late, "early"), fired(late, "last")), ([6], [6]),
                         "told of just after the seam")
        within = ticked(puppet, 30, news={2: Landed(0, 0, 0)})
        self.assertEqual((fired(within, "early"), fired(within, "last")), ([2], [5]),
                         "later passes have not hit")
        self.assertEqual(fired(ticked(puppet, 30, news={7: Landed(0, 0, 0)}), "last"), [],
                         "told of too late")

    def test_what_is_passed_twice_waits_once(self) -> None:
        def knock(at: float) -> Moment:
            return Moment("m", at, "sound", "knock", only_on_hit=True)

        back = puppet_of([clip("c", (50.0,) * 3, "back and forth", [knock(90)])],
                         [State("a", "A", clip="c")])
        self.assertEqual(fired(ticked(back, 20, news={11: Landed(0, 0, 0)}), "m"), [11],
                         "there and back, one knock")
        spread = Spread("s", "S", (Placed("c", (0.0,)), Placed("d", (1.0,))), ("elapsed",))
        both = puppet_of([clip("c", (1000.0,), moments=[knock(300)]),
                          clip("d", (1000.0,), moments=[knock(600)])],
                         [State("a", "A", spread="s")], spreads=(spread,))
        self.assertEqual(
            [len(fired(ticked(both, 58, news={at: Landed(0, 0, 0)}), "m")) for at in (25, 50)],
            [2, 1],
            "passed again after the hit it happens again; in both clips before it, once",
        )

    def hits(self, *clips: Any, ticks: int = 80, **state: Any) -> list[int]:
        puppet = puppet_of(clips, [State("a", "A", **({"clip": "c"} | state))],
                           spreads=(Spread("s", "S", (Placed("c", (0.0,)), Placed("d", (1.0,))),
                                           ("move_x",)),))
        records = run(set_up(puppet, FLAT), [(9, 60, "right")] if state else [], ticks)
        return [record.report.tick for record in records if record.after.booth
                for _ in record.after.booth.hits]

    def test_a_looping_window_hits_once_in_each_pass_whatever_else_is_open(self) -> None:
        alone = swinging("loop")
        beside = replace(alone, windows=(*alone.windows, Window("g", 0, 400, "guard", "umbrella")))
        self.assertEqual(self.hits(alone), [6, 30, 54, 78])
        self.assertEqual(self.hits(beside), self.hits(alone))

    def test_a_spread_that_changes_its_clip_hits_no_second_time_and_keeps_its_props(self) -> None:
        one, other = swinging("once", (200.0,) * 2, start=100, end=390), swinging(
            "once", start=100, end=390)
        prop = (Moment("p", 0, "attach", "lantern"),)
        other = replace(other, id="d", name="d",
                        windows=tuple(replace(window, id="v") for window in other.windows))
        self.assertEqual(self.hits(one, other, spread="s"), [6])
        puppet = puppet_of([replace(one, moments=prop), other], [State("a", "A", spread="s")],
                           spreads=(Spread("s", "S", (Placed("c", (0.0,)), Placed("d", (1.0,))),
                                           ("move_x",)),))
        records = run(set_up(puppet, FLAT), [(9, 40, "right")], 20)
        self.assertEqual({record.report.layers[0].clip for record in records}, {"c", "d"})
        self.assertTrue(all(record.after.booth and record.after.booth.props for record in records))

    def test_the_very_end_of_a_clip_that_goes_back_is_met_once_a_cycle(self) -> None:
        moments = [Moment("end", 150, "call", "end"), Moment("start", 0, "call", "start")]
        puppet = puppet_of([clip("c", (50.0,) * 3, "back and forth", moments)],
                           [State("a", "A", clip="c")])
        reports = ticked(puppet, 30)
        self.assertEqual((fired(reports, "end"), fired(reports, "start")), ([9, 21], [0, 12, 24]))


class Presses(Case):
    def used(
        self, transitions: list[Transition], intents: tuple[Intent, ...], *presses: Any
    ) -> list[tuple[int, str]]:
        states = [State(id, id, clip="rest") for id in "abc"]
        records = run(set_up(puppet_of([clip("rest")], states, transitions, intents=intents), None),
                      presses, 90)
        return [(record.report.tick, taken.transition) for record in records
                for taken in record.report.taken]

    def intents(self, **more: Any) -> tuple[Intent, ...]:
        kinds: Any = ("press", "tap", "hold", "double tap", "release")
        return tuple(Intent(kind.replace(" ", "_"), kind, "attack", kind, 0.2,
                            more.get("buffer", 0.05),
                            kind == more.get("even")) for kind in kinds)

    def test_one_long_press_is_one_gesture(self) -> None:
        ways = [Transition("ab", "a", "b", "press"), Transition("bc", "b", "c", "hold or tap"),
                Transition("ba", "b", "a", "release")]
        self.assertEqual(self.used(ways, self.intents(), (5, 40, "attack")),
                         [(5, "ab"), (40, "ba")])
        self.assertEqual(self.used(ways, self.intents(), (5, 8, "attack")), [(5, "ab"), (8, "ba")])
        self.assertEqual(self.used(ways, self.intents(even="hold"), (5, 40, "attack")),
                         [(5, "ab"), (17, "bc")])

    def test_letting_go_cancels_no_buffered_press(self) -> None:
        ways = [Transition("ab", "a", "b", "press and elapsed > 0.15")]
        intents = self.intents(buffer=0.2)[:1] + self.intents()[4:]
        self.assertEqual(self.used(ways, intents, (2, 4, "attack")), [(10, "ab")])

    def test_three_presses_are_a_double_tap_and_a_press(self) -> None:
        ways = [Transition("ab", "a", "b", "double_tap"), Transition("ba", "b", "a", "press")]
        spans = [(number, number + 2, "attack") for number in (5, 10, 15)]
        self.assertEqual(self.used(ways, self.intents()[:1] + self.intents()[3:4], *spans),
                         [(10, "ab"), (15, "ba")])

    def test_the_branch_that_failed_uses_nothing(self) -> None:
        ways = [Transition("ab", "a", "b", "(press and blocked) or grounded"),
                Transition("bc", "b", "c", "press")]
        self.assertEqual(self.used(ways, self.intents(buffer=1.0), (3, 5, "attack")),
                         [(0, "ab"), (3, "bc")])
        ways = [Transition("ab", "a", "b", "grounded and elapsed > 0.08 or press"),
                Transition("bc", "b", "c", "press")]
        self.assertEqual(self.used(ways, self.intents(buffer=1.0), (3, 5, "attack")), [(3, "ab")],
                         "used once")

    def test_a_hold_of_zero_arms_with_the_press_and_takes_no_taps_away(self) -> None:
        intents = (Intent("hold", "hold", "attack", "hold", 0.0, 0.0),
                   Intent("tap", "tap", "attack", "tap", 0.2, 0.0))
        self.assertEqual(self.used([Transition("ab", "a", "b", "hold")], intents, (5, 9, "attack")),
                         [(5, "ab")])
        self.assertEqual(self.used([Transition("ab", "a", "b", "tap")], intents, (5, 9, "attack")),
                         [(9, "ab")])
        puppet = puppet_of([clip("c")], [State("a", "A", clip="c")], intents=intents)
        self.assertIn(("intent", "hold"), found(puppet))


class Entering(Case):
    def test_a_start_that_cannot_be_entered_gives_way_and_is_a_snag(self) -> None:
        groups = (Group("g", "G", start="empty"), Group("empty", "Empty", group="g"))
        states = [State("a", "A", clip="c"), State("b", "B", group="g", clip="c"),
                  State("z", "Z", clip="c")]
        ways = [Transition("ag", "a", "g"), Transition("be", "b", "empty")]
        puppet = puppet_of([clip("c")], states, ways, groups=groups)
        reports = ticked(puppet, 6)
        self.assertEqual([report.layers[0].state for report in reports], ["b"] * 6)
        self.assertLessEqual({("group", "g"), ("transition", "be")}, found(puppet))
        layered = replace(puppet, layers=(Layer("body", "body", "empty"),))
        self.assertEqual(ticked(layered, 2)[1].layers[0].state, "b")
        self.assertIn(("layer", "body"), found(layered))

    def test_a_group_remembers_however_deep_from_inside_as_from_outside(self) -> None:
        groups = (Group("o", "O", start="a", remembers=True),
                  Group("i", "I", group="o", start="b", remembers=True))
        states = [State("a", "A", group="o", clip="c"), State("b", "B", group="i", clip="c"),
                  State("d", "D", group="i", clip="c"), State("x", "X", clip="c")]
        ways = [Transition("bd", "b", "d", "press_jump"), Transition("da", "d", "a", "held_guard"),
                Transition("ai", "a", "i", "tap_attack"), Transition("dx", "d", "x", "held_down"),
                Transition("xo", "x", "o", "tap_attack")]
        layers = (Layer("body", "body", "b"),)
        puppet = puppet_of([clip("c")], states, ways, groups=groups, layers=layers)
        pressed = [(2, 4, "jump"), (6, 8, "guard"), (10, 12, "attack"), (20, 22, "down"),
                 (25, 27, "attack")]
        records = run(set_up(puppet, None), pressed, 40)
        self.assertEqual([taken.target for record in records for taken in record.report.taken],
                         ["d", "a", "d", "x", "d"])

    def test_a_ring_of_states_that_play_nothing_is_a_snag(self) -> None:
        states = [State("a", "A", clip="c"), State("u", "U"), State("v", "V")]
        ways = [Transition("au", "a", "u", "held_guard"), Transition("uv", "u", "v"),
                Transition("vu", "v", "u", "grounded")]
        self.assertEqual(found(puppet_of([clip("c")], states, ways)),
                         {("state", "u"), ("state", "v")})
        led_out = [*ways[:2], Transition("va", "v", "a")]
        self.assertEqual(found(puppet_of([clip("c")], states, led_out)), set())

    def test_nothing_leads_from_one_layer_into_another(self) -> None:
        states = [State("a", "A", clip="c"), State("b", "B", layer="arms", clip="c"),
                  State("l", "L", group="g", clip="c")]
        puppet = puppet_of(
            [clip("c")], states, [Transition("ab", "a", "b"), Transition("ag", "a", "g"),
                                  Transition("al", "a", "l")],
            layers=(Layer("body", "body", "a"), Layer("arms", "arms")),
            groups=(Group("g", "G", "arms"),),
        )
        self.assertEqual([[layer.state for layer in report.layers] for report in ticked(puppet, 3)],
                         [["l", "b"]] * 3)
        self.assertEqual(found(puppet),
                         {("transition", "ab"), ("transition", "ag"), ("state", "l")})


class Values(Case):
    def test_nothing_that_a_file_or_a_game_says_raises_inside_a_tick(self) -> None:
        senses = (Sense("speed", "speed", "float", "abc"), Sense("n", "n", "int", 10**400),
                  Sense("ground", "ground", "choice", "lava", choices=("stone", "straw")))
        memos = (Memo("m", "m", "int", "x"), Memo("f", "f", "float", 0.0),
                 Memo("c", "c", "choice", "a", ("a", "b")))
        sets = (Deed("m", "m * 9 + n"), Deed("f", "f * 1000000000 - 1 / speed"), Deed("c", '"z"'))
        spreads = (Spread("s", "S", (Placed("x", (0.0,)), Placed("y", (0.2,))), ("elapsed",)),)
        puppet = puppet_of([clip("x"), clip("y")], [State("a", "A", spread="s", on_enter=sets)],
                           [Transition("aa", "a", "a", "m >= 0 or m < 0", reenters=True)],
                           senses=senses, memos=memos, spreads=spreads)
        for value in ("abc", 10**400, float("nan"), float("-inf"), True, -0.0, 1e-300):
            reports = ticked(puppet, 40, stops=(5, 6), speed=value, n=value, ground=value)
            for report in reports:
                whole, number, choice = report.memos
                self.assertTrue(-2**53 <= whole <= 2**53 and -2.0**53 <= number <= 2.0**53
                                and choice == "a")
        self.assertLessEqual({("sense", "speed"), ("sense", "ground"), ("memo", "m"),
                              ("state", "a")}, found(puppet))

    def test_a_choice_is_set_to_its_choices_only(self) -> None:
        memo = Memo("c", "c", "choice", "a", ("a", "b"))
        sense = Sense("ground", "ground", "choice", "b", choices=("b", "straw"))
        puppet = puppet_of([clip("x")],
                           [State("a", "A", clip="x", on_leave=(Deed("c", "ground"),))],
                           [Transition("aa", "a", "a", reenters=True)], memos=(memo,),
                           senses=(sense,))
        self.assertEqual(ticked(puppet, 2, ground="b")[1].memos, ("b",))
        self.assertEqual(ticked(puppet, 2, ground="straw")[1].memos, ("a",),
                         "what is no choice sets nothing")


class Edited(Case):
    def test_what_was_run_with_another_program_is_not_adopted(self) -> None:
        puppet = puppet_of([clip("c")], [State("a", "A", clip="c"), State("b", "B", clip="c")])
        recording = Recording(puppet, None, None)
        for now in controls([], 5):
            recording.step(now)
        *_, again = run_again(recording.setup, recording.controls)
        recording.edit(replace(puppet, states=puppet.states[1:]))
        self.assertFalse(recording.adopt(again))
        self.assertEqual(recording.step().report.layers[0].state, "b")
        *_, again = run_again(recording.setup, recording.controls)
        self.assertTrue(recording.adopt(again))

    def test_a_state_moved_out_of_its_group_is_forgotten_there(self) -> None:
        groups = (Group("g", "G", start="b", remembers=True),)
        states = [State("a", "A", group="g", clip="c"), State("b", "B", group="g", clip="c"),
                  State("x", "X", clip="c")]
        ways = [Transition("ax", "a", "x", "held_guard"), Transition("xg", "x", "g", "tap_attack")]
        puppet = puppet_of([clip("c")], states, ways, groups=groups)
        for moved, expected in ((False, "a"), (True, "b")):
            recording = Recording(puppet, None, None)
            for number, now in enumerate(controls([(1, 3, "guard"), (6, 8, "attack")], 14)):
                if number == 4 and moved:
                    recording.edit(edits.state_ordered(puppet, "a", None, 0))
                recording.step(now)
            self.assertEqual(recording.records[-1].report.layers[0].state, expected)

    def test_memory_of_a_tick_does_not_grow_with_the_states(self) -> None:
        def kept(states: int) -> int:
            made = [State(f"s{number}", f"S{number}", clip="c") for number in range(states)]
            setup = set_up(puppet_of([clip("c")], made), None)
            record: Record = advance(setup, start(setup), controls([], 1)[0])
            return sum(len(part) for part in record.after.machine if isinstance(part, tuple))

        self.assertEqual(kept(5), kept(300))


