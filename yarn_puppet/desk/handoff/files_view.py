"""The files of a hand-off, and what comparing the languages found: lines to be read, and files to
be picked."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QPainter
from PyQt6.QtWidgets import QWidget

from ...core.handoff.comparing import LanguageResult
from ...core.handoff.files import Handed
from ...core.languages.table import LANGUAGES
from ..widgets import theme
from ..widgets.key_table import KeyLine, stepped
from ..widgets.things import Thing
from ..widgets.view import DrawnView
from .desk import HandOffDesk

ROW = 20.0
READ_FIRST = (".h", ".d.ts", ".py", ".scxml")
"""The endings of what a programmer wants to see of a hand-off, the first one first."""
NOT_READ = (".png", ".sheet.json", ".hand-off.json", ".golden.txt")
"""The endings of what is not code."""


class FilesView(DrawnView):
    """One line a file: its name, its size, and whether the folder has another. A click shows what
    is in it."""

    picked = pyqtSignal(str)

    def __init__(self, desk: HandOffDesk, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.desk = desk
        self.current = ""
        self.setAccessibleName("Files of the hand-off")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        desk.changed.connect(self.refresh)
        self.refresh()

    def files(self) -> list[Handed]:
        """The lines: code, then its art; what lies in folders, as sounds do, in one line a
        folder."""
        made = self.desk.made
        plain, folders = [], dict[str, list[Handed]]()
        for file in made.files if made is not None else ():
            folder, slash, _ = file.name.partition("/")
            if slash:
                folders.setdefault(folder, []).append(file)
            else:
                plain.append(file)
        plain.sort(key=lambda each: (each.name.endswith(NOT_READ), each.name))
        return plain + [Handed(f"{name}/ · {len(inside)} files"
                               if len(inside) > 1 else inside[0].name,
                               sum(each.size for each in inside),
                               any(each.changed for each in inside))
                        for name, inside in folders.items()]

    def refresh(self) -> None:
        """Show what was made."""
        files = self.files()
        self.setMinimumHeight(int(max(1, len(files)) * ROW + 6))
        names = [file.name for file in files]
        if names and self.current not in names:
            self.pick(next((name for end in READ_FIRST for name in names if name.endswith(end)),
                           names[0]))
        self.update()

    def pick(self, name: str) -> None:
        """Show a file."""
        self.current = name
        self.picked.emit(name)
        self.update()

    def row(self, number: int) -> QRectF:
        """Where a file's line is."""
        return QRectF(2, 2 + number * ROW, self.width() - 4, ROW)

    def things(self) -> list[Thing]:
        return [Thing(each.name,
                      f"{size_words(each.size)}, {'changed' if each.changed else 'same'}",
                      self.row(number),
                      each.name == self.current, partial(self.pick, each.name))
                for number, each in enumerate(self.files())]

    def draw(self, painter: QPainter) -> None:
        made = self.desk.made
        if made is None:
            theme.draw_text(painter, 8, 17, "being made…" if self.desk.busy else "nothing yet",
                            theme.font(13, italic=True), theme.QUIET)
            return
        folder = made.wanted.choice.folder
        for number, each in enumerate(self.files()):
            row = self.row(number)
            if each.name == self.current:
                painter.setPen(theme.pen(theme.INDIGO, 1.2))
                painter.setBrush(theme.WHITE)
                painter.drawRoundedRect(row.adjusted(0.5, 1, -0.5, -1), 5, 5)
            y = row.center().y() + 4.5
            status, color = ("same", theme.QUIET) if not each.changed else (
                ("changed", theme.MADDER)
                if made.written else ("not written", theme.WELD if folder else theme.QUIET))
            right = row.right() - 6
            of = theme.font(12.5, strong=each.changed)
            theme.draw_text(painter, right - 66, y, status, of, color)
            size = size_words(each.size)
            small = theme.font(12)
            theme.draw_text(painter, right - 74 - theme.text_width(size, small), y, size, small,
                            theme.QUIET)
            theme.draw_text(painter, row.x() + 7, y, each.name, theme.font(13), theme.INK,
                            row.width() - 140)
        self.draw_focus(painter, 6)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        self.setFocus()
        for number, each in enumerate(self.files()):
            if self.row(number).contains(event.position()):
                self.pick(each.name)

    def key_lines(self) -> tuple[KeyLine, ...]:
        return (KeyLine(("Up", "Down"), "the file above or below", lambda key: self.pick(
            stepped([file.name for file in self.files()], self.current, key)),
            lambda: bool(self.files())),)


