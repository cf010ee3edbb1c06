"""Transitions that can never be first: one before them is always open when they are."""

from __future__ import annotations

from ..engine.plain.choose import fixed_end
from ..engine.program import Program, ProgramCondition, ProgramTransition
from ..model.puppet import Puppet
from ..rules.bind import NEVER, Tree, conjuncts_of
from .references import Named
from .snag import Snag
from .unreachable import reachable


class Hiding:
    """Which transitions hide which: worked out once for a pair, by the trees of their
    conditions."""

    def __init__(self, program: Program) -> None:
        self.program = program
        self.numbers: dict[Tree, int] = {}
        self.terms: dict[int, frozenset[int]] = {}
        self.known: dict[tuple[str, str], bool] = {}

    def terms_of(self, condition: ProgramCondition | None) -> frozenset[int]:
        """The terms of a condition, equal trees by equal numbers."""
        if condition is None:
            return frozenset()
        terms = self.terms.get(id(condition))
        if terms is None:
            trees = conjuncts_of(condition.tree)
            terms = frozenset(self.numbers.setdefault(tree, len(self.numbers)) for tree in trees)
            self.terms[id(condition)] = terms
        return terms

    def hides(self, earlier: ProgramTransition, later: ProgramTransition) -> bool:
        """Whether the earlier holds whenever the later does."""
        found = self.known.get((earlier.id, later.id))
        if found is None:
            found = _as_wide(earlier, later) and self.terms_of(earlier.condition) <= self.terms_of(
                later.condition
            )
            self.known[earlier.id, later.id] = found
        return found


def never_first(puppet: Puppet, program: Program) -> list[Snag]:
    """Transitions that are tried after one that holds whenever they do, in every state they are
    tried from.

    One hides another when its leave rule is as wide and its terms are a part of the other's, which
    no value of any sense can undo. Transitions of states that cannot be reached are left to the
    other check.
    """
    hiding = Hiding(program)
    hidden: dict[str, int] = {}
    tried: dict[str, int] = {}
    for state in reachable(program):
        candidates = [each for each in program.candidates(state)
                      if not leads_nowhere(program, state, each)]
        for number, candidate in enumerate(candidates):
            tried[candidate.id] = tried.get(candidate.id, 0) + 1
            if any(leads_on(program, state, earlier) and hiding.hides(earlier, candidate)
                   for earlier in candidates[:number]):
                hidden[candidate.id] = hidden.get(candidate.id, 0) + 1
    named = Named(puppet)
    return [
        Snag("error", "transition", transition.id, named.of("transition", transition.id),
             "can never be taken: an earlier transition always matches first",
             "give it an earlier order, or make its condition differ")
        for transition in program.transitions
        if transition.id in hidden and hidden[transition.id] == tried[transition.id]
        and not (transition.condition is not None and transition.condition.tree == NEVER)
    ]


def leads_nowhere(program: Program, state: int, transition: ProgramTransition) -> bool:
    """Whether the transition would only ever enter the state it is in, which is passed over."""
    return not transition.reenters and fixed_end(program, transition.target) == state


def leads_on(program: Program, state: int, transition: ProgramTransition) -> bool:
    """Whether the transition leads to another state for certain, whatever a group remembers."""
    return transition.reenters or fixed_end(program, transition.target) not in (None, state)


def _as_wide(earlier: ProgramTransition, later: ProgramTransition) -> bool:
    if earlier.leave == "any time":
        return True
    if earlier.leave != later.leave:
        return False
    if earlier.leave == "in a window":
        return earlier.window == later.window and set(later.lets_in) <= set(earlier.lets_in)
    return earlier.after <= later.after or earlier.leave == "at the end"
