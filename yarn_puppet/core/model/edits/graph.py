"""Edits of states, groups, transitions and their while-rules."""

from __future__ import annotations

from collections.abc import Collection
from typing import Any, get_args

from msgspec.structs import replace

from ..basics.ids import all_ids, free_name, new_id
from ..events import Rule
from ..graph import Group, State, Thread, Transition
from ..puppet import Puppet
from .entries import added, changed, moved, removed, with_entries

THREADS: tuple[Thread, ...] = get_args(Thread)
FIRST_THREADS: tuple[Thread, ...] = ("moss", "madder", "woad", "indigo", "plum", "clay", "weld")
"""The colours new groups get, in turn."""


def group_added(
    puppet: Puppet, name: str, inside: str | None = None, layer: str | None = None
) -> tuple[Puppet, str]:
    """With a group at the end; also its id."""
    name = free_name(name, _names(puppet))
    id = new_id(name, all_ids(puppet), "group")
    layer = (
        inside_group.layer
        if (inside_group := puppet.group(inside))
        else layer or puppet.layers[0].id
    )
    thread = FIRST_THREADS[len(puppet.groups) % len(FIRST_THREADS)]
    return added(puppet, "groups", Group(id, name, layer, inside, thread=thread)), id


def state_added(
    puppet: Puppet,
    name: str,
    plays: str | None,
    group: str | None,
    place: int | None = None,
    layer: str | None = None,
) -> tuple[Puppet, str]:
    """With a state that plays a clip or spread; also its id.

    The first state of a layer becomes its start, the first of a group the group's.
    """
    name = free_name(name, _names(puppet))
    id = new_id(name, all_ids(puppet), "state")
    around = puppet.group(group)
    layer = around.layer if around else layer or puppet.layers[0].id
    puppet = state_playing(added(puppet, "states", State(id, name, layer, group)), id, plays)
    if around is not None and around.start is None:
        puppet = changed(puppet, "groups", around.id, start=id)
    layers = tuple(
        replace(each, start=id) if each.id == layer and each.start is None else each
        for each in puppet.layers
    )
    puppet = with_entries(puppet, "layers", layers)
    return (puppet if place is None else state_ordered(puppet, id, group, place)), id


def state_playing(puppet: Puppet, id: str, plays: str | None) -> Puppet:
    """With a state that plays a clip or a spread, by id, or nothing."""
    is_spread = any(spread.id == plays for spread in puppet.spreads)
    return state_changed(puppet, id, clip=None if is_spread else plays,
                         spread=plays if is_spread else None)


def state_changed(puppet: Puppet, id: str, **values: Any) -> Puppet:
    """With other values in a state."""
    return changed(puppet, "states", id, **values)


def state_ordered(puppet: Puppet, id: str, group: str | None, order: int) -> Puppet:
    """With a state put into a band, or into none, as its state number `order`, counted from 0; it
    is of that band's layer.

    The states of a band are given places in their order, so that what is added later stands behind
    them.
    """
    moving = puppet.state(id)
    around = puppet.group(group)
    if moving is None:
        return puppet
    if around is not None and around is puppet.anywhere(around.layer):
        around = group = None
    layer = around.layer if around is not None else moving.layer
    others = sorted(
        (state for state in puppet.states
         if state.id != id and _band_of(puppet, state) == group and state.layer == layer),
        key=lambda state: 1 << 30 if state.place is None else state.place)
    order = max(0, min(order, len(others)))
    ids = [*[state.id for state in others[:order]], id, *[state.id for state in others[order:]]]
    places = {each: number for number, each in enumerate(ids)}
    states = tuple(
        replace(state, group=group, layer=layer, place=places[state.id]) if state.id == id
        else replace(state, place=places[state.id])
        if places.get(state.id, state.place) != state.place
        else state for state in puppet.states
    )
    return starts_fixed(with_entries(puppet, "states", states))


def _band_of(puppet: Puppet, state: State) -> str | None:
    """The band in which a state is drawn: none where its group is gone, of another
    layer, or around all of its own."""
    group = puppet.group(state.group)
    if group is None or group.layer != state.layer or group is puppet.anywhere(group.layer):
        return None
    return group.id


