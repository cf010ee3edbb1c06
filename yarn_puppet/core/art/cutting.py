"""Cutting a sheet into cells: a guess at its grid, and which cells hold anything."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..model.clips import MOST_CELL_PIXELS, Cell, Grid

OPAQUE = 24
"""Alpha above which a pixel counts as drawn, of 255: a soft edge's last shimmer does not."""
LEAST_CELL = 16
MOST_CELLS = 64
"""In each direction."""

Alpha = NDArray[np.uint8]
"""The see-through channel of a picture, shape (height, width), 0 to 255."""
Used = NDArray[np.bool_]
"""Whether anything is drawn in a column, or a row."""
Place = tuple[int, int]
"""A column and a row."""


def guess_grid(alpha: Alpha) -> Grid:
    """The smallest cells whose borders cut through nothing drawn; the whole picture where there are
    none.

    A border cuts where pixels on both of its sides are drawn. Where no such cells divide the
    picture evenly, or filled cells stand apart too far for it, a margin around it and a gap between
    cells are looked for: in one direction alone where the other holds a single row.
    """
    drawn = alpha > OPAQUE
    height, width = drawn.shape
    across, down = np.logical_or.reduce(drawn, axis=0), np.logical_or.reduce(drawn, axis=1)
    columns, rows = _line_up(across), _line_up(down)
    if columns and rows and columns[1:] == rows[1:] and columns.gap != 2 * columns.margin:
        return _grid(columns.size, rows.size, columns.margin, columns.gap)
    for lined, other, in_row in ((columns, down, True), (rows, across, False)):
        # Figures that fill the cells of a single row stand apart by its gap, though the picture may
        # divide evenly too.
        if (
            lined
            and _stretches(other) == 1
            and lined.gap != 2 * lined.margin
            and _is_clear(other, lined.margin)
        ):
            return _row_grid(lined, len(other), in_row)
    cut = _grid(
        _guess(width, np.count_nonzero(drawn[:, :-1] & drawn[:, 1:], axis=0), across),
        _guess(height, np.count_nonzero(drawn[:-1] & drawn[1:], axis=1), down),
    )
    if (cut.cell_width, cut.cell_height) == (width, height):
        return _one_row(across, down) or cut
    return cut


def _one_row(across: Used, down: Used) -> Grid | None:
    """The cells of a single row, or column, of figures with gaps between; None where there is no
    such row."""
    for used, other, in_row in ((across, down, True), (down, across, False)):
        apart = _apart(used, int(np.argmax(other)), int(np.argmax(other[::-1])))
        if apart is not None:
            return _row_grid(apart, len(other), in_row)
    return None


def _row_grid(cells: _LineUp, length: int, in_row: bool) -> Grid:
    """One row of cells, or one column, as long across it as the picture without its margin."""
    side = length - 2 * cells.margin
    return _grid(cells.size if in_row else side, side if in_row else cells.size, cells.margin,
                 cells.gap)


