"""The clips of a puppet as poses of its skeleton: those of files, on our bones, with our keys.

Rules 3 to 5, 10 and 12 of docs/poses.md.
"""

from __future__ import annotations

from collections.abc import Mapping
from itertools import groupby
from typing import TYPE_CHECKING, NamedTuple

import numpy as np

from ...model.bones import BoneArt, BoneClip, Skeleton
from ...model.clips import Clip
from ...model.graph import Layer
from ...model.motions import BoneKey, Motion, Vector
from ...model.puppet import Puppet
from .layering import mask_from
from .matching import BoneMatch, matched
from .sampling import ClipSampler, LocalPose, rest_pose
from .set_right import set_right
from .taking_over import TakingOver, below_rest, roots_at_first
from .turns import product, slerp, turn_about, turned_by

if TYPE_CHECKING:
    from ...model.bones import Floats


class _Source(NamedTuple):
    """A file beside the first: its skeleton, which bone of ours each of its is, and what takes its
    poses over."""

    skeleton: Skeleton
    match: BoneMatch
    taking_over: TakingOver


class ClipPoses:
    """Poses of a puppet's clips. `arts` has what its files of bones hold, by id; the first one's
    skeleton is the puppet's. Raises KeyError where that one is not among them. What was made of the
    same files `before`, for an earlier puppet, is used again; `samplers` may be made already, by
    file and clip."""

    def __init__(
        self, puppet: Puppet, arts: Mapping[str, BoneArt], before: ClipPoses | None = None,
        samplers: Mapping[tuple[str, str], ClipSampler] | None = None,
    ) -> None:
        settings = {file.id: file.setting for file in puppet.bone_files}
        self.puppet, self._as_read = puppet, arts
        self.arts = {id: set_right(art, settings[id]) if id in settings else art
                     for id, art in arts.items()}
        self.body = self.arts[puppet.bone_files[0].id]
        self.skeleton = self.body.skeleton
        self._bone_numbers = {name: number for number, name in enumerate(self.skeleton.names)}
        self._sources: dict[str, _Source] = {}
        self._samplers: dict[tuple[str, str], ClipSampler | None] = {}
        self._keys: dict[tuple[BoneKey, ...], tuple[_BoneTurns, ...]] = {}
        if (before is not None and before.puppet.bone_files == puppet.bone_files
                and before.arts.keys() == arts.keys()
                and all(before.arts[id] is art for id, art in self.arts.items())):
            self._sources, self._samplers = before._sources, before._samplers
        elif samplers is not None:
            self._samplers |= samplers

    @property
    def made_of(self) -> object:
        """The same value for as long as clips of files come out the same."""
        return self._samplers

    def as_read(self, bones: str) -> BoneArt:
        """What a file holds before it is set right, by its id."""
        return self._as_read[bones]

    def bone(self, name: str) -> int | None:
        """The place of a bone, None where there is none of this name."""
        return self._bone_numbers.get(name)

    def at(self, clip: Clip | None, times: Floats) -> LocalPose:
        """The poses of a clip at times of it, in seconds. What is not there shows the rest pose."""
        motion = clip.motion if clip is not None else None
        if motion is None:
            return rest_pose(self.skeleton, len(times))
        pose = self.from_file(motion, times)
        return self._with_keys(pose, motion.bone_keys, times) if motion.bone_keys else pose

    def from_file(self, motion: Motion, times: Floats) -> LocalPose:
        """The same without our keys."""
        sampler = self._sampler(motion)
        if sampler is None:
            return rest_pose(self.skeleton, len(times))
        within = np.clip(times, 0.0, motion.length / 1000)
        pose = sampler.at(motion.start / 1000 + within * motion.speed)
        if self.arts.get(motion.bones) is self.body:
            return pose
        return self.source(motion.bones).taking_over.on_ours(pose)

    def source(self, bones: str) -> _Source:
        """A file's skeleton, and which of our bones its are."""
        known = self._sources.get(bones)
        if known is None:
            art = self.arts[bones]
            theirs = art.skeleton
            file = next(each for each in self.puppet.bone_files if each.id == bones)
            by_hand = {pair.theirs: pair.ours for pair in file.pairs}
            match = matched(theirs, self.skeleton, by_hand)
            known = self._sources[bones] = _Source(theirs, match, TakingOver(
                theirs, self.skeleton, match.ours, below_rest(theirs, roots_at_first(art)),
                file.setting.limbs))
        return known

    def file_clip(self, motion: Motion) -> BoneClip | None:
        """The clip of the file that a motion is, None where it is gone."""
        art = self.arts.get(motion.bones)
        return next((each for each in art.clips if each.name == motion.clip), None) if art else None

    def _sampler(self, motion: Motion) -> ClipSampler | None:
        key = (motion.bones, motion.clip)
        if key not in self._samplers:
            found = self.file_clip(motion)
            self._samplers[key] = (
                ClipSampler(self.arts[motion.bones].skeleton, found) if found is not None else None)
        return self._samplers[key]

    # Keys of ours ---------------------------------------------------------------------------------

    def _with_keys(
        self, pose: LocalPose, keys: tuple[BoneKey, ...], times: Floats
    ) -> LocalPose:
        made = self._keys.get(keys)
        if made is None:
            made = self._keys[keys] = tuple(_by_bone(keys))
        turns = pose.turns.copy()
        for each in made:
            number = self.bone(each.bone)
            if number is not None:
                turns[:, number] = product(turns[:, number], each.at(times))
        return pose._replace(turns=turns)

    def own_turn(self, motion: Motion, bone: str, time: float) -> Vector | None:
        """How our keys turn a bone at a time in seconds, as keys say it; None where it has no
        key."""
        keys = tuple([key for key in motion.bone_keys if key.bone == bone])
        if not keys:
            return None
        axes, angles = turn_about(_by_bone(keys)[0].at(np.array([time])))
        return vector_of(np.degrees(axes[0] * angles[0]))

    # Masks ----------------------------------------------------------------------------------------

    def mask(self, layer: Layer) -> Floats:
        """The weights (bones,) of a layer's mask."""
        found = np.zeros(len(self.skeleton.names))
        if not layer.mask:
            found[:] = 1.0
        for name in layer.mask:
            number = self.bone(name)
            if number is not None:
                found = np.maximum(found, mask_from(self.skeleton, number, layer.soft))
        for each in layer.weights:
            number = self.bone(each.bone)
            if number is not None:
                found[number] = each.weight
        return found

    def reference(self, layer: Layer) -> LocalPose:
        """The pose from which an adding layer's clips differ."""
        if layer.reference is None:
            return rest_pose(self.skeleton)
        return self.at(self.puppet.clip(layer.reference.clip),
                       np.array([layer.reference.at / 1000]))


