"""Steps 3 and 4 of a tick: which transition a layer takes, and taking it."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from ...model.kinds.gestures import GESTURES
from ...rules.evaluate import Reading, used_by, value_of
from ...rules.numbers import fitted
from ..program import Program, ProgramTransition
from ..program_clips import NOWHERE, TICK, ProgramDeed
from ..state import NO_HITS, ActionState, Blending, LayerState, Taken
from .blending import begun
from .controls import arm, use_up
from .play import clip_of, own_time

MOST_PASSED = 8
"""States that play nothing which one tick may go through."""


class Mutable:
    """What changes while a tick is worked out; it never leaves the tick."""

    __slots__ = (
        "actions", "held", "layers", "lives", "memo_lives", "memos", "program", "remembered",
        "stopped", "stuck",
        "taken", "used",
    )

    def __init__(
        self,
        program: Program,
        layers: list[LayerState],
        actions: list[ActionState],
        lives: list[int],
        memos: list[Any],
        memo_lives: list[int],
        held: dict[int, Any],
        remembered: list[int],
        stopped: bool = False,
    ) -> None:
        self.program = program
        self.layers = layers
        self.actions = actions
        self.lives = lives
        self.memos = memos
        self.memo_lives = memo_lives
        self.held = held
        self.remembered = remembered
        self.stopped = stopped
        self.used: list[str] = []
        self.taken: list[Taken] = []
        self.stuck = False


def fill(reading: Reading, now: Mutable, number: int) -> None:
    """Put into `reading` what the conditions of layer `number` may see."""
    program, layer = now.program, now.layers[number]
    clip = clip_of(program.states[layer.state], layer)
    reading.done = layer.ended or clip is None
    reading.elapsed = layer.ticks / program.rate
    reading.clip_time = own_time(clip, layer.time) / (TICK * program.rate) if clip else 0.0
    reading.loops = layer.cycle
    active: list[str] = []
    windows: list[str] = []
    for each in now.layers:
        if each.state >= 0:
            other = program.states[each.state]
            active += (other.id, *(program.groups[group].id for group in other.groups))
            if each.open and (playing := clip_of(other, each)) is not None:
                windows += [
                    name for index, window in enumerate(playing.windows) if each.open >> index & 1
                    for name in window.names
                ]
    reading.active = frozenset(active)
    reading.windows = frozenset(windows)


def choose(reading: Reading, now: Mutable, number: int) -> None:
    """Take at most one transition in layer `number`, and on through states that play nothing."""
    passed, before = 0, now.layers[number]
    while passed <= MOST_PASSED:
        fill(reading, now, number)
        found = first_open(reading, now, number)
        if found is None:
            return
        take(reading, now, number, before, *found)
        if now.program.states[now.layers[number].state].clip is not None:
            return
        passed += 1
    now.stuck = True


def first_open(
    reading: Reading, now: Mutable, number: int
) -> tuple[ProgramTransition, tuple[int, ...]] | None:
    """The first candidate that can be taken, and the intents that it uses up."""
    program, layer = now.program, now.layers[number]
    for transition in program.candidates(layer.state):
        if not may_leave(program, layer, transition):
            continue
        used = () if transition.condition is None else used_by(transition.condition.tree, reading)
        if used is None:
            continue
        if (
            not transition.reenters
            and destination(program, transition.target, now.remembered) == layer.state
        ):
            continue
        return transition, used
    return None


def may_leave(program: Program, layer: LayerState, transition: ProgramTransition) -> bool:
    """Whether the leave rule of a transition holds."""
    rule = transition.leave
    if rule == "any time":
        return True
    clip = clip_of(program.states[layer.state], layer)
    if rule == "at the end":
        return layer.ended or clip is None
    if rule == "after":
        return layer.ticks * TICK >= transition.after
    if clip is None:
        return False
    return any(
        transition.window in window.names
        and (not window.into or any(each in window.into for each in transition.lets_in))
        for index, window in enumerate(clip.windows) if layer.open >> index & 1
    )


def destination(program: Program, target: int, remembered: Sequence[int]) -> int:
    """The state that entering a node ends in. A group gives the state it remembers, or else its
    start."""
    while target < 0:
        group = program.groups[~target]
        if group.memory >= 0 and remembered[group.memory] >= 0:
            return remembered[group.memory]
        target = group.start
    return target


def fixed_end(program: Program, target: int) -> int | None:
    """The state that entering a node always ends in; None where a group on the way remembers."""
    while target < 0 and target != NOWHERE:
        group = program.groups[~target]
        if group.memory >= 0:
            return None
        target = group.start
    return target


def take(
    reading: Reading, now: Mutable, number: int, before: LayerState, transition: ProgramTransition,
    used: tuple[int, ...],
) -> None:
    """Use up the intents, leave the one state and enter the other. `before` is the layer as it was
    after the last tick."""
    program, layer = now.program, now.layers[number]
    for index in use_up(program, used, now.actions, now.lives):
        now.used.append(program.intents[index].id)
    read_lives(reading, now)
    target = destination(program, transition.target, now.remembered)
    leaving, entering = program.states[layer.state], program.states[target]
    do_deeds(reading, now, leaving.on_leave)
    enter(now, number, target, layer.visit + 1, begun(transition.blend, before))
    if entering.on_enter:
        fill(reading, now, number)
        do_deeds(reading, now, entering.on_enter)
    now.taken.append(
        Taken(
            program.layers[number].id, transition.id, leaving.id, entering.id,
            tuple([term.text for term in transition.condition.terms])
            if transition.condition else (),
        )
    )


def enter(
    now: Mutable, number: int, state: int, visit: int, blending: Blending | None = None
) -> None:
    """Put a layer into a state, and let the groups around it that remember do so."""
    now.layers[number] = LayerState(state, 0, 0, 0, True, False, 0, visit, 0, NO_HITS, 0, blending)
    for group in now.program.states[state].groups:
        memory = now.program.groups[group].memory
        if memory >= 0:
            now.remembered[memory] = state


def read_lives(reading: Reading, now: Mutable) -> None:
    """Let conditions see which intents are armed now."""
    for index, intent in enumerate(now.program.intents):
        if not GESTURES[intent.gesture].is_level:
            reading.armed[index] = now.lives[index] >= 0  # type: ignore[index]


def do_deeds(reading: Reading, now: Mutable, deeds: tuple[ProgramDeed, ...]) -> None:
    """Set memos, arm and drop intents, one after the other; each sees what the one before it
    did."""
    for deed in deeds:
        if deed.kind == "set":
            set_memo(reading, now, deed)
        else:
            if deed.kind == "arm":
                arm(now.program, deed.place, now.actions, now.lives, now.stopped)
            else:
                now.lives[deed.place] = -1
            read_lives(reading, now)


def set_memo(reading: Reading, now: Mutable, deed: ProgramDeed) -> None:
    """Set a memo. A text that is no choice of it sets nothing; one that a while-rule holds goes on
    reading as held."""
    memo = now.program.memos[deed.place]
    assert deed.value is not None
    value = value_of(deed.value, reading)
    if memo.type == "choice" and value not in memo.choices:
        return
    value = fitted(value, memo.type, memo.choices, now.memos[deed.place])
    if memo.wraps:
        value = memo.start + (value - memo.start) % memo.wraps
    now.memos[deed.place] = value
    if memo.life:
        now.memo_lives[deed.place] = memo.life + now.stopped
    if deed.place not in now.held:
        reading.memos[deed.place] = value  # type: ignore[index]
