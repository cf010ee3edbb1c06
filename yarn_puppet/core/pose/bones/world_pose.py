"""From transforms relative to parents to the world, and meshes in it. docs/poses.md 5 and 6."""

from __future__ import annotations

from collections.abc import Callable
from functools import cached_property
from typing import TYPE_CHECKING

import numpy as np

from ...model.bones import Mesh, Skeleton
from .sampling import LocalPose
from .turns import matrices, product

if TYPE_CHECKING:
    from ...model.bones import Floats


MOST = 1e12
"""Numbers of a matrix stay within this: sizes of a billion, forty deep, would be infinite."""


FEW = 16
"""Times for which calls cost more than arithmetic."""


class WorldPose:
    """Where bones are at some times: `matrices` (times, bones, 4, 4), of which the last column is
    the place, and `turns` (times, bones, 4), which are worked out when they are asked for."""

    def __init__(self, skeleton: Skeleton, pose: LocalPose) -> None:
        times, bones = pose.places.shape[:2]
        self._skeleton, self._turns = skeleton, pose.turns
        own = np.zeros((times, bones, 4, 4))
        own[:, :, :3, :3] = matrices(pose.turns) * pose.sizes[:, :, None, :]
        own[:, :, :3, 3] = pose.places
        own[:, :, 3, 3] = 1.0
        self.matrices = down_the_chain(skeleton, skeleton.bases @ own, _applied)

    @property
    def places(self) -> Floats:
        """The places (times, bones, 3)."""
        return self.matrices[:, :, :3, 3]

    @cached_property
    def turns(self) -> Floats:
        """The turns, whatever sizes there are."""
        found = down_the_chain(
            self._skeleton, product(self._skeleton.base_turns, self._turns), product)
        made: Floats = found / np.linalg.norm(found, axis=-1, keepdims=True)
        return made


def in_world(skeleton: Skeleton, pose: LocalPose) -> WorldPose:
    """A pose of this skeleton in the world of its file."""
    return WorldPose(skeleton, pose)


def _applied(parent: Floats, own: Floats) -> Floats:
    return np.clip(parent @ own, -MOST, MOST)


def down_the_chain(
    skeleton: Skeleton, own: Floats, applied: Callable[[Floats, Floats], Floats]
) -> Floats:
    """What each bone has of its own (times, bones, …), after what all above it have."""
    parents = np.array(skeleton.parents)
    if len(own) > FEW:
        # Each bone after its parent: of many times that is the least work.
        for bone, parent in enumerate(skeleton.parents):
            if parent >= 0:
                own[:, bone] = applied(own[:, parent], own[:, bone])
        return own
    # Of few times calls cost more than arithmetic. Each bone takes in all that is between it and
    # the one it looks up to, and then looks up to where that did: a chain of sixty is six steps.
    below = np.flatnonzero(parents >= 0)
    while len(below):
        own[:, below] = applied(own[:, parents[below]], own[:, below])
        parents[below] = parents[parents[below]]
        below = below[parents[below] >= 0]
    return own


def skinned(mesh: Mesh, pose: WorldPose, time: int = 0) -> Floats:
    """The vertices (vertices, 3) of a mesh in a pose, at one of its times."""
    placed = np.concatenate([mesh.places, np.ones((len(mesh.places), 1))], axis=1)
    if mesh.joints is None or mesh.weights is None or mesh.binds is None:
        matrix = pose.matrices[time, mesh.bone] if mesh.bone >= 0 else np.eye(4)
        found: Floats = (placed @ matrix.T)[:, :3]
        return found
    moved = pose.matrices[time, list(mesh.bones)] @ mesh.binds
    made = np.zeros((len(placed), 3))
    for number in range(mesh.joints.shape[1]):
        each = np.einsum("vij,vj->vi", moved[mesh.joints[:, number], :3], placed)
        made += mesh.weights[:, number, None] * each
    return made
