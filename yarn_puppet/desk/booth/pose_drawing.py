"""Draws poses where they stand in a booth, with what they hold: as limbs, or as meshes."""

from __future__ import annotations

from collections.abc import Hashable, Iterator, Sequence
from math import atan2, degrees
from typing import NamedTuple

import numpy as np
from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QColor, QPaintDevice, QPainter, QTransform

from ...core.engine.state import Report
from ...core.pose.bones.camera import BoothCamera, Camera, in_booth
from ...core.pose.bones.in_hand import InHand
from ...core.pose.bones.world_pose import WorldPose
from ...core.pose.ruled import Tint
from ..pictures.art import Art
from ..pictures.bones import Bones
from ..pictures.limbs import Piece, draw_limbs
from ..pictures.mesh.choice import MeshChoice
from ..pictures.mesh.context import Ink
from ..pictures.mesh.drawing import ShapePictures, Shapes
from ..pictures.mesh.model import MeshModel
from ..widgets import theme


class Posed(NamedTuple):
    """A pose that stands at x, y of a booth, seen from the side or from `above`, by its report;
    what it holds, and the colour it wears."""

    pose: WorldPose
    report: Report
    x: float
    y: float
    held: Sequence[InHand] = ()
    tint: Tint | None = None
    above: bool = False


class PoseDrawing:
    """Draws poses where they stand, as limbs or as meshes, whichever is chosen."""

    def __init__(self, meshes: MeshChoice) -> None:
        self.meshes = meshes
        self._shapes = ShapePictures(meshes.renderer)

    def begin(self, device: QPaintDevice, place: QTransform, art: Art, posed: Posed) -> None:
        """Begin what `draw` will draw."""
        model = art.bones.model if self.meshes.draws else None
        if model is not None and art.bones.puppet.mover.pixels_a_metre > 0:
            seen = self._seen(art, posed)
            self._shapes.begin(device, place, *_mesh_of(art.bones, posed, model), seen.camera,
                               _ink_of(posed.tint), seen.mirrored_about)

    def draw(
        self, painter: QPainter, art: Art, posed: Posed, ghost: QColor | None = None
    ) -> bool:
        """A pose, or all that it covers as a `ghost`. `art` is the puppet's. False where its bones
        are not there."""
        bones = art.bones
        limbs, tint = bones.limbs, posed.tint
        if limbs is None or bones.puppet.mover.pixels_a_metre <= 0:
            return False
        seen = self._seen(art, posed)
        model = bones.model if self.meshes.draws else None
        if model is not None:
            self._draw_mesh(painter, art, posed, model, seen, ghost)
            if self.meshes.draws:
                return True

        def worn(number: int, color: QColor) -> QColor:
            if ghost is not None:
                return ghost
            assert tint is not None
            return theme.tint(QColor(tint.red, tint.green, tint.blue), tint.strength, color)

        camera, about = seen
        draw_limbs(painter, limbs, posed.pose, camera, 0, about,
                   worn if tint is not None or ghost is not None else None, 0.8,
                   [piece for each in (posed.held if ghost is None else ())
                    for piece in piece_of(art, bones, each, camera, about)])
        return True

    def _seen(self, art: Art, posed: Posed) -> BoothCamera:
        return in_booth(art.bones.puppet.mover, posed.report.facing, posed.x, posed.y, posed.above)

    def _draw_mesh(
        self, painter: QPainter, art: Art, posed: Posed, model: MeshModel, seen: BoothCamera,
        ghost: QColor | None,
    ) -> None:
        """The mesh, with those it holds; pictures that it holds lie before or behind all of it. A
        ghost is all that its picture covered."""
        pictures = [piece for each in (posed.held if ghost is None else ())
                    if art.bones.prop(each.shows) is None
                    for piece in piece_of(art, art.bones, each, *seen)]
        for piece in pictures:
            if piece.depth > 0:
                piece.draw(painter)
        self._shapes.draw(painter, *_mesh_of(art.bones, posed, model), seen.camera,
                          _ink_of(posed.tint), seen.mirrored_about, flat=ghost)
        for piece in pictures:
            if piece.depth <= 0:
                piece.draw(painter)


def _mesh_of(bones: Bones, posed: Posed, model: MeshModel) -> tuple[Hashable, Shapes]:
    """The mesh of a pose with those that it holds: by what they are known again, and where they
    are."""
    props = [(each, prop) for each in posed.held if (prop := bones.prop(each.shows)) is not None]
    return ((posed.pose, model, *[(each.shows, each.matrix.tobytes()) for each, _ in props]),
            lambda: [model.placed(posed.pose),
                     *[prop.rest.moved(each.matrix) for each, prop in props]])


def _ink_of(tint: Tint | None) -> Ink:
    return Ink() if tint is None else Ink(
        (tint.red / 255, tint.green / 255, tint.blue / 255), tint.strength)


def piece_of(
    art: Art, bones: Bones, held: InHand, camera: Camera, about: float | None
) -> Iterator[Piece]:
    """A prop as it is drawn among limbs: a mesh, or a picture that turns with its anchor; nothing
    where its file is not there."""
    prop = bones.prop(held.shows)
    if prop is not None:
        mesh = prop.mesh
        yield Piece(mesh.depth(held.matrix, camera),
                    lambda painter: mesh.draw(painter, held.matrix, camera, about))
        return
    picture = art.picture(held.shows) if held.shows else None
    if picture is None:
        return
    seen = camera.seen(np.stack([held.matrix[:3, 3], held.matrix[:3, 3] + held.matrix[:3, 2]]))
    (x, y), (end_x, end_y) = [(float(px), float(py)) for px, py in seen.places]
    if about is not None:
        x, end_x = 2 * about - x, 2 * about - end_x
    size = float(np.linalg.norm(held.matrix[:3, 2]))

    def draw(painter: QPainter) -> None:
        painter.save()
        painter.translate(x, y)
        painter.rotate(degrees(atan2(end_y - y, end_x - x)))
        painter.scale(size, size if about is None else -size)
        painter.drawPixmap(QPointF(-picture.width() / 2, -picture.height() / 2), picture)
        painter.restore()

    yield Piece(float(seen.depths[0]), draw)
