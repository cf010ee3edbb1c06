"""Following art that was redrawn: every frame is found again, and keeps all that was hung on
it."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence
from typing import NamedTuple

from msgspec.structs import replace

from ...basics.base import tidy
from ...clips import Cell, Clip, Frame, Mark, Point
from ...puppet import Puppet
from ..entries import with_entries
from ..frames.frames import frames_inserted
from ..frames.mirroring import standing
from .matching import Drawing, Match, Old, matched


class FrameAt(NamedTuple):
    """A frame: the id of its clip, and which of its frames it is."""

    clip: str
    frame: int


class Recut(NamedTuple):
    """What became of a sheet's frames.

    `moved` were found by what is drawn in them, in another cell; `redrawn` by their place, with
    something else drawn there; `lost` are in the sheet no more: they keep their old cell until
    someone decides. `kept` counts the others. `fresh` are cells that no clip shows and that were
    not in the sheet before.
    """

    puppet: Puppet
    kept: int
    moved: tuple[FrameAt, ...]
    redrawn: tuple[FrameAt, ...]
    lost: tuple[FrameAt, ...]
    fresh: tuple[Cell, ...]


def shown_of(puppet: Puppet, sheet: str) -> tuple[Old, ...]:
    """What frames show of a sheet, each once."""
    return tuple(dict.fromkeys(
        (frame.cell, frame.mark) for clip in puppet.clips
        for frame in clip.frames if frame.cell.sheet == sheet))


def recut(puppet: Puppet, drawing: Drawing) -> Recut:
    """Give the frames of a sheet the cells they are in now; boxes, anchors and pivots move with
    what is drawn."""
    old = shown_of(puppet, drawing.sheet)
    made = _Given(drawing, matched(old, drawing))
    clips = tuple(made.clip(clip) for clip in puppet.clips)
    held = {mark.digest for mark in drawing.before.values()} | {
        mark.digest for _, mark in old if mark is not None}
    fresh = _fresh(drawing, clips, held)
    return Recut(with_entries(puppet, "clips", clips), made.kept, tuple(made.moved),
                 tuple(made.redrawn),
                 tuple(made.lost), fresh)


def recut_too(puppets: Sequence[Puppet], drawing: Drawing) -> tuple[Puppet, ...]:
    """Several puppets, steps of one history, given the cells of a drawing. What they share is done
    once."""
    old = tuple(dict.fromkeys(each for puppet in puppets
                              for each in shown_of(puppet, drawing.sheet)))
    made = _Given(drawing, matched(old, drawing))
    done: dict[int, tuple[Clip, Clip]] = {}

    def once(clip: Clip) -> Clip:
        if id(clip) not in done:
            done[id(clip)] = (clip, made.clip(clip))
        return done[id(clip)][1]

    return tuple(with_entries(puppet, "clips", tuple(map(once, puppet.clips)))
                 for puppet in puppets)


class _Given:
    """Gives the frames of clips the cells that were found for them, and keeps what became of
    each."""

    def __init__(self, drawing: Drawing, target: Mapping[Old, Match]) -> None:
        self.drawing, self.target = drawing, target
        self.kept = 0
        self.moved: list[FrameAt] = []
        self.redrawn: list[FrameAt] = []
        self.lost: list[FrameAt] = []

    def clip(self, clip: Clip) -> Clip:
        """A clip with its frames in their cells."""
        frames, shifts = list(clip.frames), [(0.0, 0.0)] * len(clip.frames)
        for index, frame in enumerate(clip.frames):
            if frame.cell.sheet != self.drawing.sheet:
                continue
            match, at = self.target.get((frame.cell, frame.mark)), FrameAt(clip.id, index)
            if match is None:
                self.lost.append(at)
                continue
            mark = self.drawing.marks.get(match.cell)
            shifts[index] = _shift(frame, match.cell, mark)
            frames[index] = replace(frame, cell=match.cell, mark=mark)
            if match.by == "redrawn":
                self.redrawn.append(at)
            elif match.by == "moved" and frame.cell != match.cell:
                self.moved.append(at)
            else:
                self.kept += 1
        return clip if frames == list(clip.frames) else _carried_along(clip, frames, shifts)


def _shift(frame: Frame, cell: Cell, mark: Mark | None) -> tuple[float, float]:
    """By how much what is drawn in a frame moved in the cell as it is shown: to the other side
    where it is mirrored."""
    if frame.mark is not None and mark is not None and frame.mark.digest == mark.digest:
        across, down = mark.x - frame.mark.x, mark.y - frame.mark.y
    else:
        across, down = frame.cell.x - cell.x, frame.cell.y - cell.y
    if frame.mirrored:
        across = cell.width - frame.cell.width - across
    return float(across), float(down)


def _fresh(drawing: Drawing, clips: Sequence[Clip], held: set[str]) -> tuple[Cell, ...]:
    """Cells of the cut with something that the sheet did not hold, and that no frame's cell lies
    in."""
    squares = defaultdict[tuple[int, int, int], set[Cell]](set)
    for clip in clips:
        for frame in clip.frames:
            if frame.cell.sheet == drawing.sheet:
                for square in _squares(frame.cell):
                    squares[square].add(frame.cell)

    def overlapped(cell: Cell) -> bool:
        return any(_overlap(cell, other) for square in _squares(cell)
                   for other in squares.get(square, ()))

    return tuple(cell for cell in drawing.cells if cell in drawing.marks
                 and drawing.marks[cell].digest not in held and not overlapped(cell))


SQUARE = 128
"""Pixels of a side of the squares by which cells that may overlap are found."""


def _squares(cell: Cell) -> list[tuple[int, int, int]]:
    return [(cell.page, x, y)
            for x in range(cell.x // SQUARE, (cell.x + cell.width - 1) // SQUARE + 1)
            for y in range(cell.y // SQUARE, (cell.y + cell.height - 1) // SQUARE + 1)]


def _overlap(one: Cell, other: Cell) -> bool:
    return (one.x < other.x + other.width and other.x < one.x + one.width
            and one.y < other.y + other.height and other.y < one.y + one.height)


def _carried_along(clip: Clip, frames: list[Frame], shifts: list[tuple[float, float]]) -> Clip:
    """The clip with these frames, its boxes, anchors and pivots moved by as much as what is drawn
    moved."""
    pivots = [
        Point(tidy(pivot.x + across), tidy(pivot.y + down))
        for pivot, (across, down) in zip(map(clip.pivot_of, range(len(frames))), shifts,
                                         strict=True)
    ]
    made = replace(clip, frames=tuple(
        frame if shift == (0.0, 0.0) else replace(
            frame,
            boxes=tuple(replace(box, x=tidy(box.x + shift[0]), y=tidy(box.y + shift[1]))
                        for box in frame.boxes),
            anchors=tuple(replace(at, x=tidy(at.x + shift[0]), y=tidy(at.y + shift[1]))
                          for at in frame.anchors),
        )
        for frame, shift in zip(frames, shifts, strict=True)
    ))
    return standing(made, pivots)


def home_of(puppet: Puppet, cell: Cell) -> FrameAt | None:
    """Where a fresh cell would go: after the frame whose cell comes right before it in its row, or
    before the next."""
    before: tuple[int, FrameAt] | None = None
    after: tuple[int, FrameAt] | None = None
    for clip in puppet.clips:
        for index, frame in enumerate(clip.frames):
            each = frame.cell
            if each.sheet != cell.sheet or (
                each.page == cell.page and abs(each.y - cell.y) >= cell.height / 2
            ):
                continue
            gap = each.x - cell.x if each.page == cell.page else (each.page - cell.page) << 20
            if gap < 0 and (before is None or gap > before[0]):
                before = gap, FrameAt(clip.id, index + 1)
            if gap > 0 and (after is None or gap < after[0]):
                after = gap, FrameAt(clip.id, index)
    found = before or after
    return found[1] if found else None


def cell_taken_in(puppet: Puppet, cell: Cell, mark: Mark | None, at: FrameAt) -> Puppet:
    """With a frame of this cell at a place of a clip: it lasts as long as its neighbour, and has
    its body boxes."""
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
