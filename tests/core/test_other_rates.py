"""The same take at other rates: no press is lost, and the fixes that are offered work."""

from __future__ import annotations

import unittest

from hypothesis import given
from hypothesis import strategies as some
from msgspec.structs import replace

from tests.helpers import Case, clip, controls, demo_puppet, demo_world, puppet_of
from yarn_puppet.core.formats.take_file import load_take
from yarn_puppet.core.model.graph import Leave, State, Transition
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.model.take import Take
from yarn_puppet.core.model.wiring import Intent
from yarn_puppet.core.takes.again.rate_causes import RATES, causes, nearest, whole
from yarn_puppet.core.takes.again.rates import Rates, at_rates
from yarn_puppet.core.takes.controls import controls_of
from yarn_puppet.core.takes.other_rate import at_rate
from yarn_puppet.core.takes.recording import take_of
from yarn_puppet.core.takes.run import replay, set_up
from yarn_puppet.demo import DEMO_TAKE

EDGES = some.lists(some.tuples(some.integers(0, 60), some.sampled_from(["a", "b"]),
                               some.integers(1, 6)), max_size=9)
RATE = some.sampled_from([15, 24, 30, 50, 60, 90, 120, 144, 240])


def presses(take: Take, action: str) -> list[tuple[int, int]]:
    """When an action is down: first tick, first tick up."""
    down = [action in each.down for each in controls_of(take)]
    edges = [at for at, (was, now) in enumerate(zip([False, *down], [*down, False], strict=True))
             if was != now]
    return list(zip(edges[::2], edges[1::2], strict=True))


def last_of(puppet: Puppet, take: Take) -> Rates:
    """What is said of a take at other rates, all tried."""
    *_, found = [rate for rate in at_rates(puppet, take, None) if rate is not None]
    return found


def two_taps(seconds: float, buffer: float = 0.0) -> Puppet:
    """A hold that leads to a state, after so many seconds."""
    return puppet_of(
        (clip("c"),), (State("rest", "rest", clip="c"), State("held", "held", clip="c")),
        (Transition("t", "rest", "held", "hold"),),
        intents=(Intent("hold", "hold", "attack", "hold", seconds, buffer),), senses=())


class Presses(Case):
    @given(EDGES, RATE, RATE)
    def test_none_is_lost_whatever_the_rates(
        self, listed: list[tuple[int, str, int]], rate: int, other: int
    ) -> None:
        take = take_of(controls([(first, first + long, action) for first, action, long in listed],
                                80), None, rate)
        moved = at_rate(take, other)
        self.assertEqual(moved.rate, other)
        for action in ("a", "b"):
            before, after = presses(take, action), presses(moved, action)
            self.assertEqual(len(after), len(before))
            for (first, up), (now, now_up) in zip(before, after, strict=True):
                self.assertGreater(now_up, now)
                self.assertGreaterEqual(now * rate, first * other)
                if other >= rate:
                    # Where there is room it is where it was, to the tick.
                    self.assertLess(now * rate, (first + 1) * other)
                    self.assertLess(now_up * rate, (up + 1) * other + rate)

    def test_presses_of_one_tick_at_half_the_rate(self) -> None:
        take = take_of(controls([(at, at + 1, "attack") for at in range(0, 60, 4)], 64), None, 60)
        self.assertEqual([up - first for first, up in presses(at_rate(take, 30), "attack")],
                         [1] * 15)


class Times(Case):
    @given(some.floats(0.001, 20.0))
    def test_the_nearest_falls_on_whole_ticks_with_the_digits_that_are_said(
        self, seconds: float
    ) -> None:
        found = nearest(seconds)
        self.assertTrue(whole(found))
        self.assertTrue(whole(float(f"{found:.9f}")))
        self.assertLessEqual(abs(found - seconds), max(0.5 / 30 + 1e-6, 1 / 30))

    def test_what_is_whole_is_said_to_be_no_cause(self) -> None:
        for seconds in (0.1, 0.2, 8 / 30, 0.266667, 0.5, 3.0):
            self.assertTrue(whole(seconds), seconds)
        for seconds in (0.267, 0.25, 0.15, 1 / 60):
            self.assertFalse(whole(seconds), seconds)


