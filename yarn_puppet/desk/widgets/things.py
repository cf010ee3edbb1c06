"""What is drawn in a view, told to screen readers: a list of things by name, each where it is
drawn.

Qt tells a reader of widgets and of the items of lists; what is drawn is neither. So over each view
lies a list of Qt's own that is not seen, that no mouse or key reaches, and whose items are the
things of the view as they are when a reader asks.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import NamedTuple

from PyQt6.QtCore import QAbstractListModel, QItemSelection, QModelIndex, QRect, QRectF, Qt
from PyQt6.QtGui import QPaintEvent, QResizeEvent
from PyQt6.QtWidgets import QFrame, QListView, QWidget

from .certain import sure


class Thing(NamedTuple):
    """Something drawn: what it is called, what is said of it, where it is in the view, whether it
    is selected, and selecting it."""

    name: str
    said: str
    rect: QRectF
    selected: bool = False
    choose: Callable[[], object] | None = None


class _Model(QAbstractListModel):
    def __init__(self, view: QWidget, gather: Callable[[], Sequence[Thing]]) -> None:
        super().__init__(view)
        self.gather = gather
        self.is_stale = True
        self.is_silent = False
        """While the list is put over its view Qt counts its items, which nobody has asked for."""
        self._things: Sequence[Thing] = ()

    def things(self) -> Sequence[Thing]:
        """The things of the view, gathered once as long as it is not painted again."""
        if self.is_stale:
            self.is_stale, self._things = False, self.gather()
        return self._things

    def rowCount(self, parent: QModelIndex | None = None) -> int:
        if self.is_silent or (parent is not None and parent.isValid()):
            return 0
        return len(self.things())

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        thing = self.at(index)
        if thing is None:
            return None
        if role in (Qt.ItemDataRole.AccessibleTextRole, Qt.ItemDataRole.DisplayRole):
            return thing.name
        return thing.said if role == Qt.ItemDataRole.AccessibleDescriptionRole else None

    def at(self, index: QModelIndex) -> Thing | None:
        """The thing of a row, None where there is none any more."""
        things = self.things()
        return things[index.row()] if 0 <= index.row() < len(things) else None


class ThingList(QListView):
    """Lies over a view."""

    def __init__(self, view: QWidget, gather: Callable[[], Sequence[Thing]]) -> None:
        """`gather` gives the things of the view as they are."""
        super().__init__(view)
        self.setAccessibleName(view.accessibleName())
        self.setObjectName("things")
        self.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        self.setAttribute(Qt.WidgetAttribute.WA_NoSystemBackground)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        sure(self.viewport()).setAutoFillBackground(False)
        sure(self.viewport()).setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        self.items = _Model(view, gather)
        self.items.is_silent = True
        self.setModel(self.items)

    def visualRect(self, index: QModelIndex) -> QRect:
        thing = self.items.at(index)
        return thing.rect.toAlignedRect() if thing is not None else QRect()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Items lie where the view draws them: nothing is laid out, and nobody asked how many there
        are."""

    def doItemsLayout(self) -> None:
        """As when it is resized."""

    def updateGeometries(self) -> None:
        """As when it is resized."""

    def isIndexHidden(self, index: QModelIndex) -> bool:
        return False

    def selectionChanged(self, selected: QItemSelection, deselected: QItemSelection) -> None:
        # By a reader only: nothing else reaches it.
        for index in selected.indexes():
            thing = self.items.at(index)
            if thing is not None and thing.choose is not None:
                thing.choose()
        super().selectionChanged(selected, deselected)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Nothing is to be seen of it."""

    def may_be_others(self) -> None:
        """The view is painted again: what is in it may be others."""
        self.items.is_stale = True

    def lie_over(self, view: QWidget) -> None:
        """As large as the view, and shown."""
        self.items.is_silent = True
        self.setGeometry(view.rect())
        self.show()
        self.items.is_silent = False
