"""The values of senses and memos with which a condition holds, and the intents it asks for."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from itertools import islice, product
from typing import Any

from ...engine.plain.beginning import begin
from ...engine.plain.choose import fill
from ...engine.program import Program, ProgramTransition
from ...engine.state import Inputs
from ...rules.bind import Tree, leaves
from ...rules.evaluate import value_of
from .alone import started_in

MOST_SETS = 8
"""Combinations of intents that one condition may be true by; of more only the first."""
MOST_VALUES = 200
"""Combinations of values that are tried for what a condition reads."""



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


def values_for(
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


def terms(tree: Tree) -> list[Tree]:
    return (
        [part for operand in tree.operands for part in terms(operand)]
        if tree.operator == "and"
        else [tree]
    )
