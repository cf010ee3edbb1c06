"""Ways out: every exit of the active state, in the order in which they are tried, its terms lit or
not."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QMouseEvent, QPainter, QShowEvent, QWheelEvent
from PyQt6.QtWidgets import QWidget

from ...core.engine.plain.play import clip_of
from ...core.takes.explaining.explain import Exit
from ...core.takes.run import Record
from ..session.document import Document
from ..session.run.player import Player
from ..widgets import theme
from ..widgets.buttons import PillButton
from ..widgets.dialogs import plain
from ..widgets.key_table import KeyLine, stepped
from ..widgets.parts import choice_field
from ..widgets.popup import TokenPopup
from ..widgets.things import Thing
from ..widgets.view import DrawnView
from .why_not import ANSWER_ROW, TOP, WhyNot

ROW = 27
ASK_TIP = (
    "Pick the state you expected at the tick on show (F4: the selected one). It lists the "
    "conditions that failed, for how many ticks, and which transition won instead")


class WaysOut(DrawnView):
    """A click on an exit selects its transition; a double click, or Enter, asks why. A click on a
    line of an answer goes to its tick."""

    def __init__(self, document: Document, player: Player, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.document, self.player = document, player
        self.setAccessibleName("Ways out")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMinimumHeight(96)
        self._offset = 0.0
        self._shown: tuple[object, tuple[Exit, ...]] = (None, ())
        self.why_not = WhyNot(document, player, self)
        self.why_not.answered.connect(self.update)
        self.ask = PillButton("why not…", size=12.5, height=22, parent=self)
        self.ask.setCheckable(False)
        self.ask.outlined = True
        self.ask.setObjectName("why not")
        self.ask.setToolTip(ASK_TIP)
        self.ask.clicked.connect(self._choose)
        player.seen.connect(self._light)
        document.puppet_changed.connect(self.update)
        document.selection_changed.connect(self.update)

    def why(self, kind: str, id: str) -> None:
        """Ask why a transition was, or was not, taken, or why a state is, or is not, active."""
        self.player.pause()
        self.why_not.asked = (kind, id)
        self._offset = 0.0
        self.ask.setText("×")
        self.ask.setToolTip("Back to the ways out (Esc)")
        self.ask.adjustSize()
        self._place_ask()
        self.update()

    def show_exits(self) -> None:
        """Leave the question."""
        self.why_not.asked = None
        self._offset = 0.0
        self.ask.setText("why not…")
        self.ask.setToolTip(ASK_TIP)
        self._place_ask()
        self._light()

    @property
    def asked(self) -> tuple[str, str] | None:
        """What is asked about."""
        return self.why_not.asked

    def _choose(self) -> None:
        if self.asked is not None:
            self.show_exits()
            return
        states = [(each.name, each.id)
                  for each in self.document.puppet.states_and_groups]
        popup = TokenPopup(self.window(), choice_field("", states, lambda id: self.why("state", id),
                                                       "why is it not active? type, or pick"),
                                                       theme.MADDER)
        popup.open_at(self.ask)

    def _place_ask(self) -> None:
        size = self.ask.sizeHint()
        self.ask.setGeometry(self.width() - size.width() - 10, 7, size.width(), size.height())

    def resizeEvent(self, event: object) -> None:
        self._place_ask()

    def exits(self) -> tuple[Exit, ...]:
        """The exits at the tick on show."""
        conditions = self.player.conditions
        if conditions is None:
            return ()
        record = conditions.record
        if self._shown[0] is not record:
            self._shown = (record, conditions.exits(
                self._layer(record), self._last_armed(record.report.tick)))
        return self._shown[1]

    def _light(self) -> None:
        """Work them out as a tick comes on show: before it is painted, not while."""
        if self.isVisible() and self.asked is None:
            self.exits()
        self.update()

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        self._light()

    @staticmethod
    def _layer(record: Record) -> int:
        """The first layer that has a state: the body's, unless its states are still to be drawn."""
        return next((index for index, each in enumerate(record.before.machine.layers)
                     if each.state >= 0), 0)

    def _last_armed(self, tick: int) -> dict[str, int]:
        """When each intent was last armed, as far as ten seconds back."""
        records = self.player.records
        found: dict[str, int] = {}
        for number in range(tick, max(-1, tick - 600), -1):
            for intent in (*records[number].report.armed, *records[number].report.used):
                found.setdefault(intent, number)
        return found

    def things(self) -> list[Thing]:
        wide, y = self.width(), TOP - self._offset
        answer = self.why_not.answer()
        if answer is not None:
            return [Thing(line.words, "", QRectF(0, y + number * ANSWER_ROW, wide, ANSWER_ROW))
                    for number, line in enumerate(answer.lines)]
        names = {node.id: node.name for node in self.document.puppet.nodes}
        return [Thing(
            f"to {names.get(each.target, each.target)}",
            f"{each.reason}: " + ", ".join(f"{term.text} {'holds' if term.lit else 'does not hold'}"
                                            for term in each.terms),
            QRectF(0, y + number * ROW, wide, ROW),
            self.document.selection == ("transition", each.transition),
            partial(lambda id: self.document.select("transition", id), each.transition))
            for number, each in enumerate(self.exits())]

    def draw(self, painter: QPainter) -> None:
        self.draw_paper(painter)
        if self.asked is not None and not self.player.playing:
            self.why_not.draw(painter, QRectF(self.rect()), self._offset, self.ask.x() - 24)
            self.draw_focus(painter)
            return
        record = self.player.shown
        end = theme.draw_text(painter, 14, 24, "Ways out of", theme.font(13.5), theme.QUIET)
        if record is None or record.before.machine.layers[self._layer(record)].state < 0:
            theme.draw_text(painter, end + 8, 24, "nothing yet", theme.font(14, bold=True))
            return
        puppet = record.setup.puppet
        before = record.before.machine.layers[self._layer(record)]
        state = record.setup.program.states[before.state]
        end = theme.draw_text(painter, end + 8, 24, state.name, theme.font(14.5, bold=True))
        if record.report.stuck:
            theme.draw_text(
                painter, end + 12, 24, "states without a clip lead round in a circle: stopped",
                theme.font(12.5),
                theme.MADDER,
                self.width() - end - 120,
            )
        clip = clip_of(state, before) if not record.report.stuck else None
        if clip is not None:
            units = 1000 * record.setup.program.rate
            theme.draw_text(
                painter, end + 12, 24, f"{before.time / units:.2f} s of {clip.cycle / units:.2f} s",
                theme.font(12.5), theme.QUIET,
            )
        found = self.exits()
        if not found:
            theme.draw_text(painter, 14, TOP + 20,
                            "It has no exits: drag from its card to another in the Weave",
                            theme.font(13, italic=True), theme.QUIET)
        painter.setClipRect(QRectF(6, TOP - 4, self.width() - 12, self.height() - TOP - 2))
        names = {node.id: node.name for node in puppet.nodes}
        of = theme.font(13.5)
        column = min(150.0, max([60.0] + [theme.text_width(names.get(each.target, each.target), of)
                                          for each in found]))
        for number, each in enumerate(found):
            self._draw_exit(painter, each, names, TOP + number * ROW - self._offset, column)
        painter.setClipping(False)
        hidden = len(found) - int((self.height() - TOP + self._offset + 6) // ROW)
        if hidden > 0:
            more = f"{hidden} more below"
            wide = theme.text_width(more, theme.font(12))
            theme.draw_text(painter, self.ask.x() - wide - 10, 24, more, theme.font(12),
                            theme.QUIET)
        self.draw_focus(painter)

    def _draw_exit(
        self, painter: QPainter, each: Exit, names: dict[str, str], y: float, column: float
    ) -> None:
        middle = y + ROW / 2
        selected = self.document.selection == ("transition", each.transition)
        if each.taken or selected:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.tint(theme.MADDER, 0.12) if each.taken else theme.LINEN)
            painter.drawRoundedRect(QRectF(7, y + 1, self.width() - 14, ROW - 2), 6, 6)
        painter.setPen(theme.pen(theme.MADDER if each.taken else theme.FAINT, 2,
                                 None if each.taken else (3, 2)))
        painter.drawLine(QPointF(14, middle), QPointF(36, middle))
        theme.draw_text(painter, 44, middle + 5, names.get(each.target, each.target),
                        theme.font(13.5, strong=each.taken), theme.INK, column)
        x = 44 + column + 12
        for term in each.terms:
            x = theme.draw_pill(painter, x, middle, term.text, theme.TERM_COLORS[term.kind],
                                term.lit) + 6
        if not each.terms:
            x = theme.draw_pill(painter, x, middle, "always", theme.WOAD, True) + 6
        color = theme.MADDER if each.taken else theme.QUIET
        room = self.width() - x - 18
        if room > 24:
            theme.draw_text(painter, x + 4, middle + 4, each.reason,
                            theme.font(12.5, italic=not each.taken), color,
                            room)

    def _exit_at(self, y: float) -> Exit | None:
        number = int((y - TOP + self._offset) // ROW)
        found = self.exits()
        return found[number] if 0 <= number < len(found) and y > TOP - 4 else None

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if self.asked is not None:
            line = self.why_not.line_at(event.position().y() + self._offset)
            self.setToolTip(plain(line.words) if line else "")
            goes = line is not None and line.tick is not None
            self.setCursor(Qt.CursorShape.PointingHandCursor
                           if goes else Qt.CursorShape.ArrowCursor)
            return
        each = self._exit_at(event.position().y())
        self.setToolTip(plain(each.reason) if each else "")
        self.setCursor(Qt.CursorShape.PointingHandCursor if each else Qt.CursorShape.ArrowCursor)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        self.setFocus()
        if self.asked is not None:
            line, at = self.why_not.line_at(event.position().y() + self._offset), event.position()
            fix = self.why_not.fix_at(at)
            if fix is not None:
                self.why_not.do(fix)
            elif line is not None and line.tick is not None:
                self.player.pause()
                self.player.seek(line.tick)
            return
        each = self._exit_at(event.position().y())
        if each is not None:
            self.document.select("transition", each.transition)

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        each = self._exit_at(event.position().y()) if self.asked is None else None
        if each is not None:
            self.why("transition", each.transition)

    def key_lines(self) -> tuple[KeyLine, ...]:
        return (
            KeyLine(("Esc",), "back to the ways out", lambda key: self.show_exits(),
                    lambda: self.asked is not None),
            KeyLine(("Return",), "do the first thing that would help",
                    lambda key: self.why_not.do(self.why_not.fixes()[0]),
                    lambda: bool(self.why_not.fixes())),
            KeyLine(("Return",), "why not the way that is selected",
                    lambda key: self.why("transition", str(self._selected())),
                    lambda: self._selected() in self._ids()),
            KeyLine(("Up", "Down"), "the way above or below", lambda key: self.document.select(
                "transition", stepped(self._ids(), self._selected(), key)),
                lambda: bool(self._ids())),
        )

    def _ids(self) -> list[str]:
        return [each.transition for each in self.exits()]

    def _selected(self) -> str | None:
        return self.document.selection[1] if self.document.selection else None

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        assert event is not None
        found = self.why_not.answer()
        whole = len(found.lines) * ANSWER_ROW if found is not None else len(self.exits()) * ROW
        most = max(0.0, TOP + whole - self.height() + 8)
        self._offset = max(0.0, min(most, self._offset - event.angleDelta().y() / 4))
        self.update()
