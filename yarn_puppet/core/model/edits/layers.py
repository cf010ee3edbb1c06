"""Edits of layers: the graphs that run above each other."""

from __future__ import annotations

from typing import Any

from msgspec.structs import replace

from ..basics.ids import all_ids, free_name, new_id
from ..graph import Layer
from ..puppet import Puppet
from .entries import added, changed, removed, with_entries
from .graph import states_removed


def layer_added(puppet: Puppet, name: str) -> tuple[Puppet, str]:
    """With a layer above the others; also its id."""
    name = free_name(name, {layer.name for layer in puppet.layers})
    id = new_id(name, all_ids(puppet), "layer")
    return added(puppet, "layers", Layer(id, name)), id


def layer_changed(puppet: Puppet, id: str, **values: Any) -> Puppet:
    """With other values in a layer."""
    return changed(puppet, "layers", id, **values)


def layer_moved(puppet: Puppet, id: str, by: int) -> Puppet:
    """With a layer so many places higher among the layers, or lower where that is negative."""
    layers = list(puppet.layers)
    place = next((number for number, each in enumerate(layers) if each.id == id), None)
    if place is None:
        return puppet
    moving = layers.pop(place)
    layers.insert(max(0, min(len(layers), place + by)), moving)
    return with_entries(puppet, "layers", tuple(layers))


def layer_removed(puppet: Puppet, id: str) -> Puppet:
    """Without a layer and all that is on it; the last one stays."""
    if len(puppet.layers) < 2 or not any(layer.id == id for layer in puppet.layers):
        return puppet
    groups = [group.id for group in puppet.groups if group.layer == id]
    puppet = states_removed(puppet, [state.id for state in puppet.states if state.layer == id])
    kept = tuple(transition for transition in puppet.transitions
                 if transition.source not in groups and transition.target not in groups)
    puppet = with_entries(puppet, "transitions", kept)
    puppet = with_entries(puppet, "groups",
                          tuple(each for each in puppet.groups if each.id not in groups))

    def ruled(owner: Any) -> Any:
        return (
            replace(owner, rules=tuple(rule for rule in owner.rules if rule.layer != id))
            if owner.rules
            else owner
        )

    for field in ("states", "groups"):
        puppet = with_entries(puppet, field, tuple(map(ruled, getattr(puppet, field))))
    return removed(puppet, "layers", id)
