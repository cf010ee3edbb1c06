"""Where a clip that strikes hits: a guess from where its drawing reaches out farthest.

The rule stands in `docs/patterns.md`. What is guessed is marked as a guess until it is touched.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, NamedTuple

import numpy as np
from msgspec.structs import replace
from numpy.typing import NDArray

from ..art.cutting import OPAQUE
from ..art.marks import Pixels
from ..model.basics.base import tidy
from ..model.basics.ids import all_ids, new_id
from ..model.clips import Box, Clip
from ..model.edits.entries import changed
from ..model.events import Window
from ..model.puppet import Puppet

NEAR = 0.8
"""A frame strikes that reaches at least this share of how far the farthest goes beyond the
nearest."""
LEAST_REACH = 2.0
"""Pixels by which the farthest frame must go beyond the nearest: less is a body that breathes."""


class GuessedStrike(NamedTuple):
    """The frames that strike, as first and last index, and the hit box of each of them."""

    first: int
    last: int
    boxes: tuple[Box, ...]


def guessed_strike(clip: Clip, drawn: Sequence[Pixels]) -> GuessedStrike | None:
    """The strike in a clip, given what is drawn in each frame, flipped where that is; None where
    no frame reaches out."""
    ahead = 1.0 if clip.faces == "right" else -1.0
    reaches: list[float] = []
    for index, pixels in enumerate(drawn):
        across = np.flatnonzero((pixels[:, :, 3] > OPAQUE).any(axis=0))
        pivot = clip.pivot_of(index).x
        edge = 0.0 if not across.size else (
            float(across[-1]) + 1 - pivot if ahead > 0 else pivot - float(across[0]))
        reaches.append(edge)
    if len(reaches) < 2 or max(reaches) - min(reaches) < LEAST_REACH:
        return None
    least = min(reaches) + NEAR * (max(reaches) - min(reaches))
    farthest = reaches.index(max(reaches))
    first = last = farthest
    while first > 0 and reaches[first - 1] >= least:
        first -= 1
    while last + 1 < len(reaches) and reaches[last + 1] >= least:
        last += 1
    # From there on outwards it hits: the nearest frame is taken for the body.
    inner = max(0.0, min(reaches))
    boxes = [_box(clip, index, drawn[index], ahead, inner) for index in range(first, last + 1)]
    found = [box for box in boxes if box is not None]
    return GuessedStrike(first, last, tuple(found)) if len(found) == len(boxes) else None


def _box(clip: Clip, index: int, pixels: Pixels, ahead: float, inner: float) -> Box | None:
    """The hit box of a frame: around what is drawn further ahead than `inner`, or, where that is
    less than a pixel, around its outer half."""
    shown = pixels[:, :, 3] > OPAQUE
    pivot = clip.pivot_of(index).x
    columns: NDArray[np.floating[Any]] = (np.arange(shown.shape[1]) + 0.5 - pivot) * ahead
    beyond = shown & (columns > inner)[None, :]
    if not beyond.any():
        drawn = columns[shown.any(axis=0)]
        if not drawn.size:
            return None
        beyond = shown & (columns >= (drawn.max() + drawn.min()) / 2)[None, :]
    down, across = np.flatnonzero(beyond.any(axis=1)), np.flatnonzero(beyond.any(axis=0))
    return Box("hit", float(across[0]), float(down[0]), float(across[-1] - across[0] + 1),
               float(down[-1] - down[0] + 1))


def strike_guessed(puppet: Puppet, id: str, drawn: Sequence[Pixels]) -> Puppet:
    """With a hit window and hit boxes, both guesses, in a clip that has no hit window yet."""
    clip = puppet.clip(id)
    if clip is None or any(window.kind == "hit" for window in clip.windows):
        return puppet
    strike = guessed_strike(clip, drawn)
    if strike is None:
        return puppet
    window = Window(new_id("hit", all_ids(puppet), "event"), tidy(clip.start_of(strike.first)),
                    tidy(clip.start_of(strike.last + 1)), "hit", "hit", guess=True)
    # What may break the clip off does so once it has hit.
    others = tuple(
        replace(each, start=min(window.end, tidy(each.end * 0.9)))
        if each.kind == "cancel" and each.guess else each for each in clip.windows)
    frames = list(clip.frames)
    for index, box in zip(range(strike.first, strike.last + 1), strike.boxes, strict=True):
        if not any(each.kind == "hit" for each in frames[index].boxes):
            frames[index] = replace(frames[index], boxes=(*frames[index].boxes, box))
    return changed(puppet, "clips", id, frames=tuple(frames), windows=(*others, window))

