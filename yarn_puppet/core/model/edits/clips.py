"""Edits of sheets and of whole clips."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from typing import Any, TypeVar

from msgspec.structs import replace

from ..basics.ids import all_ids, fitting, free_name, new_id, new_ids
from ..clips import Clip, Frame, Grid, Sheet
from ..events import Moment, Window
from ..puppet import Puppet, find
from .entries import added, changed, removed, with_entries
from .frames.mirroring import brought_into, mirrored_clip

Event = TypeVar("Event", Moment, Window)


def sheet_added(puppet: Puppet, path: str, name: str, grid: Grid | None) -> tuple[Puppet, str]:
    """With a sheet; also its id."""
    id = new_id(name, all_ids(puppet), "sheet")
    return added(puppet, "sheets", Sheet(id, fitting(name), path, grid)), id


def clip_of_frames(
    puppet: Puppet, name: str, frames: Sequence[Frame], **values: Any
) -> tuple[Puppet, str]:
    """With a clip of these frames, looping unless said otherwise; also its id. A name that is taken
    gets a number."""
    name = free_name(name, {clip.name for clip in puppet.clips})
    id = new_id(name, all_ids(puppet), "clip")
    return added(puppet, "clips", Clip(id, name, tuple(frames), **values)), id


def clip_of_some(
    puppet: Puppet, clip: str, indices: Collection[int], name: str
) -> tuple[Puppet, str]:
    """With a clip of copies of some frames of another, which stand, look and have their anchors as
    they do there; also its id."""
    found = find(puppet.clips, clip)
    if found is None:
        return puppet, clip
    chosen = [index for index in sorted(indices) if 0 <= index < len(found.frames)]
    frames = brought_into(found, found, chosen)
    return clip_of_frames(puppet, name, frames, pivot=found.pivot, faces=found.faces)


def clip_changed(puppet: Puppet, id: str, **values: Any) -> Puppet:
    """With other values in a clip."""
    return changed(puppet, "clips", id, **values)


def clip_removed(puppet: Puppet, id: str) -> Puppet:
    """Without a clip; states that played it play nothing."""
    return clip_replaced(puppet, id, None)


def clip_replaced(puppet: Puppet, id: str, by: str | None) -> Puppet:
    """Without a clip, another one in its place wherever it was played or shown; with `by` None
    nothing."""
    puppet = removed(puppet, "clips", id)
    states = tuple(replace(state, clip=by) if state.clip == id else state
                   for state in puppet.states)
    spreads = tuple(replace(spread, clips=tuple(
        replace(clip, clip=by) if clip.clip == id and by is not None else clip
        for clip in spread.clips if clip.clip != id or by is not None
    )) for spread in puppet.spreads)
    puppet = with_entries(with_entries(puppet, "states", states), "spreads", spreads)
    return _shown_replaced(puppet, id, by)


def _shown_replaced(puppet: Puppet, id: str, by: str | None) -> Puppet:
    """With another clip wherever moments and while-rules show it."""
    def ruled(owner: Any) -> Any:
        rules = tuple(replace(rule, clip=by) if rule.clip == id else rule for rule in owner.rules)
        return replace(owner, rules=rules) if rules != owner.rules else owner

    def in_clip(clip: Clip) -> Clip:
        moments = tuple(replace(moment, clip=by) if moment.clip == id else moment
                        for moment in clip.moments)
        windows = tuple(map(ruled, clip.windows))
        same = moments == clip.moments and windows == clip.windows
        return clip if same else replace(clip, moments=moments, windows=windows)

    return replace(puppet, clips=tuple(map(in_clip, puppet.clips)),
                   states=tuple(map(ruled, puppet.states)),
                   groups=tuple(map(ruled, puppet.groups)))


def clip_duplicated(puppet: Puppet, id: str) -> tuple[Puppet, str]:
    """With a copy of a clip right after it; also the copy's id."""
    found = find(puppet.clips, id)
    if found is None:
        return puppet, id
    return copied(puppet, found, found.name)


def mirrored_copy(puppet: Puppet, clip: str) -> tuple[Puppet, str]:
    """With a copy of a clip that faces the other way, everything in it mirrored; also the copy's
    id."""
    found = find(puppet.clips, clip)
    if found is None:
        return puppet, clip
    turned = mirrored_clip(found)
    return copied(puppet, turned, f"{found.name} {turned.faces}")


def with_ids_of_their_own(clip: Clip, taken: set[str]) -> Clip:
    """A clip whose events have ids that are not in `taken`, where they are added."""
    ids = new_ids((event.name for event in clip.events), taken, "event")
    taken.update(ids)
    count = len(clip.moments)
    return replace(
        clip, moments=tuple(replace(each, id=id)
                            for each, id in zip(clip.moments, ids[:count], strict=True)),
        windows=tuple(replace(each, id=id)
                      for each, id in zip(clip.windows, ids[count:], strict=True)))


def copied(puppet: Puppet, clip: Clip, name: str) -> tuple[Puppet, str]:
    """With a clip put after the one it was made from, under a free name and with ids of its own;
    also its id."""
    after = clip.id
    name = free_name(name, {each.name for each in puppet.clips})
    taken = all_ids(puppet)
    id = new_id(name, taken, "clip")
    taken |= {id}
    copy = with_ids_of_their_own(replace(clip, id=id, name=name), taken)
    place = next(number for number, each in enumerate(puppet.clips) if each.id == after) + 1
    return with_entries(puppet, "clips", (*puppet.clips[:place], copy, *puppet.clips[place:])), id
