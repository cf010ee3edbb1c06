"""Startup, active and recovery of a clip, counted in ticks by playing it."""

from __future__ import annotations

from functools import lru_cache
from typing import NamedTuple

from .play import play
from .program_clips import TICK, ProgramClip

MOST_TICKS = 20_000
"""A clip longer than this many ticks is counted no further."""


class Counts(NamedTuple):
    """Ticks before the first hit window opens, in which one is open up to the last, and after that to the end.

    A clip without hit windows has no startup, active and recovery: they are 0. `total` is the ticks of one cycle.
    """

    startup: int
    active: int
    recovery: int
    total: int


@lru_cache(maxsize=256)
def counts(clip: ProgramClip) -> Counts:
    """Count one cycle of a clip at speed 1, tick by tick as the engine plays it."""
    hits = [place for place, window in enumerate(clip.windows) if window.kind == "hit"]
    if not hits:
        # Nothing to look for: each tick but the last goes on by as much.
        return Counts(0, 0, 0, min(MOST_TICKS, max(1, -(-clip.cycle // TICK))))
    hitting: list[int] = []
    time, number, met = 0, 0, -1
    while number < MOST_TICKS:
        done = play(clip, time, met, TICK)
        if any(done.open >> place & 1 for place in hits):
            hitting.append(number)
        number += 1
        time, met = done.time, time
        if done.ended:
            break
    if not hitting:
        return Counts(0, 0, 0, number)
    return Counts(hitting[0], hitting[-1] - hitting[0] + 1, number - hitting[-1] - 1, number)
