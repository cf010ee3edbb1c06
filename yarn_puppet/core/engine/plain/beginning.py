"""How a puppet begins, and how a tick does: what is sensed, what came back to its start, what
passed a threshold, what the controls did. Steps 1 and 2 of docs/semantics.md."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, NamedTuple

from ...rules.evaluate import Reading
from ..program import Program
from ..program_clips import FULL, NOWHERE
from ..state import (
    IDLE,
    NO_HITS,
    Inputs,
    LayerState,
    MachineState,
)
from .choose import Mutable, destination, do_deeds, enter, fill
from .controls import advance_controls, older, one_edge_a_tick, readable
from .dice import seeded
from .sequences import Reached, no_steps

NO_STATE = LayerState(-1, 0, 0, 0, True, False, 0, 0, 0, NO_HITS, 0, None)
"""A layer without states."""


def initial_state(program: Program, seed: int = 1) -> MachineState:
    """The state before tick 0: every layer in its start state, which plays for the first time in
    tick 0. The dice begin with a seed of 0 to 2³² - 1."""
    now = Mutable(
        program, [NO_STATE] * len(program.layers), [IDLE] * len(program.actions),
        [-1] * len(program.intents),
        [memo.start for memo in program.memos], [-1] * len(program.memos), {},
        [-1] * len(program.remembering),
    )
    for number, layer in enumerate(program.layers):
        if layer.start != NOWHERE:
            # Nothing is remembered yet in this layer, so this is its start.
            enter(now, number, destination(program, layer.start, [-1] * len(program.remembering)),
                  0)
    thresholds = (False,) * len(program.thresholds)
    reading = reading_of(now, tuple([sense.start for sense in program.senses]), thresholds,
                         program.facing_start)
    for number, each in enumerate(now.layers):
        if each.state >= 0:
            fill(reading, now, number)
            do_deeds(reading, now, program.states[each.state].on_enter)
    return MachineState(
        0, tuple(now.layers), tuple(now.actions), tuple(now.lives), tuple(now.memos),
        program.facing_start,
        tuple(now.remembered), (), no_steps(program), tuple(now.memo_lives), (), thresholds,
        tuple([FULL if layer.shown_when is None else 0 for layer in program.layers]), (),
        dice=seeded(seed), picked=(-1,) * program.picked_count,
    )


def reading_of(
    now: Mutable, senses: Sequence[Any], thresholds: Sequence[bool], facing: str
) -> Reading:
    """A reading of this tick's intents, senses, memos and thresholds; `fill` adds what differs
    between layers."""
    reading = Reading()
    reading.armed = readable(now.program, now.actions, now.lives)
    reading.senses = senses
    reading.memos = [now.held.get(index, value) for index, value in enumerate(now.memos)]
    reading.thresholds = thresholds
    reading.facing = facing
    return reading


class TickStart(NamedTuple):
    """A tick after its steps 1 and 2, ready for choosing."""

    now: Mutable
    reading: Reading
    sequences: tuple[Reached, ...]
    waiting: tuple[int, ...]


def begin(program: Program, state: MachineState, inputs: Inputs) -> TickStart:
    """Steps 1 and 2: the controls and senses of this tick."""
    lives = list(state.armed) if inputs.stopped else older(state.armed)
    memos, memo_lives = list(state.memos), list(state.memo_lives)
    if not inputs.stopped:
        return_memos(program, memos, memo_lives)
    down, waiting = inputs.down, state.waiting
    if waiting or inputs.edges:
        down, waiting = one_edge_a_tick(state.actions, waiting, down, inputs.edges)
    actions, sequences = advance_controls(
        program, state.tick, state.actions, lives, state.sequences, down, inputs.stopped)
    now = Mutable(
        program, list(state.layers), actions, lives, memos, memo_lives, dict(state.held),
        list(state.remembered),
        inputs.stopped,
    )
    reading = reading_of(now, with_events(inputs.senses, state.events), state.thresholds,
                         state.facing)
    if not inputs.stopped:
        reading.thresholds = passed_thresholds(
            program, reading.senses, reading.memos, state.thresholds)
    return TickStart(now, reading, sequences, waiting)


def return_memos(program: Program, memos: list[Any], lives: list[int]) -> None:
    """Memos that were not set for long go back to their start, in place."""
    for index, life in enumerate(lives):
        if life > 0:
            lives[index] = life - 1 if life > 1 else -1
            if life == 1:
                memos[index] = program.memos[index].start


def passed_thresholds(
    program: Program, senses: Sequence[Any], memos: Sequence[Any], were: Sequence[bool]
) -> tuple[bool, ...]:
    """Which thresholds are on, by which were on and what their values are now."""
    found = []
    for each, before in zip(program.thresholds, were, strict=True):
        if each.source is None:
            found.append(before)
            continue
        value = (senses if each.source.operator == "sense" else memos)[
            each.source.value]  # type: ignore[index]
        if each.on >= each.off:
            found.append(value >= each.on or (before and value >= each.off))
        else:
            found.append(value <= each.on or (before and value <= each.off))
    return tuple(found)


def with_events(senses: tuple[Any, ...], events: tuple[int, ...]) -> tuple[Any, ...]:
    """The senses of a tick, with those true that are kept."""
    return (
        tuple([index in events or value for index, value in enumerate(senses)])
        if events
        else senses
    )


def kept_events(program: Program, senses: tuple[Any, ...], stopped: bool) -> tuple[int, ...]:
    """The places of the senses that report an event which no tick that chooses has read yet."""
    if not stopped:
        return ()
    return tuple([index for index, sense in enumerate(program.senses)
                  if sense.event and senses[index]])
