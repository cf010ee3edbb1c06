"""What of a frame stands on the ground, and by how far it moved from one frame to the next."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from .cutting import OPAQUE, Alpha
from .measures import FEET_ROWS, bounds_of

Feet = NDArray[np.bool_]
"""Shape (2 * REACH + 1,): whether something stands so many pixels beside the pivot, from -REACH to
REACH."""
REACH = 48
MOST_SHIFT = 14
"""Pixels that feet can move from one frame to the next and still be known as the same."""
LEAST_ALIKE = 0.6
"""The share of the wider of two feet that the other has to be wide to be the same."""


def feet_in(alpha: Alpha, pivot_x: float, mirrored: bool = False) -> Feet | None:
    """The feet of a frame beside its pivot, as drawn facing right; None where nothing is drawn."""
    bounds = bounds_of(alpha)
    if bounds is None:
        return None
    rows = alpha[max(bounds.top, bounds.bottom - FEET_ROWS): bounds.bottom] > OPAQUE
    found = np.zeros(2 * REACH + 1, dtype=bool)
    columns = np.flatnonzero(rows.any(axis=0))
    # A pixel is known by its left edge, in a mirror by its right one.
    places = np.floor(pivot_x - 1 - columns if mirrored else columns - pivot_x).astype(int)
    found[places[np.abs(places) <= REACH] + REACH] = True
    return found


def shifts(before: Feet, after: Feet) -> tuple[float, ...]:
    """By how many pixels each foot of a frame moved beside the pivot to the nearest of the next,
    where that is as wide; none where all of them are others."""
    found = set()
    others = _each(after)
    for foot in _each(before):
        middle = (foot[0] + foot[-1]) / 2
        other = min(others, key=lambda each: abs((each[0] + each[-1]) / 2 - middle))
        by = (other[0] + other[-1]) / 2 - middle
        alike = min(len(foot), len(other)) >= LEAST_ALIKE * max(len(foot), len(other))
        if alike and abs(by) <= MOST_SHIFT:
            found.add(float(by))
    return tuple(sorted(found))


def _each(feet: Feet) -> list[NDArray[np.int_]]:
    """Each foot: places in a row."""
    places = np.flatnonzero(feet)
    return [each for each in np.split(places, np.flatnonzero(np.diff(places) > 1) + 1) if len(each)]
