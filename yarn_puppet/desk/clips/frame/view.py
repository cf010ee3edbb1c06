"""The big frame: the art with its pivot, boxes and anchors, and ghosts of the neighbouring
frames."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter
from PyQt6.QtWidgets import QWidget

from ....core.model.clips import Box, Clip, Frame, Point
from ...pictures.art import Art
from ...pictures.drawing import draw_checks
from ...session.document import Document
from ...widgets import theme
from ...widgets.things import Thing
from ...widgets.view import DrawnView
from ..clip_desk import ClipDesk
from .marks import draw_anchor, draw_box, draw_feet, draw_invitation, draw_pivot
from .measuring import Measures

MOST_ZOOM = 32


class FrameView(DrawnView):
    """Draws the frame at the head, as large as whole halves of a pixel allow, or at a whole-number
    zoom."""

    def __init__(
        self,
        document: Document,
        desk: ClipDesk,
        art: Art,
        measures: Measures,
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self.document, self.desk, self.art, self.measures = document, desk, art, measures
        self.setAccessibleName("Frame")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMinimumSize(260, 140)
        self.zoom: int | None = None
        """Screen pixels to a pixel of the art; None fits the frame in."""
        self.pan = QPointF()
        self.painted = ("", 0)
        """The clip and the frame that were last painted: those that can be pressed."""
        desk.changed.connect(self.update)
        desk.moved.connect(self.update)

    # Geometry -------------------------------------------------------------------------------------

    def scale_and_corner(self, frame: Frame) -> tuple[float, float, float]:
        """Screen pixels to a pixel of the art, and where the left top corner of the cell is."""
        cell = frame.cell
        if self.zoom is None:
            fit = min((self.width() - 16) / cell.width, (self.height() - 16) / cell.height)
            scale = max(0.25, int(fit * 2) / 2) if fit >= 1 else max(0.01, fit)
            return scale, (self.width() - cell.width * scale) / 2, (
                self.height() - cell.height * scale) / 2
        scale = float(self.zoom)
        return scale, round((self.width() - cell.width * scale) / 2 + self.pan.x()), \
            round((self.height() - cell.height * scale) / 2 + self.pan.y())

    def zoom_to(self, zoom: int | None, about: QPointF | None = None) -> None:
        """Zoom, keeping the point of the art under `about` where it is; None fits the frame in
        again."""
        frame = self.desk.frame
        if frame is None:
            return
        if zoom is None:
            self.zoom, self.pan = None, QPointF()
        else:
            about = about or QPointF(self.rect().center())
            scale, left, top = self.scale_and_corner(frame)
            at = QPointF((about.x() - left) / scale, (about.y() - top) / scale)
            if self.zoom is None:
                self.pan = QPointF()
            self.zoom = max(1, min(MOST_ZOOM, zoom))
            scale, left, top = self.scale_and_corner(frame)
            self.pan += QPointF(about.x() - left - at.x() * scale, about.y() - top - at.y() * scale)
        self.desk.changed.emit()

    def to_view(self, x: float, y: float) -> QPointF:
        """A point of the cell as a point of the view, mirrored when the view is."""
        frame = self.desk.frame
        if frame is None:
            return QPointF()
        scale, left, top = self.scale_and_corner(frame)
        across = frame.cell.width - x if self.desk.mirrored else x
        return QPointF(left + across * scale, top + y * scale)

    def to_cell(self, at: QPointF) -> tuple[float, float]:
        """A point of the view as a point of the cell, in whole pixels."""
        frame = self.desk.frame
        if frame is None:
            return 0.0, 0.0
        scale, left, top = self.scale_and_corner(frame)
        x = (at.x() - left) / scale
        x = frame.cell.width - x if self.desk.mirrored else x
        return float(round(max(0, min(x, frame.cell.width)))), \
            float(round(max(0, min((at.y() - top) / scale, frame.cell.height))))

    def box_rect(self, box: Box) -> QRectF:
        """Where a box is drawn."""
        return QRectF(self.to_view(box.x, box.y),
                      self.to_view(box.x + box.width, box.y + box.height)).normalized()

    def things(self) -> list[Thing]:
        clip, frame = self.desk.clip, self.desk.frame
        if clip is None or frame is None:
            return []
        index, pivot = self.desk.index, clip.pivot_of(self.desk.index)
        made = [Thing(f"{box.kind} box {box.name}".strip(),
                      f"{box.width:g} by {box.height:g} at {box.x:g}, {box.y:g}",
                      self.box_rect(box),
                      self.desk.box_number == number) for number, box in enumerate(frame.boxes)]
        points = [("pivot", pivot),
                  *((f"anchor {anchor.name}", point) for anchor in self.document.puppet.anchors
                                      if (point := clip.anchor_at(index, anchor.id)) is not None)]
        for name, point in points:
            at = self.to_view(point.x, point.y)
            made.append(Thing(name, f"at {point.x:g}, {point.y:g}",
                              QRectF(at.x() - 5, at.y() - 5, 10, 10)))
        return made

    # Drawing --------------------------------------------------------------------------------------

    def draw(self, painter: QPainter) -> None:
        whole = QRectF(self.rect())
        if self.desk.night:
            painter.fillRect(whole, theme.NIGHT)
        else:
            draw_checks(painter, whole)
        clip, frame = self.desk.clip, self.desk.frame
        if clip is None:
            draw_invitation(painter, whole)
            return
        if frame is None:
            theme.draw_text(painter, 20, whole.center().y(),
                            "This clip has no frames yet: pick cells of a sheet, or "
                            "copy frames into it", theme.font(13, italic=True), theme.QUIET)
            return
        painter.setClipRect(whole)
        index = self.desk.index
        self.painted = (clip.id, index)
        if not self.desk.flicker:
            self._draw_ghosts(painter, clip, index)
        self._draw_art(painter, clip, index)
        number = self.desk.box_number
        for place, box in enumerate(frame.boxes):
            of_tool = self.desk.tool == f"{box.kind} box"
            draw_box(painter, box, self.box_rect(box), of_tool and place == number, of_tool)
        self._draw_points(painter, clip, index)
        painter.setClipping(False)
        self.draw_focus(painter, 4)

    def _draw_points(self, painter: QPainter, clip: Clip, index: int) -> None:
        """The pivot, with the feet of every frame about it while it is worked on, and the
        anchors."""
        pivot = clip.pivot_of(index)
        if self.desk.tool == "pivot":
            offsets = [Point(foot.x - clip.pivot_of(at).x, foot.y - clip.pivot_of(at).y)
                       if foot else None
                       for at, foot in enumerate(self.measures.feet(clip) or ())]
            draw_feet(painter, [self.to_view(pivot.x + offset.x, pivot.y + offset.y)
                                if offset else None
                                for offset in offsets], index)
        draw_pivot(painter, pivot, self.to_view(pivot.x, pivot.y), self.desk.tool == "pivot",
                   self.height())
        for anchor in self.document.puppet.anchors:
            point = clip.anchor_at(index, anchor.id)
            if point is None:
                continue
            own = any(each.anchor == anchor.id and not each.guess
                      for each in clip.frames[index].anchors)
            chosen = anchor.id == self.desk.anchor_id and self.desk.tool == "anchor"
            draw_anchor(painter, self.to_view(point.x, point.y), anchor.name, chosen, own)

    def _draw_ghosts(self, painter: QPainter, clip: Clip, index: int) -> None:
        """The frames before in one tint and those after in another, fainter the further off; loops
        go round."""
        count = len(clip.frames)
        before, after = theme.INDIGO, theme.MADDER
        if self.desk.night:
            before, after = before.lighter(190), after.lighter(160)
        for away in range(min(self.desk.ghosts, count - 1), 0, -1):
            for at, tint in ((index - away, before), (index + away, after)):
                if 0 <= at < count or clip.mode == "loop":
                    painter.setOpacity(0.30 / away + 0.02)
                    self._draw_art(painter, clip, at % count, tint)
                    painter.setOpacity(1.0)

    def _draw_art(
        self, painter: QPainter, clip: Clip, index: int, tint: QColor | None = None
    ) -> None:
        frame = clip.frames[index]
        shown = self.desk.frame
        assert shown is not None
        scale, left, top = self.scale_and_corner(shown)
        # Frames of other sizes stand on the same pivot.
        here, there = clip.pivot_of(self.desk.index), clip.pivot_of(index)
        across = here.x - there.x
        if self.desk.mirrored:
            across = shown.cell.width - frame.cell.width - across
        pixmap = self.art.pixmap(frame, self.desk.mirrored)
        if tint is not None:
            pixmap = self.art.tinted(frame, self.desk.mirrored, tint)
        area = QRectF(left + across * scale, top + (here.y - there.y) * scale,
                      frame.cell.width * scale,
                      frame.cell.height * scale)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, scale < 2)
        painter.drawPixmap(area, pixmap, QRectF(pixmap.rect()))
