"""What happens at times of a clip: moments at one instant, windows from one to another.
Milliseconds of the clip."""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta

from .basics.base import Fraction, Identifier, Name, Number, Scalar, Value
from .basics.words import LONGEST_SETTING
from .kinds.modes import Mode
from .kinds.moments import MomentKind
from .kinds.while_rules import RuleKind
from .kinds.windows import WindowKind

DeedKind = Literal["set", "arm", "drop"]

Time = Annotated[float, Meta(ge=0, le=1e9)]
FilePath = Annotated[str, Meta(max_length=4096)]
"""The path of a picture or sound, relative to the puppet's file once that is saved; empty for
none."""


Colour = Annotated[str, Meta(pattern=r"^(#[0-9A-Fa-f]{6})?$")]
"""Red, green and blue in hexadecimal, or empty for none."""


class Rule(Value, frozen=True):
    """A while-rule: in force exactly while its owner is active. It comes into force over `ease_in`
    seconds, and goes out of it over `ease_out`.

    `value` is the factor of `move_speed`, `gravity`, `jump_height`, `playback` (how fast clips
    play) and `layer_weight` (of the layer `layer`), and the strength of a `tint` of `colour`, 0 to
    1. memo: `memo` reads as `to`, whatever it is set to. prop: the picture `shows`, or the clip
    `clip`, is held at `anchor`; the clip once or `round`, `under` or over the puppet. box: body
    boxes named `box` stand in place of those without a name. mode: the mover may hold a ladder or a
    ledge, or swim, where the world has one. height: so much of its height it has against walls and
    ceilings, 0.2 to 1. safe: it cannot be hit. `lock_movement` and `lock_facing` hold it where it
    is.
    """

    kind: RuleKind
    value: Number = 1.0
    ease_in: Fraction = 0.0
    ease_out: Fraction = 0.0
    memo: Identifier | None = None
    to: Scalar = 0
    anchor: Identifier | None = None
    shows: FilePath = ""
    box: str = ""
    colour: Colour = ""
    layer: Identifier | None = None
    mode: Mode = ""
    clip: Identifier | None = None
    round: bool = False
    under: bool = False


class Deed(Value, frozen=True):
    """What is done on entering or leaving a state, or at a moment: `set` the memo to the value of
    an expression over ids, `arm` the intent as if its gesture had been made, or `drop` it where it
    is armed."""

    memo: Identifier | None = None
    value: Annotated[str, Meta(max_length=LONGEST_SETTING)] = ""
    kind: DeedKind = "set"
    intent: Identifier | None = None


class Argument(Value, frozen=True):
    """One typed argument of a call: what the game is told under this name."""

    name: Identifier
    value: Scalar


class Moment(Value, frozen=True):
    """A timed event at one instant, `at` milliseconds into the clip.

    Which fields mean anything depends on the kind: effect: `name` says which, shown at `anchor`,
    which it keeps to if it `follow`s, turned about with the facing if it `mirrors`; `file` is its
    picture. sound: `file` is a WAV, OGG or FLAC. shake: of the view, `strength` pixels for
    `seconds`. launch: a projectile from `anchor` at `speed` pixels a second, `angle` degrees up
    from where the puppet faces. attach: a prop, `file` its picture, held at `anchor` until the clip
    is left. call: `name` and `arguments` are for the game. What an effect, a projectile or a prop
    looks like is `clip`, where it has one, in place of a picture: played once or `round`, over the
    puppet or `under` it. An effect that is played round ends with the visit to its state. `deeds`
    are done as it fires. With `only_on_hit` it waits until a hit of this visit to the state has
    landed, and never happens when none does.
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
    deeds: tuple[Deed, ...] = ()
    clip: Identifier | None = None
    round: bool = False
    under: bool = False


class Window(Value, frozen=True):
    """A timed event from `start` to `end`, in milliseconds of the clip.

    `into` limits a cancel window to states and groups of these ids; empty means anywhere. To a hit
    window belong `damage`, `push`, how many pixels the target is pushed away, and `hit_stop`, for
    how many ticks a landed hit holds the puppet and its target; with `hit_stop_seconds` over zero
    for so long instead, at any rate.
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
    hit_stop_seconds: Annotated[float, Meta(ge=0, le=10)] = 0.0
