"""The tick: a pure function from a program, a state and inputs to the next state and a report."""

from __future__ import annotations

from typing import NamedTuple

from ..rules.compile import Reading
from .choose import Mutable, apply_sets, choose, destination, fill
from .controls import advance_controls, readable
from .play import frame_at, own_time, play, units_per_tick
from .program import TICK, Program
from .state import (
    ActionState,
    Fired,
    InForce,
    Inputs,
    LayerReport,
    LayerState,
    MachineState,
    Open,
    Report,
)


def initial_state(program: Program) -> MachineState:
    """The state before tick 0: every layer in its start state, which plays for the first time in tick 0."""
    remembered = [-1] * len(program.nodes)
    layers = [
        LayerState(destination(program, layer.start, remembered) if layer.start >= 0 else -1, 0, 0, 0, True, False,
                   (), 0)
        for layer in program.layers
    ]
    memos = [memo.start for memo in program.memos]
    armed = [-1] * len(program.intents)
    state = MachineState(
        0, tuple(layers), (ActionState(False, -1, -1),) * len(program.actions), tuple(armed), tuple(memos),
        program.facing_start, tuple(remembered),
    )
    now = Mutable(program, 0, layers, armed, [False] * len(armed), memos, remembered)
    reading = reading_of(now, tuple(sense.start for sense in program.senses), state.facing)
    for number, layer in enumerate(layers):
        if layer.state >= 0:
            fill(reading, now, number)
            apply_sets(reading, now, program.nodes[layer.state].on_enter)
    return state._replace(memos=tuple(now.memos))


def reading_of(now: Mutable, senses: tuple[object, ...], facing: str) -> Reading:
    """A reading of this tick's intents, senses and memos; `fill` adds what differs between layers."""
    reading = Reading()
    reading.armed = now.readable
    reading.senses = senses
    reading.memos = now.memos
    reading.facing = facing
    reading.used = []
    return reading


def begin(program: Program, state: MachineState, inputs: Inputs) -> tuple[Mutable, tuple[ActionState, ...], Reading]:
    """Steps 1 and 2: the controls and senses of this tick, ready for choosing."""
    actions, armed = advance_controls(program, state.tick, state.actions, state.armed, inputs.down)
    now = Mutable(
        program, state.tick, list(state.layers), armed, readable(program, actions, armed), list(state.memos),
        list(state.remembered),
    )
    return now, actions, reading_of(now, inputs.senses, state.facing)


def tick(program: Program, state: MachineState, inputs: Inputs) -> tuple[MachineState, Report]:
    """One tick of 1 / rate seconds. Pure: the same arguments give the same result in every process."""
    now, actions, reading = begin(program, state, inputs)
    for number, layer in enumerate(now.layers):
        if layer.state >= 0:
            choose(reading, now, number)

    happened = Happened([], [], [], [])
    for number, layer in enumerate(now.layers):
        if layer.state >= 0:
            play_layer(reading, now, number, happened)
    rules = happened.rules
    if happened.windows:
        rules += [InForce(each.window.id, rule) for each in happened.windows for rule in each.window.rules]

    move_speed, lock_movement, lock_facing = combined(rules)
    facing = state.facing
    if program.facing_sense >= 0 and not lock_facing:
        wanted = inputs.senses[program.facing_sense]
        facing = "right" if wanted > 0 else "left" if wanted < 0 else facing
    after = MachineState(
        state.tick + 1, tuple(now.layers), actions, tuple(now.armed), tuple(now.memos), facing,
        tuple(now.remembered),
    )
    return after, Report(
        state.tick, tuple(happened.layers), facing, inputs.senses, after.memos,
        tuple([intent.id for intent, since in zip(program.intents, now.armed, strict=True) if since >= 0]),
        tuple(now.used), tuple(happened.moments), tuple(happened.windows), tuple(rules), tuple(now.taken),
        move_speed, lock_movement, lock_facing, now.stuck,
    )


class Happened(NamedTuple):
    """What the layers of a tick give to its report, while it is being gathered."""

    layers: list[LayerReport]
    moments: list[Fired]
    windows: list[Open]
    rules: list[InForce]


def play_layer(reading: Reading, now: Mutable, number: int, happened: Happened) -> None:
    """Step 5 for one layer: its clip goes on, and what that brings about is gathered."""
    program, layer = now.program, now.layers[number]
    id = program.layers[number].id
    node = program.nodes[layer.state]
    clip = node.clip
    frame, clip_time = 0, 0.0
    if clip is None:
        after = LayerState(layer.state, layer.entered, 0, 0, False, layer.ended, (), layer.serial)
    else:
        if node.speed.source is not None:
            fill(reading, now, number)
        played = play(clip, layer.time, layer.fresh, units_per_tick(node.speed, reading))
        frame = frame_at(clip, played.time)
        clip_time = own_time(clip, played.time) / (TICK * program.rate)
        after = LayerState(
            layer.state, layer.entered, played.time, layer.loops + played.loops, False, played.ended,
            tuple([index for index, _ in played.open]) if played.open else (), layer.serial,
        )
        for moment in played.moments:
            happened.moments.append(Fired(id, clip.id, frame, moment))
        for index, shown in played.open:
            happened.windows.append(Open(id, clip.id, shown, layer.serial, clip.windows[index]))
    now.layers[number] = after
    for place in (layer.state, *node.groups):
        owner = program.nodes[place]
        for rule in owner.rules:
            happened.rules.append(InForce(owner.id, rule))
    happened.layers.append(
        LayerReport(
            id, node.id, tuple([program.nodes[group].id for group in node.groups]), clip.id if clip else None,
            clip_time, frame, 1.0, (now.tick + 1 - layer.entered) / program.rate, after.loops,
            after.ended or clip is None, ((clip.id, 1.0),) if clip else (),
        )
    )


def combined(rules: list[InForce]) -> tuple[float, bool, bool]:
    """The speed factors multiplied, and whether movement and facing are locked."""
    factor, lock_movement, lock_facing = 1.0, False, False
    for each in rules:
        if each.rule.kind == "move_speed":
            factor *= each.rule.value
        elif each.rule.kind == "lock_movement":
            lock_movement = True
        else:
            lock_facing = True
    return factor, lock_movement, lock_facing
