"""Rows that stay: a column shows a list of them, and those that were there before are only told anew."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Sequence
from typing import NamedTuple

from PyQt6.QtWidgets import QVBoxLayout, QWidget

from ..widgets.panel import row_of
from ..widgets.parts import Part
from ..widgets.sentence import Sentence
from .meters import Lamp


class Row(NamedTuple):
    """A row to show: what it is called, what its widgets were made for, its sentence, and what makes the lamp before
    that and the strip after it. A row of the same name that was made for the same stays, and is told its sentence."""

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
    """Rows below each other, the first at the top."""

    def __init__(self) -> None:
        super().__init__()
        self._layout = QVBoxLayout(self)
        self._layout.setContentsMargins(0, 0, 0, 0)
        self._layout.setSpacing(1)
        self._shown: dict[str, _Shown] = {}
        self._order: list[QWidget | int] = []

    @property
    def sentences(self) -> dict[str, Sentence]:
        """By the names of rows what they say."""
        return {name: each.sentence for name, each in self._shown.items() if each.sentence is not None}

    @property
    def lamps(self) -> list[Lamp]:
        """All lamps."""
        return [each.lamp for each in self._shown.values() if each.lamp is not None]

    def show_rows(self, rows: Sequence[Row | Space]) -> None:
        """Show these rows, and no others."""
        kept, made = self._shown, dict[str, _Shown]()
        for each in rows:
            if isinstance(each, Row):
                found = kept.get(each.name)
                if found is not None and found.made_for == each.made_for and found.sentence is not None:
                    found.sentence.show_parts(each.parts)
                    made[each.name] = found
                else:
                    made[each.name] = _made(each)
            elif each.make is not None:
                made[each.name] = kept.get(each.name) or _Shown((), each.make(), None, None)
        order: list[QWidget | int] = [made[each.name].widget if each.name else each.pixels for each in rows]
        self._shown = made
        if order != self._order:
            self._put_in(order)
        stay = {id(each.widget) for each in made.values()}
        for each in kept.values():
            if id(each.widget) not in stay:
                # It may be in the middle of the very click that led here: it goes once that is over.
                each.widget.hide()
                each.widget.deleteLater()

    def _put_in(self, order: list[QWidget | int]) -> None:
        while self._layout.takeAt(0) is not None:
            pass
        for each in order:
            if isinstance(each, int):
                self._layout.addSpacing(each)
            else:
                self._layout.addWidget(each)
        self._layout.addStretch(1)
        self._order = order


def _made(row: Row) -> _Shown:
    sentence = Sentence(background=False)
    sentence.show_parts(row.parts)
    if not row.indented:
        return _Shown(row.made_for, sentence, sentence, None)
    lamp, strip = row.lamp(), row.strip()
    widgets = [lamp or QWidget(), sentence] if strip is None else [lamp or QWidget(), sentence, strip]
    return _Shown(row.made_for, row_of(*widgets, stretch=1, spacing=2), sentence, lamp)
