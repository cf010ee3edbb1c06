"""Edits of what belongs to a frame: its boxes, anchors and pivot. Pixels of the cell."""

from __future__ import annotations

from collections.abc import Collection

from msgspec.structs import replace

from ..clips import Anchor, AnchorPoint, Box, Clip, Frame, Point
from ..ids import all_ids, new_id
from ..puppet import Puppet
from .clips import clip_changed
from .entries import added, tidy
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
    return frame_changed(puppet, clip, index, boxes=(*frame.boxes[:number], *frame.boxes[number + 1:]))


def boxes_copied(puppet: Puppet, clip: str, index: int, kind: str, onto: Collection[int]) -> Puppet:
    """With a frame's boxes of one kind in other frames too, in place of those of that kind there.

    A copy keeps its distance from the pivot, so that it stays at the figure where frames have pivots of their own.
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


def anchor_added(puppet: Puppet, name: str) -> tuple[Puppet, str]:
    """With an anchor; also its id."""
    id = new_id(name, all_ids(puppet), "anchor")
    return added(puppet, "anchors", Anchor(id, name)), id


def anchor_set(puppet: Puppet, clip: str, index: int, anchor: str, x: float, y: float) -> Puppet:
    """With an anchor at a place of a frame."""
    frame = _frame(puppet, clip, index)
    if frame is None:
        return puppet
    kept = tuple(each for each in frame.anchors if each.anchor != anchor)
    return frame_changed(puppet, clip, index, anchors=(*kept, AnchorPoint(anchor, x, y)))


def anchor_cleared(puppet: Puppet, clip: str, index: int, anchor: str) -> Puppet:
    """Without the place an anchor has in a frame: from then on it lies between those of the frames around."""
    frame = _frame(puppet, clip, index)
    if frame is None:
        return puppet
    return frame_changed(puppet, clip, index, anchors=tuple(each for each in frame.anchors if each.anchor != anchor))


def pivot_set(puppet: Puppet, clip: str, index: int | None, pivot: Point | None) -> Puppet:
    """With a pivot for one frame, or for the clip where `index` is None. None is that of the clip, or the default."""
    if index is None:
        return clip_changed(puppet, clip, pivot=pivot)
    return frame_changed(puppet, clip, index, pivot=pivot)


def _frame(puppet: Puppet, clip: str, index: int) -> Frame | None:
    found: Clip | None = puppet.clip(clip)
    return found.frames[index] if found is not None and 0 <= index < len(found.frames) else None
