"""The shelf of clips below the weave: each a chip to drag into it."""

from __future__ import annotations

from PyQt6.QtCore import QPoint, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QPainter, QWheelEvent
from PyQt6.QtWidgets import QWidget

from ...core.model.clips import Clip
from ...core.model.graph import Spread
from ...core.model.puppet import Puppet, find
from ..pictures.art import Art, draw_fitted
from ..session.document import Document
from ..widgets import theme
from ..widgets.key_table import KeyLine
from ..widgets.stills import Stills
from ..widgets.things import Thing
from ..widgets.view import DrawnView, distance

CHIP_WIDTH, CHIP_HEIGHT = 104.0, 27.0
ALL_WIDTH = 78.0
WIRE_WIDTH = 104.0


class ClipShelf(DrawnView):
    """Every clip as a chip to drag into the weave; those that a state plays already are quieter, a
    spread has a count.

    A click with Shift takes all up to there, one with Ctrl one more: they are dragged together, as
    ids with spaces between.
    """

    dragged = pyqtSignal(str, QPoint)
    dropped = pyqtSignal(str, QPoint)
    entered = pyqtSignal(str)
    wire_wanted = pyqtSignal()
    """Clips that no state plays are to be wired by their names."""

    def __init__(self, document: Document, art: Art, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.document, self.art = document, art
        self.setAccessibleName("Clips to drag")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setFixedHeight(int(CHIP_HEIGHT) + 8)
        self._offset = 0.0
        self._press: tuple[QPointF, str] | None = None
        self._dragging = False
        self._current, self._stills = 0, Stills()
        self._found: tuple[Puppet | None, list[str]] = (None, [])
        self._chosen: list[str] = []
        self.can_wire = False
        """Whether some clip that no state plays could be wired by its name."""
        document.puppet_changed.connect(self.update)

    def chip(self, number: int) -> QRectF:
        """Where a clip's chip is."""
        before = (ALL_WIDTH + 6 if self.fresh else 0) + (WIRE_WIDTH + 6 if self.can_wire else 0)
        return QRectF(48 + before + number * (CHIP_WIDTH + 6) - self._offset, 4, CHIP_WIDTH,
                      CHIP_HEIGHT)

    @property
    def fresh(self) -> list[str]:
        """The clips that no state plays yet, where there are several: they can be dragged all at
        once. They are asked for with every chip, and found once for each puppet."""
        puppet = self.document.puppet
        if self._found[0] is puppet:
            return self._found[1]
        used = {state.clip for state in puppet.states}
        used |= {each.clip for spread in puppet.spreads for each in spread.clips}
        found = [clip.id for clip in puppet.clips if clip.id not in used]
        self._found = (puppet, found if len(found) > 1 else [])
        return self._found[1]

    @property
    def all_chip(self) -> QRectF:
        """The chip that stands for all of them."""
        return QRectF(48 - self._offset, 4, ALL_WIDTH, CHIP_HEIGHT)

    @property
    def wire_chip(self) -> QRectF:
        """The chip that wires them by their names."""
        return QRectF(self.all_chip).translated(ALL_WIDTH + 6 if self.fresh else 0, 0).adjusted(
            0, 0, WIRE_WIDTH - ALL_WIDTH, 0)

    def _draw_wire(self, painter: QPainter) -> None:
        theme.draw_card(painter, self.wire_chip, 7, theme.WHITE, theme.MADDER, 1.4)
        theme.draw_text(painter, self.wire_chip.x() + 9, self.wire_chip.y() + 18, "wire by names…",
                        theme.font(12, strong=True), theme.MADDER)

    def _draw_all(self, painter: QPainter) -> None:
        theme.draw_card(painter, self.all_chip, 7, theme.WHITE, theme.WOAD, 1.4)
        theme.draw_text(painter, self.all_chip.x() + 9, self.all_chip.y() + 18,
                        f"all {len(self.fresh)} new",
                        theme.font(12, strong=True), theme.INK)

    def draw(self, painter: QPainter) -> None:
        puppet, shelf = self.document.puppet, self.shelf
        theme.draw_text(painter, 8, 22, "clips", theme.font(13), theme.QUIET)
        if not puppet.clips:
            theme.draw_text(painter, 52, 22, "none yet: bring in art on the Clips page",
                            theme.font(13, italic=True),
                            theme.QUIET)
        used = {state.spread or state.clip for state in puppet.states}
        if self.fresh:
            self._draw_all(painter)
        if self.can_wire:
            self._draw_wire(painter)
        painter.setClipRect(QRectF(44, 0, self.width() - 46, self.height()))
        step = CHIP_WIDTH + 6
        first = max(0, int((self._offset - 48) // step))
        seen = range(first, min(len(shelf), first + int(self.width() // step) + 2))
        for number in seen:
            clip = shelf[number]
            self._draw_chip(painter, clip, self.chip(number), clip.id in used,
                            (self.hasFocus() and number == self._current)
                            or clip.id in self._chosen)
        if self._dragging and self._press is not None:
            held = next((each for each in shelf if each.id == self._press[1]), None)
            if held is not None:
                self._draw_chip(painter, held, self.chip(shelf.index(held)).translated(0, -3),
                                False, True)

    @property
    def shelf(self) -> tuple[Clip | Spread, ...]:
        """What can be dragged: spreads, then clips."""
        return (*self.document.puppet.spreads, *self.document.puppet.clips)

    def _draw_chip(
        self, painter: QPainter, each: Clip | Spread, rect: QRectF, used: bool, focused: bool
    ) -> None:
        puppet, art = self.document.puppet, self.art
        clip = each if isinstance(each, Clip) else next(
            (found for placed in each.clips if (found := puppet.clip(placed.clip)) is not None),
            None)
        self._stills.draw(
            painter, (each.id, focused), rect.adjusted(-1, -1, 1, 1), (each, clip, puppet.sheets),
            (used, focused, art.edition, art.folder, art.lost),
            lambda still: self._paint_chip(still, each, clip, rect, used, focused))

    def _paint_chip(
        self, painter: QPainter, each: Clip | Spread, clip: Clip | None, rect: QRectF, used: bool,
        focused: bool,
    ) -> None:
        theme.draw_card(painter, rect, 7, theme.LINEN if used else theme.WHITE,
                        theme.INDIGO if focused else theme.SEAM, 1.8 if focused else 1.1)
        if clip is not None and clip.plays:
            draw_fitted(painter, self.art, clip, len(clip.frames) // 2,
                        QRectF(rect.x() + 3, rect.y() + 2, 28, 23))
        spread = f" ({len(each.clips)})" if isinstance(each, Spread) else ""
        theme.draw_text(painter, rect.x() + 35, rect.y() + 18, each.name + spread,
                        theme.font(12, strong=not used),
                        theme.QUIET if used else theme.INK, CHIP_WIDTH - 40)

    def _clip_at(self, at: QPointF) -> Clip | Spread | None:
        return next((clip for number, clip in enumerate(self.shelf)
                     if self.chip(number).contains(at)), None)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        self.setFocus()
        clip = self._clip_at(event.position())
        self._press = (event.position(), clip.id) if clip else None
        if self.can_wire and self.wire_chip.contains(event.position()):
            self.wire_wanted.emit()
        if self.fresh and self.all_chip.contains(event.position()):
            self._chosen = list(self.fresh)
            self._press = (event.position(), self._chosen[0])
        if clip is not None:
            self._choose(self.shelf.index(clip), event.modifiers())
        self.update()

    def _choose(self, number: int, modifiers: Qt.KeyboardModifier) -> None:
        ids = [each.id for each in self.shelf]
        if modifiers & Qt.KeyboardModifier.ShiftModifier:
            first, last = sorted((self._current, number))
            self._chosen = ids[first:last + 1]
            return
        if modifiers & Qt.KeyboardModifier.ControlModifier:
            kept = self._chosen or [ids[self._current]]
            self._chosen = [id for id in kept if id != ids[number]] + (
                [ids[number]] if ids[number] not in kept else [])
        elif ids[number] not in self._chosen:
            self._chosen = []
        self._current = number

    @property
    def held(self) -> str:
        """What a drag takes along: the chosen clips, or the one under the mouse."""
        id = self._press[1] if self._press is not None else ""
        return " ".join(self._chosen) if id in self._chosen else id

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if self._press is not None and (self._dragging or distance(event, self._press[0]) > 6):
            self._dragging = True
            self.setCursor(Qt.CursorShape.ClosedHandCursor)
            self.dragged.emit(self.held, event.globalPosition().toPoint())
            self.update()
        elif self._press is None:
            self.setCursor(Qt.CursorShape.OpenHandCursor if self._clip_at(event.position())
                           else Qt.CursorShape.ArrowCursor)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if self._dragging and self._press is not None:
            self.dropped.emit(self.held, event.globalPosition().toPoint())
            self._chosen = []
        elif (
            self._press is not None
            and find(self.document.puppet.spreads, self._press[1]) is not None
        ):
            self.document.select("spread", self._press[1])
        self._press, self._dragging = None, False
        self.setCursor(Qt.CursorShape.ArrowCursor)
        self.update()

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        assert event is not None
        most = max(0.0, 54 + len(self.shelf) * (CHIP_WIDTH + 6) - self.width())
        turn = event.angleDelta().y() or event.angleDelta().x()
        self._offset = max(0.0, min(most, self._offset - turn / 2))
        self.update()

    def things(self) -> list[Thing]:
        used = {state.spread or state.clip for state in self.document.puppet.states}
        return [Thing(f"{'clip' if isinstance(each, Clip) else 'spread'} {each.name}",
                      "in a state" if each.id in used else "in no state yet", self.chip(number),
                      number == self._current) for number, each in enumerate(self.shelf)]

    def key_lines(self) -> tuple[KeyLine, ...]:
        return (
            KeyLine(("Left", "Right"), "the clip before or after", self._along,
                    lambda: bool(self.shelf)),
            KeyLine(("Return",), "a state of it",
                    lambda key: self.entered.emit(self.shelf[self._current].id),
                    lambda: self._current < len(self.shelf)),
            KeyLine(("W",), "wire the clips that no state plays, by their names",
                    lambda key: self.wire_wanted.emit(), lambda: self.can_wire),
        )

    def _along(self, key: str) -> None:
        self._current = max(0, min(len(self.shelf) - 1,
                                   self._current + (1 if key == "Right" else -1)))
        self.update()
