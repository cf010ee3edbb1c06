"""All meshes of a file of bones at once, skinned quickly: what a picture of them is drawn from."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING, NamedTuple

import numpy as np
import scipy

from ...model.bones import Mesh
from .world_pose import WorldPose

if TYPE_CHECKING:
    from ...model.bones import Floats, Indices


NOTHING = np.zeros(0, np.int64)


class MeshPart(NamedTuple):
    """A mesh within the whole: its triangles are those from `first` up to `last`."""

    mesh: Mesh
    first: int
    last: int


class SkinnedMeshes:
    """The vertices of all meshes beside each other.

    Each vertex is a sum over what moves it, of the place that it has there: a table with a row a
    vertex and four columns a mover, most of them empty, so that a pose costs one product.
    `triangles` (triangles, 3) index the vertices. A mover is a bone of a skin, with its inverse
    bind, a bone that a rigid mesh hangs on, or the world.
    """

    def __init__(self, meshes: Sequence[Mesh]) -> None:
        self._bones: list[int] = []
        self._binds: list[Floats] = []
        self.parts: list[MeshPart] = []
        rows, movers, shares = [NOTHING], [NOTHING], [NOTHING.astype(float)]
        places, triangles = [np.zeros((0, 3))], [np.zeros((0, 3), np.int64)]
        count = drawn = 0
        for mesh in meshes:
            joints, weights = self._moved_by(mesh)
            numbers = count + np.arange(len(mesh.places))
            rows.append(np.repeat(numbers, joints.shape[1]))
            movers.append(joints.reshape(-1))
            shares.append(weights.reshape(-1))
            places.append(mesh.places)
            triangles.append(mesh.triangles + count)
            self.parts.append(MeshPart(mesh, drawn, drawn + len(mesh.triangles)))
            count, drawn = count + len(mesh.places), drawn + len(mesh.triangles)
        self.triangles: Indices = np.concatenate(triangles)
        self.count = count
        row, mover, share = np.concatenate(rows), np.concatenate(movers), np.concatenate(shares)
        homogeneous = np.concatenate([np.concatenate(places), np.ones((count, 1))], axis=1)
        values = (share[:, None] * homogeneous[row]).reshape(-1)
        columns = (mover[:, None] * 4 + np.arange(4)).reshape(-1)
        self._table = scipy.sparse.csr_array((values, (np.repeat(row, 4), columns)),
                                             shape=(count, 4 * len(self._bones)))
        self._shares = scipy.sparse.csr_array((share, (row, mover)),
                                              shape=(count, len(self._bones)))

    def _moved_by(self, mesh: Mesh) -> tuple[Indices, Floats]:
        """For each vertex its movers, and how much each of them moves it."""
        first = len(self._bones)
        if mesh.joints is None or mesh.weights is None or mesh.binds is None:
            self._bones.append(mesh.bone)
            self._binds.append(np.eye(4))
            one = (len(mesh.places), 1)
            return np.full(one, first), np.ones(one)
        self._bones += mesh.bones
        self._binds += list(mesh.binds)
        return mesh.joints + first, mesh.weights

    def is_turned(self, pose: WorldPose, time: int = 0) -> bool:
        """Whether something moves vertices to their mirror image, or to nothing."""
        return bool((np.linalg.det(self._moved(pose, time)[:, :3, :3]) <= 0).any())

    def _moved(self, pose: WorldPose, time: int) -> Floats:
        """What each mover does (movers, 4, 4)."""
        # The last one is the world itself, which what hangs on no bone stays in.
        world = np.concatenate([pose.matrices[time], np.eye(4)[None]])
        found: Floats = world[np.array(self._bones, np.int64)] @ np.array(
            self._binds).reshape(-1, 4, 4)
        return found

    def placed(self, pose: WorldPose, time: int = 0) -> Floats:
        """The vertices (vertices, 3) in a pose, at one of its times."""
        if not self.count:
            return np.zeros((0, 3))
        moved = self._moved(pose, time)
        # Each mover's 3 × 4, lying: four rows of three.
        lying = moved[:, :3, :].transpose(0, 2, 1).reshape(-1, 3)
        found: Floats = self._table @ lying
        return found

    def share_of(self, bone: int) -> Floats:
        """How much each vertex (vertices,) is moved by a bone, from 0 to 1."""
        own = np.array([float(each == bone) for each in self._bones])
        found: Floats = self._shares @ own if self.count else np.zeros(0)
        return found
