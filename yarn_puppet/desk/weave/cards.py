"""Draws the weave: bands, cards with their ribbons, threads, the start pin."""

from __future__ import annotations

from math import atan2, cos, sin

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPolygonF

from ...core.model.clips import Clip
from ...core.model.graph import Group, State
from ..pictures.art import Art, draw_fitted
from ..widgets import theme
from .layout import SEAM_X, Band, Card
from .routing import Thread

ROUND = 9.0


def draw_band(painter: QPainter, band: Band, group: Group | None, selected: bool, lit: bool) -> None:
    """A band in its thread's colour, its name beside the stitched seam."""
    rect = QRectF(*band.box)
    color = theme.THREADS[group.thread] if group else theme.FAINT
    painter.setPen(theme.pen(color, 1.6) if selected else Qt.PenStyle.NoPen)
    painter.setBrush(theme.tint(color, 0.13 if lit else 0.085))
    painter.drawRoundedRect(rect.adjusted(1, 1, -1, -1), 9, 9)
    if group is None:
        return
    x = rect.x() + SEAM_X
    painter.setPen(theme.pen(color, 1.8, (3.2, 2)))
    painter.drawLine(QPointF(x, rect.y() + 8), QPointF(x, rect.bottom() - 8))
    painter.save()
    painter.translate(rect.x() + 18, rect.center().y())
    painter.rotate(-90)
    of = theme.font(13, bold=True)
    name = theme.elided(group.name, of, rect.height() - 16)
    theme.draw_text(painter, -theme.text_width(name, of) / 2, 0, name, of, color)
    painter.restore()


def draw_spare(painter: QPainter, rect: QRectF, first: bool, lit: bool) -> None:
    """The empty band at the end."""
    painter.setPen(theme.pen(theme.WOAD if lit else theme.SEAM, 1.4, (4, 3)))
    painter.setBrush(theme.tint(theme.WOAD, 0.08) if lit else Qt.BrushStyle.NoBrush)
    painter.drawRoundedRect(rect.adjusted(2, 2, -2, -2), 9, 9)
    painter.setFont(theme.font(13, italic=True))
    painter.setPen(theme.QUIET)
    text = "Drag a clip here: it becomes the first state" if first else "Drop a clip here for a state in a new band"
    painter.drawText(rect, Qt.AlignmentFlag.AlignCenter, text)


def draw_card(
    painter: QPainter, card: Card, state: State, clip: Clip | None, art: Art, color: QColor, frame: int,
    selected: bool, active: bool, target: bool,
) -> None:
    """A state's card with one frame of its clip and the ribbon of all of them."""
    rect = QRectF(*card.box)
    if active:
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.with_alpha(theme.MADDER, 46))
        painter.drawRoundedRect(rect.adjusted(-4, -4, 4, 4), 11, 11)
    edge = theme.WOAD if target else theme.MADDER if active else theme.INDIGO if selected else theme.SEAM
    theme.draw_card(painter, rect, 8, theme.WHITE, edge, 2.4 if active or selected or target else 1.3)
    if selected and active:
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(theme.pen(theme.INDIGO, 1.4))
        painter.drawRoundedRect(rect.adjusted(3, 3, -3, -3), 6, 6)
    picture = QRectF(rect.x() + 5, rect.y() + 5, rect.width() - 10, 42)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(theme.tint(color, 0.10, theme.WHITE))
    painter.drawRoundedRect(picture, 4, 4)
    if clip is not None and clip.frames:
        draw_fitted(painter, art, clip, frame, picture)
    else:
        painter.setFont(theme.font(11.5, italic=True))
        painter.setPen(theme.QUIET)
        painter.drawText(picture, Qt.AlignmentFlag.AlignCenter, "plays nothing")
    theme.draw_text(painter, rect.x() + 8, rect.y() + 60, state.name, theme.font(12.5, strong=True), theme.INK,
                    rect.width() - 14)
    if clip is not None and clip.frames:
        draw_ribbon(painter, QRectF(rect.x() + 8, rect.bottom() - 11, rect.width() - 16, 5), clip)


