"""From a typed tree over ids to one over places in a program, without columns: what an engine
interprets or translates."""

from __future__ import annotations

from collections.abc import Mapping
from typing import NamedTuple

from .tree import Literal_, Node, Query, Read, Type

Key = tuple[str, str]
"""("intent" or "sense" or "memo" or "threshold", id)."""


class Tree(NamedTuple):
    """One node of a bound tree. Equal trees mean the same.

    `value` depends on `operator`:
    - "constant": it is the constant.
    - "sense", "memo", "intent", "threshold": its place.
    - "built-in": its name.
    - "window": a window's name or kind.
    - "in_state": a node's id, since its place can shift.

    Any other is an operator or a function, applied to `operands`.
    """

    operator: str
    value: bool | int | float | str | None
    operands: tuple[Tree, ...]
    type: Type


NEVER = Tree("constant", False, (), "bool")
"""The condition of a transition whose text cannot be read."""


def bind(node: Node, places: Mapping[Key, int]) -> Tree:
    """`node` over places. A KeyError means that it was parsed in another scope."""
    if isinstance(node, Literal_):
        value = float(node.value) if node.type == "float" else node.value
        return Tree("constant", value, (), node.type)
    if isinstance(node, Read):
        symbol = node.symbol
        if symbol.kind == "built-in":
            return Tree("built-in", symbol.id, (), symbol.type)
        return Tree(symbol.kind, places[symbol.kind, symbol.id], (), symbol.type)
    if isinstance(node, Query):
        return Tree(node.function, node.argument, (), "bool")
    return Tree(node.operator, None, tuple(bind(operand, places) for operand in node.operands),
                node.type)


def conjuncts_of(tree: Tree) -> tuple[Tree, ...]:
    """The terms of a condition: what is joined by its outermost `and`s, left to right."""
    if tree.operator != "and":
        return (tree,)
    return tuple(part for operand in tree.operands for part in conjuncts_of(operand))


def leaves(tree: Tree) -> tuple[Tree, ...]:
    """Every read and query of a tree, left to right."""
    if tree.operands:
        return tuple(part for operand in tree.operands for part in leaves(operand))
    return () if tree.operator == "constant" else (tree,)
