"""States that hand over to each other at once, tick after tick, while nothing changes: found by
running them.

Two states whose ways to each other can be open at the same time flip between each other for as long
as they are. For each such pair values are tried that open both ways; where there are any, the
engine is put into the one with these values held, and run: what it then does is what is said.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from itertools import islice, product
from typing import Any

from ..engine.plain.beginning import initial_state, reading_of
from ..engine.plain.choose import Mutable, enter, fill
from ..engine.plain.controls import readable
from ..engine.plain.tick import tick
from ..engine.program import Program, ProgramTransition
from ..engine.state import Inputs, MachineState
from ..model.kinds.gestures import GESTURES
from ..model.puppet import Puppet
from ..rules.bind import Tree
from ..rules.evaluate import value_of
from .crossings import Crossings
from .snag import Snag

MOST_TRIED = 1500
"""Combinations of values that are tried for a pair of ways."""
MOST_READ = 8
"""Things that the conditions may read together for values to be tried."""
MOST_OTHERS = 4
"""Other ways that are kept shut for a pair."""
SETTLES = 30
"""Ticks for which controls and senses are held before: what is armed by a press is gone, what is
held is held."""
FLIPS = 6
"""Ticks in a row that have to hand over."""

Key = tuple[str, Any]
"""What a condition reads: its operator and place, or the facing."""
Values = dict[Key, Any]


def handing_over(puppet: Puppet, program: Program) -> list[Snag]:
    """Pairs of states that flip between each other in every tick while nothing changes."""
    ways = Crossings(program)
    transitions = {transition.id: transition for transition in program.transitions}
    at_once: dict[str, dict[str, ProgramTransition]] = {}
    for state in program.states:
        for each_way in ways.ways(state.id):
            each = transitions[each_way.transition]
            if each.leave == "any time" or (each.leave == "after" and each.after <= 0):
                for end in each_way.ends:
                    at_once.setdefault(state.id, {}).setdefault(end, each)
    found = []
    for one, there in at_once.items():
        for other, way in there.items():
            back = at_once.get(other, {}).get(one)
            # Each pair once, from whichever stands first.
            first = program.places["in_state", one] < program.places["in_state", other]
            if (
                back is not None
                and first
                and (values := _flipping(program, one, other, way, back)) is not None
            ):
                names = [program.states[program.places["in_state", each]].name
                         for each in (one, other)]
                while_ = _words(program, values)
                found.append(
                    Snag(
                        "warning",
                        "state",
                        one,
                        names[0],
                        f"it and {names[1]} hand over to each other in every "
                        f"tick{f' while {while_}' if while_ else ''}",
                        "let one of the two ways ask for what the other does not",
                    )
                )
    return found


def _flipping(
    program: Program, one: str, other: str, way: ProgramTransition, back: ProgramTransition
) -> Values | None:
    """Values with which the engine flips between two states; None where none of those tried
    does."""
    wanted = [each.condition.tree for each in (way, back) if each.condition is not None]
    read: dict[Key, set[Any]] = {}
    for tree in wanted:
        _gather(tree, read)
    unwanted: list[Tree] = []
    # What else the engine takes with such values must not hold either: they are tried again with
    # that in mind.
    for _ in range(MOST_OTHERS):
        values = (
            next(
                (
                    each
                    for each in islice(_combinations(program, read), MOST_TRIED)
                    if all(_holds(program, tree, each) for tree in wanted)
                    and not any(_holds(program, tree, each) for tree in unwanted)
                ),
                None,
            )
            if len(read) <= MOST_READ
            else None
        )
        if values is None:
            return None
        other_way = _taken_instead(program, one, other, values)
        if other_way == "":
            return values
        instead = next((transition
                        for transition in program.transitions if transition.id == other_way), None)
        if instead is None or instead.condition is None:
            return None
        unwanted.append(instead.condition.tree)
        _gather(instead.condition.tree, read)
    return None


def _gather(tree: Tree, read: dict[Key, set[Any]]) -> None:
    """What a tree reads, each with the constants it stands beside."""
    constants = {operand.value for operand in tree.operands if operand.operator == "constant"}
    for operand in tree.operands:
        constants |= {-inner.value for inner in operand.operands  # type: ignore[operator]
                      if operand.operator == "negate" and inner.operator == "constant"}
    for each in (tree, *tree.operands):
        if each.operator in ("sense", "memo", "intent", "threshold") or (
            each.operator == "built-in" and each.value == "facing"
        ):
            read.setdefault((each.operator, each.value), set()).update(constants)
    for operand in tree.operands:
        _gather(operand, read)


def _combinations(program: Program, read: dict[Key, set[Any]]) -> Iterator[Values]:
    """Values for all that is read. A memo is what it is: nobody holds it."""
    offered = {key: _offered(program, key, constants)
               for key, constants in read.items() if key[0] != "memo"}
    for values in product(*offered.values()):
        yield dict(zip(offered, values, strict=True))


def _offered(program: Program, key: Key, constants: set[Any]) -> Sequence[Any]:
    kind, place = key
    if kind == "built-in":
        return ("left", "right")
    if kind == "threshold":
        return (False, True)
    if kind == "intent":
        # One that a press arms is used up by the first way.
        return (False, True) if GESTURES[program.intents[place].gesture].is_level else (False,)
    sense = program.senses[place]
    if sense.type == "choice":
        return sense.choices or ("",)
    if sense.type == "bool":
        return (False,) if sense.event else (False, True)
    numbers = sorted({0, *[constant
                           for constant in constants if isinstance(constant, int | float)]})
    between = [number + by for number in numbers for by in (0, 1, -1)]
    made = int if sense.type == "int" else float
    return tuple(dict.fromkeys(made(each) for each in between))


def _holds(program: Program, tree: Tree, values: Values) -> bool:
    """Whether a condition holds with these values in a state just entered."""
    machine = initial_state(program)
    now = _mutable(program, machine)
    senses = [values.get(("sense", index), sense.start)
              for index, sense in enumerate(program.senses)]
    thresholds = [values.get(("threshold", place), False)
                  for place in range(len(program.thresholds))]
    reading = reading_of(now, senses, thresholds,
                         values.get(("built-in", "facing"), machine.facing))
    reading.armed = [values.get(("intent", place), False) for place in range(len(program.intents))]
    started = next((number for number, layer in enumerate(now.layers) if layer.state >= 0), None)
    if started is None:
        return False
    fill(reading, now, started)
    return bool(value_of(tree, reading))


def _mutable(program: Program, machine: MachineState) -> Mutable:
    return Mutable(
        program, list(machine.layers), list(machine.actions), list(machine.armed),
        list(machine.memos),
        list(machine.memo_lives), dict(machine.held), list(machine.remembered))


def _taken_instead(program: Program, one: str, other: str, values: Values) -> str | None:
    """Empty where the engine, put into the one state with these values held, hands over in every
    tick; else the transition that it took instead, None where it took none."""
    place = program.places["in_state", one]
    layer = program.states[place].layer
    held = {program.intents[key[1]].action
            for key, value in values.items() if key[0] == "intent" and value}
    inputs = Inputs(
        tuple([action in held for action in range(len(program.actions))]),
        tuple([values.get(("sense", number), sense.start)
               for number, sense in enumerate(program.senses)]))
    state = initial_state(program)
    for _ in range(SETTLES):
        state, _ = tick(program, state, inputs)
    if any(value and key[0] == "intent"
           and not readable(program, state.actions, state.armed)[key[1]]
           for key, value in values.items()):
        return None
    now = _mutable(program, state)
    enter(now, layer, place, state.layers[layer].visit + 1)
    facing = values.get(("built-in", "facing"), state.facing)
    state = state._replace(layers=tuple(now.layers), remembered=tuple(now.remembered),
                           facing=facing)
    expected = (other, one) * (FLIPS // 2)
    for target in expected:
        state, report = tick(program, state, inputs)
        taken = [each for each in report.taken if each.layer == program.layers[layer].id]
        if len(taken) != 1 or taken[0].target != target:
            return taken[0].transition if taken else None
    return ""


def _words(program: Program, values: Values) -> str:
    """The values, as a condition would say them."""
    parts = []
    for (kind, place), value in values.items():
        if kind == "built-in":
            parts.append(f"facing is {value}")
        elif kind == "intent":
            parts.append(f"{program.intents[place].name} is {'held' if value else 'not held'}")
        else:
            of: Any = program.senses[place] if kind == "sense" else program.thresholds[place]
            shown = (
                {True: "so", False: "not so"}.get(value, value)
                if isinstance(value, bool)
                else value
            )
            parts.append(f"{of.name} is {shown:g}"
                         if isinstance(shown, float) else f"{of.name} is {shown}")
    return " and ".join(parts)
