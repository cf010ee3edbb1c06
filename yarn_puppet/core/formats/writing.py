"""Writes JSON that diffs well, and writes files so that a crash loses nothing."""

from __future__ import annotations

import os
import tempfile
from collections.abc import Mapping
from contextlib import suppress
from functools import cache
from pathlib import Path
from typing import Any

import msgspec

from .errors import FileProblem

WIDTH = 118
AS_THEY_ARE = frozenset((str, int, float, bool, type(None)))
"""What JSON writes as it is."""


def laid_out(value: Any, one_a_line: frozenset[str]) -> bytes:
    """JSON with stable key order, in which each element of an array under one of these keys has a line of its own.

    Anything else is put on one line where it is short, and broken up where it is not. Ends with a newline.
    """
    return (_text(plain(value), "", 0, one_a_line) + "\n").encode()


def plain(value: Any) -> Any:
    """A value of the model as JSON data, without the fields that equal their default.

    msgspec can leave out defaults too, but knows them by identity: what was loaded would be written otherwise.
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
        if key not in one_a_line and len(flat) <= WIDTH - depth and not any(isinstance(each, dict) for each in value):
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
        (name in one_a_line and bool(each)) or _holds_lines(each, one_a_line) for name, each in value.items()
    )


def write_safely(path: Path, content: bytes) -> None:
    """Replace a file in one step: a temporary file beside it, flushed to disk, renamed. Raises FileProblem."""
    write_together({path: content})


def write_together(files: Mapping[Path, bytes]) -> None:
    """Replace several files: all are written beside where they go and flushed to disk, and only then renamed, in the
    order given. Raises FileProblem; one that cannot be written leaves all as they were."""
    beside: dict[Path, Path] = {}
    path = Path()
    try:
        for path, content in files.items():
            beside[path] = _written_beside(path, content)
        for path, temporary in beside.items():
            temporary.replace(path)
        for folder in dict.fromkeys(path.parent for path in beside):
            flush_folder(folder)
    except OSError as error:
        raise FileProblem(path, "", f"cannot be written ({error.strerror or error})") from None
    finally:
        for temporary in beside.values():
            temporary.unlink(missing_ok=True)


def flush_folder(folder: Path) -> None:
    """Flush to disk which files a folder has: a new name is lost in a power cut otherwise, however well what it names
    was written. Where the file system knows of no such thing, nothing happens."""
    with suppress(OSError):
        descriptor = os.open(folder, os.O_RDONLY | os.O_DIRECTORY)
        try:
            os.fsync(descriptor)
        finally:
            os.close(descriptor)


def _written_beside(path: Path, content: bytes) -> Path:
    handle, name = tempfile.mkstemp(prefix=f".{path.name[:60]}.", dir=path.parent)
    temporary = Path(name)
    try:
        with os.fdopen(handle, "wb") as file:
            file.write(content)
            file.flush()
            os.fsync(file.fileno())
        # mkstemp keeps the file to its owner; a puppet is shared like any other file.
        temporary.chmod(path.stat().st_mode & 0o777 if path.exists() else 0o666 & ~_umask())
    except OSError:
        temporary.unlink(missing_ok=True)
        raise
    return temporary


def _umask() -> int:
    current = os.umask(0)
    os.umask(current)
    return current
