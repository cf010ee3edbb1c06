"""Carries a running puppet over into an edited one, so that an edit never stops the run."""

from __future__ import annotations

from ..engine.play import clip_of
from ..engine.program import Program, ProgramClip
from ..engine.state import IDLE, NO_HITS, LayerState, MachineState, PassHits
from ..engine.tick import initial_state
from ..rules.numbers import fitted


def migrate(old: Program, new: Program, state: MachineState) -> MachineState:
    """The machine state of `old` as one of `new`, by ids.

    What is new starts as it would; a state that is gone gives way to its layer's start, and clip time past a
    shortened clip is put at the clip's end. A group forgets a state that is no longer in it.
    """
    fresh = initial_state(new)
    layers = []
    old_layers = {layer.id: state.layers[place] for place, layer in enumerate(old.layers)}
    for place, layer in enumerate(new.layers):
        before = old_layers.get(layer.id)
        carried = _layer(old, new, place, before) if before is not None else None
        if before is not None and before.state < 0 and fresh.layers[place].state < 0:
            carried = before
        layers.append(carried or fresh.layers[place]._replace(serial=before.serial + 1 if before is not None else 0))
    actions = dict(zip(old.actions, state.actions, strict=True))
    armed = {intent.id: life for intent, life in zip(old.intents, state.armed, strict=True)}
    memos = {(memo.id, memo.type): value for memo, value in zip(old.memos, state.memos, strict=True)}
    events = {old.senses[place].id for place in state.events}
    return MachineState(
        state.tick, tuple(layers), tuple(actions.get(id, IDLE) for id in new.actions),
        tuple(armed.get(intent.id, -1) for intent in new.intents),
        tuple(
            fitted(memos.get((memo.id, memo.type), memo.start), memo.type, memo.choices, memo.start)
            for memo in new.memos
        ),
        state.facing, _remembered(old, new, state, fresh),
        tuple(place for place, sense in enumerate(new.senses) if sense.event and sense.id in events),
    )


def _remembered(old: Program, new: Program, state: MachineState, fresh: MachineState) -> tuple[int, ...]:
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
            # What it remembered is gone: it begins anew, as it does where it was not there before.
            found.append(-1 if id in by_id or ("in_state", id) in old.places else start)
    return tuple(found)


def _layer(old: Program, new: Program, number: int, before: LayerState) -> LayerState | None:
    """The layer in the state of the same id, or None where there is none any more."""
    if before.state < 0:
        return None
    place = new.places.get(("in_state", old.states[before.state].id), -1)
    if place < 0 or new.states[place].layer != number:
        return None
    state, old_clip = new.states[place], clip_of(old.states[before.state], before)
    variant = next((number for number, each in enumerate(state.spread) if old_clip and each.clip.id == old_clip.id), 0)
    before = before._replace(state=place, variant=variant)
    clip = clip_of(state, before)
    if clip is None:
        return before._replace(time=0, loops=0, ended=not before.fresh, open=0, hits=NO_HITS)
    if old_clip is None or clip.id != old_clip.id:
        return before._replace(time=0, loops=0, fresh=True, ended=False, open=0, hits=NO_HITS)
    if clip == old_clip:
        return before
    time = before.time % clip.cycle if clip.loops else min(before.time, clip.cycle)
    return before._replace(
        time=time, ended=before.ended if clip.loops else time >= clip.cycle, open=_open(old_clip, clip, before.open),
        hits=PassHits(before.hits.landed, _waiting(old_clip, clip, before.hits.waiting),
                      _waiting(old_clip, clip, before.hits.late)),
    )


def _open(old: ProgramClip, new: ProgramClip, opened: int) -> int:
    ids = {(window.id, window.frame): number for number, window in reversed(list(enumerate(new.windows)))}
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
