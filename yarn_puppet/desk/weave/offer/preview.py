"""The weave that would come of it, in place: to be looked at and selected in, and not to be
changed."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QMouseEvent, QPainter

from ....core.model.puppet import find
from ...pictures.art import Art
from ...session.run.player import Player
from ...session.snag_list import SnagList
from ...widgets import theme
from ...widgets.key_table import KeyLine
from ...widgets.things import Thing
from ..aiming import Aiming
from ..drawing.cards import draw_guess
from ..drawing.highlight import Hints
from ..keys import ARROWS, WeaveKeys
from ..things import things_of
from .offer import Offer


class PreviewView(Aiming):
    """A click selects a card; a clip dropped on one is its clip."""

    def __init__(self, offer: Offer, art: Art) -> None:
        self.offer = offer
        player = Player(offer.preview.puppet, None, None)
        self.player = player
        """Runs what is offered, for the trace."""
        super().__init__(offer.preview, player, art, SnagList(offer.preview, player), None, None)
        self.keys = WeaveKeys(self)
        self.held: str | None = None
        self.setAccessibleName("What would be wired")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        offer.preview.selection_changed.connect(self.update)
        offer.changed.connect(self.update)

    def draw(self, painter: QPainter) -> None:
        layout = self.layout_now
        target = layout.card_at(self.at.x(), self.at.y()) if self.held else None
        self.picture.draw(painter, layout, Hints(
            inside=QRectF(self.visibleRegion().boundingRect()), grown=self.showing.grown,
            targets=frozenset({target.state} if target else ()), spare_words=(
                "Drop art here: strips, sheets, folders of pictures" if self.offer.is_new else "")))
        for id, given in self.offer.wired.cards.items():
            card = layout.cards.get(id)
            clip = find(self.document.puppet.clips, given.clip)
            guessed = clip is not None and any(window.guess for window in clip.windows)
            if card is not None and (given.guess or guessed):
                draw_guess(painter, QRectF(*card.box), whole=given.guess)
        if self.hasFocus():
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(theme.pen(theme.INDIGO, 1.6))
            painter.drawRoundedRect(QRectF(self.visibleRegion().boundingRect()).adjusted(
                1.5, 1.5, -1.5, -1.5), 10, 10)

    # Hands ----------------------------------------------------------------------------------------

    def over(self, clip: str | None, at: QPointF) -> None:
        """A clip is dragged over it; None when it has left."""
        self.held, self.at = clip, at
        self.update()

    def dropped(self, clip: str, at: QPointF) -> bool:
        """A clip is dropped: it is that of the card there. False where none is offered there."""
        self.held = None
        card = self.layout_now.card_at(at.x(), at.y())
        state = self.document.puppet.state(card.state) if card is not None else None
        if state is not None and state.waits_for and any(
                each.id == clip for each in self.offer.unused):
            self.offer.give(state.name, clip)
        self.update()
        return state is not None

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        self.setFocus()
        kind, id = self.under(event.position().x(), event.position().y())
        if kind in ("state", "group", "transition") and id:
            self.document.select(kind, id)
        else:
            self.document.deselect()

    def key_lines(self) -> tuple[KeyLine, ...]:
        return (
            KeyLine(tuple(ARROWS), "to the nearest card that way",
                    lambda key: self.keys.step(*ARROWS[key], also=False)),
            KeyLine(("Return",), "take it", lambda key: self.offer.take(),
                    lambda: bool(self.offer.chosen)),
            KeyLine(("Esc",), "not now", lambda key: self.offer.leave()),
        )

    def things(self) -> list[Thing]:
        return list(things_of(self))