class _BoneTurns(NamedTuple):
    """Our keys of one bone: `times` in seconds grow, `turns` (keys, 4)."""

    bone: str
    times: Floats
    turns: Floats

    def at(self, times: Floats) -> Floats:
        """The turns at these times: the first key's before it, the last one's after it."""
        before = np.clip(np.searchsorted(self.times, times, side="right") - 1, 0,
                         len(self.times) - 1)
        after = np.minimum(before + 1, len(self.times) - 1)
        span = self.times[after] - self.times[before]
        share = np.divide(np.maximum(times - self.times[before], 0.0), span,
                          out=np.zeros_like(times), where=span > 0)
        return slerp(self.turns[before], self.turns[after], share[:, None])


def vector_of(numbers: Floats) -> Vector:
    """Three numbers as a file has them."""
    x, y, z = [float(number) for number in numbers]
    return x, y, z


def turned_further(turn: Vector, axis: int, degrees: float) -> Vector:
    """A key's turn, then so far about one of the bone's own axes."""
    more = np.zeros(3)
    more[axis] = np.radians(degrees)
    both = product(turned_by(np.radians(np.array(turn))), turned_by(more))
    axes, angles = turn_about(both)
    return vector_of(np.degrees(axes * angles[..., None]))


def turn_of(key: BoneKey) -> Floats:
    """A key's turn as a quaternion."""
    return turned_by(np.radians(np.array(key.turn)))


def _by_bone(keys: tuple[BoneKey, ...]) -> list[_BoneTurns]:
    ordered = sorted(keys, key=lambda key: (key.bone, key.at))
    found = []
    for bone, group in groupby(ordered, key=lambda key: key.bone):
        # Of two at one time the later one in the file counts.
        same = list({key.at: key for key in group}.values())
        found.append(_BoneTurns(bone, np.array([key.at / 1000 for key in same]),
                                np.stack([turn_of(key) for key in same])))
    return found
