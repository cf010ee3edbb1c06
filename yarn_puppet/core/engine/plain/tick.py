"""The tick: a pure function from a program, a state and inputs to the next state and a report.

This is the plain reference, written to be read beside docs/semantics.md. The one that runs
is `engine/fast`, which is compared with it.
"""

from __future__ import annotations

from collections.abc import Sequence

from ...model.kinds.windows import WINDOWS
from ...rules.evaluate import Reading, value_of
from ..program import Program
from ..program_clips import FULL, ProgramMoment
from ..state import (
    Inputs,
    MachineState,
    Report,
    RuleShare,
)
from .beginning import begin, kept_events
from .choose import Mutable, choose, do_deeds, fill
from .dice import clips_picked, sounds_picked
from .facing import turned
from .layers import Happened, hear, play_layer, tell_layer
from .while_rules import (
    LOCK_FACING_AT,
    counting,
    eased,
    few_going,
    held_memos,
    layer_weight,
    rules_of_nodes,
    rules_of_windows,
    together,
)


def tick(program: Program, state: MachineState, inputs: Inputs) -> tuple[MachineState, Report]:
    """One tick of 1 / rate seconds. Pure: the same arguments give the same result in every
    process."""
    now, reading, sequences, waiting = begin(program, state, inputs)
    happened = Happened([], [], [])
    for news in inputs.landed:
        hear(reading, now, news, happened)
    dice, picked = state.dice, state.picked
    shares, shown, held, on = state.shares, state.shown, state.held, state.rules_on
    if not inputs.stopped:
        for number, layer in enumerate(now.layers):
            if layer.state >= 0:
                choose(reading, now, number)
        if program.picking:
            now.layers, dice, picked = clips_picked(program, now.layers, dice, picked)
        on = conditions_read(reading, now) if program.rule_conditions else ()
        shares = eased(shares, rules_of_nodes(program, now.layers, on), of_windows=False)
        shown = shown_on(reading, now, shown)
        play_layers(reading, now, shares, on, happened)
        shares = few_going(eased(shares, rules_of_windows(program, enumerate(now.layers), on),
                                 of_windows=True))
    bringing = rules_of_nodes(program, now.layers, on) + rules_of_windows(
        program, enumerate(now.layers), on)
    found = counting(bringing, shares)
    if not inputs.stopped:
        held = held_memos(found)
    for number, layer in enumerate(now.layers):
        if layer.state >= 0:
            tell_layer(now, number, layer_weight(program, number, shown[number], found), happened)
    moments, dice, picked = sounds_picked(program, happened.moments, dice, picked)
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
        tuple(reading.thresholds), shown, shares, waiting, on,
        dice, picked,
    )
    return after, Report._make((
        state.tick, tuple(happened.layers), facing, senses,
        tuple([over.get(index, value) for index, value in enumerate(memos)]), after.thresholds,
        armed_ids(program, now.lives), tuple(now.used), moments,
        tuple(happened.windows),
        all_together.rules, tuple(now.taken), *all_together.sums, now.stuck,
    ))


def conditions_read(reading: Reading, now: Mutable) -> tuple[int, ...]:
    """By layer the bits of the conditions of while-rules that hold."""
    found = []
    for number, layer in enumerate(now.layers):
        bits = 0
        if layer.state >= 0:
            fill(reading, now, number)
            for tree, place in now.program.rule_conditions.items():
                bits |= bool(value_of(tree, reading)) << place
        found.append(bits)
    return tuple(found)


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
    reading: Reading, now: Mutable, shares: tuple[RuleShare, ...], on: tuple[int, ...],
    happened: Happened,
) -> None:
    """Step 5 for all layers, and the deeds of the moments that fired in it."""
    firing: list[tuple[int, list[ProgramMoment]]] = []
    for number, layer in enumerate(now.layers):
        if layer.state >= 0:
            firing.append((number, play_layer(reading, now, number, shares, on, happened)))
    for number, moments in firing:
        for moment in moments:
            if moment.deeds:
                fill(reading, now, number)
                do_deeds(reading, now, moment.deeds)


def armed_ids(program: Program, lives: Sequence[int]) -> tuple[str, ...]:
    """The ids of the intents that are armed."""
    return tuple([intent.id for intent, life in zip(program.intents, lives, strict=True)
                  if life >= 0])


