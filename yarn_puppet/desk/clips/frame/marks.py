"""What is drawn over a frame's art: boxes, the pivot, anchors; and the invitation where there is no
frame yet."""

from __future__ import annotations

from itertools import pairwise

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFont, QPainter

from ....core.model.clips import Box, Point
from ...widgets import theme


def draw_invitation(painter: QPainter, whole: QRectF) -> None:
    """What to do first; a click anywhere does it."""
    card = QRectF(whole.center().x() - 150, whole.center().y() - 48, 300, 96)
    theme.draw_card(painter, card, 10, theme.PAPER, theme.WOAD, 1.8)
    for line, y, of, color in (
        ("Bring in a picture, or bones", 40, theme.font(17, bold=True), theme.WOAD),
        ("click here, or drop files on the page", 66, theme.font(13), theme.QUIET),
    ):
        x = card.center().x() - theme.text_width(line, of) / 2
        theme.draw_text(painter, x, card.y() + y, line, of, color)


def draw_box(painter: QPainter, box: Box, rect: QRectF, chosen: bool, of_tool: bool) -> None:
    """A box at its place in the view; the chosen one has handles, and those the tool is for stand
    out."""
    hit = box.kind == "hit"
    color = theme.MADDER if hit else theme.MOSS
    painter.setPen(theme.pen(color, 2 if of_tool else 1.3, None if hit else (5, 3)))
    painter.setBrush(theme.with_alpha(theme.MADDER, 54) if hit else Qt.BrushStyle.NoBrush)
    painter.drawRect(rect)
    label = f"hit · {box.name}" if box.name else box.kind
    of = theme.font(12, strong=True)
    if hit:
        wide = theme.text_width(label, of) + 14
        tag = QRectF(rect.x(), max(2.0, rect.y() - 21), wide, 18)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(color)
        painter.drawRoundedRect(tag, 4, 4)
        theme.draw_text(painter, tag.x() + 7, tag.y() + 13, label, of, theme.WHITE)
    else:
        _tagged(painter, rect.x() + 6, rect.y() + 15, label, of, color)
    if chosen:
        painter.setPen(theme.pen(color, 1.6))
        painter.setBrush(theme.WHITE)
        for corner in (rect.topLeft(), rect.topRight(), rect.bottomLeft(), rect.bottomRight()):
            painter.drawRect(QRectF(corner.x() - 4, corner.y() - 4, 8, 8))


def draw_pivot(painter: QPainter, pivot: Point, at: QPointF, strong: bool, height: int) -> None:
    """The pivot as a cross, with its place in the cell beside it."""
    painter.setPen(theme.pen(theme.INK, 2.2 if strong else 1.4))
    painter.drawLine(at - QPointF(13, 0), at + QPointF(13, 0))
    painter.drawLine(at - QPointF(0, 13), at + QPointF(0, 13))
    text, of = f"pivot {pivot.x:g}, {pivot.y:g}", theme.font(12, strong=strong)
    y = at.y() + 16 if at.y() + 20 < height else at.y() - 8
    _tagged(painter, at.x() + 16, y, text, of, theme.INK)


def draw_feet(painter: QPainter, feet: list[QPointF | None], current: int) -> None:
    """The feet of all frames as one line about the pivot: how they drift is how far it runs."""
    line = [at for at in feet if at is not None]
    painter.setPen(theme.pen(theme.MOSS, 1.3, (2, 2)))
    for one, other in pairwise(line):
        painter.drawLine(one, other)
    for index, at in enumerate(feet):
        if at is not None:
            painter.setPen(theme.pen(theme.MOSS, 1.6))
            painter.setBrush(theme.MOSS if index == current else theme.PAPER)
            painter.drawEllipse(at, 4.5 if index == current else 2.6,
                                4.5 if index == current else 2.6)


def draw_anchor(painter: QPainter, at: QPointF, name: str, chosen: bool, own: bool) -> None:
    """An anchor and its name; dashed where it lies between those of other frames, or is a guess."""
    painter.setBrush(theme.with_alpha(theme.WHITE, 150))
    painter.setPen(theme.pen(theme.PLUM, 2.2 if chosen else 1.5, None if own else (2, 1.6)))
    painter.drawEllipse(at, 6, 6)
    painter.drawLine(at - QPointF(9, 0), at + QPointF(9, 0))
    painter.drawLine(at - QPointF(0, 9), at + QPointF(0, 9))
    _tagged(painter, at.x() + 12, at.y() - 6, name, theme.font(12, strong=True), theme.PLUM)


def cursor_for(kind: str) -> Qt.CursorShape:
    if kind == "move":
        return Qt.CursorShape.SizeAllCursor
    corners = {"left top": Qt.CursorShape.SizeFDiagCursor,
               "right bottom": Qt.CursorShape.SizeFDiagCursor,
               "right top": Qt.CursorShape.SizeBDiagCursor,
               "left bottom": Qt.CursorShape.SizeBDiagCursor}
    edges = {"left": Qt.CursorShape.SizeHorCursor, "right": Qt.CursorShape.SizeHorCursor,
             "top": Qt.CursorShape.SizeVerCursor, "bottom": Qt.CursorShape.SizeVerCursor}
    return corners.get(kind) or edges.get(kind) or Qt.CursorShape.CrossCursor


def _tagged(
    painter: QPainter, x: float, baseline: float, text: str, of: QFont, color: QColor
) -> None:
    """A label on a scrap of paper, so that it can be read over any art."""
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(theme.with_alpha(theme.PAPER, 205))
    painter.drawRoundedRect(QRectF(x - 4, baseline - 13, theme.text_width(text, of) + 8, 17), 4, 4)
    theme.draw_text(painter, x, baseline, text, of, color)
