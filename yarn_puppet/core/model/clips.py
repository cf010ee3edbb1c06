"""Art and timing: sheets, frames, boxes, anchors and clips.

Places inside a frame are pixels of its cell, x to the right and y downwards from the top left
corner. Times inside a clip are milliseconds from its start.
"""

from __future__ import annotations

from bisect import bisect_right
from math import floor
from typing import Annotated, Literal

from msgspec import Meta

from .basics.base import NO_NUL, Identifier, Name, Number, Pixel, Positive, Value, tidy
from .borders import borders_of
from .events import Moment, Window
from .motions import BonePlace, Motion

PlaybackMode = Literal["once", "loop", "back and forth", "hold last"]
Side = Literal["right", "left"]
BoxKind = Literal["body", "hit"]


MOST_CELL_PIXELS = 1 << 27
"""Of one cell: a frame is held whole while it is looked at, half a gigabyte for the largest."""


def _keep_bearable(width: int, height: int) -> None:
    """Raise ValueError for a cell of too many pixels."""
    if width * height > MOST_CELL_PIXELS:
        raise ValueError(
            f"expected a cell of at most {MOST_CELL_PIXELS >> 20} million pixels, found "
            f"{width}×{height}"
        )


class Grid(Value, frozen=True):
    """How a sheet is cut into cells, all lengths in pixels.

    The first cell begins `margin` from the left, and `top` from the top where that is not the same;
    `gap` lies between cells, and `gap_down` between rows where that is not the same.
    """

    cell_width: Annotated[int, Meta(ge=1, le=1 << 16)]
    cell_height: Annotated[int, Meta(ge=1, le=1 << 16)]
    margin: Pixel = 0
    gap: Pixel = 0
    top: Pixel | None = None
    gap_down: Pixel | None = None

    @property
    def start(self) -> tuple[int, int]:
        """Where the first cell begins, across and down."""
        return self.margin, self.margin if self.top is None else self.top

    @property
    def step(self) -> tuple[int, int]:
        """From a cell to the next, across and down."""
        gap_down = self.gap if self.gap_down is None else self.gap_down
        return self.cell_width + self.gap, self.cell_height + gap_down

    def __post_init__(self) -> None:
        _keep_bearable(self.cell_width, self.cell_height)


class Islands(Value, frozen=True):
    """A sheet cut along what is drawn: opaque pixels no more than `join` pixels apart are one
    island, and one cell."""

    join: Annotated[int, Meta(ge=0, le=1 << 10)] = 2


class Sheet(Value, frozen=True):
    """A picture that frames are cut from. `path` is relative to the puppet's file once that is
    saved.

    It was last cut by `islands` where they are given, otherwise by `grid`. How it is `drawn` says
    whether its pixels are to be seen, or smoothed where it is shown larger; empty for a guess from
    its colours.
    """

    id: Identifier
    name: Name
    path: Annotated[str, Meta(min_length=1, max_length=4096, pattern=NO_NUL)]
    grid: Grid | None = None
    islands: Islands | None = None
    drawn: Literal["", "as pixels", "painted"] = ""


class Cell(Value, frozen=True):
    """A rectangle of a sheet's picture, in pixels. `page` is the frame of a moving picture, or the
    layer of a file."""

    sheet: Identifier
    x: Pixel
    y: Pixel
    width: Annotated[int, Meta(ge=1, le=1 << 16)]
    height: Annotated[int, Meta(ge=1, le=1 << 16)]
    page: Annotated[int, Meta(ge=0, le=1 << 16)] = 0

    def __post_init__(self) -> None:
        _keep_bearable(self.width, self.height)


class Point(Value, frozen=True):
    """A place in a frame."""

    x: Number
    y: Number

    @property
    def pixel(self) -> tuple[int, int]:
        """The pixel it lies in. Rounded down, not to even, so that places that are halves do not
        shift against each other."""
        return floor(self.x), floor(self.y)


class Box(Value, frozen=True):
    """A rectangle of a frame. A hit box strikes while a hit window of the same name is open."""

    kind: BoxKind
    x: Number
    y: Number
    width: Positive
    height: Positive
    name: str = ""


class AnchorPoint(Value, frozen=True):
    """Where an anchor of the puppet is in this frame; a `guess` until somebody puts it there."""

    anchor: Identifier
    x: Number
    y: Number
    guess: bool = False


class Anchor(Value, frozen=True):
    """A named point that follows a frame, or where it has a `place` on one, a bone: "pole tip"."""

    id: Identifier
    name: Name
    on_bone: BonePlace | None = None


