"""Art and timing: sheets, frames, boxes, anchors, clips, moments and windows.

Places inside a frame are pixels of its cell, x to the right and y downwards from the top left corner. Times
inside a clip are milliseconds from its start.
"""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta

from .base import Identifier, Name, Number, Pixel, Positive, Value

PlaybackMode = Literal["once", "loop", "back and forth", "hold last"]
Side = Literal["right", "left"]
BoxKind = Literal["body", "hit"]
MomentKind = Literal["effect", "sound", "shake", "call"]
WindowKind = Literal["hit", "cancel", "guard", "safe", "named"]
RuleKind = Literal["move_speed", "lock_movement", "lock_facing"]


class Grid(Value, frozen=True):
    """How a sheet is cut into cells, all lengths in pixels."""

    cell_width: Annotated[int, Meta(ge=1, le=1 << 16)]
    cell_height: Annotated[int, Meta(ge=1, le=1 << 16)]
    margin: Pixel = 0
    gap: Pixel = 0


class Sheet(Value, frozen=True):
    """A picture that frames are cut from. `path` is relative to the puppet's file once that is saved."""

    id: Identifier
    name: Name
    path: Annotated[str, Meta(min_length=1, max_length=4096)]
    grid: Grid | None = None


class Cell(Value, frozen=True):
    """A rectangle of a sheet's picture, in pixels. `page` is the frame of a moving picture, or the layer of a file."""

    sheet: Identifier
    x: Pixel
    y: Pixel
    width: Annotated[int, Meta(ge=1, le=1 << 16)]
    height: Annotated[int, Meta(ge=1, le=1 << 16)]
    page: Annotated[int, Meta(ge=0, le=1 << 16)] = 0


class Point(Value, frozen=True):
    """A place in a frame."""

    x: Number
    y: Number


class Box(Value, frozen=True):
    """A rectangle of a frame. A hit box strikes while a hit window of the same name is open."""

    kind: BoxKind
    x: Number
    y: Number
    width: Positive
    height: Positive
    name: str = ""


class AnchorPoint(Value, frozen=True):
    """Where an anchor of the puppet is in this frame."""

    anchor: Identifier
    x: Number
    y: Number


class Anchor(Value, frozen=True):
    """A named point that follows a frame: "pole tip"."""

    id: Identifier
    name: Name


class Frame(Value, frozen=True):
    """One picture of a clip. `duration` is in milliseconds, at least one; `mirrored` draws the cell flipped."""

    cell: Cell
    duration: Annotated[float, Meta(ge=1, le=1e9)] = 100.0
    mirrored: bool = False
    pivot: Point | None = None
    boxes: tuple[Box, ...] = ()
    anchors: tuple[AnchorPoint, ...] = ()


class Rule(Value, frozen=True):
    """A while-rule: in force exactly while its owner is active. `value` is the factor of `move_speed`."""

    kind: RuleKind
    value: Number = 1.0


class Moment(Value, frozen=True):
    """A timed event at one instant, `at` milliseconds into the clip."""

    id: Identifier
    at: Annotated[float, Meta(ge=0, le=1e9)]
    kind: MomentKind
    name: Name
    anchor: Identifier | None = None
    follow: bool = False


class Window(Value, frozen=True):
    """A timed event from `start` to `end`, in milliseconds of the clip.

    `into` limits a cancel window to states and groups of these ids; empty means anywhere. `damage` belongs to a
    hit window.
    """

    id: Identifier
    start: Annotated[float, Meta(ge=0, le=1e9)]
    end: Annotated[float, Meta(ge=0, le=1e9)]
    kind: WindowKind
    name: Name
    into: tuple[Identifier, ...] = ()
    damage: Annotated[int, Meta(ge=0, le=1_000_000)] = 1
    rules: tuple[Rule, ...] = ()


class Clip(Value, frozen=True):
    """A run of frames. `faces` says which way the art looks; `pivot` is None for the bottom centre of the cell."""

    id: Identifier
    name: Name
    frames: tuple[Frame, ...] = ()
    mode: PlaybackMode = "loop"
    faces: Side = "right"
    pivot: Point | None = None
    moments: tuple[Moment, ...] = ()
    windows: tuple[Window, ...] = ()

    @property
    def length(self) -> float:
        """The sum of the frames' durations in milliseconds."""
        return sum(frame.duration for frame in self.frames)

    @property
    def events(self) -> tuple[Moment | Window, ...]:
        """Moments, then windows."""
        return (*self.moments, *self.windows)

    def pivot_of(self, index: int) -> Point:
        """The pivot of frame `index` in pixels of its cell; the bottom centre where none is set."""
        frame = self.frames[index]
        return frame.pivot or self.pivot or Point(frame.cell.width / 2, float(frame.cell.height))

    def start_of(self, index: int) -> float:
        """When frame `index` starts, in milliseconds; `len(frames)` gives the end."""
        return sum(frame.duration for frame in self.frames[:index])

    def frame_at(self, time: float) -> int:
        """The index of the frame shown `time` milliseconds into the clip, the last one from the end on."""
        passed = 0.0
        for index, frame in enumerate(self.frames):
            passed += frame.duration
            if time < passed:
                return index
        return len(self.frames) - 1
