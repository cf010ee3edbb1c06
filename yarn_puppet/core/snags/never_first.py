"""Transitions that can never be first: one before them is always open when they are."""

from __future__ import annotations

from ..engine.compiling import compile_puppet
from ..engine.program import Program, ProgramTransition
from ..model.puppet import Puppet
from .references import named
from .snag import Snag
from .unreachable import reachable


def never_first(puppet: Puppet) -> list[Snag]:
    """Transitions that are tried after one that holds whenever they do, in every state they are tried from.

    One hides another when its leave rule is as wide and its terms are a part of the other's, which no value of any
    sense can undo. Transitions of states that cannot be reached are left to the other check.
    """
    program = compile_puppet(puppet)
    hidden_by: dict[int, set[int]] = {}
    tried: dict[int, int] = {}
    for state in reachable(program):
        candidates = program.nodes[state].candidates
        for place, candidate in enumerate(candidates):
            if _leads_nowhere(program, state, candidate):
                continue
            tried[candidate] = tried.get(candidate, 0) + 1
            for earlier in candidates[:place]:
                if not _leads_nowhere(program, state, earlier) and _hides(
                    program.transitions[earlier], program.transitions[candidate]
                ):
                    hidden_by.setdefault(candidate, set()).add(state)
                    break
    found = []
    for candidate, states in sorted(hidden_by.items()):
        if len(states) == tried[candidate]:
            transition = program.transitions[candidate]
            found.append(
                Snag("error", "transition", transition.id, named(puppet, "transition", transition.id),
                     "an earlier one is open whenever it is, so it can never be first",
                     "give it an earlier order, or make its condition differ")
            )
    return found


def _leads_nowhere(program: Program, state: int, place: int) -> bool:
    """Whether the transition would only enter the state it is in, which is passed over."""
    transition = program.transitions[place]
    return transition.target == state and not transition.reenters


def _hides(earlier: ProgramTransition, later: ProgramTransition) -> bool:
    as_wide = earlier.leave == "any time" or (
        earlier.leave == later.leave and earlier.window == later.window
        and (earlier.leave != "in a window" or earlier.target == later.target)
        and earlier.after <= later.after
    )
    terms = {term.text for term in earlier.terms}
    return as_wide and terms <= {term.text for term in later.terms}
