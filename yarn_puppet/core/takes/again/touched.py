"""From which tick of a run an edit can make a difference: what is before it need not be run again.

The rule, which docs/takes.md states: an entry that differs touches the first tick in which the run came across it, and
whatever all ticks read touches the first. It may name an earlier tick than needed, never a later one.
"""

from __future__ import annotations

from collections.abc import Iterable
from itertools import takewhile, zip_longest
from re import findall
from typing import Any

import msgspec

from ...engine.program import Program
from ...engine.program_clips import NOWHERE
from ...engine.tick import initial_state
from ...model.base import Value
from ...model.clips import Clip
from ...model.puppet import Puppet
from ..firsts import Firsts
from ..run import Setup

EVERY_TICK = ("rate", "layers", "anchors", "senses", "memos", "thresholds", "axes", "facing", "mover", "booth")
"""The fields of a puppet that any tick may read."""
WORD = r"[A-Za-z_][A-Za-z0-9_]*"


def first_touched(before: Setup, after: Setup, firsts: Firsts, ticks: int) -> int:
    """The first tick of a run of `before`, `ticks` long, that may differ with `after`; `ticks` where none does."""
    old, new = before.puppet, after.puppet
    if before.world is not after.world and before.world != after.world:
        return 0
    if any(_differ(getattr(old, field), getattr(new, field)) for field in EVERY_TICK):
        return 0
    if [each.id for each in old.actions] != [each.id for each in new.actions]:
        return 0
    if _starts(before.program) != _starts(after.program):
        return 0
    if _windows(old, new) and any(_asks(layer.shown_when) for layer in new.layers):
        return 0
    found = [ticks, *_by_intents(old, new, firsts), *_by_dummies(before, after)]
    found += [firsts.nodes.get(id, ticks) for id in _nodes_touched(before, after)]
    return min(found)


def _by_dummies(before: Setup, after: Setup) -> list[int]:
    """Dummies that replay are the puppet once more: where what one does differs, it does so in that tick at the
    earliest, since it is never ahead of the run."""
    found = []
    for one, other in zip_longest(before.tracks, after.tracks, fillvalue=()):
        if one != other:
            same = takewhile(lambda pair: pair[0] == pair[1], zip_longest(one, other))
            found.append(sum(1 for _ in same))
    return found


def _differ(one: Any, other: Any) -> bool:
    return one is not other and one != other


def _starts(program: Program) -> list[str]:
    return [program.states[layer.state].id if layer.state >= 0 else ""
            for layer in initial_state(program).layers]


def _by_id(entries: Iterable[Any]) -> dict[str, Any]:
    return {each.id: each for each in entries}


def _changed(old: Iterable[Any], new: Iterable[Any]) -> set[str]:
    """The ids of entries that differ, were added, or taken away."""
    was, now = _by_id(old), _by_id(new)
    return {id for id in {**was, **now} if _differ(was.get(id), now.get(id))}


def _by_intents(old: Puppet, new: Puppet, firsts: Firsts) -> list[int]:
    """An intent is of no account before one of its actions is down, or something arms it; where what reads it finds it
    in both."""
    if not _differ(old.intents, new.intents):
        return []
    was, now = _by_id(old.intents), _by_id(new.intents)
    if [id for id in was if id in now] != [id for id in now if id in was]:
        return [0]
    if any(id not in was or id not in now for id in {**was, **now} if _is_read(id, old, new)):
        return [0]
    found = []
    by_deeds = _armed_by_deeds(old) | _armed_by_deeds(new)
    for id in _changed(old.intents, new.intents):
        if id in by_deeds:
            # It may have been armed, or have failed to be, wherever the deed was done.
            return [0]
        if id in firsts.armed:
            found.append(firsts.armed[id])
        for each in (was.get(id), now.get(id)):
            if each is not None:
                pressed = (firsts.actions.get(action) for action in (each.action, *each.others))
                found += [tick for tick in pressed if tick is not None]
    return found


