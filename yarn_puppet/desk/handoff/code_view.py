"""A file of the hand-off, to be read: code as text, what is no text in words."""

from __future__ import annotations

import re

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QColor, QFont, QResizeEvent, QTextLayout
from PyQt6.QtWidgets import QPlainTextEdit, QVBoxLayout, QWidget

from ..widgets import theme
from ..widgets.bars import with_bars
from ..widgets.caption import Caption
from ..widgets.certain import sure

FAMILIES = ["DejaVu Sans Mono", "Liberation Mono", "Noto Sans Mono", "monospace"]
COMMENT, WORD, TEXT = QColor("#8FD0C6"), QColor("#E8C48B"), QColor("#E6DFF0")
WORDS = re.compile(
    r"\b(typedef|enum|struct|const|static|void|bool|double|int32_t|int64_t|uint32_t|extern|if|for|while|return|def|"
    r"class|import|from|export|function|interface|readonly|boolean|number|string|type|let|new)\b"
)
COMMENTS = re.compile(r"/\*.*?\*/|//.*$|^\s*#.*$|^\s*\*.*$|<!--.*?-->")
FIRST_READ = re.compile(r"^(typedef enum|/\*\* What the game tells|def step\(|export const State)",
                        re.M)
"""Where in a file of each language begins what a programmer looks for: its names, and what the game
tells."""
MOST_SHOWN = 400_000
"""Characters of a file that are shown; the folder has all of it."""


class CodeText(QPlainTextEdit):
    """Text whose lines are coloured as they come into sight: a file has thousands, and all of them
    at once would hold up whoever turns to it."""

    def __init__(self) -> None:
        super().__init__()
        self._coloured: set[int] | None = None
        """The numbers of the lines that are coloured; None while the text is being put there, which
        takes colours away again."""

    def show_text(self, text: str) -> None:
        """Show another text; where it is scrolled to is up to the caller."""
        self._coloured = None
        self.setPlainText(text)
        self._coloured = set()
        self.colour()

    def scrollContentsBy(self, dx: int, dy: int) -> None:
        super().scrollContentsBy(dx, dy)
        self.colour()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self.colour()

    def colour(self) -> None:
        """Colour the lines in sight that are not yet."""
        if self._coloured is None:
            return
        block, bottom = self.firstVisibleBlock(), sure(self.viewport()).height()
        y = 0.0
        while block.isValid() and y <= bottom:
            if block.blockNumber() not in self._coloured:
                self._coloured.add(block.blockNumber())
                if formats := _formats(block.text()):
                    sure(block.layout()).setFormats(formats)
            y += self.blockBoundingRect(block).height()
            block = block.next()


def _formats(line: str) -> list[QTextLayout.FormatRange]:
    """Where a line has words of its language and comments; a comment lies over words."""
    found = []
    for pattern, color in ((WORDS, WORD), (COMMENTS, COMMENT)):
        for each in pattern.finditer(line):
            piece = QTextLayout.FormatRange()
            piece.start, piece.length = each.start(), each.end() - each.start()
            piece.format.setForeground(color)
            found.append(piece)
    return found


class CodeView(QWidget):
    """Night, as in the booth: it is looked at, not worked on."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.title = Caption(color=theme.DUSK, font=theme.font(12.5, strong=True))
        self.title.setTextFormat(Qt.TextFormat.PlainText)
        self.text = CodeText()
        with_bars(self.text)
        self.text.setAccessibleName("The file")
        self.text.setReadOnly(True)
        self.text.setLineWrapMode(QPlainTextEdit.LineWrapMode.NoWrap)
        self.text.setFrameShape(QPlainTextEdit.Shape.NoFrame)
        font = QFont()
        font.setFamilies(FAMILIES)
        font.setPixelSize(12)
        self.text.setFont(font)
        self.text.setTextInteractionFlags(
            Qt.TextInteractionFlag.TextSelectableByMouse
            | Qt.TextInteractionFlag.TextSelectableByKeyboard)
        self.text.setStyleSheet(
            f"QPlainTextEdit {{ font-family: '{FAMILIES[0]}', '{FAMILIES[1]}', monospace; "
            "font-size: 12px; "
            f"background: {theme.NIGHT.name()}; color: {TEXT.name()}; border: none; "
            "selection-background-color: #4A5580; }"
        )
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setObjectName("code")
        self.setStyleSheet(
            f"QWidget#code {{ background: {theme.NIGHT.name()}; border-radius: 8px; }}"
        )
        column = QVBoxLayout(self)
        column.setContentsMargins(11, 7, 4, 6)
        column.setSpacing(3)
        column.addWidget(self.title)
        column.addWidget(self.text, 1)
        self._shown = ("", b"")

    def show_file(self, name: str, content: bytes) -> None:
        """Show a file; the place that was read stays where it is the same file made again."""
        if (name, content) == self._shown:
            return
        same = name == self._shown[0]
        self._shown = (name, content)
        self.title.setText(name)
        self.text.setAccessibleName(f"{name}, read only")
        bar = sure(self.text.verticalScrollBar())
        try:
            text = content.decode()
        except UnicodeDecodeError:
            text = f"{len(content):,} bytes that are no text"
        if len(text) > MOST_SHOWN:
            text = f"{text[:MOST_SHOWN]}\n… {len(text) - MOST_SHOWN:,} characters more"
        found = FIRST_READ.search(text)
        place = (
            bar.value() if same else text.count("\n", 0, found.start()) if found is not None else 0
        )
        self.text.show_text(text)
        bar.setValue(place)
