"""How far bones go from one pose to another: the seam of a loop, and pops between two ticks."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

import numpy as np

from ...model.bones import Skeleton
from ...model.clips import Clip
from .clip_poses import ClipPoses
from .sampling import LocalPose
from .turns import inverse, product, turn_about
from .world_pose import in_world

if TYPE_CHECKING:
    from ...model.bones import Floats, Indices


class Gap(NamedTuple):
    """Between two poses: the centimetres of the bone that goes furthest, the degrees of the one
    that turns most, each bone relative to its parent, and their names."""

    centimetres: float
    bone: str
    degrees: float
    turned: str


def seam_of(poses: ClipPoses, clip: Clip) -> Gap:
    """From the last pose of a clip to its first."""
    return gap_between(poses.skeleton, poses.at(clip, np.array([clip.length / 1000, 0.0])))


def gap_between(skeleton: Skeleton, ends: LocalPose) -> Gap:
    """From the first of two poses to the second."""
    places = in_world(skeleton, ends).places
    far = np.linalg.norm(places[1] - places[0], axis=-1) * 100
    _, angles = turn_about(product(inverse(ends.turns[0]), ends.turns[1]))
    names = skeleton.names
    furthest, most = int(np.argmax(far)), int(np.argmax(angles))
    return Gap(float(far[furthest]), names[furthest], float(np.degrees(angles[most])), names[most])


class TickJumps(NamedTuple):
    """For some ticks (ticks,) how many centimetres the bone went that went furthest, and which that
    was."""

    centimetres: Floats
    bones: Indices


class Jumps:
    """How far bones go from tick to tick, as the poses of a run come. Where the figure stands in
    the world is no part of a pose, and so no jump."""

    def __init__(self, poses: ClipPoses) -> None:
        self.skeleton = poses.skeleton
        self._last: Floats | None = None

    def add(self, pose: LocalPose) -> TickJumps:
        """The poses of the next ticks, and how far it was to each."""
        places = in_world(self.skeleton, pose).places
        before = places[:1] if self._last is None else self._last
        apart = np.diff(np.concatenate([before, places]), axis=0)
        far = np.linalg.norm(apart, axis=-1) * 100
        bones = np.argmax(far, axis=1)
        self._last = places[-1:]
        return TickJumps(far[np.arange(len(far)), bones], bones)
