"""Draws what lies across all lanes of the trace: the scale of ticks, what is marked, the head."""

from __future__ import annotations

from typing import NamedTuple

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPolygonF

from ..widgets import theme

EVERY = (5, 10, 20, 50, 100, 200, 500, 1000, 2000, 5000)
"""How many ticks apart the scale is numbered: the least that leaves room."""
LEAST_APART = 58
"""Pixels between two numbers."""


class TickScale(NamedTuple):
    """Where ticks stand on a view: `first` at `left`, `tick_width` pixels each, as far as `right`;
    lanes from `top` to `bottom`."""

    first: float
    tick_width: float
    left: float
    right: float
    top: float
    bottom: float

    @property
    def ticks_seen(self) -> float:
        """How many ticks fit."""
        return max(1.0, (self.right - self.left) / self.tick_width)

    def x_of(self, tick: float) -> float:
        """Where a tick begins."""
        return self.left + (tick - self.first) * self.tick_width

    def tick_at(self, x: float) -> int:
        """The tick at a place."""
        return int(self.first + (x - self.left) / self.tick_width)


def draw_scale(painter: QPainter, scale: TickScale) -> None:
    """The numbers of ticks, as far as there is room for them, and a dotted line down from each."""
    font = theme.font(11.5)
    every = next(each for each in EVERY if each * scale.tick_width >= LEAST_APART)
    tick = int(scale.first // every) * every
    while tick < scale.first + scale.ticks_seen:
        x = scale.x_of(tick)
        if x >= scale.left - 1:
            painter.setPen(theme.pen(theme.SEAM, 1, (1, 4)))
            painter.drawLine(QPointF(x, scale.top - 6), QPointF(x, scale.bottom))
            if x + 3 + theme.text_width(str(tick), font) <= scale.right:
                theme.draw_text(painter, x + 3, 17, str(tick), font, theme.QUIET)
        tick += every


def draw_span(painter: QPainter, scale: TickScale, first: int, last: int) -> None:
    """The ticks from `first` to `last`, both included, as a piece of the run."""
    left, right = max(scale.x_of(first), scale.left), min(scale.x_of(last + 1), scale.right)
    if right <= left:
        return
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(theme.with_alpha(theme.INDIGO, 26))
    painter.drawRect(QRectF(left, scale.top - 6, right - left, scale.bottom - scale.top + 6))
    painter.setPen(theme.pen(theme.INDIGO, 1.6))
    for x in (scale.x_of(first), scale.x_of(last + 1)):
        if scale.left <= x <= scale.right:
            painter.drawLine(QPointF(x, scale.top - 10), QPointF(x, scale.bottom))


def draw_head(painter: QPainter, scale: TickScale, tick: int, present: bool) -> None:
    """A line through the middle of a tick, its handle at the top: red at the `present`."""
    x = scale.x_of(tick + 0.5)
    if not scale.left - 2 <= x <= scale.right + 2:
        return
    painter.setPen(theme.pen(theme.INK, 1.6))
    painter.drawLine(QPointF(x, 10), QPointF(x, scale.bottom + 3))
    painter.setBrush(QColor(theme.MADDER) if present else theme.INK)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.drawPolygon(QPolygonF([QPointF(x - 7, 4), QPointF(x + 7, 4), QPointF(x + 7, 10),
                                   QPointF(x, 18), QPointF(x - 7, 10)]))
