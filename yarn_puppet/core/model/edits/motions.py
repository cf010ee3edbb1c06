"""Edits of clips of bones: files brought in, trimmed, sped up, with keys of ours over them. The
file itself is never touched."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from typing import Any, NamedTuple

from msgspec.structs import replace

from ..basics.ids import all_ids, fitting, free_name, new_id
from ..clips import Clip, PlaybackMode
from ..events import Window
from ..graph import Blend, Layer, State, Transition
from ..motions import BoneFile, BoneKey, BonePair, Motion, Vector
from ..puppet import Puppet, find
from .clips import copied
from .entries import added, changed, tidy, with_entries
from .frames.attachments import with_length

LEAST_LENGTH = 1.0
"""Milliseconds that a clip lasts which is trimmed."""
ARMS_BLEND = 0.15
"""Seconds in which a layer of arms comes and goes."""


class FileClip(NamedTuple):
    """A clip that a file of bones holds: its name there, its milliseconds, how it would best be
    played, and what it is called here where that is not the same."""

    name: str
    milliseconds: float
    mode: PlaybackMode
    called: str = ""


def bone_file_added(
    puppet: Puppet, path: str, name: str, clips: Sequence[FileClip],
    pairs: Sequence[BonePair] = (), digest: str = "",
) -> tuple[Puppet, str]:
    """With a file of bones and a clip for each that it holds; also the file's id."""
    id = new_id(name, all_ids(puppet), "bones")
    puppet = added(puppet, "bone_files", BoneFile(id, fitting(name), path, tuple(pairs), digest))
    for each in clips:
        puppet, _ = clip_of_file(puppet, id, each)
    return puppet, id


def clip_of_file(puppet: Puppet, bones: str, of: FileClip) -> tuple[Puppet, str]:
    """With a clip of a file of bones, whole; also its id."""
    name = free_name(of.called or of.name or "clip", {clip.name for clip in puppet.clips})
    id = new_id(name, all_ids(puppet), "clip")
    motion = Motion(bones, of.name, tidy(of.milliseconds))
    return added(puppet, "clips", Clip(id, name, mode=of.mode, motion=motion)), id


def clips_of_file(puppet: Puppet, bones: str) -> frozenset[str]:
    """The clips of a file that clips of the puppet show, by their names there."""
    return frozenset(clip.motion.clip for clip in puppet.clips
                     if clip.motion is not None and clip.motion.bones == bones)


def bone_file_removed(puppet: Puppet, id: str) -> Puppet:
    """Without a file of bones, where no clip is of it any more."""
    if any(clip.motion is not None and clip.motion.bones == id for clip in puppet.clips):
        return puppet
    return with_entries(puppet, "bone_files",
                        tuple([each for each in puppet.bone_files if each.id != id]))


def paired(puppet: Puppet, bones: str, theirs: str, ours: str | None) -> Puppet:
    """With a bone of a file that is one of ours, or none."""
    file = find(puppet.bone_files, bones)
    if file is None:
        return puppet
    others = tuple([pair for pair in file.pairs if pair.theirs != theirs])
    return changed(puppet, "bone_files", bones, pairs=(*others, BonePair(theirs, ours)))


def unpaired(puppet: Puppet, bones: str, theirs: str) -> Puppet:
    """With a bone of a file that is matched by its name again."""
    file = find(puppet.bone_files, bones)
    if file is None:
        return puppet
    return changed(puppet, "bone_files", bones,
                   pairs=tuple([pair for pair in file.pairs if pair.theirs != theirs]))


def clip_from(puppet: Puppet, clip: str, name: str) -> tuple[Puppet, str]:
    """With a new clip of the same motion as another, to lay keys of ours over; also its id."""
    found = find(puppet.clips, clip)
    if found is None:
        return puppet, clip
    return copied(puppet, replace(found, moments=(), windows=()), name)


# Lengths ------------------------------------------------------------------------------------------


