"""What a game gets of bones: one .glb with the body and every clip on its skeleton, and tables of
clips, keys, masks, momentum and anchors by bone. docs/hand-off.md."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import Any

import msgspec
import numpy as np

from ..engine.program import Program
from ..formats.bones.gltf_writing import glb_and_nodes
from ..formats.bones.puppet_bones import bones_of
from ..generate.flat import flat
from ..generate.language import Language
from ..model.bones import BoneArt, BoneClip, Channel, Skeleton
from ..model.clips import Anchor
from ..model.motions import BoneKey, Motion
from ..model.puppet import Puppet
from ..pose.bones.baking import channels_of
from ..pose.bones.clip_poses import ClipPoses, turn_of
from ..pose.bones.figure_poses import momentum_of
from ..pose.bones.turns import turned_by, with_positive_w

A_SECOND = 120
"""Keys a second of clips that come from another skeleton, beside their own."""


def bone_files(
    puppet: Puppet, program: Program, folder: Path, name: str, languages: Sequence[Language] = ()
) -> dict[str, bytes]:
    """`NAME.bones.glb`, `NAME.bones.json`, and what poses bones in each language; nothing for a
    puppet of sprites. Raises FileProblem where a file of bones cannot be read: a game must not be
    handed less than there is."""
    if not puppet.is_of_bones:
        return {}
    poses = ClipPoses(puppet, bones_of(puppet, folder))
    animations = _Animations(poses)
    table = _table(puppet, program, poses, animations)
    art = BoneArt(poses.skeleton, tuple(animations.made.values()), poses.body.meshes, ())
    content, nodes = glb_and_nodes(art)
    for bone, node in zip(table["bones"], nodes, strict=True):
        bone["node"] = node
    code = {file: text.encode() for language in languages
            for file, text in (*language.bones().items(),
                               *language.bone_tables(name, table).items())}
    return {**code, f"{name}.bones.glb": content,
            f"{name}.bones.json": msgspec.json.format(msgspec.json.encode(table), indent=1) + b"\n"}


class _Animations:
    """The clips of all files on the puppet's skeleton, under names of their own."""

    def __init__(self, poses: ClipPoses) -> None:
        self.poses = poses
        self.made: dict[str, BoneClip] = {}
        self._names: dict[tuple[str, str], str] = {}

    def name_of(self, motion: Motion) -> str | None:
        """What the clip of a motion is called in the .glb; None where it is not there."""
        key = (motion.bones, motion.clip)
        found = self.poses.file_clip(motion)
        if found is None:
            return None
        if key not in self._names:
            name, number = motion.clip or "clip", 2
            while name in self.made:
                name, number = f"{motion.clip} {number}", number + 1
            self._names[key] = name
            self.made[name] = self._on_ours(motion, found)._replace(name=name)
        return self._names[key]

    def _on_ours(self, motion: Motion, clip: BoneClip) -> BoneClip:
        """The whole clip on our skeleton: as it is where it is of it, or of one that rests the
        same; else a key a 120th of a second, and at each of its own."""
        poses, theirs = self.poses, self.poses.arts[motion.bones].skeleton
        if theirs is poses.skeleton:
            return clip
        source = poses.source(motion.bones)
        bones = source.match.ours
        if not source.taking_over.low and _rest_alike(theirs, poses.skeleton, bones):
            kept = tuple([channel._replace(bone=bones[channel.bone]) for channel in clip.channels])
            return BoneClip(clip.name, clip.seconds, _lasting(kept, clip, poses.skeleton))
        own = [channel.times for channel in clip.channels]
        count = int(np.ceil(clip.seconds * A_SECOND)) + 1
        times = np.unique(np.concatenate([
            *own, np.minimum(np.arange(count) / A_SECOND, clip.seconds), np.zeros(1)]))
        whole = Motion(motion.bones, motion.clip, clip.seconds * 1000)
        pose = poses.from_file(whole, times)
        return BoneClip(clip.name, clip.seconds, tuple(channels_of(poses.skeleton, times, pose)))


def _rest_alike(theirs: Skeleton, ours: Skeleton, bones: dict[int, int]) -> bool:
    """Whether every bone of theirs is one of ours that rests the same, under the same."""
    if len(bones) != len(theirs.names) or len(bones) != len(ours.names):
        return False
    order = [bones[number] for number in range(len(bones))]
    parents = tuple([bones.get(parent, -1) for parent in theirs.parents])
    return parents == tuple([ours.parents[bone] for bone in order]) and all(
        np.allclose(one, other[order], atol=1e-6) for one, other in (
            (theirs.places, ours.places), (theirs.turns, ours.turns), (theirs.sizes, ours.sizes),
            (theirs.bases, ours.bases)))


