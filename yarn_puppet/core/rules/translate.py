"""Conditions are stored over ids and shown over names, so that a rename touches one place."""

from __future__ import annotations

from ast import literal_eval
from collections.abc import Mapping
from io import StringIO
from tokenize import STRING, generate_tokens
from typing import TYPE_CHECKING

from .parse import MAXIMUM_LENGTH, parse
from .scope import ConditionError, Scope, scope_by_id, scope_by_name
from .tree import Node, Query, Read, Type, reads

if TYPE_CHECKING:
    from ..model.puppet import Puppet


def to_ids(
    text: str, puppet: Puppet, expected: Type = "bool", longest: int = MAXIMUM_LENGTH
) -> str:
    """The stored form of a condition as people write it. Empty stays empty; raises ConditionError
    as `parse`.

    Ids may be longer than names: what could not be stored is an error too.
    """
    if not text.strip():
        return ""
    stored = replaced(text, parse(text, scope_by_name(puppet), expected), {}, by_name=False)
    if len(stored) > longest:
        raise ConditionError(
            len(text),
            f"expected a shorter condition: it is kept over ids, with {len(stored)} characters of "
            f"{longest}",
        )
    return stored


def to_names(text: str, puppet: Puppet, expected: Type = "bool") -> str:
    """A stored condition as people write it; one that cannot be read is shown as it is stored."""
    if not text.strip():
        return ""
    try:
        tree = parse(text, scope_by_id(puppet), expected)
    except ConditionError:
        return text
    return replaced(text, tree, {node.id: node.name for node in puppet.nodes}, by_name=True)


def replaced(text: str, tree: Node, node_names: Mapping[str, str], by_name: bool) -> str:
    """`text` with each symbol and queried state put as its name or its id, everything else left as
    written."""
    for part in reversed(reads(tree)):
        if isinstance(part, Read):
            first, last = part.span
            word = part.symbol.name if by_name else part.symbol.id
        else:
            first, last = part.argument_span
            word = quoted(node_names.get(part.argument, part.argument))
        text = text[:first] + word + text[last:]
    return text


def windows_read(text: str, scope: Scope, names: Mapping[str, str], expected: Type = "bool") -> str:
    """A stored condition in which `window("…")` reads windows by new names; unchanged where it
    cannot be read."""
    try:
        tree = parse(text, scope, expected)
    except ConditionError:
        return text
    for part in reversed(reads(tree)):
        if isinstance(part, Query) and part.function == "window" and part.argument in names:
            first, last = part.argument_span
            text = text[:first] + quoted(names[part.argument]) + text[last:]
    return text


def choice_replaced(
    text: str, scope: Scope, sense: str, old: str, new: str, expected: Type = "bool"
) -> str:
    """A stored condition in which a comparison of a sense with the choice `old` compares with
    `new`; unchanged where it cannot be read, or does not read the sense."""
    try:
        tree = parse(text, scope, expected)
    except ConditionError:
        return text
    if not any(isinstance(part, Read) and part.symbol.id == sense for part in reads(tree)):
        return text
    # Python's own tokens, so that nothing but a text of its own is taken for the choice.
    found = [
        token for token in generate_tokens(StringIO(text).readline)
        if token.type == STRING and literal_eval(token.string) == old
    ]
    for each in reversed(found):
        text = text[:each.start[1]] + quoted(new) + text[each.end[1]:]
    return text


def quoted(word: str) -> str:
    """A string as it stands in a condition."""
    return '"' + word.replace("\\", "\\\\").replace('"', '\\"') + '"'


