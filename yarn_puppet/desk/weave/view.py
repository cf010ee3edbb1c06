"""The weave: the graph as it stands and as it runs, and the hands that change it."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QMouseEvent, QPainter, QShowEvent, QWheelEvent
from PyQt6.QtWidgets import QWidget

from ...core.model.edits import graph as edits
from ..pictures.art import Art
from ..session.document import Document
from ..session.run.player import Player
from ..session.snag_list import SnagList
from ..widgets import theme
from ..widgets.key_table import KeyLine
from ..widgets.things import Thing
from ..widgets.view import distance
from .aiming import Aiming, Held
from .drawing import threads
from .drawing.cards import draw_spare
from .drawing.highlight import Hints
from .drops import ClipDrops
from .keys import WeaveKeys
from .placing.ends import seam_of
from .placing.layout import Band, Layout
from .showing import Showing
from .things import things_of


class WeaveView(Aiming):
    """Drag from card to card, or from a seam or a layer's pill, for a transition; to an empty place
    to move the card; a thread's end to lead it elsewhere; a band's name to order bands; from an
    empty place around cards to select them."""

    def __init__(
        self,
        document: Document,
        player: Player,
        art: Art,
        snags: SnagList,
        showing: Showing | None = None,
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(document, player, art, snags, showing, parent)
        self.keys = WeaveKeys(self)
        self.drops = ClipDrops(self)
        self.setAccessibleName("Weave")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self._press: QPointF | None = None
        self._held: Held | None = None
        self._dragging = False
        self._hover: Held | None = None
        document.selection_changed.connect(self.update)
        player.moved.connect(self.update)
        player.seen.connect(self._light)
        player.state_changed.connect(self._light)
        snags.changed.connect(self.update)
        self.relayout()

    def _light(self) -> None:
        """Work out what the conditions of the tick on show are: before it is painted, not while."""
        if self.isVisible():
            self.picture.one_short()

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        self._light()

    # Drawing --------------------------------------------------------------------------------------

    def draw(self, painter: QPainter) -> None:
        layout = self.layout_now
        hints = self.hints(layout)
        self.picture.draw(painter, layout, hints)
        self._draw_drag(painter, layout, hints.over)
        pinned = self.drops.pinned()
        if pinned is not None:
            painter.fillRect(pinned, theme.PAPER)
            draw_spare(painter, pinned, False, hints.over_spare)
        if self.hasFocus():
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(theme.pen(theme.INDIGO, 1.6))
            painter.drawRoundedRect(hints.inside.adjusted(1.5, 1.5, -1.5, -1.5), 10, 10)

    def hints(self, layout: Layout) -> Hints:
        """What the hands are doing, for the picture."""
        target = self._target_card()
        dragging = self._dragging or self.drops.held is not None
        hover = (
            self._hover
            if self._hover and self._hover[0] in ("state", "group", "transition")
            else None
        )
        return Hints(
            over=self._drop_band() if dragging else None,
            over_spare=self.drops.begins_band(self.at),
            hover=None if dragging else hover,
            targets=frozenset(each for each in (target.state if target else None, self.linking)
                              if each),
            inside=QRectF(self.visibleRegion().boundingRect()), grown=self.showing.grown,
        )

    def _draw_drag(self, painter: QPainter, layout: Layout, over: Band | None) -> None:
        if not self._dragging and self.drops.held is None:
            return
        kind = self._held[0] if self._held else ""
        if kind == "page" and self._press is not None:
            painter.setPen(theme.pen(theme.INDIGO, 1.4, (3, 2)))
            painter.setBrush(theme.with_alpha(theme.INDIGO, 22))
            painter.drawRect(QRectF(self._press, self.at).normalized())
        elif kind == "band":
            before = self._band_before(self.at.y())
            y = before.box.y - 3 if before else layout.spare.y - 2
            painter.setPen(theme.pen(theme.WOAD, 3))
            painter.drawLine(QPointF(8, y), QPointF(self.width() - 8, y))
        elif (
            kind in ("pin", "group", "end", "start", "layer")
            or self._target_card() or self._target_band()
        ):
            threads.draw_pull(painter, self._pull_from(layout), self.at)
        elif over is not None:
            moving = self._held[1] if self._held else None
            place = layout.place_at(over, self.at.x(), self.at.y(), moving)
            painter.setPen(theme.pen(theme.WOAD, 1.8, (3, 2)))
            painter.setBrush(theme.with_alpha(theme.WOAD, 26))
            painter.drawRoundedRect(QRectF(*layout.slot(over, place)), 8, 8)

    def _pull_from(self, layout: Layout) -> QPointF:
        kind, id = self._held or ("", "")
        if kind in ("end", "start"):
            thread = self.grown(id)
            if thread is not None:
                return QPointF(*(thread.points[0] if kind == "end" else thread.points[-1]))
        band = layout.band_of(id) if kind == "group" else None
        if band is not None:
            return QPointF(seam_of(band), self._press.y() if self._press else band.box.y)
        card = layout.cards.get(id)
        if card is None:
            return self._press or QPointF()
        return QPointF(card.box.middle, card.box.y + card.box.height / 2)

    # Hands ----------------------------------------------------------------------------------------

    def pull_from(self, layer: str, start: QPointF, at: QPointF) -> None:
        """A transition from anywhere in a layer is pulled out of its pill, over a point."""
        self._held, self._press, self._dragging, self.at = ("layer", layer), start, True, at
        self.update()

    def let_go_of_pull(self, at: QPointF, seen: bool) -> None:
        """It is let go at a point, if that is `seen`."""
        self.at, held = at, self._held
        if held is not None and held[0] == "layer" and seen:
            self._drop(held)
        self._press, self._held, self._dragging = None, None, False
        self.update()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        self.setFocus()
        self._press = self.at = event.position()
        self._held = self.under(self.at.x(), self.at.y())
        self._dragging = False

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        self.at = event.position()
        if self._press is None:
            self._point_at()
            return
        if (
            self._held is not None
            and self._held[0] not in ("transition", "fold")
            and distance(event, self._press) > 6
        ):
            self._dragging = True
            self.setCursor(Qt.CursorShape.ClosedHandCursor)
        self.update()

    def _point_at(self) -> None:
        kind, id = self.under(self.at.x(), self.at.y())
        if kind in ("end", "start"):
            kind = "transition"
        self.setCursor(Qt.CursorShape.ArrowCursor
                       if kind == "page" else Qt.CursorShape.PointingHandCursor)
        hover = (kind, id) if kind in ("state", "group", "transition") else None
        said = [snag.why for snag in self.snags.of(kind, id)] if id else []
        state = self.document.puppet.state(id) if kind == "state" else None
        self.setToolTip("\n".join([*([state.name] if state else []), *said]))
        if hover != self._hover:
            self._hover = hover
            self.update()

    def leaveEvent(self, event: object) -> None:
        self._hover = None
        self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        self.at = event.position()
        held, dragging = self._held, self._dragging
        if dragging and held is not None:
            self._drop(held)
        elif held is not None:
            self._click(held, event.modifiers())
        self._press, self._held, self._dragging = None, None, False
        self.setCursor(Qt.CursorShape.ArrowCursor)
        self.update()

    def _click(self, held: Held, modifiers: Qt.KeyboardModifier) -> None:
        kind, id = held
        more = modifiers & (Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
        if kind == "fold":
            self.showing.fold(id)
        elif kind == "page":
            self.document.deselect()
        elif kind in ("state", "pin") and more:
            self.document.select_also(id)
        else:
            named = {"pin": "state", "band": "group", "end": "transition", "start": "transition"}
            self.document.select(named.get(kind, kind), id)

    def _drop(self, held: Held) -> None:
        kind, id = held
        card, seam, band = self._target_card(), self._target_band(), self._drop_band()
        aimed = card.state if card is not None else seam.group if seam is not None else None
        if kind == "page":
            self._select_inside(QRectF(self._press or self.at, self.at).normalized())
        elif kind == "band":
            before = self._band_before(self.at.y())
            place = before.group if before else None
            self.document.edit("order bands", lambda now: edits.group_ordered(now, id, place))
        elif aimed is not None and kind == "pin" and card is not None:
            self.document.edit("move the start", lambda now: edits.start_set(now, card.state))
        elif aimed is not None and kind == "end":
            self.document.edit("lead elsewhere",
                               lambda now: edits.transition_changed(now, id, target=aimed))
            self.document.select("transition", id)
        elif card is not None and kind == "start":
            self.document.edit("lead from elsewhere",
                               lambda now: edits.transition_changed(now, id, source=card.state))
            self.document.select("transition", id)
        elif aimed is not None and kind == "layer":
            self.add_from_anywhere(id, aimed)
        elif aimed is not None and kind in ("state", "group"):
            self.add_transition(id, aimed)
        elif band is not None and kind == "state":
            order = self.layout_now.place_at(band, self.at.x(), self.at.y(), id)
            self.document.edit("move card",
                               lambda now: edits.state_ordered(now, id, band.group, order))
            self.document.select("state", id)

    def _select_inside(self, area: QRectF) -> None:
        found = [card.state for card in self.layout_now.cards.values()
                 if area.intersects(QRectF(*card.box))]
        if found:
            self.document.select("state", found[0])
            self.document.select_also(*found[1:]) if found[1:] else None

    # Keys and wheel -------------------------------------------------------------------------------

    def things(self) -> list[Thing]:
        return list(things_of(self))

    def key_lines(self) -> tuple[KeyLine, ...]:
        return self.keys.lines

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        assert event is not None
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier and event.angleDelta().y():
            self.showing.resize(-1 if event.angleDelta().y() > 0 else 1, self.layout_now.size)
        else:
            super().wheelEvent(event)
