"""What goes into a tick and what comes out: machine state, inputs and report. All immutable."""

from __future__ import annotations

from typing import Any, NamedTuple

from .program_clips import ProgramMoment, ProgramRule, ProgramWindow


class Landed(NamedTuple):
    """News of a hit: the place of the layer, the visit to a state and the pass of its clip whose
    window met a target."""

    layer: int
    visit: int
    cycle: int


class Inputs(NamedTuple):
    """One tick's inputs: `down[i]` whether action i is down, `senses[i]` the value of sense i, of
    its type.

    `landed` are the hits of the tick before; while `stopped`, as by a hit stop, controls are still
    read, and all else stands still. `edges[i]` is how often action i went down or up since the tick
    before, where that is more than its level tells; empty where it is not.
    """

    down: tuple[bool, ...]
    senses: tuple[Any, ...]
    landed: tuple[Landed, ...] = ()
    stopped: bool = False
    edges: tuple[int, ...] = ()


class ActionState(NamedTuple):
    """An action. `since` is the tick in which its last press began, `first` that of one that may be
    the first of a double tap; -1 for none. `spent`: the last press was used. `owns`: what is armed
    was armed by the last press.
    """

    down: bool
    since: int
    first: int
    spent: bool
    owns: bool


IDLE = ActionState(False, -1, -1, False, False)
"""An action that was never down."""


class CycleHits(NamedTuple):
    """`landed`: the present pass has hit. `waiting` are the moments that wait in it, `late` those
    of the pass before."""

    landed: bool
    waiting: tuple[int, ...]
    late: tuple[int, ...]


NO_HITS = CycleHits(False, (), ())


class OnShow(NamedTuple):
    """A clip that fades: that of a state and variant, -1 for nothing; where it is, by how much it
    goes on in a tick, and the share it had as it was left."""

    state: int
    variant: int
    time: int
    advance: int
    had: int


class Blending(NamedTuple):
    """A crossfade that is under way, `done` of `units`. `old` is what fades, the oldest first."""

    done: int
    units: int
    easing: str
    old: tuple[OnShow, ...]


class LayerState(NamedTuple):
    """Where a layer is. `ticks` were played in this state; `time` is units into the clip's cycle.

    `fresh` until the state has played once; `ended` when the last tick reached the clip's end, or
    passed a loop's seam. `open` has bit i set while window i of the clip is open. `visit` counts
    visits. `variant` indexes the state's spread; `advance` is by how much the clip went on in the
    last tick. `shown` is the time on show: that with which the last tick began.
    """

    state: int
    ticks: int
    time: int
    cycle: int
    fresh: bool
    ended: bool
    open: int
    visit: int
    variant: int
    hits: CycleHits
    advance: int
    blending: Blending | None
    shown: int = 0


class RuleShare(NamedTuple):
    """How far a while-rule with an ease counts, of `FULL`. It is known by its layer's place,
    whether a window brings it, its owner's id and its own number. `out`: it is in force no more,
    and goes out."""

    layer: int
    of_window: bool
    owner: str
    rule: ProgramRule
    share: int
    out: bool


class MachineState(NamedTuple):
    """All that a puppet carries from one tick to the next. `tick` is the number of the tick to
    come.

    `armed[i]` is how many ticks intent i lives on, -1 when it is not armed; `remembered[i]` the
    state that the i-th of the program's remembering groups was last in, -1 for none; `events` the
    places of the senses that are kept. `sequences[i]` gives for sequence i the tick in which its
    first k + 1 steps began, -1 for none. `memo_lives` are the ticks after which memos are at their
    start again, -1 for never; `held` what while-rules hold memos at, by place. `thresholds` are
    those that are on, `shown` the shares by which layers are shown; `shares` those of the
    while-rules with an ease: those in force, then those that go out. `waiting[i]` is how many edges
    of action i wait for a tick of their own; empty where none does. `rules_on[i]` has for layer i
    the bits of the conditions of while-rules that held when they were read last; empty where no
    rule has one. `dice` are those by which clips are picked, see `dice`; `picked` what the states
    of `Program.picking`, then the moments of `Program.sounding` picked last, -1 for nothing.
    """

    tick: int
    layers: tuple[LayerState, ...]
    actions: tuple[ActionState, ...]
    armed: tuple[int, ...]
    memos: tuple[Any, ...]
    facing: str
    remembered: tuple[int, ...]
    events: tuple[int, ...]
    sequences: tuple[tuple[int, ...], ...]
    memo_lives: tuple[int, ...]
    held: tuple[tuple[int, Any], ...]
    thresholds: tuple[bool, ...]
    shown: tuple[int, ...]
    shares: tuple[RuleShare, ...]
    waiting: tuple[int, ...] = ()
    rules_on: tuple[int, ...] = ()
    dice: int = 1
    picked: tuple[int, ...] = ()


class Fading(NamedTuple):
    """A clip that still shows while another takes over, its frame, its own time in seconds and its
    weight."""

    clip: str
    frame: int
    clip_time: float
    weight: float


class LayerReport(NamedTuple):
    """A layer at the end of a tick. Ids, not places; times in seconds.

    `blend` is the share of its clip in what it shows, the rest being `fading`, the oldest first;
    `weight` how much of the layer is shown. `visit` counts the visits to states so far.
    """

    layer: str
    state: str
    groups: tuple[str, ...]
    clip: str | None
    clip_time: float
    frame: int
    blend: float
    elapsed: float
    cycle: int
    done: bool
    fading: tuple[Fading, ...]
    visit: int
    weight: float


class Taken(NamedTuple):
    """A transition taken, with the terms that made it true."""

    layer: str
    transition: str
    source: str
    target: str
    terms: tuple[str, ...]


class Fired(NamedTuple):
    """A moment fired in `clip`, on `frame`, in the visit `visit`. Of a sound: which of its sounds,
    counted from 0, and by how much louder and higher than its file is."""

    layer: str
    clip: str
    frame: int
    visit: int
    moment: ProgramMoment
    sound: int = 0
    volume: float = 1.0
    pitch: float = 1.0

    @property
    def file(self) -> str:
        """The picture, or the sound that is heard; empty for none."""
        heard = self.moment.heard
        return self.moment.file if heard is None else heard.files[self.sound]


class Open(NamedTuple):
    """A window open in this tick. `late`: it was open in the pass before the layer's present
    one."""

    layer: str
    clip: str
    frame: int
    late: bool
    window: ProgramWindow


class InForce(NamedTuple):
    """A while-rule that counts, by a share of 0 to 1, and the id of the state, group or window that
    brings it; `out` where that is not active any more, and the rule is easing out."""

    owner: str
    rule: ProgramRule
    layer: int
    share: float = 1.0
    out: bool = False


class Report(NamedTuple):
    """What happened in a tick. `move_speed` to `safe` are the while-rules taken together: those of
    `REPORTED`, in its order."""

    tick: int
    layers: tuple[LayerReport, ...]
    facing: str
    senses: tuple[Any, ...]
    memos: tuple[Any, ...]
    thresholds: tuple[bool, ...]
    armed: tuple[str, ...]
    used: tuple[str, ...]
    moments: tuple[Fired, ...]
    windows: tuple[Open, ...]
    rules: tuple[InForce, ...]
    taken: tuple[Taken, ...]
    move_speed: float
    gravity: float
    jump_height: float
    lock_movement: bool
    lock_facing: bool
    safe: bool
    stuck: bool
    """Whether the tick went through more states that play nothing than it may."""
