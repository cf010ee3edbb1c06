"""What goes into a tick and what comes out: machine state, inputs and report. All immutable."""

from __future__ import annotations

from typing import Any, NamedTuple

from .program import ProgramMoment, ProgramRule, ProgramWindow


class Inputs(NamedTuple):
    """One tick's inputs: `down[i]` whether action i is down, `senses[i]` the value of sense i.

    `landed` holds the indices of the layers whose hit window met its target in the tick before; while `stopped`, as
    by a hit stop, controls are still read, and all else stands still.
    """

    down: tuple[bool, ...]
    senses: tuple[Any, ...]
    landed: tuple[int, ...] = ()
    stopped: bool = False


class ActionState(NamedTuple):
    """An action: down since tick `pressed`; `previous` is the press before that one, both -1 for never."""

    down: bool
    pressed: int
    previous: int


class LayerState(NamedTuple):
    """Where a layer is. `time` is units into the clip's cycle; `open` indexes the clip's windows.

    `fresh` until the state has played once; `ended` when the last tick reached the clip's end, or a loop's seam.
    `serial` counts entries, so that a window of one visit is never taken for that of another. `variant` indexes the
    state's spread. `landed` once a hit of this visit has; `waiting` are the moments whose time came before that.
    """

    state: int
    entered: int
    time: int
    loops: int
    fresh: bool
    ended: bool
    open: tuple[int, ...]
    serial: int
    variant: int = 0
    landed: bool = False
    waiting: tuple[int, ...] = ()


class MachineState(NamedTuple):
    """All that a puppet carries from one tick to the next. `tick` is the number of the tick to come.

    `armed[i]` is the tick at which intent i was armed, -1 when it is not; `remembered[i]` the state that group
    node i was last in, -1 for none.
    """

    tick: int
    layers: tuple[LayerState, ...]
    actions: tuple[ActionState, ...]
    armed: tuple[int, ...]
    memos: tuple[Any, ...]
    facing: str
    remembered: tuple[int, ...]


class LayerReport(NamedTuple):
    """A layer at the end of a tick. Ids, not indices; times in seconds.

    `blend` is the weight of the new pose against the one before it, and `weights` are the clips on show with their
    shares: one clip at 1.0 until crossfades are played. `serial` counts the entries so far.
    """

    layer: str
    state: str
    groups: tuple[str, ...]
    clip: str | None
    clip_time: float
    frame: int
    blend: float
    elapsed: float
    loops: int
    done: bool
    weights: tuple[tuple[str, float], ...]
    serial: int


class Taken(NamedTuple):
    """A transition taken, with the terms that made it true."""

    layer: str
    transition: str
    source: str
    target: str
    terms: tuple[str, ...]


class Fired(NamedTuple):
    """A moment fired in `clip`, on `frame`."""

    layer: str
    clip: str
    frame: int
    moment: ProgramMoment


class Open(NamedTuple):
    """A window open in this tick. `serial` tells one visit to a state from another."""

    layer: str
    clip: str
    frame: int
    serial: int
    window: ProgramWindow


class InForce(NamedTuple):
    """A while-rule in force and the id of the state, group or window that brings it."""

    owner: str
    rule: ProgramRule


class Report(NamedTuple):
    """What happened in a tick. `move_speed` and the locks are the while-rules taken together."""

    tick: int
    layers: tuple[LayerReport, ...]
    facing: str
    senses: tuple[Any, ...]
    memos: tuple[Any, ...]
    armed: tuple[str, ...]
    used: tuple[str, ...]
    moments: tuple[Fired, ...]
    windows: tuple[Open, ...]
    rules: tuple[InForce, ...]
    taken: tuple[Taken, ...]
    move_speed: float
    lock_movement: bool
    lock_facing: bool
    stuck: bool
    """Whether the tick went through more states that play nothing than it may."""
