"""Hands on the big pose: the camera goes round, a bone is chosen and turned by its rings, by mouse
and by key."""

from __future__ import annotations

from math import atan2, degrees, pi, tau
from typing import TYPE_CHECKING, NamedTuple

import numpy as np
from PyQt6.QtCore import QPointF, Qt, pyqtSignal
from PyQt6.QtGui import (
    QDragEnterEvent,
    QDragLeaveEvent,
    QDragMoveEvent,
    QDropEvent,
    QMouseEvent,
    QWheelEvent,
)
from PyQt6.QtWidgets import QWidget

from ....core.model.edits import motions as edits
from ....core.model.edits.bone_boxes import anchor_placed
from ....core.model.motions import BonePlace, Vector
from ....core.pose.bones.camera import Camera
from ....core.pose.bones.clip_poses import turned_further
from ....core.pose.bones.in_hand import (
    anchor_matrix,
    axes_of,
    place_from,
    turned_as_in_its_file,
)
from ...pictures.art import Art
from ...session.document import Document
from ...widgets.certain import sure
from ..clip_desk import ClipDesk
from .attaching import Attaching, one_prop
from .keys import STEP, KeyedPose

if TYPE_CHECKING:
    from ....core.model.bones import Floats

NEAR = 7.0
"""Pixels from a ring within which it is taken hold of."""
A_DRAG = 3.0
EDGE = 0.15
"""The sine under which a ring is seen from its edge."""
A_PIXEL = 0.4
"""Degrees the camera goes round for a pixel."""


class _Plane(NamedTuple):
    """The plane of a ring: the bone's place, its axes (3, 3) in columns, which of them the ring is
    about, and from where it was seen as it was pressed."""

    middle: Floats
    axes: Floats
    axis: int
    camera: Camera


