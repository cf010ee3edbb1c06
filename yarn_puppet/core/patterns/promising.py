"""The take of a pattern as one of the puppet that it was put into: what it presses, and what it
promises of the cards that have clips."""

from __future__ import annotations

from collections.abc import Collection, Mapping

from msgspec.structs import replace

from ..model.promise import Happening, Promise
from ..model.puppet import Puppet
from ..model.take import Take


def take_for(take: Take, pattern: Puppet, puppet: Puppet, nodes: Mapping[str, str]) -> Take:
    """A pattern's take over the ids of `puppet`; `nodes` gives those of its states and groups.

    Promises about a card that waits, or about what is not there, stay behind.
    """
    ids = {(field, each.id): found for field in ("actions", "intents", "senses")
           for each in getattr(pattern, field)
           if (found := _called(puppet, field, each.name)) is not None}
    controls = tuple((tick, ids["actions", action], down) for tick, action, down in take.controls
                     if ("actions", action) in ids)
    promises = [kept for each in take.promises
                if (kept := _promise(each, puppet, nodes, ids)) is not None]
    made = _with_room(replace(take, controls=controls, promises=tuple(promises)), puppet,
                      nodes.values())
    return made if puppet.rate == take.rate else _at_rate(made, puppet.rate)


ROOM = 0.5
"""Seconds of a clip that plays out for which the takes leave room between presses."""


def _with_room(take: Take, puppet: Puppet, nodes: Collection[str]) -> Take:
    """A take that leaves room for the longest of its pattern's clips that hit or that nothing hits:
    what is pressed comes as much later as that is longer. What is down together stays so, as long
    and as far apart: it leads as far through the booth."""
    longest = max((each.length / 1000 / max(state.speed, 0.1) for state in puppet.states
                   for each in puppet.clips_of(state) if state.id in nodes and (
                       any(window.kind == "hit" for window in each.windows)
                       or any(rule.kind == "safe" for rule in state.rules))), default=0.0)
    times = max(1.0, longest / ROOM)
    controls, later, down = [], 0, set[str]()
    for tick, action, is_down in take.controls:
        if is_down and not down:
            later = round(tick * times) - tick
        (down.add if is_down else down.discard)(action)
        controls.append((tick + later, action, is_down))
    return replace(take, controls=tuple(controls), ticks=round(take.ticks * times))


def _at_rate(take: Take, rate: int) -> Take:
    """A take as long at another rate: what was pressed is pressed at the same times."""
    def at(tick: int) -> int:
        return round(tick * rate / take.rate)

    promises = tuple(replace(each, ticks=max(each.ticks and 1, at(each.ticks)))
                     for each in take.promises)
    controls = tuple((at(tick), action, down) for tick, action, down in take.controls)
    return replace(take, rate=rate, ticks=at(take.ticks), controls=controls, promises=promises)


def _called(puppet: Puppet, field: str, name: str) -> str | None:
    return next((each.id for each in getattr(puppet, field) if each.name == name), None)


def _promise(
    promise: Promise, puppet: Puppet, nodes: Mapping[str, str], ids: Mapping[tuple[str, str], str]
) -> Promise | None:
    happenings = []
    for each in (promise.first, promise.other):
        made = each if each is None else _happening(each, puppet, nodes, ids)
        if made is None and each is not None:
            return None
        happenings.append(made)
    first, other = happenings
    return None if first is None else replace(promise, first=first, other=other)


def _happening(
    each: Happening, puppet: Puppet, nodes: Mapping[str, str], ids: Mapping[tuple[str, str], str]
) -> Happening | None:
    if each.kind == "state":
        id = nodes.get(each.id)
        state = puppet.state(id)
        inside = (state,) if state is not None else (
            puppet.states_inside(id) if id is not None and puppet.group(id) is not None else ())
        alive = id is not None and any(not found.waits for found in inside)
        return Happening("state", id) if alive and id is not None else None
    if each.kind in ("intent", "sense"):
        known = ids.get((f"{each.kind}s", each.id))
        return Happening(each.kind, known) if known is not None else None
    if each.kind == "window":
        known_windows = {name for clip in puppet.clips for window in clip.windows
                         for name in (window.name, window.kind)}
        return each if each.id in known_windows else None
    return each
