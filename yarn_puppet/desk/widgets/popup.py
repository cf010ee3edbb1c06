"""The editor that opens at a token: a line to type in, and what can be picked below it."""

from __future__ import annotations

import re

from PyQt6.QtCore import QEvent, QObject, QPoint, QRect, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QKeyEvent, QPainter
from PyQt6.QtWidgets import (
    QFrame,
    QLabel,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QStyle,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QVBoxLayout,
    QWidget,
)

from . import theme
from .certain import sure
from .parts import Field, Suggestion

ROWS_SHOWN = 9
MOST_SHOWN = 200
"""Suggestions that are listed at a time; typing narrows them."""


class _Row(QStyledItemDelegate):
    """A suggestion with its remark at the right."""

    def paint(self, painter: QPainter | None, option: QStyleOptionViewItem, index: object) -> None:
        assert painter is not None
        suggestion: Suggestion = index.data(Qt.ItemDataRole.UserRole)  # type: ignore[attr-defined]
        chosen = bool(option.state & QStyle.StateFlag.State_Selected)
        rect = option.rect.adjusted(1, 1, -1, -1)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if chosen:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.INK)
            painter.drawRoundedRect(rect, 5, 5)
        ink, quiet = (theme.PAPER, theme.SEAM) if chosen else (theme.INK, theme.QUIET)
        middle = rect.center().y() + 5
        end = theme.draw_text(painter, rect.x() + 9, middle, suggestion.label, theme.font(13), ink)
        if suggestion.remark:
            of = theme.font(11.5, italic=True)
            wide = theme.text_width(suggestion.remark, of)
            theme.draw_text(painter, max(end + 14, rect.right() - wide - 8), middle,
                            suggestion.remark, of, quiet,
                            rect.right() - end - 18)

    def sizeHint(self, option: QStyleOptionViewItem, index: object) -> QSize:
        return QSize(200, 26)


def unfinished(text: str, cursor: int, error: str) -> bool:
    """Whether what is wrong with a text is only that a word of it is still being typed."""
    match = re.match(r"column (\d+):", error)
    if match is None:
        return False
    begins = max(text.rfind(each, 0, cursor) for each in " (") + 1
    return int(match[1]) - 1 >= begins


