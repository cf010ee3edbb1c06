"""What the names of clips say all together: which patterns fit, and the puppet that comes of them.

The rules stand in `docs/patterns.md`.
"""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from typing import NamedTuple

from ..engine.compiling.puppets import compile_puppet
from ..model.clips import Clip
from ..model.edits.graph import group_removed, state_removed
from ..model.puppet import Puppet
from ..snags.unreachable import reachable
from .combining import combined
from .filling import filled
from .matching import Filled, matched, sides_of
from .reading_names import read_name
from .words import movement_called


class Wired(NamedTuple):
    """A puppet with patterns put into it and filled, and what is known of that."""

    puppet: Puppet
    cards: dict[str, Filled]
    """The cards that were given a clip, by state."""
    waiting: tuple[str, ...]
    """The names of the states that still wait, in order."""
    unplaced: tuple[str, ...]
    """The clips that no state plays."""
    ids: tuple[dict[str, str], ...] = ()
    """By pattern the ids that its states and groups have in the puppet."""


def unused_clips(puppet: Puppet) -> tuple[Clip, ...]:
    """The clips that show something and that no state plays."""
    played = {state.clip for state in puppet.states} | {
        placed.clip for spread in puppet.spreads for placed in spread.clips}
    return tuple(clip for clip in puppet.clips if clip.plays and clip.id not in played)


def is_from_above(puppet: Puppet) -> bool:
    """Whether the clips show a puppet that is seen from above: some of one name face up or down
    too."""
    return bool(sides_of(puppet.clips))


def fitting(puppet: Puppet, patterns: Mapping[str, Puppet]) -> tuple[str, ...]:
    """The names of the patterns that fit the clips which no state plays, in the order in which they
    are given.

    A pattern fits if it has a card for one of them that those before it have not. A puppet seen
    from above has the patterns that turn to four or eight sides, any other the rest.
    """
    clips, above = unused_clips(puppet), is_from_above(puppet)
    chosen, given = list[str](), set[str]()
    for name, pattern in patterns.items():
        if (pattern.facing.kind != "mirror") != above:
            continue
        found = {each.clip for each in matched(pattern.states, clips).values()} - given
        if found:
            chosen.append(name)
            given |= found
    return tuple(chosen)


def _without_what_waits_alone(puppet: Puppet, kept: set[str]) -> Puppet:
    """Without those bands in which every card waits, and without the further steps of a chain that
    has begun: neither is missed until somebody wants it. What is `kept` stays."""
    for group in puppet.groups:
        inside = puppet.states_inside(group.id)
        if group.id not in kept and inside and all(state.waits for state in inside) and (
                kept.isdisjoint(state.id for state in inside)):
            for state in inside:
                puppet = state_removed(puppet, state.id)
            puppet = group_removed(puppet, group.id)
    begun = {read.movement for state in puppet.states if not state.waits
             and (read := read_name(state.waits_for)).movement}
    for state in puppet.states:
        movement = movement_called(state.waits_for)
        if state.waits and state.id not in kept and movement is not None and (
                movement.counted and movement in begun):
            puppet = state_removed(puppet, state.id)
    return puppet


def _reached(
    puppet: Puppet, cards: Mapping[str, Filled], chosen: Collection[str]
) -> dict[str, Filled]:
    """The cards that something leads to once they are filled, and those that somebody has
    `chosen` a clip for: a clip for *get up* waits beside the graph as long as nobody is thrown."""
    given = dict(cards)
    while True:
        tried = filled(puppet, given)
        reached = reachable(compile_puppet(tried))
        lost = [state.id for place, state in enumerate(tried.states)
                if place not in reached and state.id in given and state.id not in chosen]
        if not lost:
            return given
        given = {id: each for id, each in given.items() if id not in lost}


def wired(
    puppet: Puppet, patterns: Sequence[Puppet], chosen: Mapping[str, str | None] | None = None,
    whole: Sequence[bool] = (),
) -> Wired:
    """With some patterns, their cards filled by what the clips are called.

    `chosen` gives by the name of a state the clip that it has instead, or None for none. Of a
    pattern that is `whole` all cards are kept; of any other one, bands in which every card waits,
    and further steps of a chain, are left out.
    """
    clips = unused_clips(puppet)
    made, ids = combined(puppet, patterns)
    kept = {node.id for node in puppet.nodes}
    for pattern_ids, all_of_it in zip(ids, whole, strict=False):
        kept |= set(pattern_ids.values()) if all_of_it else set()
    own = {clip: name for name, clip in (chosen or {}).items() if clip is not None}
    by_name = {state.name: state for state in made.states if state.waits}
    cards = matched([state for state in by_name.values() if state.name not in (chosen or {})],
                    [clip for clip in clips if clip.id not in own])
    cards |= {by_name[name].id: Filled(clip, False) for clip, name in own.items()
              if name in by_name}
    cards = _reached(made, cards, {by_name[name].id for name in own.values() if name in by_name})
    made = _without_what_waits_alone(filled(made, cards), kept)
    return Wired(made, cards, tuple(state.name for state in made.states if state.waits),
                 tuple(clip.id for clip in unused_clips(made)), ids)
