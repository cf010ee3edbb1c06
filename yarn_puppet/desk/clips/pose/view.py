"""The big pose: the figure on a floor, seen by a camera that goes round it, with ghosts of the
poses before and after, joints, names, and the rings by which a bone is turned."""

from __future__ import annotations

from functools import partial
from math import tau
from typing import TYPE_CHECKING

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPolygonF
from PyQt6.QtWidgets import QWidget

from ....core.model.clips import Clip
from ....core.pose.bones.camera import Camera
from ....core.pose.bones.in_hand import anchor_matrix
from ....core.pose.bones.world_pose import WorldPose
from ...pictures.art import Art
from ...session.document import Document
from ...widgets import theme
from ...widgets.things import Thing
from ...widgets.view import DrawnView
from ..clip_desk import ClipDesk
from .figure import PoseFigure

if TYPE_CHECKING:
    from ....core.model.bones import Floats

ROUND, RAISED = -30.0, 10.0
"""Where the camera stands at first, in degrees."""
DISTANCE = 6.0
"""How many times the figure's height the camera is away."""
ROOM = 0.84
"""How much of the view's height the figure takes."""
MIDDLE = 0.5
"""How far down the view its middle is."""
AHEAD = 100.0
"""Milliseconds between a pose and its ghosts."""
RING, RING_POINTS = 0.17, 48
"""The radius of the rings about a bone, as a share of the figure's height."""
AXES = ("x", "y", "z")
AXIS_COLORS = (theme.MADDER, theme.MOSS, theme.INDIGO)
LEAST_ZOOM, MOST_ZOOM = 0.3, 12.0


