"""Conditions and values as source of a language whose numbers are 64-bit floats: languages differ
in names only."""

from __future__ import annotations

from typing import NamedTuple

from ..engine.program import Program
from ..model.kinds.gestures import GESTURES
from ..rules.bind import Tree
from .flat import Flat


class ReadFormats(NamedTuple):
    """What a language calls what a condition reads: formats, `{}` being a place or an operand."""

    sense: str
    memo: str
    threshold: str
    armed: str
    down: str
    window: str
    in_state: str
    built_in: dict[str, str]
    calls: dict[str, str]
    equal: str
    unequal: str
    yes: str
    no: str


NUMERIC = {"+": "bound({} + {})", "-": "bound({} - {})", "*": "bound({} * {})",
           "negate": "bound(-{})"}


class Writer:
    """Writes the trees of one program."""

    def __init__(self, made: Flat, names: ReadFormats) -> None:
        self.program: Program = made.program
        self.made, self.names = made, names

    def value(self, tree: Tree) -> str:
        """An expression for the value of a tree."""
        kind, names = tree.operator, self.names
        if not tree.operands:
            return self._leaf(tree)
        given = [self.value(operand) for operand in tree.operands]
        if kind in ("and", "or"):
            return f"({(' && ' if kind == 'and' else ' || ').join(given)})"
        if kind == "not":
            return f"(!{given[0]})"
        if kind in ("==", "!="):
            return f"({(names.equal if kind == '==' else names.unequal).format(*given)})"
        if kind in ("<", "<=", ">", ">="):
            return f"({given[0]} {kind} {given[1]})"
        if kind in NUMERIC:
            return NUMERIC[kind].format(*given)
        return self._called(kind, given)

    def _leaf(self, tree: Tree) -> str:
        """An expression for what is no operation."""
        kind, names = tree.operator, self.names
        if kind == "constant":
            return self._constant(tree)
        if kind in ("sense", "memo", "threshold"):
            text = getattr(names, kind).format(tree.value)
            return (
                f"({names.unequal.format(text, '0.0')})"
                if tree.type == "bool" and kind != "threshold"
                else text
            )
        if kind == "intent":
            intent = self.program.intents[int(tree.value or 0)]
            if GESTURES[intent.gesture].is_level:
                return names.down.format(intent.action) if intent.action >= 0 else names.no
            return names.armed.format(tree.value)
        if kind == "built-in":
            return names.built_in[str(tree.value)]
        if kind == "window":
            return names.window.format(self.made.window_names.get(str(tree.value), -2))
        return names.in_state.format(self.program.places["in_state", str(tree.value)])

    def _called(self, kind: str, given: list[str]) -> str:
        calls = self.names.calls
        if kind == "clamp":
            return calls["max"].format(given[1], calls["min"].format(given[2], given[0]))
        if kind in ("min", "max"):
            made = given[0]
            for each in given[1:]:
                made = calls[kind].format(made, each)
            return made
        return calls[kind].format(*given)

    def _constant(self, tree: Tree) -> str:
        if isinstance(tree.value, bool):
            return self.names.yes if tree.value else self.names.no
        if isinstance(tree.value, str):
            # A text that nothing else has is equal to nothing.
            return number(self.made.texts.index(tree.value)
                          if tree.value in self.made.texts else -1)
        return number(tree.value or 0)


def number(value: float) -> str:
    """A number as source, exact: the shortest text that reads as it."""
    text = repr(float(value))
    return f"({text})" if text.startswith("-") else text


def uses_intents(tree: Tree) -> bool:
    """Whether a condition that is true may use up an intent: one that is read outside *not* and
    calls."""
    if tree.operator == "intent":
        return True
    return tree.operator in ("and", "or") and any(map(uses_intents, tree.operands))
