"""Edits of sheets, clips, frames, boxes, anchors, moments and windows."""

from __future__ import annotations

from typing import Any

from msgspec.structs import replace

from ..clips import Anchor, AnchorPoint, Box, Cell, Clip, Frame, Grid, Moment, Point, Sheet, Window
from ..ids import all_ids, free_name, new_id
from ..puppet import Puppet, find
from .entries import added, changed, removed


def sheet_added(puppet: Puppet, path: str, name: str, grid: Grid | None) -> tuple[Puppet, str]:
    """With a sheet; also its id."""
    id = new_id(name, all_ids(puppet), "sheet")
    return added(puppet, "sheets", Sheet(id, name, path, grid)), id


def clip_added(puppet: Puppet, name: str, cells: tuple[Cell, ...], duration: float = 100.0) -> tuple[Puppet, str]:
    """With a looping clip of these cells, each shown for `duration` milliseconds; also the clip's id."""
    name = free_name(name, {clip.name for clip in puppet.clips})
    id = new_id(name, all_ids(puppet), "clip")
    return added(puppet, "clips", Clip(id, name, tuple(Frame(cell, duration) for cell in cells))), id


def clip_changed(puppet: Puppet, id: str, **values: Any) -> Puppet:
    """With other values in a clip."""
    return changed(puppet, "clips", id, **values)


def clip_removed(puppet: Puppet, id: str) -> Puppet:
    """Without a clip; states that played it play nothing."""
    puppet = removed(puppet, "clips", id)
    states = tuple(replace(state, clip=None) if state.clip == id else state for state in puppet.states)
    return replace(puppet, states=states)


def frame_changed(puppet: Puppet, clip: str, index: int, **values: Any) -> Puppet:
    """With other values in one frame."""
    found = puppet.clip(clip)
    if found is None or not 0 <= index < len(found.frames):
        return puppet
    frames = list(found.frames)
    frames[index] = replace(frames[index], **values)
    return clip_changed(puppet, clip, frames=tuple(frames))


def frames_changed(puppet: Puppet, clip: str, **values: Any) -> Puppet:
    """With other values in every frame of a clip."""
    found = puppet.clip(clip)
    if found is None:
        return puppet
    return clip_changed(puppet, clip, frames=tuple(replace(frame, **values) for frame in found.frames))


def frame_moved(puppet: Puppet, clip: str, index: int, to: int) -> Puppet:
    """With a frame put at another place of its clip."""
    found = puppet.clip(clip)
    if found is None or not 0 <= index < len(found.frames):
        return puppet
    frames = list(found.frames)
    frames.insert(to, frames.pop(index))
    return clip_changed(puppet, clip, frames=tuple(frames))


def frame_removed(puppet: Puppet, clip: str, index: int) -> Puppet:
    """Without a frame. The last one of a clip stays: remove the clip instead."""
    found = puppet.clip(clip)
    if found is None or len(found.frames) < 2 or not 0 <= index < len(found.frames):
        return puppet
    return clip_changed(puppet, clip, frames=found.frames[:index] + found.frames[index + 1:])


def box_set(puppet: Puppet, clip: str, index: int, box: Box) -> Puppet:
    """With a box in a frame, in place of the one of its kind and name."""
    found = puppet.clip(clip)
    if found is None or not 0 <= index < len(found.frames):
        return puppet
    frame = found.frames[index]
    kept = tuple(each for each in frame.boxes if (each.kind, each.name) != (box.kind, box.name))
    return frame_changed(puppet, clip, index, boxes=(*kept, box))


def box_removed(puppet: Puppet, clip: str, index: int, box: Box) -> Puppet:
    """Without a box of a frame."""
    found = puppet.clip(clip)
    if found is None or not 0 <= index < len(found.frames):
        return puppet
    boxes = tuple(each for each in found.frames[index].boxes if each != box)
    return frame_changed(puppet, clip, index, boxes=boxes)