def _lasting(
    channels: tuple[Channel, ...], clip: BoneClip, skeleton: Skeleton
) -> tuple[Channel, ...]:
    """The channels, and where none is as long as the clip, one that is and moves nothing."""
    if any(channel.times[-1] >= clip.seconds for channel in channels):
        return channels
    rest = skeleton.sizes[:1]
    return (*channels, Channel(0, "size", "LINEAR", np.array([0.0, clip.seconds]),
                               np.concatenate([rest, rest])))


def _table(
    puppet: Puppet, program: Program, poses: ClipPoses, animations: _Animations
) -> dict[str, Any]:
    flattened = flat(program)
    skeleton = poses.skeleton
    momentum = momentum_of(puppet)
    clip_ids = list(program.clips)
    layers = {layer.id: layer for layer in puppet.layers}
    return {
        "format": 1, "license": "MIT-0", "rate": puppet.rate,
        "bones": [{"name": name, "parent": parent, "node": -1,
                   **({} if (skeleton.bases[bone] == np.eye(4)).all()
                      else {"base": skeleton.bases[bone].reshape(-1).tolist(),
                            "base_turn": skeleton.base_turns[bone].tolist()})}
                  for bone, (name, parent) in enumerate(
                      zip(skeleton.names, skeleton.parents, strict=True))],
        "clip_ids": clip_ids,
        "clips": [_clip(puppet, id, poses, animations) for id in clip_ids],
        "layer_ids": [layer.id for layer in program.layers],
        "layers": [{
            "mask": poses.mask(layers[each.id]).tolist(), "adds": layers[each.id].adds,
            "reference": _reference(puppet, layers[each.id], clip_ids)}
            for each in program.layers],
        "transition_ids": [each.id for each in flattened.transitions],
        "momentum": [momentum.get(each.id) for each in flattened.transitions] if momentum else None,
        "anchors": [_anchor(anchor, poses) for anchor in puppet.anchors],
        "boxes": [{
            "kind": box.kind, "name": box.name, "shape": box.shape, "bone": poses.bone(box.bone),
            "place": list(box.place),
            "turn": turned_by(np.radians(np.array(box.turn))).tolist(), "size": list(box.size)}
            for box in puppet.bone_boxes if poses.bone(box.bone) is not None],
        "pixels_a_metre": puppet.mover.pixels_a_metre,
    }


def _clip(
    puppet: Puppet, id: str, poses: ClipPoses, animations: _Animations
) -> dict[str, Any] | None:
    clip = puppet.clip(id)
    motion = clip.motion if clip is not None else None
    if motion is None:
        return None
    end = motion.whole if motion.end is None else motion.end
    return {
        "animation": animations.name_of(motion), "start": motion.start / 1000, "end": end / 1000,
        "speed": motion.speed, "keys": _keys(motion.bone_keys, poses),
    }


def _anchor(anchor: Anchor, poses: ClipPoses) -> dict[str, Any] | None:
    """An anchor, none where it is on no bone: its place in the list is what the code calls it."""
    place = anchor.on_bone
    if place is None or poses.bone(place.bone) is None:
        return None
    return {"id": anchor.id, "bone": poses.bone(place.bone), "place": list(place.place),
            "turn": turned_by(np.radians(np.array(place.turn))).tolist(), "size": place.size}


def _keys(keys: tuple[BoneKey, ...], poses: ClipPoses) -> list[dict[str, Any]]:
    found: dict[int, dict[float, list[float]]] = {}
    for key in keys:
        bone = poses.bone(key.bone)
        if bone is not None:
            found.setdefault(bone, {})[key.at / 1000] = with_positive_w(turn_of(key)).tolist()
    return [{"bone": bone, "times": sorted(turns), "turns": [turns[at] for at in sorted(turns)]}
            for bone, turns in found.items()]


def _reference(puppet: Puppet, layer: Any, clip_ids: list[str]) -> dict[str, Any] | None:
    reference = layer.reference
    if reference is None or reference.clip not in clip_ids:
        return None
    return {"clip": clip_ids.index(reference.clip), "at": reference.at / 1000}
