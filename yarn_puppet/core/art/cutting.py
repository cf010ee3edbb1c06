"""Cutting a sheet into cells: a guess at its grid, and which cells hold anything."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from itertools import product

import numpy as np
from msgspec.structs import replace
from numpy.typing import NDArray

from ..model.clips import MOST_CELL_PIXELS, Cell, Grid
from .periods import LOST, MOST_MARGIN, Colours, Drawn, Period, periods

OPAQUE = 24
"""Alpha above which a pixel counts as drawn, of 255: a soft edge's last shimmer does not."""

Alpha = NDArray[np.uint8]
"""The see-through channel of a picture, shape (height, width), 0 to 255."""
Picture = NDArray[np.uint8]
"""A picture's see-through channel, or its pixels, shape (height, width, 4), whose last channel that
is."""
Place = tuple[int, int]
"""A column and a row."""


def guess_grid(picture: Picture, found: Mapping[int, list[Period]] | None = None) -> Grid:
    """The cells a picture falls into, by what is drawn in it; the whole picture where it is a
    single figure. `found` are its ways across, where those are known."""
    drawn, colours = read(picture)
    across = next(iter((periods(drawn, colours) if found is None else found).values()), [])
    down = next(iter(periods(drawn.T, None if colours is None else colours.T).values()), [])
    return grid_of(across, down, drawn)


def grid_of(across: Sequence[Period], down: Sequence[Period], drawn: Drawn) -> Grid:
    """The likeliest grid of cells that lie in one of these ways across, and in one of these down.
    In a direction of which nothing is known it is one cell, less a margin in which nothing is
    drawn."""
    across, down = (
        across or _alone(np.asarray(drawn.any(axis=0))),
        down or _alone(np.asarray(drawn.any(axis=1))),
    )
    return _grid(
        *max(
            product(_near(across), _near(down)),
            key=lambda pair: (
                sum(each.score for each in pair)
                + (
                    AGREES * (pair[0].margin == pair[1].margin)
                    + AGREES * _gaps_agree(*pair)
                    + SQUARE * (pair[0].size == pair[1].size)
                )
            ),
        )
    )


AGREES, SQUARE = 0.05, 0.05
"""What it is worth, in likeness, that margins or gaps are the same across and down, and that cells
are square."""
NEAR, MOST_NEAR = 0.12, 64
"""How much less likely a way may be by itself to be the likeliest with one in the other direction;
and how many."""


def _near(ways: Sequence[Period]) -> Sequence[Period]:
    return [way for way in ways if way.score >= ways[0].score - NEAR][:MOST_NEAR]


def _gaps_agree(across: Period, down: Period) -> bool:
    return 1 in (across.cells, down.cells) or across.gap == down.gap


def _alone(used: NDArray[np.bool_]) -> list[Period]:
    """A single cell with each margin in which nothing is drawn."""
    most = (
        min(MOST_MARGIN, *(int(np.argmax(end)) for end in (used, used[::-1]))) if used.any() else 0
    )
    return [
        Period(1, len(used) - 2 * margin, margin, score=-margin * LOST)
        for margin in range(most + 1)
    ]


def _grid(across: Period, down: Period) -> Grid:
    """A grid of such cells, or of halves of them where they are too large for cells."""
    width, height = across.size, down.size
    while width * height > MOST_CELL_PIXELS:
        width, height = (width // 2, height) if width > height else (width, height // 2)
    gap = across.gap if across.cells > 1 else down.gap
    return Grid(
        width,
        height,
        across.margin,
        gap,
        None if down.margin == across.margin else down.margin,
        None if down.cells == 1 or down.gap == gap else down.gap,
    )


def read(picture: Picture) -> tuple[Drawn, Colours | None]:
    """What is drawn, and in which colours where the picture has any."""
    if picture.ndim == 2:
        return picture > OPAQUE, None
    return picture[:, :, 3] > OPAQUE, np.ascontiguousarray(picture).view(np.uint32)[:, :, 0]


def counted_grid(width: int, height: int, columns: int, rows: int, grid: Grid) -> Grid:
    """The grid of so many columns and rows, as large as the picture allows with the margins and
    gaps of `grid`: with the same margin at the other end where no further cell fits into that."""
    gaps = grid.step[0] - grid.cell_width, grid.step[1] - grid.cell_height
    return _grid(_counted(width, columns, grid.start[0], gaps[0]),
                 _counted(height, rows, grid.start[1], gaps[1]))


def _counted(length: int, count: int, margin: int, gap: int) -> Period:
    for room in (length - 2 * margin, length - margin):
        step = (room + gap) // count
        if step > gap and _whole_cells(length - margin, step - gap, step) == count:
            return Period(count, step - gap, margin, gap)
    return Period(count, max(1, (length - margin + gap) // count - gap), margin, gap)


def _whole_cells(room: int, size: int, step: int) -> int:
    return max(0, (room - size) // step + 1)


def with_start(grid: Grid, axis: int, start: int) -> Grid:
    """With the first cell beginning elsewhere across (0) or down (1), and where it did in the other
    direction."""
    left, top = (start, grid.start[1]) if axis == 0 else (grid.start[0], start)
    return replace(grid, margin=left, top=None if top == left else top)


def with_gap(grid: Grid, axis: int, gap: int) -> Grid:
    """With another gap across (0) or down (1), and the same one in the other direction."""
    across, down = (gap, grid.step[1] - grid.cell_height) if axis == 0 else (grid.gap, gap)
    return replace(grid, gap=across, gap_down=None if down == across else down)


def grid_size(width: int, height: int, grid: Grid) -> Place:
    """How many columns and rows of whole cells a picture of this size holds."""
    (left, top), (across, down) = grid.start, grid.step
    return (_whole_cells(width - left, grid.cell_width, across),
            _whole_cells(height - top, grid.cell_height, down))


def cell_at(sheet: str, grid: Grid, column: int, row: int, page: int = 0) -> Cell:
    """The cell of a sheet at a column and row."""
    (left, top), (across, down) = grid.start, grid.step
    return Cell(
        sheet, left + column * across, top + row * down, grid.cell_width, grid.cell_height, page
    )


def filled_cells(alpha: Alpha, grid: Grid) -> frozenset[Place]:
    """The (column, row) of every cell that holds a drawn pixel."""
    height, width = alpha.shape
    columns, rows = grid_size(width, height, grid)
    return frozenset(
        (column, row)
        for row in range(rows)
        for column in range(columns)
        if holds_anything(alpha, cell_at("x", grid, column, row))
    )


def holds_anything(alpha: Alpha, cell: Cell) -> bool:
    """Whether a pixel of a cell is drawn."""
    piece = alpha[cell.y : cell.y + cell.height, cell.x : cell.x + cell.width]
    # A few pixels tell of most cells that hold something; only those that seem empty are read
    # whole.
    return bool(piece.size) and (int(piece[::7, ::5].max()) > OPAQUE or int(piece.max()) > OPAQUE)


def filled_rows(sheet: str, alpha: Alpha, grid: Grid) -> tuple[tuple[Cell, ...], ...]:
    """The cells that hold anything, a tuple a row of the grid; rows that hold nothing are left
    out."""
    filled = filled_cells(alpha, grid)
    columns, rows = grid_size(alpha.shape[1], alpha.shape[0], grid)
    found = (
        tuple(
            cell_at(sheet, grid, column, row)
            for column in range(columns)
            if (column, row) in filled
        )
        for row in range(rows)
    )
    return tuple(row for row in found if row)
