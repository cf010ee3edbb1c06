"""The weave: the graph as it stands and as it runs, and the hands that change it."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QWheelEvent
from PyQt6.QtWidgets import QWidget

from ...core.model.edits import graph as edits
from ..pictures.art import Art
from ..session.document import Document
from ..session.player import Player
from ..session.snag_list import SnagList
from ..widgets import theme
from ..widgets.view import DrawnView, distance
from . import threads
from .drops import ClipDrops
from .ends import seam_of
from .keys import WeaveKeys
from .layout import Band, Card, Layout, lay_out
from .picture import Hints, WeavePicture
from .routing import Thread, distance_to
from .showing import Showing

NAME_WIDTH = 16.0
"""The strip at the left of a band by which the band itself is dragged; the seam beside it pulls a transition."""
Held = tuple[str, str]
"""What the mouse holds: "state", "group" (its seam), "band" (its name), "pin", "end" or "start" of a thread, "fold",
"transition", "page"; and an id."""


class _Same:
    """Equal only to what is the same object."""

    def __init__(self, it: object) -> None:
        self.it = it

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Same) and other.it is self.it

    def __hash__(self) -> int:
        return id(self.it)


class WeaveView(DrawnView):
    """Drag from card to card, or from a seam, for a transition; to an empty place to move the card; a thread's end to
    lead it elsewhere; a band's name to order bands; from an empty place around cards to select them."""

    laid_out = pyqtSignal()
    told = pyqtSignal(str)
    """What was done, in words, where it cannot all be seen."""
    wanted = pyqtSignal(str)
    """A state whose card should be seen."""

    def __init__(
        self, document: Document, player: Player, art: Art, snags: SnagList, showing: Showing | None = None,
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self.document, self.snags = document, snags
        self.showing = showing or Showing(document)
        self.picture = WeavePicture(document, player, art, snags)
        self.keys = WeaveKeys(self)
        self.drops = ClipDrops(self)
        self.setAccessibleName("Weave")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self._made: tuple[tuple[object, ...], Layout] | None = None
        self._room = 400.0
        self._press: QPointF | None = None
        self._held: Held | None = None
        self.at = QPointF()
        self._dragging = False
        self.linking: str | None = None
        self._hover: Held | None = None
        document.puppet_changed.connect(self.relayout)
        document.selection_changed.connect(self.update)
        self.showing.changed.connect(self.relayout)
        player.moved.connect(self.update)
        snags.changed.connect(self.update)
        self.relayout()

    # Layout -----------------------------------------------------------------------------------------------------

    def set_room(self, height: float) -> None:
        """How high the part of the page is that can be seen: what fits is measured by it."""
        if height != self._room:
            self._room = height
            self.relayout()

    def relayout(self) -> None:
        """Size the view for the puppet."""
        made = self.layout_now
        self.setMinimumHeight(int(made.height) + 1)
        self.update()
        self.laid_out.emit()

    def resizeEvent(self, event: object) -> None:
        self.relayout()

    @property
    def layout_now(self) -> Layout:
        """Where everything stands."""
        showing, puppet = self.showing, self.document.puppet
        # States and groups that are the same tuples as before stand where they stood: no need to compare one by one.
        key = (_Same(puppet.states), _Same(puppet.groups), float(self.width()), self._room, showing.size,
               showing.layer, showing.folded)
        if self._made is None or self._made[0] != key:
            made = lay_out(puppet, float(self.width()), self._room, showing.size, showing.layer, showing.folded)
            self._made = (key, made)
        return self._made[1]

    def show_card(self, state: str) -> None:
        """Ask for a card to be scrolled to."""
        self.wanted.emit(state)

    # Drawing ----------------------------------------------------------------------------------------------------

    def draw(self, painter: QPainter) -> None:
        layout = self.layout_now
        hints = self._hints(layout)
        self.picture.draw(painter, layout, hints)
        self._draw_drag(painter, layout, hints.over)
        if self.hasFocus():
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(theme.pen(theme.INDIGO, 1.6))
            painter.drawRoundedRect(hints.inside.adjusted(1.5, 1.5, -1.5, -1.5), 10, 10)

    def _hints(self, layout: Layout) -> Hints:
        target = self._target_card()
        dragging = self._dragging or self.drops.held is not None
        hover = self._hover if self._hover and self._hover[0] in ("state", "group", "transition") else None
        return Hints(
            over=self._drop_band() if dragging else None,
            over_spare=self.drops.held is not None and layout.spare.holds(self.at.x(), self.at.y()),
            hover=None if dragging else hover,
            targets=frozenset(each for each in (target.state if target else None, self.linking) if each),
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
        elif kind in ("pin", "group", "end", "start") or self._target_card() or self._target_band():
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
            thread = self._grown(id)
            if thread is not None:
                return QPointF(*(thread.points[0] if kind == "end" else thread.points[-1]))
        band = layout.band_of(id) if kind == "group" else None
        if band is not None:
            return QPointF(seam_of(band), self._press.y() if self._press else band.box.y)
        card = layout.cards.get(id)
        if card is None:
            return self._press or QPointF()
        return QPointF(card.box.middle, card.box.y + card.box.height / 2)

    # What is under the mouse --------------------------------------------------------------------------------------

    def _target_card(self) -> Card | None:
        """The card a transition being pulled would lead to or from."""
        if not self._dragging or self._held is None or self._held[0] in ("page", "band"):
            return None
        card = self.layout_now.card_at(self.at.x(), self.at.y())
        return None if card is None or self._held == ("state", card.state) else card

    def _target_band(self) -> Band | None:
        """The band whose seam a transition being pulled would lead to."""
        if not self._dragging or self._held is None or self._held[0] not in ("state", "group", "end"):
            return None
        band = self.layout_now.band_at(self.at.x(), self.at.y())
        if band is None or band.group is None or self._held == ("group", band.group):
            return None
        return band if band.folded or (self.at.x() < band.seam + 10 and band.depth == 0) else None

    def _drop_band(self) -> Band | None:
        """The band that a dragged card or clip would be put into."""
        if self.drops.held is None and (self._held is None or self._held[0] != "state" or self._target_band()):
            return None
        if self.layout_now.card_at(self.at.x(), self.at.y()) and self.drops.held is None:
            return None
        return self.layout_now.band_at(self.at.x(), self.at.y())

    def _band_before(self, y: float) -> Band | None:
        """The band that a band dropped at a height would be put before."""
        outer = [band for band in self.layout_now.bands if band.depth == 0 and band.group is not None]
        return next((band for band in outer if y < band.box.y + band.box.height / 2), None)

    def _threads(self) -> tuple[Thread, ...]:
        layout = self.layout_now
        focus = self.picture.focus(layout, self._hints(layout))
        seen = self._hints(layout).inside
        return (*focus.threads, *focus.into, *self.picture.at_rest(layout, self.showing.grown, seen))

    def _grown(self, transition: str) -> Thread | None:
        return next((each for each in self._threads() if each.transition == transition), None)

    def _thread_at(self, x: float, y: float) -> Thread | None:
        near = [(distance_to(thread, x, y), thread) for thread in self._threads()]
        best = min(near, key=lambda pair: pair[0], default=None)
        return best[1] if best and best[0] < 6 else None

    def under(self, x: float, y: float) -> Held:
        """What is at a point."""
        layout = self.layout_now
        for layer in self.document.puppet.layers:
            start = layout.cards.get(layer.start or "")
            if start and abs(x - start.box.x - 10) < 8 and abs(y - start.box.y + 6) < 9:
                return "pin", start.state
        card = layout.card_at(x, y)
        if card is not None:
            return "state", card.state
        thread = self._thread_at(x, y)
        if thread is not None:
            for kind, (px, py) in (("end", thread.points[-1]), ("start", thread.points[0])):
                if abs(x - px) + abs(y - py) < 9:
                    return kind, thread.transition
            return "transition", thread.transition
        tail = self._tail_at(x, y)
        if tail is not None:
            return "transition", tail
        band = layout.band_at(x, y)
        if band is None or band.group is None:
            return "page", ""
        if band.depth == 0 and ((band.folded and x < band.box.x + 22) or (x < band.box.x + NAME_WIDTH
                                and y < band.box.y + 16 and not band.folded)):
            return "fold", band.group
        if band.depth == 0 and x < band.seam - 6:
            return "band", band.group
        if abs(x - seam_of(band)) < 10 or band.folded:
            return "group", band.group
        return "page", band.group

    def _tail_at(self, x: float, y: float) -> str | None:
        layout = self.layout_now
        row = layout.row_at(y)
        if row < 0 or row >= len(layout.rows):
            return None
        ends = self.picture.ends(layout)
        for card in layout.rows[row].cards:
            if card.box.x <= x <= card.box.right and card.box.bottom <= y <= card.box.bottom + layout.size.tail + 2:
                near = min(ends.tails(card.state), key=lambda tail: abs(tail.start[0] - x), default=None)
                return near.transition if near is not None and abs(near.start[0] - x) < 5 else None
        return None

    # Hands ------------------------------------------------------------------------------------------------------

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        self.setFocus()
        self._press = self.at = event.position()
        self._held = self.under(self.at.x(), self.at.y())
        self._dragging = False

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        self.at = event.position()
        if self._press is None:
            self._point_at()
            return
        if self._held is not None and self._held[0] not in ("transition", "fold") and distance(event, self._press) > 6:
            self._dragging = True
            self.setCursor(Qt.CursorShape.ClosedHandCursor)
        self.update()

    def _point_at(self) -> None:
        kind, id = self.under(self.at.x(), self.at.y())
        if kind in ("end", "start"):
            kind = "transition"
        self.setCursor(Qt.CursorShape.ArrowCursor if kind == "page" else Qt.CursorShape.PointingHandCursor)
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
            self.document.edit("lead elsewhere", lambda now: edits.transition_changed(now, id, target=aimed))
            self.document.select("transition", id)
        elif card is not None and kind == "start":
            self.document.edit("lead from elsewhere", lambda now: edits.transition_changed(now, id, source=card.state))
            self.document.select("transition", id)
        elif aimed is not None and kind in ("state", "group"):
            self.add_transition(id, aimed)
        elif band is not None and kind == "state":
            order = self.layout_now.place_at(band, self.at.x(), self.at.y(), id)
            self.document.edit("move card", lambda now: edits.state_ordered(now, id, band.group, order))
            self.document.select("state", id)

    def _select_inside(self, area: QRectF) -> None:
        found = [card.state for card in self.layout_now.cards.values() if area.intersects(QRectF(*card.box))]
        if found:
            self.document.select("state", found[0])
            self.document.select_also(*found[1:]) if found[1:] else None

    def add_transition(self, source: str, target: str) -> None:
        """A transition that is always open yet; its sentence asks for its condition."""
        puppet, id = edits.transition_added(self.document.puppet, source, target)
        self.document.edit("add transition", puppet)
        self.document.select("transition", id)

    # Keys and wheel ---------------------------------------------------------------------------------------------

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if not self.keys.pressed(event):
            super().keyPressEvent(event)

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier and event.angleDelta().y():
            self.showing.resize(-1 if event.angleDelta().y() > 0 else 1, self.layout_now.size)
        else:
            super().wheelEvent(event)
