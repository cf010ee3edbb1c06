"""The header's buttons: pages as pills, the run's controls as discs with drawn signs."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPolygonF
from PyQt6.QtWidgets import QAbstractButton, QWidget

from . import theme
from .painting import painting

Sign = Callable[[QPainter, QPointF], None]


ROOMY, TIGHT = 26, 13
"""Pixels beside a word."""


class PillButton(QAbstractButton):
    """A word that is filled when it is the chosen one. `badge` is a small count beside it."""

    def __init__(
        self, text: str, parent: QWidget | None = None, size: float = 14, height: int = 26
    ) -> None:
        super().__init__(parent)
        self.setText(text)
        self.setObjectName(text)
        self.setAccessibleName(text)
        self.setCheckable(True)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        # A click leaves the keyboard where it is: with the puppet, for one.
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self._font = theme.font(size, strong=True)
        self._plain = theme.font(size)
        self._height = height
        self.badge = ""
        self.outlined = False
        self._around = ROOMY

    def sizeHint(self) -> QSize:
        badge = 8 + self._badge_width if self.badge else 0
        return QSize(int(theme.text_width(self.text(), self._font)) + self._around + badge,
                     self._height)

    def make_tight(self, on: bool) -> None:
        """Take as little room beside the word as may be, or the usual."""
        around = TIGHT if on else ROOMY
        if around != self._around:
            self._around = around
            self.updateGeometry()

    @property
    def _badge_width(self) -> int:
        return max(18, int(theme.text_width(self.badge, theme.font(12, bold=True))) + 9)

    def show_badge(self, badge: str) -> None:
        """Put a count beside the word; empty for none."""
        if badge != self.badge:
            self.badge = badge
            self.updateGeometry()
            self.update()

    def paintEvent(self, event: object) -> None:
        with painting(self) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            rect = QRectF(self.rect()).adjusted(1, 1, -1, -1)
            on = self.isChecked()
            if on or self.underMouse() or self.outlined:
                painter.setPen(theme.pen(theme.INK if on else theme.SEAM, 1.2) if on
                               or self.outlined
                               else Qt.PenStyle.NoPen)
                painter.setBrush(theme.INK if on else theme.tint(theme.SEAM, 0.5)
                                 if self.underMouse() else theme.PAPER)
                painter.drawRoundedRect(rect, rect.height() / 2, rect.height() / 2)
            if self.hasFocus():
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.setPen(theme.pen(theme.INDIGO, 1.6))
                painter.drawRoundedRect(rect, rect.height() / 2, rect.height() / 2)
            of = self._font if on else self._plain
            painter.setFont(of)
            painter.setPen(theme.SEAM if not self.isEnabled() else theme.PAPER if on else theme.INK)
            words = QRectF(rect)
            if self.badge:
                words.setRight(rect.right() - 8 - self._badge_width)
            painter.drawText(words, Qt.AlignmentFlag.AlignCenter, self.text())
            if self.badge:
                disc = QRectF(rect.right() - 8 - self._badge_width, rect.center().y() - 9,
                              self._badge_width, 18)
                painter.setPen(Qt.PenStyle.NoPen)
                painter.setBrush(theme.WELD)
                painter.drawRoundedRect(disc, 9, 9)
                painter.setPen(theme.INK)
                painter.setFont(theme.font(12, bold=True))
                painter.drawText(disc, Qt.AlignmentFlag.AlignCenter, self.badge)


class SignButton(QAbstractButton):
    """A disc with a drawn sign."""

    def __init__(self, name: str, sign: Sign, tip: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName(name)
        self.setAccessibleName(name)
        self.setToolTip(tip)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.sign = sign
        self.setFixedSize(28, 28)

    def paintEvent(self, event: object) -> None:
        with painting(self) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.setPen(theme.pen(theme.INDIGO if self.hasFocus() else theme.SEAM,
                                     1.8 if self.hasFocus() else 1.2))
            painter.setBrush(theme.LINEN if self.underMouse() and self.isEnabled() else theme.PAPER)
            painter.drawEllipse(QRectF(self.rect()).adjusted(1.5, 1.5, -1.5, -1.5))
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.INK if self.isEnabled() else theme.SEAM)
            self.sign(painter, QPointF(self.width() / 2, self.height() / 2))


def record_sign(painter: QPainter, at: QPointF) -> None:
    """A new recording."""
    painter.setBrush(theme.MADDER)
    painter.drawEllipse(at, 5, 5)


def play_sign(painter: QPainter, at: QPointF) -> None:
    """Go on."""
    painter.drawPolygon(QPolygonF([at + QPointF(-3.5, -6), at + QPointF(6, 0),
                                   at + QPointF(-3.5, 6)]))


def pause_sign(painter: QPainter, at: QPointF) -> None:
    """Hold."""
    for x in (-4.5, 1.2):
        painter.drawRect(QRectF(at.x() + x, at.y() - 5.5, 3.4, 11))


def step_sign(painter: QPainter, at: QPointF) -> None:
    """One tick on."""
    painter.drawPolygon(QPolygonF([at + QPointF(-5, -5.5), at + QPointF(2.4, 0),
                                   at + QPointF(-5, 5.5)]))
    painter.drawRect(QRectF(at.x() + 3, at.y() - 5.5, 2.4, 11))


def back_sign(painter: QPainter, at: QPointF) -> None:
    """One tick back."""
    painter.drawPolygon(QPolygonF([at + QPointF(5, -5.5), at + QPointF(-2.4, 0),
                                   at + QPointF(5, 5.5)]))
    painter.drawRect(QRectF(at.x() - 5.4, at.y() - 5.5, 2.4, 11))


def _curl(painter: QPainter, at: QPointF, side: int) -> None:
    color = painter.brush().color()
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(theme.pen(color, 1.8))
    painter.drawArc(QRectF(at.x() - 5, at.y() - 3.5, 10, 9), (-60 if side < 0 else 60) * 16,
                    200 * 16)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(color)
    x = at.x() + side * 4
    painter.drawPolygon(QPolygonF([QPointF(x + side * 3.5, at.y() - 2),
                                   QPointF(x - side * 2.5, at.y() - 6.5),
                                   QPointF(x - side * 3, at.y() + 0.5)]))


def undo_sign(painter: QPainter, at: QPointF) -> None:
    """The last edit back."""
    _curl(painter, at, -1)


def redo_sign(painter: QPainter, at: QPointF) -> None:
    """The last undone edit again."""
    _curl(painter, at, 1)
