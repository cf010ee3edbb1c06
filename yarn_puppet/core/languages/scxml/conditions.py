"""Conditions and values as ECMAScript over the data of a state chart, in the words of a person."""

from __future__ import annotations

import json
import re
from collections.abc import Callable
from typing import NamedTuple

from ...rules.bind import Tree

WORDS = frozenset(
    [
        each
        for line in (
            "break case catch class const continue debugger default delete do else enum export "
            "extends false finally for",
            "function if implements import in instanceof interface let new null package private "
            "protected public return",
            "static super switch this throw true try typeof var void while with yield math "
            "infinity nan undefined",
        )
        for each in line.split()
    ]
)
"""What no data can be called."""
TEXT = re.compile(r'"(?:[^"\\]|\\.)*"|\'(?:[^\'\\]|\\.)*\'')
TOKEN = re.compile(
    rf"({TEXT.pattern}|\d+(?:\.\d*)?(?:[eE][+-]?\d+)?|\.\d+|===|!==|==|!=|<=|>=|&&|\|\||[!<>()+\-*/,?:]|[A-Za-z_$][\w$.]*)"
)
OURS = {"true": "true", "false": "false", "&&": "and", "||": "or", "!": "not", "===": "==",
        "!==": "!="}
FUNCTIONS = {f"Math.{each}": each for each in ("min", "max", "abs", "sign")}
SIGNS = {"and": "&&", "or": "||", "==": "===", "!=": "!=="}


class Data(NamedTuple):
    """What a chart calls what a condition reads: by kind and place or text."""

    names: dict[tuple[str, object], str]
    nodes: dict[str, str]

    def text(self, tree: Tree, layer: str) -> str:
        """A tree as ECMAScript, read in a layer whose own data begin with `layer`."""
        kind = tree.operator
        if kind == "constant":
            return json.dumps(tree.value)
        if kind in ("sense", "memo", "intent", "threshold", "window"):
            return self.names[kind, tree.value]
        if kind == "built-in":
            return "facing" if tree.value == "facing" else f"{layer}_{tree.value}"
        if kind == "in_state":
            return f"In({json.dumps(self.nodes[str(tree.value)]).replace(chr(34), chr(39))})"
        given = [self.text(operand, layer) for operand in tree.operands]
        if kind in ("and", "or"):
            return f"({f' {SIGNS[kind]} '.join(given)})"
        if kind == "not":
            return f"!{given[0]}"
        if kind == "negate":
            return f"(-{given[0]})"
        if kind == "/":
            return f"({given[1]} === 0 ? 0 : {given[0]} / {given[1]})"
        if kind == "clamp":
            return f"Math.max({given[1]}, Math.min({given[2]}, {given[0]}))"
        if kind in ("min", "max", "abs", "sign"):
            return f"Math.{kind}({', '.join(given)})"
        return f"({given[0]} {SIGNS.get(kind, kind)} {given[1]})"


def without_brackets(text: str) -> str:
    """A text without the brackets around all of it."""
    if not text.startswith("("):
        return text
    depth = 0
    for index, letter in enumerate(TEXT.sub(lambda found: "_" * len(found[0]), text)):
        depth += (letter == "(") - (letter == ")")
        if not depth:
            return text[1:-1] if index == len(text) - 1 else text
    return text


def read_condition(
    text: str, words: Callable[[str], str | None], nodes: Callable[[str], str | None]
) -> str | None:
    """An ECMAScript condition as one of ours over ids; None where it is more than names, numbers,
    texts, comparisons, reckoning, `In` and the least of `Math`. `words` gives what a name is,
    `nodes` the id of a state; None for none."""
    made: list[str] = []
    if TOKEN.sub("", text).strip():
        return None
    tokens = _divisions(TOKEN.findall(text))
    if "?" in tokens or ":" in tokens:
        return None
    place = 0
    while place < len(tokens):
        token = tokens[place]
        place += 1
        if token in OURS:
            made.append(OURS[token])
        elif token[0] in "\"'":
            made.append(json.dumps(unquoted(token)))
        elif (
            token == "In"
            and tokens[place : place + 1] == ["("]
            and tokens[place + 2 : place + 3] == [")"]
        ):
            id = nodes(unquoted(tokens[place + 1])) if tokens[place + 1][0] in "\"'" else None
            if id is None:
                return None
            made.append(f'in_state("{id}")')
            place += 3
        elif token[0].isalpha() or token[0] in "_$":
            word = FUNCTIONS.get(token) if tokens[place: place + 1] == ["("] else words(token)
            if word is None:
                return None
            made.append(word)
        else:
            made.append(token)
    return " ".join(made)


def _divisions(tokens: list[str]) -> list[str]:
    """The tokens with each `(b === 0 ? 0 : a / b)` as what it says, `(a / b)`: by zero gives
    zero here."""
    made: list[str] = []
    opened: list[int] = []
    for token in tokens:
        made.append(token)
        if token == "(":
            opened.append(len(made) - 1)
        elif token == ")" and opened:
            start = opened.pop()
            inside = made[start + 1: -1]
            if "?" in inside:
                by = inside[: inside.index("?") - 2]
                rest = inside[len(by) + 5:]
                fits = inside[len(by) : len(by) + 5] == ["===", "0", "?", "0", ":"] and rest[
                    -len(by) - 1 :
                ] == ["/", *by]
                # Of more than one thing on either side, the bar would divide but the nearest.
                if fits and _is_one(by) and _is_one(rest[: -len(by) - 1]):
                    made[start + 1:] = [*rest, ")"]
    return made


def _is_one(tokens: list[str]) -> bool:
    """Whether tokens are one name, number, call or bracket."""
    tokens = tokens[1:] if tokens[:1] == ["-"] else tokens
    if len(tokens) == 1:
        return True
    tokens = tokens[1:] if tokens[:1] != ["("] else tokens
    depth = 0
    for index, token in enumerate(tokens):
        depth += (token == "(") - (token == ")")
        if depth <= 0:
            return token == ")" and index == len(tokens) - 1
    return False


def unquoted(token: str) -> str:
    """What a text of ECMAScript says."""
    return re.sub(r"\\(.)", r"\1", token[1:-1])
