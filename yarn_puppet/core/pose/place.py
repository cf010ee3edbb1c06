"""A frame put into the world: standing on its pivot, mirrored when the puppet faces the other way
than the art."""

from __future__ import annotations

from typing import NamedTuple

from ..model.clips import Box, Clip, Frame
from ..model.motions import BoneBox
from ..model.puppet import Puppet
from .rectangle import Rectangle as Rectangle


class PlacedFrame(NamedTuple):
    """A frame in the world. The pivot stands at x, y; `flipped` mirrors everything about it. A
    pixel of it is `scale` pixels of the world."""

    clip: Clip
    number: int
    x: float
    y: float
    flipped: bool
    scale: float = 1.0

    @property
    def frame(self) -> Frame:
        """The frame shown."""
        return self.clip.frames[self.number]

    @property
    def leftwards(self) -> bool:
        """Whether what it shows looks left, as it is drawn."""
        return self.flipped != (self.clip.faces == "left")

    def point(self, x: float, y: float) -> tuple[float, float]:
        """A point of the frame, in pixels of its cell, as a point of the world."""
        pivot = self.clip.pivot_of(self.number)
        across = pivot.x - x if self.flipped else x - pivot.x
        if self.scale == 1.0:
            return self.x + across, self.y + y - pivot.y
        return self.x + across * self.scale, self.y + (y - pivot.y) * self.scale

    def rectangle(self, x: float, y: float, width: float, height: float) -> Rectangle:
        """A rectangle of the frame as a rectangle of the world."""
        left, top = self.point(x + width if self.flipped else x, y)
        return Rectangle(left, top, width * self.scale, height * self.scale)

    def box(self, box: Box) -> Rectangle:
        """A box of the frame in the world."""
        return self.rectangle(box.x, box.y, box.width, box.height)

    def picture(self) -> tuple[Rectangle, bool]:
        """Where the cell's picture goes, and whether it is drawn flipped left to right."""
        cell = self.frame.cell
        return self.rectangle(0, 0, cell.width, cell.height), self.flipped != self.frame.mirrored

    def anchor(self, anchor: str | None) -> tuple[float, float] | None:
        """An anchor of the frame in the world, or None where this frame does not have it."""
        found = self.clip.anchor_at(self.number, anchor) if anchor is not None else None
        return self.point(found.x, found.y) if found is not None else None

    def bodies(self, asked: str) -> list[tuple[Box | BoneBox, Rectangle]]:
        """The body boxes of a name; where the frame has none of it, those without one: a puppet
        without a body could not be hit at all."""
        boxes = [box for box in self.frame.boxes if box.kind == "body"]
        chosen = [box for box in boxes if box.name == asked] or [
            box for box in boxes if not box.name]
        return [(box, self.box(box)) for box in chosen]

    def hit_boxes(self, window: str) -> list[Rectangle]:
        """Where a hit window of this name hits: the hit boxes of its name, and those without
        one."""
        return [self.box(box) for box in self.frame.boxes
                if box.kind == "hit" and box.name in ("", window)]


def placed(
    puppet: Puppet, clip: str | None, frame: int, facing: str, x: float, y: float
) -> PlacedFrame | None:
    """A frame of a clip in the world, or None for a clip that is gone or has no such frame."""
    found = puppet.clip(clip)
    if found is None or not 0 <= frame < len(found.frames):
        return None
    # Art drawn for straight up or down is nobody's mirror image.
    side = facing.rpartition(" ")[2]
    return PlacedFrame(found, frame, x, y, side in ("left", "right") and side != found.faces,
                       puppet.mover.scale)
