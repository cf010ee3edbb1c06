"""The value of a bound tree, and what makes it true: the plain reading of a condition."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from .bind import Tree
from .numbers import divided, real, sign, whole


class Reading:
    """What a condition sees. The engine fills one and passes it to each condition it tries.

    `armed[i]` is whether intent i reads as true. `windows` are the names and kinds of the open
    windows, `active` the ids of the nodes in which layers are. Times are in seconds.
    """

    __slots__ = (
        "active", "armed", "clip_time", "done", "elapsed", "facing", "loops", "memos", "senses",
        "thresholds",
        "windows",
    )

    armed: Sequence[bool]
    senses: Sequence[Any]
    memos: Sequence[Any]
    thresholds: Sequence[bool]
    done: bool
    elapsed: float
    clip_time: float
    loops: int
    facing: str
    windows: frozenset[str]
    active: frozenset[str]


def value_of(tree: Tree, reading: Reading) -> Any:
    """The value of a tree, of the tree's type."""
    return OPERATORS[tree.operator](tree, reading)


def used_by(tree: Tree, reading: Reading) -> tuple[int, ...] | None:
    """The intents that a condition uses up, which are those that made it true; None where it is not
    true."""
    if tree.operator == "intent":
        return (tree.value,) if value_of(tree, reading) else None  # type: ignore[return-value]
    if tree.operator == "and":
        used: tuple[int, ...] = ()
        for operand in tree.operands:
            more = used_by(operand, reading)
            if more is None:
                return None
            used += more
        return used
    if tree.operator == "or":
        return next((found for each in tree.operands
                     if (found := used_by(each, reading)) is not None), None)
    return () if value_of(tree, reading) else None


def _numeric(function: Callable[..., Any]) -> Callable[[Tree, Reading], Any]:
    """An operator on numbers: whole where all its operands are, otherwise on floats."""

    def value(tree: Tree, reading: Reading) -> Any:
        operands = [value_of(operand, reading) for operand in tree.operands]
        if tree.type == "int":
            return whole(function(*operands))
        return real(function(*(float(operand) for operand in operands)))

    return value


def _compared(function: Callable[[Any, Any], bool]) -> Callable[[Tree, Reading], bool]:
    return lambda tree, reading: function(*(value_of(operand, reading)
                                            for operand in tree.operands))


OPERATORS: dict[str, Callable[[Tree, Reading], Any]] = {
    "constant": lambda tree, reading: tree.value,
    "sense": lambda tree, reading: reading.senses[tree.value],  # type: ignore[index]
    "memo": lambda tree, reading: reading.memos[tree.value],  # type: ignore[index]
    "intent": lambda tree, reading: reading.armed[tree.value],  # type: ignore[index]
    "threshold": lambda tree, reading: reading.thresholds[tree.value],  # type: ignore[index]
    "built-in": lambda tree, reading: getattr(reading, tree.value),  # type: ignore[arg-type]
    "window": lambda tree, reading: tree.value in reading.windows,
    "in_state": lambda tree, reading: tree.value in reading.active,
    "and": lambda tree, reading: all([value_of(operand, reading) for operand in tree.operands]),
    "or": lambda tree, reading: any([value_of(operand, reading) for operand in tree.operands]),
    "not": lambda tree, reading: not value_of(tree.operands[0], reading),
    "<": _compared(lambda a, b: a < b),
    "<=": _compared(lambda a, b: a <= b),
    ">": _compared(lambda a, b: a > b),
    ">=": _compared(lambda a, b: a >= b),
    "==": _compared(lambda a, b: a == b),
    "!=": _compared(lambda a, b: a != b),
    "+": _numeric(lambda a, b: a + b),
    "-": _numeric(lambda a, b: a - b),
    "*": _numeric(lambda a, b: a * b),
    "/": _numeric(divided),
    "negate": _numeric(lambda a: -a),
    "abs": _numeric(abs),
    "sign": lambda tree, reading: sign(value_of(tree.operands[0], reading)),
    "min": _numeric(min),
    "max": _numeric(max),
    "clamp": _numeric(lambda value, low, high: max(low, min(high, value))),
}
"""The value of each operator of a tree. Division by zero gives zero."""
