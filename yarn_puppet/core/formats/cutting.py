"""Cutting a sheet into cells: a guess at its grid, and which cells hold anything."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..model.clips import Cell, Grid

OPAQUE = 24
"""Alpha above which a pixel counts as drawn, of 255: a soft edge's last shimmer does not."""
LEAST_CELL = 16
MOST_CELLS = 64
"""In each direction."""

Alpha = NDArray[np.uint8]
"""The see-through channel of a picture, shape (height, width), 0 to 255."""


def guess_grid(alpha: Alpha) -> Grid:
    """The smallest cells whose borders cut through nothing drawn; the whole picture where there are none.

    A border cuts where pixels on both of its sides are drawn.
    """
    drawn = alpha > OPAQUE
    return Grid(_guess(drawn), _guess(drawn.T))


def _guess(drawn: NDArray[np.bool_]) -> int:
    """The cell width for a mask of shape (rows, columns)."""
    width = int(drawn.shape[1])
    cut = np.zeros(width + 1, dtype=np.int64)
    cut[1:width] = np.count_nonzero(drawn[:, :-1] & drawn[:, 1:], axis=0)
    whole = (width // count for count in range(MOST_CELLS, 1, -1) if width % count == 0)
    for size in (each for each in whole if each >= LEAST_CELL):
        if not cut[size:width:size].any() and drawn.any():
            return size
    return width


def grid_size(width: int, height: int, grid: Grid) -> tuple[int, int]:
    """How many columns and rows of whole cells a picture of this size holds."""
    across = (width - 2 * grid.margin + grid.gap) // (grid.cell_width + grid.gap)
    down = (height - 2 * grid.margin + grid.gap) // (grid.cell_height + grid.gap)
    return max(0, across), max(0, down)


def cell_at(sheet: str, grid: Grid, column: int, row: int) -> Cell:
    """The cell of a sheet at a column and row."""
    return Cell(
        sheet, grid.margin + column * (grid.cell_width + grid.gap), grid.margin + row * (grid.cell_height + grid.gap),
        grid.cell_width, grid.cell_height,
    )


def filled_cells(alpha: Alpha, grid: Grid) -> frozenset[tuple[int, int]]:
    """The (column, row) of every cell that holds a drawn pixel."""
    height, width = alpha.shape
    columns, rows = grid_size(width, height, grid)
    found = set()
    for row in range(rows):
        for column in range(columns):
            cell = cell_at("x", grid, column, row)
            if (alpha[cell.y: cell.y + cell.height, cell.x: cell.x + cell.width] > OPAQUE).any():
                found.add((column, row))
    return frozenset(found)


def common_bounds(alpha: Alpha, cells: list[Cell]) -> tuple[int, int, int, int] | None:
    """The left, top, right and lower edge of all that is drawn in any of some cells, in pixels of a cell."""
    lefts, tops, rights, bottoms = [], [], [], []
    for cell in cells:
        piece = alpha[cell.y: cell.y + cell.height, cell.x: cell.x + cell.width] > OPAQUE
        down, across = np.flatnonzero(piece.any(axis=1)), np.flatnonzero(piece.any(axis=0))
        if down.size:
            tops.append(int(down[0]))
            bottoms.append(int(down[-1]) + 1)
            lefts.append(int(across[0]))
            rights.append(int(across[-1]) + 1)
    return (min(lefts), min(tops), max(rights), max(bottoms)) if tops else None