def anchor_added(puppet: Puppet, name: str) -> tuple[Puppet, str]:
    """With an anchor; also its id."""
    id = new_id(name, all_ids(puppet), "anchor")
    return added(puppet, "anchors", Anchor(id, name)), id


def anchor_set(puppet: Puppet, clip: str, index: int, anchor: str, x: float, y: float) -> Puppet:
    """With an anchor at a place of a frame, in pixels of its cell."""
    found = puppet.clip(clip)
    if found is None or not 0 <= index < len(found.frames):
        return puppet
    kept = tuple(each for each in found.frames[index].anchors if each.anchor != anchor)
    return frame_changed(puppet, clip, index, anchors=(*kept, AnchorPoint(anchor, x, y)))


def event_added(puppet: Puppet, clip: str, event: Moment | Window) -> tuple[Puppet, str]:
    """With a moment or window in a clip, under a new id, which is also given."""
    found = puppet.clip(clip)
    id = new_id(event.name, all_ids(puppet), "event")
    if found is None:
        return puppet, id
    event = replace(event, id=id)
    field = "moments" if isinstance(event, Moment) else "windows"
    return clip_changed(puppet, clip, **{field: (*getattr(found, field), event)}), id


def event_changed(puppet: Puppet, clip: str, id: str, **values: Any) -> Puppet:
    """With other values in a moment or window of a clip. A window never ends before it starts."""
    found = puppet.clip(clip)
    if found is None:
        return puppet
    moments = tuple(replace(each, **values) if each.id == id else each for each in found.moments)
    windows = tuple(_ordered(replace(each, **values)) if each.id == id else each for each in found.windows)
    return clip_changed(puppet, clip, moments=moments, windows=windows)


def event_removed(puppet: Puppet, clip: str, id: str) -> Puppet:
    """Without a moment or window."""
    found = puppet.clip(clip)
    if found is None:
        return puppet
    return clip_changed(
        puppet, clip, moments=tuple(each for each in found.moments if each.id != id),
        windows=tuple(each for each in found.windows if each.id != id),
    )


def event_of(clip: Clip, id: str | None) -> Moment | Window | None:
    """The moment or window of this id, or None."""
    return next((each for each in clip.events if each.id == id), None)


def mirrored_copy(puppet: Puppet, clip: str) -> tuple[Puppet, str]:
    """With a copy of a clip that faces the other way, everything in it mirrored; also the copy's id."""
    found = find(puppet.clips, clip)
    if found is None:
        return puppet, clip
    side = "left" if found.faces == "right" else "right"
    name = free_name(f"{found.name} {side}", {each.name for each in puppet.clips})
    id = new_id(name, all_ids(puppet), "clip")
    taken = all_ids(puppet) | {id}
    events: list[Any] = []
    for event in found.events:
        events.append(replace(event, id=new_id(event.name, taken, "event")))
        taken.add(events[-1].id)
    width = found.frames[0].cell.width if found.frames else 0
    copy = replace(
        found, id=id, name=name, faces=side, frames=tuple(_mirrored(frame) for frame in found.frames),
        pivot=replace(found.pivot, x=_tidy(width - found.pivot.x)) if found.pivot else None,
        moments=tuple(each for each in events if isinstance(each, Moment)),
        windows=tuple(each for each in events if isinstance(each, Window)),
    )
    return added(puppet, "clips", copy), id


def _mirrored(frame: Frame) -> Frame:
    width = frame.cell.width
    return replace(
        frame, mirrored=not frame.mirrored,
        pivot=Point(_tidy(width - frame.pivot.x), frame.pivot.y) if frame.pivot else None,
        boxes=tuple(replace(box, x=_tidy(width - box.x - box.width)) for box in frame.boxes),
        anchors=tuple(replace(each, x=_tidy(width - each.x)) for each in frame.anchors),
    )


def _tidy(pixels: float) -> float:
    """A thousandth of a pixel is fine enough; the noise of a subtraction should not reach the file."""
    return round(pixels, 3)


def _ordered(window: Window) -> Window:
    return window if window.start <= window.end else replace(window, start=window.end, end=window.start)
