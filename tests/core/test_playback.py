"""Clip time: modes, moments that are never skipped, windows that close when they must."""

from __future__ import annotations

from fractions import Fraction
from itertools import pairwise

from hypothesis import given
from hypothesis import strategies as some
from msgspec.structs import replace

from tests.helpers import Case, clip, puppet_of, run
from yarn_puppet.core.engine.compiling.clip_tables import compile_clip
from yarn_puppet.core.engine.counting import counts
from yarn_puppet.core.engine.plain.play import play as play_clip
from yarn_puppet.core.engine.program_clips import TICK
from yarn_puppet.core.model.clips import Clip
from yarn_puppet.core.model.events import Moment, Rule, Window
from yarn_puppet.core.model.graph import (
    Group,
    Leave,
    Placed,
    SpeedMap,
    Spread,
    State,
    Transition,
)
from yarn_puppet.core.model.wiring import Sense
from yarn_puppet.core.takes.controls import Controls
from yarn_puppet.core.takes.run import Record, advance, set_up
from yarn_puppet.core.takes.run import start as start_run

RATES = (15, 30, 60, 240)


def play(made: Clip, ticks: int, rate: int = 60, speed: float = 1.0) -> list[Record]:
    """Play one clip in one state."""
    puppet = puppet_of([made], [State("only", "Only", clip=made.id, speed=speed)], rate=rate)
    return run(set_up(puppet, None), [], ticks)


def fired(records: list[Record]) -> list[str]:
    """The names of the moments fired, in order."""
    return [moment.moment.name for record in records for moment in record.report.moments]


