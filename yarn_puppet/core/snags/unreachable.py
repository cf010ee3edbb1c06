"""States that no transition ever leads to."""

from __future__ import annotations

from ..engine.compiling import compile_puppet, never
from ..engine.program import Program
from ..model.puppet import Puppet
from .snag import Snag


def unreachable_states(puppet: Puppet) -> list[Snag]:
    """States that cannot be entered from their layer's start, whatever the controls and senses do."""
    program = compile_puppet(puppet)
    reached = reachable(program)
    return [
        Snag("warning", "state", state.id, state.name, "nothing leads to it from the start",
             "draw a transition to it, or remove it")
        for state in puppet.states if program.places["in_state", state.id] not in reached
    ]


def reachable(program: Program) -> set[int]:
    """The states that can be entered, by node index.

    A group that remembers goes back only where the graph has been before, so it adds none.
    """
    waiting = [_entered(program, layer.start) for layer in program.layers if layer.start >= 0]
    reached: set[int] = set()
    while waiting:
        state = waiting.pop()
        if state in reached or state < 0:
            continue
        reached.add(state)
        for place in program.nodes[state].candidates:
            transition = program.transitions[place]
            if transition.condition is not never:
                waiting.append(_entered(program, transition.target))
    return reached


def _entered(program: Program, node: int) -> int:
    for _ in program.nodes:
        if node < 0 or program.nodes[node].is_state:
            return node
        node = program.nodes[node].start
    return -1
