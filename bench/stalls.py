"""How long one turn of the window's loop takes at the most, on every page: `python -m bench.stalls
[RUNS]`.

What the test of the same drives, with the demo and with the largest puppet that the desk promises
to be quick with, in milliseconds of the thread's own time: as they were, and as they are at full
speed (`bench/yardstick.py`, measured before and after each turn). Ends with 1 where one is over
50, or 250, at full speed.
"""

from __future__ import annotations

import os
import sys
import unittest
from collections.abc import Callable
from time import thread_time
from typing import NamedTuple

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from bench.yardstick import FULL_SPEED, yardstick
from tests.desk import test_stalls
from yarn_puppet.desk.shell.pages import fetch

BARS = {"test_with_the_demo": 50.0, "test_with_the_largest": 250.0}
MOST_SHOWN = 12
STEADY = 1.15
"""How much the yardstick may differ before and after a turn: where it does by more, nobody can say
at which speed the turn was seen."""


class Turn(NamedTuple):
    """One turn: in milliseconds at full speed, as it was, the yardstick then, and its gesture."""

    full: float
    took: float
    yard: float
    what: str = ""


class Timed(test_stalls.Stalls):
    """The same, with times."""

    def setUp(self) -> None:
        super().setUp()
        self.found: list[Turn] = []
        """Of each gesture its longest turn of those that were seen at one speed."""
        self.turns: list[Turn] = []
        self.seen = self.unsteady = 0

    def turn(self, does: Callable[[], object]) -> float:  # type: ignore[override]
        # Around each turn, for a machine changes its speed from one to the next.
        before = yardstick(1)
        began = thread_time()
        does()
        took = (thread_time() - began) * 1000
        after = yardstick(1)
        self.seen += 1
        if max(before, after) > min(before, after) * STEADY:
            self.unsteady += 1
        else:
            yard = (before + after) / 2
            self.turns.append(Turn(took * FULL_SPEED / yard, took, yard))
        return took

    def counted(
        self, what: str, does: Callable[[], object], done: Callable[[], bool] = lambda: True
    ) -> None:
        self.turns.clear()
        super().counted(what, does, done)
        if self.turns:
            self.found.append(max(self.turns)._replace(what=what))


def main(runs: int) -> int:
    """Drive both, and tell the longest turns."""
    fetch().join()
    test_stalls.OF_DEMO = test_stalls.OF_LARGEST = sys.maxsize
    over = 0
    for name, bar in BARS.items():
        turns: list[Turn] = []
        seen = unsteady = 0
        for _ in range(runs):
            case = Timed(name)
            found = unittest.TestResult()
            case.run(found)
            for _, trace in (*found.errors, *found.failures):
                print(trace)
            turns += case.found
            seen, unsteady = seen + case.seen, unsteady + case.unsteady
        print(f"{name}, of {bar:g} ms at full speed, which is a yardstick of {FULL_SPEED} ms; "
              f"{seen} turns, and {unsteady} of them not counted, in which the speed changed:")
        for turn in sorted(turns, reverse=True)[:MOST_SHOWN]:
            print(f"  {turn.full:6.0f} ms  ({turn.took:.0f} at {turn.yard:.1f})  {turn.what}"
                  f"{'   over' * (turn.full > bar)}")
        over += sum(turn.full > bar for turn in turns)
    return int(bool(over))


if __name__ == "__main__":
    sys.exit(main(int(sys.argv[1]) if sys.argv[1:] else 1))