def trimmed(puppet: Puppet, clip: str, start: float, end: float | None) -> Puppet:
    """With a clip that is its file's from `start` to `end`, in milliseconds of the file's clip.
    Keys, moments and windows stay at the poses they are at; what is cut off goes with them."""
    found, motion = _motion(puppet, clip)
    if found is None or motion is None:
        return puppet
    last = motion.whole if end is None else min(end, motion.whole)
    first = max(0.0, min(start, last - min(LEAST_LENGTH, motion.whole)))
    made = replace(motion, start=tidy(first), end=None if last >= motion.whole else tidy(last))
    shift = (motion.start - made.start) / motion.speed
    return _with_motion(puppet, _moved(found, made, 1.0, shift))


def sped(puppet: Puppet, clip: str, speed: float) -> Puppet:
    """With a clip played so many times as fast as its file has it. What stands in it stays at the
    poses it is at."""
    found, motion = _motion(puppet, clip)
    if found is None or motion is None:
        return puppet
    made = replace(motion, speed=min(100.0, max(0.01, speed)))
    return _with_motion(puppet, _moved(found, made, motion.speed / made.speed, 0.0))


def other_motion(
    puppet: Puppet, clip: str, bones: str, name: str, milliseconds: float
) -> Puppet:
    """With a clip that shows another clip of a file, whole. Keys, moments and windows past its end
    come to its end, or go."""
    found, motion = _motion(puppet, clip)
    if found is None or motion is None:
        return puppet
    made = replace(motion, bones=bones, clip=name, whole=tidy(milliseconds), start=0.0, end=None)
    return _with_motion(puppet, _moved(found, made, 1.0, 0.0))


def followed(puppet: Puppet, bones: str, lengths: Mapping[str, float]) -> Puppet:
    """With the clips of a file as long as they are in it now, by name in milliseconds. Those that
    were trimmed stay so, as far as the file goes; those that are gone stay as they were."""
    clips = []
    for clip in puppet.clips:
        motion = clip.motion
        if motion is not None and motion.bones == bones and motion.clip in lengths:
            whole = tidy(lengths[motion.clip])
            if whole != motion.whole:
                end = motion.end if motion.end is not None and motion.end < whole else None
                start = min(motion.start, max(0.0, (whole if end is None else end) - LEAST_LENGTH))
                clip = replace(clip, motion=replace(motion, whole=whole, start=start, end=end))
        clips.append(clip)
    return with_entries(puppet, "clips", tuple(clips))


def bones_as_read(puppet: Puppet, bones: str, digest: str) -> Puppet:
    """With a file of bones of this content."""
    return changed(puppet, "bone_files", bones, digest=digest)


def _motion(puppet: Puppet, clip: str) -> tuple[Clip | None, Motion | None]:
    found = find(puppet.clips, clip)
    return found, found.motion if found is not None else None


def _with_motion(puppet: Puppet, clip: Clip) -> Puppet:
    return with_entries(puppet, "clips", tuple(
        [clip if each.id == clip.id else each for each in puppet.clips]))


def _moved(clip: Clip, motion: Motion, factor: float, shift: float) -> Clip:
    """A clip with another motion, and what stands in it at times the factor, then shifted; what
    lies outside then is gone, a window is cut short."""
    length = tidy(motion.length)

    def at(time: float) -> float:
        return tidy(time * factor + shift)

    keys = _keys_within(motion.bone_keys, at, length)
    moments = tuple([replace(each, at=at(each.at)) for each in clip.moments
                     if 0 <= at(each.at) <= length])
    windows: list[Window] = []
    for each in clip.windows:
        start, end = max(0.0, at(each.start)), min(length, at(each.end))
        if start < end:
            windows.append(with_length(replace(each, start=start, end=end)))
    return replace(clip, motion=replace(motion, bone_keys=keys), moments=moments,
                   windows=tuple(windows))


def _keys_within(keys: tuple[BoneKey, ...], at: Any, length: float) -> tuple[BoneKey, ...]:
    """Keys at their new times. Of those past an end the nearest is kept there: one key holds from
    the start, and where a clip is cut its pose stays as it was, near enough."""
    moved = [replace(key, at=at(key.at)) for key in keys]
    found = []
    for key in moved:
        same = [each for each in moved if each.bone == key.bone]
        if 0 <= key.at <= length:
            found.append(key)
        elif key.at < 0:
            early = [each.at for each in same if each.at <= 0]
            if key.at == max(early):
                found.append(replace(key, at=0.0))
        elif key.at == min(each.at for each in same if each.at >= length):
            found.append(replace(key, at=length))
    return tuple({(key.bone, key.at): key for key in found}.values())


