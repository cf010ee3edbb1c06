"""The ground of the weave: where everything stands now, and what both hands, mouse and keyboard, do
to it."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, pyqtSignal
from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QWidget

from ...core.model.edits import graph as edits
from ...core.model.edits.anywhere import from_anywhere
from ..pictures.art import Art
from ..session.document import Document
from ..session.run.player import Player
from ..session.snag_list import SnagList
from ..widgets.view import DrawnView
from .drawing.highlight import Hints
from .drawing.picture import WeavePicture
from .placing.layout import Layout, lay_out
from .showing import Showing


class _Same:
    """Equal only to what is the same object."""

    def __init__(self, it: object) -> None:
        self.it = it

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Same) and other.it is self.it

    def __hash__(self) -> int:
        return id(self.it)


class WeaveGround(DrawnView):
    """Lays out, and knows what it stands on; nothing here is pressed or drawn."""

    laid_out = pyqtSignal()
    message = pyqtSignal(str)
    """What was done, in words, where it cannot all be seen."""
    wanted = pyqtSignal(str)
    """A state whose card should be seen."""

    def __init__(
        self,
        document: Document,
        player: Player,
        art: Art,
        snags: SnagList,
        showing: Showing | None = None,
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self.document, self.snags = document, snags
        self.showing = showing or Showing(document)
        self.picture = WeavePicture(document, player, art, snags)
        self._made: tuple[tuple[object, ...], Layout] | None = None
        self._ordered: tuple[tuple[_Same, _Same], _Same] | None = None
        self._room = 400.0
        self.at = QPointF()
        """Where the mouse is."""
        self.linking: str | None = None
        """Where a transition that is being made by keyboard begins."""
        document.puppet_changed.connect(self._may_be_another)
        self.showing.changed.connect(self._may_be_another)

    def hints(self, layout: Layout) -> Hints:
        """What the hands are doing, for the picture."""
        return Hints(inside=QRectF(self.visibleRegion().boundingRect()), grown=self.showing.grown)

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

    def _may_be_another(self) -> None:
        # A page that nobody sees is laid out when it is shown.
        if self.isVisible():
            self.relayout()

    def showEvent(self, event: QShowEvent | None) -> None:
        self.relayout()

    def resizeEvent(self, event: object) -> None:
        self.relayout()

    @property
    def layout_now(self) -> Layout:
        """Where everything stands."""
        showing, puppet = self.showing, self.document.puppet
        key = (self._order, float(self.width()), self._room, showing.size, showing.layer,
               showing.folded)
        if self._made is None or self._made[0] != key:
            made = lay_out(puppet, float(self.width()), self._room, showing.size, showing.layer,
                           showing.folded)
            self._made = (key, made)
        return self._made[1]

    @property
    def _order(self) -> object:
        """All of the puppet that says where cards stand. Most edits leave it as it was, and so all
        cards."""
        puppet = self.document.puppet
        key = (_Same(puppet.states), _Same(puppet.groups))
        if self._ordered is None or self._ordered[0] != key:
            order = (tuple([(state.id, state.layer, state.group, state.place)
                            for state in puppet.states]),
                     tuple([(group.id, group.layer, group.group, group.anywhere)
                            for group in puppet.groups]))
            same = self._ordered is not None and self._ordered[1].it == order
            self._ordered = (key, self._ordered[1] if same and self._ordered else _Same(order))
        return self._ordered[1]

    def show_card(self, state: str) -> None:
        """Ask for a card to be scrolled to."""
        self.wanted.emit(state)

    def add_from_anywhere(self, layer: str, target: str) -> None:
        """A transition from anywhere in a layer, always open yet."""
        puppet, id = from_anywhere(self.document.puppet, layer, target)
        self.document.edit("add transition from anywhere", puppet)
        self.document.select("transition", id)

    def add_transition(self, source: str, target: str) -> None:
        """A transition that is always open yet; its sentence asks for its condition."""
        puppet, id = edits.transition_added(self.document.puppet, source, target)
        self.document.edit("add transition", puppet)
        self.document.select("transition", id)
