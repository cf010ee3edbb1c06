"""Asks for a key or a mouse button by having it pressed."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPoint, QRectF, QSize, Qt
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter
from PyQt6.QtWidgets import QWidget

from ..pads.pads import Pads
from ..widgets import theme
from ..widgets.keys import BUTTONS, key_name
from ..widgets.painting import painting

PUSHED = 0.6
"""How far a stick is pushed when it is meant."""


class KeyCapture(QWidget):
    """A small sheet that takes the next key, a mouse button pressed on it, or a button of a pad;
    for an axis a stick that is pushed. Esc leaves all as it was."""

    def __init__(
        self,
        parent: QWidget,
        commit: Callable[[str], None],
        pads: Pads | None = None,
        stick: bool = False,
    ) -> None:
        super().__init__(parent, Qt.WindowType.Popup)
        self.stick = stick
        if pads is not None:
            pads.button.connect(self._button)
            pads.stick.connect(self._stick)
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

    def _button(self, name: str, down: bool) -> None:
        if down and not self.stick:
            self.close()
            self.commit(name)

    def _stick(self, name: str, value: float) -> None:
        if self.stick and abs(value) >= PUSHED:
            self.close()
            self.commit(name)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        key = event.key()
        self.close()
        if key != Qt.Key.Key_Escape and not self.stick:
            self.commit(key_name(key))

    def focusNextPrevChild(self, next: bool) -> bool:
        # Tab is a key like any other here.
        return False

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        button = BUTTONS.get(event.button())
        inside = self.rect().contains(event.position().toPoint())
        self.close()
        if inside and button is not None and not self.stick:
            self.commit(button)

    def paintEvent(self, event: object) -> None:
        with painting(self) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            theme.draw_card(painter, QRectF(self.rect()).adjusted(1, 1, -1, -1), 8, theme.PAPER,
                            theme.MADDER, 1.6)
            asked = "Move a stick," if self.stick else "Press a key, a pad's button,"
            below = (
                "as far as it goes · Esc leaves it"
                if self.stick
                else "or a mouse button here · Esc leaves it"
            )
            theme.draw_text(painter, 16, 30, asked, theme.font(14, strong=True))
            theme.draw_text(painter, 16, 52, below, theme.font(12.5), theme.QUIET)
