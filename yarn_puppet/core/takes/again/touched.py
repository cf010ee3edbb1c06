"""From which tick of a run an edit can make a difference: what is before it need not be run again.

It is decided by the two programs, not by the kinds of entries that were edited: a tick reads its
program and nothing else of the puppet. The rule, which docs/takes.md states: a part of the program
that differs touches the first tick in which the run came across it, and what all ticks read touches
the first. It may name an earlier tick than needed, never a later one. Every field of a program is
named below, so that a new one is not forgotten.
"""

from __future__ import annotations

from collections.abc import Iterable
from itertools import islice, takewhile, zip_longest
from typing import Any

from ...booth.hitting.replaying import NO_TRACK
from ...engine.plain.beginning import initial_state
from ...engine.program import Program, ProgramIntent
from ...engine.program_clips import ProgramDeed
from ..first_seen import FirstSeen
from ..run import Setup
from .meaning import Meaning

EVERY_TICK = ("rate", "layers", "actions", "senses", "memos", "thresholds", "facing_sense",
              "facing_up", "facing_kind",
              "facing_start")
"""What any tick may read."""
BY_NODE = ("states", "groups", "transitions", "clips")
"""What is come across with a state or group: transitions are among its exits, clips are played by
it."""
BY_PRESS = ("intents", "intents_of")
"""What is come across when an action is pressed, or a deed arms it."""
NO_MATTER = ("name", "special", "remembering", "places", "problems", "kept", "skins",
             "rule_conditions", "picking", "sounding")
"""What the other fields say once more, or no tick reads."""
OF_THE_WORLD = ("anchors", "axes", "mover", "booth", "bone_files", "bone_boxes")
"""The fields of a puppet that the world reads, in any tick. Its clips come with the states that
play them."""


def first_touched(before: Setup, after: Setup, first_seen: FirstSeen, ticks: int) -> int:
    """The first tick of a run of `before`, `ticks` long, that may differ with `after`; `ticks`
    where none does."""
    old, new = Meaning(before), Meaning(after)
    if before.world is not after.world and before.world != after.world:
        return 0
    if any(_differ(getattr(before.puppet, field), getattr(after.puppet, field))
           for field in OF_THE_WORLD):
        return 0
    if after.puppet.bone_boxes and _differ(before.puppet.layers, after.puppet.layers):
        # Which bones a layer rules says where boxes are.
        return 0
    if any(old.of(getattr(old.program, field)) != new.of(getattr(new.program, field))
           for field in EVERY_TICK):
        return 0
    if _starts(before.program) != _starts(after.program):
        return 0
    found = [ticks, *_by_intents(old, new, first_seen), *_by_dummies(before, after, ticks)]
    found += [first_seen.nodes.get(id, ticks) for id in _nodes_touched(old, new)]
    return min(found)


def _by_dummies(before: Setup, after: Setup, ticks: int) -> list[int]:
    """Dummies that replay are the puppet once more: where what one does differs, it does so in that
    tick at the earliest, since it is never ahead of the run. Those that answer are not looked
    into."""
    found = [0] if _casts(before) != _casts(after) else []
    for one, other in zip_longest(before.tracks, after.tracks, fillvalue=NO_TRACK):
        if one is not other:
            same = takewhile(lambda pair: pair[0] == pair[1],
                             islice(zip_longest(one, other), ticks))
            found.append(sum(1 for _ in same))
    return found


def _casts(setup: Setup) -> list[object]:
    return [cast and (cast.setup.puppet, cast.hands) for cast in setup.casts]


def _differ(one: Any, other: Any) -> bool:
    return one is not other and one != other


def _starts(program: Program) -> list[str]:
    return [program.states[layer.state].id if layer.state >= 0 else ""
            for layer in initial_state(program).layers]


def _by_intents(old: Meaning, new: Meaning, first_seen: FirstSeen) -> list[int]:
    """An intent is of no account before one of its actions is pressed, or something arms it. What
    reads it is a state's or a group's, and touched as such."""
    was, now = _intents(old.program), _intents(new.program)
    if [id for id in was if id in now] != [id for id in now if id in was]:
        # Those that arm in one tick are used up in their order.
        return [0]
    by_deeds = _armed_by_deeds(old.program) | _armed_by_deeds(new.program)
    found = []
    for id in {**was, **now}:
        if was.get(id) == now.get(id):
            continue
        if id in by_deeds:
            # It may have been armed, or have failed to be, wherever the deed was done.
            return [0]
        if id in first_seen.armed:
            found.append(first_seen.armed[id])
        for program, each in ((old.program, was.get(id)), (new.program, now.get(id))):
            if each is not None:
                pressed = (first_seen.actions.get(program.actions[place])
                           for place in each.touches + each.steps)
                found += [tick for tick in pressed if tick is not None]
    return found


def _intents(program: Program) -> dict[str, ProgramIntent]:
    """The intents by id. Their actions stand in the same places in both programs."""
    return {intent.id: intent._replace(sequence=0) for intent in program.intents}


def _armed_by_deeds(program: Program) -> set[str]:
    deeds: list[ProgramDeed] = [deed for state in program.states
                                for deed in (*state.on_enter, *state.on_leave)]
    deeds += [deed for clip in program.clips.values() for moment in clip.moments
              for deed in moment.deeds]
    return {program.intents[deed.place].id for deed in deeds if deed.kind == "arm"}


def _nodes_touched(old: Meaning, new: Meaning) -> set[str]:
    """The states and groups that came to something else, that are new, or that are gone."""
    was, now = _nodes(old), _nodes(new)
    return {id for id in {**was, **now} if was.get(id) != now.get(id)}


def _nodes(meaning: Meaning) -> dict[str, Any]:
    nodes: Iterable[Any] = (*meaning.program.groups, *meaning.program.states)
    return {node.id: meaning.of(node) for node in nodes}
