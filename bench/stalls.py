"""How long one turn of the window's loop takes at the most, on every page: `python -m
bench.stalls`.

What the test of the same drives, with the demo and with the largest puppet that the desk promises
to be quick with, in milliseconds of the thread's own time. Ends with 1 where one is over 50, or
250.
"""

from __future__ import annotations

import os
import sys
import unittest
from collections.abc import Callable
from time import thread_time

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from tests.desk import test_stalls
from yarn_puppet.desk.shell.pages import fetch

BARS = {"test_with_the_demo": 50.0, "test_with_the_largest": 250.0}
MOST_SHOWN = 12


class Timed(test_stalls.Stalls):
    """The same, with times."""

    def turn(self, does: Callable[[], object]) -> float:  # type: ignore[override]
        began = thread_time()
        does()
        return (thread_time() - began) * 1000


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
        print(f"{name}, of {bar:g} ms:")
        for what, took in sorted(case.most.items(), key=lambda each: -each[1])[:MOST_SHOWN]:
            print(f"  {took:6.0f} ms  {what}{'   over' * (took > bar)}")
            over += took > bar
    return int(bool(over))


if __name__ == "__main__":
    sys.exit(main())
