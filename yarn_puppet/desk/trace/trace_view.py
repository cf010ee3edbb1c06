"""The trace: read like a logic analyser. Dragging its head moves the whole desk through time."""

from __future__ import annotations

from itertools import zip_longest

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPainterPath, QPolygonF, QWheelEvent
from PyQt6.QtWidgets import QWidget

from ...core.engine.counting import counts
from ...core.takes.run import Record
from .. import theme
from ..document import Document
from ..player import Player
from ..widgets.view import DrawnView
from . import lanes as lanes_of
from .lanes import Lane

LABELS = 118
TOP = 28
BOTTOM = 8
RIGHT = 12
LEAST_LANE, MOST_LANE = 16.0, 26.0
STATE_LANE = 23.0
WIDTHS = (1.0, 2.0, 3.0, 4.0, 6.0, 8.0, 11.0, 16.0, 24.0)
"""Pixels to a tick, from afar to close up."""


class TraceView(DrawnView):
    """Lanes over ticks. While the run is at the present the view follows it."""

    def __init__(self, document: Document, player: Player, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.document, self.player = document, player
        self.setAccessibleName("Trace")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMinimumHeight(120)
        self.zoom = 5
        self.first = 0.0
        self._lane_offset = 0.0
        self._dragging = False
        self._lanes: tuple[object, tuple[Lane, ...]] = (None, ())
        player.moved.connect(self._follow)
        player.run_replaced.connect(self.update)
        player.state_changed.connect(self.update)

    # Geometry ---------------------------------------------------------------------------------------------------

    @property
    def tick_width(self) -> float:
        """Pixels to a tick."""
        return WIDTHS[self.zoom]

    @property
    def ticks_seen(self) -> float:
        """How many ticks fit."""
        return max(1.0, (self.width() - LABELS - RIGHT) / self.tick_width)

    def x_of(self, tick: float) -> float:
        """Where a tick begins."""
        return LABELS + (tick - self.first) * self.tick_width

    def tick_at(self, x: float) -> int:
        """The tick at a place."""
        return int(self.first + (x - LABELS) / self.tick_width)

    def lanes(self) -> tuple[Lane, ...]:
        """The lanes of the puppet."""
        setup = self.player.recording.setup
        if self._lanes[0] is not setup:
            self._lanes = (setup, lanes_of.lanes_of(setup.puppet, setup.program))
        return self._lanes[1]

    def _heights(self) -> list[float]:
        """The lanes' heights: those of states need room for names, the others share the rest."""
        lanes = self.lanes()
        states = sum(lane.kind == "states" for lane in lanes)
        room = self.height() - TOP - BOTTOM - states * STATE_LANE
        other = max(LEAST_LANE, min(MOST_LANE, room / max(1, len(lanes) - states)))
        return [STATE_LANE if lane.kind == "states" else other for lane in lanes]

    def _follow(self) -> None:
        if not self._dragging:
            self.show_tick(self.player.tick)
        self.update()

    def show_tick(self, tick: int) -> None:
        """Bring a tick into view: at the present, a little before the right edge."""
        if self.player.head is None:
            self.first = max(0.0, tick + 2 - self.ticks_seen * 0.92)
        elif not self.first + 1 <= tick <= self.first + self.ticks_seen - 2:
            self.first = max(0.0, tick - self.ticks_seen / 2)

    # Drawing ----------------------------------------------------------------------------------------------------

    def draw(self, painter: QPainter) -> None:
        self.draw_panel(painter)
        records = self.player.records
        first, last = int(self.first), min(len(records) - 1, int(self.first + self.ticks_seen) + 1)
        self._draw_scale(painter)
        painter.save()
        painter.setClipRect(QRectF(8, TOP - 4, self.width() - 16, self.height() - TOP - BOTTOM + 6))
        below = TOP - self._lane_offset
        for lane, height in zip(self.lanes(), self._heights(), strict=True):
            top, below = below, below + height
            if top > self.height() or top + height < TOP - 4:
                continue
            middle = top + height / 2
            theme.draw_text(painter, 14, middle + 5, lane.label, theme.font(13, strong=lane.kind == "states"),
                            theme.INK, LABELS - 24)
            painter.save()
            painter.setClipRect(QRectF(LABELS - 1, TOP - 4, self.width() - LABELS - RIGHT + 2, self.height()))
            if self.player.recording.earlier:
                self._draw_lane(painter, lane, self.player.recording.earlier, first,
                                min(last + 40, len(self.player.recording.earlier) - 1), top, height, True)
            self._draw_lane(painter, lane, records, first, last, top, height, False)
            painter.restore()
        painter.restore()
        self._draw_head(painter)
        if self.player.progress is not None:
            theme.draw_text(painter, 14, 18, f"running again {self.player.progress:.0%}", theme.font(12, italic=True),
                            theme.QUIET, LABELS - 16)
        elif not records:
            theme.draw_text(painter, LABELS + 20, TOP + 30, "Nothing has run yet: press play, or click the booth",
                            theme.font(13, italic=True), theme.QUIET)
        self.draw_focus(painter)

    def _draw_scale(self, painter: QPainter) -> None:
        every = next(each for each in (5, 10, 20, 50, 100, 200) if each * self.tick_width >= 58)
        tick = int(self.first // every) * every
        while tick < self.first + self.ticks_seen:
            x = self.x_of(tick)
            if x >= LABELS - 1:
                painter.setPen(theme.pen(theme.SEAM, 1, (1, 4)))
                painter.drawLine(QPointF(x, TOP - 6), QPointF(x, self.height() - BOTTOM))
                theme.draw_text(painter, x + 3, 17, str(tick), theme.font(11.5), theme.QUIET)
            tick += every

    def _draw_lane(
        self, painter: QPainter, lane: Lane, records: list[Record], first: int, last: int, top: float, height: float,
        earlier: bool,
    ) -> None:
        area = QRectF(0, top + 3, 0, height - 6)
        if lane.kind == "states":
            self._draw_states(painter, lane, records, first, last, area, earlier)
        elif lane.kind in ("steps", "curve"):
            self._draw_values(painter, lane, records, first, last, area, earlier)
        elif lane.kind == "windows":
            self._draw_windows(painter, lane, records, first, last, area, earlier)
        else:
            self._draw_flags(painter, records, first, last, area, earlier)

    def _draw_states(
        self, painter: QPainter, lane: Lane, records: list[Record], first: int, last: int, area: QRectF, earlier: bool
    ) -> None:
        puppet = self.document.puppet
        for run in lanes_of.state_runs(records, lane.key, first, last):
            x, end = self.x_of(run.first), self.x_of(run.last + 1)
            node = puppet.state(run.key)
            group = next(iter(puppet.groups_around(node)), None) if node else None
            color = theme.THREADS[group.thread] if group else theme.FAINT
            slant = min(5.0, (end - x) / 2)
            middle, low = area.center().y(), area.bottom()
            shape = QPolygonF([
                QPointF(x, middle), QPointF(x + slant, area.top()), QPointF(end - slant, area.top()),
                QPointF(end, middle), QPointF(end - slant, low), QPointF(x + slant, low),
            ])
            if earlier:
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.setPen(theme.pen(theme.with_alpha(color, 190), 1.4, (1, 2)))
                painter.drawPolygon(shape.translated(0, 3))
                continue
            painter.setPen(theme.pen(color, 1.3))
            painter.setBrush(theme.tint(color, 0.16))
            painter.drawPolygon(shape)
            left = max(x, LABELS) + 8
            if end - left > 16 and node is not None:
                theme.draw_text(painter, left, middle + 4.5, node.name, theme.font(12.5, strong=True), color,
                                end - left - 6)

    def _draw_values(
        self, painter: QPainter, lane: Lane, records: list[Record], first: int, last: int, area: QRectF, earlier: bool
    ) -> None:
        found = lanes_of.values(records, lane.key, first, last)
        if not found:
            return
        low, high = (0.0, 1.0) if lane.kind == "steps" else (lane.low, lane.high)
        if lane.kind == "curve":
            low, high = min(low, min(found)), max(high, max(found))
        span = (high - low) or 1.0
        path = QPainterPath()
        for number, value in enumerate(found):
            x = self.x_of(max(0, first) + number)
            y = area.bottom() - 1 - (value - low) / span * (area.height() - 2)
            if number == 0:
                path.moveTo(x, y)
            elif lane.kind == "steps":
                path.lineTo(x, path.currentPosition().y())
                path.lineTo(x, y)
            else:
                path.lineTo(x, y)
        path.lineTo(self.x_of(max(0, first) + len(found)), path.currentPosition().y())
        color = theme.MADDER if lane.key.startswith("action") else theme.WOAD
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(theme.pen(theme.with_alpha(color, 170), 1.2, (1, 2)) if earlier else theme.pen(color, 1.5))
        painter.drawPath(path.translated(0, 2) if earlier else path)

    def _draw_windows(
        self, painter: QPainter, lane: Lane, records: list[Record], first: int, last: int, area: QRectF, earlier: bool
    ) -> None:
        for run in lanes_of.window_runs(records, lane.key, first, last):
            rect = QRectF(self.x_of(run.first), area.top() + 1, (run.last + 1 - run.first) * self.tick_width,
                          area.height() - 2)
            record = records[run.first]
            kind = next((each.window.kind for each in record.report.windows if each.window.name == lane.key), "hit")
            color = theme.EVENT_COLORS[kind]
            if earlier:
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.setPen(theme.pen(theme.with_alpha(color, 190), 1.2, (1, 2)))
                painter.drawRect(rect.translated(0, 3))
                continue
            painter.setPen(theme.pen(color, 1.2))
            painter.setBrush(theme.tint(color, 0.26))
            painter.drawRect(rect)
            if kind == "hit":
                node = next((each for each in record.setup.program.nodes if each.clip and each.clip.id == run.key), None)
                if node is not None:
                    count = counts(node.clip)
                    theme.draw_text(
                        painter, rect.right() + 8, rect.center().y() + 4.5,
                        f"startup {count.startup} · active {count.active} · recovery {count.recovery}",
                        theme.font(12, italic=True), theme.QUIET,
                    )

    def _draw_flags(
        self, painter: QPainter, records: list[Record], first: int, last: int, area: QRectF, earlier: bool
    ) -> None:
        if earlier:
            return
        anchors = {anchor.id: anchor.name for anchor in self.document.puppet.anchors}
        found = lanes_of.flags(records, first - 30, last)
        for flag, after in zip_longest(found, found[1:]):
            x = self.x_of(flag.tick)
            color = theme.EVENT_COLORS[flag.kind]
            painter.setPen(theme.pen(color, 1.4))
            painter.drawLine(QPointF(x, area.top()), QPointF(x, area.bottom()))
            painter.setBrush(color)
            painter.drawPolygon(QPolygonF([
                QPointF(x, area.top()), QPointF(x + 8, area.top() + 3.5), QPointF(x, area.top() + 7)
            ]))
            text = f"{flag.name} @ {anchors[flag.anchor]}" if flag.anchor in anchors else flag.name
            room = self.x_of(after.tick) - x - 15 if after else 300.0
            if room > 12:
                theme.draw_text(painter, x + 11, area.bottom() - 2, text, theme.font(12), color, room)

    def _draw_head(self, painter: QPainter) -> None:
        if not self.player.records:
            return
        x = self.x_of(self.player.tick + 0.5)
        if x < LABELS - 2 or x > self.width() - RIGHT + 2:
            return
        painter.setPen(theme.pen(theme.INK, 1.6))
        painter.drawLine(QPointF(x, 10), QPointF(x, self.height() - 5))
        painter.setBrush(theme.INK if self.player.head is not None else QColor(theme.MADDER))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.drawPolygon(QPolygonF([QPointF(x - 7, 4), QPointF(x + 7, 4), QPointF(x + 7, 10), QPointF(x, 18),
                                       QPointF(x - 7, 10)]))

    # Hands ------------------------------------------------------------------------------------------------------

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        self.setFocus()
        if event.button() == Qt.MouseButton.LeftButton and event.position().x() >= LABELS - 4:
            self._dragging = True
            self.player.pause()
            self.player.seek(self.tick_at(event.position().x()))

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        over = event.position().x() >= LABELS - 4
        self.setCursor(Qt.CursorShape.SizeHorCursor if over else Qt.CursorShape.ArrowCursor)
        if self._dragging:
            self.player.seek(max(0, self.tick_at(event.position().x())))

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self._dragging = False

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        turn = event.angleDelta()
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            under = self.tick_at(event.position().x())
            self.zoom = max(0, min(len(WIDTHS) - 1, self.zoom + (1 if turn.y() > 0 else -1)))
            self.first = max(0.0, under - (event.position().x() - LABELS) / self.tick_width)
        elif event.modifiers() & Qt.KeyboardModifier.ShiftModifier or turn.x() or event.position().x() >= LABELS:
            by = (turn.x() or turn.y()) / 120 * 60 / self.tick_width
            self.first = max(0.0, min(max(0.0, len(self.player.records) - 8.0), self.first - by))
        else:
            most = max(0.0, sum(self._heights()) - (self.height() - TOP - BOTTOM))
            self._lane_offset = max(0.0, min(most, self._lane_offset - turn.y() / 6))
        self.update()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        far = 10 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1
        moves = {
            Qt.Key.Key_Left: self.player.tick - far, Qt.Key.Key_Right: self.player.tick + far, Qt.Key.Key_Home: 0,
        }
        if event.key() == Qt.Key.Key_End:
            self.player.seek(None)
        elif event.key() in moves:
            self.player.pause()
            self.player.seek(max(0, moves[Qt.Key(event.key())]))
        elif event.key() in (Qt.Key.Key_Plus, Qt.Key.Key_Minus):
            self.zoom = max(0, min(len(WIDTHS) - 1, self.zoom + (1 if event.key() == Qt.Key.Key_Plus else -1)))
            self.show_tick(self.player.tick)
            self.update()
        else:
            super().keyPressEvent(event)
