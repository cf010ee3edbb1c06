"""What every drawn view shares."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QEvent, QPointF, QRectF, Qt
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget

from . import theme
from .key_table import KeyLine, press
from .painting import painting
from .things import Thing, ThingList


class DrawnView(QWidget):
    """A widget that draws itself, smoothly, in `draw`. Colours come from the theme."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.seen = QRectF()
        """The part that is being drawn."""
        self.setMouseTracking(True)
        self._list: ThingList | None = None

    def draw(self, painter: QPainter) -> None:
        """Draw everything."""
        raise NotImplementedError

    def things(self) -> Sequence[Thing]:
        """What is drawn, for who hears it instead."""
        return ()

    def event(self, event: QEvent | None) -> bool:
        assert event is not None
        if (
            event.type() == QEvent.Type.Show
            and self._list is None
            and type(self).things is not DrawnView.things
        ):
            self._list = ThingList(self, self.things)
            self._list.lie_over(self)
        elif event.type() == QEvent.Type.Resize and self._list is not None:
            self._list.lie_over(self)
        return super().event(event)

    def key_lines(self) -> tuple[KeyLine, ...]:
        """What its keys do; Help shows them."""
        return ()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        if not press(self.key_lines(), event):
            super().keyPressEvent(event)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        assert event is not None
        self.seen = QRectF(event.rect())
        if self._list is not None:
            self._list.may_be_others()
        with painting(self) as painter:
            painter.setRenderHints(QPainter.RenderHint.Antialiasing
                                   | QPainter.RenderHint.SmoothPixmapTransform)
            self.draw(painter)

    def draw_paper(self, painter: QPainter) -> QRectF:
        """The paper panel that most views lie on; gives its rectangle."""
        rect = QRectF(self.rect()).adjusted(1, 1, -1, -1)
        theme.draw_card(painter, rect, 10)
        return rect

    def draw_focus(self, painter: QPainter, radius: float = 10) -> None:
        """A ring that shows where the keyboard is."""
        if self.hasFocus():
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(theme.pen(theme.INDIGO, 1.6))
            painter.drawRoundedRect(QRectF(self.rect()).adjusted(1.5, 1.5, -1.5, -1.5), radius,
                                    radius)


def distance(event: QMouseEvent, start: QPointF) -> float:
    """How far the mouse is from where it was pressed, in pixels."""
    return (event.position() - start).manhattanLength()
