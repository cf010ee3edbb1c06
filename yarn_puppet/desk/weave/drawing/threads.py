"""Draws threads: as tails at rest, grown out, and with what they wait for."""

from __future__ import annotations

from collections import defaultdict
from itertools import pairwise
from math import atan2, cos, sin

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPolygonF

from ...widgets import theme
from ..placing.ends import Place
from ..placing.routing import Thread

ROUND = 5.0


Tails = dict[int, list[QLineF]]
"""Transitions at rest, by the colour of the band that they lead to."""


def new_tails() -> Tails:
    """None yet."""
    return defaultdict(list)


def draw_tails(painter: QPainter, tails: Tails) -> None:
    """All of one colour at once: there may be thousands."""
    for color, lines in tails.items():
        painter.setPen(theme.pen(QColor.fromRgb(color), 1.8))
        painter.drawLines(*lines)


def draw_short(painter: QPainter, points: tuple[Place, ...], color: QColor) -> None:
    """The thread between two neighbours, at rest."""
    (ax, ay), (bx, by) = points[0], points[-1]
    way = 1 if bx > ax else -1
    painter.setPen(theme.pen(color, 1.4))
    painter.drawLine(QPointF(ax, ay), QPointF(bx - way, by))
    painter.drawPolyline(QPolygonF([
        QPointF(bx - way * 4.5, by - 3), QPointF(bx - way, by), QPointF(bx - way * 4.5, by + 3)]))


def thread_path(points: tuple[tuple[float, float], ...]) -> QPainterPath:
    """A path through points with its corners rounded."""
    path = QPainterPath(QPointF(*points[0]))
    for before, at, after in zip(points, points[1:], points[2:], strict=False):
        into = min(ROUND, _length(before, at) / 2)
        out = min(ROUND, _length(at, after) / 2)
        path.lineTo(_toward(at, before, into))
        path.quadTo(QPointF(*at), _toward(at, after, out))
    path.lineTo(QPointF(*points[-1]))
    return path


def _length(a: tuple[float, float], b: tuple[float, float]) -> float:
    return float(((a[0] - b[0]) ** 2 + (a[1] - b[1]) ** 2) ** 0.5)


def _toward(a: tuple[float, float], b: tuple[float, float], by: float) -> QPointF:
    share = by / (_length(a, b) or 1.0)
    return QPointF(a[0] + (b[0] - a[0]) * share, a[1] + (b[1] - a[1]) * share)


def draw_thread(
    painter: QPainter, thread: Thread, color: QColor, width: float, stitched: bool
) -> None:
    """A thread with its knot and its arrow; stitched, or drawn through when it stands out."""
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(theme.pen(color, width, (3.4, 2.2) if stitched else None))
    painter.drawPath(thread_path(thread.points))
    painter.setPen(theme.pen(color, width))
    end, before = thread.points[-1], thread.points[-2]
    angle = atan2(end[1] - before[1], end[0] - before[0])
    tip = QPointF(*end)
    for side in (-0.55, 0.55):
        painter.drawLine(tip, QPointF(end[0] - 7 * cos(angle + side),
                                      end[1] - 7 * sin(angle + side)))
    painter.setBrush(color)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.drawEllipse(QPointF(*thread.points[0]), 2.6, 2.6)


def label_box(
    thread: Thread, text: str, inside: QRectF, taken: list[QRectF], names: list[QRectF]
) -> tuple[QRectF, str]:
    """Where what a thread waits for can be read: along one of its stretches, free of what is taken
    where that can be, and of the names of bands anyhow."""
    of = theme.font(11.5, strong=True)
    shown = theme.elided(text, of, 250)
    wide = theme.text_width(shown, of) + 14
    spots = [
        QRectF(max(inside.left() + 2, min(x + aside - wide / 2, inside.right() - wide - 2)),
               max(inside.top() + 1, min(y - 8, inside.bottom() - 17)), wide, 16)
        for aside in (0.0, wide / 2 + 8, -wide / 2 - 8) for x, y in _spots(thread)
    ]

    def is_free(rect: QRectF, of: list[QRectF]) -> bool:
        return not any(rect.adjusted(-2, -1, 2, 1).intersects(other) for other in of)

    readable = [rect for rect in spots if is_free(rect, names)] or spots
    best = next((rect for rect in readable if is_free(rect, taken)), readable[0])
    taken.append(best)
    return best, shown


def _spots(thread: Thread) -> list[Place]:
    """Places along a thread, the middle of its longest level stretch first."""
    stretches = sorted(
        pairwise(thread.points),
        key=lambda each: -(abs(each[0][0] - each[1][0]) * 2 + abs(each[0][1] - each[1][1])))
    found = [thread.label]
    for (ax, ay), (bx, by) in stretches:
        found += [(ax + (bx - ax) * share, ay + (by - ay) * share)
                  for share in (0.5, 0.25, 0.75, 0.1, 0.9)]
    end = thread.points[-1]
    for near in range(1, 7):
        found += [(end[0], end[1] + 17 * near), (end[0], end[1] - 17 * near)]
    return found


def draw_label(
    painter: QPainter, rect: QRectF, text: str, color: QColor, pale: bool = False
) -> None:
    """What a thread waits for, in a pill."""
    painter.setPen(theme.pen(color, 1.0 if pale else 1.3))
    painter.setBrush(theme.PAPER)
    painter.drawRoundedRect(rect, 8, 8)
    painter.setFont(theme.font(11.5, strong=True))
    painter.setPen(color)
    painter.drawText(rect, Qt.AlignmentFlag.AlignCenter, text)


def draw_pull(painter: QPainter, start: QPointF, end: QPointF) -> None:
    """The thread being pulled from a card or a seam."""
    painter.setPen(theme.pen(theme.WOAD, 2, (3, 2)))
    painter.drawLine(start, end)
    painter.setBrush(theme.WOAD)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.drawPolygon(QPolygonF([end + QPointF(-4, -4), end + QPointF(5, 0),
                                   end + QPointF(-4, 4)]))
    painter.drawEllipse(start, 3, 3)
