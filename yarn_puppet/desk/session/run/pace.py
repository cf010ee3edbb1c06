"""How many ticks are due: time that passes, times a speed, at a puppet's rate."""

from __future__ import annotations

from time import perf_counter

SPEEDS = (0.0625, 0.125, 0.25, 0.5, 1.0, 2.0, 4.0, 8.0)
"""Speeds that are offered; any other between the least and the most can be had."""
LEAST_SPEED, MOST_SPEED = 0.01, 16.0


class Pace:
    """Asked again and again, it says how many ticks are to be run now: never more at once than
    `most`.

    After a stall a run goes on from where it was rather than catching up in one leap.
    """

    def __init__(self, most: int) -> None:
        self.most = most
        self._owed = 0.0
        self._last = perf_counter()

    def begin(self) -> None:
        """Nothing is owed of the time before now."""
        self._last, self._owed = perf_counter(), 0.0

    def due(self, ticks_per_second: float) -> int:
        """Whole ticks since it was asked last; what is left of one is owed."""
        now = perf_counter()
        self._owed += (now - self._last) * ticks_per_second
        self._last = now
        due = min(int(self._owed), self.most)
        self._owed = min(self._owed - due, 1.0)
        return due
