"""Startup, active and recovery of a clip, counted in the ticks that play it."""

from __future__ import annotations

from functools import lru_cache
from typing import NamedTuple

from .program_clips import TICK, ProgramClip


class Counts(NamedTuple):
    """Ticks before the first hit window opens, in which one is open up to the last, and after that
    to the end.

    A clip without hit windows has no startup, active and recovery: they are 0. `total` is the ticks
    of one cycle.
    """

    startup: int
    active: int
    recovery: int
    total: int


@lru_cache(maxsize=256)
def counts(clip: ProgramClip) -> Counts:
    """Count one cycle of a clip at speed 1, by the rule of when a window is open (see `play.play`).

    Tick n shows the time n. The tick that reaches the end of the cycle comes to all that is left of
    it.
    """
    total = max(1, _ticks_to(clip.cycle))
    first, last = total, -1
    for window in clip.windows:
        if window.kind == "hit":
            # Where no tick shows a time of it, the first that comes to its beginning has it open.
            opens = min(_ticks_to(window.start), total - 1)
            first = min(first, opens)
            last = max(last, opens, min(_ticks_to(window.end), total) - 1)
    if last < 0:
        return Counts(0, 0, 0, total)
    return Counts(first, last - first + 1, total - last - 1, total)


def _ticks_to(time: int) -> int:
    """The first tick that shows a time, or one after it."""
    return -(-time // TICK)
