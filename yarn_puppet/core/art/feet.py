"""What of a frame stands on the ground, and by how far it moved from one frame to the next."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from .cutting import OPAQUE, Alpha
from .measures import FEET_ROWS, bounds_of

Feet = NDArray[np.bool_]
"""Shape (2 * REACH + 1,): whether something stands so many pixels beside the pivot, from -REACH to REACH."""
REACH = 48
MOST_SHIFT = 14
"""Pixels that feet can move from one frame to the next and still be known as the same."""
LEAST_OVERLAP = 0.8
"""The share of a foot that has to lie on one of the next frame to be the same."""


def feet_in(alpha: Alpha, pivot_x: float, mirrored: bool = False) -> Feet | None:
    """The feet of a frame beside its pivot, as drawn facing right; None where nothing is drawn."""
    bounds = bounds_of(alpha)
    if bounds is None:
        return None
    rows = alpha[max(bounds.top, bounds.bottom - FEET_ROWS): bounds.bottom] > OPAQUE
    found = np.zeros(2 * REACH + 1, dtype=bool)
    places = np.flatnonzero(rows.any(axis=0)) + 0.5 - pivot_x
    if mirrored:
        places = -places
    places = np.rint(places).astype(int)
    found[places[np.abs(places) <= REACH] + REACH] = True
    return found


def shifts(before: Feet, after: Feet) -> tuple[int, ...]:
    """By how many pixels some foot of a frame may have moved beside the pivot to be one of the next; none where all of
    them are others."""
    found = set()
    for foot in _each(before):
        for by in range(-MOST_SHIFT, MOST_SHIFT + 1):
            at = foot + by
            at = at[(at >= 0) & (at < len(after))]
            if len(at) and after[at].sum() >= LEAST_OVERLAP * len(foot):
                found.add(by)
    return tuple(sorted(found))


def _each(feet: Feet) -> list[NDArray[np.int_]]:
    """Each foot: places in a row."""
    places = np.flatnonzero(feet)
    return [each for each in np.split(places, np.flatnonzero(np.diff(places) > 1) + 1) if len(each)]
