"""Scroll bars and the borders between panes, drawn by ourselves: a style sheet for all of the
window would be laid on every widget again whenever day turns into night."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import (
    QAbstractScrollArea,
    QScrollBar,
    QSplitter,
    QSplitterHandle,
    QStyle,
    QStyleOptionSlider,
)

from . import theme
from .certain import sure
from .painting import painting

BREADTH = 10
SHORTEST = 24
"""Pixels of a handle, so that it can be taken hold of."""


class Bar(QScrollBar):
    """A handle and nothing else."""

    def sizeHint(self) -> QSize:
        across = self.orientation() == Qt.Orientation.Horizontal
        return QSize(3 * SHORTEST, BREADTH) if across else QSize(BREADTH, 3 * SHORTEST)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        if self.minimum() == self.maximum():
            return
        option = QStyleOptionSlider()
        self.initStyleOption(option)
        handle = QRectF(sure(self.style()).subControlRect(
            QStyle.ComplexControl.CC_ScrollBar, option, QStyle.SubControl.SC_ScrollBarSlider, self))
        with painting(self) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.SEAM)
            painter.drawRoundedRect(handle.adjusted(1, 1, -1, -1), 4, 4)


def with_bars(area: QAbstractScrollArea) -> None:
    """Give an area such bars."""
    area.setVerticalScrollBar(Bar(Qt.Orientation.Vertical))
    area.setHorizontalScrollBar(Bar(Qt.Orientation.Horizontal))


class _Border(QSplitterHandle):
    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Nothing: the panes have edges of their own."""


class Panes(QSplitter):
    """Panes with borders that can be dragged, and are not seen."""

    def createHandle(self) -> QSplitterHandle:
        return _Border(self.orientation(), self)