# Keys of ours -------------------------------------------------------------------------------------


def bone_turned(puppet: Puppet, clip: str, bone: str, at: float, turn: Vector) -> Puppet:
    """With a key of ours: a bone turned at a time of a clip, on top of what the file has. One that
    is at this time already is replaced."""
    found, motion = _motion(puppet, clip)
    if found is None or motion is None:
        return puppet
    time = tidy(max(0.0, min(at, found.length)))
    key = BoneKey(bone, time, (tidy(turn[0]), tidy(turn[1]), tidy(turn[2])))
    keys = list(motion.bone_keys)
    place = next((number for number, each in enumerate(keys)
                  if each.bone == bone and each.at == time), None)
    if place is None:
        keys.append(key)
    else:
        keys[place] = key
    return _with_motion(puppet, replace(found, motion=replace(motion, bone_keys=tuple(keys))))


def bone_keys_removed(
    puppet: Puppet, clip: str, bone: str, times: Collection[float] | None = None
) -> Puppet:
    """Without our keys of a bone in a clip: those at these times, or all."""
    found, motion = _motion(puppet, clip)
    if found is None or motion is None:
        return puppet
    kept = tuple([key for key in motion.bone_keys
                  if key.bone != bone or (times is not None and key.at not in times)])
    return _with_motion(puppet, replace(found, motion=replace(motion, bone_keys=kept)))


def bone_key_moved(puppet: Puppet, clip: str, bone: str, at: float, to: float) -> Puppet:
    """With a key of ours at another time; one that was there gives way."""
    found, motion = _motion(puppet, clip)
    key = next((each for each in motion.bone_keys if (each.bone, each.at) == (bone, at)),
               None) if motion is not None else None
    if found is None or motion is None or key is None:
        return puppet
    time = tidy(max(0.0, min(to, found.length)))
    kept = tuple([replace(each, at=time) if each is key else each for each in motion.bone_keys
                  if each is key or (each.bone, each.at) != (bone, time)])
    return _with_motion(puppet, replace(found, motion=replace(motion, bone_keys=kept)))


# Layers of bones ----------------------------------------------------------------------------------


class ArmsLayer(NamedTuple):
    """What *arms of a clip over a state* made: the layer, the state that shows nothing, and the one
    that plays the clip."""

    layer: str
    resting: str
    playing: str


def arms_over(
    puppet: Puppet, clip: str, mask: Sequence[str], when: str, soft: int = 0
) -> tuple[Puppet, ArmsLayer | None]:
    """With a layer that shows a clip on some bones while a condition holds, over whatever is below:
    the layer, its mask, two states and the ways between them. None where the clip is gone."""
    found = find(puppet.clips, clip)
    if found is None:
        return puppet, None
    taken = all_ids(puppet)

    def named(name: str, kind: str) -> str:
        id = new_id(name, taken, kind)
        taken.add(id)
        return id

    names = {node.name for node in puppet.nodes}
    called = free_name(found.name, names)
    resting_name = free_name(f"No {found.name}", names | {called})
    layer_name = free_name("arms", {layer.name for layer in puppet.layers})
    layer, playing, resting = (named(layer_name, "layer"), named(called, "state"),
                               named(resting_name, "state"))
    blend = Blend("crossfade", ARMS_BLEND)
    opposite = f"not ({when})" if " " in when.strip() else f"not {when}"
    puppet = added(puppet, "layers", Layer(layer, layer_name, resting, tuple(mask), soft=soft))
    puppet = added(puppet, "states", State(resting, resting_name, layer),
                   State(playing, called, layer, clip=clip))
    puppet = added(
        puppet, "transitions",
        Transition(named(f"{resting}_to_{playing}", "transition"), resting, playing, when,
                   blend=blend),
        Transition(named(f"{playing}_to_{resting}", "transition"), playing, resting, opposite,
                   blend=blend))
    return puppet, ArmsLayer(layer, resting, playing)