def group_ordered(puppet: Puppet, id: str, before: str | None) -> Puppet:
    """With a group put before another of those beside it, or behind them all."""
    return moved(puppet, "groups", id, before)


def state_removed(puppet: Puppet, id: str) -> Puppet:
    """Without a state, its transitions, its part as a start, and its place among what windows let
    in."""
    return starts_fixed(_let_in(_ways_removed(removed(puppet, "states", id), id), id, ()))


def states_removed(puppet: Puppet, ids: Collection[str]) -> Puppet:
    """Without several states, and what hangs on them."""
    for id in ids:
        puppet = state_removed(puppet, id)
    return puppet


def _ways_removed(puppet: Puppet, node: str) -> Puppet:
    """Without the transitions from and to a node."""
    gone = {transition.id for transition in puppet.transitions
            if transition.source == node or transition.target == node}
    left = tuple([each for each in puppet.transitions if each.id not in gone])
    return _heard(with_entries(puppet, "transitions", left), gone)


def _heard(puppet: Puppet, gone: set[str]) -> Puppet:
    """With no node deaf to transitions that are gone."""
    def hearing(node: Any) -> Any:
        if gone.isdisjoint(node.deaf_to):
            return node
        return replace(node, deaf_to=tuple(id for id in node.deaf_to if id not in gone))

    for field in ("states", "groups"):
        entries = getattr(puppet, field)
        if not all(gone.isdisjoint(node.deaf_to) for node in entries):
            puppet = with_entries(puppet, field, tuple(map(hearing, entries)))
    return puppet


def deaf_set(puppet: Puppet, node: str, transition: str, deaf: bool) -> Puppet:
    """With a state or group that does not listen to a transition of a group around it, or does
    again."""
    found = puppet.node(node)
    if found is None:
        return puppet
    others = tuple(id for id in found.deaf_to if id != transition)
    field = "states" if isinstance(found, State) else "groups"
    return changed(puppet, field, node, deaf_to=(*others, transition) if deaf else others)


def starts_fixed(puppet: Puppet) -> Puppet:
    """With no start that is outside what it starts: a group then begins with the first state in it,
    a layer too."""
    layers = {node.id: node.layer for node in puppet.nodes}
    parents = {node.id: node.group for node in puppet.nodes}
    seams = {group.id: group.layer for group in puppet.groups
             if group is puppet.anywhere(group.layer)}
    groups = tuple(
        group if group.start is None
        or group.id in _around(parents, group.start)
        or (group.id in seams and layers.get(group.start) == group.layer)
        else replace(group, start=None)
        for group in puppet.groups
    )
    first = {state.layer: state.id for state in reversed(puppet.states)}
    starts = tuple(
        layer if layer.start is None or layers.get(layer.start) == layer.id
        else replace(layer, start=first.get(layer.id))
        for layer in puppet.layers
    )
    return with_entries(with_entries(puppet, "groups", groups), "layers", starts)


def _around(parents: dict[str, str | None], id: str) -> list[str]:
    """The ids of the groups around a node, from the inside out."""
    found: list[str] = []
    parent = parents.get(id)
    while parent is not None and parent not in found:
        found.append(parent)
        parent = parents.get(parent)
    return found


def _let_in(puppet: Puppet, gone: str, instead: tuple[str, ...]) -> Puppet:
    """With windows letting in others instead of a node that is gone.

    One that let in nothing else keeps its name: without it the window would let in everything. It
    is a snag then.
    """
    if not any(gone in window.into for clip in puppet.clips for window in clip.windows):
        return puppet
    clips = []
    for clip in puppet.clips:
        if any(gone in window.into for window in clip.windows):
            windows = []
            for window in clip.windows:
                into = tuple(dict.fromkeys(
                    id for each in window.into for id in (instead if each == gone else (each,))
                ))
                windows.append(replace(window, into=into) if into else window)
            clip = replace(clip, windows=tuple(windows))
        clips.append(clip)
    return with_entries(puppet, "clips", tuple(clips))


def group_changed(puppet: Puppet, id: str, **values: Any) -> Puppet:
    """With other values in a group."""
    return changed(puppet, "groups", id, **values)


