"""A paper panel that holds other widgets."""

from __future__ import annotations

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from .. import theme


class Panel(QWidget):
    """A paper panel with a column of widgets."""

    def __init__(self, *rows: QWidget) -> None:
        super().__init__()
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(10, 8, 10, 8)
        self.column.setSpacing(7)
        for row in rows:
            self.column.addWidget(row)

    def paintEvent(self, event: object) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        theme.draw_card(painter, QRectF(self.rect()).adjusted(1, 1, -1, -1), 10)
