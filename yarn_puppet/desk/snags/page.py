"""The Snags page: what is wrong, why, and how to fix it. A click goes to where it is."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QPainter
from PyQt6.QtWidgets import QWidget

from ...core.snags.snag import Snag
from ..session.document import Document
from ..session.snag_list import SnagList
from ..widgets import theme
from ..widgets.key_table import KeyLine
from ..widgets.things import Thing
from ..widgets.view import DrawnView

ROW, TOP = 58.0, 52.0
COLORS = {"error": theme.MADDER, "warning": theme.WELD, "note": theme.QUIET}
PAGES = {
    "clip": "Clips", "action": "Wiring", "axis": "Wiring", "intent": "Wiring", "memo": "Wiring",
    "puppet": "Wiring", "mover": "Booth",
    "sense": "Wiring", "threshold": "Wiring",
}
"""Where an entry of a kind is worked on; all others on the Weave page."""


class SnagsPage(DrawnView):
    """One card a snag."""

    wanted = pyqtSignal(str, str, str)
    """A page to go to, and the kind and id of what should be seen there."""

    looked_at = pyqtSignal(QRectF)
    """The card that should be seen."""

    def __init__(self, document: Document, snags: SnagList, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.document, self.snags = document, snags
        self.setAccessibleName("Snags")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self._current = 0
        snags.changed.connect(self._changed)
        self._changed()

    def _changed(self) -> None:
        self.setMinimumHeight(int(TOP + len(self.snags.snags) * (ROW + 6)))
        self.update()

    def card(self, number: int) -> QRectF:
        """Where a snag's card is."""
        return QRectF(12, TOP + number * (ROW + 6), self.width() - 24, ROW)

    def things(self) -> list[Thing]:
        return [Thing(f"{snag.severity}: {snag.kind} {snag.where}",
                      f"{snag.why}. Fix: {snag.fix}",
                      self.card(number), number == self._current)
                for number, snag in enumerate(self.snags.snags)]

    def draw(self, painter: QPainter) -> None:
        self.draw_paper(painter)
        found = self.snags.snags
        errors = sum(snag.severity == "error" for snag in found)
        notes = sum(snag.severity == "note" for snag in found)
        title = (
            f"{errors} error{'s' * (errors != 1)}, {len(found) - errors - notes} more to look at"
            f"{f', {notes} not finished' if notes else ''}"
            if found
            else ("Looking for snags…" if self.snags.looking else "No snags")
        )
        end = theme.draw_text(painter, 16, 32, title, theme.font(16, bold=True))
        theme.draw_text(painter, end + 12, 32, self.said(), theme.font(13), theme.QUIET)
        seen = QRectF(self.visibleRegion().boundingRect())
        for number, snag in enumerate(found):
            rect = self.card(number)
            if not seen.intersects(rect):
                continue
            color = COLORS[snag.severity]
            chosen = self.hasFocus() and number == self._current
            theme.draw_card(painter, rect, 8, theme.WHITE, color if chosen else theme.SEAM,
                            2 if chosen else 1.2)
            x = theme.draw_pill(painter, rect.x() + 10, rect.y() + 19, snag.severity, color, True)
            x = theme.draw_text(painter, x + 10, rect.y() + 24, f"{snag.kind}  {snag.where}",
                                theme.font(14, strong=True))
            theme.draw_text(painter, rect.x() + 12, rect.y() + 46,
                            f"{snag.why}. Fix: {snag.fix}.", theme.font(13),
                            theme.QUIET, rect.width() - 24)
        self.draw_focus(painter)

    def said(self) -> str:
        """What stands beside the title: of which puppet it is, first of all."""
        if self.snags.looking:
            return "checked before the last edit; checking again…" if self.snags.snags else ""
        return "a click goes to where it is" if self.snags.snags else (
            "every name is known, every state can be reached, every transition can be first")

    def go_to(self, snag: Snag) -> None:
        """Show where a snag is."""
        self.wanted.emit(PAGES.get(snag.kind, "Weave"), snag.kind, snag.id)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        self.setFocus()
        for number, snag in enumerate(self.snags.snags):
            if self.card(number).contains(event.position()):
                self._current = number
                self.go_to(snag)
                return

    def key_lines(self) -> tuple[KeyLine, ...]:
        return (
            KeyLine(("Up", "Down"), "the snag above or below", self._along,
                    lambda: bool(self.snags.snags)),
            KeyLine(("Return",), "go where it is fixed",
                    lambda key: self.go_to(self.snags.snags[self._current]),
                    lambda: self._current < len(self.snags.snags)),
        )

    def _along(self, key: str) -> None:
        self._current = max(0, min(len(self.snags.snags) - 1,
                                   self._current + (1 if key == "Down" else -1)))
        self.looked_at.emit(self.card(self._current))
        self.update()
