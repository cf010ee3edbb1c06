"""The modes of the mover that a while-rule lets it use: what it holds, hangs at or swims in. One
record each.

The way of moving itself is a file in `booth/modes/`, and `booth/mover.py` says when it is taken.
"""

from __future__ import annotations

from typing import Literal, NamedTuple

Mode = Literal["", "ladder", "ledge", "water"]


class ModeTraits(NamedTuple):
    """What is known of a mode."""

    words: str
    """What the mover does while the rule is in force."""
    senses: tuple[str, ...]
    """The booth's senses that tell when it can; a puppet gets them with its first rule of this
    mode."""


MODES: dict[Mode, ModeTraits] = {
    "ladder": ModeTraits("holds ladders", ("on_ladder", "ladder_above")),
    "ledge": ModeTraits("hangs at ledges", ("at_ledge", "ledge_side")),
    "water": ModeTraits("swims", ("in_water", "water_depth")),
}
"""By mode. The empty mode asks for none."""
