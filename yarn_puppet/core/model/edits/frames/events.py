"""Edits of the moments and windows of clips."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from typing import Any, Literal, TypeVar

from msgspec.structs import replace

from ...basics.ids import all_ids, fitting, new_id
from ...clips import Clip
from ...events import Moment, Window
from ...puppet import Puppet
from ..clips import clip_changed
from ..entries import tidy
from .attachments import LEAST_WINDOW, with_length

LATEST = 1e9
"""Milliseconds that no time of a clip comes after."""
Event = TypeVar("Event", Moment, Window)


def event_of(clip: Clip, id: str | None) -> Moment | Window | None:
    """The moment or window of this id, or None."""
    return next((event for event in clip.events if event.id == id), None)


def event_added(puppet: Puppet, clip: str, event: Moment | Window) -> tuple[Puppet, str]:
    """With a moment or window in a clip, under a new id, which is also given."""
    found = puppet.clip(clip)
    id = new_id(event.name, all_ids(puppet), "event")
    if found is None:
        return puppet, id
    name = fitting(event.name)
    if isinstance(event, Moment):
        moment = replace(_within(found.borders, event), id=id, name=name)
        return clip_changed(puppet, clip, moments=(*found.moments, moment)), id
    window = replace(_within(found.borders, event), id=id, name=name)
    return clip_changed(puppet, clip, windows=(*found.windows, window)), id


def event_changed(puppet: Puppet, clip: str, id: str, /, **values: Any) -> Puppet:
    """With other values in a moment or window of a clip. A window has a length; no time is put past
    the end."""
    found = puppet.clip(clip)
    if found is None:
        return puppet
    if "name" in values:
        values["name"] = fitting(values["name"])
    timed = [field for field in ("at", "start", "end") if field in values]
    values |= {field: tidy(values[field]) for field in timed}
    borders = found.borders

    def with_values(event: Event) -> Event:
        # Whoever changes a guess has looked at it.
        touched = values if isinstance(event, Moment) else {"guess": False, **values}
        made = replace(event, **touched)
        return _within(borders, made) if timed else made

    moments = tuple(with_values(moment) if moment.id == id else moment for moment in found.moments)
    windows = tuple(with_values(window) if window.id == id else window for window in found.windows)
    return clip_changed(puppet, clip, moments=moments, windows=windows)


def _within(borders: Sequence[float], event: Event) -> Event:
    """An event inside the clip of these borders, a window of some length: what is past the end is
    put to the end. A clip without frames has no end yet."""
    length = borders[-1] or LATEST
    if isinstance(event, Moment):
        return replace(event, at=min(event.at, length))
    window = with_length(event)
    if window.end <= length:
        return window
    return replace(window, start=min(window.start, tidy(length - LEAST_WINDOW)), end=length)


def events_moved(puppet: Puppet, clip: str, ids: Collection[str], by: float) -> Puppet:
    """With moments and windows moved by some milliseconds together, as far as all of them stay
    inside the clip."""
    found = puppet.clip(clip)
    chosen = [event for event in found.events if event.id in ids] if found else []
    if found is None or not chosen:
        return puppet
    first = min(each.at if isinstance(each, Moment) else min(each.start, each.end)
                for each in chosen)
    last = max(each.at if isinstance(each, Moment) else max(each.start, each.end)
               for each in chosen)
    by = max(-first, min(by, max(0.0, found.length - last)))
    return clip_changed(
        puppet, clip,
        moments=tuple(
            replace(moment, at=tidy(moment.at + by)) if moment.id in ids else moment
            for moment in found.moments
        ),
        windows=tuple(
            replace(window, start=tidy(window.start + by), end=tidy(window.end + by), guess=False)
            if window.id in ids else window
            for window in found.windows
        ),
    )


def events_copied(
    puppet: Puppet, clip: str, ids: Collection[str], target: str
) -> tuple[Puppet, tuple[str, ...]]:
    """With copies of moments and windows in another clip, at the same times, no later than its end;
    also their ids.

    Of a window that would start past the end the copy covers the last frame.
    """
    found, onto = puppet.clip(clip), puppet.clip(target)
    copies: list[str] = []
    if found is None or onto is None:
        return puppet, ()
    length = onto.length
    for event in found.events:
        if event.id not in ids:
            continue
        if isinstance(event, Moment):
            event = replace(event, at=min(event.at, length))
        elif event.start >= length:
            event = replace(event, start=onto.start_of(max(0, len(onto.frames) - 1)), end=length)
        else:
            event = replace(event, end=min(event.end, length))
        puppet, id = event_added(puppet, target, event)
        copies.append(id)
    return puppet, tuple(copies)


def events_carried(
    puppet: Puppet, clip: str, target: str, by: Literal["frames", "share"]
) -> Puppet:
    """With all moments and windows of a clip in another one that has none of that name, which was
    drawn in its place: each in the frame of the same number, as far into it, or at the same share
    of the whole length. What is past the target's last frame covers that."""
    found, onto = puppet.clip(clip), puppet.clip(target)
    if found is None or onto is None or not found.plays or not onto.plays:
        return puppet
    known = {(type(event), event.kind, event.name) for event in onto.events}

    def at(time: float) -> float:
        if by == "share" or found.motion is not None or onto.motion is not None:
            return tidy(time / found.length * onto.length)
        index = found.frame_at(time)
        if time >= found.length or index >= len(onto.frames):
            return onto.length
        share = (time - found.start_of(index)) / found.frames[index].duration
        return tidy(onto.start_of(index) + share * onto.frames[index].duration)

    for event in found.events:
        if (type(event), event.kind, event.name) in known:
            continue
        if isinstance(event, Moment):
            last = max(0.0, tidy(onto.length - LEAST_WINDOW))
            puppet, _ = event_added(puppet, target, replace(event, at=min(at(event.at), last)
                                                            if event.at < found.length
                                                            else onto.length))
        else:
            start = min(at(event.start), onto.start_of(max(0, len(onto.borders) - 2)))
            puppet, _ = event_added(puppet, target, replace(
                event, start=start, end=max(at(event.end), tidy(start + LEAST_WINDOW))))
    return puppet


def events_removed(puppet: Puppet, clip: str, ids: Collection[str]) -> Puppet:
    """Without some moments and windows."""
    found = puppet.clip(clip)
    if found is None:
        return puppet
    return clip_changed(
        puppet, clip, moments=tuple(moment for moment in found.moments if moment.id not in ids),
        windows=tuple(window for window in found.windows if window.id not in ids),
    )
