"""The Takes page: every kept take, its promises, what the last edit changed, other rates, and what
is measured."""

from __future__ import annotations

from functools import partial
from typing import get_args

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPolygonF
from PyQt6.QtWidgets import QHBoxLayout, QSizePolicy, QVBoxLayout, QWidget

from ...core.takes.promising.promises import Verdict
from ..pictures.feet import FeetOfClips
from ..session.document import Document
from ..session.kept_takes import KeptTakes, Since
from ..session.run.player import Player
from ..widgets import theme
from ..widgets.certain import sure
from ..widgets.dialogs import plain
from ..widgets.painting import painting
from ..widgets.panel import Panel, scrolling
from ..widgets.parts import Token, Word, choice_field
from ..widgets.sentence import Sentence
from .desk import SHOWS, TakesDesk
from .findings import FindingsView, at_other_rates, changes, measures
from .promise_sentence import promise_parts
from .take_sentence import chosen_sentence, deeds_sentence, kept_sentence
from .view import ROW, TakesView

ROWS_SEEN = 5


class PromiseLine(QWidget):
    """One promise: whether it is kept, its sentence, and where."""

    def __init__(self) -> None:
        super().__init__()
        self.verdict: Verdict | None = None
        self.sentence = Sentence(background=False)
        row = QHBoxLayout(self)
        row.setContentsMargins(20, 0, 0, 0)
        row.setSpacing(0)
        row.addWidget(self.sentence, 1)
        self.sentence.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Minimum)
        row.setStretch(0, 1)

    def show_verdict(self, verdict: Verdict | None) -> None:
        """Show how it stands; None while it is being run."""
        self.verdict = verdict
        words = "being run" if verdict is None else verdict_words(verdict)
        wide = int(theme.text_width(words, theme.font(12.5, strong=True))) + 14
        margins = sure(self.layout()).contentsMargins()
        if margins.right() != wide:
            sure(self.layout()).setContentsMargins(20, 0, min(wide, 240), 0)
        self.setAccessibleName(("kept: " if verdict and verdict.kept else "") + words)
        self.setToolTip(plain(words))
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        with painting(self) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            verdict = self.verdict
            color = theme.FAINT if verdict is None else theme.WOAD if verdict.kept else theme.MADDER
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(color)
            middle = 14
            painter.drawEllipse(4, middle - 7, 14, 14)
            painter.setPen(theme.pen(theme.WHITE, 1.8))
            if verdict is not None and verdict.kept:
                painter.drawPolyline(QPolygonF([
                    QPointF(8, middle), QPointF(10, middle + 3), QPointF(14, middle - 3)]))
            elif verdict is not None:
                painter.drawLine(8, middle - 3, 14, middle + 3)
                painter.drawLine(14, middle - 3, 8, middle + 3)
            words = "being run" if verdict is None else verdict_words(verdict)
            of = theme.font(12.5, strong=True)
            wide = min(226.0, theme.text_width(words, of))
            theme.draw_text(painter, self.width() - wide - 6, middle + 4.5, words, of,
                            color if verdict is not None else theme.QUIET, 228)


def verdict_words(verdict: Verdict) -> str:
    """How a promise stands, with the tick."""
    return (
        verdict.words
        if verdict.kept or verdict.tick is None
        else f"at {verdict.tick}: {verdict.words}"
    )


