"""Edits of sheets and of whole clips."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from msgspec.structs import replace

from ..base import LONGEST_NAME
from ..clips import Clip, Frame, Grid, Point, Sheet
from ..events import Moment, Window
from ..ids import all_ids, free_name, new_id
from ..puppet import Puppet, find
from .entries import added, changed, removed, tidy, with_entries


def sheet_added(puppet: Puppet, path: str, name: str, grid: Grid | None) -> tuple[Puppet, str]:
    """With a sheet; also its id."""
    id = new_id(name, all_ids(puppet), "sheet")
    return added(puppet, "sheets", Sheet(id, name[:LONGEST_NAME], path, grid)), id


def clip_of_frames(puppet: Puppet, name: str, frames: Sequence[Frame], **values: Any) -> tuple[Puppet, str]:
    """With a clip of these frames, looping unless said otherwise; also its id. A name that is taken gets a number."""
    name = free_name(name, {clip.name for clip in puppet.clips})
    id = new_id(name, all_ids(puppet), "clip")
    return added(puppet, "clips", Clip(id, name, tuple(frames), **values)), id


def clip_changed(puppet: Puppet, id: str, **values: Any) -> Puppet:
    """With other values in a clip."""
    return changed(puppet, "clips", id, **values)


def clip_removed(puppet: Puppet, id: str) -> Puppet:
    """Without a clip; states that played it play nothing."""
    return _clip_replaced(puppet, id, None)


def _clip_replaced(puppet: Puppet, id: str, by: str | None) -> Puppet:
    puppet = removed(puppet, "clips", id)
    states = tuple(replace(state, clip=by) if state.clip == id else state for state in puppet.states)
    spreads = tuple(
        replace(spread, clips=tuple(each for each in spread.clips if each.clip != id)) for spread in puppet.spreads
    )
    puppet = with_entries(with_entries(puppet, "states", states), "spreads", spreads)
    return _shown_replaced(puppet, id, by)


def _shown_replaced(puppet: Puppet, id: str, by: str | None) -> Puppet:
    """With another clip wherever moments and while-rules show it."""
    def ruled(owner: Any) -> Any:
        rules = tuple(replace(rule, clip=by) if rule.clip == id else rule for rule in owner.rules)
        return replace(owner, rules=rules) if rules != owner.rules else owner

    def in_clip(clip: Clip) -> Clip:
        moments = tuple(replace(each, clip=by) if each.clip == id else each for each in clip.moments)
        windows = tuple(map(ruled, clip.windows))
        same = moments == clip.moments and windows == clip.windows
        return clip if same else replace(clip, moments=moments, windows=windows)

    return replace(puppet, clips=tuple(map(in_clip, puppet.clips)), states=tuple(map(ruled, puppet.states)),
                   groups=tuple(map(ruled, puppet.groups)))


def clip_duplicated(puppet: Puppet, id: str) -> tuple[Puppet, str]:
    """With a copy of a clip right after it; also the copy's id."""
    found = find(puppet.clips, id)
    if found is None:
        return puppet, id
    return _copied(puppet, found, found.name)


def clip_split(puppet: Puppet, id: str, at: int) -> tuple[Puppet, str]:
    """With a clip ended before frame `at`, and what comes from there on as a clip of its own; also the id of that.

    A moment goes to the part it falls in; a window that spans the border is cut there and goes on in both.
    """
    found = find(puppet.clips, id)
    if found is None or not 0 < at < len(found.frames):
        return puppet, id
    border = found.start_of(at)
    rest = replace(
        found, frames=found.frames[at:],
        moments=tuple(_shifted(each, -border) for each in found.moments if each.at >= border),
        windows=tuple(_shifted(each, -border) for each in found.windows if each.end > border),
    )
    puppet = clip_changed(
        puppet, id, frames=found.frames[:at], moments=tuple(each for each in found.moments if each.at < border),
        windows=tuple(replace(each, end=min(each.end, border)) for each in found.windows if each.start < border),
    )
    return _copied(puppet, rest, found.name)


def clips_merged(puppet: Puppet, ids: Sequence[str]) -> Puppet:
    """With some clips joined into the first of them, in this order. States that played another play that one."""
    clips = [clip for clip in (puppet.clip(id) for id in ids) if clip is not None]
    if len(clips) < 2:
        return puppet
    first, frames, moments, windows, length = clips[0], list[Frame](), list[Moment](), list[Window](), 0.0
    for clip in clips:
        moments += [_shifted(each, length) for each in clip.moments]
        windows += [_shifted(each, length) for each in clip.windows]
        # Each frame stands as it did in its own clip.
        like_first = replace(first, frames=tuple(replace(frame, pivot=None) for frame in clip.frames))
        frames += [
            replace(frame, pivot=None if clip.pivot_of(index) == like_first.pivot_of(index) else clip.pivot_of(index))
            for index, frame in enumerate(clip.frames)
        ]
        length += clip.length
    for clip in clips[1:]:
        puppet = _clip_replaced(puppet, clip.id, first.id)
    return clip_changed(puppet, first.id, frames=tuple(frames), moments=tuple(moments), windows=tuple(windows))


def mirrored_copy(puppet: Puppet, clip: str) -> tuple[Puppet, str]:
    """With a copy of a clip that faces the other way, everything in it mirrored; also the copy's id."""
    found = find(puppet.clips, clip)
    if found is None:
        return puppet, clip
    side = "left" if found.faces == "right" else "right"
    width = found.frames[0].cell.width if found.frames else 0
    turned = replace(
        found, faces=side, frames=tuple(_mirrored(frame) for frame in found.frames),
        pivot=replace(found.pivot, x=tidy(width - found.pivot.x)) if found.pivot else None,
    )
    return _copied(puppet, turned, f"{found.name} {side}")


def _mirrored(frame: Frame) -> Frame:
    width = frame.cell.width
    return replace(
        frame, mirrored=not frame.mirrored,
        pivot=Point(tidy(width - frame.pivot.x), frame.pivot.y) if frame.pivot else None,
        boxes=tuple(replace(box, x=tidy(width - box.x - box.width)) for box in frame.boxes),
        anchors=tuple(replace(each, x=tidy(width - each.x)) for each in frame.anchors),
    )


def _copied(puppet: Puppet, clip: Clip, name: str) -> tuple[Puppet, str]:
    """With a clip put after the one it was made from, under a free name and with ids of its own; also its id."""
    after = clip.id
    name = free_name(name, {each.name for each in puppet.clips})
    taken = all_ids(puppet)
    id = new_id(name, taken, "clip")
    taken |= {id}
    events: list[Any] = []
    for event in clip.events:
        events.append(replace(event, id=new_id(event.name, taken, "event")))
        taken.add(events[-1].id)
    copy = replace(
        clip, id=id, name=name, moments=tuple(each for each in events if isinstance(each, Moment)),
        windows=tuple(each for each in events if isinstance(each, Window)),
    )
    place = next(number for number, each in enumerate(puppet.clips) if each.id == after) + 1
    return with_entries(puppet, "clips", (*puppet.clips[:place], copy, *puppet.clips[place:])), id


def _shifted(event: Any, by: float) -> Any:
    """A moment or window that much later, in milliseconds; never before nought."""
    if isinstance(event, Moment):
        return replace(event, at=tidy(max(0.0, event.at + by)))
    return replace(event, start=tidy(max(0.0, event.start + by)), end=tidy(max(0.0, event.end + by)))
