"""What stands in a puppet and can never do anything: ways that are never taken, clips that are
never picked, maps of no width, sounds without a file."""

from __future__ import annotations

from collections.abc import Iterator

from ..engine.program import Program
from ..model.puppet import Puppet
from .references import Named
from .snag import Snag


def without_effect(puppet: Puppet, program: Program) -> list[Snag]:
    """All that can be seen without running it."""
    return [*_ways(puppet), *_states(puppet), *_spreads(puppet), *_sounds(puppet)]


def _ways(puppet: Puppet) -> Iterator[Snag]:
    named, still = Named(puppet), {state.id for state in puppet.states
                                   if state.speed == 0 and state.speed_map is None}
    states = {state.id for state in puppet.states}
    for each in puppet.transitions:
        where = named.of("transition", each.id)
        if each.source == each.target and each.source in states and not each.reenters:
            yield Snag("warning", "transition", each.id, where,
                       "it leads to the state that it leaves, and does not enter it again",
                       "let it enter the state again, or remove it")
        if each.source in still and each.leave.kind == "at the end":
            yield Snag("warning", "transition", each.id, where,
                       "it waits for the end of a clip that plays at speed 0",
                       "give the state a speed, or let it leave at any time")


def _states(puppet: Puppet) -> Iterator[Snag]:
    for state in puppet.states:
        mapped = state.speed_map
        if mapped is not None and mapped.low == mapped.high:
            yield Snag("warning", "state", state.id, state.name,
                       f"its speed is read from {mapped.low:g} to {mapped.high:g}: no width",
                       "give the range two ends")


def _spreads(puppet: Puppet) -> Iterator[Snag]:
    clips = {clip.id: clip.name for clip in puppet.clips}
    for spread in puppet.spreads:
        if not spread.clips:
            yield Snag("warning", "spread", spread.id, spread.name, "it has no clip",
                       "place a clip in it")
        seen: dict[tuple[float, ...], str] = {}
        for placed in spread.clips if spread.along else ():
            first = seen.setdefault(placed.place, placed.clip)
            if first != placed.clip:
                yield Snag("warning", "spread", spread.id, spread.name,
                           f"{clips.get(placed.clip, placed.clip)} stands where "
                           f"{clips.get(first, first)} does, which is picked before it",
                           "give each clip a place of its own")


def _sounds(puppet: Puppet) -> Iterator[Snag]:
    for clip in puppet.clips:
        for moment in clip.moments:
            if moment.kind == "sound" and not moment.file:
                yield Snag("note", "clip", clip.id, f"{clip.name}, {moment.name}",
                           "its sound has no file, and nothing is heard at the desk",
                           "choose a sound")
