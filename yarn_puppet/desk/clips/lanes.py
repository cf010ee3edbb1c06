"""Frames drawn as wide as they last, and under them the lanes of windows and moments."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPolygonF
from PyQt6.QtWidgets import QWidget

from ...core.model.clips import Clip, Moment, Window
from ...core.model.edits import clips as edits
from ...core.model.puppet import Puppet
from .. import theme
from ..art import Art, draw_fitted
from ..document import Document
from ..widgets.view import DrawnView
from .clip_desk import ClipDesk
from .lane_kinds import FIRST_NAMES, LANES, LaneKind, event_words

LABELS, RIGHT = 118.0, 20.0
FRAMES_TOP, FRAMES_HEIGHT = 14.0, 62.0
LANES_TOP = FRAMES_TOP + FRAMES_HEIGHT + 8
LEAST_LANE, MOST_LANE = 18.0, 28.0
NEAR = 5.0
"""How near to an edge or a flag, in pixels, a press must be to take hold of it."""


class Lanes(DrawnView):
    """Drag along an empty lane for a window, click for a moment; Alt sets times free of the frames' borders."""

    def __init__(self, document: Document, desk: ClipDesk, art: Art, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.document, self.desk, self.art = document, desk, art
        self.setAccessibleName("Events")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMinimumHeight(int(LANES_TOP + len(LANES) * LEAST_LANE + 4))
        self._grip: tuple[str, str, float] | None = None
        self._started = False
        self._making: tuple[LaneKind, float, float] | None = None
        desk.changed.connect(self.update)

    # Geometry ---------------------------------------------------------------------------------------------------

    def x_of(self, time: float) -> float:
        """Where a time of the clip, in milliseconds, is drawn."""
        clip = self.desk.clip
        length = clip.length if clip and clip.length else 1.0
        return LABELS + time / length * (self.width() - LABELS - RIGHT)

    def time_at(self, x: float) -> float:
        """The time at a place, within the clip."""
        clip = self.desk.clip
        length = clip.length if clip else 0.0
        return max(0.0, min(length, (x - LABELS) / (self.width() - LABELS - RIGHT) * length))

    def lane_rect(self, number: int) -> QRectF:
        """Where a lane is."""
        height = max(LEAST_LANE, min(MOST_LANE, (self.height() - LANES_TOP - 4) / len(LANES)))
        return QRectF(LABELS, LANES_TOP + number * height, self.width() - LABELS - RIGHT, height)

    def _snapped(self, time: float, free: bool) -> float:
        """The nearest border of a frame, or with Alt the whole millisecond."""
        clip = self.desk.clip
        if free or clip is None:
            return float(round(time))
        borders = [clip.start_of(index) for index in range(len(clip.frames) + 1)]
        return min(borders, key=lambda border: abs(border - time))

    def _events(self, clip: Clip, lane: LaneKind) -> list[Moment | Window]:
        return [each for each in clip.events if each.kind in lane.kinds and isinstance(each, Window) == lane.is_window]

    # Drawing ----------------------------------------------------------------------------------------------------

    def draw(self, painter: QPainter) -> None:
        clip = self.desk.clip
        if clip is None or not clip.frames:
            theme.draw_text(painter, 14, 40, "The frames of a clip stand here, as wide as they last",
                            theme.font(13, italic=True), theme.QUIET)
            return
        self._draw_frames(painter, clip)
        for number, lane in enumerate(LANES):
            rect = self.lane_rect(number)
            theme.draw_text(painter, 14, rect.center().y() + 4.5, lane.label, theme.font(13), theme.INK, LABELS - 20)
            painter.setPen(theme.pen(theme.SEAM, 1, (1, 4)))
            painter.drawLine(QPointF(LABELS, rect.bottom() - 1), QPointF(rect.right(), rect.bottom() - 1))
            for event in self._events(clip, lane):
                self._draw_event(painter, event, rect)
            if self._making is not None and self._making[0] is lane:
                _, start, end = self._making
                painter.setPen(theme.pen(theme.EVENT_COLORS[lane.makes], 1.4, (3, 2)))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawRect(QRectF(self.x_of(min(start, end)), rect.y() + 3,
                                        abs(self.x_of(end) - self.x_of(start)), rect.height() - 6))
        x = self.x_of(self.desk.time)
        painter.setPen(theme.pen(theme.INK, 1.6))
        painter.drawLine(QPointF(x, 8), QPointF(x, self.height() - 4))
        painter.setBrush(theme.INK)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.drawPolygon(QPolygonF([QPointF(x - 7, 1), QPointF(x + 7, 1), QPointF(x + 7, 7), QPointF(x, 14),
                                       QPointF(x - 7, 7)]))
        self.draw_focus(painter, 6)

    def _draw_frames(self, painter: QPainter, clip: Clip) -> None:
        for index, frame in enumerate(clip.frames):
            start = clip.start_of(index)
            x, end = self.x_of(start), self.x_of(start + frame.duration)
            rect = QRectF(x + 1, FRAMES_TOP, end - x - 2, FRAMES_HEIGHT)
            current = index == self.desk.index
            theme.draw_card(painter, rect, 5, theme.WHITE, theme.INK if current else theme.SEAM, 2 if current else 1.1)
            draw_fitted(painter, self.art, clip, index, rect.adjusted(2, 3, -2, -2))
            small = theme.font(12)
            if rect.width() > 20:
                theme.draw_text(painter, rect.x() + 5, rect.y() + 13, str(index + 1), theme.font(12, strong=True))
            wide = theme.text_width(f"{frame.duration:g} ms", small)
            if rect.width() > wide + 24:
                theme.draw_text(painter, rect.right() - wide - 5, rect.y() + 13, f"{frame.duration:g} ms", small,
                                theme.QUIET)

    def _draw_event(self, painter: QPainter, event: Moment | Window, lane: QRectF) -> None:
        color = theme.EVENT_COLORS[event.kind]
        chosen = event.id == self.desk.event_id
        words = event_words(event, self.document.puppet)
        of = theme.font(12.5, strong=True)
        if isinstance(event, Window):
            x, end = self.x_of(event.start), self.x_of(event.end)
            rect = QRectF(x, lane.y() + 2.5, max(3.0, end - x), lane.height() - 6)
            painter.setPen(theme.pen(theme.INK if chosen else color, 2.2 if chosen else 1.3))
            painter.setBrush(theme.tint(color, 0.28))
            painter.drawRoundedRect(rect, 3, 3)
            theme.draw_text(painter, x + 8, rect.center().y() + 4.5, words, of, color, max(1.0, rect.width() - 12))
            return
        x = self.x_of(event.at)
        painter.setPen(theme.pen(color, 2.6 if chosen else 1.5))
        painter.drawLine(QPointF(x, lane.y() + 2), QPointF(x, lane.bottom() - 3))
        painter.setBrush(color)
        painter.drawPolygon(QPolygonF([QPointF(x, lane.y() + 2), QPointF(x + 9, lane.y() + 6),
                                       QPointF(x, lane.y() + 10)]))
        after = theme.text_width(words, of)
        left = x + 13 if x + 13 + after < self.width() - 4 else x - after - 6
        theme.draw_text(painter, left, lane.center().y() + 4.5, words, of, theme.INK if chosen else color)

    # Hands ------------------------------------------------------------------------------------------------------

    def _at(self, event: QMouseEvent) -> tuple[str, str, float] | None:
        """What a press takes hold of: ("border" | "start" | "end" | "bar" | "moment", id or index, offset in ms)."""
        clip = self.desk.clip
        x, y = event.position().x(), event.position().y()
        if clip is None or not clip.frames:
            return None
        if y < LANES_TOP - 4:
            for index in range(len(clip.frames)):
                if abs(self.x_of(clip.start_of(index + 1)) - x) <= NEAR and y > FRAMES_TOP:
                    return ("border", str(index), 0.0)
            return ("head", "", 0.0) if x >= LABELS - 8 else None
        for number, lane in enumerate(LANES):
            if not self.lane_rect(number).adjusted(-8, 0, 8, 0).contains(event.position()):
                continue
            for each in reversed(self._events(clip, lane)):
                if isinstance(each, Moment):
                    if -NEAR <= x - self.x_of(each.at) <= 12:
                        return ("moment", each.id, self.time_at(x) - each.at)
                    continue
                start, end = self.x_of(each.start), self.x_of(each.end)
                if abs(x - start) <= NEAR:
                    return ("start", each.id, 0.0)
                if abs(x - end) <= NEAR:
                    return ("end", each.id, 0.0)
                if start < x < end:
                    return ("bar", each.id, self.time_at(x) - each.start)
            return ("lane", str(number), 0.0)
        return None

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        self.setFocus()
        self._grip, self._started = self._at(event), False
        if self._grip is None:
            return
        kind, id, _ = self._grip
        if kind in ("start", "end", "bar", "moment"):
            self.desk.select_event(id)
        elif kind == "head":
            self.desk.show_time(self.time_at(event.position().x()))
        elif kind == "lane":
            lane = LANES[int(id)]
            start = self._snapped(self.time_at(event.position().x()), _free(event))
            self._making = (lane, start, start)
        self.update()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if self._grip is None:
            found = self._at(event)
            self.setCursor({"border": Qt.CursorShape.SplitHCursor, "start": Qt.CursorShape.SizeHorCursor,
                            "end": Qt.CursorShape.SizeHorCursor, "bar": Qt.CursorShape.OpenHandCursor,
                            "moment": Qt.CursorShape.OpenHandCursor, "head": Qt.CursorShape.PointingHandCursor,
                            "lane": Qt.CursorShape.CrossCursor}.get(found[0] if found else "",
                                                                    Qt.CursorShape.ArrowCursor))
            return
        self._drag(self.time_at(event.position().x()), _free(event))
        self.update()

    def _drag(self, time: float, free: bool) -> None:
        clip = self.desk.clip
        if clip is None or self._grip is None:
            return
        kind, id, offset = self._grip
        if kind == "head":
            self.desk.show_time(time)
        elif kind == "lane" and self._making is not None:
            self._making = (self._making[0], self._making[1], self._snapped(time, free))
        elif kind == "border":
            index = int(id)
            # The pixels per millisecond follow the clip's length: hold to those of the moment of the press.
            duration = float(max(5, round((time - clip.start_of(index)) / 5) * 5))
            self._change("change duration", edits.frame_changed(self.document.puppet, clip.id, index,
                                                                duration=duration))
        elif kind == "moment":
            self._change("move moment", edits.event_changed(
                self.document.puppet, clip.id, id, at=self._snapped(time - offset, free)))
        else:
            self._drag_window(clip, kind, id, time, offset, free)

    def _drag_window(self, clip: Clip, kind: str, id: str, time: float, offset: float, free: bool) -> None:
        window = edits.event_of(clip, id)
        if not isinstance(window, Window):
            return
        if kind == "bar":
            length = window.end - window.start
            start = max(0.0, min(self._snapped(time - offset, free), clip.length - length))
            values = {"start": start, "end": start + length}
        elif kind == "start":
            values = {"start": min(self._snapped(time, free), window.end - 1)}
        else:
            values = {"end": max(self._snapped(time, free), window.start + 1)}
        self._change("move window", edits.event_changed(self.document.puppet, clip.id, id, **values))

    def _change(self, name: str, puppet: Puppet) -> None:
        self.document.edit(name, puppet, merge=self._started)
        self._started = True

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        making, self._making, self._grip = self._making, None, None
        if making is not None:
            self._make(*making)
        self.update()

    def _make(self, lane: LaneKind, start: float, end: float) -> None:
        """A window over the dragged frames, or a moment where a click was."""
        clip = self.desk.clip
        if clip is None:
            return
        first, last = min(start, end), max(start, end)
        if not lane.is_window:
            anchor = self.desk.anchor_id if lane.makes == "effect" else None
            event: Moment | Window = Moment("x", end, lane.makes, FIRST_NAMES[lane.makes], anchor,  # type: ignore[arg-type]
                                            anchor is not None)
        else:
            if last - first < 1:
                index = clip.frame_at(first)
                first, last = clip.start_of(index), clip.start_of(index + 1)
            event = Window("x", first, last, lane.makes, FIRST_NAMES[lane.makes])  # type: ignore[arg-type]
        puppet, id = edits.event_added(self.document.puppet, clip.id, event)
        self.document.edit(f"add {lane.makes} {'window' if lane.is_window else 'moment'}", puppet)
        self.desk.select_event(id)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        clip = self.desk.clip
        key = Qt.Key(event.key())
        if key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            self.desk.step(-1 if key == Qt.Key.Key_Left else 1)
        elif key in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace) and clip is not None and self.desk.event_id:
            id = self.desk.event_id
            self.document.edit("remove event", lambda now: edits.event_removed(now, clip.id, id))
            self.desk.select_event(None)
        elif key == Qt.Key.Key_E and clip is not None and clip.events:
            ids = [each.id for each in clip.events]
            place = (ids.index(self.desk.event_id) + 1) % len(ids) if self.desk.event_id in ids else 0
            self.desk.select_event(ids[place])
        elif key == Qt.Key.Key_Space:
            self.desk.toggle_playing()
        elif event.text() in "123456" and event.text() and clip is not None:
            # At the head, by key: 1 to 6 are the lanes from the top.
            lane = LANES[int(event.text()) - 1]
            at = clip.start_of(self.desk.index)
            self._make(lane, at, at)
        else:
            super().keyPressEvent(event)


def _free(event: QMouseEvent) -> bool:
    return bool(event.modifiers() & Qt.KeyboardModifier.AltModifier)