def group_removed(puppet: Puppet, id: str) -> Puppet:
    """Without a group and its transitions; what it held goes to the group around it, as does its
    part as a start."""
    group = puppet.group(id)
    if group is None:
        return puppet
    held = tuple(node.id for node in puppet.held_by(id))
    start = group.start if group.start is not None else next(iter(held), None)
    puppet = _ways_removed(_let_in(removed(puppet, "groups", id), id, held), id)
    return starts_fixed(replace(
        puppet,
        states=tuple(replace(state, group=group.group) if state.group == id else state
                     for state in puppet.states),
        groups=tuple(
            replace(each, group=group.group if each.group == id else each.group,
                    start=start if each.start == id else each.start)
            for each in puppet.groups
        ),
        layers=tuple(replace(layer, start=start) if layer.start == id else layer
                     for layer in puppet.layers),
    ))


def group_nested(puppet: Puppet, id: str, inside: str | None) -> Puppet:
    """With a group put inside another, or outermost; unchanged where that would put it inside
    itself, and for what is around all of its layer."""
    target, moving = puppet.group(inside), puppet.group(id)
    if moving is not None and moving.anywhere:
        return puppet
    if target is not None and id in (
        target.id,
        *(each.id for each in puppet.groups_around(target)),
    ):
        return puppet
    return starts_fixed(group_changed(puppet, id, group=inside))


def transition_added(
    puppet: Puppet, source: str, target: str, when: str = ""
) -> tuple[Puppet, str]:
    """With a transition, tried after the others of its source; also its id."""
    id = new_id(f"{source} to {target}", all_ids(puppet), "transition")
    return added(puppet, "transitions", Transition(id, source, target, when)), id


def transition_changed(puppet: Puppet, id: str, **values: Any) -> Puppet:
    """With other values in a transition."""
    return changed(puppet, "transitions", id, **values)


def transition_removed(puppet: Puppet, id: str) -> Puppet:
    """Without a transition."""
    return _heard(removed(puppet, "transitions", id), {id})


def transition_ordered(puppet: Puppet, id: str, order: int) -> Puppet:
    """With a transition tried at place `order`, counted from 1, among those of its source."""
    moving = puppet.transition(id)
    if moving is None:
        return puppet
    siblings = [each for each in puppet.transitions_of(moving.source) if each.id != id]
    siblings.insert(max(0, min(order - 1, len(siblings))), moving)
    in_order = iter(siblings)
    return with_entries(
        puppet, "transitions",
        tuple(next(in_order) if transition.source == moving.source else transition
              for transition in puppet.transitions),
    )


def rule_set(puppet: Puppet, owner: str, rule: Rule) -> Puppet:
    """With a while-rule on a state or group, in place of one of its kind and, where it is for one,
    its memo, anchor or layer."""
    def put(rules: tuple[Rule, ...]) -> tuple[Rule, ...]:
        if any(same_subject(each, rule) for each in rules):
            return tuple(rule if same_subject(each, rule) else each for each in rules)
        return (*rules, rule)

    return _rules_changed(puppet, owner, put)


def same_subject(one: Rule, other: Rule) -> bool:
    """Whether two while-rules are about the same thing."""
    return (one.kind, one.memo, one.anchor, one.layer) == (
        other.kind, other.memo, other.anchor, other.layer)


def rule_taken(puppet: Puppet, owner: str, rule: Rule) -> Puppet:
    """Without a while-rule that is the same as this one."""
    return _rules_changed(puppet, owner,
                          lambda rules: tuple(each for each in rules if each != rule))


def rules_changed(puppet: Puppet, owner: str, rules: tuple[Rule, ...]) -> Puppet:
    """With these while-rules on a state or group."""
    return _rules_changed(puppet, owner, lambda _: rules)


def _rules_changed(puppet: Puppet, owner: str, edit: Any) -> Puppet:
    node = puppet.node(owner)
    if node is None:
        return puppet
    field = "states" if isinstance(node, State) else "groups"
    return changed(puppet, field, owner, rules=edit(node.rules))


def start_set(puppet: Puppet, state: str) -> Puppet:
    """With a state as the one its layer starts in."""
    found = puppet.state(state)
    if found is None:
        return puppet
    return changed(puppet, "layers", found.layer, start=state)


def _names(puppet: Puppet) -> set[str]:
    return {node.name for node in puppet.nodes}
