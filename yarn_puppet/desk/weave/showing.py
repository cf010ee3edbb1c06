"""What of the graph is on show, and how: the layer, the size, which bands are folded, how far
threads are grown."""

from __future__ import annotations

from typing import Literal

from PyQt6.QtCore import QObject, pyqtSignal

from ...core.model.puppet import Puppet
from ..session.document import Document
from .placing.sizes import SIZES, Size

Grown = Literal["tails", "near", "all"]
GROWN: tuple[Grown, ...] = ("tails", "near", "all")
"""Threads at rest as tails; grown out within their band; all grown out."""
Kind = Literal["cards", "crossings", "frame data"]
KINDS: tuple[Kind, ...] = ("cards", "crossings", "frame data")


class Showing(QObject):
    """How the page is looked at. It belongs to no puppet's file; another puppet begins it again."""

    changed = pyqtSignal()

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document = document
        self._layer = ""
        self.size: Size | None = None
        """The size that was chosen, None for the largest at which all of it is seen."""
        self.folded: frozenset[str] = frozenset()
        self.grown: Grown = "tails"
        self.kind: Kind = "cards"
        document.replaced.connect(self._start_again)

    def _start_again(self) -> None:
        self._layer, self.size, self.folded, self.grown = "", None, frozenset(), "tails"
        self.changed.emit()

    @property
    def layer(self) -> str:
        """The layer on show: the one chosen, or the lowest."""
        layers = self.document.puppet.layers
        known = any(layer.id == self._layer for layer in layers)
        return self._layer if known or not layers else layers[0].id

    def show_layer(self, layer: str) -> None:
        """Show another layer."""
        if layer != self._layer:
            self._layer = layer
            self.changed.emit()

    def show_node(self, kind: str, id: str) -> None:
        """Show the layer of a state, group or transition, with no band around it folded."""
        puppet = self.document.puppet
        transition = puppet.transition(id) if kind == "transition" else None
        node = puppet.node(transition.source if transition else id)
        if node is None:
            return
        around = {group.id for group in puppet.groups_around(node)}
        self._layer = node.layer
        self.folded -= around
        self.changed.emit()

    def fold(self, group: str) -> None:
        """Fold a band to one line, or open it."""
        self.folded ^= {group}
        self.changed.emit()

    def resize(self, by: int, current: Size) -> None:
        """A larger or smaller size than the one on show."""
        place = max(0, min(len(SIZES) - 1, SIZES.index(current) + by))
        self.size = SIZES[place]
        self.changed.emit()

    def fit(self) -> None:
        """The largest size at which all of it is seen."""
        self.size = None
        self.changed.emit()

    def grow(self, grown: Grown) -> None:
        """How far threads are grown out at rest."""
        self.grown = grown
        self.changed.emit()

    def show_kind(self, kind: Kind) -> None:
        """Cards, crossings or frame data."""
        if kind != self.kind:
            self.kind = kind
            self.changed.emit()


class Index:
    """The entries of a puppet by id: a view looks many of them up each time it draws."""

    def __init__(self, puppet: Puppet) -> None:
        self.puppet = puppet
        self.states = {state.id: state for state in puppet.states}
        self.groups = {group.id: group for group in puppet.groups}
        self.clips = {clip.id: clip for clip in puppet.clips}
        self.spreads = {spread.id: spread for spread in puppet.spreads}
        self.transitions = {transition.id: transition for transition in puppet.transitions}

    def outermost(self, node: str) -> str | None:
        """The band that a state or group is in, or None."""
        found: str | None = None
        at: str | None = (
            node if node in self.groups else getattr(self.states.get(node), "group", None)
        )
        seen = set()
        while at is not None and at in self.groups and at not in seen:
            seen.add(at)
            found, at = at, self.groups[at].group
        return found

    def clips_of(self, state: str) -> list[str]:
        """The ids of the clips a state may play, the first standing for all."""
        found = self.states.get(state)
        if found is None:
            return []
        spread = self.spreads.get(found.spread or "")
        ids = [clip.clip for clip in spread.clips] if spread else [found.clip or ""]
        return [id for id in ids if id in self.clips]
