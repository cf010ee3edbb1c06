"""Draws bands, and states as cards, chips and dots."""

from __future__ import annotations

from bisect import bisect_left
from typing import NamedTuple

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter

from ....core.model.clips import Clip
from ....core.model.graph import Group, State
from ...pictures.art import Art, draw_fitted
from ...widgets import theme
from ..placing.ends import around_line, seam_of
from ..placing.layout import Band, Card
from ..placing.sizes import CHIPS, DOTS, Size


class Look(NamedTuple):
    """How a state stands out."""

    color: QColor
    frame: int
    selected: bool = False
    active: bool = False
    target: bool = False
    time: float | None = None
    """Of bones: milliseconds into the clip, where it plays."""


def draw_band(
    painter: QPainter,
    band: Band,
    group: Group | None,
    selected: bool,
    lit: bool,
    color: QColor,
    count: int,
) -> None:
    """A band in its thread's colour, its name beside the stitched seam; a group inside one is a
    frame."""
    rect = QRectF(*band.box)
    if band.depth:
        _draw_frame(painter, rect, group, selected, lit, color)
        return
    painter.setPen(theme.pen(color, 1.6) if selected else Qt.PenStyle.NoPen)
    painter.setBrush(theme.tint(color, 0.2 if lit else 0.1))
    painter.drawRoundedRect(rect.adjusted(1, 1, -1, -1), 8, 8)
    if group is None:
        return
    if band.around:
        _draw_around(painter, band, group, color)
        return
    if band.folded:
        of = theme.font(13, bold=True)
        theme.draw_text(painter, rect.x() + 8, rect.center().y() + 4.5, "▸", of, color)
        x = theme.draw_text(painter, rect.x() + 24, rect.center().y() + 4.5, group.name, of, color)
        theme.draw_text(painter, x + 10, rect.center().y() + 4.5,
                        f"{count} state{'s' * (count != 1)}", theme.font(12),
                        theme.QUIET)
        return
    x = seam_of(band)
    painter.setPen(theme.pen(color, 1.8, (3.2, 2)))
    painter.drawLine(QPointF(x, rect.y() + 6), QPointF(x, rect.bottom() - 6))
    of = theme.font(12.5, bold=True)
    if x - rect.x() > 40:
        theme.draw_text(painter, rect.x() + 8, rect.y() + 18, group.name, of, color,
                        x - rect.x() - 14)
        return
    painter.save()
    painter.translate(rect.x() + 14, rect.center().y())
    painter.rotate(-90)
    name = theme.elided(group.name, of, rect.height() - 10)
    theme.draw_text(painter, -theme.text_width(name, of) / 2, 0, name, of, color)
    painter.restore()


def _draw_around(painter: QPainter, band: Band, group: Group, color: QColor) -> None:
    """The seam of a whole layer: its name, and stitches across the page."""
    rect, y = QRectF(*band.box), around_line(band)
    theme.draw_text(painter, rect.x() + 8, y + 4.5, group.name, theme.font(12.5, bold=True), color,
                    band.seam - rect.x() - 20)
    painter.setPen(theme.pen(color, 1.8, (3.2, 2)))
    painter.drawLine(QPointF(band.seam - 6, y), QPointF(rect.right() - 8, y))


def name_area(band: Band, group: Group | None) -> QRectF | None:
    """Where the name of a band is read; None for one without."""
    if group is None:
        return None
    rect = QRectF(*band.box)
    if band.depth:
        wide = min(rect.width() - 8, theme.text_width(group.name, theme.font(11, strong=True)))
        return QRectF(rect.right() - wide - 5, rect.bottom() - 6, wide, 12)
    wide = theme.text_width(group.name, theme.font(12.5, bold=True))
    if band.around:
        return QRectF(rect.x() + 8, rect.y(), band.seam - rect.x() - 14, rect.height())
    if band.folded:
        return QRectF(rect.x() + 8, rect.y(), wide + 100, rect.height())
    if seam_of(band) - rect.x() > 40:
        return QRectF(rect.x() + 8, rect.y() + 6, wide, 16)
    wide = min(wide, rect.height() - 10)
    return QRectF(rect.x() + 2, rect.center().y() - wide / 2, 16, wide)


