"""The Hand-off page: what the game gets, whether it is the same in all, what it costs, and the live
wire."""

from __future__ import annotations

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from ..widgets import theme
from ..widgets.dialogs import choose_folder
from ..widgets.painting import painting
from ..widgets.panel import Panel, scrolling
from ..widgets.sentence import Sentence
from ..widgets.timers import timer
from .code_view import CodeView
from .desk import HandOffDesk
from .files_view import FilesView, FoundView
from .games_view import ROW, GamesView
from .notices_view import NoticesView
from .sentence import game_sentence, hand_off_sentence, same_sentence, wire_sentence
from .wire_desk import WireDesk

TELL_MS = 1000
LEFT = 292
ROWS_SEEN = 4


class Patch(QWidget):
    """A piece of linen that holds widgets."""

    def __init__(self, *rows: QWidget) -> None:
        super().__init__()
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(4, 3, 4, 5)
        self.column.setSpacing(1)
        for row in rows:
            self.column.addWidget(row)

    def paintEvent(self, event: object) -> None:
        with painting(self) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.setPen(theme.pen(theme.LINEN, 0))
            painter.setBrush(theme.LINEN)
            painter.drawRoundedRect(QRectF(self.rect()), 8, 8)


class HandOffPage(QWidget):
    """Sentences on top; below them the files and what was found of them, beside a file and the
    games."""

    def __init__(self, desk: HandOffDesk, wire: WireDesk, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.desk, self.wire = desk, wire
        self.what = Sentence(background=False)
        self.files, self.found, self.code = FilesView(desk), FoundView(desk), CodeView()
        self.notices_view = NoticesView(desk)
        self.same = Sentence(background=False)
        self.games = GamesView(wire)
        self.wire_line, self.deeds = Sentence(background=False), Sentence(background=False)
        below = QWidget()
        column = QVBoxLayout(below)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(2)
        for widget in (self.files, self.same, self.found, self.notices_view):
            column.addWidget(widget)
        column.addStretch(1)
        left = scrolling(below)
        left.setFixedWidth(LEFT)
        self._rows = scrolling(self.games)
        live = Patch(self.wire_line, self._rows, self.deeds)
        right = QVBoxLayout()
        right.setSpacing(7)
        right.addWidget(self.code, 5)
        right.addWidget(live, 3)
        beside = QWidget()
        row = QHBoxLayout(beside)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(7)
        row.addWidget(left)
        row.addLayout(right, 1)
        panel = Panel(Patch(self.what), beside)
        panel.column.setStretch(1, 1)
        whole = QVBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.addWidget(panel)
        self.files.picked.connect(self._show_file)
        for signal in (desk.changed, wire.changed, desk.document.puppet_changed):
            signal.connect(self.refresh)
        wire.player.state_changed.connect(self.refresh)
        # "12 s ago" grows older by itself.
        self._telling = timer(self, TELL_MS)
        self._telling.timeout.connect(self._tell)

    def refresh(self) -> None:
        """Show everything as it is."""
        if not self.isVisible():
            return
        self._tell()
        self.same.show_parts(same_sentence(self.desk))
        self.wire_line.show_parts(wire_sentence(self.wire))
        self.deeds.show_parts(game_sentence(self.wire))
        self._rows.setMinimumHeight(int(max(1, min(ROWS_SEEN, len(self.wire.rows))) * ROW) + 6)
        self._show_file(self.files.current)

    def _tell(self) -> None:
        self.what.show_parts(hand_off_sentence(self.desk, self._ask_folder))

    def _show_file(self, name: str) -> None:
        if not self.isVisible():
            # Laying out thousands of lines takes a while: not beside the work on another page.
            return
        made = self.desk.made
        content = (
            made.handed.files.get(name) if made is not None and made.handed is not None else None
        )
        if content is not None:
            self.code.show_file(name, content)

    def _ask_folder(self) -> None:
        choose_folder(self.window(), "Hand off into",
                      self.desk.choice.folder or self.desk.settings.folder,
                      lambda path: self.desk.choose(folder=str(path.absolute())))

    def showEvent(self, event: object) -> None:
        self.desk.look(True)
        self._telling.start()
        self.refresh()

    def hideEvent(self, event: object) -> None:
        self.desk.look(False)
        self._telling.stop()
