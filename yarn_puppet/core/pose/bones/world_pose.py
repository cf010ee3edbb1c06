"""From transforms relative to parents to the world, and meshes in it. docs/poses.md 5 and 6."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

import numpy as np

from ...model.bones import Mesh, Skeleton
from .sampling import LocalPose
from .turns import matrices, product

if TYPE_CHECKING:
    from ...model.bones import Floats


MOST = 1e12
"""Numbers of a matrix stay within this: sizes of a billion, forty deep, would be infinite."""


class WorldPose(NamedTuple):
    """Where bones are at some times: `matrices` (times, bones, 4, 4), of which the last column is
    the place; `turns` (times, bones, 4)."""

    matrices: Floats
    turns: Floats

    @property
    def places(self) -> Floats:
        """The places (times, bones, 3)."""
        return self.matrices[:, :, :3, 3]


def in_world(skeleton: Skeleton, pose: LocalPose) -> WorldPose:
    """A pose of this skeleton in the world of its file."""
    times, bones = pose.places.shape[:2]
    local = np.zeros((times, bones, 4, 4))
    local[:, :, :3, :3] = matrices(pose.turns) * pose.sizes[:, :, None, :]
    local[:, :, :3, 3] = pose.places
    local[:, :, 3, 3] = 1.0
    found, turns = np.empty_like(local), np.empty_like(pose.turns)
    # Each stands after its parent, whose own is known by then.
    for bone, parent in enumerate(skeleton.parents):
        if parent < 0:
            found[:, bone] = skeleton.bases[bone] @ local[:, bone]
            turns[:, bone] = product(skeleton.base_turns[bone], pose.turns[:, bone])
        else:
            found[:, bone] = found[:, parent] @ local[:, bone]
            turns[:, bone] = product(turns[:, parent], pose.turns[:, bone])
        np.clip(found[:, bone], -MOST, MOST, out=found[:, bone])
    return WorldPose(found, turns / np.linalg.norm(turns, axis=-1, keepdims=True))


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
