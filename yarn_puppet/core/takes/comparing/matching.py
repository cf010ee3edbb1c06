"""Which entry of one puppet is which of another: the same id, or else the same name where nothing
else has it."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from typing import Any

from ...model.puppet import Puppet
from ..run import Setup

NAMED = {
    "layer": "layers", "node": "nodes", "clip": "clips", "anchor": "anchors", "intent": "intents",
    "sense": "senses",
    "memo": "memos", "threshold": "thresholds", "action": "actions",
}
"""The kinds of ids in a report, and the field of a puppet that holds their entries."""


class Matching:
    """From ids of one puppet to those of another.

    An entry renamed is the same entry. Two puppets that were made apart have other ids for the same
    names; an id that only one of them has is matched by its name, where only one entry without a
    partner has that on either side. A transition has no name: it is matched by where it leads from
    and to, and its place among such.
    """

    def __init__(self, before: Setup, after: Setup) -> None:
        self.before, self.after = before, after
        old, new = before.puppet, after.puppet
        self._ids = {kind: _matched(getattr(old, field), getattr(new, field))
                     for kind, field in NAMED.items()}
        self._ids["transition"] = self._transitions(old, new)
        self._ids["event"] = {}
        for one in old.clips:
            other = new.clip(self.id("clip", one.id))
            if other is not None:
                self._ids["event"] |= _events(one.windows, other.windows) | _events(
                    one.moments, other.moments)
        self.same_places = not any(self._ids.values()) and _places(before) == _places(after)
        """Whether records of both that are equal tell the same: whatever stands in a place has the
        same id in both."""

    def id(self, kind: str, id: Any) -> Any:
        """The id in the other puppet of an entry of the one, the same where it has no partner."""
        return self._ids[kind].get(id, id)

    def _transitions(self, old: Puppet, new: Puppet) -> dict[str, str]:
        known = {transition.id for transition in old.transitions} & {
            transition.id for transition in new.transitions}

        def by_way(puppet: Puppet, matched: bool) -> dict[tuple[str, str, int], str]:
            seen: Counter[tuple[str, str]] = Counter()
            found = {}
            for transition in puppet.transitions:
                if transition.id in known:
                    continue
                way = (
                    (self.id("node", transition.source), self.id("node", transition.target))
                    if matched
                    else (transition.source, transition.target)
                )
                found[*way, seen[way]] = transition.id
                seen[way] += 1
            return found

        one, other = by_way(old, True), by_way(new, False)
        return {id: other[way] for way, id in one.items() if way in other}


def _matched(old: Iterable[Any], new: Iterable[Any]) -> dict[str, str]:
    """The ids that have a partner of another id, by name."""
    was, now = {each.id: each.name for each in old}, {each.id: each.name for each in new}
    left = {id: name for id, name in was.items() if id not in now}
    free = {id: name for id, name in now.items() if id not in was}
    left_of, free_of = Counter(left.values()), Counter(free.values())
    partner = {name: id for id, name in free.items() if free_of[name] == 1}
    return {id: partner[name]
            for id, name in left.items() if left_of[name] == 1 and name in partner}


def _events(old: Iterable[Any], new: Iterable[Any]) -> dict[str, str]:
    """The same for windows or moments of one clip, of which several may have one name: the first is
    the first."""
    def named(events: Iterable[Any], others: set[str]) -> dict[tuple[str, str, int], str]:
        seen: Counter[tuple[str, str]] = Counter()
        found = {}
        for event in events:
            if event.id not in others:
                found[event.kind, event.name, seen[event.kind, event.name]] = event.id
                seen[event.kind, event.name] += 1
        return found

    both = {each.id for each in old} & {each.id for each in new}
    one, other = named(old, both), named(new, both)
    return {id: other[key] for key, id in one.items() if key in other}


def _places(setup: Setup) -> list[Any]:
    program, world = setup.program, setup.world
    entries = (program.layers, program.intents, program.senses, program.memos, program.thresholds)
    return [[each.id for each in kind] for kind in entries] + [
        [dummy.name for dummy in world.dummies] if world is not None else None]
