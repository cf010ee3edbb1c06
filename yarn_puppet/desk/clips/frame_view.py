"""The big frame: pivot, boxes and anchors, dragged on the art itself, with ghosts of the neighbouring frames."""

from __future__ import annotations

from msgspec.structs import replace
from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter
from PyQt6.QtWidgets import QWidget

from ...core.model.clips import Box, Clip, Frame, Point
from ...core.model.edits import clips as edits
from .. import theme
from ..art import Art, draw_checks
from ..document import Document
from ..widgets.view import DrawnView
from .clip_desk import ClipDesk
from .frame_marks import cursor_for, draw_anchor, draw_box, draw_invitation, draw_pivot

HANDLE = 5.0
Grip = tuple[str, Box | None]
"""What the mouse holds: "move", a pair of edges such as "left top", "new", "pivot" or "anchor"; and the box."""


class FrameView(DrawnView):
    """Draws the frame at the head, as large as whole halves of a pixel allow."""

    invited = pyqtSignal()
    """A click where there is no clip yet."""

    def __init__(self, document: Document, desk: ClipDesk, art: Art, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.document, self.desk, self.art = document, desk, art
        self.setAccessibleName("Frame")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMinimumSize(260, 160)
        self._grip: Grip | None = None
        self._press = (0.0, 0.0)
        self._started = False
        desk.changed.connect(self.update)

    # Geometry ---------------------------------------------------------------------------------------------------

    def _scale_and_corner(self, frame: Frame) -> tuple[float, float, float]:
        cell = frame.cell
        fit = min((self.width() - 16) / cell.width, (self.height() - 16) / cell.height)
        scale = max(0.25, int(fit * 2) / 2) if fit >= 1 else fit
        return scale, (self.width() - cell.width * scale) / 2, (self.height() - cell.height * scale) / 2

    def to_view(self, x: float, y: float) -> QPointF:
        """A point of the cell as a point of the view, mirrored when the view is."""
        frame = self.desk.frame
        if frame is None:
            return QPointF()
        scale, left, top = self._scale_and_corner(frame)
        across = frame.cell.width - x if self.desk.mirrored else x
        return QPointF(left + across * scale, top + y * scale)

    def to_cell(self, at: QPointF) -> tuple[float, float]:
        """A point of the view as a point of the cell, in whole pixels."""
        frame = self.desk.frame
        if frame is None:
            return 0.0, 0.0
        scale, left, top = self._scale_and_corner(frame)
        x = (at.x() - left) / scale
        x = frame.cell.width - x if self.desk.mirrored else x
        return float(round(max(0, min(x, frame.cell.width)))), \
            float(round(max(0, min((at.y() - top) / scale, frame.cell.height))))

    def _rect(self, box: Box) -> QRectF:
        return QRectF(self.to_view(box.x, box.y), self.to_view(box.x + box.width, box.y + box.height)).normalized()

    # Drawing ----------------------------------------------------------------------------------------------------

    def draw(self, painter: QPainter) -> None:
        whole = QRectF(self.rect())
        draw_checks(painter, whole)
        clip, frame = self.desk.clip, self.desk.frame
        if clip is None or frame is None:
            draw_invitation(painter, whole)
            return
        index = self.desk.index
        if self.desk.ghosts and len(clip.frames) > 1:
            self._draw_ghost(painter, clip, (index - 1) % len(clip.frames), theme.INDIGO)
            self._draw_ghost(painter, clip, (index + 1) % len(clip.frames), theme.MADDER)
        self._draw_art(painter, clip, index)
        for box in frame.boxes:
            draw_box(painter, box, self._rect(box), self.desk.tool == f"{box.kind} box")
        pivot = clip.pivot_of(index)
        draw_pivot(painter, pivot, self.to_view(pivot.x, pivot.y), self.desk.tool == "pivot", self.height())
        names = {anchor.id: anchor.name for anchor in self.document.puppet.anchors}
        for point in frame.anchors:
            chosen = point.anchor == self.desk.anchor_id and self.desk.tool == "anchor"
            draw_anchor(painter, self.to_view(point.x, point.y), names.get(point.anchor, point.anchor), chosen)
        self.draw_focus(painter, 4)

    def _draw_art(self, painter: QPainter, clip: Clip, index: int, tint: QColor | None = None) -> None:
        frame = clip.frames[index]
        shown = self.desk.frame
        assert shown is not None
        scale, left, top = self._scale_and_corner(shown)
        # Frames of other sizes stand on the same pivot.
        here, there = clip.pivot_of(self.desk.index), clip.pivot_of(index)
        across = here.x - there.x
        if self.desk.mirrored:
            across = shown.cell.width - frame.cell.width - across
        pixmap = self.art.pixmap(frame, self.desk.mirrored)
        if tint is not None:
            pixmap = self.art.tinted(frame, self.desk.mirrored, tint)
        area = QRectF(left + across * scale, top + (here.y - there.y) * scale, frame.cell.width * scale,
                      frame.cell.height * scale)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, scale < 2)
        painter.drawPixmap(area, pixmap, QRectF(pixmap.rect()))

    def _draw_ghost(self, painter: QPainter, clip: Clip, index: int, tint: QColor) -> None:
        painter.setOpacity(0.24)
        self._draw_art(painter, clip, index, tint)
        painter.setOpacity(1.0)

    # Hands ------------------------------------------------------------------------------------------------------

    def _grip_at(self, at: QPointF) -> Grip | None:
        frame, tool = self.desk.frame, self.desk.tool
        if frame is None:
            return None
        if tool in ("pivot", "anchor"):
            return (tool, None)
        for box in reversed(frame.boxes):
            if f"{box.kind} box" != tool:
                continue
            rect = self._rect(box)
            sides = [side for side, away in (("left", at.x() - rect.left()), ("right", at.x() - rect.right()),
                                             ("top", at.y() - rect.top()), ("bottom", at.y() - rect.bottom()))
                     if abs(away) <= HANDLE + 1]
            if sides and rect.adjusted(-7, -7, 7, 7).contains(at):
                if self.desk.mirrored:
                    swap = {"left": "right", "right": "left"}
                    sides = [swap.get(side, side) for side in sides]
                return (" ".join(sides), box)
            if rect.contains(at):
                return ("move", box)
        return ("new", None)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        self.setFocus()
        if event.button() != Qt.MouseButton.LeftButton:
            return
        if self.desk.clip is None:
            self.invited.emit()
            return
        self._grip, self._press, self._started = self._grip_at(event.position()), self.to_cell(event.position()), False
        if self._grip is not None and self._grip[0] in ("pivot", "anchor"):
            self._drag(event.position())

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if self._grip is None:
            grip = self._grip_at(event.position())
            self.setCursor(cursor_for(grip[0]) if grip else Qt.CursorShape.ArrowCursor)
        elif event.buttons() & Qt.MouseButton.LeftButton:
            self._drag(event.position())

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self._grip = None

    def _drag(self, at: QPointF) -> None:
        clip, frame = self.desk.clip, self.desk.frame
        if clip is None or frame is None or self._grip is None:
            return
        kind, box = self._grip
        x, y = self.to_cell(at)
        merge, self._started = self._started, True
        if kind == "pivot":
            self.document.edit("move pivot", lambda now: edits.clip_changed(now, clip.id, pivot=Point(x, y)), merge)
        elif kind == "anchor":
            self._drag_anchor(clip, x, y, merge)
        else:
            self._drag_box(clip, kind, box, x, y, merge)

    def _drag_anchor(self, clip: Clip, x: float, y: float, merge: bool) -> None:
        puppet, anchor = self.document.puppet, self.desk.anchor_id
        if anchor is None:
            puppet, anchor = edits.anchor_added(puppet, "anchor")
            self.desk.anchor_id = anchor
        self.document.edit("move anchor", edits.anchor_set(puppet, clip.id, self.desk.index, anchor, x, y), merge)

    def _drag_box(self, clip: Clip, kind: str, box: Box | None, x: float, y: float, merge: bool) -> None:
        px, py = self._press
        if kind == "new":
            if abs(x - px) < 1 or abs(y - py) < 1:
                self._started = merge
                return
            made = Box("hit" if self.desk.tool == "hit box" else "body", min(px, x), min(py, y), abs(x - px),
                       abs(y - py), self._hit_name(clip) if self.desk.tool == "hit box" else "")
            self.document.edit(f"draw {self.desk.tool}", lambda now: edits.box_set(now, clip.id, self.desk.index, made),
                               merge)
            return
        assert box is not None
        if kind == "move":
            made = replace(box, x=box.x + x - px, y=box.y + y - py)
        else:
            left, top, right, bottom = box.x, box.y, box.x + box.width, box.y + box.height
            left = min(x, right - 1) if "left" in kind else left
            right = max(x, left + 1) if "right" in kind else right
            top = min(y, bottom - 1) if "top" in kind else top
            bottom = max(y, top + 1) if "bottom" in kind else bottom
            made = replace(box, x=left, y=top, width=right - left, height=bottom - top)
        self.document.edit(f"change {self.desk.tool}", lambda now: edits.box_set(now, clip.id, self.desk.index, made),
                           merge)

    def _hit_name(self, clip: Clip) -> str:
        """A new hit box belongs to the hit window over its frame, or to any where there is none yet."""
        start, end = clip.start_of(self.desk.index), clip.start_of(self.desk.index + 1)
        return next((window.name for window in clip.windows
                     if window.kind == "hit" and window.start < end and window.end > start), "")

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        nudges = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, -1), Qt.Key.Key_Down: (0, 1)}
        clip, frame = self.desk.clip, self.desk.frame
        key = Qt.Key(event.key())
        if clip is None or frame is None:
            super().keyPressEvent(event)
        elif key in nudges and event.modifiers() & Qt.KeyboardModifier.AltModifier:
            self._nudge(clip, frame, *nudges[key])
        elif key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            self.desk.step(nudges[key][0])
        elif key in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            box = self._tool_box(frame)
            if box is not None:
                self.document.edit(f"remove {self.desk.tool}",
                                   lambda now: edits.box_removed(now, clip.id, self.desk.index, box))
        elif key == Qt.Key.Key_Space:
            self.desk.toggle_playing()
        else:
            super().keyPressEvent(event)

    def _tool_box(self, frame: Frame) -> Box | None:
        return next((box for box in reversed(frame.boxes) if f"{box.kind} box" == self.desk.tool), None)

    def _nudge(self, clip: Clip, frame: Frame, across: int, down: int) -> None:
        """Move what the tool is for by a pixel, with Alt and an arrow key."""
        tool, index = self.desk.tool, self.desk.index
        if tool == "pivot":
            pivot = clip.pivot_of(index)
            self.document.edit("move pivot", lambda now: edits.clip_changed(
                now, clip.id, pivot=Point(pivot.x + across, pivot.y + down)), merge=True)
        elif tool == "anchor":
            point = next((each for each in frame.anchors if each.anchor == self.desk.anchor_id), None)
            if point is not None:
                self.document.edit("move anchor", lambda now: edits.anchor_set(
                    now, clip.id, index, point.anchor, point.x + across, point.y + down), merge=True)
        else:
            box = self._tool_box(frame)
            if box is not None:
                moved = replace(box, x=box.x + across, y=box.y + down)
                self.document.edit(f"change {tool}", lambda now: edits.box_set(now, clip.id, index, moved), merge=True)
