"""The meshes of a file of bones as the renderer wants them."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING, NamedTuple

import numpy as np

from ....core.formats.pictures.pages import Page
from ....core.model.bones import Mesh
from ....core.pose.bones.closed_surfaces import closed_triangles
from ....core.pose.bones.skinned_meshes import SkinnedMeshes
from ....core.pose.bones.world_pose import WorldPose

if TYPE_CHECKING:
    from ....core.model.bones import Floats, Indices


GAMMA = 2.2
"""Of screens."""
SOLID = 1.0


class AlikeTriangles(NamedTuple):
    """Triangles from `first` up to `last` that wear the same texture, None for none; whether all
    are of closed surfaces, so that those that face away are hidden by others."""

    worn: Page | None
    first: int
    last: int
    is_closed: bool


class MeshModel:
    """What of a file's meshes stays: triangles, colours, and where in its texture each vertex is.

    `fixed` (vertices, 6) has two numbers of the texture and four of the colour, as screens have
    it. `triangles` (triangles, 3) index the vertices, in the order of `runs`.
    """

    def __init__(self, meshes: Sequence[Mesh], textures: Sequence[Page | None]) -> None:
        self.skin = SkinnedMeshes(meshes)
        ordered, runs = [np.zeros((0, 3), np.int64)], list[AlikeTriangles]()
        worn: dict[tuple[int, bool], list[Indices]] = {}
        pages: dict[int, Page | None] = {}
        for part, page in zip(self.skin.parts, textures, strict=True):
            closed = closed_triangles(part.mesh) if _hides(part.mesh, page) else np.zeros(
                part.last - part.first, bool)
            pages[id(page)] = page
            for is_closed in (True, False):
                worn.setdefault((id(page), is_closed), []).append(
                    self.skin.triangles[part.first:part.last][closed == is_closed])
        for (which, is_closed), triangles in worn.items():
            first = runs[-1].last if runs else 0
            count = sum(len(each) for each in triangles)
            if count:
                runs.append(AlikeTriangles(pages[which], first, first + count, is_closed))
                ordered += triangles
        self.triangles: Indices = np.concatenate(ordered)
        self.runs = tuple(runs)
        fixed = [np.zeros((0, 6), np.float32)]
        for mesh in meshes:
            count = len(mesh.places)
            over = mesh.over if mesh.over is not None else np.zeros((count, 2))
            fixed.append(np.concatenate([over, np.tile(_as_seen(mesh), (count, 1))],
                                        axis=1).astype(np.float32))
        self.fixed = np.concatenate(fixed)

    def placed(self, pose: WorldPose, time: int = 0) -> Shape:
        """The model in a pose."""
        return Shape(self, self.skin.placed(pose, time), is_turned=self.skin.is_turned(pose, time))


def _as_seen(mesh: Mesh) -> Floats:
    """The colour of a mesh, which files count as light, so that times that of a texture, which is
    as screens have it, it is what a screen shows."""
    color = np.clip(np.array(mesh.color), 0.0, 1.0)
    return np.append(color[:3] ** (1 / GAMMA), color[3])


def _hides(mesh: Mesh, page: Page | None) -> bool:
    """Whether one sees nothing through a mesh: no texture of it has holes."""
    if mesh.color[3] < SOLID:
        return False
    return page is None or bool((np.frombuffer(page.pixels, np.uint8)[3::4] == 255).all())


class Shape(NamedTuple):
    """A model as it stands: `places` (vertices, 3) in the world, and how much of each vertex's
    colour is that of what is `chosen` (vertices,), None where nothing is. Something of it may be
    `is_turned` inside out, as in a mirror."""

    model: MeshModel
    places: Floats
    chosen: Floats | None = None
    is_turned: bool = False

    def moved(self, matrix: Floats) -> Shape:
        """Where a matrix (4, 4) takes it."""
        return self._replace(
            places=self.places @ matrix[:3, :3].T + matrix[:3, 3],
            is_turned=self.is_turned or float(np.linalg.det(matrix[:3, :3])) <= 0)
