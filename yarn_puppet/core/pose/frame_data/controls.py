"""From a control to a hit: each way that asks for an intent is tried, its gesture made as quickly
as can be, and the run followed to the first hit window, through whatever states come in between.

What else a way asks for is brought about: senses and memos are set so that its condition holds,
actions that have to be held are, and where it has to wait for a window or a time the gesture is
made so that it is armed just then. So a number is the least that was found; a control that leads
nowhere in the run is not told.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from itertools import islice
from typing import Any, NamedTuple

from ...engine.fast.tick import Tick
from ...engine.plain.beginning import begin
from ...engine.plain.choose import destination, fill, may_leave
from ...engine.program import Program, ProgramTransition
from ...engine.state import Inputs, MachineState, Report
from ...rules.bind import Tree, leaves
from ...rules.evaluate import value_of
from .alone import started_in
from .bringing_about import MOST_SETS, intent_sets, terms, values_for
from .quickest import gesture_of

LONGEST_WAIT = 240
"""Ticks for which a way's window or time is waited for."""
LONGEST_RUN = 300
"""Ticks after the control in which a hit is looked for."""
MOST_SOURCES = 4
"""States of a group from which its transition is tried, until one leads on."""


class FirstHit(NamedTuple):
    """How many ticks after a control the first hit of a state came, and the intent that was
    made."""

    ticks: int
    control: str


def from_controls(program: Program, tick: Tick) -> dict[int, FirstHit]:
    """By state the quickest control that leads to a hit of it; `tick` is the program's."""
    found: dict[int, FirstHit] = {}
    hitting = {index for index, state in enumerate(program.states)
               if any(window.kind == "hit" for clip in _clips(program, index)
                      for window in clip.windows)}
    leading = _leading(program, hitting)
    for way in program.transitions if hitting else ():
        if not _ends(program, way) & leading:
            continue
        for intents in islice(intent_sets(way.condition.tree if way.condition else None),
                              MOST_SETS):
            if not intents:
                continue
            name = program.intents[intents[-1]].name
            for state, ticks in _led_to(program, tick, way, intents).items():
                if state in hitting and (state not in found or (ticks, name) < found[state]):
                    found[state] = FirstHit(ticks, name)
    return found


def _ends(program: Program, way: ProgramTransition) -> set[int]:
    """The states in which taking a transition may end."""
    if way.target >= 0:
        return {way.target}
    return {index for index, state in enumerate(program.states) if ~way.target in state.groups}


def _leading(program: Program, hitting: set[int]) -> set[int]:
    """The states from which one may come to one that hits without a control: of the others no run
    need be tried."""
    sources: dict[int, set[int]] = {}
    for way in program.transitions:
        if not all(intent_sets(way.condition.tree if way.condition else None)):
            inside = {way.source} if way.source >= 0 else {
                index for index, state in enumerate(program.states) if ~way.source in state.groups}
            for end in _ends(program, way):
                sources.setdefault(end, set()).update(inside)
    found, waiting = set(hitting), list(hitting)
    while waiting:
        for place in sources.get(waiting.pop(), set()) - found:
            found.add(place)
            waiting.append(place)
    return found


def _clips(program: Program, place: int) -> list[Any]:
    state = program.states[place]
    return [each.clip for each in state.spread] or ([state.clip] if state.clip is not None else [])


def _led_to(
    program: Program, tick: Tick, way: ProgramTransition, intents: tuple[int, ...]
) -> dict[int, int]:
    """The states that hit in the run that a control begins, each with the ticks from the control to
    its first hit."""
    for state in _sources(program, way):
        values = values_for(program, way, state, intents)
        if values is not None:
            found = _run(program, tick, way, state, intents, *values)
            if found:
                return found
    return {}


def _sources(program: Program, way: ProgramTransition) -> list[int]:
    """The states in which a transition may be taken: its own, or of a group those that listen to
    it, from its start on."""
    if way.source >= 0:
        return [way.source]
    inside = [index for index, state in enumerate(program.states) if ~way.source in state.groups]
    if not inside:
        # A group whose states were all taken away.
        return []
    first = destination(program, way.source, [-1] * len(program.remembering))
    inside.sort(key=lambda place: place != first)
    return [place for place in inside if way in program.candidates(place)][:MOST_SOURCES]


