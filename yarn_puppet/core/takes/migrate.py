"""Carries a running puppet over into an edited one, so that an edit never stops the run."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from ..engine.plain.beginning import initial_state, reading_of
from ..engine.plain.blending import clip_on_show
from ..engine.plain.choose import Mutable, do_deeds, fill
from ..engine.plain.play import clip_of
from ..engine.program import Program, ProgramState, ProgramValue
from ..engine.program_clips import ProgramClip
from ..engine.state import IDLE, NO_HITS, Blending, CycleHits, LayerState, MachineState, RuleShare
from ..rules.numbers import fitted
from .migrate_rate import machine_at_rate


def migrate(
    old: Program, new: Program, state: MachineState, senses: Sequence[Any] = ()
) -> MachineState:
    """The machine state of `old` as one of `new`, by ids; `senses` are what `old` was told last.

    What is new starts as it would. A state that is gone is left, as its *on leave* says, and gives
    way to its layer's start, which is entered; clip time past a shortened clip is put at the clip's
    end. A group forgets a state that is no longer in it. A memo goes round within its new steps,
    and what lives on lives no longer than it now would. At another rate every time stays what it is
    in seconds.
    """
    senses = senses or [sense.start for sense in old.senses]
    state = machine_at_rate(_left(old, new, state, senses), old.rate, new.rate)
    fresh = initial_state(new)
    layers, entered = [], []
    old_layers = {layer.id: state.layers[index] for index, layer in enumerate(old.layers)}
    for index, layer in enumerate(new.layers):
        before = old_layers.get(layer.id)
        carried = _layer(old, new, index, before) if before is not None else None
        if before is not None and before.state < 0 and fresh.layers[index].state < 0:
            carried = before
        if carried is None and fresh.layers[index].state >= 0:
            entered.append(index)
        layers.append(carried or fresh.layers[index]._replace(
            visit=before.visit + 1 if before is not None else 0))
    actions = dict(zip(old.actions, state.actions, strict=True))
    armed = {intent.id: (life, intent.life)
             for intent, life in zip(old.intents, state.armed, strict=True)}
    memos = {(memo.id, memo.type): value
             for memo, value in zip(old.memos, state.memos, strict=True)}
    lives = {(memo.id, memo.type): (life, memo.life)
             for memo, life in zip(old.memos, state.memo_lives, strict=True)}
    on = {each.id: was for each, was in zip(old.thresholds, state.thresholds, strict=True)}
    shown = {layer.id: share for layer, share in zip(old.layers, state.shown, strict=True)}
    events = {old.senses[place].id for place in state.events}
    values = tuple([_within(memo, memos.get((memo.id, memo.type), memo.start))
                    for memo in new.memos])
    after = MachineState(
        state.tick, tuple(layers), tuple(actions.get(id, IDLE) for id in new.actions),
        tuple(_lives_on(*armed.get(intent.id, (-1, 0)), intent.life) for intent in new.intents),
        values,
        state.facing, _remembered(old, new, state, fresh),
        tuple(index for index, sense in enumerate(new.senses)
              if sense.event and sense.id in events),
        _sequences(old, new, state, fresh),
        tuple(
            _memo_lives_on(memo, value, *lives.get((memo.id, memo.type), (-1, 0)))
            for memo, value in zip(new.memos, values, strict=True)
        ),
        _held(old, new, state), tuple(on.get(threshold.id, False) for threshold in new.thresholds),
        tuple(shown.get(layer.id, now) for layer, now in zip(new.layers, fresh.shown, strict=True)),
        _shares(old, new, state),
        rules_on=_rules_on(old, new, state),
        dice=state.dice, picked=_picked(old, new, state),
    )
    by_sense = {sense.id: value for sense, value in zip(old.senses, senses, strict=True)}
    return _entered(new, after, entered, [
        fitted(by_sense.get(sense.id, sense.start), sense.type, sense.choices, sense.start)
        for sense in new.senses
    ])


def _left(old: Program, new: Program, state: MachineState, senses: Sequence[Any]) -> MachineState:
    """Leave the states that the new program does not have, as the old one leaves them."""
    places = {layer.id: index for index, layer in enumerate(new.layers)}
    left = [
        number for number, (layer, each) in enumerate(zip(old.layers, state.layers, strict=True))
        if each.state >= 0 and _goes_on_in(old, new, each) != places.get(layer.id, -1)
    ]
    return _done(old, state,
                 [(number, old.states[state.layers[number].state].on_leave) for number in left],
                 senses)


def _entered(
    new: Program, state: MachineState, entered: Sequence[int], senses: Sequence[Any]
) -> MachineState:
    """Do what entering the states of these layers does, which are new in them."""
    remembered = list(state.remembered)
    for number in entered:
        place = state.layers[number].state
        for group in new.states[place].groups:
            if (memory := new.groups[group].memory) >= 0:
                remembered[memory] = place
    state = state._replace(remembered=tuple(remembered))
    return _done(new, state,
                 [(number, new.states[state.layers[number].state].on_enter) for number in entered],
                 senses)


def _done(
    program: Program, state: MachineState, deeds: Sequence[tuple[int, Any]], senses: Sequence[Any]
) -> MachineState:
    """A state after deeds of some of its layers, given by the layers' places."""
    if not any(each for _, each in deeds):
        return state
    now = Mutable(
        program, list(state.layers), list(state.actions), list(state.armed), list(state.memos),
        list(state.memo_lives), dict(state.held), list(state.remembered),
    )
    reading = reading_of(now, senses, state.thresholds, state.facing)
    for number, each in deeds:
        fill(reading, now, number)
        do_deeds(reading, now, each)
    return state._replace(actions=tuple(now.actions), armed=tuple(now.lives),
                          memos=tuple(now.memos),
                          memo_lives=tuple(now.memo_lives))


