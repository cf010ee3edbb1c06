"""The meshes of a file of bones as the renderer wants them."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING, NamedTuple

import numpy as np

from ....core.formats.pictures.pages import Page
from ....core.model.bones import Mesh
from ....core.pose.bones.skinned_meshes import SkinnedMeshes
from ....core.pose.bones.world_pose import WorldPose

if TYPE_CHECKING:
    from ....core.model.bones import Floats


GAMMA = 2.2
"""Of screens."""


class MeshModel:
    """What of a file's meshes stays: triangles, colours, and where in its texture each vertex is.

    `fixed` (vertices, 6) has two numbers of the texture and four of the colour, as screens have
    it.
    """

    def __init__(self, meshes: Sequence[Mesh], textures: Sequence[Page | None]) -> None:
        self.skin = SkinnedMeshes(meshes)
        self.textures = tuple(textures)
        fixed = [np.zeros((0, 6), np.float32)]
        for mesh in meshes:
            count = len(mesh.places)
            over = mesh.over if mesh.over is not None else np.zeros((count, 2))
            fixed.append(np.concatenate([over, np.tile(_as_seen(mesh), (count, 1))],
                                        axis=1).astype(np.float32))
        self.fixed = np.concatenate(fixed)

    def placed(self, pose: WorldPose, time: int = 0) -> Shape:
        """The model in a pose."""
        return Shape(self, self.skin.placed(pose, time))


def _as_seen(mesh: Mesh) -> Floats:
    """The colour of a mesh, which files count as light, so that times that of a texture, which is
    as screens have it, it is what a screen shows."""
    color = np.clip(np.array(mesh.color), 0.0, 1.0)
    return np.append(color[:3] ** (1 / GAMMA), color[3])


class Shape(NamedTuple):
    """A model as it stands: `places` (vertices, 3) in the world, and how much of each vertex's
    colour is that of what is `chosen` (vertices,), None where nothing is."""

    model: MeshModel
    places: Floats
    chosen: Floats | None = None

    def moved(self, matrix: Floats) -> Shape:
        """Where a matrix (4, 4) takes it."""
        return self._replace(places=self.places @ matrix[:3, :3].T + matrix[:3, 3])
