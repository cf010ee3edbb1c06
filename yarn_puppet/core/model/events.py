"""What happens at times of a clip: moments at one instant, windows from one to another.
Milliseconds of the clip."""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta

from .basics.base import NO_NUL, Fraction, Identifier, Name, Number, Scalar, Value
from .basics.words import LONGEST_CONDITION, LONGEST_SETTING
from .kinds.modes import Mode
from .kinds.moments import MomentKind
from .kinds.while_rules import RuleKind
from .kinds.windows import WindowKind

DeedKind = Literal["set", "arm", "drop"]

Time = Annotated[float, Meta(ge=0, le=1e9)]
FilePath = Annotated[str, Meta(max_length=4096, pattern=NO_NUL)]
"""The path of a picture or sound, relative to the puppet's file once that is saved; empty for
none."""


Colour = Annotated[str, Meta(pattern=r"^(#[0-9A-Fa-f]{6})?$")]
"""Red, green and blue in hexadecimal, or empty for none."""


class Rule(Value, frozen=True):
    """A while-rule: in force exactly while its owner is active. It comes into force over `ease_in`
    seconds, and goes out of it over `ease_out`.

    The fields that a kind has:
    - `move_speed`, `gravity`, `jump_height`, `playback`: `value` is the factor. *playback* is how
      fast clips play.
    - `layer_weight`: `value` is the factor of the weight of `layer`.
    - `tint`: `value` is the strength, 0 to 1, of `colour`.
    - `memo`: the memo reads as `to`, whatever it is set to.
    - `prop`: the picture `shows`, or the clip `clip`, is held at `anchor`. The clip plays once, or
      `round`; it is drawn over the puppet, or `under` it.
    - `box`: body boxes named `box` stand in place of those without a name.
    - `mode`: the mover may hold a ladder or a ledge, or swim, where the world has one.
    - `height`: `value`, 0.2 to 1, is how much of its height counts against walls and ceilings.
    - `safe`: it cannot be hit. `lock_movement` and `lock_facing` hold it where it is.

    With a condition `when`, over ids, it counts only while that holds too.
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
    when: Annotated[str, Meta(max_length=LONGEST_CONDITION)] = ""


class Deed(Value, frozen=True):
    """What is done on entering or leaving a state, or at a moment.

    `set` gives the memo the value of an expression over ids. `arm` arms the intent as if its
    gesture had been made. `drop` disarms it.
    """

    memo: Identifier | None = None
    value: Annotated[str, Meta(max_length=LONGEST_SETTING)] = ""
    kind: DeedKind = "set"
    intent: Identifier | None = None


class Argument(Value, frozen=True):
    """One typed argument of a call: what the game is told under this name."""

    name: Identifier
    value: Scalar


Weight = Annotated[float, Meta(ge=0, le=1000)]
"""How often one of several comes, beside the others."""
Factor = Annotated[float, Meta(ge=0, le=4)]


class Sound(Value, frozen=True):
    """One of several sounds of a moment; without a file it is silence."""

    file: FilePath = ""
    weight: Weight = 1.0


class Heard(Value, frozen=True):
    """How the sound of a moment is heard.

    With `others` one of all is picked at random each time, by its weight, `weight` being that of
    the moment's own file; not the same twice running unless it `repeats`. `volume` and `pitch` are
    factors, each more or less by up to its spread, anew each time.
    """

    weight: Weight = 1.0
    others: tuple[Sound, ...] = ()
    repeats: bool = False
    volume: Factor = 1.0
    volume_spread: Factor = 0.0
    pitch: Annotated[float, Meta(ge=0.1, le=4)] = 1.0
    pitch_spread: Factor = 0.0


PLAINLY = Heard()
"""As it is."""


class Moment(Value, frozen=True):
    """A timed event at one instant, `at` milliseconds into the clip.

    The fields that a kind has:
    - `effect`: `name` says which. It is shown at `anchor`, keeps to it if it `follow`s, and turns
      about with the facing if it `mirrors`. `file` is its picture.
    - `sound`: `file` is a WAV, OGG or FLAC; `heard` says how loud, how high, and which others.
    - `shake`: the view shakes by `strength` pixels for `seconds`.
    - `launch`: a projectile leaves `anchor` at `speed` pixels a second, `angle` degrees up from
      where the puppet faces.
    - `attach`: a prop, `file` its picture, is held at `anchor` until the clip is left.
    - `call`: `name` and `arguments` are for the game.

    An effect, a projectile or a prop may show `clip` in place of a picture: played once or `round`,
    over the puppet or `under` it. An effect that is played round ends with the visit to its state.
    `deeds` are done as the moment fires. With `only_on_hit` it waits until a hit of this visit to
    the state has landed, and never happens when none does.
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
    heard: Heard = PLAINLY

    @property
    def files(self) -> tuple[str, ...]:
        """The pictures and sounds it names."""
        return tuple([file for file in (self.file, *[each.file for each in self.heard.others])
                      if file])


class Window(Value, frozen=True):
    """A timed event from `start` to `end`, in milliseconds of the clip.

    `into` limits a cancel window to states and groups of these ids; empty means anywhere.

    A hit window has `damage`, and `push`: by how many pixels the target is pushed away. A landed
    hit holds the puppet and its target for `hit_stop` ticks. Where `hit_stop_seconds` is over zero
    it holds them for that long instead, at any rate.

    A `guess` was read off the drawings, and nobody has looked at it yet.
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
    guess: bool = False
