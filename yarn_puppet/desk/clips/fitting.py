"""What new clips begin with, read off their pixels: pivots under the feet, body boxes, marks."""

from __future__ import annotations

from collections.abc import Sequence
from statistics import median

from msgspec.structs import replace

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
    alike = len({(cell.width, cell.height) for cell in cells}) == 1
    pivot = (pivot_like(puppet, cells[0]) or shared_pivot(art, cells)) if alike else None
    box = body_box(art, Frame(cells[0]))
    frames = []
    for cell in cells:
        frame = Frame(cell, mark=art.mark(cell))
        own = box if alike else body_box(art, frame)
        frames.append(replace(frame, boxes=(own,) if own else (), pivot=None if alike else own_pivot(art, frame)))
    return clip_of_frames(puppet, name, frames, pivot=pivot)


def pivot_like(puppet: Puppet, cell: Cell) -> Point | None:
    """The pivot that clips of cells of this size, of this sheet, have already: sheets of one figure share it."""
    return next((
        clip.pivot for clip in puppet.clips
        if clip.pivot is not None and clip.frames and clip.frames[0].cell.sheet == cell.sheet
        and (clip.frames[0].cell.width, clip.frames[0].cell.height) == (cell.width, cell.height)
    ), None)


def shared_pivot(art: Art, cells: Sequence[Cell]) -> Point | None:
    """Under the feet: at the middle of where they stand over the clip and its lowest edge; None for empty cells."""
    feet = [foot for cell in cells if (foot := feet_of(art.pixels(cell)[:, :, 3])) is not None]
    if not feet:
        return None
    return Point(float(round(median(foot.x for foot in feet))), max(foot.y for foot in feet))


def own_pivot(art: Art, frame: Frame) -> Point | None:
    """Under the feet of one frame."""
    return feet_of(art.frame_pixels(frame)[:, :, 3])


def body_box(art: Art, frame: Frame) -> Box | None:
    """A body box around what is drawn in a frame."""
    bounds = bounds_of(art.frame_pixels(frame)[:, :, 3])
    if bounds is None:
        return None
    left, top, right, bottom = map(float, bounds)
    return Box("body", left, top, right - left, bottom - top)


def feet_over(art: Art, clip: Clip) -> list[Point | None]:
    """Where the feet stand in each frame of a clip, in pixels of its cell."""
    return [feet_of(art.frame_pixels(frame)[:, :, 3]) for frame in clip.frames]
