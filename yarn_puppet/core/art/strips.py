"""How many frames a strip holds: pictures of one row, as files of one clip each mostly come.

The rule stands in `docs/bringing-in.md`.
"""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Sequence

import numpy as np

from ..model.clips import Cell, Grid
from .cutting import MOST_CELLS, OPAQUE, Alpha, Used, grid_size, guess_grid

MOST_FRAMES = 512
"""Of one strip."""
MOST_UPRIGHT = 3
"""How many times as high as wide a frame may be in which figures stand one under the other."""
LEAST_FRAME = 4
"""Pixels that a frame is wide at least."""
SMALLEST_FIGURE = 0.3
"""A cell holds a frame where what is drawn is at least this share as tall as the tallest: less is
a spark that flew off, and the border before it no border of frames."""

_SIZE = re.compile(r"(?<![0-9])([1-9][0-9]{0,3})x([1-9][0-9]{0,3})(?![0-9])", re.IGNORECASE)
_COUNT = re.compile(r"(?:strip|frames?)[ _.-]?([1-9][0-9]{0,2})(?![0-9])"
                    r"|(?<![0-9])([1-9][0-9]{0,2})[ _.-]?(?:strip|frames?|f)(?![a-z0-9])",
                    re.IGNORECASE)


def is_strip(alpha: Alpha) -> bool:
    """Whether a picture is one row of frames, or a single one, and not a sheet of several rows."""
    height, width = alpha.shape
    if height < 2 * LEAST_FRAME:
        return True
    grid = guess_grid(alpha)
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
    several = [row for row in whole if stretches(alpha[row[0]: row[-1] + 1].T) > 1]
    return len(several) > 1 and len(several) == len(whole)


def count_frames(alpha: Alpha, name: str = "", width: int | None = None) -> int:
    """How many frames a strip holds, at least one.

    Read in this order: what the file's `name` says (a size as 64x64, a number as strip8); `width`,
    the pixels of a cell of the strips that came with it; else the most cells that each hold a whole
    figure. What would cut a figure, or leave a cell empty before the last figure, is passed over.
    """
    drawn = alpha > OPAQUE
    whole = int(drawn.shape[1])
    offered = [*_said(name, whole), *([whole // width] if width and whole % width == 0 else [])]
    for count in offered:
        if fits(alpha, count):
            return count
    if gapped := _gapped(alpha):
        return gapped
    most = min(MOST_FRAMES, whole // LEAST_FRAME)
    fitting = (count for count in range(most, 0, -1) if whole % count == 0)
    return next((count for count in fitting if _holds_figures(drawn, count)), 1)


def common_width(cells: Sequence[tuple[int, int]]) -> int | None:
    """The width of a cell that most strips of several frames have, given each strip's width and
    how many frames it holds by itself; None where no two have the same."""
    widths = Counter(width // count for width, count in cells if count > 1)
    found = widths.most_common(1)
    return found[0][0] if found and found[0][1] > 1 else None


def fits(alpha: Alpha, count: int) -> bool:
    """Whether a strip falls into so many equal cells without a figure being cut, and none but the
    last ones are empty."""
    width = alpha.shape[1]
    if not 1 <= count <= width or width % count:
        return False
    drawn = alpha > OPAQUE
    size = width // count
    filled = _filled(drawn, count)
    return not _cuts(drawn, size) and bool(filled[:_last(filled)].all()) and bool(filled.any())


def strip_grid(width: int, height: int, count: int) -> Grid:
    """The grid of a strip of so many frames; pixels that are left over at its end belong to
    none."""
    return Grid(max(1, width // count), height)


def strip_cells(sheet: str, alpha: Alpha, count: int) -> tuple[Cell, ...]:
    """The cells of a strip from the left; those after the last figure are left out, one is left in
    any case."""
    height, width = alpha.shape
    size = max(1, width // count)
    filled = _filled(alpha[:, :size * count] > OPAQUE, count)
    return tuple(Cell(sheet, number * size, 0, size, height)
                 for number in range(max(1, _last(filled))))


def _last(filled: Used) -> int:
    """How many cells there are up to the last that holds anything."""
    return int(np.flatnonzero(filled)[-1]) + 1 if filled.any() else 0


def _filled(drawn: Used, count: int) -> Used:
    columns = np.logical_or.reduce(drawn, axis=0)
    filled: Used = np.logical_or.reduce(columns.reshape(count, -1), axis=1)
    return filled


def _cuts(drawn: Used, size: int) -> bool:
    """Whether borders at every `size` pixels cut through a figure."""
    both = drawn[:, size - 1: -1: size] & drawn[:, size::size]
    return bool(both.any())


def _said(name: str, whole: int) -> list[int]:
    """The counts that a name speaks of."""
    sizes = [whole // int(match[1]) for match in _SIZE.finditer(name)
             if whole % int(match[1]) == 0]
    return sizes + [int(match[1] or match[2]) for match in _COUNT.finditer(name)]


def _gapped(alpha: Alpha) -> int:
    """How many cells a row has that stand apart by a gap, and not side by side; zero for none."""
    height, width = alpha.shape
    grid = guess_grid(alpha)
    if not grid.gap and not grid.margin:
        return 0
    columns, rows = grid_size(width, height, grid)
    return columns if rows == 1 and 1 < columns <= MOST_CELLS else 0


def _holds_figures(drawn: Used, count: int) -> bool:
    """Whether so many cells each hold a figure of their own: none is cut, none but the last ones
    are empty, and none holds only a spark."""
    width = drawn.shape[1]
    if _cuts(drawn, width // count):
        return False
    tall = np.array([np.count_nonzero(np.logical_or.reduce(cell, axis=1))
                     for cell in np.split(drawn, count, axis=1)])
    last = _last(tall > 0)
    return last > 0 and bool((tall[:last] >= SMALLEST_FIGURE * tall.max()).all())
