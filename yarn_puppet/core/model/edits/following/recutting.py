"""Following art that was drawn anew: every frame is found again, and keeps all that was hung on it."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import NamedTuple

from msgspec.structs import replace

from ...clips import Cell, Clip, Frame, Mark, Point
from ...puppet import Puppet
from ..entries import tidy, with_entries
from ..frames.frames import frames_inserted


class FrameAt(NamedTuple):
    """A frame: the id of its clip, and which of its frames it is."""

    clip: str
    frame: int


class Recut(NamedTuple):
    """What became of a sheet's frames.

    `moved` were found by what is drawn in them, in another cell; `redrawn` by their place, with something else drawn
    there; `lost` are in the sheet no more: they keep their old cell until someone decides. `kept` counts the others.
    `fresh` are cells that no clip shows and that were not in the sheet before.
    """

    puppet: Puppet
    kept: int
    moved: tuple[FrameAt, ...]
    redrawn: tuple[FrameAt, ...]
    lost: tuple[FrameAt, ...]
    fresh: tuple[Cell, ...]


def recut(
    puppet: Puppet, sheet: str, cells: Iterable[Cell], marks: Mapping[Cell, Mark], known: Iterable[str] = ()
) -> Recut:
    """Give the frames of a sheet new cells: by what is drawn in them, then by their place.

    `cells` are those of the sheet as it is cut now, in reading order, and `marks` what is drawn in each. Where
    several cells hold the same, the one at the frame's own place is taken, or else the next in order. Boxes, anchors
    and pivots move with what is drawn. `known` are digests that the sheet held before: cells with them are not fresh.
    """
    now = list(dict.fromkeys(cells))
    old = list(dict.fromkeys(
        (frame.cell, frame.mark) for clip in puppet.clips for frame in clip.frames if frame.cell.sheet == sheet
    ))
    target = _by_content(old, now, marks)
    taken = set(target.values())
    rest = [each for each in old if each not in target]
    for each in rest:
        cell = _by_place(each[0], [cell for cell in now if cell not in taken])
        if cell is not None:
            target[each] = cell
            taken.add(cell)
    moved, redrawn, lost, kept, clips = [], [], [], 0, []
    for clip in puppet.clips:
        frames, shifts = list(clip.frames), [(0.0, 0.0)] * len(clip.frames)
        for index, frame in enumerate(clip.frames):
            if frame.cell.sheet != sheet:
                continue
            cell = target.get((frame.cell, frame.mark))
            if cell is None:
                lost.append(FrameAt(clip.id, index))
                continue
            mark = marks.get(cell)
            same = frame.mark is not None and mark is not None and frame.mark.digest == mark.digest
            if same and frame.mark is not None and mark is not None:
                shifts[index] = (mark.x - frame.mark.x, mark.y - frame.mark.y)
            else:
                shifts[index] = (frame.cell.x - cell.x, frame.cell.y - cell.y)
            if not same and frame.mark is not None:
                redrawn.append(FrameAt(clip.id, index))
            elif frame.cell != cell:
                moved.append(FrameAt(clip.id, index))
            else:
                kept += 1
            frames[index] = replace(frame, cell=cell, mark=mark)
        clips.append(_hung(clip, frames, shifts))
    held = {*known, *(mark.digest for _, mark in old if mark is not None)}
    fresh = tuple(cell for cell in now if cell not in taken and cell in marks and marks[cell].digest not in held)
    return Recut(
        with_entries(puppet, "clips", tuple(clips)), kept, tuple(moved), tuple(redrawn), tuple(lost), fresh
    )


Old = tuple[Cell, Mark | None]


def _by_content(old: list[Old], now: list[Cell], marks: Mapping[Cell, Mark]) -> dict[Old, Cell]:
    """Old cells with a mark, and the cell that holds the same now."""
    places: dict[str, list[Cell]] = {}
    for cell in now:
        if cell in marks:
            places.setdefault(marks[cell].digest, []).append(cell)
    found: dict[Old, Cell] = {}
    marked = [each for each in old if each[1] is not None and each[1].digest in places]
    # First those that stand where they stood, so that twins do not change places.
    for each in marked:
        assert each[1] is not None
        if each[0] in places[each[1].digest]:
            found[each] = each[0]
            places[each[1].digest].remove(each[0])
    for each in sorted((one for one in marked if one not in found), key=_reading_order):
        assert each[1] is not None
        if places[each[1].digest]:
            found[each] = places[each[1].digest].pop(0)
    return found


def _reading_order(each: Old) -> tuple[int, int, int]:
    return each[0].page, each[0].y, each[0].x


def _by_place(cell: Cell, free: list[Cell]) -> Cell | None:
    """The free cell that covers most of an old cell's place, at least half of either."""
    best, most = None, 0.0
    for each in free:
        if each.page != cell.page:
            continue
        across = min(cell.x + cell.width, each.x + each.width) - max(cell.x, each.x)
        down = min(cell.y + cell.height, each.y + each.height) - max(cell.y, each.y)
        shared = max(0, across) * max(0, down) / min(cell.width * cell.height, each.width * each.height)
        if shared >= 0.5 and shared > most:
            best, most = each, shared
    return best


