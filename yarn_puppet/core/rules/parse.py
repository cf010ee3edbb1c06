"""From text to a typed tree: Python's own parser in eval mode, then a white list, then types.

Nothing of the text is ever evaluated; the tree of `ast` is only walked.
"""

from __future__ import annotations

import ast
from collections.abc import Callable
from typing import Any, Literal

from ..model.basics.words import LONGEST_CONDITION
from .scope import FUNCTIONS, QUERIES, ConditionError, Near, Scope
from .tree import Literal_, Node, Operation, Query, Read, Span, Type, reads

MAXIMUM_LENGTH = LONGEST_CONDITION
MAXIMUM_DEPTH = 60
LARGEST_NUMBER = 1e9

ARITHMETIC: dict[type[ast.operator], str] = {ast.Add: "+", ast.Sub: "-", ast.Mult: "*",
                                             ast.Div: "/"}
COMPARISONS: dict[type[ast.cmpop], str] = {
    ast.Lt: "<", ast.LtE: "<=", ast.Gt: ">", ast.GtE: ">=", ast.Eq: "==", ast.NotEq: "!=",
}
WORDING = {"bool": "a yes-or-no value", "int": "a whole number", "float": "a number",
           "choice": "a choice"}


def parse(text: str, scope: Scope, expected: Type = "bool") -> Node:
    """The typed tree of `text`, whose value is of type `expected` (an int will do for a float).

    Raises ConditionError with the column, what was expected there, and the nearest known name where
    a name is unknown. Columns count characters of `text` from 0.
    """
    flat = "".join(" " if character.isspace() else character for character in text)
    lead = len(flat) - len(flat.lstrip())
    if not flat.strip():
        raise ConditionError(0, f"expected {WORDING[expected]}")
    if len(text) > MAXIMUM_LENGTH:
        raise ConditionError(MAXIMUM_LENGTH, f"expected at most {MAXIMUM_LENGTH} characters")
    body = flat.strip()
    try:
        tree = ast.parse(body, mode="eval").body
    except SyntaxError as error:
        # No offset, or zero, is what the parser says of a text that ends too early.
        column = min(error.offset - 1, len(body)) if error.offset else len(body)
        raise ConditionError(
            lead + column, "expected a condition such as: grounded and speed > 0.5"
        ) from None
    except (ValueError, RecursionError, MemoryError):
        raise ConditionError(
            lead, "expected a condition that can be read; this one is nested too deeply"
        ) from None
    walker = _Walker(body, lead, scope)
    node = walker.node(tree, 0)
    fits = node.type == expected or (node.type, expected) == ("int", "float")
    if not fits:
        raise ConditionError(node.span[0],
                             f"expected {WORDING[expected]}, found {WORDING[node.type]}")
    return node


