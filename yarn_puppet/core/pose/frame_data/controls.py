"""From a control to a hit: each way that asks for an intent is tried, its gesture made as quickly
as can be, and the run followed to the first hit window, through whatever states come in between.

What else a way asks for is brought about: senses and memos are set so that its condition holds,
actions that have to be held are, and where it has to wait for a window or a time the gesture is
made so that it is armed just then. So a number is the least that was found; a control that leads
nowhere in the run is not told.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from itertools import islice, product
from typing import Any, NamedTuple

from ...engine.fast.tick import Tick
from ...engine.plain.choose import destination, fill, may_leave
from ...engine.plain.tick import begin
from ...engine.program import Program, ProgramIntent, ProgramTransition
from ...engine.program_clips import TICK
from ...engine.state import Inputs, MachineState, Report
from ...model.kinds.gestures import GESTURES
from ...rules.bind import Tree, leaves
from ...rules.evaluate import value_of
from .alone import started_in

LONGEST_WAIT = 240
"""Ticks for which a way's window or time is waited for."""
LONGEST_RUN = 300
"""Ticks after the control in which a hit is looked for."""
MOST_SETS = 8
"""Combinations of intents that one condition may be true by; of more only the first."""
MOST_VALUES = 200
"""Combinations of values that are tried for what a condition reads."""
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


def intent_sets(tree: Tree | None) -> Iterator[tuple[int, ...]]:
    """The combinations of intents by which a condition can be true, as far as it asks for them:
    what is under *not* is not asked for."""
    if tree is None or tree.operator not in ("intent", "and", "or"):
        yield ()
    elif tree.operator == "intent":
        yield (int(tree.value or 0),)
    elif tree.operator == "or":
        for operand in tree.operands:
            yield from intent_sets(operand)
    else:
        for parts in product(*[list(islice(intent_sets(operand), MOST_SETS))
                               for operand in tree.operands]):
            yield tuple(dict.fromkeys(place for part in parts for place in part))


def _led_to(
    program: Program, tick: Tick, way: ProgramTransition, intents: tuple[int, ...]
) -> dict[int, int]:
    """The states that hit in the run that a control begins, each with the ticks from the control to
    its first hit."""
    for state in _sources(program, way):
        values = _values_for(program, way, state, intents)
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


def _values_for(
    program: Program, way: ProgramTransition, state: int, intents: tuple[int, ...]
) -> tuple[tuple[Any, ...], tuple[Any, ...]] | None:
    """Senses and memos with which a way's condition holds in a state once the intents are armed, as
    near to how they start as was found; None where none were. What asks for the time, a window or
    the end of a clip is waited for."""
    senses = tuple([sense.start for sense in program.senses])
    memos = started_in(program, state).memos
    tree = way.condition.tree if way.condition else None
    if tree is None:
        return senses, memos
    read = dict.fromkeys([(leaf.operator, leaf.value) for leaf in leaves(tree)
                          if leaf.operator in ("sense", "memo", "threshold")])
    places = list(dict.fromkeys(
        [(kind, int(place or 0)) for kind, place in read if kind != "threshold"]
        + [(source.operator, int(source.value or 0)) for kind, place in read if kind == "threshold"
           if (source := program.thresholds[int(place or 0)].source) is not None]))
    numbers = _constants(tree) + [bound for threshold in program.thresholds
                                  for bound in (threshold.on, threshold.off)]
    options = [_options(program, kind, place, senses if kind == "sense" else memos, numbers)
               for kind, place in places]
    for chosen in islice(product(*options), MOST_VALUES):
        now, kept = list(senses), list(memos)
        for (kind, place), value in zip(places, chosen, strict=True):
            (now if kind == "sense" else kept)[place] = value
        if _could_hold(program, tree, state, intents, now, kept):
            return tuple(now), tuple(kept)
    return None


def _constants(tree: Tree) -> list[float]:
    if tree.operator == "constant" and tree.type in ("int", "float"):
        number = float(tree.value)  # type: ignore[arg-type]
        return [number, -number] if number else [number]
    return [constant for operand in tree.operands for constant in _constants(operand)]


def _options(
    program: Program, kind: str, place: int, start: Sequence[Any], numbers: Sequence[float]
) -> list[Any]:
    """The values to try for something that is read, as it starts first."""
    entry = (program.senses if kind == "sense" else program.memos)[place]
    if entry.type == "bool":
        return [start[place], not start[place]]
    if entry.type == "choice":
        return list(dict.fromkeys([start[place], *entry.choices]))
    near = [number + by for number in numbers for by in (0.0, 1.0, -1.0)]
    found = [start[place], *([round(each) for each in near] if entry.type == "int" else near)]
    return list(dict.fromkeys(found))


def _could_hold(
    program: Program,
    tree: Tree,
    state: int,
    intents: tuple[int, ...],
    senses: list[Any],
    memos: list[Any],
) -> bool:
    """Whether a condition can come to hold with these values: what the time brings counts as
    come."""
    machine = started_in(program, state)._replace(memos=tuple(memos))
    now, reading, *_ = begin(program, machine,
                             Inputs((False,) * len(program.actions), tuple(senses)))
    fill(reading, now, program.states[state].layer)
    reading.armed = [place in intents for place in range(len(program.intents))]
    return bool(value_of(_with_time(tree), reading))


def _with_time(tree: Tree) -> Tree:
    """A condition in which all that only time brings about holds."""
    if tree.operator in ("and", "or"):
        return tree._replace(operands=tuple([_with_time(operand) for operand in tree.operands]))
    waits = tree.operator != "not" and any(
        leaf.operator in ("built-in", "window") for leaf in leaves(tree)
    )
    return Tree("constant", True, (), "bool") if waits else tree


# Gestures -----------------------------------------------------------------------------------------


class Gesture(NamedTuple):
    """What the quickest hand does: (tick, action, down) from tick 0 on, and the tick in which the
    intent arms."""

    edges: tuple[tuple[int, int, bool], ...]
    arms: int


def gesture_of(intent: ProgramIntent) -> Gesture:
    """The quickest making of an intent. An action goes down or up once a tick at most."""
    kind = GESTURES[intent.gesture]
    if kind.others == "some":
        return _one_after_the_other(intent)
    edges = tuple([(at, action, down) for at, down in enumerate(kind.quickest)
                   for action in intent.touches])
    waits = -(-intent.threshold // TICK) if kind.completes_held == "once" else 0
    return Gesture(edges, len(kind.quickest) - 1 + waits)


def _one_after_the_other(intent: ProgramIntent) -> Gesture:
    edges, pressed, at = list[tuple[int, int, bool]](), dict[int, int](), 0
    for step in intent.steps:
        # Presses of one tick are in order, but the same action has to come up in between.
        at = max(at, pressed[step] + 2 if step in pressed else 0)
        if step in pressed:
            edges.append((at - 1, step, False))
        edges.append((at, step, True))
        pressed[step] = at
    return Gesture(tuple(edges), at)


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
    asked = [term for term in _terms(tree)
             if any(leaf.operator in ("built-in", "window") for leaf in leaves(term))]
    return all(value_of(each, reading) for each in asked)


def _terms(tree: Tree) -> list[Tree]:
    return (
        [part for operand in tree.operands for part in _terms(operand)]
        if tree.operator == "and"
        else [tree]
    )
