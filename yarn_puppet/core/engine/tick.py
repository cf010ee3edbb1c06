"""The tick: a pure function from a program, a state and inputs to the next state and a report.

This is the plain reference, written to be read beside docs/semantics.md. `core/generate` makes a faster one of the same
program, which is compared with it.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, NamedTuple

from ..rules.evaluate import Reading
from ..rules.numbers import real
from .choose import Mutable, apply_sets, choose, destination, enter, fill
from .controls import advance_controls, readable
from .play import (
    clip_of,
    frame_at,
    in_variant,
    nearest,
    own_time,
    play,
    shown_windows,
    sorted_moments,
    units_per_tick,
    values_along,
)
from .program import NOWHERE, TICK, Program, ProgramState
from .state import (
    IDLE,
    NO_HITS,
    Fired,
    InForce,
    Inputs,
    Landed,
    LayerReport,
    LayerState,
    MachineState,
    Open,
    PassHits,
    Report,
)

NO_STATE = LayerState(-1, 0, 0, 0, True, False, 0, 0, 0, NO_HITS)
"""A layer without states."""


def initial_state(program: Program) -> MachineState:
    """The state before tick 0: every layer in its start state, which plays for the first time in tick 0."""
    now = Mutable(
        program, [NO_STATE] * len(program.layers), [IDLE] * len(program.actions), [-1] * len(program.intents),
        [memo.start for memo in program.memos], [-1] * len(program.remembering),
    )
    for number, layer in enumerate(program.layers):
        if layer.start != NOWHERE:
            # Nothing is remembered yet in this layer, so this is its start.
            enter(now, number, destination(program, layer.start, [-1] * len(program.remembering)), 0)
    reading = reading_of(now, tuple([sense.start for sense in program.senses]), program.facing_start)
    for number, each in enumerate(now.layers):
        if each.state >= 0:
            fill(reading, now, number)
            apply_sets(reading, now, program.states[each.state].on_enter)
    return MachineState(
        0, tuple(now.layers), tuple(now.actions), tuple(now.lives), tuple(now.memos), program.facing_start,
        tuple(now.remembered), (),
    )


def reading_of(now: Mutable, senses: Sequence[Any], facing: str) -> Reading:
    """A reading of this tick's intents, senses and memos; `fill` adds what differs between layers."""
    reading = Reading()
    reading.armed = readable(now.program, now.actions, now.lives)
    reading.senses = senses
    reading.memos = now.memos
    reading.facing = facing
    return reading


def begin(program: Program, state: MachineState, inputs: Inputs) -> tuple[Mutable, Reading]:
    """Steps 1 and 2: the controls and senses of this tick, ready for choosing."""
    actions, lives = advance_controls(program, state.tick, state.actions, state.armed, inputs.down, inputs.stopped)
    now = Mutable(program, list(state.layers), actions, lives, list(state.memos), list(state.remembered))
    return now, reading_of(now, with_events(inputs.senses, state.events), state.facing)


def with_events(senses: tuple[Any, ...], events: tuple[int, ...]) -> tuple[Any, ...]:
    """The senses of a tick, with those true that are kept."""
    return tuple([place in events or value for place, value in enumerate(senses)]) if events else senses


def kept_events(program: Program, senses: tuple[Any, ...], stopped: bool) -> tuple[int, ...]:
    """The places of the senses that report an event which no tick that chooses has read yet."""
    if not stopped:
        return ()
    return tuple([place for place, sense in enumerate(program.senses) if sense.event and senses[place]])


def tick(program: Program, state: MachineState, inputs: Inputs) -> tuple[MachineState, Report]:
    """One tick of 1 / rate seconds. Pure: the same arguments give the same result in every process."""
    now, reading = begin(program, state, inputs)
    happened = Happened([], [], [], [])
    for news in inputs.landed:
        hear(now, news, happened)
    if not inputs.stopped:
        for number, layer in enumerate(now.layers):
            if layer.state >= 0:
                choose(reading, now, number)
        for number, layer in enumerate(now.layers):
            if layer.state >= 0:
                play_layer(reading, now, number, happened)
    for number, layer in enumerate(now.layers):
        if layer.state >= 0:
            tell_layer(now, number, happened)
    rules = happened.rules + [InForce(each.window.id, rule) for each in happened.windows for rule in each.window.rules]
    move_speed, lock_movement, lock_facing = combined(rules)
    senses = tuple(reading.senses)
    facing = state.facing
    if program.facing_sense >= 0 and not lock_facing and not inputs.stopped:
        facing = turned(program, facing, senses)
    after = MachineState(
        state.tick + 1, tuple(now.layers), tuple(now.actions), tuple(now.lives), tuple(now.memos), facing,
        tuple(now.remembered), kept_events(program, senses, inputs.stopped),
    )
    return after, Report(
        state.tick, tuple(happened.layers), facing, senses, after.memos, armed_ids(program, now.lives), tuple(now.used),
        tuple(happened.moments), tuple(happened.windows), tuple(rules), tuple(now.taken), move_speed, lock_movement,
        lock_facing, now.stuck,
    )


