"""Edits of a clip's frames: their values, their order, copies. What hangs on them goes along."""

from __future__ import annotations

from collections.abc import Callable, Collection, Sequence
from typing import Any

from msgspec.structs import replace

from ...basics.base import tidy
from ...basics.sharing import shared_out
from ...clips import Clip, Frame
from ...puppet import Puppet
from ..entries import changed
from .attachments import LEAST_DURATION, STEPS, reframed, steps
from .mirroring import brought_into


def _edited(puppet: Puppet, clip: str, edit: Callable[[Clip], Clip]) -> Puppet:
    found = puppet.clip(clip)
    if found is None:
        return puppet
    after = edit(found)
    return changed(
        puppet, "clips", clip, frames=after.frames, moments=after.moments, windows=after.windows,
        mode=after.mode
    )


def frames_changed(
    puppet: Puppet, clip: str, indices: Collection[int] | None = None, **values: Any
) -> Puppet:
    """With other values in some frames of a clip, or in all of them. Durations are in whole steps,
    at least 1 ms."""
    if "duration" in values:
        values["duration"] = max(LEAST_DURATION, tidy(values["duration"]))

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
    """With a clip that lasts so long to the thousandth of a millisecond: each frame keeps its
    share, and none is shorter than a millisecond."""

    def edit(found: Clip) -> Clip:
        lasting = shared_out([steps(frame.duration) for frame in found.frames], steps(milliseconds),
                             steps(LEAST_DURATION))
        frames = [replace(each, duration=lasts / STEPS)
                  for each, lasts in zip(found.frames, lasting, strict=True)]
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


def frames_brought(
    puppet: Puppet, source: str, indices: Collection[int], target: str, at: int
) -> Puppet:
    """With copies of some frames of one clip before what is frame `at` of another, or of the same
    one: they stand, look and have their anchors as they did."""
    found, onto = puppet.clip(source), puppet.clip(target)
    if found is None or onto is None:
        return puppet
    chosen = [index for index in sorted(indices) if 0 <= index < len(found.frames)]
    return frames_inserted(puppet, target, brought_into(onto, found, chosen), at)


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
    return frames_brought(puppet, clip, chosen, clip, chosen[-1] + 1)


def frames_removed(puppet: Puppet, clip: str, indices: Collection[int]) -> Puppet:
    """Without some frames. The last frame of a clip stays: remove the clip instead."""

    def edit(found: Clip) -> Clip:
        kept = [index for index in range(len(found.frames)) if index not in indices]
        return reframed(found, [found.frames[index] for index in kept], kept) if kept else found

    return _edited(puppet, clip, edit)


def frames_reversed(puppet: Puppet, clip: str) -> Puppet:
    """With a clip that runs from its end to its start, events and all."""

    def edit(found: Clip) -> Clip:
        order = range(len(found.frames) - 1, -1, -1)
        return reframed(found, tuple(reversed(found.frames)), order, backwards=True)

    return _edited(puppet, clip, edit)
