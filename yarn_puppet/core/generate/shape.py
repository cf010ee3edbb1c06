"""The number of a puppet's shape: what a character's state, the inputs and the report of its code
are laid out by.

Two pieces of generated code that have the same number can work on the same character; with another
number, what the one wrote the other would read as something else. It follows everything that a
number kept in a state stands for, and the layout itself. Names for people are no part of it: a
state that is renamed is the same state.
"""

from __future__ import annotations

import hashlib
from functools import cache

from ..model.kinds.while_rules import REPORTED
from .constants import CONSTANTS
from .flat import Flat
from .parts import template
from .sizes import numbers, rooms

LAYOUTS = (("c", "header.h"), ("c", "frames.h"), ("c", "figure.h"), ("javascript", "types.d.ts"),
           ("javascript", "tick.js"))
"""The files in which states, inputs and reports are laid out; what they say of every kind belongs
to it too."""


def shape_of(made: Flat) -> int:
    """The shape's number, 1 to 2³² - 1."""
    program = made.program
    facts = repr((
        _layouts(), rooms(made), numbers(made),
        {name: len(rows) for name, rows in made.tables.items()},
        [layer.id for layer in program.layers], [state.id for state in program.states],
        [group.id for group in program.groups],
        [transition.id for transition in program.transitions], program.actions,
        [intent.id for intent in program.intents],
        [(sense.id, sense.type, sense.choices) for sense in program.senses],
        [(memo.id, memo.type, memo.choices) for memo in program.memos],
        [threshold.id for threshold in program.thresholds],
        [(clip.id, [moment.id for moment in clip.moments], [window.id for window in clip.windows])
         for clip in made.clips],
        [skin.clips for skin in program.skins], made.texts))
    return int.from_bytes(hashlib.sha256(facts.encode()).digest()[:4], "big") or 1


@cache
def _layouts() -> str:
    return "".join([*(template(language, name) for language, name in LAYOUTS), repr(CONSTANTS),
                    repr(REPORTED)])
