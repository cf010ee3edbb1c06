"""Says a term in words: what the interface puts on a token, and a trace puts beside a
transition."""

from __future__ import annotations

from collections.abc import Mapping

from .tree import Literal_, Node, Operation, Query, Read

SIGNS = {"<=": "≤", ">=": "≥", "==": "is", "!=": "is not", "*": "×", "negate": "−"}
BINDS = {
    "or": 1, "and": 2, "not": 3, "<": 4, "<=": 4, ">": 4, ">=": 4, "==": 4, "!=": 4, "+": 5, "-": 5,
    "*": 6, "/": 6,
    "negate": 7,
}
"""How tightly operators bind, as in the language itself. Functions, names and numbers bind
tightest."""
TIGHTEST = 8


def phrase(node: Node, node_names: Mapping[str, str]) -> str:
    """A short wording of a tree. `node_names` gives the names of states and groups by id."""
    if isinstance(node, Literal_):
        return (
            str(node.value).lower() if isinstance(node.value, bool) else str(node.value) or "none"
        )
    if isinstance(node, Read):
        return node.symbol.name.replace("_", " ")
    if isinstance(node, Query):
        if node.function == "window":
            return f"{node.argument} window"
        return f"in {node_names.get(node.argument, node.argument)}"
    return _operation(node, node_names)


def _operation(node: Operation, node_names: Mapping[str, str]) -> str:
    sign = SIGNS.get(node.operator, node.operator)
    binds = BINDS.get(node.operator)
    if binds is None:
        return f"{node.operator}({', '.join(phrase(each, node_names) for each in node.operands)})"
    if node.operator in ("not", "negate"):
        operand = _inner(node.operands[0], binds, node_names)
        return f"not {operand}" if node.operator == "not" else f"{sign}{operand}"
    if node.operator in ("and", "or"):
        return f" {sign} ".join(_inner(each, binds, node_names) for each in node.operands)
    # What stands on the right is taken together first only where brackets say so; a comparison
    # takes none on its left.
    first = binds + 1 if binds == BINDS["=="] else binds
    left, right = node.operands
    return f"{_inner(left, first, node_names)} {sign} {_inner(right, binds + 1, node_names)}"


def _inner(node: Node, least: int, node_names: Mapping[str, str]) -> str:
    """An operand, in brackets where it binds less than it must."""
    text = phrase(node, node_names)
    binds = BINDS.get(node.operator, TIGHTEST) if isinstance(node, Operation) else TIGHTEST
    return text if binds >= least else f"({text})"
