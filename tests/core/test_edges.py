"""Presses between two ticks, presses in a hit stop: none is lost, in exact ticks."""

from __future__ import annotations

import tempfile
import unittest
from collections.abc import Iterable
from pathlib import Path

from hypothesis import given
from hypothesis import strategies as some
from msgspec.structs import replace

from tests.helpers import Case, clip, puppet_of
from yarn_puppet.core.engine.plain.beginning import initial_state
from yarn_puppet.core.engine.state import Inputs, Report
from yarn_puppet.core.formats.take_file import load_take, save_take
from yarn_puppet.core.model.graph import State, Transition
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.model.take import Take
from yarn_puppet.core.model.wiring import Action, Intent
from yarn_puppet.core.snags.check import check
from yarn_puppet.core.takes.controls import Controls, controls_of
from yarn_puppet.core.takes.recording import take_of
from yarn_puppet.core.takes.run import replay, set_up
from yarn_puppet.desk.session.run.holding import Holding

A = (Action("a", "a"),)


def puppet(
    gesture: str = "press", buffer: float = 0.0, seconds: float = 0.25, when: str = "it"
) -> Puppet:
    """Two states; an intent leads from one to the other, and back where it comes again."""
    return puppet_of(
        (clip("c", (1000.0,)),), (State("rest", "rest", clip="c"), State("act", "act", clip="c")),
        (Transition("go", "rest", "act", when), Transition("back", "act", "rest", when)), actions=A,
        senses=(),
        intents=(Intent("it", "it", "a", gesture, seconds, buffer),))  # type: ignore[arg-type]


def ticked(
    made: Puppet,
    downs: Iterable[bool],
    stops: Iterable[int] = (),
    edges: dict[int, int] | None = None,
) -> list[Report]:
    """Reports of a run of one action."""
    setup = set_up(made, None)
    state, reports, stopped = initial_state(setup.program), [], set(stops)
    for tick, down in enumerate(downs):
        given = ((edges or {}).get(tick, 0),) if edges and tick in edges else ()
        state, report = setup.tick(state, Inputs((down,), (), (), tick in stopped, given))
        reports.append(report)
    return reports


def taken(reports: list[Report]) -> list[int]:
    """The ticks in which a transition was taken."""
    return [report.tick for report in reports if report.taken]


class InAStop(Case):
    def test_a_press_without_a_buffer_waits_for_the_first_tick_that_chooses(self) -> None:
        downs = [3 <= tick < 5 for tick in range(20)]
        self.assertEqual(taken(ticked(puppet(), downs)), [3])
        self.assertEqual(taken(ticked(puppet(), downs, stops=range(2, 9))), [9])

    def test_it_then_lives_as_long_as_it_says(self) -> None:
        for buffer in (0, 1, 3):
            made = puppet(buffer=buffer / 60, when="it and elapsed > 100")
            downs = [4 <= tick < 6 for tick in range(30)]
            for stops, first in (((), 4), (range(3, 10), 10)):
                armed = [report.tick for report in ticked(made, downs, stops) if report.armed]
                self.assertEqual([tick for tick in armed if tick >= first],
                                 list(range(first, first + buffer + 1)))

    def test_buffers_that_are_less_than_a_tick_are_a_snag(self) -> None:
        for buffer, wrong in ((0.0, False), (0.01, True), (1 / 60, False), (0.1, False)):
            found = [snag.why for snag in check(puppet(buffer=buffer)) if snag.kind == "intent"]
            self.assertEqual(any("less than a tick" in why for why in found), wrong, buffer)