class Frames(Case):
    def frames(self, mode: str, ticks: int) -> list[int]:
        return [record.report.layers[0].frame
                for record in play(clip("c", (50, 50, 50), mode), ticks)]

    def test_each_mode_shows_its_frames(self) -> None:
        # 50 ms are three ticks at 60 Hz.
        self.assertEqual(self.frames("once", 12), [0, 0, 0, 1, 1, 1, 2, 2, 2, 2, 2, 2])
        self.assertEqual(self.frames("hold last", 12), [0, 0, 0, 1, 1, 1, 2, 2, 2, 2, 2, 2])
        self.assertEqual(self.frames("loop", 12), [0, 0, 0, 1, 1, 1, 2, 2, 2, 0, 0, 0])
        self.assertEqual(self.frames("back and forth", 15),
                         [0, 0, 0, 1, 1, 1, 2, 2, 2, 1, 1, 1, 0, 0, 0])

    def test_every_frame_is_shown_for_as_long_as_it_lasts(self) -> None:
        """Also the first and the last, in a state that is left at the clip's end."""
        for rate in RATES:
            frames = [1, 2, 1, 3, 1, 1]
            made = clip("c", [ticks * 1000 / rate for ticks in frames], "once", (), [
                Window("w", 0, 1000 / rate, "hit", "first"),
                Window("x", 8000 / rate, 9000 / rate, "hit", "last")])
            puppet = puppet_of([made, clip("d")],
                               [State("a", "A", clip="c"), State("b", "B", clip="d")],
                               [Transition("ab", "a", "b", "", Leave("at the end"))], rate=rate)
            records = run(set_up(puppet, None), [], 12)
            shown = [record.report.layers[0].frame
                     for record in records if record.report.layers[0].state == "a"]
            self.assertEqual([shown.count(frame) for frame in range(6)], frames, rate)
            self.assertEqual(shown, sorted(shown))
            names = [[window.window.name for window in record.report.windows] for record in records]
            self.assertEqual((names.index(["first"]), names.count(["first"])), (0, 1))
            self.assertEqual((names.index(["last"]), names.count(["last"])), (8, 1))

    def test_speed_scales_clip_time_and_may_follow_a_sense(self) -> None:
        fast = play(clip("c", (50, 50, 50), "once"), 6, speed=2.0)
        self.assertEqual([record.report.layers[0].frame for record in fast], [0, 0, 1, 2, 2, 2])
        mapped = State("only", "Only", clip="c", speed_map=SpeedMap("speed", 0.0, 100.0, 0.0, 2.0))
        setup = set_up(puppet_of([clip("c", (1000,))], [mapped]), None)
        for value, expected in ((0.0, 0.0), (50.0, 1 / 60), (100.0, 2 / 60), (500.0, 2 / 60),
                                (-50.0, 0.0)):
            with self.subTest(value):
                first = advance(setup, start_run(setup), Controls(frozenset(), (("speed", value),)))
                self.assertEqual(first.report.layers[0].clip_time, 0.0)
                record = advance(setup, first.after, Controls(frozenset(), (("speed", value),)))
                self.assertAlmostEqual(record.report.layers[0].clip_time, expected, places=4)

    def test_the_end_is_reached_in_the_tick_that_exact_time_says(self) -> None:
        for rate in RATES:
            for duration in (50, 100, 140, 333, 1000):
                with self.subTest(rate=rate, duration=duration):
                    records = play(clip("c", (duration,), "once"), 300, rate)
                    done = next(record.report.tick
                                for record in records if record.report.layers[0].done)
                    exact = Fraction(duration, 1000) * rate
                    self.assertEqual(done + 1, -(-exact.numerator // exact.denominator))


class Moments(Case):
    @given(
        some.sampled_from(RATES),
        some.lists(some.integers(1, 400), min_size=1, max_size=5),
        some.lists(some.integers(0, 1000), min_size=1, max_size=6),
        some.sampled_from(["once", "hold last", "loop"]),
        some.sampled_from([0.25, 1.0, 3.0, 20.0]),
    )
    def test_no_moment_is_skipped_or_fires_twice(
        self, rate: int, durations: list[int], at: list[int], mode: str, speed: float
    ) -> None:
        length = sum(durations)
        moments = [Moment(f"m{number}", min(time, length), "effect", f"m{number}")
                   for number, time in enumerate(at)]
        ticks = rate * 2
        found = fired(play(clip("c", durations, mode, moments), ticks, rate, speed))
        # Clip time at the end of the run, in the engine's whole units: exact.
        total = ticks * round(speed * 1000)
        for moment in moments:
            time, cycle = round(moment.at * rate), length * rate
            if mode == "loop":
                # Once in every round that was played to its end; in the last one where it was on
                # show, or before.
                shown = total - round(speed * 1000)
                rounds, rest = divmod(total, cycle)
                expected = rounds + int(shown // cycle == rounds and time <= shown - rounds * cycle)
                self.assertGreaterEqual(rest, 0)
            else:
                expected = int(time <= total - round(speed * 1000) or total >= cycle)
            self.assertEqual(found.count(moment.name), expected,
                             f"{moment} of {length} ms at {rate} Hz × {speed}")

    def test_moments_fire_in_time_order_across_a_loops_seam(self) -> None:
        moments = [Moment("late", 45, "effect", "late"), Moment("early", 5, "effect", "early")]
        records = play(clip("c", (50,), "loop", moments), 4, rate=15)
        self.assertEqual(fired(records)[:5], ["early", "late", "early", "late", "early"])

    def test_a_moment_at_zero_fires_on_entering(self) -> None:
        records = play(clip("c", (1000,), "once", [Moment("m", 0, "call", "jump")]), 3)
        self.assertEqual([len(record.report.moments) for record in records], [1, 0, 0])

    def test_back_and_forth_passes_a_moment_both_ways(self) -> None:
        made = clip("c", (100, 100, 100), "back and forth", [Moment("m", 150, "effect", "m")])
        # One cycle is 400 ms: there at 150, back at 350 - 100.
        ticks = [record.report.tick for record in play(made, 48) for _ in record.report.moments]
        self.assertEqual(ticks, [9, 21, 33, 45])

    def test_a_faded_state_fires_no_more(self) -> None:
        made = clip("c", (500,), "once", [Moment("m", 400, "effect", "m")])
        puppet = puppet_of([made, clip("d")],
                           [State("a", "A", clip="c"), State("b", "B", clip="d")],
                           [Transition("ab", "a", "b", "", Leave("after", 0.3))])
        self.assertEqual(fired(run(set_up(puppet, None), [], 90)), [])


class Windows(Case):
    def open_ticks(self, made: Clip, ticks: int, rate: int = 60, speed: float = 1.0) -> list[int]:
        return [record.report.tick
                for record in play(made, ticks, rate, speed) if record.report.windows]

    def test_a_window_is_open_while_the_time_is_in_it(self) -> None:
        made = clip("c", (80, 60, 40, 40, 60, 70, 70), "once", (),
                    [Window("w", 140, 220, "hit", "pole")])
        self.assertEqual(self.open_ticks(made, 30), [9, 10, 11, 12, 13])
        self.assertEqual(tuple(counts(compile_clip(made, 60))), (9, 5, 12, 26))

    @given(some.sampled_from((*RATES, 7, 1000)),
           some.lists(some.sampled_from([0.5, 3, 17, 40, 133]) | some.integers(1, 300), min_size=1,
                      max_size=6),
           some.sampled_from(["once", "hold last", "loop", "back and forth"]),
           some.lists(some.tuples(some.integers(0, 700),
                                  some.sampled_from([0.001, 0.4]) | some.integers(1, 400),
                                  some.sampled_from(["hit", "hit", "guard"])), max_size=4))
    def test_the_counts_are_those_of_playing_it(
        self, rate: int, lasts: list[float], mode: str, windows: list[tuple[int, float, str]]
    ) -> None:
        made = compile_clip(clip("c", tuple(lasts), mode, (), [
            Window(str(number), start, start + length, kind, "w")
            for number, (start, length, kind) in
            enumerate(windows)]), rate)
        hits = [index for index, window in enumerate(made.windows) if window.kind == "hit"]
        hitting, number, time, met, ended = list[int](), 0, 0, -1, False
        while not ended:
            played = play_clip(made, time, met, TICK)
            hitting += [number] if any(played.open >> place & 1 for place in hits) else []
            number, met, time, ended = number + 1, time, played.time, played.ended
        wanted = (
            (hitting[0], hitting[-1] - hitting[0] + 1, number - hitting[-1] - 1, number)
            if hitting
            else (0, 0, 0, number)
        )
        self.assertEqual(tuple(counts(made)), wanted)

    @given(some.sampled_from(RATES), some.integers(0, 900),
           some.sampled_from([0.001, 0.4]) | some.integers(1, 40),
           some.sampled_from(["once", "hold last", "loop"]), some.sampled_from([0.5, 1.0, 4.0]))
    def test_a_window_however_short_is_never_skipped(
        self, rate: int, start: int, length: float, mode: str, speed: float
    ) -> None:
        made = clip("c", (1000,), mode, (), [Window("w", start, start + length, "hit", "w")])
        self.assertTrue(self.open_ticks(made, rate * 3, rate, speed))

    def test_one_shorter_than_a_tick_is_open_for_one(self) -> None:
        made = clip("c", (1000,), "once", (), [Window("w", 101, 103, "hit", "w")])
        for rate in RATES:
            with self.subTest(rate):
                self.assertEqual(len(self.open_ticks(made, rate * 2, rate)), 1)

    def test_a_window_to_the_end_of_a_held_frame_stays_open(self) -> None:
        windows = [Window("w", 50, 100, "guard", "w")]
        self.assertEqual(self.open_ticks(clip("c", (50, 50), "hold last", (), windows), 20),
                         list(range(3, 20)))
        self.assertEqual(self.open_ticks(clip("c", (50, 50), "once", (), windows), 20), [3, 4, 5])

    def test_left_early_it_closes_in_that_tick_and_its_rules_end(self) -> None:
        rules = (Rule("lock_movement"), Rule("move_speed", 0.25))
        made = clip("c", (1000,), "once", (), [Window("w", 0, 1000, "hit", "w", rules=rules)])
        puppet = puppet_of([made, clip("d")],
                           [State("a", "A", clip="c"), State("b", "B", clip="d")],
                           [Transition("ab", "a", "b", "held_guard")])
        records = run(set_up(puppet, None), [(10, 90, "guard")], 20)
        for record in records:
            before = record.report.tick < 10
            self.assertEqual(bool(record.report.windows), before)
            self.assertEqual((record.report.lock_movement, record.report.move_speed),
                             (before, 0.25 if before else 1.0))

    def test_leave_in_a_window_waits_for_it_and_respects_where_it_leads(self) -> None:
        for into, expected in (((), 7), (("b",), 7), (("elsewhere",), None), (("strikes",), 7)):
            with self.subTest(into):
                made = clip("c", (1000,), "once", (),
                            [Window("w", 100, 500, "cancel", "soft", into)])
                puppet = puppet_of(
                    [made, clip("d")], [State("a", "A", clip="c"),
                                        State("b", "B", clip="d", group="strikes")],
                    [Transition("ab", "a", "b", "held_guard", Leave("in a window", window="soft"))],
                    groups=(Group("strikes", "Strikes"),),
                )
                records = run(set_up(puppet, None), [(0, 90, "guard")], 40)
                taken = [record.report.tick for record in records if record.report.taken]
                # It is open in tick 6, which begins at 100 ms; the next one finds it so.
                self.assertEqual(taken[:1], [] if expected is None else [expected])


class ComingBack(Case):
    def test_a_rule_that_comes_back_while_it_goes_out_counts_once(self) -> None:
        slow = Rule("playback", 0.0, when="slow", ease_in=0.1, ease_out=0.1)
        made = clip("c", (1000,), "loop", (), [Window("w", 0, 900, "cancel", "w", rules=(slow,))])
        puppet = replace(puppet_of([made], [State("only", "Only", clip="c")]),
                         senses=(Sense("slow", "slow"),))
        feed = [True] * 6 + [False] * 3 + [True] * 4
        setup = set_up(puppet, None)
        state, times = start_run(setup), list[float]()
        for on in feed:
            record = advance(setup, state, Controls(frozenset(), (("slow", on),)))
            state = record.after
            times.append(record.report.layers[0].clip_time)
        steps = [round((after - before) * 60, 4) for before, after in pairwise(times)]
        # A tenth of a second is six ticks: a sixth a tick, down to a half, and up from there.
        self.assertEqual(steps, [1.0, 0.833, 0.667, 0.5, 0.333, 0.167,
                                 0.0, 0.167, 0.333, 0.5, 0.333, 0.167])

    def test_a_pass_that_begins_in_a_clip_that_plays_once_meets_its_start(self) -> None:
        once = clip("once", (50, 50), "once", [Moment("m", 0, "effect", "begins")],
                    [Window("w", 0, 10, "hit", "first")])
        for fast in (1.0, 0.7):
            puppet = replace(
                puppet_of([clip("round", (50, 50), "loop"), once],
                          [State("only", "Only", spread="s", speed=fast)]),
                senses=(Sense("way", "way", "float"),),
                spreads=(Spread("s", "s", (Placed("round", (0.0,)), Placed("once", (1.0,))),
                                along=("way",)),))
            setup = set_up(puppet, None)
            state, fed = start_run(setup), 0.0
            records = []
            for _ in range(20):
                record = advance(setup, state, Controls(frozenset(), (("way", fed),)))
                state = record.after
                records.append(record)
                fed = 1.0 if record.report.layers[0].cycle else fed
            self.assertEqual(fired(records), ["begins"], fast)
            self.assertEqual(sum(len(record.report.windows) for record in records), 1)
