"""Says a term in words: what the interface puts on a token, and a trace puts beside a transition."""

from __future__ import annotations

from collections.abc import Mapping

from .tree import Literal_, Node, Operation, Query, Read

SIGNS = {"<=": "≤", ">=": "≥", "==": "is", "!=": "is not", "*": "×", "negate": "−"}


def phrase(node: Node, node_names: Mapping[str, str]) -> str:
    """A short wording of a tree. `node_names` gives the names of states and groups by id."""
    if isinstance(node, Literal_):
        return str(node.value).lower() if isinstance(node.value, bool) else str(node.value)
    if isinstance(node, Read):
        return node.symbol.name.replace("_", " ")
    if isinstance(node, Query):
        if node.function == "window":
            return f"{node.argument} window"
        return f"in {node_names.get(node.argument, node.argument)}"
    return _operation(node, [_inner(each, node_names) for each in node.operands])


def _inner(node: Node, node_names: Mapping[str, str]) -> str:
    text = phrase(node, node_names)
    return f"({text})" if isinstance(node, Operation) and node.operator in ("and", "or") else text


def _operation(node: Operation, operands: list[str]) -> str:
    sign = SIGNS.get(node.operator, node.operator)
    if node.operator == "not":
        return f"not {operands[0]}"
    if node.operator == "negate":
        return f"{sign}{operands[0]}"
    if node.operator.isalpha() and node.operator not in ("and", "or"):
        return f"{node.operator}({', '.join(operands)})"
    return f" {sign} ".join(operands)
