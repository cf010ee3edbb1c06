"""Compiles the transitions of a puppet, and which of them each node owns."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from .program import NOWHERE, TICK, Exits, Problem, ProgramCondition, ProgramTransition

if TYPE_CHECKING:
    from ..model.graph import Transition
    from ..model.puppet import Puppet
    from .conditions import Conditions
    from .nodes import Nodes

NO_EXITS = Exits()
new: Callable[..., Any] = tuple.__new__
KeptTransitions = dict[int, tuple[Any, ProgramTransition]]
"""By the identity of the model's transition, which is kept with it: what was compiled without a problem."""


class Transitions:
    """What can be taken of a puppet's transitions; the rest is told as problems.

    `known` are those of an earlier compiling, none of which need be looked at again but those that touch a node which
    `moved`, or whose condition was read anew. `all_stand`: none did, no place is another, and no condition was.
    """

    def __init__(
        self, puppet: Puppet, nodes: Nodes, conditions: Conditions, windows: frozenset[str], known: KeptTransitions,
        moved: frozenset[str], all_stand: bool,
    ) -> None:
        self.puppet = puppet
        self.nodes = nodes
        self.conditions = conditions
        self.windows = windows
        self.problems: list[Problem] = []
        self.made: list[ProgramTransition] = []
        self.kept: KeptTransitions = {}
        made: ProgramTransition | None
        for each in puppet.transitions:
            old = known.get(id(each))
            if old is not None and old[0] is each:
                made = old[1] if all_stand else self._again(each, old[1], moved)
                if made is not None:
                    self.made.append(made)
                    self.kept[id(each)] = old if made is old[1] else (each, made)
                    continue
            before = len(self.problems)
            made = self._compiled(each)
            if made is not None:
                self.made.append(made)
                if len(self.problems) == before:
                    self.kept[id(each)] = (each, made)

    def _again(
        self, each: Transition, made: ProgramTransition, moved: frozenset[str]
    ) -> ProgramTransition | None:
        """What the transition was compiled to before, at its nodes' new places; None where it must be looked at."""
        if each.source in moved or each.target in moved or (
            made.condition is not None and self.conditions.is_another(each.when, made.condition)
        ) or (made.leave == "in a window" and made.window not in self.windows):
            return None
        source, target = self.nodes.refs[each.source], self.nodes.refs[each.target]
        if source == made.source and target == made.target:
            return made
        placed: ProgramTransition = new(ProgramTransition, (made.id, source, target, *made[3:]))
        return placed

    def exits(self) -> dict[int, Exits]:
        """By node the exits it owns."""
        overriding: dict[int, list[ProgramTransition]] = {}
        plain: dict[int, list[ProgramTransition]] = {}
        for each in self.made:
            owned = overriding if each.overrides else plain
            if each.source in owned:
                owned[each.source].append(each)
            else:
                owned[each.source] = [each]
        nothing: list[ProgramTransition] = []
        return {
            node: Exits(tuple(overriding.get(node, nothing)), tuple(plain.get(node, nothing)))
            for node in (*plain, *(node for node in overriding if node not in plain))
        }

    def _problem(self, each: Transition, text: str) -> None:
        self.problems.append(Problem(("transition", each.id), text))

    def _compiled(self, each: Transition) -> ProgramTransition | None:
        refs = self.nodes.refs
        source, target = refs.get(each.source, NOWHERE), refs.get(each.target, NOWHERE)
        if source == NOWHERE or target == NOWHERE:
            self._problem(each, f"{each.source if source == NOWHERE else each.target} does not exist")
            return None
        if not self._usable(each, source, target):
            return None
        condition: ProgramCondition | None = None
        if each.when and not each.when.isspace():
            read = self.conditions.read(each.when)
            condition = read.condition
            if read.error is not None:
                self._problem(each, f"“{each.when}” cannot be used: {read.error}")
        if each.leave.kind == "in a window" and each.leave.window not in self.windows:
            self._problem(each, f"no window is named {each.leave.window or 'yet'}")
        rate, groups = self.puppet.rate, self.puppet.groups
        return ProgramTransition(
            each.id, source, target, condition, each.leave.kind, round(each.leave.seconds * rate * TICK),
            each.leave.window, (each.target, *[groups[place].id for place in self.nodes.around(target)]),
            each.overrides, each.reenters, each.blend.kind, each.blend.seconds * rate, each.blend.easing,
        )

    def _usable(self, each: Transition, source: int, target: int) -> bool:
        nodes = self.nodes
        if nodes.layer(source) != nodes.layer(target):
            self._problem(each, "it leads from one layer into another")
        elif nodes.layer(target) < 0:
            self._problem(each, "its layer does not exist")
        elif not nodes.can_be_entered(target):
            self._problem(each, f"the group {nodes.groups[~target].name} holds no state")
        else:
            return True
        return False