# What a condition asks for ------------------------------------------------------------------------


# Gestures -----------------------------------------------------------------------------------------


# The run ------------------------------------------------------------------------------------------


def _run(
    program: Program, tick: Tick, way: ProgramTransition, state: int, intents: tuple[int, ...],
    senses: tuple[Any, ...], memos: tuple[Any, ...],
) -> dict[int, int]:
    """What hits once a way was taken by a gesture; nothing where it was not taken so."""
    layer = program.states[state].layer
    gestures = [gesture_of(program.intents[place]) for place in intents]
    latest = max(gesture.arms for gesture in gestures)
    # Those that are quicker begin later, so that all arm together.
    edges = [(latest - gesture.arms + at, action, down) for gesture in gestures
             for at, action, down in gesture.edges]
    first = min([at for at, _, _ in edges], default=0)
    begin_at = _ready(program, tick, way, state, senses, memos)
    if begin_at is None:
        return {}
    begin_at = max(0, begin_at - latest)
    taken = False
    found: dict[int, int] = {}
    id = program.layers[layer].id
    begun = started_in(program, state)._replace(memos=memos)
    shifted = [(begin_at + at, action, held) for at, action, held in edges]
    for number, now, report in _played(program, tick, begun, senses, shifted,
                                       begin_at + latest + LONGEST_RUN):
        if not taken:
            if any(each.layer == id for each in report.taken):
                if way.id not in [each.transition for each in report.taken]:
                    return {}
                taken = True
            elif number > begin_at + latest + 1:
                return {}
        if taken:
            there = now.layers[layer].state
            if any(window.window.kind == "hit" and window.layer == id for window in report.windows):
                found.setdefault(there, number - begin_at - first)
            elif found and there not in found and not _goes_on(program, there):
                break
            if there == state and number > begin_at + latest + 1:
                break
    return found


def _played(
    program: Program,
    tick: Tick,
    now: MachineState,
    senses: tuple[Any, ...],
    edges: Sequence[tuple[int, int, bool]],
    ticks: int,
) -> Iterator[tuple[int, MachineState, Report]]:
    """So many ticks in which actions go down and up: each with its number, and where it ends."""
    down = [False] * len(program.actions)
    for number in range(ticks):
        for at, action, held in edges:
            if at == number:
                down[action] = held
        now, report = tick(now, Inputs(tuple(down), senses))
        yield number, now, report


def _goes_on(program: Program, state: int) -> bool:
    """Whether a state may lead on without a control."""
    return any(not all(intent_sets(candidate.condition.tree if candidate.condition else None))
               for candidate in program.candidates(state))


def _ready(
    program: Program,
    tick: Tick,
    way: ProgramTransition,
    state: int,
    senses: tuple[Any, ...],
    memos: tuple[Any, ...],
) -> int | None:
    """The first tick in which a way's leave rule, and what its condition asks of the time, hold
    while the state is active and nothing is pressed; None where they never do."""
    layer = program.states[state].layer
    now: MachineState = started_in(program, state)._replace(memos=memos)
    inputs = Inputs((False,) * len(program.actions), senses)
    tree = way.condition.tree if way.condition else None
    for number in range(LONGEST_WAIT):
        there = now.layers[layer]
        if there.state != state:
            return None
        if (
            number
            and may_leave(program, there, way)
            and (tree is None or _in_time(program, tree, now, inputs, layer))
        ):
            return number
        now, _ = tick(now, inputs)
    return None


def _in_time(
    program: Program, tree: Tree, machine: MachineState, inputs: Inputs, layer: int
) -> bool:
    now, reading, *_ = begin(program, machine, inputs)
    fill(reading, now, layer)
    reading.armed = [True] * len(program.intents)
    asked = [term for term in terms(tree)
             if any(leaf.operator in ("built-in", "window") for leaf in leaves(term))]
    return all(value_of(each, reading) for each in asked)