def _within(memo: ProgramValue, value: Any) -> Any:
    """A value as the memo now holds one."""
    value = fitted(value, memo.type, memo.choices, memo.start)
    return memo.start + (value - memo.start) % memo.wraps if memo.wraps else value


def _lives_on(life: int, was: int, now: int) -> int:
    """How many ticks more something lives whose whole life was so long, and now is."""
    return life if was == now else min(life, now)


def _memo_lives_on(memo: ProgramValue, value: Any, life: int, was: int) -> int:
    if not memo.life:
        return -1
    # One that had no end and is not at its start gets one.
    return memo.life if not was and value != memo.start else _lives_on(life, was, memo.life)


def _goes_on_in(old: Program, new: Program, before: LayerState) -> int:
    """The place of the layer in which a layer's state goes on; -1 where there is none such."""
    place = new.places.get(("in_state", old.states[before.state].id), -1)
    return new.states[place].layer if place >= 0 else -1


def _sequences(
    old: Program, new: Program, state: MachineState, fresh: MachineState
) -> tuple[tuple[int, ...], ...]:
    """What was kept of sequences that are still of the same actions."""
    kept = {
        (intent.id, tuple(old.actions[step] for step in intent.steps)): state.sequences[
            intent.sequence]
        for intent in old.intents if intent.steps
    }
    return tuple(
        kept.get((intent.id, tuple(new.actions[step] for step in intent.steps)),
                 fresh.sequences[intent.sequence])
        for intent in new.intents if intent.steps
    )


def _held(old: Program, new: Program, state: MachineState) -> tuple[tuple[int, Any], ...]:
    """What memos are held at, for those that are still there."""
    places = {(memo.id, memo.type): index for index, memo in enumerate(new.memos)}
    found = []
    for place, value in state.held:
        now = places.get((old.memos[place].id, old.memos[place].type))
        if now is not None:
            memo = new.memos[now]
            found.append((now, fitted(value, memo.type, memo.choices, memo.start)))
    return tuple(sorted(found, key=lambda each: each[0]))


def _picked(old: Program, new: Program, state: MachineState) -> tuple[int, ...]:
    """What was picked at random last, in states and moments that still pick among as many."""
    last = {old.states[place].id: (picked, len(old.states[place].chances))
            for place, picked in zip(old.picking, state.picked, strict=False)}
    found = []
    for place in new.picking:
        picked, count = last.get(new.states[place].id, (-1, 0))
        found.append(picked if count == len(new.states[place].chances) else -1)
    before, now = _sounds(old), _sounds(new)
    for key in new.sounding:
        same = key in old.sounding and before[key] == now[key]
        found.append(state.picked[old.sounding[key]] if same else -1)
    return tuple(found)


def _sounds(program: Program) -> dict[tuple[str, str], int]:
    """By clip and moment among how many sounds it picks."""
    return {(clip.id, moment.id): len(moment.heard.chances) for clip in program.clips.values()
            for moment in clip.moments if moment.heard is not None}


def _rules_on(old: Program, new: Program, state: MachineState) -> tuple[int, ...]:
    """The conditions of while-rules that held, of those that are still there."""
    if not new.rule_conditions:
        return ()
    bits = {layer.id: on for layer, on in zip(old.layers, state.rules_on, strict=False)}
    return tuple([
        sum((bits.get(layer.id, 0) >> old.rule_conditions[tree] & 1) << place
            for tree, place in new.rule_conditions.items() if tree in old.rule_conditions)
        for layer in new.layers])


