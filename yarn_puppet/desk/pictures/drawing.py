"""What pictures are drawn on."""

from __future__ import annotations

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QPainter

from ..widgets import theme


def draw_checks(painter: QPainter, rect: QRectF, size: float = 16) -> None:
    """The pattern that stands for see-through."""
    painter.save()
    painter.setClipRect(rect)
    painter.fillRect(rect, theme.tint(theme.SEAM, 0.14))
    dark = theme.tint(theme.SEAM, 0.3)
    rows, columns = int(rect.height() / size) + 1, int(rect.width() / size) + 1
    for row in range(rows):
        for column in range(row % 2, columns, 2):
            painter.fillRect(QRectF(rect.x() + column * size, rect.y() + row * size, size, size),
                             dark)
    painter.restore()