class _Walker:
    """Turns nodes of `ast` into ours, one method a kind of node; a kind without a method is
    refused."""

    def __init__(self, text: str, lead: int, scope: Scope) -> None:
        self.scope = scope
        self.lead = lead
        self.bytes = text.encode()
        self.plain = len(self.bytes) == len(text)

    def node(self, source: ast.expr, depth: int) -> Node:
        method = KINDS.get(type(source))
        start = self.span(source)[0]
        if method is None:
            raise ConditionError(start,
                                 "expected names, numbers, comparisons, and, or, not, + - * /")
        if depth > MAXIMUM_DEPTH:
            raise ConditionError(start, "expected a condition that is nested less deeply")
        return method(self, source, depth + 1)

    def span(self, source: ast.expr) -> Span:
        ends = (source.col_offset, source.end_col_offset or source.col_offset)
        if self.plain:
            return ends[0] + self.lead, ends[1] + self.lead
        # ast counts columns in UTF-8 bytes; people count characters.
        first, last = (len(self.bytes[:column].decode(errors="ignore")) for column in ends)
        return first + self.lead, last + self.lead

    def typed(self, source: ast.expr, depth: int, *wanted: Type) -> Node:
        node = self.node(source, depth)
        if node.type not in wanted:
            raise ConditionError(node.span[0],
                                 f"expected {WORDING[wanted[-1]]}, found {WORDING[node.type]}")
        return node

    def joined(self, source: ast.BoolOp, depth: int) -> Node:
        operands = tuple(self.typed(value, depth, "bool") for value in source.values)
        operator = "and" if isinstance(source.op, ast.And) else "or"
        return Operation(operator, operands, "bool", self.span(source))

    def unary(self, source: ast.UnaryOp, depth: int) -> Node:
        if isinstance(source.op, ast.Not):
            return Operation("not", (self.typed(source.operand, depth, "bool"),), "bool",
                             self.span(source))
        if isinstance(source.op, ast.USub):
            operand = self.typed(source.operand, depth, "int", "float")
            return Operation("negate", (operand,), operand.type, self.span(source))
        raise ConditionError(self.span(source)[0], "expected not or -")

    def arithmetic(self, source: ast.BinOp, depth: int) -> Node:
        operator = ARITHMETIC.get(type(source.op))
        if operator is None:
            raise ConditionError(self.span(source)[0], "expected one of + - * /")
        operands = tuple(self.typed(each, depth, "int", "float")
                         for each in (source.left, source.right))
        whole = operator != "/" and all(operand.type == "int" for operand in operands)
        return Operation(operator, operands, "int" if whole else "float", self.span(source))

    def comparison(self, source: ast.Compare, depth: int) -> Node:
        sides = [source.left, *source.comparators]
        nodes = [self.node(side, depth) for side in sides]
        pairs: list[Node] = []
        for left, operator, right in zip(nodes, source.ops, nodes[1:], strict=False):
            word = COMPARISONS.get(type(operator))
            if word is None:
                raise ConditionError(right.span[0], "expected one of < <= > >= == !=")
            _comparable(left, word, right)
            pairs.append(Operation(word, (left, right), "bool", (left.span[0], right.span[1])))
        return (
            pairs[0]
            if len(pairs) == 1
            else Operation("and", tuple(pairs), "bool", self.span(source))
        )

    def call(self, source: ast.Call, depth: int) -> Node:
        span = self.span(source)
        if not isinstance(source.func, ast.Name) or source.keywords:
            raise ConditionError(span[0], "expected a plain call such as min(speed, 2)")
        name = source.func.id
        if name in QUERIES:
            return self.query(source, name)
        if name not in FUNCTIONS:
            known = Near(name, (*FUNCTIONS, *QUERIES))
            raise ConditionError(span[0], f"expected a known function, found {name}", known)
        least, most = FUNCTIONS[name]
        if not least <= len(source.args) <= most:
            count = str(least) if least == most else f"{least} to {most}"
            raise ConditionError(span[0], f"expected {count} numbers in {name}(…)")
        operands = tuple(self.typed(arg, depth, "int", "float") for arg in source.args)
        whole = name == "sign" or all(operand.type == "int" for operand in operands)
        return Operation(name, operands, "int" if whole else "float", span)

    def query(self, source: ast.Call, name: str) -> Node:
        span = self.span(source)
        argument = source.args[0] if len(source.args) == 1 else None
        if not isinstance(argument, ast.Constant) or not isinstance(argument.value, str):
            raise ConditionError(span[0], f'expected one quoted name, as in {name}("…")')
        known = self.scope.windows if name == "window" else self.scope.nodes
        if argument.value not in known and not (
            self.scope.any_window if name == "window" else self.scope.any_node
        ):
            what = "window" if name == "window" else "state or group"
            raise ConditionError(
                self.span(argument)[0], f"expected a known {what}, found {argument.value}",
                Near(argument.value, known),
            )
        function: Literal["window", "in_state"] = "window" if name == "window" else "in_state"
        return Query(function, known.get(argument.value, argument.value), span, self.span(argument))

    def name(self, source: ast.Name, depth: int) -> Node:
        span = self.span(source)
        if source.id in ("true", "false"):
            return Literal_(source.id == "true", "bool", span)
        # Python reads names in their compatible form (NFKC), and so does the scope.
        symbol = self.scope.symbols.get(source.id)
        if symbol is None:
            known = Near(source.id, self.scope.symbols)
            raise ConditionError(span[0], f"expected a known name, found {source.id}", known)
        return Read(symbol, span)

    def constant(self, source: ast.Constant, depth: int) -> Node:
        span, value = self.span(source), source.value
        if isinstance(value, bool):
            return Literal_(value, "bool", span)
        if isinstance(value, int | float):
            if not abs(value) <= LARGEST_NUMBER:
                raise ConditionError(span[0], f"expected a number up to {LARGEST_NUMBER:.0e}")
            return Literal_(value, "int" if isinstance(value, int) else "float", span)
        if isinstance(value, str):
            return Literal_(value, "choice", span)
        raise ConditionError(span[0], "expected a number, true, false or a quoted choice")


KINDS: dict[type[ast.expr], Callable[[_Walker, Any, int], Node]] = {
    ast.BoolOp: _Walker.joined,
    ast.UnaryOp: _Walker.unary,
    ast.BinOp: _Walker.arithmetic,
    ast.Compare: _Walker.comparison,
    ast.Call: _Walker.call,
    ast.Name: _Walker.name,
    ast.Constant: _Walker.constant,
}


def _comparable(left: Node, operator: str, right: Node) -> None:
    """Raise ConditionError unless two sides can be compared by `operator`."""
    numeric = ("int", "float")
    for part in (*reads(left), *reads(right)):
        if isinstance(part, Read) and part.symbol.kind == "intent":
            # What made it true could not be said, and so not be used up.
            name = part.symbol.name
            raise ConditionError(
                part.span[0], f"expected {name} or not {name}; an intent is compared with nothing"
            )
    if left.type in numeric and right.type in numeric:
        return
    if left.type != right.type:
        raise ConditionError(right.span[0],
                             f"expected {WORDING[left.type]}, found {WORDING[right.type]}")
    if operator not in ("==", "!="):
        raise ConditionError(right.span[0], f"expected == or != between {WORDING[left.type]}s")
    for one, other in ((left, right), (right, left)):
        if isinstance(one, Read) and isinstance(other, Literal_) and isinstance(other.value, str):
            choices = one.symbol.choices
            if other.value not in choices:
                listed = ", ".join(choices) or "no choices yet"
                raise ConditionError(
                    other.span[0], f"expected one of {listed}, found {other.value}",
                    Near(other.value, choices)
                )
