"""Draws what the table of crossings has in its cells, and the names at its edges."""

from __future__ import annotations

from collections.abc import Sequence
from math import ceil
from typing import NamedTuple

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPixmap

from ...widgets import theme
from ...widgets.painting import painting

HEAD, SIDE = 92.0, 116.0
"""Pixels over the cells, and to their left, in which the names stand."""


class Mark(NamedTuple):
    """What is in a cell: the colour of where it leads, whether its first way is the state's own,
    and what is written."""

    column: int
    rgb: int
    direct: bool
    text: str


class CellPictures:
    """Cells that have something in them. Of hundreds only some dozens look different: each look is
    painted once, for one size and one density of pixels."""

    def __init__(self) -> None:
        self._fits: tuple[object, ...] = ()
        self._kept: dict[tuple[int, bool, str], QPixmap] = {}

    def draw(self, painter: QPainter, marks: Sequence[Mark], y: float, size: float) -> None:
        """The cells of a row that begins at `y`, each `size` pixels wide and high."""
        device = painter.device()
        ratio = device.devicePixelRatioF() if device is not None else 1.0
        fits = (size, ratio, theme.edition())
        if fits != self._fits:
            self._fits, self._kept = fits, {}
        for mark in marks:
            look = mark[1:]
            picture = self._kept.get(look)
            if picture is None:
                picture = self._kept[look] = _painted(mark, size, ratio)
            painter.drawPixmap(QPointF(SIDE + mark.column * size, y), picture)


def _painted(mark: Mark, size: float, ratio: float) -> QPixmap:
    picture = QPixmap(ceil(size * ratio), ceil(size * ratio))
    picture.setDevicePixelRatio(ratio)
    picture.fill(Qt.GlobalColor.transparent)
    color, inner = QColor.fromRgb(mark.rgb), QRectF(2, 2, size - 4, size - 4)
    with painting(picture) as painter:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(theme.pen(color, 1.4))
        # Its own ways are filled, those through a group outlined.
        painter.setBrush(color if mark.direct else theme.tint(color, 0.16))
        painter.drawRoundedRect(inner, 3, 3)
        if size >= 15:
            painter.setFont(theme.font(min(12, size - 6), strong=True))
            painter.setPen(theme.PAPER if mark.direct else color)
            painter.drawText(inner, Qt.AlignmentFlag.AlignCenter, mark.text)
    return picture


def draw_names(
    painter: QPainter, number: int, name: str, color: QColor, chosen: bool, size: float
) -> None:
    """A state's name, before its row and leaning over its column."""
    area = QRectF(4, HEAD + number * size, SIDE - 8, size)
    font = theme.font(min(12.5, max(9.0, size - 3)), strong=chosen)
    shown = theme.elided(name, font, SIDE - 22)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(color)
    painter.drawRect(QRectF(SIDE - 9, area.y() + 1, 4, area.height() - 2))
    painter.drawRect(QRectF(SIDE + number * size + 1, HEAD - 6, size - 2, 4))
    theme.draw_text(painter, SIDE - 14 - theme.text_width(shown, font), area.center().y() + 4,
                    shown, font, theme.INK)
    painter.save()
    painter.translate(SIDE + (number + 0.5) * size + 4, HEAD - 10)
    painter.rotate(-60)
    theme.draw_text(painter, 0, 0, name, font, theme.INK, HEAD)
    painter.restore()
