"""The weave: the graph as it stands and as it runs, and the hands that change it."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter
from PyQt6.QtWidgets import QWidget

from ...core.model.clips import Clip
from ...core.model.edits import graph as edits
from ...core.model.graph import Spread
from ...core.model.puppet import Puppet, find
from ..pictures.art import Art
from ..session.document import Document
from ..session.player import Player
from ..session.snag_list import SnagList
from ..widgets import theme
from ..widgets.view import DrawnView, distance
from . import cards
from .layout import SEAM_X, Band, Card, Layout, lay_out
from .picture import Hints, WeavePicture
from .routing import Thread, distance_to, route


class WeaveView(DrawnView):
    """Drag from card to card or from a seam to a card for a transition, to an empty place to move the card."""

    def __init__(
        self, document: Document, player: Player, art: Art, snags: SnagList, parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self.document, self.snags = document, snags
        self.picture = WeavePicture(document, player, art, snags)
        self.setAccessibleName("Weave")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self._made: tuple[Puppet | None, float, Layout, tuple[Thread, ...]] = (None, 0.0, lay_out(Puppet(), 100), ())
        self._press: QPointF | None = None
        self._held: tuple[str, str] | None = None
        self._at = QPointF()
        self._dragging = False
        self._clip_over: str | None = None
        self._linking: str | None = None
        self._hover: str | None = None
        document.puppet_changed.connect(self.relayout)
        document.selection_changed.connect(self.update)
        player.moved.connect(self.update)
        snags.changed.connect(self.update)
        self.relayout()

    # Layout -----------------------------------------------------------------------------------------------------

    def relayout(self) -> None:
        """Size the view for the puppet."""
        made = lay_out(self.document.puppet, 0)
        self.setMinimumSize(int(made.width), int(made.height))
        self.update()

    @property
    def layout_now(self) -> Layout:
        """Where everything stands."""
        return self._current()[0]

    def _current(self) -> tuple[Layout, tuple[Thread, ...]]:
        puppet, width = self.document.puppet, float(self.width())
        if self._made[0] is not puppet or self._made[1] != width:
            made = lay_out(puppet, width)
            self._made = (puppet, width, made, route(puppet, made))
        return self._made[2], self._made[3]

    # Drawing ----------------------------------------------------------------------------------------------------

    def draw(self, painter: QPainter) -> None:
        layout, threads = self._current()
        target = self._target_card()
        hints = Hints(
            over=self._drop_band() if self._dragging or self._clip_over else None,
            over_spare=self._clip_over is not None and layout.spare.holds(self._at.x(), self._at.y()),
            hover=self._hover,
            targets=frozenset(each for each in (target.state if target else None, self._linking) if each),
            inside=QRectF(self.visibleRegion().boundingRect()),
        )
        self.picture.draw(painter, layout, threads, hints)
        self._draw_drag(painter, layout, hints.over)
        self.draw_focus(painter)

    def _draw_drag(self, painter: QPainter, layout: Layout, over: Band | None) -> None:
        pulling = self._dragging and self._held is not None
        if pulling and (self._held[0] in ("pin", "group") or self._target_card() is not None):
            cards.draw_pull(painter, self._pull_from(layout), self._at)
        elif over is not None:
            place = layout.place_at(over, self._at.x())
            painter.setPen(theme.pen(theme.WOAD, 1.8, (3, 2)))
            painter.setBrush(theme.with_alpha(theme.WOAD, 26))
            painter.drawRoundedRect(QRectF(*layout.slot(over, place)), 8, 8)

    def _pull_from(self, layout: Layout) -> QPointF:
        kind, id = self._held or ("", "")
        band = layout.band_of(id) if kind == "group" else None
        if band is not None:
            return QPointF(band.box.x + SEAM_X, band.box.y + band.box.height / 2)
        card = layout.cards.get(id)
        if card is None:
            return self._press or QPointF()
        return QPointF(card.box.x + card.box.width / 2, card.box.y + card.box.height / 2)

    # What is under the mouse --------------------------------------------------------------------------------------

    def _target_card(self) -> Card | None:
        """The card a transition being pulled would lead to."""
        if not self._dragging or self._held is None:
            return None
        card = self.layout_now.card_at(self._at.x(), self._at.y())
        return None if card is None or (card.state == self._held[1] and self._held[0] == "state") else card

    def _drop_band(self) -> Band | None:
        """The band that a dragged card or clip would be put into."""
        if self._held is not None and self._held[0] in ("pin", "group"):
            return None
        if self.layout_now.card_at(self._at.x(), self._at.y()) and self._clip_over is None:
            return None
        return self.layout_now.band_at(self._at.x(), self._at.y())

    def _thread_at(self, x: float, y: float) -> Thread | None:
        near = [(distance_to(thread, x, y), thread) for thread in self._current()[1]]
        best = min(near, key=lambda pair: pair[0], default=None)
        return best[1] if best and best[0] < 7 else None

    def _under(self, x: float, y: float) -> tuple[str, str] | None:
        layout = self.layout_now
        for layer in self.document.puppet.layers:
            start = layout.cards.get(layer.start or "")
            if start and abs(x - start.box.x - 10) < 8 and abs(y - start.box.y + 6) < 9:
                return ("pin", start.state)
        card = layout.card_at(x, y)
        if card is not None:
            return ("state", card.state)
        thread = self._thread_at(x, y)
        if thread is not None:
            return ("transition", thread.transition)
        band = layout.band_at(x, y)
        return ("group", band.group) if band is not None and band.group is not None else None

    # Hands ------------------------------------------------------------------------------------------------------

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        self.setFocus()
        self._press = self._at = event.position()
        self._held = self._under(self._at.x(), self._at.y())
        self._dragging = False

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        self._at = event.position()
        if self._press is None:
            self._point_at()
            return
        if self._held is not None and self._held[0] != "transition" and distance(event, self._press) > 6:
            self._dragging = True
            self.setCursor(Qt.CursorShape.ClosedHandCursor)
        self.update()

    def _point_at(self) -> None:
        under = self._under(self._at.x(), self._at.y())
        hover = under[1] if under and under[0] == "transition" else None
        self.setCursor(Qt.CursorShape.PointingHandCursor if under else Qt.CursorShape.ArrowCursor)
        snags = self.snags.of(*under) if under else ()
        self.setToolTip("\n".join(snag.why for snag in snags))
        if hover != self._hover:
            self._hover = hover
            self.update()

    def leaveEvent(self, event: object) -> None:
        self._hover = None
        self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self._at = event.position()
        held, dragging, target, band = self._held, self._dragging, self._target_card(), None
        if dragging:
            band = self._drop_band()
        place = self.layout_now.place_at(band, self._at.x()) if band else 0
        self._press, self._held, self._dragging = None, None, False
        self.setCursor(Qt.CursorShape.ArrowCursor)
        if dragging and held is not None:
            self._drop(held, target, band, place)
        elif held is None:
            self.document.deselect()
        else:
            self.document.select("state" if held[0] == "pin" else held[0], held[1])
        self.update()

    def _drop(self, held: tuple[str, str], target: Card | None, band: Band | None, place: int) -> None:
        kind, id = held
        if target is not None and kind == "pin":
            self.document.edit("move the start", lambda now: edits.start_set(now, target.state))
        elif target is not None:
            self.add_transition(id, target.state)
        elif band is not None and kind == "state":
            self.document.edit("move card", lambda now: edits.state_placed(now, id, band.group, place))
            self.document.select("state", id)

    def add_transition(self, source: str, target: str) -> None:
        """A transition that is always open yet; its sentence asks for its condition."""
        puppet, id = edits.transition_added(self.document.puppet, source, target)
        self.document.edit("add transition", puppet)
        self.document.select("transition", id)

    # Clips from the shelf ---------------------------------------------------------------------------------------

    def clip_over(self, clip: str | None, at: QPointF) -> None:
        """A clip is dragged over the view; None when it has left."""
        self._clip_over, self._at = clip, at
        self.update()

    def clip_dropped(self, clip: str, at: QPointF) -> bool:
        """A clip is dropped: on a card it is what the state plays, in a band it becomes a state."""
        self._clip_over, self._at = None, at
        layout, puppet = self.layout_now, self.document.puppet
        card = layout.card_at(at.x(), at.y())
        found = puppet.clip(clip) or find(puppet.spreads, clip)
        band = layout.band_at(at.x(), at.y())
        self.update()
        if found is None or not self.rect().contains(at.toPoint()):
            return False
        if card is not None:
            self.document.edit("choose clip", lambda now: edits.state_playing(now, card.state, clip))
            self.document.select("state", card.state)
        elif band is not None:
            self.add_state(found, band.group, layout.place_at(band, at.x()))
        else:
            self.add_state(found, None, 0, new_band=True)
        return True

    def add_state(self, clip: Clip | Spread, group: str | None, place: int | None, new_band: bool = False) -> None:
        """A state that plays a clip or a spread, named like it."""
        puppet = self.document.puppet
        if new_band:
            puppet, group = edits.group_added(puppet, "Ground" if not puppet.groups else "Band")
        name = clip.name.replace("_", " ").strip().capitalize() or clip.name
        puppet, id = edits.state_added(puppet, name, clip.id, group, place)
        self.document.edit("add state", puppet)
        self.document.select("state", id)

    # Keys -------------------------------------------------------------------------------------------------------

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        moves = {
            Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, -1), Qt.Key.Key_Down: (0, 1),
        }
        kind, id = self.document.selection or ("", "")
        key = Qt.Key(event.key())
        if key in moves:
            self._step(*moves[key])
        elif key in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace) and id:
            self._remove(kind, id)
        elif key == Qt.Key.Key_T and kind == "state":
            self._linking = id
            self.update()
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self._linking and kind == "state":
            source, self._linking = self._linking, None
            self.add_transition(source, id)
        elif key == Qt.Key.Key_O and id:
            self._next_thread(id)
        elif key == Qt.Key.Key_Escape:
            self._linking = None
            self.document.deselect()
        else:
            super().keyPressEvent(event)

    def _step(self, across: int, down: int) -> None:
        """Select the nearest card in a direction."""
        layout = self.layout_now
        here = layout.cards.get(self.document.selection[1]) if self.document.selection else None
        if here is None:
            first = next(iter(layout.cards), None)
            if first is not None:
                self.document.select("state", first)
            return

        def far(card: Card) -> float:
            return abs(card.box.x - here.box.x) + abs(card.box.y - here.box.y) * 3

        ahead = [
            card for card in layout.cards.values()
            if (across and card.row == here.row and (card.box.x - here.box.x) * across > 0)
            or (down and (card.row - here.row) * down > 0)
        ]
        if ahead:
            self.document.select("state", min(ahead, key=far).state)

    def _next_thread(self, id: str) -> None:
        """Go through the transitions of the selected state or group."""
        puppet = self.document.puppet
        current = puppet.transition(id)
        source = current.source if current else id
        ids = [each.id for each in puppet.transitions_of(source)]
        if ids:
            place = (ids.index(id) + 1) % len(ids) if id in ids else 0
            self.document.select("transition", ids[place])

    def _remove(self, kind: str, id: str) -> None:
        remove = {
            "state": edits.state_removed, "group": edits.group_removed, "transition": edits.transition_removed,
        }.get(kind)
        if remove is not None:
            self.document.deselect()
            self.document.edit(f"remove {kind}", lambda now: remove(now, id))
