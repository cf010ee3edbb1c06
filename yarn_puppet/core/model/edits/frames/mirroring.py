"""Frames turned left to right, with all that is on them."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence

from msgspec.structs import replace

from ...basics.base import tidy
from ...clips import Clip, Frame, Point, Side
from .between import anchored


def mirrored(frame: Frame) -> Frame:
    """A frame turned about the middle of its cell."""
    width = frame.cell.width
    return replace(
        frame, mirrored=not frame.mirrored,
        pivot=_turned(frame.pivot, width) if frame.pivot else None,
        boxes=tuple(replace(box, x=tidy(width - box.x - box.width)) for box in frame.boxes),
        anchors=tuple(replace(anchor, x=tidy(width - anchor.x)) for anchor in frame.anchors),
    )


def _turned(point: Point, width: int) -> Point:
    return replace(point, x=tidy(width - point.x))


def mirrored_clip(clip: Clip) -> Clip:
    """A clip that faces the other way. Each frame is turned by its own width, and so is its
    pivot."""
    pivots = [_turned(clip.pivot_of(index), frame.cell.width)
              for index, frame in enumerate(clip.frames)]
    turned = replace(clip, faces="left" if clip.faces == "right" else "right",
                     frames=tuple(map(mirrored, clip.frames)))
    return standing(turned, pivots)


def standing(clip: Clip, pivots: Sequence[Point]) -> Clip:
    """A clip whose frames have these pivots: that of most frames without one of their own becomes
    the clip's."""
    if all(clip.pivot_of(index) == pivot for index, pivot in enumerate(pivots)):
        return clip
    shared = [pivot for frame, pivot in zip(clip.frames, pivots, strict=True)
              if frame.pivot is None]
    common = Counter(shared).most_common(1)[0][0] if shared else clip.pivot
    return replace(clip, pivot=common, frames=tuple(
        replace(frame, pivot=None if frame.pivot is None and pivot == common else pivot)
        for frame, pivot in zip(clip.frames, pivots, strict=True)
    ))


def facing(clip: Clip, side: Side) -> Clip:
    """A clip, mirrored where its art looks to the other side."""
    return clip if clip.faces == side else mirrored_clip(clip)


def stood(target: Clip, source: Clip) -> tuple[Frame, ...]:
    """The frames of a clip that looks to the same side as another, with the pivots they need to
    stand there as they did."""
    frames = []
    for index, frame in enumerate(source.frames):
        pivot, plain = source.pivot_of(index), replace(frame, pivot=None)
        # What the target gives by itself need not be put down.
        frames.append(plain if replace(target, frames=(plain,)).pivot_of(0) == pivot
                      else replace(frame, pivot=pivot))
    return tuple(frames)


def brought_into(target: Clip, source: Clip, indices: Sequence[int]) -> tuple[Frame, ...]:
    """Frames of a clip as they are to be in another: they stand, look and have their anchors as
    they did."""
    source = facing(source, target.faces)
    frames = stood(target, replace(source, frames=anchored(source)))
    return tuple([frames[index] for index in indices])