class TakesPage(QWidget):
    """Sentences, the strips, and below them what is known of the take that is chosen."""

    def __init__(
        self,
        document: Document,
        kept: KeptTakes,
        player: Player,
        feet: FeetOfClips,
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self.document, self.kept, self.player = document, kept, player
        self.desk = TakesDesk(document, kept, player, feet)
        self.view = TakesView(self.desk)
        self.all, self.deeds, self.chosen = Sentence(background=False), Sentence(), Sentence(
            background=False)
        self.lines: list[PromiseLine] = []
        self.findings_title = Sentence(background=False)
        self.findings = FindingsView(document)
        self.findings.asked.connect(self.desk.look_at)
        below = QWidget()
        self.column = QVBoxLayout(below)
        self.column.setContentsMargins(0, 0, 0, 0)
        self.column.setSpacing(1)
        for widget in (self.findings_title, self.findings):
            self.column.addWidget(widget)
        self.column.addStretch(1)
        self._strips = scrolling(self.view)
        self._below = scrolling(below)
        panel = Panel(self.all, self.deeds, self._strips, self.chosen, self._below)
        panel.column.setSpacing(3)
        panel.column.setContentsMargins(10, 3, 10, 5)
        # The strips take what they need, as far as enough is left for what is known of one of them.
        panel.column.setStretchFactor(self._strips, 100)
        panel.column.setStretchFactor(self._below, 1)
        self._below.setMinimumHeight(120)
        self._strips.setMinimumHeight(int(ROW) * 2)
        whole = QVBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.addWidget(panel)
        self._deeds_shown: tuple[object, ...] = ()
        for signal in (document.puppet_changed, kept.changed, player.state_changed,
                       player.run_replaced,
                       self.desk.changed):
            signal.connect(self.refresh)
        self.desk.another_chosen.connect(self._see)
        player.seen.connect(self._glance)
        self.refresh()

    # What is shown --------------------------------------------------------------------------------

    def refresh(self) -> None:
        """Show everything as it is."""
        if not self.isVisible():
            return
        desk, kept, player = self.desk, self.kept, self.player
        file, take = desk.current, desk.take
        self._deeds_shown = (player.span, player.head, kept.differs, bool(player.records))
        self.all.show_parts(kept_sentence(kept))
        self.deeds.show_parts(deeds_sentence(self.desk))
        self.deeds.setVisible(bool(self.deeds.parts))
        self.chosen.show_parts(chosen_sentence(desk))
        outcome = kept.outcomes.get(file)
        promises = take.promises if take is not None and desk.shows == SHOWS[0] else ()
        while len(self.lines) < len(promises):
            line = PromiseLine()
            self.column.insertWidget(len(self.lines), line)
            self.lines.append(line)
        world = desk.world
        for number, line in enumerate(self.lines):
            line.setVisible(number < len(promises))
            if number < len(promises):
                line.sentence.show_parts(promise_parts(
                    promises[number], self.document.puppet, world, partial(desk.put, file, number),
                    partial(desk.take_back, file, number)))
                done = outcome is not None and len(outcome.verdicts) == len(promises)
                line.show_verdict(outcome.verdicts[number]
                                  if outcome is not None and done else None)
        self._show_findings(file)
        height = min(len(self.view.rows()), ROWS_SEEN) * (ROW + 3) + 6
        self._strips.setMaximumHeight(int(max(ROW * 2, height)))
        self.view.update()

    def _show_findings(self, file: str) -> None:
        outcome = self.kept.outcomes.get(file)
        known = file in self.kept.takes
        shows, found = self.desk.shows, self.desk.measuring.found
        self.findings_title.setVisible(known and shows == SHOWS[0])
        self.findings.setVisible(known)
        if not known:
            return
        if shows.startswith("rates"):
            rates = self.kept.rates.get(file)
            self.findings.show_lines(at_other_rates(rates, self.document.puppet.rate)
                                     if rates is not None else [],
                                     "being run at other rates")
        elif shows == "measured":
            self.findings.show_lines(
                measures(*found, self.document.puppet.rate) if found else [],
                "being measured" if self.desk.measuring.busy
                else "nothing was pressed, and nothing moves")
        else:
            edit = self.desk.since == "the last edit"
            difference = (
                (outcome.since_edit if edit else outcome.since_reference)
                if outcome is not None
                else None
            )
            self.findings_title.show_parts([
                Word("What", strong=True),
                Token(self.desk.since, theme.INK, name="since", field=choice_field(
                    self.desk.since, [(arg, arg) for arg in get_args(Since)],
                    self.desk.compare_with)),
                Word("changed", strong=True), Word(self.kept.edit_name if edit else ""),
            ])
            self.findings.show_lines(changes(difference), "nothing: every tick tells the same")

    def _glance(self) -> None:
        """While time runs only what tells of the head and the run's length is another."""
        now = (self.player.span, self.player.head, self.kept.differs, bool(self.player.records))
        if self.isVisible() and not self.player.playing and now != self._deeds_shown:
            self._deeds_shown = now
            self.deeds.show_parts(deeds_sentence(self.desk))
            self.deeds.setVisible(bool(self.deeds.parts))

    def showEvent(self, event: object) -> None:
        self.refresh()

    def _see(self) -> None:
        """Scroll to the take that is chosen, and let what is known of it begin at its top."""
        rows = self.view.rows()
        if self.desk.current in rows:
            row = self.view.row(rows.index(self.desk.current))
            self._strips.ensureVisible(0, int(row.center().y()), 0, int(ROW))
        sure(self._below.verticalScrollBar()).setValue(0)