def _draw_frame(
    painter: QPainter, rect: QRectF, group: Group | None, selected: bool, lit: bool, color: QColor
) -> None:
    painter.setPen(theme.pen(color, 1.8 if selected else 1.2, None if selected else (2.2, 2.2)))
    painter.setBrush(theme.with_alpha(color, 40 if lit else 14))
    painter.drawRoundedRect(rect, 7, 7)
    if group is not None:
        of = theme.font(11, strong=True)
        name = theme.elided(group.name, of, rect.width() - 8)
        theme.draw_text(painter, rect.right() - theme.text_width(name, of) - 5, rect.bottom() + 3.5,
                        name, of, color)


def draw_spare(
    painter: QPainter, rect: QRectF, empty: bool, lit: bool, said: str = ""
) -> None:
    """Where a dropped clip makes a band of its own."""
    painter.setPen(theme.pen(theme.WOAD if lit else theme.SEAM, 1.8 if lit else 1.2, (4, 3)))
    painter.setBrush(theme.tint(theme.WOAD, 0.1) if lit else Qt.BrushStyle.NoBrush)
    painter.drawRoundedRect(rect.adjusted(2, 3, -2, -3), 8, 8)
    words = said or (
        "Drag a clip here: a state in a band of its own"
        if empty
        else "a clip dropped here begins a new band"
    )
    painter.setFont(theme.font(14 if empty else 12, italic=True))
    painter.setPen(theme.QUIET)
    painter.drawText(rect, Qt.AlignmentFlag.AlignCenter, words)


def draw_card(
    painter: QPainter, size: Size, card: Card, state: State, clip: Clip | None, art: Art, look: Look
) -> None:
    """A state with its picture, its name and the ribbon of its frames, as large as there is room
    for."""
    rect = QRectF(*card.box)
    if look.active:
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.with_alpha(theme.MADDER, 36))
        painter.drawRoundedRect(rect.adjusted(-3, -3, 3, 3), 10, 10)
    edge = (theme.WOAD if look.target else theme.MADDER if look.active else theme.INDIGO
            if look.selected
            else theme.SEAM)
    if size is DOTS:
        _draw_dot(painter, rect, look, edge)
        return
    if state.waits:
        _draw_waiting(painter, rect, state, edge, look, size is CHIPS)
        return
    theme.draw_card(painter, rect, 7, theme.WHITE, edge,
                    2.3 if look.active or look.selected or look.target else 1.2)
    if look.selected and look.active:
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(theme.pen(theme.INDIGO, 1.4))
        painter.drawRoundedRect(rect.adjusted(2.6, 2.6, -2.6, -2.6), 5, 5)
    chip = size is CHIPS
    picture = (QRectF(rect.x() + 4, rect.y() + 4, 28, rect.height() - 8) if chip
               else QRectF(rect.x() + 5, rect.y() + 5, rect.width() - 10, 40))
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(theme.tint(look.color, 0.12, theme.WHITE))
    painter.drawRoundedRect(picture, 4, 4)
    if clip is not None and clip.plays:
        draw_fitted(painter, art, clip, look.frame, picture, look.time)
    else:
        painter.setFont(theme.font(11.5, italic=True))
        painter.setPen(theme.QUIET)
        painter.drawText(picture, Qt.AlignmentFlag.AlignCenter, "–" if chip else "plays nothing")
    if chip:
        name = theme.font(11.5, strong=True)
        if theme.text_width(state.name, name) > rect.width() - 38:
            name = theme.font(10.5)
        theme.draw_text(painter, rect.x() + 35, rect.y() + 14.5, state.name, name, theme.INK,
                        rect.width() - 37)
    else:
        theme.draw_text(painter, rect.x() + 8, rect.y() + 57.5, state.name,
                        theme.font(12.5, strong=True), theme.INK,
                        rect.width() - 14)
    if clip is not None and clip.plays:
        draw_ribbon(painter, ribbon_of(size, rect), clip)


def _draw_waiting(
    painter: QPainter, rect: QRectF, state: State, edge: QColor, look: Look, chip: bool
) -> None:
    """A card that waits for its clip: dashed, and it says for which."""
    strong = look.selected or look.target or look.active
    painter.setPen(theme.pen(edge if strong else theme.QUIET, 1.8 if strong else 1.2, (3.2, 2.4)))
    painter.setBrush(theme.tint(look.color, 0.05, theme.PAPER))
    painter.drawRoundedRect(rect, 7, 7)
    name, words = theme.font(11.5 if chip else 12.5, strong=True), theme.font(10 if chip else 11.5,
                                                                           italic=True)
    middle = rect.center().y()
    for text, of, y in ((state.name, name, middle - 3), (f"waits for {state.waits_for}", words,
                                                         middle + (11 if chip else 13))):
        shown = theme.elided(text, of, rect.width() - 10)
        theme.draw_text(painter, rect.center().x() - theme.text_width(shown, of) / 2, y, shown, of,
                        theme.QUIET)


