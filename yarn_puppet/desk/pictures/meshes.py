"""Draws small meshes flatly shaded, a triangle at a time from the furthest to the nearest: props
that hang on bones."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

import numpy as np
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QColor, QPainter, QPolygonF

from ...core.model.bones import BoneArt
from ...core.pose.bones.camera import Camera
from ...core.pose.bones.sampling import rest_pose
from ...core.pose.bones.world_pose import in_world, skinned
from ..widgets import theme
from .limbs import as_seen

if TYPE_CHECKING:
    from ...core.model.bones import Floats

MOST_TRIANGLES = 4000
"""Of a prop; a larger one is drawn as every so many-th of them."""
LIGHT = np.array([-0.45, 0.75, 0.5])
DARKEST = 0.55


class PropMesh:
    """The triangles of a file, at rest, ready to be drawn; `shades` are the colours of its
    meshes."""

    def __init__(self, art: BoneArt, shades: Sequence[tuple[float, float, float]]) -> None:
        rest = in_world(art.skeleton, rest_pose(art.skeleton))
        corners, colors = [np.zeros((0, 3, 3))], [np.zeros((0, 3))]
        for mesh, shade in zip(art.meshes, shades, strict=True):
            faces = skinned(mesh, rest)[mesh.triangles]
            corners.append(faces)
            colors.append(np.tile(np.array(shade), (len(faces), 1)))
        self.corners, self.colors = np.concatenate(corners), np.concatenate(colors)
        step = max(1, -(-len(self.corners) // MOST_TRIANGLES))
        self.corners, self.colors = self.corners[::step], self.colors[::step]
        self._seen = np.array([[as_seen(float(part)) for part in color] for color in self.colors]
                              ).reshape(-1, 3)

    def draw(
        self, painter: QPainter, matrix: Floats, camera: Camera, flipped_about: float | None = None
    ) -> None:
        """Draw it where a matrix (4, 4) takes it."""
        if not len(self.corners):
            return
        placed = self.corners @ matrix[:3, :3].T + matrix[:3, 3]
        seen = camera.seen(placed.reshape(-1, 3))
        points, depths = seen.places.reshape(-1, 3, 2), seen.depths.reshape(-1, 3).mean(axis=1)
        if flipped_about is not None:
            points = points.copy()
            points[..., 0] = 2 * flipped_about - points[..., 0]
        normals = np.cross(placed[:, 1] - placed[:, 0], placed[:, 2] - placed[:, 0])
        lengths = np.linalg.norm(normals, axis=1, keepdims=True)
        light = np.abs(normals / np.maximum(lengths, 1e-12) @ (LIGHT / np.linalg.norm(LIGHT)))
        shades = DARKEST + (1 - DARKEST) * light
        painter.setPen(Qt.PenStyle.NoPen)
        worn = np.round(np.clip(self._seen * shades[:, None], 0, 1) * 255).astype(int).tolist()
        triangles = points.reshape(-1, 6).tolist()
        for number in np.argsort(-depths, kind="stable").tolist():
            color = QColor(*worn[number])
            # A hair of the same colour closes the seams between triangles.
            painter.setPen(theme.pen(color, 0.5))
            painter.setBrush(color)
            x0, y0, x1, y1, x2, y2 = triangles[number]
            painter.drawPolygon(QPolygonF([QPointF(x0, y0), QPointF(x1, y1), QPointF(x2, y2)]))

    def depth(self, matrix: Floats, camera: Camera) -> float:
        """How far its middle is behind that of the view."""
        if not len(self.corners):
            return 0.0
        middle = self.corners.reshape(-1, 3).mean(axis=0) @ matrix[:3, :3].T + matrix[:3, 3]
        return float(camera.seen(middle[None]).depths[0])
