"""Clips split in two, and several joined into one: docs/frames.md."""

from __future__ import annotations

from collections.abc import Sequence

from msgspec.structs import replace

from ..basics.base import tidy
from ..basics.ids import all_ids
from ..clips import Clip, Frame, Point
from ..events import Moment, Window
from ..puppet import Puppet, find
from .clips import Event, clip_changed, clip_replaced, copied, with_ids_of_their_own
from .frames.attachments import LEAST_WINDOW, with_length
from .frames.between import anchor_row, anchors_at, anchors_kept, anchors_of
from .frames.mirroring import facing, stood


def clip_split(puppet: Puppet, id: str, at: int) -> tuple[Puppet, str]:
    """With a clip ended before frame `at`, and what comes from there on as a clip of its own; also
    the id of that.

    A moment goes to the part its frame is in; a window that covers frames of both is cut and goes
    on in both.
    """
    found = find(puppet.clips, id)
    if found is None or not 0 < at < len(found.frames):
        return puppet, id
    border = found.start_of(at)
    windows = [with_length(window) for window in found.windows]
    first = anchors_kept(found, replace(found, frames=found.frames[:at]), range(at))
    rest = anchors_kept(found, replace(found, frames=found.frames[at:]),
                        range(at, len(found.frames)))
    rest = replace(
        rest, moments=tuple(_later(moment, -border)
                            for moment in found.moments if moment.at >= border),
        windows=tuple(_later(replace(each, start=max(each.start, border)), -border)
                      for each in windows if each.end > border),
    )
    puppet = clip_changed(
        puppet, id, frames=first.frames,
        moments=tuple(moment for moment in found.moments if moment.at < border),
        windows=tuple(replace(each, end=min(each.end, border))
                      for each in windows if each.start < border),
    )
    return copied(puppet, rest, found.name)


def clips_merged(puppet: Puppet, ids: Sequence[str]) -> Puppet:
    """With some clips joined into the first of them, in this order. States, spreads and whatever
    else played or showed another of them have that one."""
    clips = [clip for clip in (puppet.clip(id) for id in dict.fromkeys(ids)) if clip is not None]
    if len(clips) < 2:
        return puppet
    first, taken = clips[0], all_ids(puppet)
    rows = {anchor: list[Point | None]() for clip in clips for anchor in anchors_of(clip)}
    frames, moments, windows, length = list[Frame](), list[Moment](), list[Window](), 0.0
    whole = tidy(sum(clip.length for clip in clips))
    for number, clip in enumerate(clips):
        if number:
            clip = with_ids_of_their_own(clip, taken)
        turned = facing(clip, first.faces)
        frames += stood(first, turned)
        for anchor, row in rows.items():
            row += anchor_row(turned, anchor)
        moments += [_moment(moment, clip, length, whole) for moment in clip.moments]
        windows += [_window(with_length(window), clip, length, whole) for window in clip.windows]
        length = tidy(length + clip.length)
    for clip in clips[1:]:
        puppet = clip_replaced(puppet, clip.id, first.id)
    made = anchors_at(replace(first, frames=tuple(frames)), rows)
    return clip_changed(puppet, first.id, frames=made.frames, moments=tuple(moments),
                        windows=tuple(windows))


def _moment(moment: Moment, clip: Clip, start: float, whole: float) -> Moment:
    """A moment of a clip that starts so late in the whole. One at its end is a step earlier, where
    more follows."""
    if moment.at > clip.length or not clip.frames:
        return _later(moment, whole - clip.length)
    follows = moment.at == clip.length and tidy(start + clip.length) < whole
    return _later(moment, start - (LEAST_WINDOW if follows else 0.0))


def _window(window: Window, clip: Clip, start: float, whole: float) -> Window:
    """A window of such a clip. What lies past its end stays past the end of the whole."""
    if window.start >= clip.length:
        return _later(window, whole - clip.length)
    last = tidy(start + clip.length) == whole
    return _later(window if last else replace(window, end=min(window.end, clip.length)), start)


def _later(event: Event, by: float) -> Event:
    """A moment or window so many milliseconds later."""
    if isinstance(event, Moment):
        return replace(event, at=tidy(event.at + by))
    return replace(event, start=tidy(event.start + by), end=tidy(event.end + by))