class PoseView(DrawnView):
    """Draws the pose at the head."""

    def __init__(
        self, document: Document, desk: ClipDesk, art: Art, parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self.document, self.desk, self.art, self.bones = document, desk, art, art.bones
        self.setAccessibleName("Pose")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMinimumSize(260, 140)
        self.yaw, self.pitch, self.zoom = ROUND, RAISED, 1.0
        self.pan = QPointF()
        self.flat = False
        """Seen along parallel lines, as from the front, the side and the top."""
        self.dragged_over: str | None = None
        """The bone over which a prop is dragged."""
        desk.changed.connect(self.update)
        desk.moved.connect(self.update)
        art.arrived.connect(self.update)
        self.bones.meshes.changed.connect(self.update)
        self._figure = PoseFigure(document, desk, art)
        self._posed: tuple[object, object, float, WorldPose] | None = None

    # Geometry -------------------------------------------------------------------------------------

    @property
    def camera(self) -> Camera:
        """From where it is seen."""
        high = self.bones.height
        scale = self.height() * ROOM / high * self.zoom
        return Camera((0.0, high / 2, 0.0), self.yaw, self.pitch,
                      0.0 if self.flat else DISTANCE * high, scale,
                      self.width() / 2 + self.pan.x(),
                      self.height() * MIDDLE + self.pan.y())

    @property
    def pose(self) -> WorldPose | None:
        """Where the bones are at the head; the same for as long as nothing of it is another."""
        clip, poses = self.desk.clip, self.bones.poses
        if clip is None or poses is None:
            return None
        known = self._posed
        if known is None or known[0] is not poses or known[1] is not clip.motion \
                or known[2] != self.desk.time:
            made = self.bones.world(clip, self.desk.time)
            if made is None:
                return None
            known = self._posed = (poses, clip.motion, self.desk.time, made)
        return known[3]

    def look_from(self, yaw: float, pitch: float) -> None:
        """See it from the front, the side or the top, without perspective."""
        self.yaw, self.pitch, self.flat, self.pan = yaw, pitch, True, QPointF()
        self.desk.changed.emit()

    def look_around(self) -> None:
        """See it as at first."""
        self.yaw, self.pitch, self.zoom, self.flat = ROUND, RAISED, 1.0, False
        self.pan = QPointF()
        self.desk.changed.emit()

    def zoom_by(self, times: float, about: QPointF) -> None:
        """Closer or further, the point under the mouse staying where it is."""
        before = self.zoom
        self.zoom = max(LEAST_ZOOM, min(MOST_ZOOM, self.zoom * times))
        middle = QPointF(self.width() / 2, self.height() * MIDDLE)
        away = about - middle - self.pan
        self.pan += away - away * (self.zoom / before)
        self.update()

    def joint_places(self, pose: WorldPose) -> Floats:
        """Where the bones begin on the view (bones, 2)."""
        return self.camera.seen(pose.places[0]).places

    def bone_at(self, at: QPointF) -> str | None:
        """The bone whose limb is drawn at a point, the nearest of several."""
        pose, limbs = self.pose, self.bones.limbs
        if pose is None or limbs is None or not len(limbs.bones):
            return None
        first, last = limbs.placed(pose)
        camera = self.camera
        one, other = camera.seen(first), camera.seen(last)
        way = other.places - one.places
        here = np.array([at.x(), at.y()])
        squares = np.maximum(np.sum(way * way, axis=1), 1e-9)
        share = np.clip(np.sum((here - one.places) * way, axis=1) / squares, 0, 1)
        off = np.linalg.norm(here - one.places - way * share[:, None], axis=1)
        thick = limbs.radii[:, 0] * one.scales * (1 - share) + limbs.radii[:, 1] * other.scales * (
            share)
        hit = off <= np.maximum(thick, 4.0) + 1.5
        if not hit.any():
            return None
        depths = np.where(hit, (one.depths + other.depths) / 2, np.inf)
        return pose_names(self)[int(limbs.bones[int(np.argmin(depths))])]

    def rings(self, pose: WorldPose) -> list[Floats]:
        """The rings about the chosen bone's own axes, each as points in the world."""
        number = self.chosen
        if number is None:
            return []
        middle = pose.places[0, number]
        axes = pose.matrices[0, number, :3, :3]
        axes = axes / np.maximum(np.linalg.norm(axes, axis=0), 1e-9)
        radius = RING * self.bones.height
        angles = np.linspace(0, tau, RING_POINTS + 1)
        found = []
        for axis in range(3):
            one, other = axes[:, (axis + 1) % 3], axes[:, (axis + 2) % 3]
            found.append(middle + radius * (np.cos(angles)[:, None] * one
                                            + np.sin(angles)[:, None] * other))
        return found

    @property
    def chosen(self) -> int | None:
        """The place of the chosen bone in the skeleton."""
        poses = self.bones.poses
        return poses.bone(self.desk.bone) if poses is not None and self.desk.bone else None

    def things(self) -> list[Thing]:
        pose = self.pose
        if pose is None:
            return []
        places = self.joint_places(pose)
        return [Thing(f"bone {name}", "chosen" if name == self.desk.bone else "",
                      QRectF(float(x) - 5, float(y) - 5, 10, 10), name == self.desk.bone,
                      partial(self.desk.choose_bone, name))
                for name, (x, y) in zip(pose_names(self), places, strict=True)]

    # Drawing --------------------------------------------------------------------------------------

    def draw(self, painter: QPainter) -> None:
        whole = QRectF(self.rect())
        painter.fillRect(whole, theme.NIGHT if self.desk.night
                         else theme.tint(theme.LINEN, 0.9, theme.WHITE))
        painter.setClipRect(whole)
        clip, pose, limbs = self.desk.clip, self.pose, self.bones.limbs
        if clip is None or pose is None or limbs is None:
            self._draw_words(painter, whole, clip)
            return
        camera = self.camera
        self._figure.draw_floor(painter, camera, self.width(), self.flat)
        self._figure.draw_ghosts(painter, clip, camera)
        chosen = self.chosen
        self._figure.draw(painter, pose, camera, self._marked, self._is_at_rest)
        self._figure.draw_boxes(painter, pose, camera)
        self._draw_anchors(painter, pose, camera)
        places = self.joint_places(pose)
        if self.desk.joints:
            self._draw_joints(painter, places)
        if self.desk.names:
            self._draw_names(painter, places)
        if chosen is not None:
            self._draw_rings(painter, pose, camera)
        self._draw_notes(painter, whole)
        painter.setClipping(False)
        self.draw_focus(painter, 4)

    @property
    def _marked(self) -> int | None:
        """The bone that is drawn in another colour: that over which a prop is dragged, or the
        chosen one."""
        poses, name = self.bones.poses, self.dragged_over or self.desk.bone
        return poses.bone(name) if poses is not None and name else None

    @property
    def _is_at_rest(self) -> bool:
        """Whether nothing moves by itself."""
        return not self.desk.playing

    def _draw_words(self, painter: QPainter, whole: QRectF, clip: Clip | None) -> None:
        words = next(iter(self.bones.problems.values()), "")
        if not words:
            words = ("reading the file of bones…" if self.bones.busy
                     else "" if clip is None
                     else "This clip has no motion: bring in a file of bones")
        theme.draw_text(painter, 20, whole.center().y(), words, theme.font(13, italic=True),
                        theme.QUIET, whole.width() - 40)

    def anchor_places(self, pose: WorldPose) -> dict[str, QPointF]:
        """Where the anchors on bones are on the view, by id."""
        poses, found = self.bones.poses, dict[str, QPointF]()
        for anchor in self.document.puppet.anchors if poses is not None else ():
            place = anchor.on_bone
            matrix = anchor_matrix(poses, pose, place) if place is not None and poses else None
            if matrix is not None:
                x, y = self.camera.seen(matrix[None, :3, 3]).places[0]
                found[anchor.id] = QPointF(float(x), float(y))
        return found

    def _draw_anchors(self, painter: QPainter, pose: WorldPose, camera: Camera) -> None:
        names = {anchor.id: anchor.name for anchor in self.document.puppet.anchors}
        for id, at in self.anchor_places(pose).items():
            own = id == self.desk.on_bone
            painter.setPen(theme.pen(theme.PLUM, 2.0 if own else 1.3))
            painter.setBrush(theme.PLUM if own else theme.PAPER)
            painter.drawPolygon(QPolygonF([at + QPointF(0, -5), at + QPointF(5, 0),
                                           at + QPointF(0, 5), at + QPointF(-5, 0)]))
            if own or self.desk.names:
                theme.draw_text(painter, at.x() + 8, at.y() + 4, names[id], theme.font(11.5),
                                theme.PLUM)

    def _draw_joints(self, painter: QPainter, places: Floats) -> None:
        painter.setPen(theme.pen(theme.INK, 1.0))
        for number, (x, y) in enumerate(places):
            own = number == self.chosen
            painter.setBrush(theme.MADDER if own else theme.WHITE)
            painter.drawEllipse(QPointF(float(x), float(y)), *((4.5, 4.5) if own else (2.6, 2.6)))

    def _draw_names(self, painter: QPainter, places: Floats) -> None:
        """Names beside their joints, as far as none lies over another."""
        taken: list[QRectF] = []
        small = theme.font(11)
        order = sorted(range(len(places)), key=lambda number: number != self.chosen)
        names = pose_names(self)
        for number in order:
            x, y = float(places[number, 0]) + 7, float(places[number, 1]) + 4
            rect = QRectF(x - 2, y - 10, theme.text_width(names[number], small) + 4, 13)
            if any(rect.intersects(other) for other in taken):
                continue
            taken.append(rect)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.with_alpha(theme.PAPER, 205))
            painter.drawRoundedRect(rect, 3, 3)
            theme.draw_text(painter, x, y, names[number], small,
                            theme.MADDER if number == self.chosen else theme.INK)

    def _draw_rings(self, painter: QPainter, pose: WorldPose, camera: Camera) -> None:
        number, name = self.chosen, self.desk.bone
        for axis, points in enumerate(self.rings(pose)):
            own = axis == self.desk.axis
            color = AXIS_COLORS[axis]
            painter.setPen(theme.pen(color if own else theme.with_alpha(color, 150),
                                     2.4 if own else 1.4, None if own else (3, 2.4)))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawPolyline(_polygon(camera.seen(points).places))
        if number is None or name is None or self.desk.names:
            return
        x, y = camera.seen(pose.places[0, number:number + 1]).places[0]
        radius = RING * self.bones.height * camera.scale
        theme.draw_pill(painter, float(x) + radius + 8, float(y) - radius * 0.4, self._words(name),
                        theme.PLUM, False, 20, 12.5, 260)

    def _words(self, bone: str) -> str:
        """A bone and how far our key turns it here."""
        clip = self.desk.clip
        motion = clip.motion if clip is not None else None
        poses = self.bones.poses
        turn = (poses.own_turn(motion, bone, self.desk.time / 1000)
                if motion is not None and poses is not None else None)
        if turn is None:
            return bone
        return f"{bone} · {float(np.linalg.norm(turn)):.0f}°"

    def _draw_notes(self, painter: QPainter, whole: QRectF) -> None:
        words = (f"attach it to {self.dragged_over}" if self.dragged_over
                 else f"{self.bones.height:.2f} m high")
        theme.draw_text(painter, 10, whole.height() - 9, words, theme.font(11.5), theme.QUIET)


def pose_names(view: PoseView) -> tuple[str, ...]:
    """The names of the bones that a view shows."""
    poses = view.bones.poses
    return poses.skeleton.names if poses is not None else ()


def _polygon(points: Floats) -> QPolygonF:
    return QPolygonF([QPointF(float(x), float(y)) for x, y in points])
