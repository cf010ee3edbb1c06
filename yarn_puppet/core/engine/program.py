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
    deeds: tuple[ProgramDeed, ...]


FULL = 1_000_000
"""A whole share: shares are counted in millionths."""


class ProgramRule(NamedTuple):
    """A while-rule. `number` is its place among those of its owner.

    Its share grows by `rise` in a tick in which it is in force, and falls by `fall` in one in which it is not; `FULL`
    is all of it at once. `place` is that of the memo or layer it is for; `text` the id of a prop's anchor, the name of
    a box or a colour; `to` what a memo reads as; `shows` a prop's picture or clip.
    """

    kind: str
    value: float
    number: int = 0
    rise: int = FULL
    fall: int = FULL
    place: int = -1
    text: str = ""
    to: Any = None
    shows: str = ""

    @property
    def eased(self) -> bool:
        """Whether it comes or goes over more than a tick."""
        return self.rise < FULL or self.fall < FULL


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


class ProgramDeed(NamedTuple):
    """Sets the memo at `place` to the value of `value`, or arms or drops the intent at `place`."""

    kind: str
    place: int
    value: Tree | None


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
    """A transition. `source` and `target` are nodes; `after` is in units; `condition` is None for always, `blend` for a
    cut.

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
    blend: ProgramBlend | None


class ProgramBlend(NamedTuple):
    """A crossfade over `units`, at least one. `frozen`: what fades stands still."""

    units: int
    easing: str
    frozen: bool


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
    the places of each value lie; the clip that plays holds on until another is nearer by more than `hold` of them.
    """

    id: str
    name: str
    layer: int
    groups: tuple[int, ...]
    clip: ProgramClip | None
    speed: ProgramSpeed
    rules: tuple[ProgramRule, ...]
    on_enter: tuple[ProgramDeed, ...]
    on_leave: tuple[ProgramDeed, ...]
    spread: tuple[ProgramPlaced, ...]
    along: tuple[Tree | None, ...]
    spans: tuple[float, ...]
    hold: float
    deaf_to: frozenset[str]
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
    deaf_to: frozenset[str]
    exits: Exits


class ProgramLayer(NamedTuple):
    """A layer and the node it starts in, NOWHERE for one that has no states.

    It is shown by `weight`, where it has a condition while that holds; its share then rises and falls by so much in a
    tick.
    """

    id: str
    name: str
    start: int
    mask: tuple[str, ...]
    weight: float
    shown_when: ProgramCondition | None
    rise: int
    fall: int
    under: bool
    pinned_to: str | None


class ProgramIntent(NamedTuple):
    """An intent. `threshold` is in units, `life` in ticks; `action` is -1 for none; `family`: its gesture is of
    the press. It touches the actions `touches`, where it can arm at all; `steps` are those of a sequence, and
    `sequence` its place among the sequences, -1 for none."""

    id: str
    name: str
    action: int
    gesture: str
    threshold: int
    life: int
    family: bool
    even_if_used: bool
    touches: tuple[int, ...]
    steps: tuple[int, ...]
    sequence: int


class ProgramValue(NamedTuple):
    """A sense or memo and its value at the start. `event`: it reports one, and is kept until it was read.

    An int memo goes round after `wraps` steps; one that was not set for `life` ticks is at its start again. Nought for
    neither.
    """

    id: str
    name: str
    type: str
    start: Any
    choices: tuple[str, ...]
    event: bool
    wraps: int = 0
    life: int = 0


class ProgramThreshold(NamedTuple):
    """A threshold: on from `on`, off past `off`. `source` reads a number, None where it cannot."""

    id: str
    name: str
    source: Tree | None
    on: float
    off: float


class Problem(NamedTuple):
    """Something the compiler had to leave out. `where` is the kind and id of the entry it was found in."""

    where: tuple[str, str]
    text: str


class Program(NamedTuple):
    """A puppet, compiled. Places in it are indices of these tuples; `places` gives them by (kind, id), `clips` the
    clips with frames by id.

    `special` are the kinds of while-rules that need more than being told: "eased", and "playback", "memo" and
    "layer_weight" where there are such. `remembering` are the groups that remember. `intents_of[i]` are the intents of
    action i. `kept` is what the next compiling takes over: see `compiling`.
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
    thresholds: tuple[ProgramThreshold, ...]
    remembering: tuple[int, ...]
    facing_sense: int
    facing_up: int
    facing_kind: str
    facing_start: str
    special: frozenset[str]
    clips: dict[str, ProgramClip]
    places: dict[tuple[str, str], int]
    problems: tuple[Problem, ...]
    kept: Any

    def candidates(self, state: int) -> list[ProgramTransition]:
        """The transitions a state tries, in order."""
        own = self.states[state]
        deaf_to = own.deaf_to
        overriding, plain = [own.exits.overriding], [own.exits.plain]
        for group in own.groups:
            around = self.groups[group]
            for exits, found in ((around.exits.overriding, overriding), (around.exits.plain, plain)):
                found.append(tuple([each for each in exits if each.id not in deaf_to]) if deaf_to else exits)
            deaf_to = deaf_to | around.deaf_to if around.deaf_to else deaf_to
        return [each for exits in (*reversed(overriding), *plain) for each in exits]

    def node_name(self, node: int) -> str:
        """A node in words."""
        return self.states[node].name if node >= 0 else self.groups[~node].name

    def node_id(self, node: int) -> str:
        """The id of a node."""
        return self.states[node].id if node >= 0 else self.groups[~node].id
