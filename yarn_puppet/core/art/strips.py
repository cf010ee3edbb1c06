"""Strips: pictures of one row of frames, as files of one clip each mostly come, and the cells they
fall into.

The rule stands in `docs/bringing-in.md`.
"""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence

import numpy as np
from msgspec.structs import replace

from ..model.clips import Cell, Grid
from .cutting import (
    OPAQUE,
    Alpha,
    Picture,
    cell_at,
    counted_grid,
    grid_of,
    grid_size,
    guess_grid,
    holds_anything,
    read,
)
from .periods import ABOUT_EQUAL, SMALLEST_FIGURE, Period, at_step, periods

MOST_FRAMES = 512
"""Of one strip."""
MOST_UPRIGHT = 3
"""How many times as high as wide a frame may be in which figures stand one under the other."""
LEAST_LIKE = 0.25
"""A strip is cut like those that came with it where that is at least this share as likely as the
likeliest cut of its own."""
LEAST_FRAME = 4
"""Pixels that a frame is wide at least."""

_SIZE = re.compile(r"(?<![0-9])([1-9][0-9]{0,3})x([1-9][0-9]{0,3})(?![0-9])", re.IGNORECASE)
_COUNT = re.compile(
    r"(?:strip|frames?)[ _.-]?([1-9][0-9]{0,2})(?![0-9])"
    r"|(?<![0-9])([1-9][0-9]{0,2})[ _.-]?(?:strip|frames?|f)(?![a-z0-9])",
    re.IGNORECASE,
)


def is_strip(picture: Picture, grid: Grid | None = None) -> bool:
    """Whether a picture is one row of frames, or a single one, and not a sheet of several rows;
    `grid` is the guess at it where that was made."""
    alpha = picture if picture.ndim == 2 else picture[:, :, 3]
    height, width = alpha.shape
    if height < 2 * LEAST_FRAME:
        return True
    grid = grid or guess_grid(picture)
    columns, rows = grid_size(width, height, grid)
    if (rows <= 1 or columns <= 1) and _stands_in_rows(alpha):
        # Figures of several sizes, which no grid fits: they are for a hand to cut.
        return False
    if rows <= 1 and height > MOST_UPRIGHT * grid.cell_width and stretches(alpha) > 1:
        # Rows that touch: it is for a hand to cut.
        return False
    # A column of frames is a strip that stands; a small still may look like one.
    return rows <= 1 or (columns <= 1 and height < 2 * width)


def stretches(alpha: Alpha) -> int:
    """How many rows of figures stand one under the other, with clear lines between."""
    used = (alpha > OPAQUE).any(axis=1)
    return int(np.count_nonzero(np.diff(np.concatenate(([False], used)).astype(np.int8)) > 0))


def _stands_in_rows(alpha: Alpha) -> bool:
    """Whether several rows of figures, each of several side by side, stand apart by clear lines."""
    used = np.flatnonzero((alpha > OPAQUE).any(axis=1))
    if not used.size:
        return False
    rows = np.split(used, np.flatnonzero(np.diff(used) > 1) + 1)
    tallest = max(len(row) for row in rows)
    # A spark over a figure is no row, however many there are.
    whole = [row for row in rows if len(row) >= SMALLEST_FIGURE * tallest]
    several = [row for row in whole if stretches(alpha[row[0] : row[-1] + 1].T) > 1]
    return len(several) > 1 and len(several) == len(whole)


def strip_grids(
    picture: Picture,
    name: str = "",
    like: Period | None = None,
    found: Mapping[int, list[Period]] | None = None,
) -> list[Grid]:
    """The ways in which a strip falls into frames, the likeliest first; more than one where they
    fit about equally.

    What the file's `name` says goes first (a size as 64x64, a number as strip8), then the cells
    of all strips that came with it, `like`; both only where they cut no figure. `found` are its
    ways across, where they are known.
    """
    drawn, colours = read(picture)
    said = _said(name, drawn.shape[1])
    if found is None:
        found = periods(drawn, colours)
    if said[:1] == [1] or not found:
        return [grid_of([], [], drawn)]
    alike = ways_like(at_step(drawn, colours, like.step), like) if like else []
    likeliest = max(ways[0].score for ways in found.values())
    if alike and alike[0].score < LEAST_LIKE * likeliest:
        alike = []
    usual = alike[0].cells if alike else next(iter(found))
    width = drawn.shape[1]
    named = next((ways for count in said if (ways := ways_of_count(found, count, width))), None)
    first = named or alike or found[usual]
    grids = [grid_of(first, [], drawn)]
    # What a name or a neighbour says is not asked again.
    if not said and not alike:
        grids += [
            grid_of(ways, [], drawn)
            for count, ways in found.items()
            if count != usual and ways[0].score >= first[0].score - ABOUT_EQUAL
        ]
    return grids[:2]


def strip_ways(picture: Picture) -> list[Grid]:
    """For each number of frames that a strip may hold the likeliest cut."""
    drawn, colours = read(picture)
    return [grid_of(ways, [], drawn) for ways in periods(drawn, colours).values()]


def frames_in(alpha: Alpha, grid: Grid) -> int:
    """How many frames a strip holds in a grid: up to the last that holds anything, one at least."""
    return len(strip_cells("strip", alpha, grid))


def ways_like(ways: Sequence[Period], like: Period) -> list[Period]:
    """Those of the ways with one step that begin where `like` does and are as long; all where none
    can be."""
    return [way for way in ways if (way.size, way.margin) == (like.size, like.margin)] or [*ways]


def ways_of_count(found: Mapping[int, list[Period]], count: int, length: int) -> list[Period]:
    """The ways of so many cells, of which the last ones may be empty."""
    return found.get(count) or [
        way
        for cells, ways in found.items()
        for way in ways
        if cells < count and 2 * way.margin + count * way.step - way.gap == length
    ]


def strip_counted(width: int, height: int, count: int, like: Grid) -> Grid:
    """A strip cut into so many frames, with the margin and gap of another cut; pixels that are left
    over at its end belong to none."""
    return counted_grid(width, height, count, 1, like)


def strip_like(height: int, like: Grid, its_height: int) -> Grid:
    """The cut of a strip that came with another, `its_height` pixels high: as much is left above
    and below."""
    return replace(like, cell_height=max(1, like.cell_height + height - its_height))


def strip_cells(sheet: str, alpha: Alpha, grid: Grid) -> tuple[Cell, ...]:
    """The cells of a strip from the left; those after the last figure are left out, one is left in
    any case."""
    height, width = alpha.shape
    cells = [
        cell_at(sheet, grid, column, 0)
        for column in range(max(1, grid_size(width, height, grid)[0]))
    ]
    last = max((at for at, cell in enumerate(cells) if holds_anything(alpha, cell)), default=0)
    return tuple(cells[: last + 1])


def _said(name: str, whole: int) -> list[int]:
    """The counts that a name speaks of."""
    sizes = [whole // int(match[1]) for match in _SIZE.finditer(name) if int(match[1]) <= whole]
    return sizes + [int(match[1] or match[2]) for match in _COUNT.finditer(name)]
