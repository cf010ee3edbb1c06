"""Step 5 of a tick: clip time advances, moments fire, windows open and close."""

from __future__ import annotations

from bisect import bisect_right
from typing import NamedTuple

from ..rules.compile import Reading
from .program import TICK, ProgramClip, ProgramNode, ProgramSpeed
from .state import LayerState

MOST_CYCLES = 100_000
"""Cycles one tick can pass. The model's limits allow no more: a millisecond's clip, at 1 Hz and a hundredfold speed."""


class Played(NamedTuple):
    """A clip after one tick. `moments` are indices in the clip; `open` holds (window index, frame) pairs."""

    time: int
    loops: int
    ended: bool
    moments: tuple[int, ...]
    open: tuple[tuple[int, int], ...]


def units_per_tick(speed: ProgramSpeed, reading: Reading) -> int:
    """How many units of clip time pass in one tick, rounded to whole units."""
    if speed.source is None:
        return round(speed.fixed * TICK)
    span = speed.high - speed.low
    share = (float(speed.source(reading)) - speed.low) / span if span else 0.0
    share = max(0.0, min(1.0, share))
    return round((speed.slow + share * (speed.fast - speed.slow)) * TICK)


def play(clip: ProgramClip, before: int, fresh: bool, advance: int) -> Played:
    """Advance a clip from `before` by `advance` units.

    Moments in (before, now] fire, across loops, and those at 0 too when `fresh`. A window is open when the time
    now is in it, or when this tick stepped over the whole of it, so that none is ever skipped.
    """
    cycle = clip.cycle
    total = before + advance
    if clip.loops:
        passed, now = divmod(total, cycle)
        ended = passed > 0
    else:
        total = now = min(total, cycle)
        passed, ended = 0, now >= cycle
    after = before - 1 if fresh else before
    moments: tuple[int, ...] = ()
    first_pass = max(0, passed - MOST_CYCLES)
    if clip.moments:
        moments = tuple([
            place
            for number in range(first_pass, passed + 1)
            for place, moment in enumerate(clip.moments)
            if after < moment.at + number * cycle <= total
        ])
    opened: tuple[tuple[int, int], ...] = ()
    if clip.windows:
        shown = frame_at(clip, now)
        found = []
        for index, window in enumerate(clip.windows):
            if window.start <= now < window.end or (window.held and ended):
                found.append((index, shown))
            elif any(
                after < window.start + number * cycle and window.end + number * cycle <= total
                and window.start + number * cycle <= total
                for number in range(first_pass, passed + 1)
            ):
                found.append((index, window.frame))
        opened = tuple(found)
    return Played(now, passed, ended, moments, opened)


FACINGS = {"right": 0.0, "up": 90.0, "left": 180.0, "down": 270.0}
"""Degrees anticlockwise from the right."""


def clip_of(node: ProgramNode, layer: LayerState) -> ProgramClip | None:
    """The clip a layer plays in its state."""
    return node.spread[layer.variant].clip if node.spread else node.clip


def nearest(node: ProgramNode, reading: Reading) -> int:
    """Which clip of a state's spread is placed nearest to the values it is drawn along; the first at a tie.

    Each value counts in proportion to the span of its places, the facing round the circle.
    """
    if len(node.spread) < 2:
        return 0
    values = [FACINGS[reading.facing] if each is None else float(each(reading)) for each in node.along]
    best, least = 0, float("inf")
    for number, placed in enumerate(node.spread):
        away = 0.0
        for axis, value in enumerate(values):
            gap = abs(placed.place[axis] - value)
            if node.along[axis] is None:
                gap %= 360.0
                gap = min(gap, 360.0 - gap)
            away += (gap / node.spans[axis]) ** 2
        if away < least:
            best, least = number, away
    return best


def frame_at(clip: ProgramClip, time: int) -> int:
    """The frame shown at a time of the cycle, the last one at its end."""
    return clip.frames[min(bisect_right(clip.ends, time), len(clip.frames) - 1)]


def own_time(clip: ProgramClip, time: int) -> int:
    """A time of the cycle in the clip's own time, in units: on the way back it runs backwards."""
    part = min(bisect_right(clip.ends, time), len(clip.frames) - 1)
    start = clip.ends[part - 1] if part else 0
    return clip.local[part] - (time - start) if clip.backwards[part] else clip.local[part] + (time - start)
