"""Edits of what belongs to a frame: its boxes, anchors and pivot. Pixels of the cell."""

from __future__ import annotations

from collections.abc import Collection

from msgspec.structs import replace

from ...basics.ids import all_ids, fitting, new_id
from ...clips import Anchor, AnchorPoint, Box, Clip, Frame, Point
from ...events import Window
from ...puppet import Puppet
from ..clips import clip_changed
from ..entries import added, tidy
from .frames import frame_changed


def box_added(puppet: Puppet, clip: str, index: int, box: Box) -> Puppet:
    """With one more box in a frame."""
    frame = _frame(puppet, clip, index)
    return frame_changed(puppet, clip, index, boxes=(*frame.boxes, box)) if frame else puppet


def box_changed(puppet: Puppet, clip: str, index: int, number: int, box: Box) -> Puppet:
    """With another box in place of a frame's box `number`."""
    frame = _frame(puppet, clip, index)
    if frame is None or not 0 <= number < len(frame.boxes):
        return puppet
    boxes = (*frame.boxes[:number], box, *frame.boxes[number + 1:])
    return frame_changed(puppet, clip, index, boxes=boxes)


def box_removed(puppet: Puppet, clip: str, index: int, number: int) -> Puppet:
    """Without a frame's box `number`."""
    frame = _frame(puppet, clip, index)
    if frame is None or not 0 <= number < len(frame.boxes):
        return puppet
    return frame_changed(puppet, clip, index,
                         boxes=(*frame.boxes[:number], *frame.boxes[number + 1:]))


def boxes_copied(puppet: Puppet, clip: str, index: int, kind: str, onto: Collection[int]) -> Puppet:
    """With a frame's boxes of one kind in other frames too, in place of those of that kind there.

    A copy keeps its distance from the pivot, so that it stays at the figure where frames have
    pivots of their own.
    """
    found = puppet.clip(clip)
    frame = _frame(puppet, clip, index)
    if found is None or frame is None:
        return puppet
    here = found.pivot_of(index)
    for each in onto:
        target = _frame(puppet, clip, each)
        if target is None or each == index:
            continue
        there = found.pivot_of(each)
        copies = (
            replace(box, x=tidy(box.x + there.x - here.x), y=tidy(box.y + there.y - here.y))
            for box in frame.boxes if box.kind == kind
        )
        kept = (box for box in target.boxes if box.kind != kind)
        puppet = frame_changed(puppet, clip, each, boxes=(*kept, *copies))
    return puppet


def hit_box_through_window(puppet: Puppet, clip: str, index: int) -> Puppet:
    """With the last hit box of a frame in every other frame under a hit window it belongs to that
    has no hit box yet.

    A window hits on all its frames; a frame without a box would be a hole in it.
    """
    found, frame = puppet.clip(clip), _frame(puppet, clip, index)
    boxes = [box for box in frame.boxes if box.kind == "hit"] if frame is not None else []
    if found is None or not boxes:
        return puppet
    under = [
        number for number, each in enumerate(found.frames)
        if number != index and not any(box.kind == "hit" for box in each.boxes) and any(
            window.kind == "hit" and boxes[-1].name in ("", window.name)
            and _covers(found, window, number)
            and _covers(found, window, index) for window in found.windows)
    ]
    here = found.pivot_of(index)
    for number in under:
        there = found.pivot_of(number)
        copy = replace(boxes[-1], x=tidy(boxes[-1].x + there.x - here.x),
                       y=tidy(boxes[-1].y + there.y - here.y))
        puppet = box_added(puppet, clip, number, copy)
    return puppet


def _covers(clip: Clip, window: Window, index: int) -> bool:
    return window.start < clip.start_of(index + 1) and window.end > clip.start_of(index)


def anchor_added(puppet: Puppet, name: str) -> tuple[Puppet, str]:
    """With an anchor; also its id."""
    id = new_id(name, all_ids(puppet), "anchor")
    return added(puppet, "anchors", Anchor(id, fitting(name))), id


def anchor_set(puppet: Puppet, clip: str, index: int, anchor: str, x: float, y: float) -> Puppet:
    """With an anchor at a place of a frame."""
    frame = _frame(puppet, clip, index)
    if frame is None:
        return puppet
    kept = tuple(each for each in frame.anchors if each.anchor != anchor)
    return frame_changed(puppet, clip, index, anchors=(*kept, AnchorPoint(anchor, x, y)))


def anchor_cleared(puppet: Puppet, clip: str, index: int, anchor: str) -> Puppet:
    """Without the place an anchor has in a frame: from then on it lies between those of the frames
    around."""
    frame = _frame(puppet, clip, index)
    if frame is None:
        return puppet
    return frame_changed(puppet, clip, index,
                         anchors=tuple(each for each in frame.anchors if each.anchor != anchor))


def pivot_set(puppet: Puppet, clip: str, index: int | None, pivot: Point | None) -> Puppet:
    """With a pivot for one frame, or for the clip where `index` is None. None is that of the clip,
    or the default."""
    if index is None:
        return clip_changed(puppet, clip, pivot=pivot)
    return frame_changed(puppet, clip, index, pivot=pivot)


def _frame(puppet: Puppet, clip: str, index: int) -> Frame | None:
    found: Clip | None = puppet.clip(clip)
    return found.frames[index] if found is not None and 0 <= index < len(found.frames) else None
