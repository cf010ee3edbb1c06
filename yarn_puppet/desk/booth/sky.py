"""Draws the night over a booth: stars, and two rows of houses. Screen pixels."""

from __future__ import annotations

import random
from functools import lru_cache
from math import floor

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QLinearGradient, QPainter, QPixmap, QPolygonF

from ..widgets import theme
from ..widgets.painting import painting

PITCH = 62
"""From one house to the next, in pixels of the screen."""
STRETCH = PITCH * 8
"""Houses are drawn in stretches of this many pixels."""
SKY_TOP, SKY_LOW = theme.NIGHT, QColor("#3A3A63")
HOUSE, HOUSE_FAR, LIT = QColor("#20253F"), QColor("#272C4B"), QColor("#8A6F3C")


def draw_sky(painter: QPainter, rect: QRectF, camera_x: float) -> None:
    """Night, stars, and two rows of houses that lag behind the camera. Screen pixels."""
    painter.drawPixmap(rect.topLeft(), _night(int(rect.width()), int(rect.height())))
    for lag, row in ((0.12, 0), (0.28, 1)):
        shift = camera_x * lag
        stretch = floor(shift / STRETCH)
        houses = _houses(stretch, int(rect.width()), int(rect.height()), row)
        painter.drawPixmap(QPointF(rect.x() + stretch * STRETCH - shift, rect.y()), houses)


@lru_cache(maxsize=16)
def _houses(stretch: int, width: int, height: int, row: int) -> QPixmap:
    """The houses of one row from a stretch of them on, drawn once: the nearer row is lower and
    darker."""
    top, color, seed = ((0.30, HOUSE_FAR, 11), (0.42, HOUSE, 5))[row]
    pixmap = QPixmap(width + STRETCH, height)
    pixmap.fill(Qt.GlobalColor.transparent)
    with painting(pixmap) as painter:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(Qt.PenStyle.NoPen)
        first = stretch * STRETCH // PITCH
        for number in range(first - 1, first + (width + STRETCH) // PITCH + 2):
            dice = random.Random(number * 31 + seed)
            x = float(number * PITCH - stretch * STRETCH)
            wide = 40 + dice.random() * 26
            y = height * (top + dice.random() * 0.2)
            painter.setBrush(color)
            painter.drawRect(QRectF(x, y, wide, height - y))
            painter.drawPolygon(QPolygonF([
                QPointF(x - 5, y), QPointF(x + wide / 2, y - 24), QPointF(x + wide + 5, y)]))
            painter.drawRect(QRectF(x + wide * 0.7, y - 26, 6, 18))
            painter.setBrush(theme.with_alpha(LIT, 150 if row else 80))
            for column in range(2):
                if dice.random() < 0.55:
                    painter.drawRect(QRectF(x + 9 + column * 20, y + 14 + dice.randrange(3) * 16, 8,
                                            10))
    return pixmap


@lru_cache(maxsize=16)
def _night(width: int, height: int) -> QPixmap:
    """The sky and its stars, drawn once for a size of the view."""
    pixmap = QPixmap(width, height)
    with painting(pixmap) as painter:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        sky = QLinearGradient(0, 0, 0, height)
        sky.setColorAt(0, SKY_TOP)
        sky.setColorAt(1, SKY_LOW)
        painter.fillRect(pixmap.rect(), sky)
        dice = random.Random(7)
        painter.setPen(Qt.PenStyle.NoPen)
        for _ in range(46):
            at = QPointF(dice.random() * width, dice.random() * height * 0.6)
            painter.setBrush(QColor(255, 240, 210, dice.randrange(90, 210)))
            painter.drawEllipse(at, 0.9, 0.9)
    return pixmap
