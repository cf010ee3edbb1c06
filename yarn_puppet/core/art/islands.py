"""Cutting a sheet along what is drawn: islands of opaque pixels, near ones joined, ordered as text
is read."""

from __future__ import annotations

import numpy as np
import scipy
from numpy.typing import NDArray

from ..model.clips import Cell
from .cutting import OPAQUE, Alpha

MOST_ISLANDS = 20_000
"""A picture that falls into more pieces than this is noise, or a photograph, and no sheet."""


def islands(sheet: str, alpha: Alpha, join: int) -> tuple[tuple[Cell, ...], ...]:
    """The islands of a picture as cells, a tuple a row.

    Pixels that touch, by a corner too, are one piece; pieces whose bounds come within `join` pixels
    of each other in both directions are one island. Islands stand in one row while their middles
    lie within the height of the row's first one; rows go down, islands in a row to the right.
    Raises ValueError where there are too many pieces.
    """
    labels, count = scipy.ndimage.label(alpha > OPAQUE, structure=np.ones((3, 3), dtype=bool))
    if count > MOST_ISLANDS:
        raise ValueError(
            f"it falls into {count} pieces, more than {MOST_ISLANDS}; cut it by a grid"
        )
    found = [each for each in scipy.ndimage.find_objects(labels) if each is not None]
    bounds = np.array([(x.start, y.start, x.stop, y.stop) for y, x in found],
                      dtype=np.int64).reshape(-1, 4)
    return tuple(
        tuple(Cell(sheet, int(a), int(b), int(c - a), int(d - b)) for a, b, c, d in row)
        for row in _rows(_joined(bounds, join))
    )


def _joined(bounds: NDArray[np.int64], join: int) -> NDArray[np.int64]:
    """Bounds of shape (n, 4), left top right bottom, with those that come near joined until none
    does any more."""
    while True:
        order = np.argsort(bounds[:, 1], kind="stable")
        bounds = bounds[order]
        group = np.arange(len(bounds))
        for index in range(len(bounds)):
            left, top, right, bottom = bounds[index]
            # Sorted by their tops: what begins below this one's reach cannot be near it.
            last = int(np.searchsorted(bounds[:, 1], bottom + join, side="right"))
            later = bounds[index + 1: last]
            near = (later[:, 0] <= right + join) & (later[:, 2] >= left - join) & (
                later[:, 3] >= top - join)
            for other in np.flatnonzero(near) + index + 1:
                group[group == group[other]] = group[index]
        kinds = np.unique(group)
        if len(kinds) == len(bounds):
            return bounds
        bounds = np.array([
            (*bounds[group == kind, :2].min(axis=0), *bounds[group == kind, 2:].max(axis=0))
            for kind in kinds
        ])


def _rows(bounds: NDArray[np.int64]) -> list[list[NDArray[np.int64]]]:
    rows: list[list[NDArray[np.int64]]] = []
    floor = -1.0
    for bound in sorted(bounds, key=lambda island: (island[1], island[0])):
        if rows and (bound[1] + bound[3]) / 2 < floor:
            rows[-1].append(bound)
        else:
            rows.append([bound])
            floor = float(bound[3])
    return [sorted(row, key=lambda island: int(island[0])) for row in rows]
