"""States that no transition ever leads to."""

from __future__ import annotations

from ..engine.program import Program
from ..engine.program_clips import NOWHERE
from ..model.puppet import Puppet
from ..rules.bind import NEVER
from .snag import Snag


def unreachable_states(puppet: Puppet, program: Program) -> list[Snag]:
    """States that cannot be entered from their layer's start, whatever the controls and senses
    do."""
    reached = reachable(program)
    return [
        Snag("warning", "state", state.id, state.name, "nothing leads to it from the start",
             "draw a transition to it, or remove it")
        for index, state in enumerate(program.states)
        if index not in reached and not puppet.states[index].waits
    ]


def reachable(program: Program) -> set[int]:
    """The states that can be entered, by place.

    A group that remembers goes back only where the graph has been before, so it adds none.
    """
    waiting = [_entered(program, layer.start) for layer in program.layers]
    reached: set[int] = set()
    left: set[int] = set()
    while waiting:
        place = waiting.pop()
        if place < 0 or place in reached:
            continue
        reached.add(place)
        state = program.states[place]
        # The exits of a group are looked at once, however many states are in it.
        owners = [state.exits, *(program.groups[group].exits
                                 for group in state.groups if group not in left)]
        left |= set(state.groups)
        for exits in owners:
            for transition in (*exits.overriding, *exits.plain):
                if transition.condition is None or transition.condition.tree != NEVER:
                    waiting.append(_entered(program, transition.target))
    return reached


def _entered(program: Program, node: int) -> int:
    while node < 0 and node != NOWHERE:
        node = program.groups[~node].start
    return node
