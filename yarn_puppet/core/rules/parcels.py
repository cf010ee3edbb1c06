"""What is copied: a parcel, a puppet that holds just what was chosen and what that needs."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import replace as with_fields
from typing import Any, NamedTuple

from msgspec.structs import replace

from ..model.puppet import Puppet
from .needs import Needs, needs_of
from .parse import parse
from .scope import ConditionError, scope_by_id
from .tree import Query, reads

BROUGHT = ("sheets", "bone_files", "anchors", "actions", "senses", "memos", "thresholds",
           "intents", "clips", "spreads")
"""What comes along, each after what it needs itself."""


class Parcel(NamedTuple):
    """What was copied, and in words what could not come along."""

    puppet: Puppet
    left: tuple[str, ...]


def parcel_of(puppet: Puppet, nodes: Collection[str]) -> Parcel:
    """States and groups with all that is inside them, and what they need. Transitions come along
    where both their ends do."""
    groups = {group.id for group in puppet.groups if group.id in nodes
              or any(each.id in nodes for each in puppet.groups_around(group))}
    states = tuple(state for state in puppet.states if state.id in nodes
                   or any(each.id in groups for each in puppet.groups_around(state)))
    inside = groups | {state.id for state in states}
    kept = tuple(transition for transition in puppet.transitions
                 if transition.source in inside and transition.target in inside)
    names = {node.id: node.name for node in puppet.nodes}
    left = tuple(
        f"{names.get(transition.source, transition.source)} → "
        f"{names.get(transition.target, transition.target)}"
        for transition in puppet.transitions
        if (transition.source in inside) != (transition.target in inside)
    )
    heard = {each.id for each in kept}
    own_states = tuple(_alone(state, groups, heard) for state in states)
    own_groups = tuple(_alone(group, groups, heard)
                       for group in puppet.groups if group.id in groups)
    layers = {node.layer for node in (*own_states, *own_groups)}
    graph = replace(
        puppet, states=own_states, groups=own_groups, transitions=kept,
        layers=tuple(layer for layer in puppet.layers if layer.id in layers),
    )
    needs = needs_of(graph)
    parcel = _reduced(graph, needs)
    return Parcel(parcel, (*left, *_not_brought(puppet, parcel)))


def _not_brought(puppet: Puppet, parcel: Puppet) -> tuple[str, ...]:
    """In words what the entries of a parcel name and what does not come along: states that are
    asked for or let in, and layers that are weighed."""
    inside, names = {node.id for node in parcel.nodes}, {
        node.id: node.name for node in puppet.nodes}
    layers = {layer.id: layer.name for layer in puppet.layers}
    scope, found = with_fields(scope_by_id(puppet), any_node=True), list[str]()
    texts = [(f"{names.get(transition.source)} → {names.get(transition.target)}", transition.when,
              "bool")
             for transition in parcel.transitions]
    types = {memo.id: memo.type for memo in puppet.memos}
    deeds = [(state.name, deed) for state in parcel.states
             for deed in (*state.on_enter, *state.on_leave)]
    deeds += [(f"clip {clip.name}", deed) for clip in parcel.clips for moment in clip.moments
              for deed in moment.deeds]
    texts += [(owner, deed.value, types.get(deed.memo or "", "bool"))
              for owner, deed in deeds if deed.kind == "set"]
    ruled = [(node.name, node.rules) for node in parcel.nodes]
    ruled += [(f"clip {clip.name}", window.rules) for clip in parcel.clips
              for window in clip.windows]
    texts += [(owner, rule.when, "bool") for owner, rules in ruled for rule in rules]
    for owner, text, expected in texts:
        try:
            asked = reads(parse(text, scope, expected)) if text.strip() else ()  # type: ignore[arg-type]
        except ConditionError:
            found.append(f"{owner}: what “{text}” asks for, which cannot be read")
            continue
        found += [f"{owner}: it asks for the state {names.get(part.argument, part.argument)}"
                  for part in asked
                  if isinstance(part, Query) and part.function == "in_state"
                  and part.argument not in inside]
    for clip in parcel.clips:
        found += [f"clip {clip.name}, window {each.name}: it lets in {names.get(id, id)}"
                  for each in clip.windows for id in each.into if id not in inside]
    own = {layer.id for layer in parcel.layers}
    found += [f"{owner}: the layer {layers.get(rule.layer, rule.layer)} that it weighs"
              for owner, rules in ruled
              for rule in rules if rule.layer is not None and rule.layer not in own]
    return tuple(dict.fromkeys(found))


def _alone(node: Any, groups: set[str], heard: set[str]) -> Any:
    return replace(
        node, group=node.group if node.group in groups else None,
        deaf_to=tuple(id for id in node.deaf_to if id in heard),
    )


def _reduced(puppet: Puppet, needs: Needs) -> Puppet:
    """With only those entries that are needed."""
    return replace(puppet, **{
        field: tuple(each for each in getattr(puppet, field) if each.id in needs[field])
        for field in BROUGHT
    })
