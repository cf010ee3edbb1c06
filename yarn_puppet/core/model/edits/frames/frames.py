"""Edits of a clip's frames. Moments and windows stay with the frames they are on, however long those become."""

from __future__ import annotations

from collections.abc import Callable, Collection, Sequence
from typing import Any

from msgspec.structs import replace

from ...clips import Clip, Frame
from ...events import Window
from ...puppet import Puppet
from ..entries import changed, tidy

LEAST_DURATION = 1.0
"""Milliseconds."""


def reframed(clip: Clip, frames: Sequence[Frame], origins: Sequence[int | None]) -> Clip:
    """A clip with other frames. `origins[i]` is the old index of what is now frame i, None for one that is new.

    A moment keeps its place within its frame, a window both of its ends. What was on a frame that is gone goes to
    the nearest frame that is left: forwards for a moment or a start, backwards for an end.
    """
    made = replace(clip, frames=tuple(frames))
    same = len(frames) == len(clip.frames) and all(
        origin == index and frame.duration == clip.frames[index].duration
        for index, (origin, frame) in enumerate(zip(origins, frames, strict=True))
    )
    if same or not clip.events or not frames or not clip.frames:
        return made
    places = {origin: place for place, origin in reversed(list(enumerate(origins))) if origin is not None}

    def moved(time: float, index: int, forwards: bool) -> float:
        start, duration = clip.start_of(index), clip.frames[index].duration
        share = min(1.0, (time - start) / duration)
        if index in places:
            at = places[index]
            return tidy(made.start_of(at) + share * made.frames[at].duration)
        later = next((places[each] for each in range(index + 1, len(clip.frames)) if each in places), None)
        earlier = next((places[each] for each in range(index - 1, -1, -1) if each in places), None)
        if later is not None and (forwards or earlier is None):
            return made.start_of(later)
        return made.start_of(earlier + 1) if earlier is not None else min(time, made.length)

    def start(time: float) -> float:
        return moved(time, clip.frame_at(time), True)

    def end(time: float) -> float:
        # An end on the border of two frames belongs to the first of them.
        index = max(0, next((at for at in range(len(clip.frames)) if time <= clip.start_of(at + 1)),
                            len(clip.frames) - 1))
        return moved(time, index, False)

    return replace(
        made,
        moments=tuple(replace(each, at=start(each.at)) for each in clip.moments),
        windows=tuple(ordered(replace(each, start=start(each.start), end=end(each.end))) for each in clip.windows),
    )


def _edited(puppet: Puppet, clip: str, edit: Callable[[Clip], Clip]) -> Puppet:
    found = puppet.clip(clip)
    if found is None:
        return puppet
    after = edit(found)
    return changed(
        puppet, "clips", clip, frames=after.frames, moments=after.moments, windows=after.windows, mode=after.mode
    )


def frames_changed(puppet: Puppet, clip: str, indices: Collection[int] | None = None, **values: Any) -> Puppet:
    """With other values in some frames of a clip, or in all of them."""

    def edit(found: Clip) -> Clip:
        frames = [
            replace(frame, **values) if indices is None or index in indices else frame
            for index, frame in enumerate(found.frames)
        ]
        return reframed(found, frames, range(len(frames)))

    return _edited(puppet, clip, edit)


def frame_changed(puppet: Puppet, clip: str, index: int, **values: Any) -> Puppet:
    """With other values in one frame."""
    return frames_changed(puppet, clip, (index,), **values)


def length_set(puppet: Puppet, clip: str, milliseconds: float) -> Puppet:
    """With a clip that lasts so long: each frame keeps its share, and no frame is shorter than a millisecond."""

    def edit(found: Clip) -> Clip:
        scale = milliseconds / found.length if found.length else 1.0
        frames = [replace(each, duration=max(LEAST_DURATION, tidy(each.duration * scale))) for each in found.frames]
        return reframed(found, frames, range(len(frames)))

    return _edited(puppet, clip, edit)


def frames_moved(puppet: Puppet, clip: str, indices: Collection[int], to: int) -> Puppet:
    """With some frames, in their order, put before what is frame `to`; `len(frames)` is the end."""

    def edit(found: Clip) -> Clip:
        moving = [index for index in range(len(found.frames)) if index in indices]
        staying = [index for index in range(len(found.frames)) if index not in indices]
        place = sum(index < to for index in staying)
        order = [*staying[:place], *moving, *staying[place:]]
        return reframed(found, [found.frames[index] for index in order], order)

    return _edited(puppet, clip, edit)


def frames_inserted(puppet: Puppet, clip: str, frames: Sequence[Frame], at: int) -> Puppet:
    """With new frames before what is frame `at`."""

    def edit(found: Clip) -> Clip:
        place = max(0, min(at, len(found.frames)))
        origins = [*range(place), *[None] * len(frames), *range(place, len(found.frames))]
        return reframed(found, (*found.frames[:place], *frames, *found.frames[place:]), origins)

    return _edited(puppet, clip, edit)


def frames_copied(puppet: Puppet, clip: str, indices: Collection[int]) -> Puppet:
    """With copies of some frames, in their order, after the last of them."""
    found = puppet.clip(clip)
    chosen = [index for index in sorted(indices) if found and 0 <= index < len(found.frames)]
    if found is None or not chosen:
        return puppet
    return frames_inserted(puppet, clip, [found.frames[index] for index in chosen], chosen[-1] + 1)


def frames_removed(puppet: Puppet, clip: str, indices: Collection[int]) -> Puppet:
    """Without some frames. The last frame of a clip stays: remove the clip instead."""

    def edit(found: Clip) -> Clip:
        kept = [index for index in range(len(found.frames)) if index not in indices]
        return reframed(found, [found.frames[index] for index in kept], kept) if kept else found

    return _edited(puppet, clip, edit)


def frames_reversed(puppet: Puppet, clip: str) -> Puppet:
    """With a clip that runs from its end to its start, events and all."""

    def edit(found: Clip) -> Clip:
        length = found.length

        def turned(time: float) -> float:
            return tidy(max(0.0, length - time))

        return replace(
            found, frames=tuple(reversed(found.frames)),
            moments=tuple(replace(each, at=turned(each.at)) for each in found.moments),
            windows=tuple(replace(each, start=turned(each.end), end=turned(each.start)) for each in found.windows),
        )

    return _edited(puppet, clip, edit)


def ordered(window: Window) -> Window:
    """The window with its ends in order."""
    return window if window.start <= window.end else replace(window, start=window.end, end=window.start)
