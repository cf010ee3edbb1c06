"""What goes over the live wire, as typed values; docs/live-wire.md says what each means."""

from __future__ import annotations

from typing import Annotated, Any, Literal

import msgspec
from msgspec import UNSET, Meta, UnsetType

from ..model.basics.base import Scalar

PROTOCOL = 1
MOST_BYTES = 65_536
"""Bytes of a message."""
MOST_BATCHED = 64
MOST_GAMES = 32
MOST_SAID = 200
"""Characters of what is said to people of a message."""

NO_JSON, NO_REQUEST, NO_METHOD, BAD_PARAMETERS = -32700, -32600, -32601, -32602
WRONG_KEY = -32001
OTHER_PROTOCOL, OUT_OF_ORDER, TOO_MANY, HELLO_AGAIN = range(-32003, -32007, -1)
ERRORS = {
    NO_JSON: "no JSON", NO_REQUEST: "no request", NO_METHOD: "no such method",
    BAD_PARAMETERS: "bad parameters",
    WRONG_KEY: "the wrong key", OTHER_PROTOCOL: "another protocol",
    OUT_OF_ORDER: "a tick out of order", TOO_MANY: "too many games",
    HELLO_AGAIN: "hello was said already",
}
"""What errors say, by code."""


class Refused(Exception):
    """A message that cannot be done: an error's code, and what was wrong."""

    def __init__(self, code: int, message: str) -> None:
        super().__init__(message)
        self.code, self.message = code, message


Said = Annotated[str, Meta(max_length=80)]
Count = Annotated[int, Meta(ge=0, le=2**53)]
Digest = Annotated[int, Meta(ge=0, le=0xFFFFFFFF)]
Coordinate = Annotated[float, Meta(ge=-1e9, le=1e9)]
Hit = tuple[str | Count, Count, Count]
Rectangle = tuple[float, float, float, float]
"""Left, top, width and height, in pixels beside the pivot."""


