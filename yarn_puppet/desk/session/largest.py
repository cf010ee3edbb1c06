"""How large a puppet may be for the desk to stay quick with: a quarter of a second for anything is
the aim.

A larger one opens as well, and is said to be larger.
"""

from __future__ import annotations

from ...core.model.puppet import Puppet

MOST_STATES = 1000
MOST_TRANSITIONS = 4000
MOST_FRAMES = 20_000
"""Of all clips together."""


def larger_than_quick(puppet: Puppet) -> str:
    """In what a puppet is larger than the desk stays quick with, in words; nothing where it is
    not."""
    counts = (("states", len(puppet.states), MOST_STATES),
              ("transitions", len(puppet.transitions), MOST_TRANSITIONS),
              ("frames", sum(len(clip.frames) for clip in puppet.clips), 2 * MOST_FRAMES))
    return " and ".join(f"{count:,} {what}" for what, count, most in counts if count > most)
