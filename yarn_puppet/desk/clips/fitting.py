"""What new clips begin with, read off their pixels: pivots under the feet, body boxes, marks."""

from __future__ import annotations

from collections.abc import Sequence
from statistics import median

from ...core.art.marks import Pixels, mark_of
from ...core.art.measures import bounds_of, feet_of
from ...core.model.clips import Box, Cell, Clip, Frame, Point
from ...core.model.edits.clips import clip_of_frames
from ...core.model.puppet import Puppet
from ..art import Art


def clip_from_cells(puppet: Puppet, art: Art, name: str, cells: Sequence[Cell]) -> tuple[Puppet, str]:
    """With a looping clip of these cells; also its id.

    Its pivot stands under the feet, shared with other clips of cells of this size, and a body box lies around the
    first frame: a start that is rarely far off. Cells of several sizes, as islands are, have a pivot and box each.
    """
    drawn = [art.pixels(cell) for cell in cells]
    alike = len({(cell.width, cell.height) for cell in cells}) == 1
    pivot = (pivot_like(puppet, cells[0]) or _under_all(drawn)) if alike else None
    shared = _body(drawn[0])
    frames = []
    for cell, pixels in zip(cells, drawn, strict=True):
        own = shared if alike else _body(pixels)
        frames.append(Frame(cell, boxes=(own,) if own else (), pivot=None if alike else feet_of(pixels[:, :, 3]),
                            mark=mark_of(pixels)))
    return clip_of_frames(puppet, name, frames, pivot=pivot)


def frame_like(clip: Clip, art: Art, cell: Cell) -> Frame:
    """A frame of a cell for the end of a clip: it lasts as long as the last one there, and has its body boxes."""
    last = clip.frames[-1] if clip.frames else Frame(cell)
    body = tuple(box for box in last.boxes if box.kind == "body")
    return Frame(cell, last.duration, boxes=body, mark=art.mark(cell))


def pivot_like(puppet: Puppet, cell: Cell) -> Point | None:
    """The pivot that clips of cells of this size, of this sheet, have already: sheets of one figure share it."""
    return next((
        clip.pivot for clip in puppet.clips
        if clip.pivot is not None and clip.frames and clip.frames[0].cell.sheet == cell.sheet
        and (clip.frames[0].cell.width, clip.frames[0].cell.height) == (cell.width, cell.height)
    ), None)


def shared_pivot(art: Art, cells: Sequence[Cell]) -> Point | None:
    """Under the feet: at the middle of where they stand over the clip and its lowest edge; None for empty cells."""
    return _under_all([art.pixels(cell) for cell in cells])


def _under_all(drawn: Sequence[Pixels]) -> Point | None:
    feet = [foot for pixels in drawn if (foot := feet_of(pixels[:, :, 3])) is not None]
    if not feet:
        return None
    return Point(float(round(median(foot.x for foot in feet))), max(foot.y for foot in feet))


def own_pivot(art: Art, frame: Frame) -> Point | None:
    """Under the feet of one frame."""
    return feet_of(art.frame_pixels(frame)[:, :, 3])


def body_box(art: Art, frame: Frame) -> Box | None:
    """A body box around what is drawn in a frame."""
    return _body(art.frame_pixels(frame))


def _body(pixels: Pixels) -> Box | None:
    bounds = bounds_of(pixels[:, :, 3])
    if bounds is None:
        return None
    left, top, right, bottom = map(float, bounds)
    return Box("body", left, top, right - left, bottom - top)


def feet_over(art: Art, clip: Clip) -> list[Point | None]:
    """Where the feet stand in each frame of a clip, in pixels of its cell."""
    return [feet_of(art.frame_pixels(frame)[:, :, 3]) for frame in clip.frames]
