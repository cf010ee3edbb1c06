"""What hangs on frames, as numbers for generated code. Filled in by who knows frames: the program
does not."""

from __future__ import annotations

from typing import Any, NamedTuple

from .flat import Flat


class FrameBox(NamedTuple):
    """A box beside the pivot, of art that faces right: x to the right, y downwards, pixels. `body`,
    or it hits."""

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
    """A frame of a clip: its cell in a sheet, whether that is drawn flipped when the puppet faces
    right, where its left top corner is beside the pivot, at which millisecond of the clip it ends,
    what hangs on it, and how many pixels of the world one of the cell's is."""

    sheet: int
    page: int
    cell: tuple[int, int, int, int]
    flipped: bool
    corner: tuple[float, float]
    until: float
    boxes: tuple[FrameBox, ...]
    anchors: tuple[FrameAnchor, ...]
    scale: float = 1.0


class MomentOutput(NamedTuple):
    """What a game is told of a moment: its kind, name, anchor (-1 for none), arguments, and the
    numbers of its kind; the id of the clip that it looks like, empty for none; the files of all
    sounds it may be, where it is one of several."""

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
    sounds: tuple[str, ...] = ()


class WindowOutput(NamedTuple):
    """What a game is told of a window."""

    kind: str
    name: str
    damage: int
    push: float
    hit_stop: int


class ClipFacts(NamedTuple):
    """What a game is told of a clip that is shown by itself, as an effect, a prop or a projectile:
    its id, whether its art faces left, its milliseconds, whether it plays back and forth, and
    whether it holds its last frame."""

    id: str
    faces_left: bool
    length: float
    turns: bool
    holds: bool


class LayerOutput(NamedTuple):
    """Where a layer is drawn: at which anchor of the layers below, -1 for where the puppet stands;
    and whether under them."""

    pinned_to: int
    under: bool


class Geometry(NamedTuple):
    """Of the clips of a program, in their order, and then of those that moments and props show
    besides: what they are, and their frames. Of those of the program their moments and windows, as
    the program's cycles have them. Of its layers, in their order, where they are drawn.

    `anchors` are names, `anchor_ids` what rules call them, `sheets` paths.
    """

    clip_facts: tuple[ClipFacts, ...]
    layers: tuple[LayerOutput, ...]
    anchor_ids: tuple[str, ...]
    anchors: tuple[str, ...]
    sheets: tuple[str, ...]
    clips: tuple[tuple[FramePicture, ...], ...]
    moments: tuple[tuple[MomentOutput, ...], ...]
    windows: tuple[tuple[WindowOutput, ...], ...]


def clip_ids(made: Flat, geometry: Geometry | None) -> list[str]:
    """The ids of all clips that code knows, in the order of their numbers: those that states play
    come first."""
    return [clip.id for clip in (made.clips if geometry is None else geometry.clip_facts)]
