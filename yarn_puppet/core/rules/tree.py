"""The typed tree of a condition. Each node knows its type and the columns of the text it came
from."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

Type = Literal["bool", "int", "float", "choice"]
SymbolKind = Literal["intent", "sense", "memo", "threshold", "built-in"]
Span = tuple[int, int]
"""First column and the column after the last, counted in characters from 0."""


@dataclass(frozen=True, slots=True)
class Symbol:
    """A name that a condition may read: what it stands for, its type and, for a choice, the values
    it can have."""

    kind: SymbolKind
    id: str
    name: str
    type: Type
    choices: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Literal_:
    """A number, True, False, or a quoted choice."""

    value: bool | int | float | str
    type: Type
    span: Span


@dataclass(frozen=True, slots=True)
class Read:
    """The value of a symbol."""

    symbol: Symbol
    span: Span

    @property
    def type(self) -> Type:
        """The symbol's type."""
        return self.symbol.type


@dataclass(frozen=True, slots=True)
class Query:
    """`window("…")` or `in_state("…")`: whether a window is open, or a state or group active."""

    function: Literal["window", "in_state"]
    argument: str
    span: Span
    argument_span: Span
    type: Type = "bool"


@dataclass(frozen=True, slots=True)
class Operation:
    """An operator or function applied to operands; chained comparisons become an "and"."""

    operator: str
    operands: tuple[Node, ...]
    type: Type
    span: Span


Node = Literal_ | Read | Query | Operation


def conjuncts(node: Node) -> tuple[Node, ...]:
    """The terms of a condition: what is joined by its outermost `and`s, left to right."""
    if isinstance(node, Operation) and node.operator == "and":
        return tuple(part for operand in node.operands for part in conjuncts(operand))
    return (node,)


def reads(node: Node) -> tuple[Read | Query, ...]:
    """Every read and query in a tree, left to right."""
    if isinstance(node, Operation):
        return tuple(part for operand in node.operands for part in reads(operand))
    return () if isinstance(node, Literal_) else (node,)