def _armed_by_deeds(puppet: Puppet) -> set[str | None]:
    deeds = [deed for state in puppet.states for deed in (*state.on_enter, *state.on_leave)]
    deeds += [deed for clip in puppet.clips for moment in clip.moments for deed in moment.deeds]
    return {deed.intent for deed in deeds if deed.kind == "arm"}


def _is_read(id: str, *puppets: Puppet) -> bool:
    """Whether the graph or a clip says an intent's id anywhere."""
    return any(id in _words(entry) for puppet in puppets
               for entry in (*puppet.transitions, *puppet.nodes, *puppet.clips, *puppet.layers))


def _words(entry: Value) -> set[str]:
    return set(findall(WORD, msgspec.json.encode(entry).decode()))


def _nodes_touched(before: Setup, after: Setup) -> set[str]:
    """The states and groups that the edit is about: those that differ, that play what differs, or whose ways out do."""
    old, new = before.puppet, after.puppet
    clips = _changed(old.clips, new.clips) if _differ(old.clips, new.clips) else set()
    spreads = _changed(old.spreads, new.spreads) if _differ(old.spreads, new.spreads) else set()
    if clips:
        clips |= _that_show(clips, old) | _that_show(clips, new)
        spreads |= {each.id for puppet in (old, new) for each in puppet.spreads
                    if any(placed.clip in clips for placed in each.clips)}
    touched = _changed(old.nodes, new.nodes)
    within_old, within_new = _within(before.program), _within(after.program)
    touched |= {id for id in within_old if within_old[id] != within_new.get(id)}
    touched |= {state.id for puppet in (old, new) for state in puppet.states
                if state.clip in clips or state.spread in spreads}
    ways_old, ways_new = _ways(before, _windows(old, new)), _ways(after, _windows(old, new))
    touched |= {id for id in {**ways_old, **ways_new} if ways_old.get(id) != ways_new.get(id)}
    return touched


def _within(program: Program) -> dict[str, list[str]]:
    """The groups that each state is in."""
    return {state.id: [program.groups[group].id for group in state.groups] for state in program.states}


def _that_show(clips: set[str], puppet: Puppet) -> set[str]:
    """The clips whose moments and while-rules show one of those."""
    def shows(clip: Clip) -> bool:
        return any(getattr(each, "clip", None) in clips for each in clip.moments)

    return {clip.id for clip in puppet.clips if shows(clip)}


def _windows(old: Puppet, new: Puppet) -> bool:
    """Whether another set of windows, or of states, can be asked about."""
    return (_differ(old.clips, new.clips) and set(old.window_names()) != set(new.window_names())) or (
        {each.id for each in old.nodes} != {each.id for each in new.nodes})


def _ways(setup: Setup, others: bool) -> dict[str, list[Any]]:
    """The ways out of each state and group, as values that are equal where they mean the same.

    Where `others` can be asked about, what asks about windows and states counts as another each time.
    """
    program = setup.program
    made = {each.id: each for each in program.transitions}
    found: dict[str, list[Any]] = {}
    for each in setup.puppet.transitions:
        way = made.get(each.id)
        asks = others and (_asks(each.when) or each.leave.window)
        found.setdefault(each.source, []).append((
            each, _leads(program, way.target) if way is not None else None, way.lets_in if way is not None else None,
            setup if asks else None))
    return found


def _asks(condition: str) -> bool:
    """Whether a condition asks about windows or states."""
    return "window" in condition or "in_state" in condition


def _leads(program: Program, target: int) -> tuple[tuple[str, bool], ...]:
    """What is entered on the way to where a node leads: each id, and whether it remembers."""
    found = []
    while target < 0 and target != NOWHERE:
        group = program.groups[~target]
        found.append((group.id, group.memory >= 0))
        target = group.start
    if target >= 0:
        found.append((program.states[target].id, False))
    return tuple(found)
