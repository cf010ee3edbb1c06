"""Intents: armed by their gesture, living for their buffer, used up once."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as some
from msgspec.structs import replace

from tests.helpers import Case, Press, clip, entered, puppet_of, run
from yarn_puppet.core.model.graph import State, Transition
from yarn_puppet.core.model.wiring import Intent
from yarn_puppet.core.takes.run import Record, set_up

QUARTER = 15
"""Ticks in a quarter of a second at 60 Hz."""


def armed_ticks(
    intents: tuple[Intent, ...], presses: list[Press], ticks: int, id: str
) -> list[int]:
    """The ticks in which an intent that nothing takes is armed."""
    puppet = puppet_of([clip("rest")], [State("rest", "Rest", clip="rest")], intents=intents)
    records = run(set_up(puppet, None), presses, ticks)
    return [record.report.tick for record in records if id in record.report.armed]


class Gestures(Case):
    def intent(self, gesture: str, seconds: float = 0.25, buffer: float = 0.0) -> Intent:
        return Intent("it", "it", "attack", gesture, seconds, buffer)  # type: ignore[arg-type]

    def test_each_gesture_arms_in_its_tick(self) -> None:
        for gesture, presses, expected in (
            ("press", [(3, 6, "attack")], [3]),
            ("release", [(3, 6, "attack")], [6]),
            ("tap", [(3, 6, "attack")], [6]),
            ("tap", [(3, 3 + QUARTER - 1, "attack")], [3 + QUARTER - 1]),
            ("tap", [(3, 3 + QUARTER, "attack")], []),
            ("hold", [(3, 3 + QUARTER - 1, "attack")], []),
            ("hold", [(3, 3 + QUARTER, "attack")], [3 + QUARTER]),
            ("hold", [(3, 90, "attack")], [3 + QUARTER]),
            ("double tap", [(3, 5, "attack"), (9, 11, "attack")], [9]),
            ("double tap", [(3, 5, "attack"), (30, 32, "attack")], []),
            ("press", [(3, 6, "jump")], []),
        ):
            with self.subTest(gesture=gesture, presses=presses):
                self.assertEqual(armed_ticks((self.intent(gesture),), presses, 100, "it"), expected)

    def test_a_buffer_counts_ticks_exactly(self) -> None:
        for buffer, ticks in ((0.0, 1), (0.05, 4), (0.1, 7), (0.15, 10)):
            with self.subTest(buffer):
                found = armed_ticks((self.intent("press", buffer=buffer),), [(2, 4, "attack")], 60,
                                    "it")
                self.assertEqual(found, list(range(2, 2 + ticks)))

    @given(some.lists(some.tuples(some.integers(1, 20), some.integers(1, 40)), min_size=1,
                      max_size=6),
           some.sampled_from([0.1, 0.25, 0.4]), some.sampled_from([0.1, 0.25, 0.4]))
    def test_one_press_is_a_tap_or_a_hold_and_never_both(
        self, shape: list[tuple[int, int]], tap: float, hold: float
    ) -> None:
        intents = (Intent("tap", "tap", "attack", "tap", tap, 0.0),
                   Intent("hold", "hold", "attack", "hold", hold, 0.0))
        presses, tick = [], 0
        for gap, length in shape:
            presses.append((tick + gap, tick + gap + length, "attack"))
            tick += gap + length
        taps = armed_ticks(intents, presses, tick + 50, "tap")
        holds = armed_ticks(intents, presses, tick + 50, "hold")
        for first, last, _ in presses:
            as_tap = last in taps
            as_hold = any(first < each <= last for each in holds)
            self.assertFalse(as_tap and as_hold)
            if tap >= hold:
                self.assertTrue(as_tap or as_hold, "no press is lost where the two meet")

    def test_a_newer_gesture_of_the_action_replaces_an_armed_one(self) -> None:
        tap, hold = (Intent(word, word, "attack", word, 0.25, 2.0)
                     for word in ("tap", "hold"))  # type: ignore[arg-type]
        intents = (tap, hold)
        presses = [(2, 5, "attack"), (10, 40, "attack")]
        self.assertEqual(armed_ticks(intents, presses, 60, "tap"), list(range(5, 25)))
        self.assertEqual(armed_ticks(intents, presses, 60, "hold")[0], 25)


class UsingUp(Case):
    def records(
        self, intents: tuple[Intent, ...], transitions: list[Transition], presses: list[Press]
    ) -> list[Record]:
        states = [State("a", "A", clip="rest"), State("b", "B", clip="rest"),
                  State("c", "C", clip="rest")]
        puppet = puppet_of([clip("rest")], states, transitions, intents=intents)
        return run(set_up(puppet, None), presses, 120)

    def test_a_press_is_used_by_one_transition_only(self) -> None:
        press = Intent("press", "press", "attack", "press", 0.0, 1.0)
        records = self.records((press,),
                               [Transition("ab", "a", "b", "press"),
                                Transition("bc", "b", "c", "press")],
                               [(5, 60, "attack")])
        self.assertEqual(entered(records, "b"), [5])
        self.assertEqual(entered(records, "c"), [])
        self.assertEqual(records[5].report.used, ("press",))

    def test_a_level_is_never_used_up(self) -> None:
        held = Intent("held", "held", "attack", "held")
        records = self.records((held,),
                               [Transition("ab", "a", "b", "held"),
                                Transition("bc", "b", "c", "held")],
                               [(5, 60, "attack")])
        self.assertEqual((entered(records, "b"), entered(records, "c")), ([5], [6]))
        self.assertEqual(records[5].report.used, ())

    def test_what_one_press_armed_besides_goes_with_it(self) -> None:
        press = Intent("press", "press", "attack", "press", 0.0, 1.0)
        double = Intent("double", "double", "attack", "double tap", 0.5, 1.0)
        transitions = [Transition("ab", "a", "b", "double"),
                       Transition("bc", "b", "c", "press and elapsed > 0")]
        records = self.records((press, double), transitions, [(5, 7, "attack"), (12, 14, "attack")])
        self.assertEqual(entered(records, "b"), [12])
        self.assertEqual(entered(records, "c"), [], "the press of the double tap is used with it")

    def test_an_intent_of_no_action_never_arms(self) -> None:
        lost = replace(Intent("lost", "lost", "attack", "press"), action="nobody")
        records = self.records((lost,), [Transition("ab", "a", "b", "lost")], [(5, 7, "attack")])
        self.assertEqual(entered(records, "b"), [])
