"""What happens at times of a clip: moments at one instant, windows from one to another. Milliseconds of the clip."""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta

from .base import Fraction, Identifier, Name, Number, Scalar, Value

MomentKind = Literal["effect", "sound", "shake", "launch", "attach", "call"]
WindowKind = Literal["hit", "cancel", "guard", "safe", "named"]
RuleKind = Literal["move_speed", "lock_movement", "lock_facing"]

Time = Annotated[float, Meta(ge=0, le=1e9)]
FilePath = Annotated[str, Meta(max_length=4096)]
"""The path of a picture or sound, relative to the puppet's file once that is saved; empty for none."""


class Rule(Value, frozen=True):
    """A while-rule: in force exactly while its owner is active. `value` is the factor of `move_speed`."""

    kind: RuleKind
    value: Number = 1.0


class Argument(Value, frozen=True):
    """One typed argument of a call: what the game is told under this name."""

    name: Identifier
    value: Scalar


class Moment(Value, frozen=True):
    """A timed event at one instant, `at` milliseconds into the clip.

    Which fields mean anything depends on the kind:
    effect: `name` says which, shown at `anchor`, which it keeps to if it `follow`s, turned about with the facing if
    it `mirrors`; `file` is its picture.
    sound: `file` is a WAV.
    shake: of the view, `strength` pixels for `seconds`.
    launch: a projectile from `anchor` at `speed` pixels a second, `angle` degrees up from where the puppet faces.
    attach: a prop, `file` its picture, held at `anchor` until the clip is left.
    call: `name` and `arguments` are for the game.
    With `only_on_hit` it waits until a hit of this visit to the state has landed, and never happens when none does.
    """

    id: Identifier
    at: Time
    kind: MomentKind
    name: Name
    anchor: Identifier | None = None
    follow: bool = False
    mirrors: bool = True
    file: FilePath = ""
    strength: Fraction = 3.0
    seconds: Fraction = 0.25
    speed: Fraction = 240.0
    angle: Annotated[float, Meta(ge=-360, le=360)] = 0.0
    arguments: tuple[Argument, ...] = ()
    only_on_hit: bool = False


class Window(Value, frozen=True):
    """A timed event from `start` to `end`, in milliseconds of the clip.

    `into` limits a cancel window to states and groups of these ids; empty means anywhere. To a hit window belong
    `damage`, `push`, how many pixels the target is pushed away, and `hit_stop`, for how many ticks a landed hit
    holds the puppet and its target.
    """

    id: Identifier
    start: Time
    end: Time
    kind: WindowKind
    name: Name
    into: tuple[Identifier, ...] = ()
    damage: Annotated[int, Meta(ge=0, le=1_000_000)] = 1
    rules: tuple[Rule, ...] = ()
    push: Annotated[float, Meta(ge=-1000, le=1000)] = 0.0
    hit_stop: Annotated[int, Meta(ge=0, le=1000)] = 0
