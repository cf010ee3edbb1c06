"""What the graph reads: actions, intents, senses, memos; and what moves the puppet."""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta

from .base import Fraction, Identifier, Name, Number, Positive, Scalar, Value

Gesture = Literal["press", "release", "tap", "hold", "double tap", "held"]
ValueType = Literal["bool", "int", "float", "choice"]


class Action(Value, frozen=True):
    """A named thing a player can do. `keys` are written "key:J" or "mouse:left"; the desk knows which exist."""

    id: Identifier
    name: Name
    keys: tuple[str, ...] = ()


class Intent(Value, frozen=True):
    """An action and a gesture. `seconds` is the threshold of tap, hold and double tap.

    Armed by its gesture, an intent lives for `buffer` seconds and is used up by the transition that takes it, and
    with it
    the press of the action, unless another intent arms `even_if_used`. "held" is a level: it has no buffer and is never
    used up. The name is a word of conditions: see `words`.
    """

    id: Identifier
    name: Name
    action: Identifier
    gesture: Gesture = "press"
    seconds: Fraction = 0.25
    buffer: Fraction = 0.15
    even_if_used: bool = False


class Sense(Value, frozen=True):
    """A value the game reports each tick; the graph only reads it. `low` and `high` bound its picture, no more.

    A bool that reports an `event` stays true until a tick that chooses has read it. The name is a word of conditions.
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
    """A value the graph itself keeps: a combo step. The name is a word of conditions."""

    id: Identifier
    name: Name
    type: ValueType = "int"
    start: Scalar = 0
    choices: tuple[str, ...] = ()


FacingSide = Literal["right", "up", "left", "down"]


class Facing(Value, frozen=True):
    """How the puppet turns. "mirror": left or right, by the sign of the sense `follows`.

    "four": by the larger of the senses `follows`, to the right, and `follows_up`; at a tie it stays as it is where
    it may.
    """

    kind: Literal["mirror", "four"] = "mirror"
    follows: Identifier = "move_x"
    start: FacingSide = "right"
    follows_up: Identifier = "move_y"


class Mover(Value, frozen=True):
    """The numbers of the walker, in pixels and seconds, and the actions it listens to.

    A "call" moment named `jump` makes it leave the ground, so the graph decides when a jump begins.
    """

    left: Identifier = "left"
    right: Identifier = "right"
    width: Positive = 16.0
    height: Positive = 44.0
    walk_speed: Fraction = 90.0
    acceleration: Fraction = 600.0
    deceleration: Fraction = 900.0
    gravity: Fraction = 900.0
    jump_speed: Fraction = 300.0
    fall_speed: Fraction = 420.0


Rate = Annotated[int, Meta(ge=1, le=1000)]
"""Ticks in a second."""
