"""What hangs on frames, as numbers for generated code. Filled in by who knows frames: the program does not."""

from __future__ import annotations

from typing import Any, NamedTuple


class FrameBox(NamedTuple):
    """A box beside the pivot, of art that faces right: x to the right, y downwards, pixels. `body`, or it hits."""

    body: bool
    name: str
    x: float
    y: float
    width: float
    height: float


class FrameAnchor(NamedTuple):
    """Where an anchor is beside the pivot, of art that faces right."""

    anchor: int
    x: float
    y: float


class FramePicture(NamedTuple):
    """A frame of a clip: its cell in a sheet, whether that is drawn flipped when the puppet faces right, where its left
    top corner is beside the pivot, how many seconds it lasts, and what hangs on it."""

    sheet: int
    page: int
    cell: tuple[int, int, int, int]
    flipped: bool
    corner: tuple[float, float]
    seconds: float
    boxes: tuple[FrameBox, ...]
    anchors: tuple[FrameAnchor, ...]


class MomentTold(NamedTuple):
    """What a game is told of a moment: its kind, name, anchor (-1 for none), arguments, and the numbers of its kind;
    the id of the clip that it looks like, empty for none."""

    kind: str
    name: str
    anchor: int
    follow: bool
    mirrors: bool
    strength: float
    seconds: float
    speed: float
    angle: float
    file: str
    arguments: tuple[tuple[str, Any], ...]
    clip: str
    round: bool
    under: bool


class WindowTold(NamedTuple):
    """What a game is told of a window."""

    kind: str
    name: str
    damage: int
    push: float
    hit_stop: int


class Geometry(NamedTuple):
    """By the clips of a program, in their order: their frames, moments and windows as the program's cycles have them.

    `anchors` are names, `anchor_ids` what rules call them, `sheets` paths.
    """

    anchor_ids: tuple[str, ...]
    anchors: tuple[str, ...]
    sheets: tuple[str, ...]
    clips: tuple[tuple[FramePicture, ...], ...]
    moments: tuple[tuple[MomentTold, ...], ...]
    windows: tuple[tuple[WindowTold, ...], ...]
