"""Cells that carry on the rows and columns of those that frames have: a frame may have moved to one
that none had."""

from __future__ import annotations

from collections.abc import Iterable
from math import gcd
from typing import NamedTuple

from ...clips import Cell

MOST_SIZES = 32
"""Sizes of cells in one sheet, beyond which they are islands, and stand in no rows."""
MOST_CELLS = 4096
"""Of one size; a lattice of more is left out."""


class Extent(NamedTuple):
    """The size of a picture's pages, in pixels, and how many it has."""

    width: int
    height: int
    pages: int = 1


def carried_on(own: Iterable[Cell], extent: Extent) -> tuple[Cell, ...]:
    """Cells of the sizes of these, all over the picture, in reading order.

    Columns are as far apart as those known are, by the greatest step that fits them all, or stand
    side by side where only one is known; so are rows. Cells that overlap each other stand in no
    lattice.
    """
    groups: dict[tuple[int, int, int], list[Cell]] = {}
    for cell in own:
        groups.setdefault((cell.page, cell.width, cell.height), []).append(cell)
    if len(groups) > MOST_SIZES:
        return ()
    return tuple(cell for group in groups.values() for cell in _lattice(group, extent))


def _lattice(cells: list[Cell], extent: Extent) -> list[Cell]:
    one = cells[0]
    columns = _places([cell.x for cell in cells], one.width, extent.width)
    rows = _places([cell.y for cell in cells], one.height, extent.height)
    if not columns or not rows or len(columns) * len(rows) > MOST_CELLS:
        return []
    return [Cell(one.sheet, x, y, one.width, one.height, one.page) for y in rows for x in columns]


def _places(known: list[int], size: int, length: int) -> range:
    """Where cells of a size begin along one side of a picture."""
    first = min(known)
    step = gcd(*(each - first for each in known)) or size
    return range(first % step, length - size + 1, step) if step >= size else range(0)
