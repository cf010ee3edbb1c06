"""The tick: a pure function from a program, a state and inputs to the next state and a report."""

from __future__ import annotations

from typing import Any, NamedTuple

from ..rules.compile import Reading
from .choose import Mutable, apply_sets, choose, destination, fill
from .controls import advance_controls, readable
from .play import clip_of, frame_at, nearest, own_time, play, units_per_tick
from .program import TICK, Program, ProgramNode
from .state import ActionState, Fired, InForce, Inputs, LayerReport, LayerState, MachineState, Open, Report


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
    layers = list(state.layers)
    if inputs.stopped:
        # What was armed and entered before gets no older while all stands still.
        armed = [since + (0 <= since < state.tick) for since in armed]
        layers = [layer._replace(entered=layer.entered + 1) for layer in layers]
    for number in inputs.landed:
        layers[number] = layers[number]._replace(landed=True)
    now = Mutable(
        program, state.tick, layers, armed, readable(program, actions, armed), list(state.memos),
        list(state.remembered),
    )
    return now, actions, reading_of(now, inputs.senses, state.facing)


def tick(program: Program, state: MachineState, inputs: Inputs) -> tuple[MachineState, Report]:
    """One tick of 1 / rate seconds. Pure: the same arguments give the same result in every process."""
    now, actions, reading = begin(program, state, inputs)
    happened = Happened([], [], [], [])
    if not inputs.stopped:
        for number, layer in enumerate(now.layers):
            if layer.state >= 0:
                choose(reading, now, number)
    for number, layer in enumerate(now.layers):
        if layer.state >= 0:
            play_layer(reading, now, number, happened, inputs.stopped)
    rules = happened.rules
    if happened.windows:
        rules += [InForce(each.window.id, rule) for each in happened.windows for rule in each.window.rules]

    move_speed, lock_movement, lock_facing = combined(rules)
    facing = state.facing
    if program.facing_sense >= 0 and not lock_facing and not inputs.stopped:
        facing = turned(program, facing, inputs.senses)
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


def play_layer(reading: Reading, now: Mutable, number: int, happened: Happened, stopped: bool) -> None:
    """Step 5 for one layer: its clip goes on, and what that brings about is gathered."""
    program, layer = now.program, now.layers[number]
    id = program.layers[number].id
    node = program.nodes[layer.state]
    if node.spread:
        layer = _nearest_variant(reading, now, number, node)
    clip = clip_of(node, layer)
    frame, clip_time = 0, 0.0
    if clip is None:
        after = layer._replace(time=0, loops=0, fresh=False, open=())
    else:
        if node.speed.source is not None:
            fill(reading, now, number)
        advance = 0 if stopped else units_per_tick(node.speed, reading)
        played = play(clip, layer.time, layer.fresh, advance)
        frame = frame_at(clip, played.time)
        clip_time = own_time(clip, played.time) / (TICK * program.rate)
        fired, waiting = played.moments, () if played.loops else layer.waiting
        if waiting or fired:
            # Before any hit has landed, what is only for one waits; once it has, it happens at once.
            held = [] if layer.landed else [place for place in fired if clip.moments[place].only_on_hit]
            fired = (*waiting, *fired) if layer.landed else tuple([place for place in fired if place not in held])
            waiting = () if layer.landed else (*waiting, *held)
        after = LayerState(
            layer.state, layer.entered, played.time, layer.loops + played.loops, False, played.ended,
            tuple([index for index, _ in played.open]) if played.open else (), layer.serial, layer.variant,
            layer.landed, waiting,
        )
        for place in fired:
            happened.moments.append(Fired(id, clip.id, frame, clip.moments[place]))
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
            after.ended or clip is None, ((clip.id, 1.0),) if clip else (), layer.serial,
        )
    )


def _nearest_variant(reading: Reading, now: Mutable, number: int, node: ProgramNode) -> LayerState:
    """The layer playing the clip of its spread that is nearest now, as far into it as it was into the one before."""
    layer = now.layers[number]
    variant = nearest(node, reading)
    if variant != layer.variant:
        old, new = node.spread[layer.variant].clip, node.spread[variant].clip
        layer = layer._replace(variant=variant, time=layer.time * new.cycle // old.cycle, open=(), waiting=())
        now.layers[number] = layer
    return layer


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
