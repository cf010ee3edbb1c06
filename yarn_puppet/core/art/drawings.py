"""What is drawn in a sheet now, as following needs it: its cells, others that frames may be in, and
their marks."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from typing import NamedTuple

from ..model.clips import Cell, Grid, Mark, Sheet
from ..model.edits.following.lattice import Extent, carried_on
from ..model.edits.following.matching import Drawing, Old
from .cutting import Alpha, counted_grid, filled_rows, grid_size, guess_grid
from .marks import Pixels, marks_of

Size = tuple[int, int]
MOST_LOOKED = 1 << 31
"""Pixels of all cells that are looked at: those of frames may lie over each other as often as a
file says."""


class SheetPicture(NamedTuple):
    """A sheet's picture: the size of each page, the see-through channel of the first, the pixels of
    any cell."""

    sizes: tuple[Size, ...]
    alpha: Callable[[], Alpha]
    look: Callable[[Cell], Pixels]


def cells_of(sheet: Sheet, picture: SheetPicture, grid: Grid | None = None) -> tuple[Cell, ...]:
    """The cells of a picture as the sheet is cut: its pages, its islands, or its grid, or the one
    given instead."""
    if len(picture.sizes) > 1:
        return tuple(Cell(sheet.id, 0, 0, width, height, at)
                     for at, (width, height) in enumerate(picture.sizes))
    rows: tuple[tuple[Cell, ...], ...] = ()
    if sheet.islands is not None:
        from .islands import islands

        try:
            rows = islands(sheet.id, picture.alpha(), sheet.islands.join)
        except ValueError:
            rows = ()
    elif grid or sheet.grid:
        rows = filled_rows(sheet.id, picture.alpha(), grid or sheet.grid or Grid(1, 1))
    return tuple(cell for row in rows for cell in row)


def drawing_of(
    sheet: Sheet,
    picture: SheetPicture,
    shown: Sequence[Old],
    before: Size | None = None,
    fit: bool = False,
) -> tuple[Drawing, Grid | None]:
    """What is drawn now. Also a grid, where the picture grew and another cut finds more of what
    frames show.

    `before` is the size the picture had, as far as anyone knows. With `fit` the sheet's cut is
    meant as it is.
    """
    own = [cell for cell, _ in shown]
    cells = cells_of(sheet, picture)
    width, height = picture.sizes[0]
    known = set(cells)
    more = () if fit else carried_on([cell for cell in own if cell not in known],
                                     Extent(width, height, len(picture.sizes)))
    looked = dict.fromkeys((*cells, *own, *more))
    _keep_bearable(looked, picture.sizes)
    marks = marks_of(picture.look, looked)
    drawing = Drawing(sheet.id, cells, more, marks, fit=frozenset(own) if fit else frozenset())
    wanted = {mark.digest for _, mark in shown if mark is not None}
    best, grid = _found(wanted, marks.values()), None
    grown = (
        before != (width, height) and sheet.grid is not None and sheet.islands is None and not fit
    )
    if best < len(wanted) and grown and len(picture.sizes) == 1 and sheet.grid is not None:
        for other in _other_cuts(sheet.grid, picture, before):
            others = cells_of(sheet, picture, other)
            here = marks_of(picture.look, others)
            if _found(wanted, here.values()) > best:
                best, grid = _found(wanted, here.values()), other
                scale = (width / before[0], height / before[1]) if before else (1.0, 1.0)
                drawing = Drawing(sheet.id, others, more, {**marks, **here},
                                  fit=frozenset(cell for cell in own if on_grid(cell, sheet.grid)),
                                  scale=scale)
    return drawing, grid


def _keep_bearable(cells: Iterable[Cell], sizes: Sequence[Size]) -> None:
    """Raise ValueError where there is more to look at than anybody would wait for."""
    looked = 0
    for cell in cells:
        width, height = sizes[cell.page] if cell.page < len(sizes) else (0, 0)
        looked += max(0, min(cell.width, width - cell.x)) * max(
            0, min(cell.height, height - cell.y))
    if looked > MOST_LOOKED:
        raise ValueError(
            f"its cells make {looked >> 20} million pixels, more than {MOST_LOOKED >> 20} million"
        )


def _other_cuts(grid: Grid, picture: SheetPicture, before: Size | None) -> Iterable[Grid]:
    """As many columns and rows as there were, and what the grid is guessed to be."""
    width, height = picture.sizes[0]
    cuts = []
    if before is not None:
        columns, rows = grid_size(*before, grid)
        if columns and rows:
            cuts.append(counted_grid(width, height, columns, rows, grid))
    cuts.append(guess_grid(picture.alpha()))
    return [cut for cut in dict.fromkeys(cuts) if cut != grid]


def on_grid(cell: Cell, grid: Grid) -> bool:
    """Whether a cell is one of a grid's."""
    return ((cell.width, cell.height) == (grid.cell_width, grid.cell_height)
            and not (cell.x - grid.start[0]) % grid.step[0]
            and not (cell.y - grid.start[1]) % grid.step[1])


def _found(wanted: set[str], marks: Iterable[Mark]) -> int:
    return len(wanted & {mark.digest for mark in marks})
