"""From a typed tree to a function of a `Reading`: closures over indices, no string looked up when it runs."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import Any

from .tree import Literal_, Node, Operation, Query, Read

LARGEST_WHOLE = 1 << 53
"""Whole numbers are held within this, so that no product can grow without bound."""

Key = tuple[str, str]
"""("intent" or "sense" or "memo" or "window" or "in_state", id)."""


class Reading:
    """What a condition sees. The engine fills one and passes it to each condition it tries.

    `armed[i]` is whether intent i is armed or held; `used` collects the intents read as true.
    `open_windows` and `active` hold the indices of the compiled program. Times are in seconds.
    """

    __slots__ = ("active", "armed", "clip_time", "done", "elapsed", "facing", "loops", "memos", "open_windows",
                 "senses", "used")

    armed: Sequence[bool]
    senses: Sequence[Any]
    memos: Sequence[Any]
    used: list[int]
    done: bool
    elapsed: float
    clip_time: float
    loops: int
    facing: str
    open_windows: frozenset[int]
    active: frozenset[int]


Compiled = Callable[[Reading], Any]


def compile_tree(node: Node, indices: Mapping[Key, int]) -> Compiled:
    """A function that gives the value of `node` for a Reading.

    `indices` gives the place of each intent, sense, memo, window name and state or group; a KeyError means that
    the tree was parsed in another scope.
    """
    if isinstance(node, Literal_):
        value = node.value
        return lambda reading: value
    if isinstance(node, Read):
        return _read(node, indices)
    if isinstance(node, Query):
        return _query(node, indices)
    operands = [compile_tree(each, indices) for each in node.operands]
    return OPERATORS[node.operator](node, operands)


def _read(node: Read, indices: Mapping[Key, int]) -> Compiled:
    symbol = node.symbol
    if symbol.kind == "built-in":
        return BUILT_IN_READS[symbol.id]
    index = indices[symbol.kind, symbol.id]
    if symbol.kind == "sense":
        return lambda reading: reading.senses[index]
    if symbol.kind == "memo":
        return lambda reading: reading.memos[index]

    def intent(reading: Reading) -> bool:
        if reading.armed[index]:
            reading.used.append(index)
            return True
        return False

    return intent


def _query(node: Query, indices: Mapping[Key, int]) -> Compiled:
    index = indices[node.function, node.argument]
    if node.function == "window":
        return lambda reading: index in reading.open_windows
    return lambda reading: index in reading.active


BUILT_IN_READS: dict[str, Compiled] = {
    "done": lambda reading: reading.done,
    "elapsed": lambda reading: reading.elapsed,
    "clip_time": lambda reading: reading.clip_time,
    "loops": lambda reading: reading.loops,
    "facing": lambda reading: reading.facing,
}


def _every(node: Operation, operands: list[Compiled]) -> Compiled:
    if len(operands) == 2:
        first, second = operands
        return lambda reading: first(reading) and second(reading)
    return lambda reading: all(operand(reading) for operand in operands)


def _some(node: Operation, operands: list[Compiled]) -> Compiled:
    return lambda reading: any(operand(reading) for operand in operands)


def _opposite(node: Operation, operands: list[Compiled]) -> Compiled:
    operand = operands[0]
    return lambda reading: not operand(reading)


def _binary(function: Callable[[Any, Any], Any]) -> Callable[[Operation, list[Compiled]], Compiled]:
    def build(node: Operation, operands: list[Compiled]) -> Compiled:
        left, right = operands
        return lambda reading: function(left(reading), right(reading))

    return build


def _numeric(function: Callable[..., Any]) -> Callable[[Operation, list[Compiled]], Compiled]:
    def build(node: Operation, operands: list[Compiled]) -> Compiled:
        if node.type == "int":
            return lambda reading: _bounded(function(*(operand(reading) for operand in operands)))
        return lambda reading: function(*(float(operand(reading)) for operand in operands))

    return build


def _bounded(value: int) -> int:
    return max(-LARGEST_WHOLE, min(LARGEST_WHOLE, value))


def _divide(left: float, right: float) -> float:
    # A game must not stop because a sense is nought for one tick.
    return left / right if right else 0.0


OPERATORS: dict[str, Callable[[Operation, list[Compiled]], Compiled]] = {
    "and": _every,
    "or": _some,
    "not": _opposite,
    "<": _binary(lambda a, b: a < b),
    "<=": _binary(lambda a, b: a <= b),
    ">": _binary(lambda a, b: a > b),
    ">=": _binary(lambda a, b: a >= b),
    "==": _binary(lambda a, b: a == b),
    "!=": _binary(lambda a, b: a != b),
    "+": _numeric(lambda a, b: a + b),
    "-": _numeric(lambda a, b: a - b),
    "*": _numeric(lambda a, b: a * b),
    "/": _numeric(_divide),
    "negate": _numeric(lambda a: -a),
    "abs": _numeric(abs),
    "sign": _numeric(lambda a: (a > 0) - (a < 0)),
    "min": _numeric(min),
    "max": _numeric(max),
    "clamp": _numeric(lambda value, low, high: max(low, min(high, value))),
}
"""What each operator of a tree becomes. Division by nought gives nought."""