class Strict(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """Parameters: what is not known is refused, so that nothing misspelt is silently dropped."""


Edges = Annotated[int, Meta(ge=0, le=255)]
"""How often an action went down or up since the last tick, where that is more than its level
tells."""


class Hello(Strict, frozen=True):
    """The first message: who it is, and what it wants."""

    protocol: Count
    key: Said
    game: Annotated[str, Meta(min_length=1, max_length=80)]
    mode: Literal["drive", "follow"]
    code: Said = ""
    made_of: Said = ""


class Tick(Strict, frozen=True):
    """One tick of a game: what goes into it, and of a game that is followed the digests of what
    came out."""

    tick: Annotated[int, Meta(ge=0, le=100_000_000)]
    down: Annotated[tuple[Said, ...], Meta(max_length=256)]
    senses: Annotated[dict[Said, Scalar], Meta(max_length=1024)]
    landed: Annotated[tuple[Hit, ...], Meta(max_length=256)] = ()
    stopped: bool = False
    edges: Annotated[dict[Said, Edges], Meta(max_length=256)] = {}
    at: tuple[Coordinate, Coordinate] = (0.0, 0.0)
    digests: Annotated[tuple[Digest, ...], Meta(min_length=8, max_length=8)] | UnsetType = UNSET


class Nothing(Strict, frozen=True):
    """No parameters."""


class SenseMessage(msgspec.Struct, frozen=True):
    """A sense of the puppet."""

    id: str
    name: str
    type: Literal["bool", "int", "float", "choice"]
    start: Scalar
    choices: tuple[str, ...]


class Welcome(msgspec.Struct, frozen=True):
    """The answer to hello: the puppet, and what may be told of it."""

    protocol: int
    game: str
    puppet: str
    rate: int
    made_of: str
    same: bool
    actions: tuple[str, ...]
    senses: tuple[SenseMessage, ...]
    layers: tuple[str, ...]


class Begun(msgspec.Struct, frozen=True):
    """The puppet is before this tick."""

    tick: int


class Compared(msgspec.Struct, frozen=True):
    """Of a tick that was followed, whether its report is the same here."""

    tick: int
    equal: bool


class Picture(msgspec.Struct, frozen=True):
    """A frame's picture: a cell of a sheet, its corner beside the pivot, and whether it is drawn
    flipped; a pixel of it is `scale` pixels of the world."""

    sheet: str
    page: int
    cell: tuple[int, int, int, int]
    corner: tuple[float, float]
    flipped: bool
    scale: float = 1.0


class FadingMessage(msgspec.Struct, frozen=True):
    """A clip that fades."""

    clip: str
    frame: int
    clip_time: float
    weight: float
    picture: Picture | None


class LayerMessage(msgspec.Struct, frozen=True):
    """A layer at the end of a tick."""

    layer: str
    state: str
    groups: tuple[str, ...]
    clip: str | None
    frame: int
    clip_time: float
    elapsed: float
    weight: float
    blend: float
    done: bool
    visit: int
    cycle: int = msgspec.field(name="pass")
    fading: tuple[FadingMessage, ...] = ()
    picture: Picture | None = None


class MomentMessage(msgspec.Struct, frozen=True):
    """A moment that fired."""

    name: str
    kind: str
    layer: str
    clip: str
    frame: int
    anchor: str | None
    at: tuple[float, float] | None
    file: str
    arguments: dict[str, Scalar]
    volume: float = 1.0
    pitch: float = 1.0


class WindowMessage(msgspec.Struct, frozen=True):
    """A window that is open; a hit of it is told by layer, visit and pass."""

    name: str
    kind: str
    layer: str
    clip: str
    visit: int
    cycle: int = msgspec.field(name="pass")
    damage: int = 0
    push: float = 0.0
    hit_stop: int = 0
    boxes: tuple[Rectangle, ...] = ()


class RuleMessage(msgspec.Struct, frozen=True):
    """A while-rule in force: its kind, by which share it counts, and what it is, as the puppet's
    file has it."""

    kind: str
    layer: str
    share: float
    value: float
    text: str


class PropMessage(msgspec.Struct, frozen=True):
    """A prop that is held: its picture, or its clip, for how many seconds that was played and
    whether `round` and round, and where. `flipped`: the picture is mirrored, the clip looks
    left."""

    shows: str
    clip: str | None
    seconds: float
    at: tuple[float, float]
    flipped: bool
    under: bool
    round: bool


class ReportMessage(msgspec.Struct, frozen=True):
    """What happened in a tick."""

    tick: int
    facing: str
    layers: tuple[LayerMessage, ...]
    moments: tuple[MomentMessage, ...]
    windows: tuple[WindowMessage, ...]
    rules: tuple[RuleMessage, ...]
    bodies: tuple[Rectangle, ...]
    props: tuple[PropMessage, ...]
    tint: tuple[int, int, int, float] | None
    entered: tuple[str, ...]
    left: tuple[str, ...]
    memos: dict[str, Scalar]
    armed: tuple[str, ...]
    used: tuple[str, ...]
    move_speed: float
    gravity: float
    jump_height: float
    lock_movement: bool
    lock_facing: bool
    safe: bool


class Edited(msgspec.Struct, frozen=True):
    """Another puppet drives the game from the next tick on."""

    puppet: str
    made_of: str


class Differs(msgspec.Struct, frozen=True):
    """The first tick whose report is another here, and which parts of it."""

    tick: int
    parts: tuple[str, ...]


class Trouble(msgspec.Struct, frozen=True):
    """What was wrong with a notification."""

    code: int
    message: str


METHODS: dict[str, tuple[type[Strict], tuple[Any, ...], str]] = {
    "hello": (Hello, (Welcome,), "Come in: the first message."),
    "tick": (Tick, (ReportMessage, Compared),
             "One tick: a report where the game is driven, whether it is equal where it "
             "is followed."),
    "begin": (Nothing, (Begun,), "The puppet is before its first tick again."),
    "bye": (Nothing, (Begun,), "The game leaves: the answer says that all it told was read."),
    "rpc.discover": (Nothing, (dict[str, Any],), "This document."),
}
"""By method its parameters, what its result may be, and what it does."""

NOTIFICATIONS: dict[str, tuple[Any, str]] = {
    "edited": (Edited, "An edit takes effect from the next tick on."),
    "differs": (Differs, "The first tick whose report is another here."),
    "trouble": (Trouble, "What was wrong with a notification."),
}
"""What the desk sends unasked."""


def readable(text: str) -> str:
    """A text from outside as people may be shown it: short, and of one line."""
    return "".join(each if each.isprintable() else " " for each in text[:MOST_SAID])
