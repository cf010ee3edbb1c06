"""How long one turn of the window's loop takes at the most, on every page: `python -m
bench.stalls`.

What the test of the same drives, with the demo and with the largest puppet that the desk promises
to be quick with, in milliseconds of the thread's own time: as they were, and as they are at full
speed (`bench/yardstick.py`, measured before and after each gesture). Ends with 1 where one is over
50, or 250, at full speed.
"""

from __future__ import annotations

import os
import sys
import unittest
from collections.abc import Callable
from time import thread_time

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from bench.yardstick import FULL_SPEED, yardstick
from tests.desk import test_stalls
from yarn_puppet.desk.shell.pages import fetch

BARS = {"test_with_the_demo": 50.0, "test_with_the_largest": 250.0}
MOST_SHOWN = 12


class Timed(test_stalls.Stalls):
    """The same, with times."""

    def setUp(self) -> None:
        super().setUp()
        self.found: list[tuple[float, float, float, str]] = []
        """Of each gesture its longest turn at full speed, as it was, and the yardstick then."""

    def turn(self, does: Callable[[], object]) -> float:  # type: ignore[override]
        began = thread_time()
        does()
        return (thread_time() - began) * 1000

    def counted(self, what: str, does: Callable[[], object]) -> None:
        before = yardstick(2)
        self.most.pop(what, None)
        super().counted(what, does)
        yard = (before + yardstick(2)) / 2
        self.found.append((self.most[what] * FULL_SPEED / yard, self.most[what], yard, what))


def main() -> int:
    """Drive both, and tell the longest turns."""
    fetch().join()
    test_stalls.OF_DEMO = test_stalls.OF_LARGEST = sys.maxsize
    over = 0
    for name, bar in BARS.items():
        case = Timed(name)
        found = unittest.TestResult()
        case.run(found)
        for _, trace in (*found.errors, *found.failures):
            print(trace)
        print(f"{name}, of {bar:g} ms at full speed, which is a yardstick of {FULL_SPEED} ms:")
        for full, took, yard, what in sorted(case.found, reverse=True)[:MOST_SHOWN]:
            print(f"  {full:6.0f} ms  ({took:.0f} at {yard:.1f})  {what}{'   over' * (full > bar)}")
        over += sum(full > bar for full, *_ in case.found)
    return int(bool(over))


if __name__ == "__main__":
    sys.exit(main())