def draw_guess(painter: QPainter, rect: QRectF, whole: bool) -> None:
    """The dotted frame of a guess: around the card, or around its ribbon where only the window in
    that was guessed."""
    area = rect if whole else QRectF(rect.x() + 3, rect.bottom() - 15, rect.width() - 6, 12)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(theme.pen(theme.WELD, 1.6, (1.2, 1.8)))
    painter.drawRoundedRect(area, 7 if whole else 4, 7 if whole else 4)


def ribbon_of(size: Size, rect: QRectF) -> QRectF:
    """Where the ribbon of a card or chip is."""
    if size is CHIPS:
        return QRectF(rect.x() + 36, rect.y() + 21, rect.width() - 42, 4)
    return QRectF(rect.x() + 8, rect.bottom() - 11, rect.width() - 16, 5)


def _draw_dot(painter: QPainter, rect: QRectF, look: Look, edge: QColor) -> None:
    strong = look.active or look.selected or look.target
    painter.setPen(theme.pen(edge if strong else theme.tint(look.color, 0.7), 2 if strong else 1))
    painter.setBrush(theme.MADDER if look.active else theme.tint(look.color, 0.35, theme.WHITE))
    painter.drawRoundedRect(rect, 4, 4)
    if look.selected and not look.active:
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.INDIGO)
        painter.drawEllipse(rect.center(), 2.6, 2.6)


LEAST_FRAME = 1.0
"""Pixels: what is narrower is drawn with what stands beside it."""


def draw_ribbon(painter: QPainter, rect: QRectF, clip: Clip) -> None:
    """The frames of a clip, each as wide as it is long, coloured where a window is open."""
    length = clip.length or 1.0
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(theme.SEAM)
    borders, index = clip.borders, 0
    while index < len(borders) - 1:
        x = rect.x() + borders[index] / length * rect.width()
        wide = (borders[index + 1] - borders[index]) / length * rect.width()
        painter.drawRoundedRect(QRectF(x, rect.y(), max(1.0, wide - 1.6), rect.height()), 1.6, 1.6)
        # Of frames that are narrower than can be seen as many are drawn as stand beside each other.
        index = max(index + 1, bisect_left(borders,
                                           borders[index] + LEAST_FRAME / rect.width() * length))
    for window in sorted(clip.windows, key=lambda each: each.kind == "hit"):
        x = rect.x() + window.start / length * rect.width()
        wide = (min(window.end, length) - window.start) / length * rect.width()
        tall = rect.height() if window.kind == "hit" else rect.height() * 0.55
        painter.setBrush(theme.EVENT_COLORS[window.kind])
        painter.drawRoundedRect(QRectF(x, rect.bottom() - tall, max(2.0, wide - 1.0), tall), 1.6,
                                1.6)


def draw_progress(painter: QPainter, size: Size, card: Card, share: float) -> None:
    """Where the clip of an active card is."""
    if size is DOTS:
        return
    ribbon = ribbon_of(size, QRectF(*card.box))
    x = ribbon.x() + share * ribbon.width()
    painter.setPen(theme.pen(theme.INK, 2))
    painter.drawLine(QPointF(x, ribbon.y() - 3), QPointF(x, ribbon.bottom() + 3))


def draw_pin(painter: QPainter, size: Size, card: Card) -> None:
    """The start is a pin."""
    small = size is DOTS
    x, y = card.box.x + (4 if small else 10), card.box.y - (3 if small else 5)
    painter.setPen(theme.pen(theme.INK, 1.4))
    painter.drawLine(QPointF(x, y), QPointF(x, y + (6 if small else 11)))
    painter.setBrush(theme.WELD)
    painter.setPen(theme.pen(theme.tint(theme.WELD, 0.7, theme.INK), 1.2))
    radius = 3.0 if small else 4.6
    painter.drawEllipse(QPointF(x, y - 1), radius, radius)
