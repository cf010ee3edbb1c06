"""Which cell of a picture that was drawn anew is that of each frame: section 3 of docs/frames.md."""

from __future__ import annotations

from collections import deque
from collections.abc import Iterable, Mapping, Sequence
from typing import Literal, NamedTuple

from ...clips import Cell, Mark

Old = tuple[Cell, Mark | None]
"""What frames show: a cell and what was drawn in it. Frames of one cell and mark go together."""
Found = Literal["kept", "moved", "redrawn"]


class Match(NamedTuple):
    """A cell for what was in another one, and how it was found."""

    cell: Cell
    by: Found


def matched(
    old: Iterable[Old], candidates: Iterable[Cell], marks: Mapping[Cell, Mark], before: Mapping[Cell, Mark],
    fit: bool = False,
) -> dict[Old, Match]:
    """The cell of each of these now; of one that is gone there is none.

    `marks` are of what is drawn now, for all candidates and all old cells; one that has none is blank. `before` are
    those of what was drawn last, empty where nobody knows: what was gone by then was not drawn over now. With `fit`
    the candidates alone are taken, and what is not found by its mark by its place.
    """
    olds, cells = list(dict.fromkeys(old)), list(dict.fromkeys(candidates))
    found = _by_mark(olds, cells, marks, fit)
    taken = {match.cell for match in found.values()}
    for each in olds:
        was_there = not before or (each[0] in before and each[1] is not None
                                   and before[each[0]].digest == each[1].digest)
        if each not in found and each[1] is not None and (fit or was_there):
            here = _by_place(each[0], cells, taken) if fit else _drawn_over(each[0], marks, taken)
            if here is not None:
                found[each] = Match(here, "redrawn")
                taken.add(here)
    _twins(olds, cells, marks, found)
    _unmarked(olds, cells, marks, found, taken, fit)
    return found


def _by_mark(
    olds: Sequence[Old], cells: Sequence[Cell], marks: Mapping[Cell, Mark], fit: bool
) -> dict[Old, Match]:
    """What is still drawn somewhere: in its own cell, or in the next in reading order that holds the same.

    One of the same size comes first: others, as of another cut, hold the same only where they hold nothing else.
    """
    found: dict[Old, Match] = {}
    taken: set[Cell] = set()
    known = set(cells)
    for each in olds:
        cell, mark = each
        here = marks.get(cell)
        if mark is not None and here is not None and here.digest == mark.digest and not (fit and cell not in known):
            found[each] = Match(cell, "kept")
            taken.add(cell)
    shows: dict[tuple[object, ...], deque[Cell]] = {}
    for cell in cells:
        if cell in marks and cell not in taken:
            for key in ((marks[cell].digest, cell.width, cell.height), (marks[cell].digest,)):
                shows.setdefault(key, deque()).append(cell)
    left = sorted((each for each in olds if each not in found), key=_reading_order)
    for alike in (True, False):
        for each in left:
            cell, mark = each
            if mark is None or each in found:
                continue
            holding = shows.get((mark.digest, cell.width, cell.height) if alike else (mark.digest,), deque())
            while holding and holding[0] in taken:
                holding.popleft()
            if holding:
                found[each] = Match(holding.popleft(), "moved")
                taken.add(found[each].cell)
    return found


def _reading_order(each: Old) -> tuple[int, int, int]:
    return each[0].page, each[0].y, each[0].x


def _drawn_over(cell: Cell, marks: Mapping[Cell, Mark], taken: set[Cell]) -> Cell | None:
    """A frame's own cell, where something else is drawn in it now that is no other frame's."""
    return cell if cell in marks and cell not in taken else None


def _by_place(cell: Cell, cells: Sequence[Cell], taken: set[Cell]) -> Cell | None:
    """The free cell that covers most of an old cell's place, at least half of either."""
    best, most = None, 0.0
    for each in cells:
        if each.page != cell.page or each in taken:
            continue
        across = min(cell.x + cell.width, each.x + each.width) - max(cell.x, each.x)
        down = min(cell.y + cell.height, each.y + each.height) - max(cell.y, each.y)
        shared = max(0, across) * max(0, down) / min(cell.width * cell.height, each.width * each.height)
        if shared >= 0.5 and shared > most:
            best, most = each, shared
    return best


def _twins(
    olds: Sequence[Old], cells: Sequence[Cell], marks: Mapping[Cell, Mark], found: dict[Old, Match]
) -> None:
    """Frames that looked alike, and of whose pictures some are no more, share one."""
    first: dict[str, Cell] = {}
    for cell in cells:
        if cell in marks:
            first.setdefault(marks[cell].digest, cell)
    for each in olds:
        if each not in found and each[1] is not None and each[1].digest in first:
            found[each] = Match(first[each[1].digest], "moved")


def _unmarked(
    olds: Sequence[Old], cells: Sequence[Cell], marks: Mapping[Cell, Mark], found: dict[Old, Match],
    taken: set[Cell], fit: bool,
) -> None:
    """What was blank, or never looked at, goes where a marked frame of the same cell goes, and otherwise stays."""
    known = set(cells)
    with_mark = {each[0]: found[each].cell for each in reversed(olds) if each in found and each[1] is not None}
    for each in olds:
        cell, mark = each
        if mark is not None:
            continue
        there = with_mark.get(cell, cell)
        if there is cell and fit and cell not in known:
            by_place = _by_place(cell, cells, taken)
            if by_place is None:
                continue
            there = by_place
        found[each] = Match(there, "kept" if there == cell else "moved")
