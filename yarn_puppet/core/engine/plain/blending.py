"""Blends: what a layer still shows of what it left. See *Blends* in section 6 of
docs/semantics.md."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from ..program import Program, ProgramBlend, ProgramState
from ..program_clips import FULL, TICK, ProgramClip
from ..state import Blending, Fading, LayerState, OnShow
from .play import frame_at, own_time

MOST_OLD = 4
"""Clips that fade in one layer at a time."""

EASINGS: dict[str, Callable[[float], float]] = {
    "linear": lambda x: x,
    "ease in": lambda x: x * x,
    "ease out": lambda x: 1 - (1 - x) * (1 - x),
    "ease in and out": lambda x: x * x * (3 - 2 * x),
}
"""The share of the new by the share of the time, both 0 to 1."""


def share_of_new(blending: Blending | None) -> int:
    """How much of what a layer shows is the clip it plays, of `FULL`."""
    if blending is None:
        return FULL
    return round(FULL * EASINGS[blending.easing](blending.done / blending.units))


def weights(blending: Blending) -> list[int]:
    """How much of what a layer shows is each clip that fades, of `FULL`."""
    left = FULL - share_of_new(blending)
    return [each.had * left // FULL for each in blending.old]


def begun(blend: ProgramBlend | None, before: LayerState) -> Blending | None:
    """The blend of a transition that leaves a layer as it was after the last tick."""
    if blend is None:
        return None
    old = list(before.blending.old) if before.blending is not None else []
    if before.blending is not None:
        old = [each._replace(had=weight)
               for each, weight in zip(old, weights(before.blending), strict=True)]
    if not before.fresh:
        had = FULL - sum([each.had for each in old])
        advance = 0 if blend.frozen else before.advance
        old.append(OnShow(before.state, before.variant, before.shown, advance, had))
    while len(old) > MOST_OLD:
        least = min(range(len(old)), key=lambda place: old[place].had)
        dropped = old.pop(least)
        old[-1] = old[-1]._replace(had=old[-1].had + dropped.had)
    return Blending(0, blend.units, blend.easing, tuple(old)) if old else None


def blended_on(blending: Blending, states: Sequence[ProgramState]) -> Blending | None:
    """A blend one tick further; None where it is over."""
    done = blending.done + TICK
    if done >= blending.units:
        return None
    old = tuple([_gone_on(each, clip_on_show(states, each)) for each in blending.old])
    return blending._replace(done=done, old=old)


def _gone_on(shown: OnShow, clip: ProgramClip | None) -> OnShow:
    if clip is None or not shown.advance:
        return shown
    time = shown.time + shown.advance
    return shown._replace(time=time % clip.cycle if clip.loops else min(time, clip.cycle))


def clip_on_show(states: Sequence[ProgramState], shown: OnShow) -> ProgramClip | None:
    """The clip that fades, None where nothing was played."""
    state = states[shown.state]
    return state.spread[shown.variant].clip if state.spread else state.clip


def fading_of(program: Program, layer: LayerState) -> tuple[Fading, ...]:
    """What fades in a layer, for its report."""
    if layer.blending is None:
        return ()
    found = []
    for each, weight in zip(layer.blending.old, weights(layer.blending), strict=True):
        clip = clip_on_show(program.states, each)
        if clip is not None:
            found.append(Fading(
                clip.id, frame_at(clip, each.time),
                own_time(clip, each.time) / (TICK * program.rate), weight / FULL,
            ))
    return tuple(found)


