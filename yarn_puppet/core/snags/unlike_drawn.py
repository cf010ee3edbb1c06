"""A mover whose body is another than what is drawn."""

from __future__ import annotations

from ..engine.program import Program
from ..model.edits.movers import is_unlike_drawn
from ..model.puppet import Puppet
from .snag import Snag


def mover_unlike_drawn(puppet: Puppet, program: Program) -> list[Snag]:
    """The mover's body and the body box of the clip that stands differ by more than half: it walks
    through walls, or hangs in the air."""
    words = is_unlike_drawn(puppet)
    return [Snag("warning", "mover", "mover", puppet.name, words,
                 "take it as drawn, in the Booth, or draw another body box")] if words else []
