"""Every kept take as a strip of states, with its promises: one row each."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QMouseEvent, QPainter, QPolygonF
from PyQt6.QtWidgets import QWidget

from ...core.model.take import Take
from ...core.takes.again.kept import Outcome
from ...core.takes.columns import Run
from ..session.files.takes_to_write import title_of
from ..widgets import theme
from ..widgets.dialogs import plain
from ..widgets.key_table import KeyLine, stepped
from ..widgets.stills import Stills
from ..widgets.things import Thing
from ..widgets.view import DrawnView
from .desk import TakesDesk

ROW, GAP, TOP = 31.0, 2.0, 1.0
STRIP, RIGHT = 122.0, 148.0
"""Where strips begin, and the room for promises after them."""


Pieces = tuple[tuple[float, float, int, str], ...]
"""From and to, in pixels of a strip; colour; name."""


class TakesView(DrawnView):
    """A click shows a take; a click on the strip of the take on show goes to that tick."""

    def __init__(self, desk: TakesDesk, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.desk, self.document, self.kept, self.player = (
            desk,
            desk.document,
            desk.kept,
            desk.player,
        )
        self.setAccessibleName("Kept takes")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self._stills = Stills()
        self.kept.changed.connect(self._changed)
        self.player.seen.connect(self._moved)
        self._changed()

    def rows(self) -> list[str]:
        """The files of all rows: takes, then what cannot be read."""
        return [*self.kept.takes, *self.kept.problems]

    def _changed(self) -> None:
        self.setMinimumHeight(int(TOP + max(1, len(self.rows())) * (ROW + GAP)))
        self.update()

    def _moved(self) -> None:
        # Only the head of the take on show moves while it plays.
        if self.player.take_file and self.isVisible():
            self.update()

    def row(self, number: int) -> QRectF:
        """Where a row is."""
        return QRectF(1, TOP + number * (ROW + GAP), self.width() - 2, ROW)

    def strip(self, number: int) -> QRectF:
        """Where the states of a row are."""
        row = self.row(number)
        return QRectF(STRIP, row.y() + 6, max(40.0, self.width() - STRIP - RIGHT), 15)

    def things(self) -> list[Thing]:
        made = []
        for number, name in enumerate(self.rows()):
            outcome = self.kept.outcomes.get(name)
            broken = sum(not verdict.kept for verdict in outcome.verdicts) if outcome else 0
            said = self.kept.problems.get(name) or (
                outcome.problem
                or f"{len(outcome.verdicts) - broken} promises kept, {broken} broken"
                if outcome
                else "not run yet"
            )
            made.append(Thing(f"take {title_of(name)}", said, self.row(number),
                              name == self.desk.current,
                              partial(self.desk.choose, name)))
        return made

    # Drawing --------------------------------------------------------------------------------------

    def draw(self, painter: QPainter) -> None:
        takes = self.kept.takes
        if not self.rows():
            theme.draw_text(painter, 10, 24,
                            "No takes are kept yet: play, then keep what was played",
                            theme.font(13, italic=True), theme.QUIET)
        for number, name in enumerate(self.rows()):
            if not self.row(number).intersects(self.seen):
                continue
            if name in takes:
                self._draw_take(painter, number, name, takes[name], self.kept.outcomes.get(name))
            else:
                self._draw_ground(painter, number, name, False)
                theme.draw_text(painter, 12, self.row(number).center().y() + 5, title_of(name),
                                theme.font(13.5, strong=True), theme.INK, STRIP - 20)
                theme.draw_text(painter, STRIP, self.row(number).center().y() + 5,
                                self.kept.problems[name],
                                theme.font(12.5), theme.MADDER, self.width() - STRIP - 12)
        self.draw_focus(painter, 8)

    def _draw_ground(self, painter: QPainter, number: int, name: str, broken: bool) -> None:
        chosen = name == self.desk.current
        color = theme.MADDER if broken else theme.INDIGO
        painter.setPen(theme.pen(color, 1.6) if chosen else Qt.PenStyle.NoPen)
        painter.setBrush(theme.WHITE if chosen else theme.LINEN)
        painter.drawRoundedRect(self.row(number).adjusted(0.5, 0.5, -0.5, -0.5), 7, 7)

    def _draw_take(
        self, painter: QPainter, number: int, name: str, take: Take, outcome: Outcome | None
    ) -> None:
        row, strip = self.row(number), self.strip(number)
        broken = sum(not each.kept for each in outcome.verdicts) if outcome else 0
        self._draw_ground(painter, number, name, bool(broken))
        theme.draw_text(painter, 12, row.y() + 13, title_of(name), theme.font(13, strong=True),
                        theme.INK, STRIP - 18)
        length = f"{(take.ticks - take.first) / take.rate:.1f} s"
        theme.draw_text(painter, 12, row.y() + 26, length, theme.font(11), theme.QUIET)
        if outcome is None or outcome.problem:
            theme.draw_text(painter, STRIP, row.center().y() + 5,
                            outcome.problem if outcome else "not run yet",
                            theme.font(12.5, italic=True), theme.MADDER if outcome else theme.QUIET,
                            strip.width())
            return
        self._draw_states(painter, name, strip, outcome)
        for verdict in outcome.verdicts:
            for mark in verdict.marks:
                if not mark.kept:
                    x = self.x_of(number, outcome, mark.first)
                    painter.setPen(Qt.PenStyle.NoPen)
                    painter.setBrush(theme.MADDER)
                    painter.drawPolygon(QPolygonF([
                        QPointF(x - 3.5, strip.y() - 6), QPointF(x + 3.5, strip.y() - 6),
                        QPointF(x, strip.y() - 1)]))
        if name == self.player.take_file and self.player.records:
            x = self.x_of(number, outcome, min(self.player.tick, outcome.ticks - 1) + 0.5)
            painter.setPen(theme.pen(theme.INK, 1.4))
            painter.drawLine(QPointF(x, row.y() + 4), QPointF(x, row.bottom() - 4))
        self._draw_promises(painter, row, take, outcome, broken)

    def _draw_states(
        self, painter: QPainter, name: str, strip: QRectF, outcome: Outcome
    ) -> None:
        """The states of a run and, dotted under them, those of the reference: as they are kept,
        until one of them is another."""
        runs = self._pieces(strip.width(), outcome, outcome.states, outcome.ticks)
        under: Pieces = ()
        if outcome.since_reference is not None and outcome.was:
            under = self._pieces(strip.width(), outcome, outcome.was,
                                 max(outcome.was[-1].last + 1, outcome.ticks))
        self._stills.draw(painter, name, strip.adjusted(-1, -1, 1, 7), (), (runs, under),
                          lambda still: _paint_states(still, strip, runs, under))

    def _pieces(
        self, width: float, outcome: Outcome, runs: Sequence[Run], ticks: int
    ) -> Pieces:
        """What is drawn of runs of states on a strip of this width; of those that are narrower than
        can be seen, as many as stand beside each other."""
        puppet, drawn = self.document.puppet, -1.0
        share = width / max(1, ticks - outcome.first)
        known: dict[str, tuple[int, str]] = {}
        pieces: list[tuple[float, float, int, str]] = []
        for run in runs:
            x = max(0, run.first - outcome.first) * share
            end = (run.last + 1 - outcome.first) * share
            if run.last < outcome.first or end < drawn + 1:
                continue
            drawn = end
            if run.key not in known:
                state = puppet.state(run.key)
                known[run.key] = (theme.state_color(puppet, run.key).rgb(),
                                  state.name if state is not None else "")
            pieces.append((x, end, *known[run.key]))
        return tuple(pieces)

    def _draw_promises(
        self, painter: QPainter, row: QRectF, take: Take, outcome: Outcome, broken: int
    ) -> None:
        x, middle = self.width() - RIGHT + 18, row.center().y()
        count = len(take.promises)
        color = theme.QUIET if not count else theme.MADDER if broken else theme.WOAD
        painter.setPen(theme.pen(color, 1.6))
        painter.setBrush(color if count else Qt.BrushStyle.NoBrush)
        painter.drawEllipse(QPointF(x, middle), 4.5, 4.5)
        text = (f"{broken} of {count} broken" if broken else f"{count} promise{'s' * (count != 1)}"
                if count
                else "no promise yet")
        if len(outcome.verdicts) != count:
            text = "being run…"
        of = theme.font(12.5, strong=bool(count))
        differs = outcome.since_reference is not None
        theme.draw_text(painter, x + 11, middle + (-0.5 if differs else 4.5), text, of, color,
                        RIGHT - 34)
        if differs:
            theme.draw_text(painter, x + 11, middle + 11, "differs",
                            theme.font(11, italic=True), theme.CLAY,
                            RIGHT - 34)

    # Hands ----------------------------------------------------------------------------------------

    def x_of(self, number: int, outcome: Outcome, tick: float) -> float:
        """Where a tick of a take is in its strip."""
        strip = self.strip(number)
        share = (tick - outcome.first) / max(1, outcome.ticks - outcome.first)
        return strip.x() + max(0.0, min(1.0, share)) * strip.width()

    def _number_at(self, y: float) -> int | None:
        number = int((y - TOP) // (ROW + GAP))
        return number if 0 <= number < len(self.rows()) else None

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        self.setFocus()
        number = self._number_at(event.position().y())
        if number is not None:
            self._go(number, event.position().x())

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        number = self._number_at(event.position().y())
        self.setCursor(Qt.CursorShape.ArrowCursor
                       if number is None else Qt.CursorShape.PointingHandCursor)
        if number is None:
            self.setToolTip("")
            return
        name = self.rows()[number]
        if event.buttons() & Qt.MouseButton.LeftButton and name == self.player.take_file:
            self._seek(number, event.position().x())
        outcome = self.kept.outcomes.get(name)
        self.setToolTip(plain("\n".join(outcome.since_edit.words))
                        if outcome and outcome.since_edit else "")

    def _go(self, number: int, x: float) -> None:
        name = self.rows()[number]
        if name == self.player.take_file and name == self.desk.current:
            self._seek(number, x)
        else:
            self.desk.choose(name)

    def _seek(self, number: int, x: float) -> None:
        outcome, strip = self.kept.outcomes.get(self.rows()[number]), self.strip(number)
        if outcome is not None and strip.x() - 4 <= x <= strip.right() + 4:
            share = (x - strip.x()) / strip.width()
            self.player.pause()
            self.player.seek(max(0, outcome.first + int(share * (outcome.ticks - outcome.first))))

    def key_lines(self) -> tuple[KeyLine, ...]:
        return (
            KeyLine(("Up", "Down"), "the take above or below", lambda key: self.desk.choose(
                stepped(self.rows(), self.desk.current, key)), lambda: bool(self.rows())),
            KeyLine(("Left", "Right"), "a tick back or on, in a take on show",
                    lambda key: self.player.step(-1 if key == "Left" else 1),
                    lambda: bool(self.player.take_file)),
            KeyLine(("Del",), "remove the take", lambda key: self.kept.remove(self.desk.current),
                    lambda: self.desk.current in self.kept.takes),
        )


def _paint_states(painter: QPainter, strip: QRectF, runs: Pieces, under: Pieces) -> None:
    for x, end, rgb, name in runs:
        color = QColor.fromRgb(rgb)
        painter.setPen(theme.pen(color, 1.2))
        painter.setBrush(theme.tint(color, 0.22))
        painter.drawRoundedRect(
            QRectF(strip.x() + x, strip.y(), max(1.5, end - x), strip.height()), 3, 3)
        if name and end - x > 34:
            theme.draw_text(painter, strip.x() + x + 5, strip.y() + 11.5, name, theme.font(11),
                            color, end - x - 8)
    y = strip.bottom() + 4.5
    for x, end, rgb, _ in under:
        painter.setPen(theme.pen(QColor.fromRgb(rgb), 1.6, (1, 1.6)))
        painter.drawLine(QPointF(strip.x() + x + 1, y),
                         QPointF(strip.x() + max(x + 2, end - 1), y))
