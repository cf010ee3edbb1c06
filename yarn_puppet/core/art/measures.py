"""Measures of frames: their bounds, where the feet stand and how they drift, and how a loop closes.

Frames are given by the pixels of their cells, shape (height, width, 4).
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Literal, NamedTuple

import numpy as np

from ..model.clips import Point
from .cutting import OPAQUE, Alpha
from .marks import Pixels

FEET_ROWS = 4
"""How many of the lowest drawn rows are counted as feet."""
CHANGED = 24
"""By how much a channel must differ, of 255, for a pixel to count as changed."""


class Bounds(NamedTuple):
    """The edges of what is drawn, in pixels; right and bottom are just outside."""

    left: int
    top: int
    right: int
    bottom: int


def bounds_of(alpha: Alpha) -> Bounds | None:
    """The bounds of what is drawn, None where nothing is."""
    drawn = alpha > OPAQUE
    down, across = np.flatnonzero(drawn.any(axis=1)), np.flatnonzero(drawn.any(axis=0))
    if not down.size:
        return None
    return Bounds(int(across[0]), int(down[0]), int(across[-1]) + 1, int(down[-1]) + 1)


def feet_of(alpha: Alpha) -> Point | None:
    """Where the feet stand: the middle of the lowest drawn rows, and the edge below them. None
    where all is empty."""
    bounds = bounds_of(alpha)
    if bounds is None:
        return None
    feet = bounds_of(alpha[max(bounds.top, bounds.bottom - FEET_ROWS): bounds.bottom])
    assert feet is not None
    return Point(round((feet.left + feet.right) / 2, 1), float(bounds.bottom))


def drift(feet: Sequence[Point | None], pivots: Sequence[Point]) -> tuple[float, float]:
    """How far the feet stray from the pivot over a clip: the span across and the span down, in
    pixels."""
    offsets = [
        (foot.x - pivot.x, foot.y - pivot.y)
        for foot, pivot in zip(feet, pivots, strict=True) if foot is not None
    ]
    if not offsets:
        return 0.0, 0.0
    across, down = zip(*offsets, strict=True)
    return round(max(across) - min(across), 3), round(max(down) - min(down), 3)


Verdict = Literal["smooth", "a small jump", "a jump"]


class Seam(NamedTuple):
    """How a loop closes. `pixels` changed from the last frame to the first, `usual` from frame to
    frame before that.

    `feet` is how far the feet move over the seam, in pixels, beyond the most they move at any other
    step.
    """

    pixels: int
    usual: float
    feet: float
    verdict: Verdict


def loop_seam(frames: Iterable[Pixels], pivots: Sequence[Point]) -> Seam | None:
    """The step from the last frame to the first beside the clip's own steps; None for fewer than
    three frames.

    It is smooth up to one and a half times the usual step (the median of the others) and feet that
    stray by no more than a pixel beyond the clip's own; a jump from two and a half times, or more
    than three pixels, on. Frames are looked at one after the other: no more than three are held at
    once.
    """
    steps: list[int] = []
    walk: list[tuple[float, float] | None] = []
    first: Pixels | None = None
    last: Pixels | None = None
    for index, (frame, pivot) in enumerate(zip(frames, pivots, strict=True)):
        if last is not None:
            steps.append(changed_pixels(last, frame, pivots[index - 1], pivot))
        foot = feet_of(frame[:, :, 3])
        walk.append((foot.x - pivot.x, foot.y - pivot.y) if foot else None)
        first, last = frame if first is None else first, frame
    if len(walk) < 3 or first is None or last is None:
        return None
    closing = changed_pixels(last, first, pivots[-1], pivots[0])
    usual = float(np.median(steps))
    moves = [_away(one, other) for one, other in zip(walk, (*walk[1:], walk[0]), strict=True)]
    feet = round(max(0.0, moves[-1] - max(moves[:-1])), 2)
    share = closing / usual if usual else float(closing > 0) * 10
    verdict: Verdict = (
        "smooth"
        if share <= 1.5 and feet <= 1
        else "a jump"
        if share > 2.5 or feet > 3
        else "a small jump"
    )
    return Seam(closing, usual, feet, verdict)


def _away(one: tuple[float, float] | None, other: tuple[float, float] | None) -> float:
    if one is None or other is None:
        return 0.0
    return float(np.hypot(one[0] - other[0], one[1] - other[1]))


def changed_pixels(one: Pixels, other: Pixels, pivot: Point, other_pivot: Point) -> int:
    """How many pixels differ between two frames that stand on their pivots."""
    first, second = _stood(one, pivot), _stood(other, other_pivot)
    apart = (first[0] >= second[0] + other.shape[1] or second[0] >= first[0] + one.shape[1]
             or first[1] >= second[1] + other.shape[0] or second[1] >= first[1] + one.shape[0])
    if apart:
        # Nothing of the one lies on the other, however far away its pivot was put: no canvas could
        # hold both.
        return int((one[:, :, 3] > CHANGED).sum() + (other[:, :, 3] > CHANGED).sum())
    left, top = min(first[0], second[0]), min(first[1], second[1])
    right = max(first[0] + one.shape[1], second[0] + other.shape[1])
    bottom = max(first[1] + one.shape[0], second[1] + other.shape[0])
    canvases = []
    for (x, y), pixels in ((first, one), (second, other)):
        canvas = np.zeros((bottom - top, right - left, 4), dtype=np.int16)
        canvas[y - top: y - top + pixels.shape[0], x - left: x - left + pixels.shape[1]] = pixels
        canvas[canvas[:, :, 3] == 0] = 0
        canvases.append(canvas)
    return int((np.abs(canvases[0] - canvases[1]) > CHANGED).any(axis=2).sum())


def _stood(pixels: Pixels, pivot: Point) -> tuple[int, int]:
    x, y = pivot.pixel
    return -x, -y
