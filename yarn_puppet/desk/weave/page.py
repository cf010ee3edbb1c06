"""The Weave page: the sentence of what is selected, the strip, the weave itself, and the shelf of
clips."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QMimeData, QPoint, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QDragEnterEvent, QDropEvent, QKeySequence, QPainter, QShortcut
from PyQt6.QtWidgets import QStackedWidget, QVBoxLayout, QWidget

from ..pictures.art import Art
from ..session.document import Document
from ..session.run.player import Player
from ..session.snag_list import SnagList
from ..widgets import theme
from ..widgets.caption import Caption
from ..widgets.certain import sure
from ..widgets.painting import painting
from ..widgets.panel import Column, scrolling
from ..widgets.parts import Part
from ..widgets.sentence import Sentence, lines_high
from .offer.before_wired import BeforeWired
from .offer.offer import Offer
from .offer.preview import PreviewView
from .offer.sentence import offer_sentence
from .sentences.selected import sentence_for
from .shelf import ClipShelf
from .showing import Showing
from .strip import WeaveStrip
from .tables.crossings import CrossingsView
from .tables.frame_data import FrameDataView
from .view import WeaveView

WIDE = 1000
"""Pixels of the page from which two lines do for most sentences."""


class WeavePage(QWidget):
    """Puts them together."""

    art_dropped = pyqtSignal(QMimeData)
    """Files, or a picture, were dropped here: they are to be brought in."""

    def __init__(
        self,
        document: Document,
        player: Player,
        art: Art,
        snags: SnagList,
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self.document, self.player = document, player
        self.sentence = Sentence()
        self.showing = Showing(document)
        self.bones = art.bones
        self.strip = WeaveStrip(document, player, self.showing, art.bones)
        self.view = WeaveView(document, player, art, snags, self.showing)
        self.crossings = CrossingsView(document, self.showing, player)
        self.frame_data = FrameDataView(document, player, self.showing)
        self.shelf = ClipShelf(document, art)
        self.offer = Offer(document, art, self)
        self.came_in: Callable[[], list[Part]] = list
        """Says what strips that were dropped became, to be put right here."""
        self.came_in_sentence = Sentence()
        self.came_in_sentence.hide()
        self.preview = PreviewView(self.offer, art)
        self.before = BeforeWired(self.offer)
        self.before.hide()
        self.note = Caption(color=theme.QUIET)
        self.note.setTextFormat(Qt.TextFormat.PlainText)
        self.note.setWordWrap(True)
        self.note.hide()
        self.sentence.fallback = self.view
        self.said = scrolling(Column(self.note, self.sentence))
        self.scrolls = {"cards": scrolling(self.view), "crossings": scrolling(self.crossings),
                        "frame data": scrolling(self.frame_data),
                        "offer": scrolling(self.preview)}
        self.scroller = self.scrolls["cards"]
        self.stack = QStackedWidget()
        for scroll in self.scrolls.values():
            self.stack.addWidget(scroll)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(8, 8, 8, 2)
        layout.setSpacing(5)
        for part in (self.came_in_sentence, self.said, self.strip):
            layout.addWidget(part)
        layout.addWidget(self.stack, 1)
        layout.addWidget(self.before)
        layout.addWidget(self.shelf)
        self.shelf.dragged.connect(self._dragged)
        self.shelf.wire_wanted.connect(self.offer.ask)
        self.offer.changed.connect(self._offer_changed)
        self.offer.preview.selection_changed.connect(self.refresh)
        self.preview.wanted.connect(self.see_card)
        self.shelf.dropped.connect(self._dropped)
        self.shelf.entered.connect(self._entered)
        self.strip.node_found.connect(self.go_to)
        self.strip.layer_chosen.connect(lambda id: document.select("layer", id))
        self.strip.layer_pulled.connect(self._pulled)
        self.strip.layer_let_go.connect(self._let_go)
        self.crossings.chosen.connect(self.go_to)
        self.frame_data.chosen.connect(lambda id: self.go_to("state", id))
        self.view.wanted.connect(self.see_card)
        self.view.message.connect(self.say)
        document.message.connect(self._say_kept)
        self.showing.changed.connect(self._show_kind)
        document.puppet_changed.connect(self._puppet_changed)
        player.seen.connect(self.sentence.show_now)
        document.selection_changed.connect(self._selected)
        self.setAcceptDrops(True)
        find = QShortcut(QKeySequence.StandardKey.Find, self)
        find.activated.connect(self.strip.open_find)
        self.refresh()

    def refresh(self) -> None:
        """Show the sentence of what is selected, or of what is offered."""
        # Of a page that nobody sees nothing is offered yet.
        seen = self.isVisible()
        came_in = self.came_in() if seen else []
        self.came_in_sentence.show_parts(came_in)
        self.came_in_sentence.setVisible(bool(came_in))
        if seen:
            self.shelf.can_wire = self.offer.possible and not self.offer.open
        if seen and self.offer.open:
            self.sentence.show_parts(offer_sentence(self.offer))
            return
        self.sentence.show_parts(sentence_for(self.document, self.showing, self.player, self.bones))

    def _selected(self) -> None:
        self.note.hide()
        self.refresh()

    def say(self, text: str) -> None:
        """Something that was done, in words, until something else is selected."""
        self.note.setText(text)
        self.note.setVisible(bool(text))

    def _puppet_changed(self) -> None:
        if self.isVisible() and self.offer.open:
            self.offer.refresh()
        else:
            self.refresh()

    def _offer_changed(self) -> None:
        """What is offered is another, or nothing is any more."""
        self.before.setVisible(self.offer.open and bool(self.before.shown))
        self._show_kind()
        self.refresh()
        self._measure()

    def _say_kept(self, text: str) -> None:
        # It may be a pattern that was kept.
        self.offer.forget_patterns()
        self.say(text)

    def _show_kind(self) -> None:
        offered = self.offer.open
        self.stack.setCurrentWidget(self.scrolls["offer" if offered else self.showing.kind])
        self.shelf.setVisible(offered or self.showing.kind == "cards")
        self.strip.setVisible(not offered)
        self.sentence.fallback = self.preview if offered else self.view

    def go_to(self, kind: str, id: str) -> None:
        """Select a state, band or transition, and see it."""
        if kind == "layer":
            self.showing.show_layer(id)
        else:
            self.showing.show_node(kind, id)
        self.document.select(kind, id)
        transition = self.document.puppet.transition(id) if kind == "transition" else None
        self.see_card(transition.source if transition else id)

    def see_card(self, node: str) -> None:
        """Scroll so far that a card or band is seen."""
        view = self.preview if self.offer.open else self.view
        shown = view.picture.ends(view.layout_now).shown(node)
        if shown is not None:
            box = shown.box
            scroller = self.scrolls["offer"] if self.offer.open else self.scroller
            scroller.ensureVisible(int(box.middle), int(box.y + min(box.height, 80) / 2), 60,
                                        60)

    def resizeEvent(self, event: object) -> None:
        # As high for whatever is selected: what is clicked below must not move under the mouse.
        self.said.setFixedHeight(lines_high(2 if self.width() >= WIDE else 3))
        self._measure()

    def showEvent(self, event: object) -> None:
        if self.offer.open:
            self.offer.refresh()
        elif self.stack.currentWidget() is self.scrolls["offer"]:
            self._offer_changed()
        else:
            self.refresh()
        self._measure()

    def _measure(self) -> None:
        sure(self.layout()).activate()
        self.view.set_room(float(sure(self.scroller.viewport()).height()))
        self.preview.set_room(float(sure(self.scrolls["offer"].viewport()).height()))

    def _from_global(self, at: QPoint) -> QPointF:
        return QPointF(self.view.mapFromGlobal(at))

    def _dragged(self, clip: str, at: QPoint) -> None:
        if self.offer.open:
            self.preview.over(clip, QPointF(self.preview.mapFromGlobal(at)))
        else:
            self.view.drops.over(clip, self._from_global(at))

    def _pulled(self, layer: str, start: QPoint, at: QPoint) -> None:
        # The thread hangs on the upper edge of what is seen, under the pill.
        edge = self.view.visibleRegion().boundingRect().top()
        self.view.pull_from(layer, QPointF(self._from_global(start).x(), edge),
                            self._from_global(at))

    def _let_go(self, at: QPoint) -> None:
        seen = sure(self.scroller.viewport())
        self.view.let_go_of_pull(self._from_global(at),
                                 seen.rect().contains(seen.mapFromGlobal(at)))

    def _dropped(self, clip: str, at: QPoint) -> None:
        if self.offer.open:
            if self.preview.dropped(clip, QPointF(self.preview.mapFromGlobal(at))):
                return
            # Who drops a clip beside the cards that are offered builds by hand.
            self.offer.leave()
        seen = sure(self.scroller.viewport())
        if not seen.rect().contains(seen.mapFromGlobal(at)):
            self.view.drops.over(None, self._from_global(at))
            return
        self.view.drops.dropped(clip, self._from_global(at))

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        assert event is not None
        data = sure(event.mimeData())
        if data.hasUrls() or data.hasImage():
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        assert event is not None
        event.acceptProposedAction()
        self.art_dropped.emit(event.mimeData())

    def _entered(self, id: str) -> None:
        """Enter on a chip: a state in the band of what is selected, or in the first band."""
        puppet, layer = self.document.puppet, self.showing.layer
        clip = next((each for each in self.shelf.shelf if each.id == id), None)
        kind, id_selected = self.document.selection or ("", "")
        node = puppet.node(id_selected) if kind in ("state", "group") else None
        if node is not None and node.layer != layer:
            node = None
        group = (
            node.id if node is not None and puppet.group(node.id) else node.group if node else None
        )
        bands = [each.id for each in puppet.groups if each.layer == layer]
        if group is None and bands:
            group = bands[0]
        if clip is not None:
            self.view.drops.add_state(clip, group, None, new_band=group is None)

    def paintEvent(self, event: object) -> None:
        with painting(self) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            theme.draw_card(painter, QRectF(self.rect()).adjusted(1, 1, -1, -1), 10)