class Fixes(Case):
    def offered(self, puppet: Puppet, take: Take) -> Rates:
        found = last_of(puppet, take)
        self.assertTrue(any(each.differs for each in found.at))
        return found

    def test_one_that_is_offered_was_tried_and_is_no_longer_offered_once_made(self) -> None:
        """0.267 s falls between ticks; 0.267 s is not what to make of it."""
        puppet = two_taps(0.25)
        take = take_of(controls([(10, 10 + 15, "attack")], 60), None, 60)
        seconds = [intent.seconds for intent in puppet.intents]
        self.assertEqual(seconds, [0.25])
        for hold in (0.25, 0.267, 0.2341):
            puppet = two_taps(hold, 0.05)
            take = take_of(controls([(10, 10 + round(hold * 60), "attack")], 60), None, 60)
            found = last_of(puppet, take)
            for words in found.fixes:
                self.assertIn("tried", words)
            if found.fixes:
                cause = next(each for each in causes(puppet, None, puppet)
                             if found.fixes[0].startswith(each.words))
                again = last_of(cause.puppet, take)
                left, were = (sum(len(each.differs) for each in rates.at)
                              for rates in (again, found))
                self.assertLess(left, were)
                self.assertFalse([words for words in again.fixes if words.startswith(cause.words)])

    def test_where_nothing_falls_between_ticks_no_cause_is_named(self) -> None:
        puppet = two_taps(0.2, 0.1)
        take = take_of(controls([(10, 10 + 12, "attack")], 60), None, 60)
        found = last_of(puppet, take)
        self.assertEqual(found.fixes, ())
        lost = replace(puppet, transitions=(replace(
            puppet.transitions[0], when="hold and loops == 7"),))
        self.assertEqual(last_of(lost, take).fixes, ())

    def test_a_time_after_which_to_leave_is_found_and_fixes(self) -> None:
        puppet = puppet_of(
            (clip("c"),), (State("rest", "rest", clip="c"), State("on", "on", clip="c")),
            (Transition("t", "rest", "on", leave=Leave("after", 0.25)),
             Transition("u", "on", "rest", leave=Leave("after", 0.25))), senses=())
        take = take_of(controls([], 240), None, 60)
        found = self.offered(puppet, take)
        self.assertIn("after 0.25 s falls between ticks; make it", found.fixes[0])
        self.assertIn("all rates agree: tried", found.fixes[-1])
        made = next(cause for cause in causes(puppet, None, puppet)
                    if found.fixes[0].startswith(cause.words)).puppet
        left = last_of(made, take)
        self.assertLess(sum(len(each.differs) for each in left.at),
                        sum(len(each.differs) for each in found.at))

    def test_every_cause_of_the_demo_is_gone_once_it_is_put_right(self) -> None:
        puppet, world = demo_puppet(), demo_world()
        for cause in causes(puppet, world, puppet):
            again = [each.words for each in causes(cause.puppet, cause.world, cause.puppet)]
            self.assertNotIn(cause.words, again)


class Seconds(Case):
    def test_hit_stops_in_seconds_are_as_long_at_every_rate(self) -> None:
        puppet = demo_puppet()
        timed = replace(puppet, clips=tuple(replace(each, windows=tuple(
            replace(window, hit_stop_seconds=0.1) if window.kind == "hit" else window
            for window in each.windows))
            for each in puppet.clips))
        take = load_take(DEMO_TAKE)
        for rate in RATES:
            records = list(replay(set_up(replace(timed, rate=rate), demo_world()),
                                  at_rate(take, rate)))
            stopped = [record.inputs.stopped for record in records]
            first = stopped.index(True)
            self.assertEqual(stopped[first:].index(False), round(0.1 * rate), rate)

    def test_a_dummy_reels_for_seconds(self) -> None:
        dummy = replace(demo_world().dummies[0], reels=3, reels_seconds=0.2)
        self.assertEqual([dummy.ticks("reels", rate) for rate in (30, 60, 240)], [6, 12, 48])
        self.assertEqual(replace(dummy, reels_seconds=0.0).ticks("reels", 240), 3)


if __name__ == "__main__":
    unittest.main()
