"""The nodes of a puppet as they stand to each other: which groups are around each, and where
entering each ends."""

from __future__ import annotations

from functools import cached_property
from typing import TYPE_CHECKING

from ..program_clips import NOWHERE

if TYPE_CHECKING:
    from ...model.puppet import Puppet


class Nodes:
    """Looks each node up once. A node is a state's place, or ~ of a group's place; see `NOWHERE`.

    A group around a node counts only if it exists and is on the node's layer; where none does, that
    is around it which is around all of the layer. `layers` gives the
    layer's place of each node by id, -1 where it does not exist.
    """

    def __init__(self, puppet: Puppet) -> None:
        self.layer_places = {layer.id: index for index, layer in enumerate(puppet.layers)}
        self.groups = puppet.groups
        self.states = puppet.states
        self.refs = {group.id: ~index for index, group in enumerate(puppet.groups)}
        self.refs |= {state.id: index for index, state in enumerate(puppet.states)}
        self.names = {group.id: group.name for group in puppet.groups}
        self.names |= {state.id: state.name for state in puppet.states}
        self.group_layers = [self.layer_places.get(group.layer, -1) for group in puppet.groups]
        self.state_layers = [self.layer_places.get(state.layer, -1) for state in puppet.states]
        self.anywhere: dict[int, int] = {}
        """By layer the place of the group that is around all of it."""
        for place, seam in enumerate(puppet.groups):
            if seam.anywhere:
                self.anywhere.setdefault(self.group_layers[place], place)
        self.parents = [
            -1 if self.anywhere.get(layer) == index else self._parent(group.group, layer)
            for index, (group, layer) in enumerate(
                zip(puppet.groups, self.group_layers, strict=True))
        ]
        self.around_group = [self._around(place) for place in range(len(puppet.groups))]
        whole = {
            index: (index, *around) for index, around in enumerate(self.around_group)
        }
        whole[-1] = ()
        self.around_state = [
            whole[self._parent(state.group, layer)]
            for state, layer in zip(puppet.states, self.state_layers, strict=True)
        ]
        self.waits = [bool(state.waits_for) and state.clip is None and state.spread is None
                      for state in puppet.states]
        self.first_inside = [NOWHERE] * len(puppet.groups)
        self.first_of_layer = [NOWHERE] * len(puppet.layers)
        for index, (layer, around) in enumerate(
            zip(self.state_layers, self.around_state, strict=True)):
            if self.waits[index]:
                continue
            if layer >= 0 and self.first_of_layer[layer] == NOWHERE:
                self.first_of_layer[layer] = index
            for group in around if layer >= 0 else ():
                if self.first_inside[group] == NOWHERE:
                    self.first_inside[group] = index

    def moved_since(self, before: Nodes) -> frozenset[str]:
        """The ids of nodes that have other surroundings than before, are new, or are gone."""
        if before is self:
            return frozenset()
        old, new = before.surroundings, self.surroundings
        return frozenset([id for id, around in new.items() if old.get(id) != around]) | (
            old.keys() - new.keys())

    @cached_property
    def surroundings(self) -> dict[str, tuple[str, tuple[str, ...], bool]]:
        """All that a transition takes of a node but its place: layer, groups around it, whether it
        can be entered."""
        ids = [group.id for group in self.groups]
        around = [tuple([ids[place] for place in places]) for places in self.around_group]
        found = {
            group.id: (group.layer, around[index], self.first_inside[index] != NOWHERE)
            for index, group in enumerate(self.groups)
        }
        whole = {(place, *self.around_group[place]): (ids[place], *around[place])
                 for place in range(len(ids))}
        whole[()] = ()
        found |= {
            state.id: (state.layer, whole[places], not waits)
            for state, places, waits in zip(self.states, self.around_state, self.waits, strict=True)
        }
        return found

    def renamed_since(self, before: Nodes) -> frozenset[str]:
        """The ids of nodes that are called otherwise than before."""
        if before is self:
            return frozenset()
        return frozenset([id for id, name in self.names.items() if before.names.get(id) != name])

    def _parent(self, id: str | None, layer: int) -> int:
        """The place of the group around, -1 for none that counts."""
        place = ~self.refs.get(id, 0) if id is not None else -1
        if place >= 0 and self.group_layers[place] == layer:
            return place
        return self.anywhere.get(layer, -1)

    def _around(self, place: int) -> tuple[int, ...]:
        found: list[int] = []
        parent = self.parents[place]
        # A circle of groups is refused by the file; here it only has to end.
        while parent >= 0 and parent != place and parent not in found:
            found.append(parent)
            parent = self.parents[parent]
        return tuple(found)

    def around(self, node: int) -> tuple[int, ...]:
        """The places of the groups around a node, from the inside out."""
        return self.around_state[node] if node >= 0 else self.around_group[~node]

    def layer(self, node: int) -> int:
        """The place of a node's layer, -1 where it does not exist."""
        return self.state_layers[node] if node >= 0 else self.group_layers[~node]

    def can_be_entered(self, node: int) -> bool:
        """Whether entering a node can end in a state: in one that waits for a clip it cannot."""
        if self.layer(node) < 0:
            return False
        return not self.waits[node] if node >= 0 else self.first_inside[~node] != NOWHERE

    def waits_for_a_clip(self, node: int) -> bool:
        """Whether it cannot be entered for no other reason than that what it is, or holds, waits
        for clips."""
        if node >= 0:
            return self.waits[node]
        return self.first_inside[~node] == NOWHERE and any(
            ~node in around for around in self.around_state)

    def start_of(self, group: int) -> int:
        """The node that a group enters where it remembers none; NOWHERE for a group without
        states."""
        start = self.refs.get(self.groups[group].start or "", NOWHERE)
        if start != NOWHERE and group in self.around(start) and self.can_be_entered(start):
            return start
        return self.first_inside[group]

    def start_trouble(self, id: str | None, inside: bool) -> str | None:
        """What is wrong with a start, `inside` saying whether it is where it should be; None where
        nothing is."""
        if id is None:
            return None
        if not inside:
            return f"its start {id} is not in it"
        node = self.refs[id]
        if not self.can_be_entered(node) and not self.waits_for_a_clip(node):
            return f"its start {id} holds no state, and cannot be entered"
        return None
