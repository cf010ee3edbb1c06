"""A puppet compiled: names resolved to places, conditions to typed trees, clips to tables of one cycle.

Times here are whole numbers of *units*. A tick is `TICK` units at any rate, and a millisecond is `rate` units, so
that frame borders and ticks compare exactly; floats would let a window open a tick early or late. The rules of a tick
are in docs/semantics.md.
"""

from __future__ import annotations

from typing import Any, NamedTuple

from ..rules.bind import Tree

TICK = 1000
"""Units in one tick. A millisecond is `rate` units: rate × 1000 units make a second either way."""

NOWHERE = -(1 << 60)
"""The node that is none. A state is its place among the states, a group ~ of its place among the groups."""


class ProgramMoment(NamedTuple):
    """A moment of a clip, at `at` units of its cycle.

    `number` is its place among the moments of its kind and name in the clip. The other fields are those of the model,
    for who acts on it.
    """

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
    number: int


class ProgramRule(NamedTuple):
    """A while-rule."""

    kind: str
    value: float


class ProgramWindow(NamedTuple):
    """A window of a clip, from `start` to before `end` units of its cycle.

    `names` are what `window("…")` may ask for: its name and its kind. `into` holds the ids of the nodes it lets in,
    empty for any. `frame` is the frame it opens on. `held` keeps it open at the end of a clip that holds its last
    frame. `number` is its place among the windows of its kind and name.
    """

    id: str
    start: int
    end: int
    kind: str
    name: str
    names: tuple[str, ...]
    into: tuple[str, ...]
    damage: int
    rules: tuple[ProgramRule, ...]
    frame: int
    held: bool
    push: float
    hit_stop: int
    number: int


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
    """Sets memo `memo` to the value of `value`."""

    memo: int
    value: Tree


class ProgramSpeed(NamedTuple):
    """Clip speed: `fixed`, or where `source` is given, that value's low..high mapped to slow..fast."""

    fixed: float
    source: Tree | None = None
    low: float = 0.0
    high: float = 1.0
    slow: float = 1.0
    fast: float = 1.0


class ProgramTerm(NamedTuple):
    """One term of a condition, for explaining: its text over names, its tree, and the (kind, place) of what it
    reads."""

    text: str
    tree: Tree
    reads: tuple[tuple[str, Any], ...]


class ProgramCondition(NamedTuple):
    """A condition: its tree and its terms."""

    tree: Tree
    terms: tuple[ProgramTerm, ...]


class ProgramTransition(NamedTuple):
    """A transition. `source` and `target` are nodes; `after` is in units; `condition` is None for always.

    `lets_in` are the ids of the target and of the groups around it: a window must name one of them, or none at all.
    """

    id: str
    source: int
    target: int
    condition: ProgramCondition | None
    leave: str
    after: int
    window: str
    lets_in: tuple[str, ...]
    overrides: bool
    reenters: bool
    blend: str
    blend_ticks: float
    easing: str


class Exits(NamedTuple):
    """The usable transitions of one owner: those that override, then the others, each in order."""

    overriding: tuple[ProgramTransition, ...] = ()
    plain: tuple[ProgramTransition, ...] = ()


class ProgramPlaced(NamedTuple):
    """A clip of a spread and its place along the spread's one or two values."""

    clip: ProgramClip
    place: tuple[float, ...]


class ProgramState(NamedTuple):
    """A state. `groups` are the places of the groups around it, inside out.

    A state plays its `clip`, or of its `spread` the clip placed nearest to the values `along` which it is drawn,
    where None stands for the facing in degrees; `clip` is then the first of them. `spans` are the widths over which
    the places of each value lie.
    """

    id: str
    name: str
    layer: int
    groups: tuple[int, ...]
    clip: ProgramClip | None
    speed: ProgramSpeed
    rules: tuple[ProgramRule, ...]
    on_enter: tuple[ProgramSet, ...]
    on_leave: tuple[ProgramSet, ...]
    spread: tuple[ProgramPlaced, ...]
    along: tuple[Tree | None, ...]
    spans: tuple[float, ...]
    exits: Exits


class ProgramGroup(NamedTuple):
    """A group. `start` is the node entered, NOWHERE where it holds no state; `memory` its place in what is
    remembered."""

    id: str
    name: str
    layer: int
    groups: tuple[int, ...]
    rules: tuple[ProgramRule, ...]
    start: int
    memory: int
    exits: Exits


class ProgramLayer(NamedTuple):
    """A layer and the node it starts in, NOWHERE for one that has no states."""

    id: str
    name: str
    start: int
    mask: tuple[str, ...]


class ProgramIntent(NamedTuple):
    """An intent. `threshold` is in units, `life` in ticks; `action` is -1 for none; `family`: its gesture is of
    the press."""

    id: str
    name: str
    action: int
    gesture: str
    threshold: int
    life: int
    family: bool
    even_if_used: bool


class ProgramValue(NamedTuple):
    """A sense or memo and its value at the start. `event`: it reports one, and is kept until it was read."""

    id: str
    name: str
    type: str
    start: Any
    choices: tuple[str, ...]
    event: bool


class Problem(NamedTuple):
    """Something the compiler had to leave out. `where` is the kind and id of the entry it was found in."""

    where: tuple[str, str]
    text: str


class Program(NamedTuple):
    """A puppet, compiled. Places in it are indices of these tuples; `places` gives them by (kind, id), `clips` the
    clips with frames by id.

    `remembering` are the groups that remember. `intents_of[i]` are the intents of action i. `kept` is what the next
    compiling takes over: see `compiling`.
    """

    name: str
    rate: int
    layers: tuple[ProgramLayer, ...]
    states: tuple[ProgramState, ...]
    groups: tuple[ProgramGroup, ...]
    transitions: tuple[ProgramTransition, ...]
    actions: tuple[str, ...]
    intents: tuple[ProgramIntent, ...]
    intents_of: tuple[tuple[int, ...], ...]
    senses: tuple[ProgramValue, ...]
    memos: tuple[ProgramValue, ...]
    remembering: tuple[int, ...]
    facing_sense: int
    facing_up: int
    facing_start: str
    clips: dict[str, ProgramClip]
    places: dict[tuple[str, str], int]
    problems: tuple[Problem, ...]
    kept: Any

    def candidates(self, state: int) -> list[ProgramTransition]:
        """The transitions a state tries, in order."""
        own = self.states[state]
        around = [self.groups[group].exits for group in own.groups]
        found = [each for exits in reversed(around) for each in exits.overriding]
        found += own.exits.overriding
        found += own.exits.plain
        found += [each for exits in around for each in exits.plain]
        return found

    def node_name(self, node: int) -> str:
        """A node in words."""
        return self.states[node].name if node >= 0 else self.groups[~node].name

    def node_id(self, node: int) -> str:
        """The id of a node."""
        return self.states[node].id if node >= 0 else self.groups[~node].id
