"""Compiles the transitions of a puppet, and which of them each node owns."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable
from itertools import zip_longest
from typing import TYPE_CHECKING, Any, NamedTuple

from ..program import Exits, Problem, ProgramBlend, ProgramCondition, ProgramTransition
from ..program_clips import NOWHERE, TICK

if TYPE_CHECKING:
    from ...model.graph import Transition
    from ...model.puppet import Puppet
    from ...rules.scope import Near
    from .conditions import Conditions
    from .nodes import Nodes

NO_EXITS = Exits()
new: Callable[..., Any] = tuple.__new__


class KeptTransitions(NamedTuple):
    """The transitions of a puppet, each with what it was compiled to where that gave no problem;
    and the exits."""

    entries: tuple[Any, ...] = ()
    clean: tuple[ProgramTransition | None, ...] = ()
    exits: dict[int, Exits] | None = None


class Transitions:
    """What can be taken of a puppet's transitions; the rest is told as problems.

    `known` are those of an earlier compiling, none of which need be looked at again but where it
    touches a node which `moved`, or its condition was read again. `all_stand`: none did, and no
    condition was. `places` has the new place of each node by its old one, where one is another.
    """

    def __init__(
        self,
        puppet: Puppet,
        nodes: Nodes,
        conditions: Conditions,
        windows: frozenset[str],
        known: KeptTransitions,
        moved: frozenset[str],
        all_stand: bool,
        places: dict[int, int] | None = None,
    ) -> None:
        self.puppet = puppet
        self.places = places
        self.nodes = nodes
        self.conditions = conditions
        self.windows = windows
        self.moved = moved
        self.all_stand = all_stand
        self.problems: list[Problem] = []
        self.made: list[ProgramTransition] = []
        self.clean: list[ProgramTransition | None] = []
        entries, old = puppet.transitions, known.entries
        first, most = 0, min(len(entries), len(old))
        while first < most and entries[first] is old[first]:
            first += 1
        last = 0
        while last < most - first and entries[-1 - last] is old[-1 - last]:
            last += 1
        self._go_on(entries[:first], known.clean[:first])
        between = slice(first, len(old) - last)
        clean = {id(each): made for each, made in zip(
            old[between], known.clean[between], strict=True)}
        middle = entries[first:len(entries) - last]
        self._go_on(middle, tuple([clean.get(id(each)) for each in middle]))
        self._go_on(entries[len(entries) - last:], known.clean[len(old) - last:])
        self.exits = self._exits(known, first, last)
        self.kept = KeptTransitions(entries, tuple(self.clean), self.exits)

    def _go_on(
        self, entries: tuple[Transition, ...], known: tuple[ProgramTransition | None, ...]
    ) -> None:
        """Some more transitions; `known` is what each was before, nothing where that is not
        known."""
        if self.all_stand and known:
            self._stand(entries, known)
            return
        refs, moved, dropped, windows = (
            self.nodes.refs,
            self.moved,
            self.conditions.dropped,
            self.windows,
        )
        stands, is_clean = self.made.append, self.clean.append
        for each, made in zip_longest(entries, known):
            source, target = each.source, each.target
            if made is not None and source not in moved and target not in moved and (
                id(made[3]) not in dropped and (made[4] != "in a window" or made.window in windows)
            ):
                from_place, to_place = refs[source], refs[target]
                if made[1] != from_place or made[2] != to_place:
                    made = new(ProgramTransition, (made[0], from_place, to_place, *made[3:]))
                stands(made)
                is_clean(made)
                continue
            self._compile(each)

    def _stand(
        self, entries: tuple[Transition, ...], known: tuple[ProgramTransition | None, ...]
    ) -> None:
        """Transitions that are as they were, but for those that are not known or gave a problem."""
        places = self.places
        if places is not None:
            # The fields one by one, as below: a puppet may have many thousands.
            known = tuple([made and new(ProgramTransition, (
                made[0], places[made[1]], places[made[2]], *made[3:])) for made in known])
        if None not in known:
            self.made += known  # type: ignore[arg-type]
            self.clean += known
            return
        for each, made in zip(entries, known, strict=True):
            if made is not None:
                self.made.append(made)
                self.clean.append(made)
            else:
                self._compile(each)

    def _compile(self, each: Transition) -> None:
        before = len(self.problems)
        made = self._compiled(each)
        if made is not None:
            self.made.append(made)
        self.clean.append(made if len(self.problems) == before else None)

    def _exits(self, known: KeptTransitions, first: int, last: int) -> dict[int, Exits]:
        """By node the exits it owns."""
        if known.exits is None or not self.all_stand or self.places is not None \
                or None in self.clean or None in known.clean:
            return _grouped(self.made)
        between = (*known.clean[first:len(known.clean) - last],
                   *self.clean[first:len(self.clean) - last])
        owners = {each.source for each in between if each is not None}
        exits = (
            {node: each for node, each in known.exits.items() if node not in owners}
            if owners
            else known.exits
        )
        return (
            exits | _grouped([each for each in self.made if each.source in owners])
            if owners
            else exits
        )

    def _problem(
        self, each: Transition, text: str, fix: str = "", near: Near | None = None
    ) -> None:
        self.problems.append(Problem(("transition", each.id), text, fix, near))

    def _compiled(self, each: Transition) -> ProgramTransition | None:
        refs = self.nodes.refs
        source, target = refs.get(each.source, NOWHERE), refs.get(each.target, NOWHERE)
        if source == NOWHERE or target == NOWHERE:
            self._problem(
                each,
                f"{each.source if source == NOWHERE else each.target} does not exist",
                "lead it to a state that is there, or remove it",
            )
            return None
        if not self._usable(each, source, target):
            return None
        condition: ProgramCondition | None = None
        if each.when and not each.when.isspace():
            read = self.conditions.read(each.when)
            condition = read.condition
            if read.error is not None:
                self._problem(each, f"“{each.when}” cannot be used: {read.error}",
                              "fix the condition", read.near)
            elif read.trouble is not None:
                self._problem(each, f"“{each.when}”: {read.trouble}",
                              "ask for another window, or give a clip this one")
        if each.leave.kind == "in a window" and each.leave.window not in self.windows:
            self._problem(each, f"no window is named {each.leave.window or 'yet'}",
                          "choose another leave rule, or give a clip such a window")
        rate, groups = self.puppet.rate, self.puppet.groups
        return ProgramTransition(
            each.id, source, target, condition, each.leave.kind,
            round(each.leave.seconds * rate * TICK),
            each.leave.window, (each.target,
                                *[groups[place].id for place in self.nodes.around(target)]),
            each.overrides, each.reenters, self._blend(each),
        )

    def _blend(self, each: Transition) -> ProgramBlend | None:
        units = round(each.blend.seconds * self.puppet.rate * TICK)
        return ProgramBlend(units, each.blend.easing, each.blend.frozen) if (
            each.blend.kind == "crossfade" and units > 0) else None

    def _usable(self, each: Transition, source: int, target: int) -> bool:
        nodes = self.nodes
        if nodes.layer(source) != nodes.layer(target):
            self._problem(each, "it leads from one layer into another",
                          "lead it to a state of its own layer, or remove it")
        elif nodes.layer(target) < 0:
            self._problem(each, "its layer does not exist", "give its ends a layer, or remove it")
        elif nodes.waits_for_a_clip(target):
            # Told of the state itself, once.
            return False
        elif not nodes.can_be_entered(target):
            self._problem(each, f"the group {nodes.groups[~target].name} holds no state",
                          "put a state into the group, or lead it elsewhere")
        else:
            return True
        return False


def _grouped(transitions: list[ProgramTransition]) -> dict[int, Exits]:
    """The exits of each node that owns one."""
    overriding = defaultdict[int, list[ProgramTransition]](list)
    plain = defaultdict[int, list[ProgramTransition]](list)
    for transition in transitions:
        (overriding if transition.overrides else plain)[transition.source].append(transition)
    nothing: list[ProgramTransition] = []
    return {
        node: Exits(tuple(overriding.get(node, nothing)), tuple(plain.get(node, nothing)))
        for node in (*plain, *(node for node in overriding if node not in plain))
    }