def _hung(clip: Clip, frames: list[Frame], shifts: list[tuple[float, float]]) -> Clip:
    """The clip with these frames, its boxes, anchors and pivots moved by as much as what is drawn moved."""
    pivots = [
        Point(tidy(pivot.x + across), tidy(pivot.y + down))
        for pivot, (across, down) in zip(map(clip.pivot_of, range(len(frames))), shifts, strict=True)
    ]
    made = replace(clip, frames=tuple(
        frame if shift == (0.0, 0.0) else replace(
            frame,
            boxes=tuple(replace(box, x=tidy(box.x + shift[0]), y=tidy(box.y + shift[1])) for box in frame.boxes),
            anchors=tuple(replace(at, x=tidy(at.x + shift[0]), y=tidy(at.y + shift[1])) for at in frame.anchors),
        )
        for frame, shift in zip(frames, shifts, strict=True)
    ))
    if all(made.pivot_of(index) == pivot for index, pivot in enumerate(pivots)):
        return made
    shared = [pivot for frame, pivot in zip(made.frames, pivots, strict=True) if frame.pivot is None]
    common = max(set(shared), key=shared.count) if shared else clip.pivot
    return replace(made, pivot=common, frames=tuple(
        replace(frame, pivot=None if frame.pivot is None and pivot == common else pivot)
        for frame, pivot in zip(made.frames, pivots, strict=True)
    ))


def home_of(puppet: Puppet, cell: Cell) -> FrameAt | None:
    """Where a fresh cell would go: after the frame whose cell comes right before it in its row, or before the next."""
    before: tuple[int, FrameAt] | None = None
    after: tuple[int, FrameAt] | None = None
    for clip in puppet.clips:
        for index, frame in enumerate(clip.frames):
            each = frame.cell
            if each.sheet != cell.sheet or (each.page == cell.page and abs(each.y - cell.y) >= cell.height / 2):
                continue
            gap = each.x - cell.x if each.page == cell.page else (each.page - cell.page) << 20
            if gap < 0 and (before is None or gap > before[0]):
                before = gap, FrameAt(clip.id, index + 1)
            if gap > 0 and (after is None or gap < after[0]):
                after = gap, FrameAt(clip.id, index)
    found = before or after
    return found[1] if found else None


def cell_taken_in(puppet: Puppet, cell: Cell, mark: Mark | None, at: FrameAt) -> Puppet:
    """With a frame of this cell at a place of a clip: it lasts as long as its neighbour, and has its body boxes."""
    clip = puppet.clip(at.clip)
    if clip is None:
        return puppet
    like = clip.frames[max(0, min(at.frame, len(clip.frames)) - 1)] if clip.frames else Frame(cell)
    body = tuple(box for box in like.boxes if box.kind == "body")
    made = Frame(cell, like.duration, like.mirrored, like.pivot, body, (), mark)
    return frames_inserted(puppet, at.clip, (made,), at.frame)


def marked(puppet: Puppet, sheet: str, marks: Mapping[Cell, Mark]) -> Puppet:
    """With marks on the frames of a sheet that have none yet."""
    clips = tuple(
        replace(clip, frames=tuple(
            replace(frame, mark=marks[frame.cell])
            if frame.cell.sheet == sheet and frame.mark is None and frame.cell in marks else frame
            for frame in clip.frames
        ))
        for clip in puppet.clips
    )
    return with_entries(puppet, "clips", clips)
