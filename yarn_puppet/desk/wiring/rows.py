"""Rows that stay: a column shows a list of them, and those that were there before are only told
again."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Sequence
from typing import NamedTuple

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from ..widgets.certain import sure
from ..widgets.panel import row_of
from ..widgets.parts import Part
from ..widgets.sentence import Sentence
from ..widgets.timers import timer
from .meters import Lamp

AT_ONCE, SLICE = 5, 4
"""New rows that are made at once, and at a time after that."""


class RowContent(NamedTuple):
    """A row to show: what it is called, what its widgets were made for, its sentence, and what
    makes the lamp before that and the strip after it. A row of the same name that was made for the
    same stays, and is told its sentence."""

    name: str
    made_for: Hashable
    parts: Sequence[Part]
    lamp: Callable[[], Lamp | None] = lambda: None
    strip: Callable[[], QWidget | None] = lambda: None
    indented: bool = True


class Space(NamedTuple):
    """Room between rows, in pixels; or something that only stands there."""

    pixels: int
    name: str = ""
    make: Callable[[], QWidget] | None = None


class _Shown(NamedTuple):
    made_for: Hashable
    widget: QWidget
    sentence: Sentence | None
    lamp: Lamp | None


class RowColumn(QWidget):
    """Rows below each other, the first at the top. Of many new ones the first are there at once,
    and the others follow a few at a time, so that nobody waits for those that are out of sight."""

    grown = pyqtSignal()
    """More rows are there."""

    def __init__(self) -> None:
        super().__init__()
        self._layout = QVBoxLayout(self)
        self._layout.setContentsMargins(0, 0, 0, 0)
        self._layout.setSpacing(1)
        self._layout.addStretch(1)
        self._shown: dict[str, _Shown] = {}
        self._order: list[QWidget | int] = []
        self._rows: Sequence[RowContent | Space] = ()
        self._next = 0
        """The first of the rows that are yet to come."""
        self._later = timer(self, 0, once=True)
        self._later.timeout.connect(self._go_on)

    @property
    def sentences(self) -> dict[str, Sentence]:
        """By the names of rows what they say; of all rows."""
        self.complete()
        return {name: each.sentence
                for name, each in self._shown.items() if each.sentence is not None}

    @property
    def lamps(self) -> list[Lamp]:
        """All lamps that are there."""
        return [each.lamp for each in self._shown.values() if each.lamp is not None]

    def show_rows(self, rows: Sequence[RowContent | Space]) -> None:
        """Show these rows, and no others."""
        before, self._shown = self._shown, {}
        for row in rows:
            found = before.get(row.name)
            if found is None:
                continue
            if not isinstance(row, RowContent):
                self._shown[row.name] = found
            elif found.made_for == row.made_for and found.sentence:
                found.sentence.show_parts(row.parts)
                self._shown[row.name] = found
        stay = {id(each.widget) for each in self._shown.values()}
        self._rows, self._next = rows, 0
        self._make(AT_ONCE)
        for each in before.values():
            if id(each.widget) not in stay:
                # It may be in the middle of the very click that led here: it goes once that is
                # over.
                each.widget.hide()
                each.widget.deleteLater()

    def complete(self) -> None:
        """Have all rows there now."""
        if self._next < len(self._rows):
            self._make(len(self._rows))
            self.grown.emit()

    def _go_on(self) -> None:
        self._make(SLICE)
        self.grown.emit()

    def _make(self, most: int) -> None:
        """Make so many of the rows that are not there yet, and show what is there."""
        while self._next < len(self._rows) and (most or self._is_there(self._rows[self._next])):
            row = self._rows[self._next]
            self._next += 1
            if not self._is_there(row):
                most -= 1
                self._shown[row.name] = (
                    _made(row) if isinstance(row, RowContent)
                    else _Shown((), sure(row.make)(), None, None))
        order: list[QWidget | int] = [
            each.pixels if isinstance(each, Space) and not each.name
            else self._shown[each.name].widget
            for index, each in enumerate(self._rows)
            if index < self._next or each.name in self._shown]
        if order != self._order:
            self._put_in(order)
        if self._next < len(self._rows):
            self._later.start()
        else:
            self._later.stop()

    def _is_there(self, row: RowContent | Space) -> bool:
        return row.name in self._shown or (isinstance(row, Space) and row.make is None)

    def _put_in(self, order: list[QWidget | int]) -> None:
        same = next((index for index, (old, new) in enumerate(zip(self._order, order, strict=False))
                     if old != new),
                    min(len(self._order), len(order)))
        while self._layout.count() > same:
            self._layout.takeAt(self._layout.count() - 1)
        for each in order[same:]:
            if isinstance(each, int):
                self._layout.addSpacing(each)
            else:
                self._layout.addWidget(each)
        self._layout.addStretch(1)
        self._order = order


def _made(row: RowContent) -> _Shown:
    sentence = Sentence(background=False)
    sentence.show_parts(row.parts)
    if not row.indented:
        return _Shown(row.made_for, sentence, sentence, None)
    lamp, strip = row.lamp(), row.strip()
    widgets = (
        [lamp or QWidget(), sentence] if strip is None else [lamp or QWidget(), sentence, strip]
    )
    return _Shown(row.made_for, row_of(*widgets, stretch=1, spacing=2), sentence, lamp)