def draw_ribbon(painter: QPainter, rect: QRectF, clip: Clip) -> None:
    """The frames of a clip, each as wide as it is long, coloured where a window is open."""
    length = clip.length or 1.0
    painter.setPen(Qt.PenStyle.NoPen)
    start = 0.0
    for frame in clip.frames:
        end = start + frame.duration
        x, wide = rect.x() + start / length * rect.width(), frame.duration / length * rect.width()
        painter.setBrush(theme.SEAM)
        painter.drawRoundedRect(QRectF(x, rect.y(), max(1.0, wide - 1.6), rect.height()), 1.6, 1.6)
        start = end
    for window in sorted(clip.windows, key=lambda each: each.kind == "hit"):
        x = rect.x() + window.start / length * rect.width()
        wide = (min(window.end, length) - window.start) / length * rect.width()
        tall = rect.height() if window.kind == "hit" else rect.height() * 0.55
        painter.setBrush(theme.EVENT_COLORS[window.kind])
        painter.drawRoundedRect(QRectF(x, rect.bottom() - tall, max(2.0, wide - 1.0), tall), 1.6, 1.6)


def draw_progress(painter: QPainter, card: Card, share: float) -> None:
    """Where the clip of an active card is."""
    x = card.box.x + 8 + share * (card.box.width - 16)
    painter.setPen(theme.pen(theme.INK, 2))
    painter.drawLine(QPointF(x, card.box.bottom - 14), QPointF(x, card.box.bottom - 4))


def draw_pin(painter: QPainter, card: Card) -> None:
    """The start is a pin."""
    x, y = card.box.x + 10, card.box.y - 6
    painter.setPen(theme.pen(theme.INK, 1.6))
    painter.drawLine(QPointF(x, y), QPointF(x, y + 14))
    painter.setBrush(theme.WELD)
    painter.setPen(theme.pen(theme.tint(theme.WELD, 0.7, theme.INK), 1.2))
    painter.drawEllipse(QPointF(x, y - 1), 4.6, 4.6)


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


def draw_thread(painter: QPainter, thread: Thread, color: QColor, width: float, stitched: bool) -> None:
    """A thread with its knot and its arrow; stitched, or drawn through when it stands out."""
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(theme.pen(color, width, (3.4, 2.2) if stitched else None))
    painter.drawPath(thread_path(thread.points))
    painter.setPen(theme.pen(color, width))
    end, before = thread.points[-1], thread.points[-2]
    angle = atan2(end[1] - before[1], end[0] - before[0])
    tip = QPointF(*end)
    for side in (-0.55, 0.55):
        painter.drawLine(tip, QPointF(end[0] - 8 * cos(angle + side), end[1] - 8 * sin(angle + side)))
    painter.setBrush(color)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.drawEllipse(QPointF(*thread.points[0]), 2.6, 2.6)


def draw_label(painter: QPainter, thread: Thread, text: str, color: QColor, inside: QRectF) -> None:
    """What a thread waits for, on its longest level stretch."""
    of = theme.font(12, strong=True)
    shown = theme.elided(text, of, 210)
    wide = theme.text_width(shown, of) + 16
    x = max(inside.left() + 4, min(thread.label[0] - wide / 2, inside.right() - wide - 4))
    rect = QRectF(x, max(thread.label[1] - 9, inside.top() + 2), wide, 18)
    painter.setPen(theme.pen(color, 1.3))
    painter.setBrush(theme.PAPER)
    painter.drawRoundedRect(rect, 8, 8)
    painter.setFont(of)
    painter.setPen(color)
    painter.drawText(rect, Qt.AlignmentFlag.AlignCenter, shown)


def draw_pull(painter: QPainter, start: QPointF, end: QPointF) -> None:
    """The thread being pulled from a card or a seam."""
    painter.setPen(theme.pen(theme.WOAD, 2, (3, 2)))
    painter.drawLine(start, end)
    painter.setBrush(theme.WOAD)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.drawPolygon(QPolygonF([end + QPointF(-4, -4), end + QPointF(5, 0), end + QPointF(-4, 4)]))
    painter.drawEllipse(start, 3, 3)
