"""Ways out: every exit of the active state, in the order in which they are tried, its terms lit or not."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QWheelEvent
from PyQt6.QtWidgets import QWidget

from ...core.engine.play import clip_of
from ...core.takes.explain import Exit, exits
from ..session.document import Document
from ..session.player import Player
from ..widgets import theme
from ..widgets.view import DrawnView

ROW = 27
TOP = 38


class WaysOut(DrawnView):
    """A click on an exit selects its transition."""

    def __init__(self, document: Document, player: Player, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.document, self.player = document, player
        self.setAccessibleName("Ways out")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMinimumHeight(96)
        self._offset = 0.0
        self._shown: tuple[object, tuple[Exit, ...]] = (None, ())
        player.seen.connect(self.update)
        document.puppet_changed.connect(self.update)
        document.selection_changed.connect(self.update)

    def exits(self) -> tuple[Exit, ...]:
        """The exits at the tick on show."""
        record = self.player.shown
        if record is None:
            return ()
        if self._shown[0] is not record:
            self._shown = (record, exits(record, 0, self._last_armed(record.report.tick)))
        return self._shown[1]

    def _last_armed(self, tick: int) -> dict[str, int]:
        """When each intent was last armed, as far as ten seconds back."""
        records, found = self.player.records, {}
        for number in range(tick, max(-1, tick - 600), -1):
            for intent in (*records[number].report.armed, *records[number].report.used):
                found.setdefault(intent, number)
        return found

    def draw(self, painter: QPainter) -> None:
        self.draw_paper(painter)
        record = self.player.shown
        end = theme.draw_text(painter, 14, 24, "Ways out of", theme.font(13.5), theme.QUIET)
        if record is None or not record.report.layers:
            theme.draw_text(painter, end + 8, 24, "nothing yet", theme.font(14, bold=True))
            return
        puppet = record.setup.puppet
        before = record.before.machine.layers[0]
        state = record.setup.program.states[before.state]
        end = theme.draw_text(painter, end + 8, 24, state.name, theme.font(14.5, bold=True))
        if record.report.stuck:
            theme.draw_text(
                painter, end + 12, 24, "went round, playing nothing: stopped", theme.font(12.5), theme.MADDER,
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
            theme.draw_text(painter, 14, TOP + 20, "It has no exits: drag from its card to another in the Weave",
                            theme.font(13, italic=True), theme.QUIET)
        painter.setClipRect(QRectF(6, TOP - 4, self.width() - 12, self.height() - TOP - 2))
        names = {each.id: each.name for each in puppet.nodes}
        of = theme.font(13.5)
        column = min(150.0, max([60.0] + [theme.text_width(names.get(each.target, each.target), of) for each in found]))
        for number, each in enumerate(found):
            self._draw_exit(painter, each, names, TOP + number * ROW - self._offset, column)
        painter.setClipping(False)
        hidden = len(found) - int((self.height() - TOP + self._offset + 6) // ROW)
        if hidden > 0:
            more = f"{hidden} more below"
            wide = theme.text_width(more, theme.font(12))
            theme.draw_text(painter, self.width() - wide - 14, 24, more, theme.font(12), theme.QUIET)
        self.draw_focus(painter)

    def _draw_exit(self, painter: QPainter, each: Exit, names: dict[str, str], y: float, column: float) -> None:
        middle = y + ROW / 2
        selected = self.document.selection == ("transition", each.transition)
        if each.taken or selected:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.tint(theme.MADDER, 0.12) if each.taken else theme.LINEN)
            painter.drawRoundedRect(QRectF(7, y + 1, self.width() - 14, ROW - 2), 6, 6)
        painter.setPen(theme.pen(theme.MADDER if each.taken else theme.FAINT, 2, None if each.taken else (3, 2)))
        painter.drawLine(QPointF(14, middle), QPointF(36, middle))
        theme.draw_text(painter, 44, middle + 5, names.get(each.target, each.target),
                        theme.font(13.5, strong=each.taken), theme.INK, column)
        x = 44 + column + 12
        for term in each.terms:
            x = theme.draw_pill(painter, x, middle, term.text, theme.TERM_COLORS[term.kind], term.lit) + 6
        if not each.terms:
            x = theme.draw_pill(painter, x, middle, "always", theme.WOAD, True) + 6
        color = theme.MADDER if each.taken else theme.QUIET
        room = self.width() - x - 18
        if room > 24:
            theme.draw_text(painter, x + 4, middle + 4, each.reason, theme.font(12.5, italic=not each.taken), color,
                            room)

    def _exit_at(self, y: float) -> Exit | None:
        number = int((y - TOP + self._offset) // ROW)
        found = self.exits()
        return found[number] if 0 <= number < len(found) and y > TOP - 4 else None

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        each = self._exit_at(event.position().y())
        self.setToolTip(each.reason if each else "")
        self.setCursor(Qt.CursorShape.PointingHandCursor if each else Qt.CursorShape.ArrowCursor)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        self.setFocus()
        each = self._exit_at(event.position().y())
        if each is not None:
            self.document.select("transition", each.transition)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        found = self.exits()
        steps = {Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1}
        if event.key() not in steps or not found:
            super().keyPressEvent(event)
            return
        ids = [each.transition for each in found]
        selected = self.document.selection[1] if self.document.selection else None
        place = ids.index(selected) + steps[event.key()] if selected in ids else 0
        self.document.select("transition", ids[max(0, min(place, len(ids) - 1))])

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        most = max(0.0, TOP + len(self.exits()) * ROW - self.height() + 8)
        self._offset = max(0.0, min(most, self._offset - event.angleDelta().y() / 4))
        self.update()
