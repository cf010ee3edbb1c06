"""The keys of the page one is on, from the tables that make them work."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import NamedTuple

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QAction, QKeyEvent, QKeySequence, QPainter
from PyQt6.QtWidgets import QDialog, QVBoxLayout, QWidget

from ...core.model.puppet import Puppet
from ..widgets import theme
from ..widgets.key_table import KeyLine, said
from ..widgets.keys import said_key
from ..widgets.panel import scrolling
from ..widgets.view import DrawnView

COLUMN, EDGE, TOP = 400.0, 26.0, 22.0
ROW, HEADING = 23.0, 38.0
KEYS_WIDE = 200.0
"""How much of a line the keys may take before the words go below them."""
TOKENS = (KeyLine(("Tab", "Shift+Tab"), "to the next token, or the one before", lambda key: None),
          KeyLine(("Return", "Space"), "open a token, or press it", lambda key: None),
          KeyLine(("Esc",), "leave it as it was", lambda key: None))
"""What Qt and every sentence do; nothing here makes them work."""


class Section(NamedTuple):
    """The keys of one part of the window: as they are shown, and what they do."""

    title: str
    lines: tuple[tuple[tuple[str, ...], str], ...]

    @property
    def height(self) -> float:
        """In pixels."""
        return HEADING + sum(ROW * (2 if below(keys) else 1) for keys, _ in self.lines) + 10


def below(keys: Sequence[str]) -> bool:
    """Whether what keys do stands below them, since they are many."""
    return keys_width(keys) > KEYS_WIDE


def keys_width(keys: Sequence[str]) -> float:
    """How much room keys take."""
    return sum(theme.text_width(key, theme.font(12, strong=True)) + 16 for key in keys)


def sections(
    name: str, page: QWidget, beside: Iterable[QWidget], actions: Iterable[QAction], puppet: Puppet
) -> list[Section]:
    """Of a page of this name, of what stands beside it, and of the whole window."""
    views = [page, *page.findChildren(QWidget), *beside]
    found = []
    for view in views:
        lines = view.key_lines() if hasattr(view, "key_lines") and view.isVisible() else ()
        if lines:
            title = (
                f"{name}, all of it"
                if view is page and not page.accessibleName()
                else view.accessibleName()
            )
            found.append(Section(title, tuple((said(line.keys), line.words) for line in lines)))
    played = tuple((tuple(said_key(key) for key in action.keys), action.name)
                   for action in puppet.actions if action.keys)
    if played:
        found.append(Section(f"{puppet.name}, while the booth has the keyboard", played))
    found.append(Section("Sentences", tuple((said(line.keys), line.words) for line in TOKENS)))
    keys = [(each.shortcut().toString(QKeySequence.SequenceFormat.PortableText), each.text())
            for each in actions
            if not each.shortcut().isEmpty()]
    pages = [key for key, _ in keys if key.startswith("Ctrl+") and key[5:].isdecimal()]
    of_run = [(said((key,)), words)
              for key, words in keys if key.rpartition("+")[2][1:].isdecimal()]
    others = [(said((key,)), words) for key, words in keys
              if key not in pages and not key.rpartition("+")[2][1:].isdecimal()]
    found.append(Section("The run, everywhere", tuple(of_run)))
    found.append(Section("Everywhere",
                         (*others, (said((pages[0], pages[-1])), "the first to the last page"))))
    return found


class HelpSheet(DrawnView):
    """Sections in columns, each as it fits."""

    def __init__(self, found: Sequence[Section], columns: int) -> None:
        super().__init__()
        self.found = found
        self.placed: list[tuple[Section, float, float]] = []
        heights = [TOP] * columns
        for each in found:
            column = heights.index(min(heights))
            self.placed.append((each, EDGE + column * COLUMN, heights[column]))
            heights[column] += each.height
        self._size = QSize(int(2 * EDGE + columns * COLUMN - 20), int(max(heights) + EDGE / 2))
        self.setMinimumSize(self._size)
        self.setAccessibleName("Keys")
        self.setAccessibleDescription("\n".join(
            f"{each.title}: " + "; ".join(f"{' '.join(keys)}: {words}"
                                          for keys, words in each.lines)
            for each in found))

    def sizeHint(self) -> QSize:
        return self._size

    def draw(self, painter: QPainter) -> None:
        painter.fillRect(QRectF(self.rect()), theme.PAPER)
        for section, x, y in self.placed:
            self._draw_section(painter, section, x, y)

    def _draw_section(self, painter: QPainter, section: Section, x: float, y: float) -> None:
        theme.draw_text(painter, x, y + 18, section.title, theme.font(15, bold=True),
                        width=COLUMN - 34)
        painter.setPen(theme.pen(theme.SEAM, 1.4, (3, 2)))
        painter.drawLine(QPointF(x, y + 26), QPointF(x + COLUMN - 34, y + 26))
        y += HEADING - 6
        for keys, words in section.lines:
            end = self._draw_keys(painter, keys, x, y)
            if below(keys):
                y += ROW
                end = x
            theme.draw_text(painter, max(end, x if below(keys) else x + 96), y + 15, words,
                            theme.font(13), theme.INK,
                            x + COLUMN - 34 - max(end, x + 96))
            y += ROW

    def _draw_keys(self, painter: QPainter, keys: Sequence[str], x: float, y: float) -> float:
        """The keys, each on a cap; gives where the words may begin."""
        of = theme.font(12, strong=True)
        for key in keys:
            wide = theme.text_width(key, of) + 12
            cap = QRectF(x, y, wide, 19)
            painter.setPen(theme.pen(theme.SEAM, 1.2))
            painter.setBrush(theme.LINEN)
            painter.drawRoundedRect(cap, 5, 5)
            theme.draw_text(painter, x + 6, y + 14, key, of)
            x += wide + 4
        return x + 8


class HelpDialog(QDialog):
    """Shows the keys over the window; Esc, F1 or a click beside it closes it."""

    def __init__(self, window: QWidget, title: str, found: Sequence[Section]) -> None:
        super().__init__(window)
        self.setObjectName("keys")
        theme.dressed(self)
        self.setWindowTitle(f"Keys · {title}")
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        room = window.size()
        sheet = self.sheet = HelpSheet(found,
                                       max(1, min(3, int((room.width() - 2 * EDGE) // COLUMN))))
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(scrolling(sheet))
        self.resize(sheet.sizeHint().boundedTo(
            QSize(room.width() - 40, room.height() - 60)) + QSize(14, 4))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        if event.key() == Qt.Key.Key_F1:
            self.close()
        else:
            super().keyPressEvent(event)
