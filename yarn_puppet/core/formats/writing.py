"""JSON that diffs well."""

from __future__ import annotations

from contextlib import suppress
from functools import cache
from typing import Any, TypeVar

import msgspec

Value = TypeVar("Value", bound=msgspec.Struct)
WIDTH = 118
AS_THEY_ARE = frozenset((str, int, float, bool, type(None)))
"""What JSON writes as it is."""


def laid_out(value: Any, one_a_line: frozenset[str]) -> bytes:
    """JSON with stable key order, in which each element of an array under one of these keys has a
    line of its own.

    Anything else is put on one line where it is short, and broken up where it is not. Ends with a
    newline.
    """
    return (_text(plain(value), "", 0, one_a_line) + "\n").encode()


def as_read(value: Value) -> Value:
    """A value of the model as one that was read from a file: numbers of their types. One that could
    not be read stays as it is, and is told of by whoever reads it."""
    with suppress(msgspec.MsgspecError):
        return msgspec.json.decode(msgspec.json.encode(value), type=type(value))
    return value


def plain(value: Any) -> Any:
    """A value of the model as JSON data, without the fields that equal their default.

    msgspec can leave out defaults too, but knows them by identity: what was loaded would be written
    otherwise.
    """
    if value.__class__ in AS_THEY_ARE:
        return value
    if isinstance(value, msgspec.Struct):
        return {name: plain(each) for name, each in said_of(value).items()}
    if isinstance(value, dict):
        return {key: plain(each) for key, each in value.items()}
    if isinstance(value, tuple | list):
        return [each if each.__class__ in AS_THEY_ARE else plain(each) for each in value]
    return value


def said_of(value: msgspec.Struct) -> dict[str, Any]:
    """The fields of a value of the model that do not equal their default, as they are."""
    found = {}
    for name, default in _defaults(type(value)):
        said = getattr(value, name)
        if default is msgspec.NODEFAULT or said != default:
            found[name] = said
    return found


@cache
def _defaults(kind: type[msgspec.Struct]) -> tuple[tuple[str, Any], ...]:
    """The fields of a kind of value, each with its default."""
    return tuple((field.name, field.default) for field in msgspec.structs.fields(kind))


def _text(value: Any, key: str, depth: int, one_a_line: frozenset[str]) -> str:
    flat = msgspec.json.encode(value).decode()
    if not isinstance(value, dict | list) or not value:
        return flat
    if isinstance(value, dict):
        if len(flat) <= WIDTH - depth and not _holds_lines(value, one_a_line):
            return flat
        items = [
            f"{msgspec.json.encode(name).decode()}: {_text(each, name, depth + 1, one_a_line)}"
            for name, each in value.items()
        ]
        opening, closing = "{", "}"
    else:
        if (
            key not in one_a_line
            and len(flat) <= WIDTH - depth
            and not any(isinstance(each, dict) for each in value)
        ):
            return flat
        items = [
            msgspec.json.encode(each).decode()
            if key in one_a_line and not _holds_lines(each, one_a_line)
            else _text(each, "", depth + 1, one_a_line)
            for each in value
        ]
        opening, closing = "[", "]"
    inner = " " * (depth + 1)
    lines = f",\n{inner}".join(items)
    return f"{opening}\n{inner}{lines}\n{' ' * depth}{closing}"


def _holds_lines(value: Any, one_a_line: frozenset[str]) -> bool:
    """Whether something inside must be given lines of its own."""
    return isinstance(value, dict) and any(
        (name in one_a_line and bool(each)) or _holds_lines(each, one_a_line)
        for name, each in value.items()
    )