def armed_ids(program: Program, lives: Sequence[int]) -> tuple[str, ...]:
    """The ids of the intents that are armed."""
    return tuple([intent.id for intent, life in zip(program.intents, lives, strict=True) if life >= 0])


def turned(program: Program, facing: str, senses: tuple[Any, ...]) -> str:
    """The facing after a tick: where the senses it follows point, or as it is where they point nowhere."""
    across = senses[program.facing_sense]
    up = senses[program.facing_up] if program.facing_up >= 0 else 0
    side = "right" if across > 0 else "left" if across < 0 else facing
    if not up:
        return side
    height = "up" if up > 0 else "down"
    if abs(across) == abs(up):
        return facing if facing in (side, height) else side
    return side if abs(across) > abs(up) else height


class Happened(NamedTuple):
    """What the layers of a tick give to its report, while it is being gathered."""

    layers: list[LayerReport]
    moments: list[Fired]
    windows: list[Open]
    rules: list[InForce]


def hear(now: Mutable, news: Landed, happened: Happened) -> None:
    """Step 3: a hit landed; what waited for it in its pass fires, on the frame that was on show."""
    if not 0 <= news.layer < len(now.layers):
        return
    layer = now.layers[news.layer]
    clip = clip_of(now.program.states[layer.state], layer) if layer.state >= 0 else None
    if clip is None or layer.serial != news.visit:
        return
    landed, waiting, late = layer.hits
    if news.loops == layer.loops:
        fired, hits = waiting, PassHits(True, (), late)
    elif news.loops == layer.loops - 1:
        fired, hits = late, PassHits(landed, waiting, ())
    else:
        return
    frame, id = frame_at(clip, layer.time), now.program.layers[news.layer].id
    happened.moments.extend([Fired(id, clip.id, frame, layer.serial, clip.moments[place]) for place in fired])
    now.layers[news.layer] = layer._replace(hits=hits)


def play_layer(reading: Reading, now: Mutable, number: int, happened: Happened) -> None:
    """Step 5 for one layer: its clip goes on, and what that brings about is gathered."""
    program, layer = now.program, now.layers[number]
    state = program.states[layer.state]
    if state.spread or state.speed.source is not None:
        fill(reading, now, number)
    if state.spread and (variant := nearest(state, values_along(state, reading))) != layer.variant:
        layer = now.layers[number] = in_variant(state, layer, variant)
        fill(reading, now, number)
    clip = clip_of(state, layer)
    if clip is None:
        now.layers[number] = layer._replace(ticks=layer.ticks + 1, fresh=False, ended=True)
        return
    played = play(clip, layer.time, layer.fresh, units_per_tick(state.speed, reading))
    fired, hits = sorted_moments(played, clip, layer.hits)
    now.layers[number] = LayerState(
        layer.state, layer.ticks + 1, played.time, layer.loops + played.loops, False, played.ended, played.open,
        layer.serial, layer.variant, hits,
    )
    id, frame = program.layers[number].id, frame_at(clip, played.time)
    happened.moments.extend([Fired(id, clip.id, frame, layer.serial, clip.moments[place]) for place in fired])


def tell_layer(now: Mutable, number: int, happened: Happened) -> None:
    """Steps 6 and 8 for one layer: where it is, which windows are open, which while-rules it brings."""
    program, layer = now.program, now.layers[number]
    state = program.states[layer.state]
    id, clip = program.layers[number].id, clip_of(state, layer)
    frame, clip_time = 0, 0.0
    if clip is not None:
        frame, clip_time = frame_at(clip, layer.time), own_time(clip, layer.time) / (TICK * program.rate)
        happened.windows.extend([
            Open(id, clip.id, shown, late, clip.windows[place]) for place, shown, late in shown_windows(clip, layer)
        ])
    happened.rules.extend([InForce(state.id, rule) for rule in state.rules])
    for group in state.groups:
        owner = program.groups[group]
        happened.rules.extend([InForce(owner.id, rule) for rule in owner.rules])
    happened.layers.append(layer_report(program, id, state, layer, clip_time, frame))


def layer_report(
    program: Program, id: str, state: ProgramState, layer: LayerState, clip_time: float, frame: int
) -> LayerReport:
    """The report of one layer."""
    clip = clip_of(state, layer)
    return LayerReport(
        id, state.id, tuple([program.groups[group].id for group in state.groups]), clip.id if clip else None, clip_time,
        frame, 1.0, layer.ticks / program.rate, layer.loops, layer.ended or clip is None,
        ((clip.id, 1.0),) if clip else (), layer.serial,
    )


def combined(rules: Sequence[InForce]) -> tuple[float, bool, bool]:
    """The speed factors multiplied, and whether movement and facing are locked."""
    factor, lock_movement, lock_facing = 1.0, False, False
    for each in rules:
        if each.rule.kind == "move_speed":
            factor = real(factor * each.rule.value)
        elif each.rule.kind == "lock_movement":
            lock_movement = True
        else:
            lock_facing = True
    return factor, lock_movement, lock_facing
