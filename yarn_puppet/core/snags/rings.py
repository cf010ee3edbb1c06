"""Rings of states that play nothing: a tick that comes into one goes round until it is stopped."""

from __future__ import annotations

from collections.abc import Iterable

from ..engine.plain.choose import fixed_end
from ..engine.program import Program
from ..model.puppet import Puppet
from ..rules.bind import NEVER
from .snag import Snag


def rings_that_play_nothing(puppet: Puppet, program: Program) -> list[Snag]:
    """States that play nothing and lead to each other in a ring that one tick can go round.

    Transitions that need time to pass, or a window, cannot be taken in the same tick; what
    conditions allow is not known here, so it is a warning.
    """
    return [
        Snag("warning", "state", program.states[place].id, program.states[place].name,
             "one tick can lead from it back to it, through states that play nothing",
             "let one of them play a clip, or let a condition end the ring")
        for place in sorted(_on_rings(_ways(program)))
    ]


def _ways(program: Program) -> dict[int, set[int]]:
    """From each state that plays nothing to those of the same kind that the same tick can enter
    from it."""
    silent = {index for index, state in enumerate(program.states)
              if state.clip is None and state.layer >= 0}
    found: dict[int, set[int]] = {}
    for place in silent:
        for transition in program.candidates(place):
            waits = transition.leave == "in a window" or (
                transition.leave == "after" and transition.after > 0
            )
            if waits or (transition.condition is not None and transition.condition.tree == NEVER):
                continue
            end = fixed_end(program, transition.target)
            if end is not None and end in silent and (end != place or transition.reenters):
                found.setdefault(place, set()).add(end)
    return found


def _on_rings(ways: dict[int, set[int]]) -> set[int]:
    """The nodes that can be come back to: what is left when those without a way in or out are taken
    away in turn."""
    back: dict[int, set[int]] = {}
    for node, ends in ways.items():
        for end in ends:
            back.setdefault(end, set()).add(node)
    return _trimmed(ways, back, set(ways) & set(back))


def _trimmed(ways: dict[int, set[int]], back: dict[int, set[int]], left: set[int]) -> set[int]:
    out = {node: len(ways[node] & left) for node in left}
    into = {node: len(back[node] & left) for node in left}
    waiting = [node for node in left if not out[node] or not into[node]]
    while waiting:
        node = waiting.pop()
        if node not in left:
            continue
        left.discard(node)
        waiting += _one_less(back.get(node, ()), out, left)
        waiting += _one_less(ways.get(node, ()), into, left)
    return left


def _one_less(nodes: Iterable[int], counts: dict[int, int], left: set[int]) -> list[int]:
    """Count one way less at these nodes; those that have none left."""
    gone = []
    for node in nodes:
        if node in left:
            counts[node] -= 1
            if counts[node] == 0:
                gone.append(node)
    return gone
