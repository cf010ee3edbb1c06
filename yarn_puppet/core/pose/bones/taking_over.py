"""Poses of one skeleton taken over on another. docs/poses.md 10."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING

import numpy as np

from ...model.bones import BoneArt, Skeleton
from .limb_ways import limb_turns
from .sampling import ClipSampler, LocalPose, rest_pose
from .turns import inverse, product
from .world_pose import WorldPose, in_world

if TYPE_CHECKING:
    from ...model.bones import Floats

LEAST_HEIGHT = 1e-6
"""Metres: a root that is lower than this says nothing about how tall a skeleton is."""
AGREE = 0.01
"""Rests whose lengths differ by less than this share agree."""


class TakingOver:
    """Takes poses of their skeleton over on ours, which may rest otherwise and have other
    proportions; `bones` gives by a bone of theirs the one of ours.

    Each bone that is matched turns in the world from how it rests as theirs turns from how that
    rests; with `limbs` its limb points as theirs does, however both rest. The topmost one of ours
    that is matched moves from where it rests as theirs does, by the ratio of how high both stand;
    theirs rests `low` below where its file has it. What others move from where they rest is kept,
    by the ratio of how long both rest, and so are sizes. All else is as ours rests.
    """

    def __init__(
        self, theirs: Skeleton, ours: Skeleton, bones: Mapping[int, int], low: float = 0.0,
        limbs: bool = False,
    ) -> None:
        self._theirs, self._ours, self.low = theirs, ours, low
        source = {our: their for their, our in bones.items()}
        self._own = np.array(sorted(source), np.int64)
        self._their = np.array([source[our] for our in sorted(source)], np.int64)
        self._rest, self._own_rest = (in_world(each, rest_pose(each)) for each in (theirs, ours))
        rests = self._own_rest.turns[:, self._own]
        if limbs and len(self._own):
            rests = product(limb_turns(self._rest, self._own_rest, theirs, ours, bones), rests)
        # What their turn since rest is applied to, so that on ours it ends as it should.
        self._from_rest = product(inverse(self._rest.turns[:, self._their]), rests)
        self._alone = [bone for bone in range(len(ours.names)) if bone not in source]
        their_sizes = theirs.sizes[self._their]
        self._sizes = np.divide(ours.sizes[self._own], their_sizes, where=their_sizes != 0,
                                out=np.zeros_like(their_sizes))

    def on_ours(self, pose: LocalPose) -> LocalPose:
        """A pose (times, their bones, …) as one of ours."""
        ours, times = self._ours, len(pose.places)
        world, made = in_world(self._theirs, pose), rest_pose(ours, times)
        if not len(self._own):
            return made
        turns = np.empty((times, len(ours.names), 4))
        turns[:, self._own] = product(world.turns[:, self._their], self._from_rest)
        for bone in self._alone:
            parent = ours.parents[bone]
            above = ours.base_turns[bone] if parent < 0 else turns[:, parent]
            turns[:, bone] = product(above, made.turns[:, bone])
        parents = np.array(ours.parents)[self._own]
        above = np.where((parents < 0)[:, None], ours.base_turns[self._own], turns[:, parents])
        made.turns[:, self._own] = product(inverse(above), turns[:, self._own])
        made.sizes[:, self._own] = pose.sizes[:, self._their] * self._sizes
        self._move(pose, world, made)
        return made

    def _move(self, pose: LocalPose, world: WorldPose, made: LocalPose) -> None:
        """Put matched bones of ours, which are turned and sized, where theirs move them."""
        posed = in_world(self._ours, made)
        for number, (our, their) in enumerate(zip(self._own.tolist(), self._their.tolist(),
                                                  strict=True)):
            parent = self._theirs.parents[their]
            if number == 0:
                moved = world.places[:, their] - self._rest.places[:, their]
                moved[:, 1] += self.low
                ratio = self._ratio(their, our)
            else:
                own = pose.places[:, their] - self._theirs.places[their]
                if not own.any():
                    continue
                above = (np.broadcast_to(self._theirs.bases[their], (len(own), 4, 4))
                         if parent < 0 else world.matrices[:, parent])
                moved = np.einsum("tij,tj->ti", above[:, :3, :3], own)
                ratio = _lengths(self._theirs, self._ours, their, our)
            own_parent = self._ours.parents[our]
            above = (self._ours.bases[our] if own_parent < 0
                     else posed.matrices[:, own_parent])[..., :3, :3]
            made.places[:, our] += np.einsum("ij,tj->ti" if above.ndim == 2 else "tij,tj->ti",
                                             np.linalg.pinv(above), moved * ratio)

    def _ratio(self, their: int, our: int) -> float:
        """How much higher our root stands than theirs."""
        low = abs(float(self._rest.places[0, their, 1]) - self.low)
        return abs(float(self._own_rest.places[0, our, 1])) / low if low > LEAST_HEIGHT else 1.0


def _lengths(theirs: Skeleton, ours: Skeleton, their: int, our: int) -> float:
    """How much longer ours rests from its parent than theirs; 1 where they agree."""
    own, other = (float(np.linalg.norm(each)) for each in (ours.places[our], theirs.places[their]))
    if min(own, other) <= LEAST_HEIGHT or abs(own - other) <= AGREE * other:
        return 1.0
    return own / other


def roots_at_first(art: BoneArt) -> Floats:
    """How high the topmost bone is where each clip of a file begins; those that move none of it
    left out."""
    skeleton, found = art.skeleton, list[float]()
    for clip in art.clips:
        if any(channel.bone == 0 and channel.part == "place" for channel in clip.channels):
            pose = ClipSampler(skeleton, clip).at(np.zeros(1))
            found.append(float(in_world(skeleton, pose).places[0, 0, 1]))
    return np.array(found)


def below_rest(theirs: Skeleton, begins: Floats) -> float:
    """How far below where its file has it a skeleton would rest to stand on the ground, in metres:
    where its root's clips begin, at the heights `begins`, are nearer to that. Many files have a
    root that rests at 0 0 0, and clips in which it is at its hips' height."""
    rest = in_world(theirs, rest_pose(theirs))
    places = [rest.places[0]]
    places += [(rest.matrices[0, bone] @ (*tip, 1.0))[None, :3]
               for bone, tip in theirs.tips.items()]
    lowest = float(np.concatenate(places)[:, 1].min())
    if not len(begins):
        return 0.0
    root = float(rest.places[0, 0, 1])
    middle = float(np.median(begins))
    return lowest if abs(middle - (root - lowest)) < abs(middle - root) else 0.0
