"""Step 5 of a tick: clip time advances, moments fire, windows open and close."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Sequence
from math import sqrt
from typing import Any, NamedTuple

from ...rules.evaluate import Reading, value_of
from ...rules.numbers import LARGEST_FLOAT, real
from ..program import ProgramState
from ..program_clips import TICK, ProgramClip, ProgramSpeed
from ..state import CycleHits, LayerState

MOST_CYCLES = 64
"""Passes of one tick that count; the earlier ones of a tick that passes more are skipped."""


class Played(NamedTuple):
    """A clip after one tick. `moments` are (pass counted from that before the tick, index) in the
    order of time; `open` has bit i set while window i is open.
    """

    time: int
    cycles: int
    ended: bool
    moments: tuple[tuple[int, int], ...]
    open: int


FASTEST = 100.0
"""How many times as fast as drawn a clip may play, whatever while-rules make it."""


def units_per_tick(speed: ProgramSpeed, reading: Reading, factors: Sequence[float] = ()) -> int:
    """How many units of clip time pass in one tick, rounded to whole units. `factors` are those of
    while-rules."""
    times = (
        speed.fixed
        if speed.source is None
        else mapped_speed(speed, float(value_of(speed.source, reading)))
    )
    return round((paced(times, factors) if factors else times) * TICK)


def paced(times: float, factors: Sequence[float]) -> float:
    """A speed multiplied by what while-rules say."""
    for factor in factors:
        times = real(times * factor)
    return max(0.0, min(FASTEST, times))


def mapped_speed(speed: ProgramSpeed, value: float) -> float:
    """How fast a clip plays where the value that its speed is read from is this."""
    span = speed.high - speed.low
    share = (value - speed.low) / span if span else 0.0
    share = max(0.0, min(1.0, share))
    return speed.slow + share * (speed.fast - speed.slow)


def met_so_far(clip: ProgramClip, layer: LayerState) -> int:
    """The last time of the present pass that the ticks before this one came to; -1 for none.

    A tick that reaches the end of a cycle comes to all that is left of it.
    """
    if layer.fresh:
        return -1
    if layer.ended:
        return -1 if clip.loops else clip.cycle
    return layer.shown


def play(clip: ProgramClip, before: int, met: int, advance: int) -> Played:
    """Advance a clip from `before`, which is what the tick shows, by `advance` units; `met` is the
    last time that was come to, as `met_so_far` gives it.

    The tick comes to all times after that up to the one on show; to the end of the cycle where it
    reaches that, and to whole passes in between. Moments that it comes to fire. A window is open
    when the time on show is in it, or when the tick comes to it and not to a time on show in it, so
    that none is ever skipped.
    """
    cycle, total = clip.cycle, before + advance
    if clip.loops:
        passed, now = divmod(total, cycle)
        ended = passed > 0
    else:
        now = min(total, cycle)
        passed, ended = 0, now >= cycle
    last = cycle if ended else before
    moments = tuple([
        (number, index)
        for number in range(max(0, passed - MOST_CYCLES), max(1, passed))
        for index, moment in enumerate(clip.moments)
        if number or met < moment.at <= last
    ]) if clip.moments else ()
    opened = 0
    for index, window in enumerate(clip.windows):
        if passed > 1 or window.start <= before < window.end or met < window.start <= last or (
            window.held and before == cycle
        ):
            opened |= 1 << index
    return Played(now, passed, ended, moments, opened)


def sorted_moments(
    played: Played, clip: ProgramClip, hits: CycleHits
) -> tuple[tuple[int, ...], CycleHits]:
    """The moments of a tick that fire now, and what is kept of hits: those only on a hit wait in
    their pass."""
    if not played.moments and not (played.cycles and hits.waiting) and not hits.late and not (
        played.cycles and hits.landed
    ):
        return (), hits
    fired: list[int] = []
    landed, waiting, late, present = hits.landed, list(hits.waiting), [], 0
    for number, place in played.moments:
        if number != present:
            late = waiting if number == present + 1 else []
            landed, waiting, present = False, [], number
        if clip.moments[place].only_on_hit and not landed:
            if not any(clip.moments[each].id == clip.moments[place].id for each in waiting):
                waiting.append(place)
        else:
            fired.append(place)
    if present != played.cycles:
        late = waiting if played.cycles == present + 1 else []
        landed, waiting = False, []
    return tuple(fired), CycleHits(landed, tuple(waiting), tuple(late))


def shown_windows(clip: ProgramClip, layer: LayerState) -> list[tuple[int, int, bool]]:
    """The open windows of a layer that plays `clip`: (index, frame shown, whether it was of the
    pass before)."""
    found = []
    at = frame_at(clip, layer.shown)
    # A tick that passes the seam comes to nothing of the new pass.
    late = clip.loops and layer.ended
    for index, window in enumerate(clip.windows):
        if layer.open >> index & 1:
            on_show = window.start <= layer.shown < window.end or (
                window.held and layer.shown == clip.cycle
            )
            found.append((index, at if on_show else window.frame, late))
    return found


FACINGS = {
    "right": 0.0, "up right": 45.0, "up": 90.0, "up left": 135.0, "left": 180.0, "down left": 225.0,
    "down": 270.0,
    "down right": 315.0,
}
"""Degrees anticlockwise from the right."""


def clip_of(state: ProgramState, layer: LayerState) -> ProgramClip | None:
    """The clip a layer plays in its state."""
    return state.spread[layer.variant].clip if state.spread else state.clip


def values_along(state: ProgramState, reading: Reading) -> list[Any]:
    """The values that a state's spread is drawn along, the facing as its name."""
    return [reading.facing if each is None else float(value_of(each, reading))
            for each in state.along]