class Edges(Case):
    def test_a_press_and_its_release_between_two_ticks_are_a_press_of_one(self) -> None:
        nothing = [False] * 20
        self.assertEqual(taken(ticked(puppet(), nothing, edges={5: 2})), [5])
        self.assertEqual(taken(ticked(puppet("tap", 0.1), nothing, edges={5: 2})), [6])
        self.assertEqual(taken(ticked(puppet("release", 0.1), nothing, edges={5: 2})), [6])
        held = ticked(puppet("held", when="it"), nothing, edges={5: 2})
        self.assertEqual(taken(held), [5])

    def test_let_go_of_and_pressed_again_between_two_ticks_is_two_presses(self) -> None:
        down = [tick >= 3 for tick in range(20)]
        self.assertEqual(taken(ticked(puppet(), down)), [3])
        self.assertEqual(taken(ticked(puppet(), down, edges={8: 2})), [3, 9])

    def test_more_wait_for_their_turn_and_few_of_them(self) -> None:
        nothing = [False] * 40
        self.assertEqual(taken(ticked(puppet(), nothing, edges={5: 4})), [5, 7])
        self.assertEqual(taken(ticked(puppet(), nothing, edges={5: 250})), [5, 7])
        self.assertEqual(taken(ticked(puppet(), nothing, edges=dict.fromkeys(range(5, 9), 2))),
                         [5, 7, 9])

    def test_of_edges_and_level_that_disagree_the_level_counts(self) -> None:
        down = [tick >= 5 for tick in range(20)]
        self.assertEqual(taken(ticked(puppet(), down, edges={5: 2})), [5, 7])
        self.assertEqual(taken(ticked(puppet(), down, edges={5: 1})), [5])

    @given(some.lists(some.tuples(some.integers(0, 30), some.integers(1, 3)), max_size=8))
    def test_a_take_holds_them(self, listed: list[tuple[int, int]]) -> None:
        controls, down = [], False
        for tick in range(32):
            count = sum(often for at, often in listed if at == tick)
            down = down != (count % 2 == 1)
            controls.append(Controls(frozenset("a" if down else ()),
                                     edges=(("a", count),) if count > 1 else ()))
        take = take_of(controls, None, 60)
        self.assertEqual(list(controls_of(take)), controls)
        made = puppet()
        setup = set_up(made, None)
        self.assertEqual([record.controls for record in replay(setup, take)], controls)

    def test_a_take_file_keeps_them(self) -> None:
        take = Take(None, 60, 20, ((5, "a", 1), (5, "a", 0)))
        with tempfile.TemporaryDirectory() as folder:
            save_take(take, Path(folder) / "x.take.json")
            self.assertEqual(load_take(Path(folder) / "x.take.json", puppet()), take)
        records = list(replay(set_up(puppet(), None), take))
        self.assertEqual(taken([record.report for record in records]), [5])


class MoveInput(Case):
    def test_what_a_hand_does_between_two_ticks_is_in_the_controls(self) -> None:
        holding = Holding()
        holding.press("a")
        self.assertEqual(holding.controls(0), Controls(frozenset("a")))
        holding.release("a")
        holding.press("a")
        self.assertEqual(holding.controls(1), Controls(frozenset("a"), edges=(("a", 2),)))
        self.assertEqual(holding.controls(2), Controls(frozenset("a")))
        holding.release("a")
        self.assertEqual(holding.controls(3), Controls(frozenset()))
        holding.press("a")
        holding.release("a")
        self.assertEqual(holding.controls(4), Controls(frozenset("a")))
        self.assertEqual(holding.controls(5), Controls(frozenset()))


class Windows(Case):
    def test_one_that_no_clip_has_is_never_open_and_a_snag(self) -> None:
        made = puppet()
        ways = (replace(made.transitions[0], when='window("w1") or it'), made.transitions[1])
        odd = replace(made, transitions=ways)
        self.assertEqual(taken(ticked(odd, [3 <= tick < 5 for tick in range(9)])), [3])
        self.assertIn("“window(\"w1\") or it”: no clip has a window w1, so that it is never open",
                      [snag.why for snag in check(odd) if snag.kind == "transition"])
        never = replace(made, transitions=(replace(made.transitions[0], when='not window("w1")'),
                                           made.transitions[1]))
        self.assertEqual(taken(ticked(never, [False] * 4)), [0])


if __name__ == "__main__":
    unittest.main()