class Mark(Value, frozen=True):
    """What was drawn in a cell when it was cut: a digest of it, and where in the cell it stood, its
    left top corner.

    By it a frame is found again in a sheet that was redrawn.
    """

    digest: Annotated[str, Meta(pattern="^[0-9a-f]+$", max_length=64)]
    x: Pixel
    y: Pixel


class Frame(Value, frozen=True):
    """One picture of a clip. `duration` is in milliseconds, at least one; `mirrored` draws the cell
    flipped.

    An anchor that a frame lacks lies between those of its neighbours. Boxes, anchors and the pivot
    are places of the cell as it is shown, mirrored where it is.
    """

    cell: Cell
    duration: Annotated[float, Meta(ge=1, le=1e9)] = 100.0
    mirrored: bool = False
    pivot: Point | None = None
    boxes: tuple[Box, ...] = ()
    anchors: tuple[AnchorPoint, ...] = ()
    mark: Mark | None = None

    def anchor(self, anchor: str | None) -> Point | None:
        """The frame's own point of an anchor, or None where it has none."""
        return next((Point(each.x, each.y) for each in self.anchors if each.anchor == anchor), None)


class Clip(Value, frozen=True):
    """A run of frames, or of poses of bones: it has a `motion` then, and no frames. `faces` says
    which way the art looks; `pivot` is None for the bottom centre of the cell."""

    id: Identifier
    name: Name
    frames: tuple[Frame, ...] = ()
    mode: PlaybackMode = "loop"
    faces: Side = "right"
    pivot: Point | None = None
    moments: tuple[Moment, ...] = ()
    windows: tuple[Window, ...] = ()
    motion: Motion | None = None

    @property
    def plays(self) -> bool:
        """Whether there is anything to be shown."""
        return bool(self.frames) or self.motion is not None

    @property
    def length(self) -> float:
        """The sum of the frames' durations in milliseconds, or how long the motion is."""
        return self.borders[-1]

    @property
    def borders(self) -> tuple[float, ...]:
        """When each frame starts, in milliseconds, and when the last one ends. A motion counts as
        one frame."""
        if self.motion is not None:
            return 0.0, tidy(self.motion.length)
        return borders_of(self.frames)

    @property
    def events(self) -> tuple[Moment | Window, ...]:
        """Moments, then windows."""
        return (*self.moments, *self.windows)

    def pivot_of(self, index: int) -> Point:
        """The pivot of frame `index` in pixels of its cell; the bottom centre where none is set."""
        frame = self.frames[index]
        return frame.pivot or self.pivot or Point(frame.cell.width / 2, float(frame.cell.height))

    def anchor_at(self, index: int, anchor: str | None) -> Point | None:
        """Where an anchor is in frame `index`, in pixels of its cell, or None where the clip does
        not have it there.

        A frame without a point of its own has it between those of the nearest frames before and
        after: by how many frames it is from each, and relative to their pivots.
        """
        own = self.frames[index].anchor(anchor)
        if own is not None:
            return own
        before = next((at for at in range(index - 1, -1, -1) if self.frames[at].anchor(anchor)),
                      None)
        after = next((at for at in range(index + 1, len(self.frames))
                      if self.frames[at].anchor(anchor)), None)
        if before is None or after is None:
            return None
        return self.between(index, before, after, anchor)

    def between(self, index: int, before: int, after: int, anchor: str | None) -> Point:
        """Where an anchor lies in frame `index` between the frames `before` and `after`, which have
        it."""
        first, last = self._from_pivot(before, anchor), self._from_pivot(after, anchor)
        share = (index - before) / (after - before)
        pivot = self.pivot_of(index)
        return Point(
            round(pivot.x + first.x + (last.x - first.x) * share, 3),
            round(pivot.y + first.y + (last.y - first.y) * share, 3),
        )

    def _from_pivot(self, index: int, anchor: str | None) -> Point:
        at, pivot = self.frames[index].anchor(anchor), self.pivot_of(index)
        assert at is not None
        return Point(at.x - pivot.x, at.y - pivot.y)

    def start_of(self, index: int) -> float:
        """When frame `index` starts, in milliseconds; `len(frames)` gives the end."""
        borders = self.borders
        return borders[min(index, len(borders) - 1)]

    def frame_at(self, time: float) -> int:
        """The index of the frame shown `time` milliseconds into the clip, the last one from the end
        on."""
        borders = self.borders
        return min(max(0, bisect_right(borders, time) - 1), len(borders) - 2)
