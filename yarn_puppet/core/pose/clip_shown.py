"""A clip shown on its own, as an effect, a prop or a projectile: which frame of it, and where."""

from __future__ import annotations

from ..model.clips import Clip
from ..model.puppet import Puppet
from .place import PlacedFrame, Rectangle


def frame_shown(clip: Clip, milliseconds: float, round: bool, holds: bool = False) -> int | None:
    """The frame so long after it began. Played once it is over at its end, unless it `holds` its
    last frame."""
    if not clip.frames:
        return None
    there = clip.mode == "back and forth"
    cycle = clip.length * (2 if there else 1)
    if milliseconds >= cycle and not round:
        return (0 if there else len(clip.frames) - 1) if holds or clip.mode == "hold last" else None
    time = milliseconds % cycle if round else milliseconds
    return clip.frame_at(2 * clip.length - time if there and time >= clip.length else time)


def shown(
    puppet: Puppet,
    clip: str | None,
    milliseconds: float,
    round: bool,
    at: tuple[float, float],
    leftwards: bool,
    holds: bool = False,
) -> PlacedFrame | None:
    """A clip's frame with its pivot at a place, looking left or right; None for a clip that is
    gone, or is over."""
    found = puppet.clip(clip)
    if found is None:
        return None
    frame = frame_shown(found, milliseconds, round, holds)
    return (
        None
        if frame is None
        else PlacedFrame(found, frame, *at, leftwards != (found.faces == "left"),
                         puppet.mover.scale)
    )


def hit_area(puppet: Puppet, clip: str | None, leftwards: bool) -> Rectangle | None:
    """What the hit boxes of a clip's first frame cover, about its pivot; None where it has none."""
    placed = shown(puppet, clip, 0.0, False, (0.0, 0.0), leftwards)
    boxes = (
        [placed.box(box) for box in placed.frame.boxes if box.kind == "hit"]
        if placed is not None
        else []
    )
    if not boxes:
        return None
    left, top = min(box.x for box in boxes), min(box.y for box in boxes)
    return Rectangle(left, top, max(box.x + box.width for box in boxes) - left,
                     max(box.y + box.height for box in boxes) - top)
