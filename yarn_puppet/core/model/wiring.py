"""What the graph reads: actions, axes, intents, senses, memos, thresholds; and how the puppet
faces."""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta

from .basics.base import Fraction, Identifier, Name, Number, Scalar, Value
from .kinds.gestures import Gesture

LONGEST_SEQUENCE = 16
"""Actions of a sequence."""
ValueType = Literal["bool", "int", "float", "choice"]


class Action(Value, frozen=True):
    """A named thing a player can do. `keys` are written "key:J", "mouse:left" or "pad:south"; the
    desk knows which exist."""

    id: Identifier
    name: Name
    keys: tuple[str, ...] = ()


class Axis(Value, frozen=True):
    """A value from -1 to 1: of a `stick`, written "pad:left x", or of two actions, the one less and
    the other more.

    What a stick gives within `dead` of its middle is zero; the rest is bent by `curve`, a power:
    above 1 it is finer near the middle. A deflected stick overrides the two actions.
    """

    id: Identifier
    name: Name
    less: Identifier | None = None
    more: Identifier | None = None
    stick: str = ""
    dead: Annotated[float, Meta(ge=0, le=0.9)] = 0.2
    curve: Annotated[float, Meta(ge=0.2, le=5)] = 1.0


AXIS_STEPS = 100
"""A pushed axis is recorded in so many whole steps to either side."""


class Intent(Value, frozen=True):
    """An action and a gesture. The name is a word of conditions: see `words`.

    `seconds` is the threshold of tap, hold and double tap; how long a sequence may take; how far
    apart the presses of *both* may be; how often a *repeat* comes again. `others` are the actions
    pressed before it in a sequence, in order, and the one pressed with it in *both*.

    Once its gesture is made, an intent is armed for `buffer` seconds. The transition that takes it
    uses it up, and the press of its action with it; only an intent that arms `even_if_used` can
    still arm by that press. *held* is a level: it has no buffer and is never used up.
    """

    id: Identifier
    name: Name
    action: Identifier
    gesture: Gesture = "press"
    seconds: Fraction = 0.25
    buffer: Fraction = 0.15
    even_if_used: bool = False
    others: Annotated[tuple[Identifier, ...], Meta(max_length=LONGEST_SEQUENCE - 1)] = ()


class Sense(Value, frozen=True):
    """A value the game reports each tick; the graph only reads it. `low` and `high` bound its
    picture, no more.

    A bool that reports an `event` stays true until a tick that chooses has read it. The name is a
    word of conditions.
    """

    id: Identifier
    name: Name
    type: ValueType = "bool"
    start: Scalar = False
    low: Number = 0.0
    high: Number = 1.0
    choices: tuple[str, ...] = ()
    unit: str = ""
    event: bool = False


class Memo(Value, frozen=True):
    """A value the graph itself keeps: a combo step. The name is a word of conditions.

    An int that `wraps` after so many steps, over zero, goes round from its start: 0, 1, 2, 0. One
    that `returns`, after seconds over zero, is at its start again when it was not set for that
    long.
    """

    id: Identifier
    name: Name
    type: ValueType = "int"
    start: Scalar = 0
    choices: tuple[str, ...] = ()
    wraps: Annotated[int, Meta(ge=0, le=1_000_000)] = 0
    returns: Fraction = 0.0


class Threshold(Value, frozen=True):
    """Whether a number, the sense or memo `source`, has passed a value: true from `on`, until it
    comes back past `off`.

    With `on` below `off` it is true from `on` downwards. The name is a word of conditions.
    """

    id: Identifier
    name: Name
    source: Identifier
    on: Number
    off: Number


FacingSide = Literal["right", "up", "left", "down", "up right", "up left", "down left",
                     "down right"]
FACING_DEGREES: dict[str, int] = {
    "right": 0, "up right": 45, "up": 90, "up left": 135, "left": 180, "down left": 225,
    "down": 270, "down right": 315,
}
"""Anticlockwise from the right."""


class Facing(Value, frozen=True):
    """How the puppet turns.

    - `mirror`: left or right, by the sign of the sense `follows`.
    - `four`: by the larger of the senses `follows`, to the right, and `follows_up`. At a tie it
      stays as it is where it may.
    - `eight`: the ones between too.
    """

    kind: Literal["mirror", "four", "eight"] = "mirror"
    follows: Identifier = "move_x"
    start: FacingSide = "right"
    follows_up: Identifier = "move_y"


Rate = Annotated[int, Meta(ge=1, le=1000)]
"""Ticks in a second."""
