"""What a puppet names that its files of bones do not hold: clips, bones of keys, masks, anchors;
and bones of other files that are none of ours."""

from __future__ import annotations

from collections.abc import Iterator
from typing import NamedTuple

from ...model.puppet import Puppet
from .clip_poses import ClipPoses


class Lost(NamedTuple):
    """Something that is gone: of which collection of the puppet, the id of its entry, and in
    words."""

    field: str
    id: str
    words: str


def lost_parts(poses: ClipPoses) -> tuple[Lost, ...]:
    """What is gone, clip by clip, then of anchors, boxes and layers."""
    return tuple(_lost(poses.puppet, poses))


def _lost(puppet: Puppet, poses: ClipPoses) -> Iterator[Lost]:
    files = {file.id: file.name for file in puppet.bone_files}
    for clip in puppet.clips:
        motion = clip.motion
        if motion is None:
            continue
        if motion.bones in poses.arts and poses.file_clip(motion) is None:
            file = files.get(motion.bones, motion.bones)
            yield Lost("clips", clip.id, f"{clip.name}: {file} has no clip “{motion.clip}”")
        gone = dict.fromkeys(key.bone for key in motion.bone_keys if poses.bone(key.bone) is None)
        for bone in gone:
            yield Lost("clips", clip.id, f"{clip.name}: there is no bone “{bone}” for its keys")
    for anchor in puppet.anchors:
        if anchor.on_bone is not None and poses.bone(anchor.on_bone.bone) is None:
            yield Lost("anchors", anchor.id, f"anchor {anchor.name}: there is no bone "
                                             f"“{anchor.on_bone.bone}”")
    for box in puppet.bone_boxes:
        if poses.bone(box.bone) is None:
            yield Lost("bone_boxes", box.id, f"{box.kind} box: there is no bone “{box.bone}”")
    for layer in puppet.layers:
        named = (*layer.mask, *[each.bone for each in layer.weights])
        for bone in dict.fromkeys(name for name in named if poses.bone(name) is None):
            yield Lost("layers", layer.id, f"layer {layer.name}: there is no bone “{bone}” for its "
                                           "mask")


def unmatched(poses: ClipPoses) -> dict[str, tuple[str, ...]]:
    """By file, the bones of it that move in a clip of the puppet and are none of ours, and which
    nobody has said to be left out."""
    found = {}
    for file in poses.puppet.bone_files[1:]:
        art = poses.arts.get(file.id)
        if art is None:
            continue
        names = art.skeleton.names
        used = {clip.motion.clip for clip in poses.puppet.clips
                if clip.motion is not None and clip.motion.bones == file.id}
        moved = {names[channel.bone] for clip in art.clips if clip.name in used
                 for channel in clip.channels}
        settled = {pair.theirs for pair in file.pairs}
        lost = tuple([name for name in poses.source(file.id).match.lost
                      if name in moved and name not in settled])
        if lost:
            found[file.id] = lost
    return found
