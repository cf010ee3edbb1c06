"""A label in one of the colours of the look, which follows from day to night."""

from __future__ import annotations

from PyQt6.QtGui import QColor, QFont, QPaintEvent, QPalette
from PyQt6.QtWidgets import QLabel, QWidget

from . import theme


class Caption(QLabel):
    """Plain or rich text in a colour; one of the theme's own colours is another at night."""

    def __init__(self, text: str = "", color: QColor = theme.INK, font: QFont | None = None,
                 parent: QWidget | None = None) -> None:
        super().__init__(text, parent)
        self._color = color
        if font is not None:
            self.setFont(font)
        self._dye()

    def set_color(self, color: QColor) -> None:
        """Write in another colour."""
        if color is not self._color:
            self._color = color
            self._dye()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        # The theme's colours are the same objects by day and by night, and Qt keeps a copy.
        self._dye()
        super().paintEvent(event)

    def _dye(self) -> None:
        palette = self.palette()
        if palette.color(QPalette.ColorRole.WindowText).rgba() != self._color.rgba():
            palette.setColor(QPalette.ColorRole.WindowText, self._color)
            self.setPalette(palette)
