"""Which state leads where, as the table of crossings shows it: worked out again after an edit, a
row when it is first looked at."""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

from ....core.engine.compiling.puppets import compile_puppet
from ....core.engine.program import Program
from ....core.model.graph import Transition
from ....core.model.puppet import Puppet
from ....core.snags.crossings import Crossings
from ..placing.layout import lay_out
from ..placing.sizes import DOTS
from ..showing import Index

PAGE = 900
"""The width, in pixels, of the page whose order of states the table has."""


class Way(NamedTuple):
    """A transition as one state meets it: its place among all that it can take, its owner, and the
    states that it may end in."""

    order: int
    transition: Transition
    owner: str
    ends: tuple[str, ...]


class _Ordered(NamedTuple):
    """The states of a layer in their order, the puppet they are of, and what their order comes
    of."""

    puppet: Puppet
    layer: str
    order: object
    states: list[str]


class Ways:
    """The ways of the puppet that it was last asked about. `compiled` gives it compiled, where
    somebody has done that already."""

    def __init__(
        self, puppet: Puppet, compiled: Callable[[Puppet], Program | None] = lambda puppet: None
    ) -> None:
        self._compiled = compiled
        self.index = Index(puppet)
        self._puppet: Puppet | None = None
        self._crossings: Crossings | None = None
        self._transitions: dict[str, Transition] = {}
        self._rows: dict[str, dict[str, list[Way]]] = {}
        self._ordered: _Ordered | None = None

    def follow(self, puppet: Puppet) -> Crossings:
        """The crossings of this puppet from now on."""
        if self._crossings is None or self._puppet is not puppet:
            self._puppet = puppet
            self.index = Index(puppet)
            self._crossings = Crossings(self._compiled(puppet) or compile_puppet(
                puppet, self._crossings.program if self._crossings else None))
            self._transitions = {transition.id: transition for transition in puppet.transitions}
            self._rows = {}
        return self._crossings

    def states(self, puppet: Puppet, layer: str) -> list[str]:
        """The states of a layer, band by band."""
        before = self._ordered
        if before is None or before.puppet is not puppet or before.layer != layer:
            # All that says where they stand: most edits leave it as it was.
            order = ([(state.id, state.layer, state.group, state.place) for state in puppet.states],
                     [(group.id, group.layer, group.group, group.anywhere)
                      for group in puppet.groups])
            # In the order of the page: band by band, a group inside one together.
            states = (
                before.states
                if before is not None and (before.layer, before.order) == (layer, order)
                else list(lay_out(puppet, PAGE, float("inf"), DOTS, layer).cards)
            )
            self._ordered = before = _Ordered(puppet, layer, order, states)
        return before.states

    def row(self, puppet: Puppet, state: str) -> dict[str, list[Way]]:
        """The ways from a state, by the state that they end in."""
        self.follow(puppet)
        found = self._rows.get(state)
        if found is None:
            found = self._rows[state] = {}
            for way in self.of(puppet, state):
                for end in way.ends:
                    found.setdefault(end, []).append(way)
        return found

    def of(self, puppet: Puppet, state: str) -> list[Way]:
        """Every transition that a state can take, in the order of trying, with its owner."""
        return [Way(number, self._transitions[way.transition], way.owner, way.ends)
                for number, way in enumerate(self.follow(puppet).ways(state), 1)]
