"""Asks for a key or a mouse button by having it pressed."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPoint, QRectF, QSize, Qt
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter
from PyQt6.QtWidgets import QWidget

from ..widgets import theme
from ..widgets.keys import BUTTONS, key_name


class KeyCapture(QWidget):
    """A small sheet that takes the next key, or a mouse button pressed on it. Esc leaves all as it was."""

    def __init__(self, parent: QWidget, commit: Callable[[str], None]) -> None:
        super().__init__(parent, Qt.WindowType.Popup)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setObjectName("key capture")
        self.commit = commit
        self.setFixedSize(self.sizeHint())

    def sizeHint(self) -> QSize:
        return QSize(250, 74)

    def open_at(self, below: QWidget) -> None:
        """Show under a widget."""
        self.move(below.mapToGlobal(QPoint(0, below.height() + 3)))
        self.show()
        self.setFocus()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        key = event.key()
        self.close()
        if key != Qt.Key.Key_Escape:
            self.commit(key_name(key))

    def focusNextPrevChild(self, next: bool) -> bool:
        # Tab is a key like any other here.
        return False

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        button = BUTTONS.get(event.button())
        inside = self.rect().contains(event.position().toPoint())
        self.close()
        if inside and button is not None:
            self.commit(button)

    def paintEvent(self, event: object) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        theme.draw_card(painter, QRectF(self.rect()).adjusted(1, 1, -1, -1), 8, theme.PAPER, theme.MADDER, 1.6)
        theme.draw_text(painter, 16, 30, "Press a key,", theme.font(14, strong=True))
        theme.draw_text(painter, 16, 52, "or a mouse button here · Esc leaves it", theme.font(12.5), theme.QUIET)
