"""Patterns put into a puppet: what is called the same is there once."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

from msgspec.structs import replace

from ..model.edits.entries import changed
from ..model.graph import BODY
from ..model.puppet import Puppet, find
from ..model.wiring import Facing
from ..rules.copying import pasted


class Combined(NamedTuple):
    """A puppet with patterns in it, and the ids that the entries of each pattern have in it: a
    mapping a pattern, of its states and groups."""

    puppet: Puppet
    ids: tuple[dict[str, str], ...]


def combined(puppet: Puppet, patterns: Sequence[Puppet]) -> Combined:
    """With the graphs of some patterns, one after the other, on the body's layer.

    A state or group that is called like one that is there is that one, and its transitions are
    added to those it has, after them. Wiring that is called the same is used as it is there. The
    puppet starts where the first pattern does, and turns as it does, where nothing was said of
    that yet.
    """
    made = []
    for pattern in patterns:
        # A band is never taken for a state that is called like it.
        here = {(type(node), node.name.casefold()): node.id for node in reversed(puppet.nodes)
                if node.layer == BODY}
        onto = {node.id: here[type(node), node.name.casefold()] for node in pattern.nodes
                if (type(node), node.name.casefold()) in here}
        before = {node.id for node in puppet.nodes}
        result = pasted(puppet, pattern, BODY, onto=onto)
        states = [each.id for each in pattern.states if each.id not in onto]
        groups = [each.id for each in pattern.groups if each.id not in onto]
        ids = {**onto, **dict(zip(states, result.states, strict=True)),
               **dict(zip(groups, result.groups, strict=True))}
        puppet = _begun_like(result.puppet, pattern, ids, before)
        for group in result.groups:
            puppet = _start_inside(puppet, group)
        made.append(ids)
    return Combined(puppet, tuple(made))


def _start_inside(puppet: Puppet, id: str) -> Puppet:
    """With a band that was brought starting in what is inside it: what it started in may be a state
    that was there, in another band."""
    group = puppet.group(id)
    if group is None or group.start is None:
        return puppet
    start = puppet.node(group.start)
    inside = start is not None and any(each.id == id for each in puppet.groups_around(start))
    return puppet if inside else changed(puppet, "groups", id, start=None)


def _begun_like(
    puppet: Puppet, pattern: Puppet, ids: dict[str, str], before: set[str]
) -> Puppet:
    """With the start, the facing and the booth of a pattern where the puppet had none."""
    start = next((layer.start for layer in pattern.layers if layer.id == BODY), None)
    body = find(puppet.layers, BODY)
    if body is not None and (body.start is None or body.start not in before):
        puppet = changed(puppet, "layers", BODY, start=body.start or ids.get(start or ""))
    if puppet.facing == Facing() and pattern.facing != Facing():
        puppet = replace(puppet, facing=pattern.facing)
    if not puppet.booth and pattern.booth:
        puppet = replace(puppet, booth=pattern.booth)
    return puppet