def _grid(width: int, height: int, margin: int = 0, gap: int = 0) -> Grid:
    """A grid of such cells, or of halves of them where they are too large for cells."""
    while width * height > MOST_CELL_PIXELS:
        width, height = (width // 2, height) if width > height else (width, height // 2)
    return Grid(width, height, margin, gap)


def _stretches(used: Used) -> int:
    return int(np.count_nonzero(np.diff(np.concatenate(([False], used)).astype(np.int8)) > 0))


def _is_clear(used: Used, margin: int) -> bool:
    return not used[:margin].any() and not used[len(used) - margin:].any()


USUAL_SIZE = 8
"""Sizes of cells are mostly multiples of this."""
MOST_GAP = 32
"""Pixels between cells, and of the margin, that are looked for."""


def _apart(used: Used, before: int, after: int) -> _LineUp | None:
    """Cells with the same gap between each two, one for each figure, or None where none fit.

    A margin is either none or the same on all sides, where nothing is drawn: `before` and `after`
    are as much as is clear in the other direction.
    """
    edges = np.flatnonzero(np.diff(np.concatenate(([False], used, [False])).astype(np.int8)))
    starts, ends = edges[::2], edges[1::2]
    count, length = len(starts), len(used)
    if not 2 <= count <= MOST_CELLS:
        return None
    found = []
    for margin in range(min(MOST_GAP, int(starts[0]), length - int(ends[-1]), before, after) + 1):
        for gap in range(1, MOST_GAP + 1):
            size, over = divmod(length - 2 * margin - (count - 1) * gap, count)
            if over or size < LEAST_CELL:
                continue
            places = margin + np.arange(count) * (size + gap)
            if (places <= starts).all() and (ends <= places + size).all():
                found.append((size % USUAL_SIZE > 0, margin + gap, _LineUp(size, margin, gap)))
    # A size that people choose, and then the least that is lost beside the cells, is likeliest what
    # was meant.
    return min(found)[2] if found else None


class _LineUp(NamedTuple):
    size: int
    margin: int
    gap: int


def _line_up(used: Used) -> _LineUp | None:
    """Stretches of equal length with gaps of equal length between them and equal margins at the
    ends, or None."""
    edges = np.flatnonzero(np.diff(np.concatenate(([False], used, [False])).astype(np.int8)))
    starts, ends = edges[::2], edges[1::2]
    if not 2 <= len(starts) <= MOST_CELLS:
        return None
    sizes, gaps = ends - starts, starts[1:] - ends[:-1]
    margin = int(starts[0])
    if (
        len(set(sizes.tolist())) > 1
        or len(set(gaps.tolist())) > 1
        or margin != len(used) - int(ends[-1])
    ):
        return None
    return _LineUp(int(sizes[0]), margin, int(gaps[0])) if sizes[0] >= LEAST_CELL else None


MOSTLY_CLEAR, LEAST_BORDERS = 0.8, 5
"""The share of borders that are clear, of so many at least, for the rest to be taken for figures
that reach over theirs."""


def _guess(length: int, cut: NDArray[np.int64], used: Used) -> int:
    """The length of a cell; `cut[i]` is how much a border between pixels i and i + 1 would cut
    through.

    Where every size cuts something, one of which most borders are clear and no cell is empty: a
    figure or two reach over theirs.
    """
    whole = [length // count for count in range(MOST_CELLS, 1, -1)
             if length % count == 0 and length // count >= LEAST_CELL]
    for size in whole:
        if not cut[size - 1: length - 1: size].any() and cut.any():
            return size
    for size in whole:
        borders = cut[size - 1: length - 1: size]
        if (
            len(borders) >= LEAST_BORDERS
            and np.count_nonzero(borders == 0) >= MOSTLY_CLEAR * len(borders)
            and used.reshape(-1, size).any(axis=1).all()
        ):
            return size
    return length


def counted_grid(width: int, height: int, columns: int, rows: int, grid: Grid) -> Grid:
    """The grid of so many columns and rows, as large as the picture allows with the margin and gap
    of `grid`."""
    across = (width - 2 * grid.margin + grid.gap) // columns - grid.gap
    down = (height - 2 * grid.margin + grid.gap) // rows - grid.gap
    return _grid(max(1, across), max(1, down), grid.margin, grid.gap)


def grid_size(width: int, height: int, grid: Grid) -> Place:
    """How many columns and rows of whole cells a picture of this size holds."""
    across = (width - 2 * grid.margin + grid.gap) // (grid.cell_width + grid.gap)
    down = (height - 2 * grid.margin + grid.gap) // (grid.cell_height + grid.gap)
    return max(0, across), max(0, down)


def cell_at(sheet: str, grid: Grid, column: int, row: int, page: int = 0) -> Cell:
    """The cell of a sheet at a column and row."""
    return Cell(
        sheet, grid.margin + column * (grid.cell_width + grid.gap),
        grid.margin + row * (grid.cell_height + grid.gap),
        grid.cell_width, grid.cell_height, page,
    )


def filled_cells(alpha: Alpha, grid: Grid) -> frozenset[Place]:
    """The (column, row) of every cell that holds a drawn pixel."""
    height, width = alpha.shape
    columns, rows = grid_size(width, height, grid)
    return frozenset(
        (column, row) for row in range(rows) for column in range(columns)
        if holds_anything(alpha, cell_at("x", grid, column, row))
    )


def holds_anything(alpha: Alpha, cell: Cell) -> bool:
    """Whether a pixel of a cell is drawn."""
    piece = alpha[cell.y: cell.y + cell.height, cell.x: cell.x + cell.width]
    # A few pixels tell of most cells that hold something; only those that seem empty are read
    # whole.
    return bool(piece.size) and (int(piece[::7, ::5].max()) > OPAQUE or int(piece.max()) > OPAQUE)


def filled_rows(sheet: str, alpha: Alpha, grid: Grid) -> tuple[tuple[Cell, ...], ...]:
    """The cells that hold anything, a tuple a row of the grid; rows that hold nothing are left
    out."""
    filled = filled_cells(alpha, grid)
    columns, rows = grid_size(alpha.shape[1], alpha.shape[0], grid)
    found = (
        tuple(cell_at(sheet, grid, column, row)
              for column in range(columns) if (column, row) in filled)
        for row in range(rows)
    )
    return tuple(row for row in found if row)
