"""The tick: a pure function from a program, a state and inputs to the next state and a report.

This is the plain reference, written to be read beside docs/semantics.md. `core/generate` makes a
faster one of the same program, which is compared with it.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, NamedTuple

from ...model.kinds.windows import WINDOWS
from ...rules.evaluate import Reading, value_of
from ..program import Program, ProgramState
from ..program_clips import FULL, NOWHERE, TICK, ProgramMoment
from ..state import (
    IDLE,
    NO_HITS,
    CycleHits,
    Fired,
    Inputs,
    Landed,
    LayerReport,
    LayerState,
    MachineState,
    Open,
    Report,
    RuleShare,
)
from .blending import blended_on, fading_of, share_of_new
from .choose import Mutable, choose, destination, do_deeds, enter, fill
from .controls import advance_controls, older, one_edge_a_tick, readable
from .play import (
    clip_of,
    frame_at,
    in_variant,
    met_so_far,
    nearest,
    own_time,
    play,
    shown_windows,
    sorted_moments,
    units_per_tick,
    values_along,
)
from .sequences import Reached, no_steps
from .while_rules import (
    LOCK_FACING_AT,
    counting,
    eased,
    few_going,
    held_memos,
    layer_weight,
    playback,
    rules_of_nodes,
    rules_of_windows,
    together,
)

NO_STATE = LayerState(-1, 0, 0, 0, True, False, 0, 0, 0, NO_HITS, 0, None)
"""A layer without states."""


def initial_state(program: Program) -> MachineState:
    """The state before tick 0: every layer in its start state, which plays for the first time in
    tick 0."""
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


def tick(program: Program, state: MachineState, inputs: Inputs) -> tuple[MachineState, Report]:
    """One tick of 1 / rate seconds. Pure: the same arguments give the same result in every
    process."""
    now, reading, sequences, waiting = begin(program, state, inputs)
    happened = Happened([], [], [])
    for news in inputs.landed:
        hear(reading, now, news, happened)
    shares, shown, held = state.shares, state.shown, state.held
    if not inputs.stopped:
        for number, layer in enumerate(now.layers):
            if layer.state >= 0:
                choose(reading, now, number)
        shares = eased(shares, rules_of_nodes(program, now.layers), of_windows=False)
        shown = shown_on(reading, now, shown)
        play_layers(reading, now, shares, happened)
        shares = few_going(eased(shares, rules_of_windows(program, enumerate(now.layers)),
                                 of_windows=True))
    bringing = rules_of_nodes(program, now.layers) + rules_of_windows(
        program, enumerate(now.layers))
    found = counting(bringing, shares)
    if not inputs.stopped:
        held = held_memos(found)
    for number, layer in enumerate(now.layers):
        if layer.state >= 0:
            tell_layer(now, number, layer_weight(program, number, shown[number], found), happened)
    all_together = together(found,
                            any(WINDOWS[window.window.kind].makes_safe
                                for window in happened.windows))
    senses = tuple(reading.senses)
    facing = state.facing
    if program.facing_sense >= 0 and not all_together.sums[LOCK_FACING_AT] and not inputs.stopped:
        facing = turned(program, facing, senses)
    memos, over = tuple(now.memos), dict(held)
    after = MachineState(
        state.tick + 1, tuple(now.layers), tuple(now.actions), tuple(now.lives), memos, facing,
        tuple(now.remembered), kept_events(program, senses, inputs.stopped), sequences,
        tuple(now.memo_lives), held,
        tuple(reading.thresholds), shown, shares, waiting,
    )
    return after, Report._make((
        state.tick, tuple(happened.layers), facing, senses,
        tuple([over.get(index, value) for index, value in enumerate(memos)]), after.thresholds,
        armed_ids(program, now.lives), tuple(now.used), tuple(happened.moments),
        tuple(happened.windows),
        all_together.rules, tuple(now.taken), *all_together.sums, now.stuck,
    ))


def shown_on(reading: Reading, now: Mutable, before: tuple[int, ...]) -> tuple[int, ...]:
    """The shares by which layers are shown, a tick further."""
    found = []
    for number, (layer, share) in enumerate(zip(now.program.layers, before, strict=True)):
        holds = True
        if layer.shown_when is not None:
            holds = now.layers[number].state >= 0
            if holds:
                fill(reading, now, number)
                holds = value_of(layer.shown_when.tree, reading)
        found.append(min(FULL, share + layer.rise) if holds else max(0, share - layer.fall))
    return tuple(found)


def play_layers(
    reading: Reading, now: Mutable, shares: tuple[RuleShare, ...], happened: Happened
) -> None:
    """Step 5 for all layers, and the deeds of the moments that fired in it."""
    firing: list[tuple[int, list[ProgramMoment]]] = []
    for number, layer in enumerate(now.layers):
        if layer.state >= 0:
            firing.append((number, play_layer(reading, now, number, shares, happened)))
    for number, moments in firing:
        for moment in moments:
            if moment.deeds:
                fill(reading, now, number)
                do_deeds(reading, now, moment.deeds)


def armed_ids(program: Program, lives: Sequence[int]) -> tuple[str, ...]:
    """The ids of the intents that are armed."""
    return tuple([intent.id for intent, life in zip(program.intents, lives, strict=True)
                  if life >= 0])


DIAGONAL = 0.41421356237309503
"""The tangent of 22.5 degrees: from there on a direction is nearer to one that lies between two of
the four."""


def turned(program: Program, facing: str, senses: tuple[Any, ...]) -> str:
    """The facing after a tick: where the senses it follows point, or as it is where they point
    nowhere."""
    across = senses[program.facing_sense]
    up = senses[program.facing_up] if program.facing_up >= 0 else 0
    if not across and not up:
        return facing
    side = "right" if across > 0 else "left" if across < 0 else facing
    if not up:
        return side
    height = "up" if up > 0 else "down"
    less, more = sorted((float(abs(across)), float(abs(up))))
    if program.facing_kind == "eight" and less > DIAGONAL * more:
        return f"{height} {side}"
    if abs(across) == abs(up):
        return facing if facing in (side, height) else side
    return side if abs(across) > abs(up) else height


class Happened(NamedTuple):
    """What the layers of a tick give to its report, while it is being gathered."""

    layers: list[LayerReport]
    moments: list[Fired]
    windows: list[Open]


def hear(reading: Reading, now: Mutable, news: Landed, happened: Happened) -> None:
    """Step 3: a hit landed; what waited for it in its pass fires, on the frame that was on show."""
    if not 0 <= news.layer < len(now.layers):
        return
    layer = now.layers[news.layer]
    clip = clip_of(now.program.states[layer.state], layer) if layer.state >= 0 else None
    if clip is None or layer.visit != news.visit:
        return
    landed, waiting, late = layer.hits
    if news.cycle == layer.cycle:
        fired, hits = waiting, CycleHits(True, (), late)
    elif news.cycle == layer.cycle - 1:
        fired, hits = late, CycleHits(landed, waiting, ())
    else:
        return
    frame, id = frame_at(clip, layer.shown), now.program.layers[news.layer].id
    happened.moments.extend([Fired(id, clip.id, frame, layer.visit, clip.moments[place])
                             for place in fired])
    now.layers[news.layer] = layer._replace(hits=hits)
    for place in fired:
        if clip.moments[place].deeds:
            fill(reading, now, news.layer)
            do_deeds(reading, now, clip.moments[place].deeds)


def play_layer(
    reading: Reading, now: Mutable, number: int, shares: tuple[RuleShare, ...], happened: Happened
) -> list[ProgramMoment]:
    """Step 5 for one layer: its clip goes on, and what that brings about is gathered; the moments
    that fired."""
    program, layer = now.program, now.layers[number]
    state = program.states[layer.state]
    blending = blended_on(layer.blending, program.states) if layer.blending is not None else None
    factors = playback(program, number, now.layers, shares) if "clips" in program.special else ()
    if state.spread or state.speed.source is not None:
        fill(reading, now, number)
    if state.spread:
        playing = -1 if layer.fresh else layer.variant
        if (variant := nearest(state, values_along(state, reading), playing)) != layer.variant:
            layer = now.layers[number] = in_variant(state, layer, variant)
            fill(reading, now, number)
    clip = clip_of(state, layer)
    if clip is None:
        now.layers[number] = layer._replace(
            ticks=layer.ticks + 1, fresh=False, ended=True, advance=0, blending=blending,
            shown=layer.time,
        )
        return []
    advance = units_per_tick(state.speed, reading, factors)
    played = play(clip, layer.time, met_so_far(clip, layer), advance)
    fired, hits = sorted_moments(played, clip, layer.hits)
    now.layers[number] = LayerState(
        layer.state, layer.ticks + 1, played.time, layer.cycle + played.cycles, False, played.ended,
        played.open,
        layer.visit, layer.variant, hits, advance, blending, layer.time,
    )
    id, frame = program.layers[number].id, frame_at(clip, layer.time)
    happened.moments.extend([Fired(id, clip.id, frame, layer.visit, clip.moments[place])
                             for place in fired])
    return [clip.moments[place] for place in fired]


def tell_layer(now: Mutable, number: int, weight: float, happened: Happened) -> None:
    """Step 8 for one layer: where it is, and which windows are open."""
    program, layer = now.program, now.layers[number]
    state = program.states[layer.state]
    id, clip = program.layers[number].id, clip_of(state, layer)
    frame, clip_time = 0, 0.0
    if clip is not None:
        frame, clip_time = frame_at(clip, layer.shown), own_time(clip, layer.shown) / (
            TICK * program.rate)
        happened.windows.extend([
            Open(id, clip.id, shown, late, clip.windows[place])
            for place, shown, late in shown_windows(clip, layer)
        ])
    happened.layers.append(layer_report(program, id, state, layer, clip_time, frame, weight))


def layer_report(
    program: Program,
    id: str,
    state: ProgramState,
    layer: LayerState,
    clip_time: float,
    frame: int,
    weight: float,
) -> LayerReport:
    """The report of one layer."""
    clip = clip_of(state, layer)
    return LayerReport(
        id, state.id, tuple([program.groups[group].id for group in state.groups]),
        clip.id if clip else None, clip_time,
        frame, share_of_new(layer.blending) / FULL, layer.ticks / program.rate, layer.cycle,
        layer.ended or clip is None, fading_of(program, layer), layer.visit, weight,
    )
