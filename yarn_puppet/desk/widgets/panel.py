"""A paper panel that holds other widgets."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QScrollArea, QSplitter, QVBoxLayout, QWidget

from . import theme
from .bars import Panes, with_bars
from .certain import sure
from .dialogs import plain
from .painting import painting


class Panel(QWidget):
    """A paper panel with a column of widgets."""

    def __init__(self, *rows: QWidget) -> None:
        super().__init__()
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(10, 8, 10, 8)
        self.column.setSpacing(7)
        for row in rows:
            self.column.addWidget(row)

    def paintEvent(self, event: object) -> None:
        with painting(self) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            theme.draw_card(painter, QRectF(self.rect()).adjusted(1, 1, -1, -1), 10)


class Column(QWidget):
    """Widgets below each other with nothing around them; the last takes the room that is left."""

    def __init__(self, *rows: QWidget) -> None:
        super().__init__()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(3)
        for row in rows:
            column.addWidget(row)
        column.setStretch(len(rows) - 1, 1)


class QuietLine(QLabel):
    """A quiet line of text, cut short where there is no room for all of it; the tip has the
    whole."""

    def setText(self, text: str | None) -> None:
        super().setText(text)
        self.setToolTip(plain(text or ""))

    def minimumSizeHint(self) -> QSize:
        return QSize(20, super().minimumSizeHint().height())

    def paintEvent(self, event: object) -> None:
        with painting(self) as painter:
            of = theme.font(13)
            theme.draw_text(painter, 0, self.height() / 2 + 4.5, self.text(), of, theme.QUIET,
                            max(1, self.width()))


def scrolling(view: QWidget) -> QScrollArea:
    """A view that scrolls, on whatever lies behind it."""
    scroll = QScrollArea()
    with_bars(scroll)
    scroll.setWidget(view)
    scroll.setWidgetResizable(True)
    scroll.setFrameShape(QScrollArea.Shape.NoFrame)
    sure(scroll.viewport()).setAutoFillBackground(False)
    view.setAutoFillBackground(False)
    return scroll


def row_of(*widgets: QWidget, stretch: int = 0, spacing: int = 6) -> QWidget:
    """Widgets beside each other; the one numbered `stretch` takes the room that is left."""
    row = QWidget()
    layout = QHBoxLayout(row)
    layout.setContentsMargins(2, 0, 0, 0)
    layout.setSpacing(spacing)
    for widget in widgets:
        layout.addWidget(widget)
    layout.setStretch(stretch, 1)
    return row


def splitter_of(orientation: Qt.Orientation, *widgets: QWidget) -> QSplitter:
    """Panes with borders that move; none can be shut."""
    splitter = Panes(orientation)
    splitter.setHandleWidth(11)
    for widget in widgets:
        splitter.addWidget(widget)
    splitter.setChildrenCollapsible(False)
    return splitter
