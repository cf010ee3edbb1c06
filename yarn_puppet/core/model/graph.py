"""The graph: layers, groups, states and transitions."""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta

from .basics.base import Fraction, Identifier, Name, Number, Value
from .basics.words import LONGEST_CONDITION
from .events import Deed, Rule
from .motions import MOST_SOFT, BoneName, BoneWeight, ReferencePose

LeaveKind = Literal["any time", "after", "at the end", "in a window"]
BlendKind = Literal["cut", "crossfade", "momentum"]
Easing = Literal["linear", "ease in", "ease out", "ease in and out"]
Thread = Literal["madder", "indigo", "woad", "weld", "moss", "plum", "clay"]

ClipSpeed = Annotated[float, Meta(ge=0, le=100)]
"""How many times as fast as drawn a clip plays."""

BODY = "body"
"""The id of the layer every puppet has."""


class Leave(Value, frozen=True):
    """When a transition may be taken at all: its leave rule. `seconds` belongs to "after", `window`
    to "in a window".

    `window` is a window's name or one of the window kinds.
    """

    kind: LeaveKind = "any time"
    seconds: Fraction = 0.0
    window: str = ""


class Blend(Value, frozen=True):
    """How the new pose takes over from the old, over `seconds`. Sprites cut, or crossfade by
    weight, which is called to dissolve; momentum is for bones.

    The old clip goes on playing while it fades, unless it is `frozen`.
    """

    kind: BlendKind = "cut"
    seconds: Fraction = 0.0
    easing: Easing = "linear"
    frozen: bool = False


class SpeedMap(Value, frozen=True):
    """Clip speed read from a value: `low..high` of the sense or memo maps to `slow..fast`,
    clamped."""

    source: Identifier
    low: Number
    high: Number
    slow: ClipSpeed
    fast: ClipSpeed


class Placed(Value, frozen=True):
    """A clip of a spread, and its place along each of the values the spread is drawn along; its
    weight, 0 to 1000, where it is drawn at random."""

    clip: Identifier
    place: tuple[Number, ...]


class Spread(Value, frozen=True):
    """Several clips of one state, placed along one or two values; the nearest is played.

    A value is a sense or memo of a number, or "facing", in degrees anticlockwise from the right.
    The clip that plays holds on until another is nearer by more than `hold`, a share of the span of
    the places, so that none flickers.

    Drawn along nothing it is at random: each time the state is entered, and each time a clip came
    to its end, one is picked by its weight, not the same twice running unless it `repeats`.
    """

    id: Identifier
    name: Name
    clips: tuple[Placed, ...] = ()
    along: Annotated[tuple[str, ...], Meta(max_length=2)] = ("facing",)
    hold: Annotated[float, Meta(ge=0, le=1)] = 0.0
    repeats: bool = False

    @property
    def random(self) -> bool:
        """Whether one of its clips is picked at random."""
        return not self.along


class State(Value, frozen=True):
    """Plays a clip or a spread, or nothing, and has while-rules. A spread goes before a clip.

    One that `waits_for` a clip, in words, and has neither clip nor spread is never entered: it
    stands in a pattern until it is given one.

    `place` orders the states of a band; those with None come after them. It does not listen to the
    transitions `deaf_to` of the groups around it.
    """

    id: Identifier
    name: Name
    layer: Identifier = BODY
    group: Identifier | None = None
    clip: Identifier | None = None
    speed: ClipSpeed = 1.0
    speed_map: SpeedMap | None = None
    rules: tuple[Rule, ...] = ()
    on_enter: tuple[Deed, ...] = ()
    on_leave: tuple[Deed, ...] = ()
    place: Annotated[int, Meta(ge=0, le=999)] | None = None
    spread: Identifier | None = None
    deaf_to: tuple[Identifier, ...] = ()
    waits_for: Annotated[str, Meta(max_length=200)] = ""

    @property
    def waits(self) -> bool:
        """Whether it still waits for a clip."""
        return bool(self.waits_for) and self.clip is None and self.spread is None


class Group(Value, frozen=True):
    """States, and groups, that share transitions and while-rules; drawn as a band.

    `start` is a state or group inside; a group that `remembers` enters the state it was last in.
    All in it do not listen to the transitions `deaf_to` of the groups around it.

    The first of a layer that is `anywhere` is the layer's seam: it is around every node of the
    layer that is in no other group, and in none itself.
    """

    id: Identifier
    name: Name
    layer: Identifier = BODY
    group: Identifier | None = None
    start: Identifier | None = None
    remembers: bool = False
    rules: tuple[Rule, ...] = ()
    thread: Thread = "moss"
    deaf_to: tuple[Identifier, ...] = ()
    anywhere: bool = False


class Transition(Value, frozen=True):
    """From a state or a whole group to a state or group.

    `when` is a condition over ids, empty for always. The order among the transitions of one source
    is the order in the puppet. `overrides` tries it before everything further in; `reenters` lets a
    state enter itself.
    """

    id: Identifier
    source: Identifier
    target: Identifier
    when: Annotated[str, Meta(max_length=LONGEST_CONDITION)] = ""
    leave: Leave = Leave()
    blend: Blend = Blend()
    overrides: bool = False
    reenters: bool = False


class Layer(Value, frozen=True):
    """A graph of its own, run above the one before. `mask` names the bones it rules, with all under
    them; empty means all. It is `soft` over so many bones down each chain; `weights` are those of
    single bones, set by hand. A layer that `adds` lays what its clips have beyond a `reference`,
    the rest pose where there is none, over what is below.

    `weight`, 0 to 1, is how much of it is shown; with a condition `shown_when` only while that
    holds, eased in and out over seconds. It runs all the same. Sprites are drawn over or `under`
    what is below, the pivot at the anchor `pinned_to` of the nearest layer below that has it, or
    where the puppet stands.
    """

    id: Identifier
    name: Name
    start: Identifier | None = None
    mask: tuple[BoneName, ...] = ()
    weight: Annotated[float, Meta(ge=0, le=1)] = 1.0
    shown_when: Annotated[str, Meta(max_length=LONGEST_CONDITION)] = ""
    ease_in: Fraction = 0.0
    ease_out: Fraction = 0.0
    under: bool = False
    pinned_to: Identifier | None = None
    soft: Annotated[int, Meta(ge=0, le=MOST_SOFT)] = 0
    weights: tuple[BoneWeight, ...] = ()
    adds: bool = False
    reference: ReferencePose | None = None
