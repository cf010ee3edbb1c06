"""The conditions of a puppet, each text read once."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, NamedTuple

from ...rules.bind import NEVER, Key, Tree, bind, conjuncts_of, leaves
from ...rules.parse import parse
from ...rules.phrase import phrase
from ...rules.scope import ConditionError, Near, Scope, scope_by_id
from ...rules.tree import Query, Type, conjuncts, reads
from ..program import ProgramCondition, ProgramTerm

if TYPE_CHECKING:
    from ...model.puppet import Puppet

QueryKey = tuple[str, str]
"""("window" or "in_state", the window's name or the node's id)."""


class Known(NamedTuple):
    """A text that was read: the condition, or what is wrong with it; and the windows and nodes it
    asks for. `lost` are the windows among them that no clip has: they are never open."""

    condition: ProgramCondition
    error: str | None
    asks: frozenset[QueryKey]
    lost: tuple[str, ...] = ()
    near: Near | None = None
    """A name that is not known, where that is the error."""

    @property
    def trouble(self) -> str | None:
        """What is wrong with it, or with what it asks for; None where nothing is."""
        if self.error is not None or not self.lost:
            return self.error
        return f"no clip has a window {self.lost[0]}, so that it is never open"


class Conditions:
    """Reads texts in the scope of one puppet.

    `places` gives the place of every intent, sense and memo by kind and id. What was `known` before
    is taken over where nothing it asks for is among what `changed`; the conditions that were not
    are `dropped`, by identity. With `same_names` all that can be named is as it was.
    """

    def __init__(
        self,
        puppet: Puppet,
        places: dict[Key, int],
        known: dict[tuple[str, Type], Known],
        changed: frozenset[QueryKey],
        same_names: bool = False,
    ) -> None:
        self.puppet = puppet
        self.places = places
        # What could not be read before may be readable now, where there are other names.
        self.known = dict(known) if same_names else {
            key: each for key, each in known.items()
            if each.error is None and each.asks.isdisjoint(changed)
        }
        self.dropped = frozenset([id(each.condition)
                                  for key, each in known.items() if key not in self.known])
        self._scope: Scope | None = None
        self._node_names: dict[str, str] = {}

    def read(self, text: str, expected: Type = "bool") -> Known:
        """The condition of a text; one that cannot be read never holds, and has an error."""
        key = (text, expected)
        known = self.known.get(key)
        if known is None:
            known = self.known[key] = self._read(text, expected)
        return known

    def _read(self, text: str, expected: Type) -> Known:
        if self._scope is None:
            self._scope = scope_by_id(self.puppet)
            self._node_names = {node.id: node.name for node in self.puppet.nodes}
        try:
            node = parse(text, self._scope, expected)
        except ConditionError as error:
            never = ProgramCondition(NEVER, (ProgramTerm(text, NEVER, ()),))
            return Known(never, error.words, frozenset(), near=error.near)
        tree = bind(node, self.places)
        terms = tuple([
            ProgramTerm(phrase(part, self._node_names), bound, reads_of(bound))
            for part, bound in zip(conjuncts(node), conjuncts_of(tree), strict=True)
        ])
        asks = frozenset([(part.function, part.argument)
                          for part in reads(node) if isinstance(part, Query)])
        lost = tuple(sorted([name
                             for kind, name in asks if kind == "window"
                             and name not in self._scope.windows]))
        return Known(ProgramCondition(tree, terms), None, asks, lost)


def reads_of(tree: Tree) -> tuple[tuple[str, Any], ...]:
    """What a tree reads: (kind, place), for a window its name."""
    return tuple([(leaf.operator, leaf.value) for leaf in leaves(tree)])
