"""Steps 3 and 4 of a tick: which transition a layer takes, and taking it."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from ..rules.evaluate import Reading, used_by, value_of
from ..rules.numbers import fitted
from .controls import use_up
from .play import clip_of, own_time
from .program import NOWHERE, TICK, Program, ProgramSet, ProgramTransition
from .state import NO_HITS, ActionState, LayerState, Taken

MOST_PASSED = 8
"""States that play nothing which one tick may go through."""


class Mutable:
    """What changes while a tick is worked out; it never leaves the tick."""

    __slots__ = ("actions", "layers", "lives", "memos", "program", "remembered", "stuck", "taken", "used")

    def __init__(
        self, program: Program, layers: list[LayerState], actions: list[ActionState], lives: list[int],
        memos: list[Any], remembered: list[int],
    ) -> None:
        self.program = program
        self.layers = layers
        self.actions = actions
        self.lives = lives
        self.memos = memos
        self.remembered = remembered
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
    reading.loops = layer.loops
    active: list[str] = []
    windows: list[str] = []
    for each in now.layers:
        if each.state >= 0:
            other = program.states[each.state]
            active += (other.id, *(program.groups[group].id for group in other.groups))
            if each.open and (playing := clip_of(other, each)) is not None:
                windows += [
                    name for place, window in enumerate(playing.windows) if each.open >> place & 1
                    for name in window.names
                ]
    reading.active = frozenset(active)
    reading.windows = frozenset(windows)


def choose(reading: Reading, now: Mutable, number: int) -> None:
    """Take at most one transition in layer `number`, and on through states that play nothing."""
    passed = 0
    while passed <= MOST_PASSED:
        fill(reading, now, number)
        found = first_open(reading, now, number)
        if found is None:
            return
        take(reading, now, number, *found)
        if now.program.states[now.layers[number].state].clip is not None:
            return
        passed += 1
    now.stuck = True


def first_open(reading: Reading, now: Mutable, number: int) -> tuple[ProgramTransition, tuple[int, ...]] | None:
    """The first candidate that can be taken, and the intents that it uses up."""
    program, layer = now.program, now.layers[number]
    for transition in program.candidates(layer.state):
        if not may_leave(program, layer, transition):
            continue
        used = () if transition.condition is None else used_by(transition.condition.tree, reading)
        if used is None:
            continue
        if not transition.reenters and destination(program, transition.target, now.remembered) == layer.state:
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
        for place, window in enumerate(clip.windows) if layer.open >> place & 1
    )


def destination(program: Program, target: int, remembered: Sequence[int]) -> int:
    """The state that entering a node ends in. A group gives the state it remembers, or else its start."""
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
    reading: Reading, now: Mutable, number: int, transition: ProgramTransition, used: tuple[int, ...]
) -> None:
    """Use up the intents, leave the one state and enter the other."""
    program, layer = now.program, now.layers[number]
    for index in use_up(program, used, now.actions, now.lives):
        now.used.append(program.intents[index].id)
    for place, intent in enumerate(program.intents):
        if intent.gesture != "held":
            reading.armed[place] = now.lives[place] >= 0  # type: ignore[index]
    target = destination(program, transition.target, now.remembered)
    leaving, entering = program.states[layer.state], program.states[target]
    apply_sets(reading, now, leaving.on_leave)
    enter(now, number, target, layer.serial + 1)
    if entering.on_enter:
        fill(reading, now, number)
        apply_sets(reading, now, entering.on_enter)
    now.taken.append(
        Taken(
            program.layers[number].id, transition.id, leaving.id, entering.id,
            tuple([term.text for term in transition.condition.terms]) if transition.condition else (),
        )
    )


def enter(now: Mutable, number: int, state: int, serial: int) -> None:
    """Put a layer into a state, and let the groups around it that remember do so."""
    now.layers[number] = LayerState(state, 0, 0, 0, True, False, 0, serial, 0, NO_HITS)
    for group in now.program.states[state].groups:
        memory = now.program.groups[group].memory
        if memory >= 0:
            now.remembered[memory] = state


def apply_sets(reading: Reading, now: Mutable, sets: tuple[ProgramSet, ...]) -> None:
    """Set memos one after the other; each sees what the one before it set. A text that is no choice sets nothing."""
    for each in sets:
        memo = now.program.memos[each.memo]
        value = value_of(each.value, reading)
        now.memos[each.memo] = fitted(value, memo.type, memo.choices, now.memos[each.memo])
