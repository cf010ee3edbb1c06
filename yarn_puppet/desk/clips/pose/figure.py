"""The figure of the big pose with what belongs to it: its ghosts, what it holds, its boxes, the
floor that it stands on."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial
from typing import TYPE_CHECKING

import numpy as np
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPolygonF

from ....core.model.clips import Clip
from ....core.pose.bones.boxes import reaches_of
from ....core.pose.bones.camera import Camera
from ....core.pose.bones.in_hand import InHand, held_with
from ....core.pose.bones.world_pose import WorldPose
from ...booth.pose_drawing import piece_of
from ...pictures.art import Art
from ...pictures.limbs import draw_limbs, tube_path
from ...pictures.mesh.context import Ink
from ...pictures.mesh.drawing import ShapePictures
from ...pictures.mesh.model import MeshModel, Shape
from ...session.document import Document
from ...widgets import theme
from ..clip_desk import ClipDesk

if TYPE_CHECKING:
    from ....core.model.bones import Floats

AHEAD = 100.0
"""Milliseconds between a pose and its ghosts."""


class PoseFigure:
    """Draws them; poses are given."""

    def __init__(self, document: Document, desk: ClipDesk, art: Art) -> None:
        self.document, self.desk, self.art, self.bones = document, desk, art, art.bones
        self._shapes = ShapePictures(self.bones.meshes.renderer)

    def draw(
        self, painter: QPainter, pose: WorldPose, camera: Camera, chosen: int | None,
        at_rest: bool,
    ) -> None:
        """The figure with what it holds, as its mesh or as limbs, one bone in another colour; finer
        where nothing moves."""
        model, limbs, clip = self.bones.model, self.bones.limbs, self.desk.clip
        held = held_with(self.bones.poses, pose, clip, self.desk.time) if (
            clip is not None and self.bones.poses is not None) else ()
        if model is not None and self.bones.meshes.draws:
            self._draw_mesh(painter, pose, model, held, camera, chosen, at_rest)
            if self.bones.meshes.draws:
                return

        def worn(number: int, color: QColor) -> QColor:
            own = chosen is not None and limbs is not None and int(limbs.bones[number]) == chosen
            return theme.tint(theme.MADDER, 0.78, color) if own else color

        if limbs is not None:
            draw_limbs(painter, limbs, pose, camera, tint=worn, between=[
                piece for each in held
                for piece in piece_of(self.art, self.bones, each, camera, None)])

    def _draw_mesh(
        self, painter: QPainter, pose: WorldPose, model: MeshModel, held: Sequence[InHand],
        camera: Camera, chosen: int | None, at_rest: bool,
    ) -> None:
        def shapes() -> list[Shape]:
            shape = model.placed(pose)
            if chosen is not None:
                shape = shape._replace(chosen=model.skin.share_of(chosen))
            return [shape, *[prop.rest.moved(each.matrix) for each, prop in meshes]]

        meshes = [(each, prop) for each in held
                  if (prop := self.bones.prop(each.shows)) is not None]
        key = (pose, model, chosen, *[(each.shows, each.matrix.tobytes())
                                      for each, _ in meshes])
        self._shapes.draw(painter, key, shapes, camera, at_rest=at_rest)
        # Pictures lie before the mesh: they have no depth of their own.
        for each in held:
            if self.bones.prop(each.shows) is None:
                for piece in piece_of(self.art, self.bones, each, camera, None):
                    piece.draw(painter)

    def draw_ghosts(self, painter: QPainter, clip: Clip, camera: Camera) -> None:
        """Poses before in one tint and after in another, fainter the further off."""
        limbs, count, length = self.bones.limbs, self.desk.ghosts, clip.length
        if not count or limbs is None or length <= 0:
            return
        before, after = theme.INDIGO, theme.MADDER
        times, tints = [], []
        for away in range(count, 0, -1):
            for way, tint in ((-1, before), (1, after)):
                time = self.desk.time + way * away * AHEAD
                if clip.mode == "loop":
                    time %= length
                if 0 <= time <= length:
                    times.append(time)
                    tints.append(theme.with_alpha(tint, round(62 / away)))
        pose = self.bones.world(clip, *times)
        if pose is None:
            return
        model = self.bones.model if self.bones.meshes.draws else None
        for number, tint in enumerate(tints):
            if model is None:
                draw_limbs(painter, limbs, pose, camera, number, tint=_all(tint), outline=0.0)
                continue
            painter.setOpacity(tint.alphaF())
            self._shapes.draw(
                painter, (self.bones.poses, clip.motion, times[number]),
                partial(_placed, model, pose, number), camera, Ink(
                    (tint.redF(), tint.greenF(), tint.blueF()), 1.0, False), at_rest=False)
            painter.setOpacity(1.0)

    def draw_floor(
        self, painter: QPainter, camera: Camera, width: float, flat: bool
    ) -> None:
        """A grid of half metres under the feet, which fades away from the middle."""
        if camera.pitch < 0.5 and flat:
            y = camera.y + camera.target[1] * camera.scale
            painter.setPen(theme.pen(theme.SEAM, 1.2))
            painter.drawLine(QPointF(0, y), QPointF(width, y))
            return
        high = self.bones.height
        step = 0.25 * high
        reach = 12
        for number in range(-reach, reach + 1):
            at, far = number * step, reach * step
            for ends in (((at, 0.0, -far), (at, 0.0, far)), ((-far, 0.0, at), (far, 0.0, at))):
                line = np.linspace(np.array(ends[0]), np.array(ends[1]), 9)
                points = camera.seen(line).places
                strong = 0.85 if number == 0 else 0.45
                painter.setPen(theme.pen(theme.tint(theme.SEAM, strong, theme.LINEN), 1.0))
                painter.drawPolyline(_polygon(points))

    def draw_boxes(self, painter: QPainter, pose: WorldPose, camera: Camera) -> None:
        """The boxes on bones; those of the chosen bone stronger, and of hit boxes those whose
        window is open at the head."""
        poses, clip = self.bones.poses, self.desk.clip
        if poses is None or clip is None:
            return
        open_now = {window.name for window in clip.windows
                    if window.kind == "hit" and window.start <= self.desk.time < window.end}
        for box in self.document.puppet.bone_boxes:
            reaches = reaches_of(poses, pose, box)
            if reaches is None:
                continue
            own = box.bone == self.desk.bone
            hits = box.kind == "hit" and bool(open_now) and (not box.name or box.name in open_now)
            color = theme.MADDER if box.kind == "hit" else theme.MOSS
            painter.setPen(theme.pen(theme.with_alpha(color, 255 if own or hits else 120),
                                     1.8 if own else 1.0, None if own or hits else (3, 3)))
            painter.setBrush(theme.with_alpha(color, 60) if hits else Qt.BrushStyle.NoBrush)
            seen = camera.seen(reaches.points)
            painter.drawPath(_outline(seen.places, reaches.radius * float(seen.scales.mean())))


def _placed(model: MeshModel, pose: WorldPose, number: int) -> list[Shape]:
    return [model.placed(pose, number)]


def _all(tint: QColor) -> Callable[[int, QColor], QColor]:
    """One colour for every limb."""
    return lambda number, color: tint


def _outline(places: Floats, radius: float) -> QPainterPath:
    """The edges of a box by its corners, or a circle, or a capsule."""
    if len(places) == 8:
        path = QPainterPath()
        for corner in range(8):
            for side in (1, 2, 4):
                # Corners that differ in one of three have an edge between them.
                if not corner & side:
                    path.moveTo(*map(float, places[corner]))
                    path.lineTo(*map(float, places[corner | side]))
        return path
    (x0, y0), (x1, y1) = places[0], places[-1]
    return tube_path(float(x0), float(y0), radius, float(x1), float(y1), radius)


def _polygon(points: Floats) -> QPolygonF:
    return QPolygonF([QPointF(float(x), float(y)) for x, y in points])
