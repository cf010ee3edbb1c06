"""Carries a running puppet over into an edited one, so that an edit never stops the run."""

from __future__ import annotations

from ..engine.play import clip_of
from ..engine.program import Program
from ..engine.state import ActionState, LayerState, MachineState
from ..engine.tick import initial_state


def migrate(old: Program, new: Program, state: MachineState) -> MachineState:
    """The machine state of `old` as one of `new`, by ids.

    What is new starts as it would; a state that is gone gives way to its layer's start, and clip time past a
    shortened clip is put at the clip's end.
    """
    fresh = initial_state(new)
    layers = []
    old_layers = {layer.id: state.layers[place] for place, layer in enumerate(old.layers)}
    for place, layer in enumerate(new.layers):
        before = old_layers.get(layer.id)
        carried = _layer(old, new, before) if before is not None else None
        if before is not None and before.state < 0 and fresh.layers[place].state < 0:
            carried = before
        layers.append(carried or fresh.layers[place]._replace(entered=state.tick, serial=_next_serial(before)))
    actions = dict(zip(old.actions, state.actions, strict=True))
    armed = {intent.id: since for intent, since in zip(old.intents, state.armed, strict=True)}
    memos = {
        (memo.id, memo.type): value for memo, value in zip(old.memos, state.memos, strict=True)
    }
    places = {node.id: place for place, node in enumerate(new.nodes)}
    remembered = list(fresh.remembered)
    for group, state_index in enumerate(state.remembered):
        if state_index >= 0 and old.nodes[group].id in places:
            remembered[places[old.nodes[group].id]] = places.get(old.nodes[state_index].id, -1)
    return MachineState(
        state.tick, tuple(layers), tuple(actions.get(id, ActionState(False, -1, -1)) for id in new.actions),
        tuple(armed.get(intent.id, -1) for intent in new.intents),
        tuple(memos.get((memo.id, memo.type), memo.start) for memo in new.memos), state.facing, tuple(remembered),
    )


def _next_serial(before: LayerState | None) -> int:
    return before.serial + 1 if before is not None else 0


def _layer(old: Program, new: Program, before: LayerState) -> LayerState | None:
    """The layer in the state of the same id, or None where there is none any more."""
    if before.state < 0:
        return None
    id = old.nodes[before.state].id
    place = new.places.get(("in_state", id))
    if place is None or not new.nodes[place].is_state:
        return None
    node, old_clip = new.nodes[place], clip_of(old.nodes[before.state], before)
    variant = next((number for number, each in enumerate(node.spread) if old_clip and each.clip.id == old_clip.id), 0)
    before = before._replace(state=place, variant=variant)
    clip = clip_of(node, before)
    if clip is None:
        return before._replace(time=0, open=(), waiting=())
    if old_clip is None or clip.id != old_clip.id:
        return before._replace(time=0, loops=0, fresh=True, ended=False, open=(), landed=False, waiting=())
    time = before.time % clip.cycle if clip.loops else min(before.time, clip.cycle)
    ids = {window.id: number for number, window in enumerate(clip.windows)}
    kept = (ids.get(old_clip.windows[number].id) for number in before.open)
    moments = {moment.id: number for number, moment in enumerate(clip.moments)}
    waiting = (moments.get(old_clip.moments[number].id) for number in before.waiting)
    return before._replace(
        time=time, ended=before.ended if clip.loops else time >= clip.cycle,
        open=tuple(number for number in kept if number is not None),
        waiting=tuple(number for number in waiting if number is not None),
    )
