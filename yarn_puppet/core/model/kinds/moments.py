"""The moments: what happens at one instant of a clip. One record each.

To add one: a record here, and what it does in the booth (`booth/hitting/effects.py`). Sentences,
lanes, labels, names and handed-off code read this table.
"""

from __future__ import annotations

from typing import Literal, NamedTuple

from .windows import Dye

MomentKind = Literal["effect", "sound", "shake", "launch", "attach", "call"]


class NumberField(NamedTuple):
    """A number of a moment: the word before it, the field, its unit, its bounds, and a step of the
    wheel."""

    word: str
    field: str
    unit: str
    low: float
    high: float
    step: float


class MomentTraits(NamedTuple):
    """What is known of a kind of moment."""

    first_name: str
    """The name of a new one."""
    plural: str
    """What all of its kind are called, as where names are changed."""
    lane: str
    """The lane it stands on under a clip."""
    dye: Dye
    label: str = "{name}"
    """What stands beside it: its fields, and {where} (" at hand"), {follows} (", follows") and
    {given} ("(loud, far)")."""
    is_anchored: bool = False
    """Whether it happens at an anchor."""
    can_follow: bool = False
    """Whether it may keep to its anchor, and be mirrored."""
    has_look: bool = False
    """Whether it shows a picture or a clip."""
    is_heard: bool = False
    """Whether its file is a sound."""
    has_arguments: bool = False
    numbers: tuple[NumberField, ...] = ()
    known_names: tuple[str, ...] = ()
    """Names that mean something to the booth's mover."""


CALLS = ("jump", "drop", "pull_up")
"""The calls that the booth's mover listens to."""
MOMENT_LANES: dict[str, MomentKind] = {
    "effects": "effect", "sounds": "sound", "launch, attach": "launch", "calls, shakes": "call"}
"""The lanes under a clip, from above, and what a click on each makes."""
MOMENTS: dict[MomentKind, MomentTraits] = {
    "effect": MomentTraits("spark", "effects", "effects", "plum", "{name}{where}{follows}", True,
                           True, True),
    "sound": MomentTraits("sound", "sounds", "sounds", "clay", is_heard=True),
    "shake": MomentTraits(
        "shake", "shakes", "calls, shakes", "weld", "shake {strength:g} px",
        numbers=(NumberField("·", "strength", " px", 0, 64, 0.5),
                 NumberField("for", "seconds", " s", 0, 10, 0.05))),
    "launch": MomentTraits(
        "bolt", "launches", "launch, attach", "madder", "{name}{where}, {speed:g} px/s", True,
        has_look=True,
        numbers=(NumberField("at", "speed", " px/s", 0, 5000, 10),
                 NumberField("up", "angle", "°", -360, 360, 5))),
    "attach": MomentTraits("prop", "props", "launch, attach", "moss", "{name}{where}", True,
                           has_look=True),
    "call": MomentTraits(
        "jump", "calls", "calls, shakes", "woad", "{name}{given}", has_arguments=True,
        known_names=CALLS),
}
"""By kind, in the order in which handed-off code counts them."""
