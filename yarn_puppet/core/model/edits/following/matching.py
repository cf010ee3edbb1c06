"""Which cell of a picture that was redrawn is that of each frame: section 3 of
docs/frames.md."""

from __future__ import annotations

from collections import deque
from collections.abc import Collection, Iterable, Mapping
from typing import Literal, NamedTuple

from ...clips import Cell, Mark

Old = tuple[Cell, Mark | None]
"""What frames show: a cell and what was drawn in it. Frames of one cell and mark go together."""
Found = Literal["kept", "moved", "redrawn"]


class Match(NamedTuple):
    """A cell for what was in another one, and how it was found."""

    cell: Cell
    by: Found


class Drawing(NamedTuple):
    """A sheet as it is drawn now.

    `cells` are those of its cut, in reading order, and `more` such as frames may have moved to
    beside them. `marks` are of what is drawn in any of these and in the cells that frames have; one
    that has none is blank. `before` are those of what was drawn there last, empty where nobody
    knows: what was gone by then was not drawn over now. Frames of the cells in `fit` get cells of
    the cut, since it is that which has changed; `scale` is by how much the picture grew.
    """

    sheet: str
    cells: tuple[Cell, ...]
    more: tuple[Cell, ...]
    marks: Mapping[Cell, Mark]
    before: Mapping[Cell, Mark] = {}
    fit: Collection[Cell] = frozenset()
    scale: tuple[float, float] = (1.0, 1.0)


def matched(old: Iterable[Old], drawing: Drawing) -> dict[Old, Match]:
    """The cell of each of these now; of one that is gone there is none."""
    return _Matching(tuple(dict.fromkeys(old)), drawing).found


class _Matching:
    def __init__(self, olds: tuple[Old, ...], drawing: Drawing) -> None:
        self.olds, self.drawing, self.marks = olds, drawing, drawing.marks
        self.cut = frozenset(drawing.cells)
        # In this order frames that moved take what holds the same.
        free = [cell for cell, _ in olds if cell not in drawing.fit]
        self.cells = tuple(dict.fromkeys((*drawing.cells, *free, *drawing.more)))
        self.found: dict[Old, Match] = {}
        self.taken: set[Cell] = set()
        self._in_their_cells()
        self._elsewhere()
        self._drawn_over()
        self._twins()
        self._unmarked()

    def _may_have(self, old: Cell, cell: Cell) -> bool:
        """Whether what was in a cell may be given another."""
        return old not in self.drawing.fit or cell in self.cut

    def _take(self, each: Old, cell: Cell, by: Found) -> None:
        self.found[each] = Match(cell, by)
        self.taken.add(cell)

    def _left(self) -> list[tuple[Old, Cell, Mark]]:
        """What has a mark and was not found yet."""
        return [(old, old[0], old[1])
                for old in self.olds if old not in self.found and old[1] is not None]

    def _in_their_cells(self) -> None:
        """What is drawn where it was."""
        for each, cell, mark in self._left():
            here = self.marks.get(cell)
            if here is not None and here.digest == mark.digest and self._may_have(cell, cell):
                self._take(each, cell, "kept")

    def _elsewhere(self) -> None:
        """What is drawn in another cell: the next in reading order that holds the same, and nobody
        has.

        One of the same size comes first: others, as of another cut, hold the same only where they
        hold nothing else.
        """
        shows: dict[tuple[object, ...], deque[Cell]] = {}
        for cell in self.cells:
            if cell in self.marks and cell not in self.taken:
                digest = self.marks[cell].digest
                for only_cut in (False, True) if cell in self.cut else (False,):
                    for key in ((only_cut, digest, cell.width, cell.height), (only_cut, digest)):
                        shows.setdefault(key, deque()).append(cell)
        for alike in (True, False):
            for each, cell, mark in sorted(self._left(), key=_reading_order):
                only_cut = cell in self.drawing.fit
                size = (cell.width, cell.height) if alike else ()
                holding = shows.get((only_cut, mark.digest, *size), deque())
                while holding and holding[0] in self.taken:
                    holding.popleft()
                if holding:
                    self._take(each, holding.popleft(), "moved")

    def _drawn_over(self) -> None:
        """Where something else is drawn now that is no other frame's."""
        before = self.drawing.before
        for each, cell, mark in self._left():
            was_there = not before or (cell in before and before[cell].digest == mark.digest)
            if cell in self.drawing.fit:
                here = self._by_place(cell)
            else:
                here = cell if was_there and cell in self.marks and cell not in self.taken else None
            if here is not None:
                self._take(each, here, "redrawn")

    def _by_place(self, cell: Cell) -> Cell | None:
        """The free cell of the cut that covers most of an old cell's place, at least half of
        either."""
        across, down = self.drawing.scale
        x, y, width, height = (
            cell.x * across,
            cell.y * down,
            cell.width * across,
            cell.height * down,
        )
        best, most = None, 0.0
        for each in self.drawing.cells:
            if each.page != cell.page or each in self.taken:
                continue
            wide = min(x + width, each.x + each.width) - max(x, each.x)
            high = min(y + height, each.y + each.height) - max(y, each.y)
            shared = max(0, wide) * max(0, high) / min(width * height, each.width * each.height)
            if shared >= 0.5 and shared > most:
                best, most = each, shared
        return best

    def _twins(self) -> None:
        """Frames that looked alike, and of whose pictures some are no more, share one."""
        first: dict[str, Cell] = {}
        for cell in self.cells:
            if cell in self.marks:
                first.setdefault(self.marks[cell].digest, cell)
        for each, cell, mark in self._left():
            if mark.digest in first and self._may_have(cell, first[mark.digest]):
                self._take(each, first[mark.digest], "moved")

    def _unmarked(self) -> None:
        """What was blank, or never looked at, goes where a marked frame of the same cell goes, and
        otherwise stays."""
        marked = {old[0]: self.found[old].cell for old in reversed(self.olds)
                  if old in self.found and old[1] is not None}
        for old in self.olds:
            cell, mark = old
            if mark is None:
                there = marked.get(cell, cell)
                if not self._may_have(cell, there):
                    by_place = self._by_place(cell)
                    if by_place is None:
                        continue
                    there = by_place
                self.found[old] = Match(there, "kept" if there == cell else "moved")


def _reading_order(each: tuple[Old, Cell, Mark]) -> tuple[int, int, int]:
    return each[1].page, each[1].y, each[1].x