class FoundView(DrawnView):
    """What comparing found: the ticks that were equal, what differs, and what a tick costs."""

    def __init__(self, desk: HandOffDesk, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.desk = desk
        self.setAccessibleName("What comparing found")
        desk.changed.connect(self.refresh)
        self.refresh()

    def refresh(self) -> None:
        """Show what was found."""
        lines = self.lines()
        self.setMinimumHeight(int(len(lines) * ROW + 8))
        self.setAccessibleDescription("; ".join(" ".join(line[1:3]) for line in lines))
        self.update()

    def lines(self) -> list[tuple[str, str, str]]:
        """Each line: what sign stands before it, what it is about, and what is said."""
        found = self.desk.found
        if not found:
            return [("", "", "not compared yet")]
        lines = []
        for language, each in found.items():
            name = "the desk" if language == "desk" else LANGUAGES[language].words
            lines.append(("yes" if not each.words else "no", name, each.words or equal_words(each)))
        costs = [each for each in found.values() if each.nanoseconds]
        if costs:
            lines.append(("", "what it costs", ""))
        costs_in_words = [f"{LANGUAGES[cost.language].words} {time_words(cost.nanoseconds)}"
                          for cost in costs]
        lines += [("", "a tick" if not at else " ", " · ".join(costs_in_words[at:at + 2]))
                  for at in range(0, len(costs_in_words), 2)]
        lines += [("", "a character", f"{cost.size:,} bytes to roll back")
                  for cost in costs if cost.size]
        return lines

    def draw(self, painter: QPainter) -> None:
        old = self.desk.found_is_old
        for number, (sign, about, said) in enumerate(self.lines()):
            y = 16 + number * ROW
            x = 8.0
            if sign:
                color = theme.FAINT if old else theme.WOAD if sign == "yes" else theme.MADDER
                painter.setPen(Qt.PenStyle.NoPen)
                painter.setBrush(color)
                painter.drawEllipse(QRectF(x, y - 11, 13, 13))
                theme.draw_text(painter, x + 3, y - 0.5, "✓" if sign == "yes" else "×",
                                theme.font(10, strong=True),
                                theme.WHITE)
                x += 20
            strong = not sign and not said
            x = theme.draw_text(painter, x, y, about,
                                theme.font(13.5 if strong else 13, strong=bool(sign) or strong),
                                theme.INK) + 8 if about else x
            theme.draw_text(painter, max(x, 100.0) if about else x, y, said, theme.font(12.5),
                            theme.MADDER if sign == "no" else theme.QUIET,
                            max(20.0, self.width() - max(x, 100.0) - 6))


def equal_words(found: LanguageResult) -> str:
    """How much was equal."""
    return f"{found.ticks:,} + {found.random_ticks:,} ticks, equal"


def size_words(size: int) -> str:
    """A file's size."""
    return f"{size} B" if size < 1000 else f"{size / 1000:.1f} kB" if size < 10_000 else (
        f"{size / 1000:.0f} kB" if size < 1_000_000 else f"{size / 1_000_000:.1f} MB")


def time_words(nanoseconds: float) -> str:
    """How long a tick takes."""
    return f"{nanoseconds:.0f} ns" if nanoseconds < 1000 else f"{nanoseconds / 1000:.1f} µs" if (
        nanoseconds < 1e6) else f"{nanoseconds / 1e6:.1f} ms"