def nearest(state: ProgramState, along: Sequence[Any], playing: int = -1) -> int:
    """Which clip of a state's spread is placed nearest to the values it is drawn along; the first
    at a tie.

    Each value counts in proportion to the span of its places, the facing round the circle. The one
    that is `playing` stays until another is nearer by more than the spread's hold.
    """
    if len(state.spread) < 2:
        return 0
    values = [FACINGS[each] if isinstance(each, str) else each for each in along]
    best, least, kept = 0, float("inf"), float("inf")
    for number, placed in enumerate(state.spread):
        away = 0.0
        for axis, value in enumerate(values):
            gap = abs(placed.place[axis] - value)
            if state.along[axis] is None:
                gap %= 360.0
                gap = min(gap, 360.0 - gap)
            share = min(gap / state.spans[axis], LARGEST_FLOAT)
            away += share * share
        away = sqrt(away)
        if away < least:
            best, least = number, away
        if number == playing:
            kept = away
    return playing if kept <= least + state.hold else best


def in_variant(state: ProgramState, layer: LayerState, variant: int) -> LayerState:
    """A layer that plays another clip of its spread, as far into it as it was into the one
    before."""
    old, new = state.spread[layer.variant].clip, state.spread[variant].clip
    hits = layer.hits
    if hits.waiting or hits.late:
        places = {(each.kind, each.name, each.number): index
                  for index, each in enumerate(new.moments)}

        def carried(waiting: tuple[int, ...]) -> tuple[int, ...]:
            known = [(each.kind, each.name, each.number)
                     for each in (old.moments[place] for place in waiting)]
            return tuple(places[key] for key in known if key in places)

        hits = CycleHits(hits.landed, carried(hits.waiting), carried(hits.late))
    time, shown = (at * new.cycle // old.cycle for at in (layer.time, layer.shown))
    if layer.ended and old.loops:
        # The seam was passed: of the present pass nothing was come to, not even its first time.
        return layer._replace(variant=variant, time=time, hits=hits, shown=-1, ended=False)
    return layer._replace(
        variant=variant, time=0 if new.loops and time == new.cycle else time, hits=hits,
        shown=shown)


def frame_at(clip: ProgramClip, time: int) -> int:
    """The frame shown at a time of the cycle, the last one at its end."""
    return clip.frames[min(bisect_right(clip.ends, time), len(clip.frames) - 1)]


def own_time(clip: ProgramClip, time: int) -> int:
    """A time of the cycle in the clip's own time, in units: on the way back it runs backwards."""
    part = min(bisect_right(clip.ends, time), len(clip.frames) - 1)
    start = clip.ends[part - 1] if part else 0
    return (
        clip.local[part] - (time - start)
        if clip.backwards[part]
        else clip.local[part] + (time - start)
    )
