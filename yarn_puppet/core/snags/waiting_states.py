"""States of a pattern that have no clip yet."""

from __future__ import annotations

from ..engine.program import Program
from ..model.puppet import Puppet
from .snag import Snag


def waiting_states(puppet: Puppet, program: Program) -> list[Snag]:
    """States that wait for a clip: they are never entered till then, which is no fault."""
    return [
        Snag("note", "state", state.id, state.name,
             f"it waits for a clip ({state.waits_for}), and is never entered till then",
             "drop a clip on its card, or remove it")
        for state in puppet.states if state.waits
    ]
