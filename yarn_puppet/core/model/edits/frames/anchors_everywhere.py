"""An anchor put into all clips at once, as a guess from one frame that has it."""

from __future__ import annotations

from typing import Literal

from msgspec.structs import replace

from ...basics.base import tidy
from ...clips import AnchorPoint, Box, Clip, Frame, Point
from ...puppet import Puppet
from ..entries import with_entries

Beside = Literal["the body box", "the nearest frame"]


def anchor_everywhere(puppet: Puppet, anchor: str, clip: str, index: int, by: Beside) -> Puppet:
    """With an anchor in every frame in which its clip does not have it yet, each such point marked
    as a guess.

    It lies beside the frame's *body box* as it does beside that of frame `index` of `clip`: at the
    same shares of its width and height. By *the nearest frame* that has it in the clip it lies as
    there, from the pivot; in clips that have it nowhere as in frame `index`. Art that faces the
    other way has it mirrored. Without body boxes, the pivot counts.
    """
    found = puppet.clip(clip)
    point = found.anchor_at(index, anchor) if found is not None else None
    if found is None or point is None:
        return puppet
    clips = tuple(_filled(each, anchor, found, index, point, by) for each in puppet.clips)
    return with_entries(puppet, "clips", clips)


def _filled(
    clip: Clip, anchor: str, source: Clip, index: int, point: Point, by: Beside
) -> Clip:
    own = [at for at, frame in enumerate(clip.frames) if frame.anchor(anchor) is not None]
    frames = list(clip.frames)
    for at, frame in enumerate(clip.frames):
        if clip.anchor_at(at, anchor) is not None:
            continue
        if by == "the nearest frame" and own:
            near = min(own, key=lambda each: abs(each - at))
            there = frame_point(clip, near, anchor)
            placed = _from_pivot(clip, near, there, clip, at)
        elif by == "the body box":
            placed = _beside_body(source, index, point, clip, at)
        else:
            placed = _from_pivot(source, index, point, clip, at)
        frames[at] = _with_guess(frame, anchor, placed)
    return clip if frames == list(clip.frames) else replace(clip, frames=tuple(frames))


def frame_point(clip: Clip, index: int, anchor: str) -> Point:
    """The point of an anchor that a frame has itself."""
    found = clip.frames[index].anchor(anchor)
    assert found is not None
    return found


def _with_guess(frame: Frame, anchor: str, point: Point) -> Frame:
    return replace(frame, anchors=(*frame.anchors, AnchorPoint(
        anchor, tidy(point.x), tidy(point.y), guess=True)))


def _from_pivot(source: Clip, index: int, point: Point, clip: Clip, at: int) -> Point:
    before, pivot = source.pivot_of(index), clip.pivot_of(at)
    across = point.x - before.x
    return Point(pivot.x + (across if source.faces == clip.faces else -across),
                 pivot.y + point.y - before.y)


def _beside_body(source: Clip, index: int, point: Point, clip: Clip, at: int) -> Point:
    one, other = _body(source.frames[index]), _body(clip.frames[at])
    if one is None or other is None:
        return _from_pivot(source, index, point, clip, at)
    across, down = (point.x - one.x) / one.width, (point.y - one.y) / one.height
    if source.faces != clip.faces:
        across = 1 - across
    return Point(other.x + across * other.width, other.y + down * other.height)


def _body(frame: Frame) -> Box | None:
    return next((box for box in frame.boxes if box.kind == "body" and not box.name), None)
