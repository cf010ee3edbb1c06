"""A puppet compiled: names resolved to places, conditions to typed trees, clips to tables of one
cycle.

Times here are whole numbers of *units*, see `program_clips`. The rules of a tick are in
docs/semantics.md.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, NamedTuple

from ..model.kinds.gestures import Gesture
from ..rules.bind import Tree
from .program_clips import ProgramClip, ProgramDeed, ProgramRule, ProgramSpeed

if TYPE_CHECKING:
    from ..rules.scope import Near


class ProgramTerm(NamedTuple):
    """One term of a condition, for explaining: its text over names, its tree, and the (kind, place)
    of what it reads."""

    text: str
    tree: Tree
    reads: tuple[tuple[str, Any], ...]


class ProgramCondition(NamedTuple):
    """A condition: its tree and its terms."""

    tree: Tree
    terms: tuple[ProgramTerm, ...]


class ProgramTransition(NamedTuple):
    """A transition. `source` and `target` are nodes; `after` is in units; `condition` is None for
    always, `blend` for a cut.

    `lets_in` are the ids of the target and of the groups around it: a window must name one of them,
    or none at all.
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

    A state plays its `clip`, or of its `spread` the clip placed nearest to the values `along` which
    it is drawn, where None stands for the facing in degrees; `clip` is then the first of them.
    `spans` are the widths over which the places of each value lie; the clip that plays holds on
    until another is nearer by more than `hold` of them. Of a spread along nothing one is picked by
    `chances`, a weight for each, when it is entered and when a clip came to its end; the same one
    twice running only where it `repeats`.
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
    chances: tuple[int, ...]
    repeats: bool
    deaf_to: frozenset[str]
    exits: Exits


class ProgramGroup(NamedTuple):
    """A group. `start` is the node entered, NOWHERE where it holds no state; `memory` its place in
    what is remembered."""

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

    It is shown by `weight`, where it has a condition while that holds; its share then rises and
    falls by so much in a tick.
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
    """An intent. `threshold` is in units, `life` in ticks; `action` is -1 for none; `family`: its
    gesture is of the press. It touches the actions `touches`, where it can arm at all; `steps` are
    those of a sequence, and `sequence` its place among the sequences, -1 for none."""

    id: str
    name: str
    action: int
    gesture: Gesture
    threshold: int
    life: int
    family: bool
    even_if_used: bool
    touches: tuple[int, ...]
    steps: tuple[int, ...]
    sequence: int


class ProgramValue(NamedTuple):
    """A sense or memo and its value at the start. `event`: it reports one, and is kept until it was
    read.

    An int memo goes round after `wraps` steps; one that was not set for `life` ticks is at its
    start again. Zero for neither.
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
    """Something the compiler had to leave out. `where` is the kind and id of the entry it was found
    in; `fix` what would fix it, where that is not the same for all entries of its kind."""

    where: tuple[str, str]
    text: str
    fix: str = ""
    near: Near | None = None
    """A name that is not known, where that is what is wrong."""

    @property
    def words(self) -> str:
        """What is wrong, with the name that may have been meant."""
        return self.text + (self.near.hint if self.near is not None else "")


class ProgramSkin(NamedTuple):
    """A skin: its name, and by clip of the puppet the one that is played in its place."""

    name: str
    clips: dict[str, str]


class Program(NamedTuple):
    """A puppet, compiled. Places in it are indices of these tuples; `places` gives them by (kind,
    id), `clips` the clips with frames by id.

    `special` says what of a tick the while-rules change beside the report, see
    `WhileRuleTraits.changes`, and "eased" where one eases. `remembering` are the groups that
    remember. `intents_of[i]` are the intents of action i. `kept` is what the next compiling takes
    over: see `compiling`. `rule_conditions` are those of while-rules, each with its place: the bit
    of `MachineState.rules_on` by which it holds. `picking` are the places of the states that pick
    their clip at random. `sounding` gives the place in `MachineState.picked`, behind those, of each
    moment with several sounds, by its clip's id and its own. `skins` are those that a hand-off can
    wear beside the puppet's own look.
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
    rule_conditions: dict[Tree, int] = {}  # noqa: RUF012
    picking: tuple[int, ...] = ()
    sounding: dict[tuple[str, str], int] = {}  # noqa: RUF012
    skins: tuple[ProgramSkin, ...] = ()

    @property
    def picked_count(self) -> int:
        """How many picks a running machine remembers: of states, then of sounds."""
        return len(self.picking) + len(self.sounding)

    @property
    def throws_dice(self) -> bool:
        """Whether anything in it is picked at random."""
        return bool(self.picking) or any(
            moment.heard is not None and bool(
                len(moment.heard.chances) > 1 or moment.heard.volume_spread
                or moment.heard.pitch_spread)
            for clip in self.clips.values() for moment in clip.moments)

    def candidates(self, state: int) -> list[ProgramTransition]:
        """The transitions a state tries, in order."""
        own = self.states[state]
        deaf_to = own.deaf_to
        overriding, plain = [own.exits.overriding], [own.exits.plain]
        for group in own.groups:
            around = self.groups[group]
            for exits, found in ((around.exits.overriding, overriding),
                                 (around.exits.plain, plain)):
                found.append(tuple([each for each in exits if each.id not in deaf_to])
                             if deaf_to else exits)
            deaf_to = deaf_to | around.deaf_to if around.deaf_to else deaf_to
        return [each for exits in (*reversed(overriding), *plain) for each in exits]

    def node_name(self, node: int) -> str:
        """A node in words."""
        return self.states[node].name if node >= 0 else self.groups[~node].name

    def node_id(self, node: int) -> str:
        """The id of a node."""
        return self.states[node].id if node >= 0 else self.groups[~node].id