def _shares(old: Program, new: Program, state: MachineState) -> tuple[RuleShare, ...]:
    """The shares of while-rules that are still there, of whichever ease they are now."""
    if not state.shares:
        return ()
    layers = {layer.id: index for index, layer in enumerate(new.layers)}
    rules = {(False, state.id, rule.number): rule for state in new.states for rule in state.rules}
    rules |= {(False, group.id, rule.number): rule for group in new.groups for rule in group.rules}
    rules |= {
        (True, window.id, rule.number): rule
        for clip in new.clips.values() for window in clip.windows for rule in window.rules
    }
    found = []
    for share in state.shares:
        layer = layers.get(old.layers[share.layer].id)
        rule = rules.get((share.of_window, share.owner, share.rule.number))
        if (
            layer is not None
            and rule is not None
            and rule.kind == share.rule.kind
            and (rule.eased or share.out)
        ):
            found.append(share._replace(layer=layer, rule=rule))
    return tuple(found)


def _remembered(
    old: Program, new: Program, state: MachineState, fresh: MachineState
) -> tuple[int, ...]:
    by_id = {
        old.groups[group].id: old.states[place].id
        for group, place in zip(old.remembering, state.remembered, strict=True) if place >= 0
    }
    found = []
    for group, start in zip(new.remembering, fresh.remembered, strict=True):
        id = new.groups[group].id
        place = new.places.get(("in_state", by_id.get(id, "")), -1)
        if place >= 0 and group in new.states[place].groups:
            found.append(place)
        else:
            # What it remembered is gone: it starts again, as it does where it was not there before.
            found.append(-1 if id in by_id or ("in_state", id) in old.places else start)
    return tuple(found)


def _layer(old: Program, new: Program, number: int, before: LayerState) -> LayerState | None:
    """The layer in the state of the same id, or None where there is none any more."""
    if before.state < 0:
        return None
    if _goes_on_in(old, new, before) != number:
        return None
    place = new.places["in_state", old.states[before.state].id]
    state, old_clip = new.states[place], clip_of(old.states[before.state], before)
    variant = _placed(old.states[before.state], state, before.variant, old_clip)
    before = before._replace(state=place, variant=variant,
                             blending=_blending(old, new, before.blending))
    clip = clip_of(state, before)
    if clip is None:
        return before._replace(time=0, cycle=0, ended=not before.fresh, open=0, hits=NO_HITS,
                               shown=0)
    if old_clip is None or clip.id != old_clip.id:
        return before._replace(time=0, cycle=0, fresh=True, ended=False, open=0, hits=NO_HITS,
                               shown=0)
    if clip == old_clip:
        return before
    time = before.time % clip.cycle if clip.loops else min(before.time, clip.cycle)
    return before._replace(
        time=time, shown=min(before.shown, clip.cycle - 1 if clip.loops else clip.cycle),
        ended=before.ended if clip.loops else time >= clip.cycle,
        open=_open(old_clip, clip, before.open),
        hits=CycleHits(before.hits.landed, _waiting(old_clip, clip, before.hits.waiting),
                      _waiting(old_clip, clip, before.hits.late)),
    )


def _placed(old: ProgramState, new: ProgramState, variant: int, played: ProgramClip | None) -> int:
    """The place in the new spread of what is played of the old state: the same clip at the same
    values, since a clip may be placed at several; else the same clip; else the first."""
    alike = [(number, each.place) for number, each in enumerate(new.spread)
             if played is not None and each.clip.id == played.id]
    values = old.spread[variant].place if old.spread else ()
    return next((number for number, place in alike if place == values), alike[0][0] if alike else 0)


def _blending(old: Program, new: Program, blending: Blending | None) -> Blending | None:
    """A blend under way, with what fades of it that is still there."""
    if blending is None:
        return None
    left = []
    for each in blending.old:
        before = clip_on_show(old.states, each)
        place = new.places.get(("in_state", old.states[each.state].id), -1)
        if place < 0:
            continue
        state = new.states[place]
        clips = [placed.clip for placed in state.spread] or ([state.clip] if state.clip else [])
        variant = next((number for number, clip in enumerate(clips)
                        if before and clip.id == before.id), -1)
        if before is None and not clips:
            left.append(each._replace(state=place, variant=0))
        elif variant >= 0:
            left.append(each._replace(state=place, variant=variant,
                                      time=min(each.time, clips[variant].cycle)))
    return blending._replace(old=tuple(left)) if left else None


def _open(old: ProgramClip, new: ProgramClip, opened: int) -> int:
    ids = {(window.id, window.frame): number
           for number, window in reversed(list(enumerate(new.windows)))}
    ids |= {(window.id, -1): number for number, window in reversed(list(enumerate(new.windows)))}
    found = 0
    for number, window in enumerate(old.windows):
        if opened >> number & 1:
            place = ids.get((window.id, window.frame), ids.get((window.id, -1)))
            found |= 1 << place if place is not None else 0
    return found


def _waiting(old: ProgramClip, new: ProgramClip, waiting: tuple[int, ...]) -> tuple[int, ...]:
    ids = {moment.id: number for number, moment in enumerate(new.moments)}
    places = (ids.get(old.moments[number].id) for number in waiting)
    return tuple(place for place in places if place is not None)
