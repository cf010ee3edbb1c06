"""Live values beside the wiring: a lamp for what is on, a strip for what a sense has been."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QKeyEvent, QPainter, QPainterPath, QPolygonF
from PyQt6.QtWidgets import QAbstractButton

from ...core.model.wiring import Sense
from ...core.takes.explaining.explain import said
from ..session.run.player import Player
from ..widgets import theme
from ..widgets.painting import painting
from ..widgets.things import Thing
from ..widgets.view import DrawnView

PAST = 90
"""Ticks that a strip looks back."""


class Lamp(QAbstractButton):
    """A disc that is filled while something is on; clicking it does something, where there is
    something to do."""

    def __init__(
        self,
        name: str,
        color: QColor,
        lit: Callable[[], bool],
        action: Callable[[], None] | None,
        tip: str,
    ) -> None:
        super().__init__()
        self.setObjectName(name)
        self.setAccessibleName(name)
        self.setToolTip(tip)
        self.color, self.lit = color, lit
        self.setFixedSize(24, 24)
        if action is not None:
            self.clicked.connect(action)
            self.setCursor(Qt.CursorShape.PointingHandCursor)
        else:
            self.setFocusPolicy(Qt.FocusPolicy.NoFocus)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self.click()
        else:
            super().keyPressEvent(event)

    def paintEvent(self, event: object) -> None:
        with painting(self) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            on = self.lit()
            hot = self.hasFocus() or (
                self.underMouse() and self.focusPolicy() != Qt.FocusPolicy.NoFocus
            )
            painter.setPen(theme.pen(self.color if on or hot else theme.SEAM, 2 if hot else 1.4))
            painter.setBrush(self.color if on else theme.WHITE)
            painter.drawEllipse(QRectF(4, 4, 16, 16))
            if on:
                painter.setPen(theme.pen(theme.WHITE, 2))
                painter.drawPolyline(QPolygonF([
                    QPointF(8.5, 12.5), QPointF(11, 15), QPointF(15.5, 9.5)]))


class Strip(DrawnView):
    """The last ticks of a sense or memo, and its value now."""

    def __init__(self, player: Player, key: str, low: float, high: float, unit: str) -> None:
        super().__init__()
        self.player, self.key, self.low, self.high, self.unit = player, key, low, high, unit
        self.setFixedSize(self.sizeHint())
        self.setAccessibleName(f"last ticks of {key.partition(':')[2].replace('_', ' ')}")
        player.seen.connect(self.update)

    def things(self) -> list[Thing]:
        value = self.value()
        return (
            [Thing(f"{value}{self.unit}", "now", QRectF(self.rect()))] if value is not None else []
        )

    @classmethod
    def of_sense(cls, player: Player, sense: Sense) -> Strip:
        """The strip of a sense."""
        low, high = (0.0, 1.0) if sense.type == "bool" else (sense.low, sense.high)
        return cls(player, f"sense:{sense.id}", low, high, sense.unit)

    def sizeHint(self) -> QSize:
        return QSize(176, 26)

    def value(self) -> object:
        """The value at the tick on show, None before the first."""
        record = self.player.shown
        kind, _, id = self.key.partition(":")
        place = record.setup.program.places.get((kind, id)) if record else None
        if record is None or place is None:
            return None
        return record.report.senses[place] if kind == "sense" else record.report.memos[place]

    def draw(self, painter: QPainter) -> None:
        area = QRectF(0.5, 3.5, 96, self.height() - 7)
        painter.setPen(theme.pen(theme.SEAM, 1))
        painter.setBrush(theme.WHITE)
        painter.drawRoundedRect(area, 4, 4)
        tick = self.player.tick
        found = self.player.records.columns.values(self.key, tick - PAST + 1, tick).tolist()
        if found:
            low, high = min(self.low, *found), max(self.high, *found)
            span = (high - low) or 1.0
            path = QPainterPath()
            for number, value in enumerate(found):
                x = area.right() - (len(found) - 1 - number) / PAST * (area.width() - 4) - 3
                y = area.bottom() - 3 - (value - low) / span * (area.height() - 6)
                if number:
                    path.lineTo(x, y)
                else:
                    path.moveTo(x, y)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(theme.pen(theme.WOAD, 1.4))
            painter.drawPath(path)
        value = self.value()
        text = "" if value is None else f"{said(value)} {self.unit}".strip()
        theme.draw_text(painter, 104, self.height() / 2 + 5, text, theme.font(13, strong=True),
                        theme.WOAD if value is not False else theme.QUIET, 72)
