"""A puppet compiled: names resolved to indices, conditions to functions, clips to tables of one cycle.

Times here are whole numbers of *units*. A tick is `TICK` units at any rate, and a millisecond is `rate` units, so
that frame borders and ticks compare exactly; floats would let a window open a tick early or late.
"""

from __future__ import annotations

from typing import Any, NamedTuple

from ..rules.compile import Compiled

TICK = 1000
"""Units in one tick. A millisecond is `rate` units: rate × 1000 units make a second either way."""


class ProgramMoment(NamedTuple):
    """A moment of a clip, at `at` units of its cycle. The other fields are those of the model, for who acts on it."""

    id: str
    at: int
    kind: str
    name: str
    anchor: str | None
    follow: bool
    mirrors: bool
    file: str
    strength: float
    seconds: float
    speed: float
    angle: float
    arguments: tuple[tuple[str, Any], ...]
    only_on_hit: bool


class ProgramRule(NamedTuple):
    """A while-rule."""

    kind: str
    value: float


class ProgramWindow(NamedTuple):
    """A window of a clip, from `start` to before `end` units of its cycle.

    `names` are the indices that `window("…")` may ask for: its name and its kind. `into` holds node indices, empty
    for anywhere. `frame` is the frame shown when it opens. `held` keeps it open after the end, for "hold last".
    """

    id: str
    start: int
    end: int
    kind: str
    name: str
    names: tuple[int, ...]
    into: tuple[int, ...]
    damage: int
    rules: tuple[ProgramRule, ...]
    frame: int
    held: bool
    push: float
    hit_stop: int


class ProgramClip(NamedTuple):
    """One cycle of a clip. `ends[i]` is where part i ends, `frames[i]` the index of the frame it shows.

    A clip that plays back and forth has the way back in its cycle, so that playing knows loops and ends only.
    `local[i]` is where part i starts in the clip's own time; `backwards[i]` says that it is run in reverse.
    """

    id: str
    cycle: int
    loops: bool
    ends: tuple[int, ...]
    frames: tuple[int, ...]
    local: tuple[int, ...]
    backwards: tuple[bool, ...]
    moments: tuple[ProgramMoment, ...]
    windows: tuple[ProgramWindow, ...]


class ProgramSet(NamedTuple):
    """Sets memo `memo` to the value of `value`, as type `type`."""

    memo: int
    value: Compiled
    type: str


class ProgramSpeed(NamedTuple):
    """Clip speed: `fixed`, or where `source` is given, that value's low..high mapped to slow..fast."""

    fixed: float
    source: Compiled | None
    low: float
    high: float
    slow: float
    fast: float


class ProgramTerm(NamedTuple):
    """One term of a condition, for explaining: its text over names and its function."""

    text: str
    holds: Compiled
    reads: tuple[tuple[str, int], ...]


class ProgramTransition(NamedTuple):
    """A transition. `source` and `target` are node indices; `after` is in units; `window` indexes window names."""

    id: str
    source: int
    target: int
    condition: Compiled | None
    terms: tuple[ProgramTerm, ...]
    leave: str
    after: int
    window: int
    overrides: bool
    reenters: bool
    blend: str
    blend_ticks: float
    easing: str


class ProgramPlaced(NamedTuple):
    """A clip of a spread and its place along the spread's one or two values."""

    clip: ProgramClip
    place: tuple[float, ...]


class ProgramNode(NamedTuple):
    """A state or a group. `groups` are the node indices around it, inside out. Groups play nothing.

    A state plays its `clip`, or of its `spread` the clip placed nearest to the values `along` which it is drawn,
    where None stands for the facing in degrees; `clip` is then the first of them. `spans` are the widths over which
    the places of each value lie.
    `start` is the node a group enters, -1 for a state or where there is none; `candidates` are the transitions a
    state tries, in order.
    """

    id: str
    name: str
    is_state: bool
    layer: int
    groups: tuple[int, ...]
    clip: ProgramClip | None
    speed: ProgramSpeed
    rules: tuple[ProgramRule, ...]
    on_enter: tuple[ProgramSet, ...]
    on_leave: tuple[ProgramSet, ...]
    start: int
    remembers: bool
    candidates: tuple[int, ...]
    spread: tuple[ProgramPlaced, ...] = ()
    along: tuple[Compiled | None, ...] = ()
    spans: tuple[float, ...] = ()


class ProgramLayer(NamedTuple):
    """A layer and the state it starts in, -1 for one that has no states."""

    id: str
    name: str
    start: int
    mask: tuple[str, ...]


class ProgramIntent(NamedTuple):
    """An intent. `threshold` and `buffer` are in units; `rivals` are the other intents of its action."""

    id: str
    name: str
    action: int
    gesture: str
    threshold: int
    buffer: int
    rivals: tuple[int, ...]


class ProgramValue(NamedTuple):
    """A sense or memo and its value at the start."""

    id: str
    name: str
    type: str
    start: Any


class Problem(NamedTuple):
    """Something the compiler had to leave out. `where` is the kind and id of the entry it was found in."""

    where: tuple[str, str]
    text: str


class Program(NamedTuple):
    """A puppet, compiled. Indices in it are places in these tuples; `places` gives them by (kind, id)."""

    name: str
    rate: int
    layers: tuple[ProgramLayer, ...]
    nodes: tuple[ProgramNode, ...]
    transitions: tuple[ProgramTransition, ...]
    actions: tuple[str, ...]
    intents: tuple[ProgramIntent, ...]
    senses: tuple[ProgramValue, ...]
    memos: tuple[ProgramValue, ...]
    windows: tuple[str, ...]
    facing_sense: int
    facing_up: int
    facing_start: str
    places: dict[tuple[str, str], int]
    problems: tuple[Problem, ...]
