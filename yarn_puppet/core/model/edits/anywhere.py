"""The seam of a layer: the group that is around all of it, and transitions from anywhere."""

from __future__ import annotations

from msgspec.structs import replace

from ..basics.ids import all_ids, free_name, new_id
from ..graph import Group
from ..puppet import Puppet
from .entries import added, with_entries
from .graph import transition_added

NAME = "Anywhere"


def anywhere_added(puppet: Puppet, layer: str) -> tuple[Puppet, str]:
    """With a group around all of a layer, that starts where the layer does; also its id. There is
    one at most."""
    found = puppet.anywhere(layer)
    if found is not None:
        return puppet, found.id
    name = free_name(NAME, {node.name for node in puppet.nodes})
    id = new_id(name, all_ids(puppet), "group")
    start = next((each.start for each in puppet.layers if each.id == layer), None)
    return added(puppet, "groups",
                 Group(id, name, layer, start=start, thread="clay", anywhere=True)), id


def from_anywhere(
    puppet: Puppet, layer: str, target: str, when: str = ""
) -> tuple[Puppet, str]:
    """With a transition from anywhere in a layer to a state or group of it; also its id."""
    puppet, source = anywhere_added(puppet, layer)
    return transition_added(puppet, source, target, when)


def spelt_out(puppet: Puppet) -> Puppet:
    """With nothing that is around all of a layer: what was in it because it was in no other group,
    is in it by name. Each tick is as before; what is added later is not in it."""
    ids = {group.id: group.layer for group in puppet.groups}
    first = {group.layer: group.id for group in reversed(puppet.groups) if group.anywhere}

    def group_of(id: str, group: str | None, layer: str) -> str | None:
        around = first.get(layer)
        if id == around:
            return None
        return group if around is None or ids.get(group or "") == layer else around

    states = tuple(
        replace(state, group=found)
        if (found := group_of(state.id, state.group, state.layer)) != state.group else state
        for state in puppet.states)
    groups = tuple(
        replace(group, group=found, anywhere=False)
        if (found := group_of(group.id, group.group, group.layer)) != group.group or group.anywhere
        else group
        for group in puppet.groups)
    return with_entries(with_entries(puppet, "states", states), "groups", groups)
