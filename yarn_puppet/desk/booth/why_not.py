"""Why something was, or was not, taken or active at the tick on show: worked out, drawn, mended."""

from __future__ import annotations

from msgspec.structs import replace
from PyQt6.QtCore import QObject, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QPainter

from ...core.takes.explaining.pressing import Fix, Line
from ...core.takes.explaining.why import Explanation, why_state, why_transition
from ..session.document import Document
from ..session.run.player import Player
from ..session.work.job import Job
from ..widgets import theme
from ..widgets.timers import timer

ANSWER_ROW = 22
FIX_ROOM = 60
RESTS_MS = 90
"""How long the head has to rest before an answer is worked out."""
TOP = 38


class WhyNot(QObject):
    """What is asked, and the answer to it, below a title; lines with a tick lead there, and those
    with a fix can be done."""

    answered = pyqtSignal()

    def __init__(self, document: Document, player: Player, parent: QObject) -> None:
        super().__init__(parent)
        self.document, self.player = document, player
        self.asked: tuple[str, str] | None = None
        """What is asked about: "transition" or "state", and its id."""
        self._thinking = Job(self)
        self._asking: tuple[object, ...] = ()
        """What the thread works on: all of the question but the record, and the tick."""
        self._rests = timer(self, RESTS_MS, once=True)
        self._rests.timeout.connect(self._think)
        self.fix_boxes: list[tuple[QRectF, Fix]] = []
        """Where the buttons of fixes stand."""
        self._answer: tuple[object, Explanation | None] = (None, None)

    def answer(self) -> Explanation | None:
        """The answer to what is asked, at the tick on show."""
        record = self.player.shown
        if self.asked is None or record is None:
            return None
        kind, id = self.asked
        if not self.is_answered():
            asks = why_state if kind == "state" else why_transition
            self._answer = (self._question(), asks(self.player.records, self.player.tick, id))
        return self._answer[1]

    def _question(self) -> tuple[object, ...]:
        return (self.player.shown, self.asked, len(self.player.records))

    def is_answered(self) -> bool:
        """Whether the answer that is known is that to what is asked now."""
        known, now = self._answer[0], self._question()
        return isinstance(known, tuple) and all(one is other or one == other for one, other in zip(
            known[1:], now[1:], strict=True)) and known[0] is now[0]

    def _think(self) -> None:
        """Work the answer out, in a thread, once the head rests: while it is dragged through the
        trace nobody reads it."""
        if (
            self.asked is None
            or self.player.playing
            or self.player.shown is None
            or self.is_answered()
        ):
            return
        kind, id = self.asked
        question, records, tick = self._question(), self.player.records, self.player.tick
        asks = why_state if kind == "state" else why_transition
        self._asking = (*question[1:], tick)

        def answered(found: list[Explanation]) -> None:
            self._answer = (question, found[0])
            self.answered.emit()

        self._thinking.start([tick], lambda tick: asks(records, tick, id), answered)

    def draw(self, painter: QPainter, whole: QRectF, offset: float, room: float) -> None:
        """The answer, moved up by `offset`; its title may be as wide as `room`."""
        self.fix_boxes = []
        if not self.is_answered():
            if not (self._thinking.total
                    and self._asking == (*self._question()[1:], self.player.tick)):
                self._rests.start()
            name = next((node.name for node in self.document.puppet.nodes
                         if self.asked and node.id == self.asked[1]),
                        "")
            theme.draw_text(painter, 14, 24, f"Why {name} …", theme.font(14.5, bold=True),
                            theme.QUIET)
            return
        found = self.answer()
        if found is None:
            return
        color = theme.WOAD if found.so else theme.INK
        theme.draw_text(painter, 14, 24, found.title, theme.font(14.5, bold=True), color,
                        room)
        painter.setClipRect(QRectF(6, TOP - 4, whole.width() - 12, whole.height() - TOP - 2))
        for number, line in enumerate(found.lines):
            y = TOP + number * ANSWER_ROW - offset
            color = theme.INK if line.tick is None else theme.INDIGO
            painter.setBrush(theme.WOAD if found.so else theme.MADDER
                             if number == 0 else theme.SEAM)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.drawEllipse(QPointF(18, y + 11), 3, 3)
            end = theme.draw_text(painter, 28, y + 15.5, line.words, theme.font(13), color,
                                  whole.width() - 42 - (
                FIX_ROOM if line.fix is not None else 0))
            if line.fix is not None:
                right = theme.draw_pill(painter, end + 8, y + 11, "do it", theme.MADDER, True)
                self.fix_boxes.append((QRectF(end + 8, y + 1, right - end - 8, 20), line.fix))
        painter.setClipping(False)

    def line_at(self, y: float) -> Line | None:
        """The line of the answer at y, as if it was not moved up."""
        found, number = self.answer(), int((y - TOP) // ANSWER_ROW)
        there = found is not None and y > TOP - 4 and 0 <= number < len(found.lines)
        return found.lines[number] if found is not None and there else None

    def fix_at(self, at: QPointF) -> Fix | None:
        """The fix whose button is at a point of what was drawn last."""
        return next((fix for box, fix in self.fix_boxes if box.contains(at)), None)

    def fixes(self) -> list[Fix]:
        """All fixes of the answer, in order."""
        answer = self.answer()
        return (
            [line.fix for line in answer.lines if line.fix is not None]
            if answer is not None
            else []
        )

    def do(self, fix: Fix) -> None:
        """Do what would have worked: an edit like any other."""
        name = next((intent.name
                     for intent in self.document.puppet.intents if intent.id == fix.intent),
                     fix.intent)
        self.document.edit(f"keep {name.replace('_', ' ')} for {fix.buffer:g} s",
                           lambda now: replace(
            now, intents=tuple([replace(intent, buffer=fix.buffer)
                                if intent.id == fix.intent else intent
                                for intent in now.intents])))