class HandledPose(KeyedPose):
    """Drag on the ground, or with the right button, goes round; with the middle one it shifts; the
    wheel zooms. A click chooses a bone; a drag on one of its rings turns it."""

    invited = pyqtSignal()
    """A click where there is no clip yet."""

    def __init__(
        self, document: Document, desk: ClipDesk, art: Art, parent: QWidget | None = None
    ) -> None:
        super().__init__(document, desk, art, parent)
        self.attaching = Attaching(document, desk, self)
        self.setAcceptDrops(True)

    _grip = ""
    _anchor = ""
    _pressed_at = QPointF()
    _last_at = QPointF()
    _moved = False
    _axis = 0
    _turn: Vector = (0.0, 0.0, 0.0)
    _began = 0.0
    _plane: _Plane | None = None

    @property
    def _is_at_rest(self) -> bool:
        return super()._is_at_rest and not self._grip

    # The mouse ------------------------------------------------------------------------------------

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        self.setFocus()
        self._pressed_at = self._last_at = event.position()
        self._moved = self._started = False
        if self.desk.clip is None:
            self.invited.emit()
            return
        if event.button() == Qt.MouseButton.MiddleButton:
            self._grip = "shift"
        elif event.button() == Qt.MouseButton.RightButton:
            self._grip = "orbit"
        elif event.button() == Qt.MouseButton.LeftButton:
            anchor, axis = self.anchor_at(event.position()), self.ring_at(event.position())
            if anchor is not None:
                self._hold_anchor(anchor)
            elif axis is not None:
                self._hold_ring(axis, event.position())
            else:
                self._grip = "orbit"

    def anchor_at(self, at: QPointF) -> str | None:
        """The anchor at a point of the view."""
        pose = self.pose
        places = self.anchor_places(pose) if pose is not None else {}
        return next((id for id, place in places.items()
                     if (place - at).manhattanLength() <= NEAR), None)

    def _hold_anchor(self, anchor: str) -> None:
        found = next(each for each in self.document.puppet.anchors if each.id == anchor)
        self.desk.hold()
        self._grip, self._anchor = "anchor", anchor
        if found.on_bone is not None:
            self.desk.bone = found.on_bone.bone
        self.desk.set(on_bone=anchor)

    def _drag_anchor(self, at: QPointF) -> None:
        """Move the anchor in the plane of the view through where it is."""
        pose, poses = self.pose, self.bones.poses
        found = next((each for each in self.document.puppet.anchors if each.id == self._anchor),
                     None)
        if pose is None or poses is None or found is None or found.on_bone is None:
            return
        matrix = anchor_matrix(poses, pose, found.on_bone)
        if matrix is None:
            return
        place = place_from(poses, pose, found.on_bone, self._in_plane(at, matrix[:3, 3]))
        self.document.edit(f"place {found.name}",
                           lambda now: anchor_placed(now, found.id, place), merge=self._started)
        self._started = True

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        assert event is not None
        if sure(event.mimeData()).hasUrls():
            event.acceptProposedAction()

    def dragMoveEvent(self, event: QDragMoveEvent | None) -> None:
        assert event is not None
        prop = one_prop(event.mimeData())
        self._say_dragged(self.bone_at(event.position()) if prop is not None else None)
        event.acceptProposedAction()

    def dragLeaveEvent(self, event: QDragLeaveEvent | None) -> None:
        self._say_dragged(None)

    def dropEvent(self, event: QDropEvent | None) -> None:
        """A prop on a bone is attached there; all else is for the page."""
        assert event is not None
        self._say_dragged(None)
        prop, bone = one_prop(event.mimeData()), self.bone_at(event.position())
        pose, poses = self.pose, self.bones.poses
        if prop is None or bone is None or pose is None or poses is None:
            self.attaching.not_a_prop.emit(event.mimeData())
        else:
            at = event.position()
            number = poses.bone(bone)
            assert number is not None
            where = self._in_plane(at, pose.places[0, number])
            place = place_from(poses, pose, BonePlace(bone), where)
            self.attaching.drop(prop, turned_as_in_its_file(poses, pose, place))
        event.acceptProposedAction()

    def _say_dragged(self, bone: str | None) -> None:
        if bone != self.dragged_over:
            self.dragged_over = bone
            self.update()

    def _in_plane(self, at: QPointF, through: Floats) -> Floats:
        """The point of the world under one of the view, in the plane of the view through a
        point."""
        eye, way = self.camera.ray(at.x(), at.y())
        toward = self.camera.axes()[2]
        found: Floats = eye + way * float((through - eye) @ toward) / float(way @ toward)
        return found

    def _hold_ring(self, axis: int, at: QPointF) -> None:
        clip, bone, poses = self.desk.clip, self.desk.bone, self.bones.poses
        if clip is None or clip.motion is None or bone is None or poses is None:
            return
        self.desk.hold()
        self._grip, self._axis = "turn", axis
        self._held = (clip.id, bone, self.desk.time)
        known = poses.own_turn(clip.motion, bone, self.desk.time / 1000)
        self._turn = known or (0.0, 0.0, 0.0)
        pose, number = self.pose, self.chosen
        if pose is not None and number is not None:
            self._plane = _Plane(pose.places[0, number],
                                 axes_of(pose, number), axis, self.camera)
        self._began = self._angle(at)
        self.desk.set(axis=axis)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        at = event.position()
        if not self._grip:
            held = self.ring_at(at) is not None or self.anchor_at(at) is not None
            self.setCursor(Qt.CursorShape.SizeAllCursor if held
                           else Qt.CursorShape.PointingHandCursor if self.bone_at(at)
                           else Qt.CursorShape.OpenHandCursor)
            return
        if not self._moved and (at - self._pressed_at).manhattanLength() < A_DRAG:
            return
        self._moved = True
        by, self._last_at = at - self._last_at, at
        if self._grip == "turn":
            self._drag_ring(at, bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier))
        elif self._grip == "anchor":
            self._drag_anchor(at)
        elif self._grip == "shift":
            self.pan += by
            self.update()
        else:
            self.flat = False
            self.yaw = (self.yaw + by.x() * A_PIXEL) % 360
            self.pitch = max(-89.0, min(89.0, self.pitch + by.y() * A_PIXEL))
            self.update()

    def _drag_ring(self, at: QPointF, whole: bool) -> None:
        """Turn the bone as far as the mouse went round it; with Shift by whole steps."""
        away = degrees((self._angle(at) - self._began + pi) % tau - pi)
        if whole:
            away = round(away / STEP) * STEP
        clip, bone, time = self._held
        turn = turned_further(self._turn, self._axis, away)
        self.document.edit(f"turn {bone}",
                           lambda now: edits.bone_turned(now, clip, bone, self._key_time(time),
                                                         turn),
                           merge=self._started)
        self._started = True

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        grip, self._grip = self._grip, ""
        if event is not None and not self._moved and grip == "orbit" \
                and event.button() == Qt.MouseButton.LeftButton:
            self.desk.choose_bone(self.bone_at(event.position()))
        elif grip == "orbit":
            self.desk.changed.emit()

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        assert event is not None
        self.zoom_by(1.0015 ** event.angleDelta().y(), event.position())

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if self.bone_at(event.position()) is None:
            self.look_around()

    # Rings ----------------------------------------------------------------------------------------

    def ring_at(self, at: QPointF) -> int | None:
        """The axis of the ring at a point, the nearest of several."""
        pose, bone = self.pose, self.chosen
        if pose is None or bone is None:
            return None
        best, found = NEAR, None
        for axis, points in enumerate(self.rings(pose)):
            off = _off_line(self.camera.seen(points).places, np.array([at.x(), at.y()]))
            if off < best:
                best, found = off, axis
        return found

    def _angle(self, at: QPointF) -> float:
        """How far round the ring that is held a point of the view is: where what one looks at there
        goes through the ring's plane, or where that is seen from its edge, about the bone as it is
        seen."""
        plane = self._plane
        if plane is None:
            return 0.0
        camera = plane.camera
        eye, way = camera.ray(at.x(), at.y())
        normal = plane.axes[:, plane.axis]
        slope = float(way @ normal)
        if abs(slope) > EDGE:
            point = eye + way * float((plane.middle - eye) @ normal) / slope - plane.middle
            one, other = (plane.axes[:, (plane.axis + step) % 3] for step in (1, 2))
            return atan2(float(point @ other), float(point @ one))
        x, y = camera.seen(plane.middle[None]).places[0]
        return atan2(at.y() - float(y), at.x() - float(x)) * (1.0 if slope > 0 else -1.0)


def _off_line(points: Floats, at: Floats) -> float:
    """How far a point is from a line through points."""
    way = np.diff(points, axis=0)
    squares = np.maximum(np.sum(way * way, axis=1), 1e-12)
    share = np.clip(np.sum((at - points[:-1]) * way, axis=1) / squares, 0, 1)
    return float(np.linalg.norm(at - points[:-1] - way * share[:, None], axis=1).min())
