"""What new clips begin with, read off their pixels: pivots under the feet, body boxes, marks."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from statistics import median
from typing import NamedTuple

from ....core.art.marks import Pixels, mark_of
from ....core.art.measures import bounds_of, feet_of
from ....core.model.clips import Box, Cell, Clip, Frame, Mark, Point
from ....core.model.edits.clips import clip_of_frames
from ....core.model.puppet import Puppet
from ...pictures.art import Art


class Drawn(NamedTuple):
    """What is read off the pixels of a cell; None of all three for an empty one."""

    mark: Mark | None
    feet: Point | None
    body: Box | None


def drawn_in(pixels: Pixels) -> Drawn:
    """Look at the pixels of a cell."""
    return Drawn(mark_of(pixels), feet_of(pixels[:, :, 3]), _body(pixels))


def clip_from_cells(
    puppet: Puppet, drawn: Mapping[Cell, Drawn], name: str, cells: Sequence[Cell]
) -> tuple[Puppet, str]:
    """With a looping clip of these cells; also its id.

    Its pivot stands under the feet, shared with other clips of cells of this size, and a body box
    lies around the first frame: a start that is rarely far off. Cells of several sizes, as islands
    are, have a pivot and box each.
    """
    alike = len({(cell.width, cell.height) for cell in cells}) == 1
    pivot = (
        (pivot_like(puppet, cells[0]) or under_all([drawn[cell].feet for cell in cells]))
        if alike
        else None
    )
    frames = []
    for cell in cells:
        own = drawn[cells[0] if alike else cell].body
        frames.append(Frame(cell, boxes=(own,) if own else (),
                            pivot=None if alike else drawn[cell].feet,
                            mark=drawn[cell].mark))
    return clip_of_frames(puppet, name, frames, pivot=pivot)


def frame_like(clip: Clip, drawn: Mapping[Cell, Drawn], cell: Cell) -> Frame:
    """A frame of a cell for the end of a clip: it lasts as long as the last one there, and has its
    body boxes."""
    last = clip.frames[-1] if clip.frames else Frame(cell)
    body = tuple(box for box in last.boxes if box.kind == "body")
    return Frame(cell, last.duration, boxes=body, mark=drawn[cell].mark)


def pivot_like(puppet: Puppet, cell: Cell) -> Point | None:
    """The pivot that clips of cells of this size, of this sheet, have already: sheets of one figure
    share it."""
    return next((
        clip.pivot for clip in puppet.clips
        if clip.pivot is not None and clip.frames and clip.frames[0].cell.sheet == cell.sheet
        and (clip.frames[0].cell.width, clip.frames[0].cell.height) == (cell.width, cell.height)
    ), None)


def shared_pivot(art: Art, cells: Sequence[Cell]) -> Point | None:
    """Under the feet: at the middle of where they stand over the clip and its lowest edge; None for
    empty cells."""
    return under_all([feet_of(art.pixels(cell)[:, :, 3]) for cell in cells])


def under_all(feet: Sequence[Point | None]) -> Point | None:
    """One place for feet that stand in several: in their middle across, and at the lowest of
    them."""
    found = [foot for foot in feet if foot is not None]
    if not found:
        return None
    return Point(float(round(median(foot.x for foot in found))), max(foot.y for foot in found))


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
