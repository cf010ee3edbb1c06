"""What is otherwise in the files than in the puppet: names that code cannot have, and what a state
chart cannot say."""

from __future__ import annotations

from typing import NamedTuple

from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QPainter, QResizeEvent, QTextLayout, QTextOption
from PyQt6.QtWidgets import QWidget

from ...core.handoff.files import HandOff
from ..widgets import theme
from ..widgets.view import DrawnView
from .desk import HandOffDesk

LEFT, BETWEEN, ABOVE_HEADING = 8.0, 4.0, 6.0


class NoticeLine(NamedTuple):
    """A heading, or a line below one."""

    text: str
    heading: bool = False


def output_of(handed: HandOff) -> list[NoticeLine]:
    """What is to be told of a hand-off; nothing where all is as in the puppet."""
    notices = []
    if handed.renames:
        notices.append(NoticeLine("renamed in code", heading=True))
        notices += [NoticeLine(each.words) for each in handed.renames]
    if handed.unsaid:
        notices.append(NoticeLine("not in the state chart", heading=True))
        notices += [NoticeLine(each) for each in handed.unsaid]
    return notices


class NoticesView(DrawnView):
    """Lines that wrap; as high as they need."""

    def __init__(self, desk: HandOffDesk, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.desk = desk
        self.notices: list[NoticeLine] = []
        self.rows: list[tuple[NoticeLine, QTextLayout]] = []
        """Each line, laid out where it stands."""
        self.setAccessibleName("What changed on the way")
        desk.changed.connect(self.refresh)
        self.refresh()

    def refresh(self) -> None:
        """Show what was made."""
        made = self.desk.made
        notices = output_of(made.handed) if made is not None and made.handed is not None else []
        if notices != self.notices:
            self.notices = notices
            self.setAccessibleName("Said differently")
            self.setAccessibleDescription("; ".join(notice.text for notice in notices))
            self._fit()
            self.update()

    def _fit(self) -> None:
        """Lay out all lines for this width, and be as high as they are."""
        self.rows, y = [], 4.0
        for notice in self.notices:
            y += ABOVE_HEADING if notice.heading and self.rows else 0.0
            text = _laid_out(notice, y, max(60.0, self.width() - 2 * LEFT))
            self.rows.append((notice, text))
            y += text.boundingRect().height() + BETWEEN
        self.setFixedHeight(int(y + 4) if self.rows else 0)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._fit()

    def draw(self, painter: QPainter) -> None:
        for each, text in self.rows:
            painter.setPen(theme.INK if each.heading else theme.QUIET)
            text.draw(painter, QPointF())


def _laid_out(notices: NoticeLine, y: float, wide: float) -> QTextLayout:
    """Between words, or inside of one that is longer than a line."""
    of = theme.font(13.5, strong=True) if notices.heading else theme.font(12.5)
    text = QTextLayout(notices.text, of)
    option = QTextOption()
    option.setWrapMode(QTextOption.WrapMode.WrapAtWordBoundaryOrAnywhere)
    text.setTextOption(option)
    text.setPosition(QPointF(LEFT, y))
    text.beginLayout()
    high = 0.0
    while (line := text.createLine()).isValid():
        line.setLineWidth(wide)
        line.setPosition(QPointF(0, high))
        high += line.height()
    text.endLayout()
    return text
