"""Frame data: every state that hits, as a table that can be sorted and written out."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QPainter
from PyQt6.QtWidgets import QWidget

from ....core.formats.errors import FileProblem
from ....core.formats.table_file import save_table
from ....core.pose.frame_data.table import FrameData, frame_data, frame_data_rows
from ....core.takes.run import Setup
from ...session.document import Document
from ...session.run.player import Player
from ...session.work.job import Job
from ...widgets import theme
from ...widgets.asking import complain
from ...widgets.dialogs import choose_file
from ...widgets.key_table import KeyLine, stepped
from ...widgets.things import Thing
from ...widgets.view import DrawnView
from ..showing import Showing

ROW, HEAD = 28.0, 46.0
Value = Callable[[FrameData], Any]
COLUMNS: tuple[tuple[str, float, Value], ...] = (
    ("state", 124.0, lambda each: each.name), ("startup", 56.0, lambda each: each.startup),
    ("active", 48.0, lambda each: each.active), ("recovery", 64.0, lambda each: each.recovery),
    ("cancel", 58.0, lambda each: each.cancel or (9999, 9999)),
    ("reach", 50.0, lambda each: each.reach),
    ("damage", 58.0, lambda each: each.damage), ("hit stop", 56.0, lambda each: each.hit_stop),
    ("on hit", 48.0, lambda each: -9999 if each.on_hit is None else each.on_hit),
    ("on guard", 60.0, lambda each: -9999 if each.on_guard is None else each.on_guard),
    ("control to hit", 116.0,
     lambda each: 9999 if each.from_control is None else each.from_control),
)
BAR = 112.0
"""How wide the stretches of the longest clip are drawn, under its name."""


def _measured(setup: Setup) -> tuple[object, tuple[FrameData, ...]]:
    """A puppet's table, by its program. The tick is made again: this is done in a thread, and it
    keeps what it makes."""
    return setup.program, frame_data(setup.puppet, setup.program, setup.world)


def texts_of(each: FrameData) -> list[object]:
    """What stands in the columns of a state."""
    return [
        each.name, each.startup, each.active, each.recovery,
        f"{each.cancel[0]}–{each.cancel[1]}" if each.cancel else "—", f"{each.reach:g} px",
        each.damage,
        each.hit_stop or "—", _signed(each.on_hit), _signed(each.on_guard),
        f"{each.control.replace('_', ' ')} + {each.from_control}"
        if each.from_control is not None else "—",
    ]


class FrameDataView(DrawnView):
    """A click on a heading sorts, a click on a row goes to the state."""

    chosen = pyqtSignal(str)

    def __init__(
        self, document: Document, player: Player, showing: Showing, parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self.document, self.player, self.showing = document, player, showing
        self.setAccessibleName("Frame data")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.sorted_by, self.backwards = -1, False
        self._measured: tuple[object, tuple[FrameData, ...]] | None = None
        """The program that was measured last, and its table."""
        self._asked: object = None
        self._job = Job(self)
        document.puppet_changed.connect(self._resize)
        document.selection_changed.connect(self.update)
        showing.changed.connect(self._resize)
        player.moved.connect(self.update)
        self._resize()

    def _resize(self) -> None:
        if self.showing.kind == "frame data":
            self.setMinimumHeight(int(HEAD + ROW * max(1, len(self.rows)) + 12))
            self.update()

    @property
    def rows(self) -> list[FrameData]:
        """The table as it is sorted; that of before while another is being measured."""
        setup = self.player.recording.setup
        if not self.is_measured and self._asked is not setup.program:
            self._asked = setup.program
            self._job.start([setup], _measured, self._measured_all)
        found = list(self._measured[1]) if self._measured is not None else []
        if self.sorted_by >= 0:
            found.sort(key=COLUMNS[self.sorted_by][2], reverse=self.backwards)
        return found

    @property
    def is_measured(self) -> bool:
        """Whether the table is that of the puppet as it is."""
        return (
            self._measured is not None and self._measured[0] is self.player.recording.setup.program
        )

    def _measured_all(self, results: list[tuple[object, tuple[FrameData, ...]]]) -> None:
        self._measured = results[0]
        self._resize()

    def heading(self, number: int) -> QRectF:
        """Where the heading of a column is."""
        return QRectF(10 + sum(wide for _, wide, _ in COLUMNS[:number]), 20, COLUMNS[number][1],
                      HEAD - 22)

    def row(self, number: int) -> QRectF:
        """Where a row is."""
        return QRectF(6, HEAD + number * ROW, self.width() - 12, ROW)

    @property
    def csv_button(self) -> QRectF:
        """Where the table is written out."""
        return QRectF(self.width() - 74, 2, 66, 20)

    def draw(self, painter: QPainter) -> None:
        rows = self.rows
        said = "in ticks, measured by playing each state and each control that leads to it"
        theme.draw_text(painter, 10, 15, said if self.is_measured else "being measured…",
                        theme.font(12), theme.QUIET)
        painter.setPen(theme.pen(theme.SEAM, 1.2))
        painter.setBrush(theme.PAPER)
        painter.drawRoundedRect(self.csv_button, 10, 10)
        painter.setFont(theme.font(12, strong=True))
        painter.setPen(theme.INK)
        painter.drawText(self.csv_button, Qt.AlignmentFlag.AlignCenter, "CSV…")
        for number, (title, *_) in enumerate(COLUMNS):
            area = self.heading(number)
            sign = "" if number != self.sorted_by else " ↓" if self.backwards else " ↑"
            theme.draw_text(painter, area.x(), area.y() + 17, title + sign,
                            theme.font(12.5, strong=number == self.sorted_by), theme.INK)
        if not rows and self.is_measured:
            theme.draw_text(painter, 10, HEAD + 20,
                            "No state plays a clip with a hit window yet: drag one on the lanes"
                            " of the Clips page.", theme.font(13, italic=True), theme.QUIET)
        longest = max((row.total for row in rows), default=1)
        first = max(0, int((self.seen.top() - HEAD) // ROW))
        for number, each in enumerate(rows[first:int((self.seen.bottom() - HEAD) // ROW) + 1],
                                      first):
            self._draw_row(painter, number, each, longest)
        self.draw_focus(painter)

    def _draw_row(self, painter: QPainter, number: int, each: FrameData, longest: int) -> None:
        area = self.row(number)
        if self.document.selection == ("state", each.state):
            painter.setPen(theme.pen(theme.INDIGO, 1.2))
            painter.setBrush(theme.tint(theme.INDIGO, 0.08))
            painter.drawRoundedRect(area, 6, 6)
        elif number % 2 == 0:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.LINEN)
            painter.drawRoundedRect(area, 6, 6)
        texts = texts_of(each)
        x = 10.0
        for (_, wide, _), text in zip(COLUMNS, texts, strict=True):
            theme.draw_text(painter, x, area.center().y() + (1.5 if x < 20 else 4.5), str(text),
                            theme.font(13, strong=x < 20), theme.INK, wide - 8)
            x += wide
        self._draw_bar(painter, QRectF(10, area.bottom() - 8, BAR * each.total / longest, 5), each)

    def _draw_bar(self, painter: QPainter, area: QRectF, each: FrameData) -> None:
        """The three stretches over each other; text says the same in the columns."""
        painter.setPen(Qt.PenStyle.NoPen)
        tick = area.width() / each.total
        for start, count, color, tall in (
            (0, each.startup, theme.SEAM, 0.5), (each.startup, each.active, theme.MADDER, 1.0),
            (each.startup + each.active, each.recovery, theme.SEAM, 0.5),
        ):
            high = area.height() * tall
            painter.setBrush(color)
            painter.drawRect(QRectF(area.x() + start * tick, area.center().y() - high / 2,
                                    max(1.0, count * tick),
            high))

    # Hands ----------------------------------------------------------------------------------------

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        at = event.position()
        self.setFocus()
        if self.csv_button.contains(at):
            self.write()
            return
        for number in range(len(COLUMNS)):
            if self.heading(number).contains(at):
                self.sort(number)
                return
        for number, each in enumerate(self.rows):
            if self.row(number).contains(QPointF(at)):
                self.chosen.emit(each.state)

    def sort(self, column: int) -> None:
        """Sort by a column, backwards the second time."""
        self.backwards = column == self.sorted_by and not self.backwards
        self.sorted_by = column
        self.update()

    def things(self) -> list[Thing]:
        return [Thing(each.name, "; ".join(f"{title} {text}" for (title, *_), text in zip(
            COLUMNS[1:], texts_of(each)[1:], strict=True)), self.row(number),
            self.document.selection == ("state", each.state),
            partial(self.chosen.emit, each.state))
            for number, each in enumerate(self.rows)]

    def key_lines(self) -> tuple[KeyLine, ...]:
        return (
            KeyLine(("Up", "Down"), "the state above or below",
                    lambda key: self.chosen.emit(stepped(
                [row.state for row in self.rows], (self.document.selection or ("", ""))[1], key)),
                lambda: bool(self.rows)),
            KeyLine(tuple(str(place + 1) for place in range(min(9, len(COLUMNS)))),
                    "sort by that column",
                    lambda key: self.sort(int(key) - 1)),
        )

    def write(self) -> None:
        """Ask for a file, and write the table to it."""
        def put(path: Path) -> None:
            try:
                save_table(frame_data_rows(self.rows), path)
            except FileProblem as problem:
                complain(self.window(), "The table was not written", str(problem))

        choose_file(self.window(), "Write the frame data", "Tables (*.csv)",
                    str(self.document.folder), put, ".csv",
                    f"{self.document.puppet.name} frame data")


def _signed(number: int | None) -> str:
    return "—" if number is None else f"{number:+d}".replace("-", "−")