class TokenPopup(QFrame):
    """Edits one field. Enter takes what is typed or picked, Esc leaves all as it was."""

    closed = pyqtSignal()

    def __init__(self, parent: QWidget | None, field: Field, color: QColor) -> None:
        super().__init__(parent, Qt.WindowType.Popup)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setObjectName("tokenPopup")
        theme.dressed(self)
        self.setStyleSheet(
            self.styleSheet()
            + f"#tokenPopup {{ background: {theme.PAPER.name()}; border: 1.5px solid "
              f"{color.name()};"
            "border-radius: 8px; }"
        )
        self.field = field
        self.offered = field.offered
        self._asked = False
        """Whether Enter was pressed on what is typed: then it is finished, whatever it looks
        like."""
        self.line = QLineEdit(field.value)
        self.line.setMaxLength(field.longest)
        self.line.setAccessibleName(field.hint or "value")
        self.line.setPlaceholderText(field.hint)
        self.list = QListWidget()
        self.list.setItemDelegate(_Row(self.list))
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.list.setMouseTracking(True)
        self.note = QLabel()
        self.note.setTextFormat(Qt.TextFormat.PlainText)
        self.note.setText(field.hint)
        self.note.setWordWrap(True)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(8, 8, 8, 7)
        layout.setSpacing(5)
        layout.addWidget(self.line)
        layout.addWidget(self.list)
        layout.addWidget(self.note)
        self.line.selectAll()
        self.line.textEdited.connect(self._typed)
        self.line.installEventFilter(self)
        self.list.itemClicked.connect(self._picked)
        self._fill("")
        self._say()

    def open_at(self, below: QWidget) -> None:
        """Show under a widget, kept inside the screen."""
        widest = max(
            (theme.text_width(each.label, theme.font(13)) + theme.text_width(
                each.remark, theme.font(11.5))
             for each in self.offered[:MOST_SHOWN]), default=0,
        )
        self.setFixedWidth(int(min(460, max(220, widest + 78, below.width()))))
        self._fit()
        corner = below.mapToGlobal(QPoint(0, below.height() + 3))
        screen = sure(below.screen()).availableGeometry() if below.screen() else None
        if screen is not None:
            corner.setX(max(screen.left(), min(corner.x(), screen.right() - self.width())))
            if corner.y() + self.height() > screen.bottom():
                corner.setY(max(screen.top(),
                                below.mapToGlobal(QPoint(0, 0)).y() - self.height() - 3))
        self.move(corner)
        self.show()
        self.line.setFocus()

    def _fill(self, typed: str) -> None:
        """List the suggestions that the last typed word could be the beginning or a part of."""
        word = typed.lower().strip()
        if self.field.free and any(not each.finishes for each in self.offered):
            word = word.split(" ")[-1]
        matching = [each for each in self.offered if word in each.label.lower()]
        # What begins with what was typed comes first; of thousands nobody reads more than these.
        matching.sort(key=lambda each: not each.label.lower().startswith(word))
        matching = matching[:MOST_SHOWN]
        self.list.clear()
        for each in matching:
            item = QListWidgetItem(each.label)
            item.setData(Qt.ItemDataRole.UserRole, each)
            self.list.addItem(item)
        self.list.setVisible(bool(matching))
        self.list.setFixedHeight(26 * min(ROWS_SHOWN, len(matching)) + 4)
        if not self.field.free and matching:
            labels = [each.label for each in matching]
            self.list.setCurrentRow(labels.index(self.field.value)
                                    if self.field.value in labels else 0)
        self._fit()

    def _typed(self, text: str) -> None:
        self._asked = False
        self._fill(text)
        if not self.field.free and self.list.count():
            self.list.setCurrentRow(0)
        self._say()

    def _say(self) -> None:
        text = self.line.text()
        error = self.field.check(text) if self.field.free and self.line.isModified() else None
        if (
            error is not None
            and not self._asked
            and unfinished(text, self.line.cursorPosition(), error)
        ):
            error = None
        self.note.setText(error or self.field.hint)
        self.note.setVisible(bool(self.note.text()))
        color = theme.MADDER if error else theme.QUIET
        self.note.setStyleSheet(f"color: {color.name()}; font-size: 12px;")
        self._fit()

    def _fit(self) -> None:
        """As high as all of it: a hint of several lines must not push into the list."""
        # Its style counts only from then on.
        self.note.ensurePolished()
        margins = sure(self.layout()).contentsMargins()
        inside = self.width() - margins.left() - margins.right()
        wrapped = self.note.fontMetrics().boundingRect(
            QRect(0, 0, inside, 4000), Qt.TextFlag.TextWordWrap, self.note.text())
        self.note.setFixedHeight(max(1, wrapped.height() + 1))
        sure(self.layout()).activate()
        self.adjustSize()

    def _picked(self, item: QListWidgetItem) -> None:
        suggestion: Suggestion = item.data(Qt.ItemDataRole.UserRole)
        if suggestion.finishes:
            self._take(suggestion.value)
            return
        words = self.line.text().split(" ")
        before = " ".join(words[:-1]) if self.line.isModified() else ""
        self.line.setText(f"{before} {suggestion.value}".lstrip())
        self.line.setModified(True)
        self._fill("")
        self._say()
        self.line.setFocus()

    def _enter(self) -> None:
        row = self.list.currentItem()
        if row is not None:
            self._picked(row)
        elif self.field.free:
            error = self.field.check(self.line.text())
            if error is None:
                self._take(self.line.text())
            else:
                self.line.setModified(True)
                self._asked = True
                self._say()

    def _take(self, value: str) -> None:
        commit = self.field.commit
        self.close()
        commit(value)

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            key = event.key()
            if key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
                self._enter()
                return True
            if key in (Qt.Key.Key_Up, Qt.Key.Key_Down):
                self._arrow(1 if key == Qt.Key.Key_Up else -1)
                return True
        return super().eventFilter(watched, event)

    def _arrow(self, up: int) -> None:
        if self.field.step is not None:
            try:
                number = float(self.line.text()) + up * self.field.step
            except ValueError:
                return
            if self.field.check(f"{number:g}") is None:
                self.line.setText(f"{number:g}")
            return
        if self.list.count():
            row = self.list.currentRow() - up
            self.list.setCurrentRow(max(0, min(self.list.count() - 1, row)))

    def hideEvent(self, event: object) -> None:
        self.closed.emit()
