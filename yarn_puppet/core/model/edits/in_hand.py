"""Attaching a prop on a bone: an anchor there, and while-rules that hold the prop at it."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

from msgspec.structs import replace

from ..events import Rule
from ..graph import Group, State
from ..motions import BonePlace
from ..puppet import Puppet
from .bone_boxes import anchor_placed, bone_anchor_added
from .entries import changed


class Holders(NamedTuple):
    """States and bands, by id, that can hold a prop together, and how that is said."""

    words: str
    nodes: tuple[str, ...]


def holders(puppet: Puppet, clip: str) -> tuple[Holders, ...]:
    """Who can hold what is hung on a pose of a clip: each state that plays it, each state without a
    clip in the same layer, which is what the layer does else, and everything of the body."""
    playing = [state for state in puppet.states if state.clip == clip]
    layers = {state.layer for state in playing}
    resting = [state for state in puppet.states if state.clip is None and state.layer in layers]
    found = [Holders(f"while {state.name}", (state.id,)) for state in (*playing, *resting)]
    body = puppet.layers[0].id if puppet.layers else None
    nodes: tuple[Group | State, ...] = (*puppet.groups, *puppet.states)
    outermost = tuple([node.id for node in nodes if node.group is None and node.layer == body])
    if outermost:
        found.append(Holders("always", outermost))
    return tuple(found)


def prop_attached(
    puppet: Puppet, file: str, place: BonePlace, nodes: Sequence[str]
) -> tuple[Puppet, str]:
    """With a prop at a new anchor on a bone, held while any of some states or bands is active; also
    the anchor's id. Where one of them holds that prop already, it holds it there from now on."""
    puppet, anchor = bone_anchor_added(puppet, place.bone)
    puppet = anchor_placed(puppet, anchor, place)
    for state in puppet.states:
        if state.id in nodes:
            puppet = changed(puppet, "states", state.id, rules=_holding(state, file, anchor))
    for group in puppet.groups:
        if group.id in nodes:
            puppet = changed(puppet, "groups", group.id, rules=_holding(group, file, anchor))
    return puppet, anchor


def _holding(node: State | Group, file: str, anchor: str) -> tuple[Rule, ...]:
    if any(rule.kind == "prop" and rule.shows == file for rule in node.rules):
        return tuple([replace(rule, anchor=anchor) if rule.kind == "prop" and rule.shows == file
                      else rule for rule in node.rules])
    return (*node.rules, Rule("prop", anchor=anchor, shows=file))
