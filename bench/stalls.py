"""How long one turn of the window's loop takes at the most, on every page: `python -m bench.stalls
[RUNS]`.

What the test of the same drives, with the demo and with the largest puppet that the desk promises
to be quick with, in milliseconds of the thread's own time: as they were, and as they are at full
speed (`bench/yardstick.py`, measured before and after each turn). Ends with 1 where the median of a
gesture's longest turns, or the longest time that the collector of garbage took, is over 50, or 250,
at full speed.
"""

from __future__ import annotations

import gc
import os
import sys
import unittest
from collections.abc import Callable
from time import thread_time
from typing import NamedTuple

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from bench.yardstick import FULL_SPEED, stolen, yardstick
from tests.desk import test_stalls
from yarn_puppet.desk.shell.pages import fetch

BARS = {"test_with_the_demo": 50.0, "test_with_the_largest": 250.0}
MOST_SHOWN = 12
STEADY = 1.15
"""How much the yardstick may differ before and after a turn: where it does by more, nobody can say
at which speed the turn was seen."""


class Turn(NamedTuple):
    """One turn: in milliseconds at full speed, as it was, and the yardstick then."""

    full: float
    took: float
    yard: float


class Seen(NamedTuple):
    """What one drive came to: of each gesture its longest turn, what the collector took each time,
    and of how many turns how many did not count."""

    longest: dict[str, Turn]
    collecting: list[Turn]
    turns: int
    unsteady: int


class Timed(test_stalls.Stalls):
    """The same, with times."""

    def setUp(self) -> None:
        super().setUp()
        self.found: dict[str, Turn] = {}
        """Of each gesture its longest turn of those that were seen at one speed."""
        self.turns: list[Turn] = []
        self.collecting: list[Turn] = []
        """What the collector of garbage took, each time."""
        self.seen = self.unsteady = 0
        self.measuring = 0.0
        """Seconds that measuring the collector took, which are no turn's."""
        gc.callbacks.append(self._collects)
        self.addCleanup(gc.callbacks.remove, self._collects)

    def _collects(self, phase: str, info: object) -> None:
        entered = thread_time()
        if phase == "start":
            self._before = yardstick(1), stolen()
            self._began = thread_time()
        else:
            turn = self.timed((entered - self._began) * 1000, *self._before)
            self.collecting += [turn] if turn is not None else []
        self.measuring += thread_time() - entered

    def timed(self, took: float, before: float, stolen_before: int) -> Turn | None:
        """What took so long, as the yardstick and what was stolen stood before; None where the
        speed changed, or other machines had a processor of ours."""
        was_stolen = stolen() != stolen_before
        after = yardstick(1)
        if was_stolen or max(before, after) > min(before, after) * STEADY:
            return None
        yard = (before + after) / 2
        return Turn(took * FULL_SPEED / yard, took, yard)

    def turn(self, does: Callable[[], object]) -> float:  # type: ignore[override]
        # Around each turn, for a machine changes its speed from one to the next.
        before = yardstick(1), stolen()
        self.measuring = 0.0
        began = thread_time()
        does()
        turn = self.timed((thread_time() - began - self.measuring) * 1000, *before)
        self.seen += 1
        self.unsteady += turn is None
        self.turns += [turn] if turn is not None else []
        return turn.took if turn is not None else 0.0

    def counted(
        self, what: str, does: Callable[[], object], done: Callable[[], bool] = lambda: True
    ) -> None:
        self.turns.clear()
        super().counted(what, does, done)
        if self.turns:
            self.found[what] = max([*self.turns, *([self.found[what]] if what in self.found
                                                   else [])])


def main(runs: int) -> int:
    """Drive both, and tell the longest turns: of each gesture the median of the runs, for a turn
    that is long by itself is so each time."""
    fetch().join()
    test_stalls.OF_DEMO = test_stalls.OF_LARGEST = sys.maxsize
    over = 0
    for name, bar in BARS.items():
        seen = [driven(name) for _ in range(runs)]
        print(f"{name}, of {bar:g} ms at full speed, which is a yardstick of {FULL_SPEED} ms; "
              f"{sum(each.turns for each in seen)} turns, of which "
              f"{sum(each.unsteady for each in seen)}, in which the speed changed or time was "
              "stolen, do not count:")
        medians = {}
        for what in {what for each in seen for what in each.longest}:
            turns = sorted(each.longest[what] for each in seen if what in each.longest)
            medians[what] = turns[len(turns) // 2], turns[-1]
        for what in sorted(medians, key=lambda what: medians[what], reverse=True)[:MOST_SHOWN]:
            turn, longest = medians[what]
            print(f"  {turn.full:6.0f} ms  ({turn.took:.0f} at {turn.yard:.1f}; the longest "
                  f"{longest.full:.0f}: {longest.took:.0f} at {longest.yard:.1f})  {what}"
                  f"{'   over' * (turn.full > bar)}")
        collecting = max(turn for each in seen for turn in each.collecting)
        print(f"  {collecting.full:6.0f} ms  ({collecting.took:.0f} at {collecting.yard:.1f})  "
              "the collector of garbage, at its longest")
        over += sum(turn.full > bar for turn in (collecting, *[turn for turn, _ in
                                                               medians.values()]))
    return int(bool(over))


def driven(name: str) -> Seen:
    """One of both, driven; nothing of its window stays."""
    case, found = Timed(name), unittest.TestResult()
    case.run(found)
    for _, trace in (*found.errors, *found.failures):
        print(trace)
    return Seen(case.found, case.collecting, case.seen, case.unsteady)


if __name__ == "__main__":
    sys.exit(main(int(sys.argv[1]) if sys.argv[1:] else 1))
