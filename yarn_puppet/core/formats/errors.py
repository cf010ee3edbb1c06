"""The one error that reading and writing files gives, and the reading that raises it."""

from __future__ import annotations

import os
import re
from contextlib import suppress
from errno import EINVAL, EISDIR
from pathlib import Path
from stat import S_ISDIR, S_ISREG
from typing import Any, BinaryIO, TypeVar

import msgspec

from ..model.basics.base import NO_NUL
from .file_names import printable, said

Value = TypeVar("Value")

FORMAT = 1
"""The format of the files of this program."""
LARGEST_FILE = 64 * 1024 * 1024
"""Bytes beyond which a puppet, take or booth is not read."""


class FileProblem(Exception):
    """A file that cannot be used: which, where in it, and what was expected."""

    def __init__(self, path: Path | str, place: str, expected: str) -> None:
        self.path = said(path)
        # Both may quote the file.
        self.place, self.expected = place, expected = printable(place), printable(expected)
        super().__init__(f"{self.path}: {place}: {expected}"
                         if place else f"{self.path}: {expected}")


def open_regular(path: Path) -> BinaryIO:
    """A file, opened to be read: the one door for whatever comes from outside.

    Raises OSError as `open` does, and where it is no file: a pipe or a device has no end that could
    be known, and might hold up whoever opens it for ever.
    """
    descriptor = os.open(path, os.O_RDONLY | os.O_NONBLOCK | os.O_CLOEXEC)
    if not S_ISREG(os.fstat(descriptor).st_mode):
        is_folder = S_ISDIR(os.fstat(descriptor).st_mode)
        os.close(descriptor)
        if is_folder:
            raise IsADirectoryError(EISDIR, os.strerror(EISDIR), str(path))
        raise OSError(EINVAL, "expected a file", str(path))
    return os.fdopen(descriptor, "rb")


def read_whole(path: Path, largest: int = LARGEST_FILE) -> bytes:
    """The bytes of a file that is not too large. Raises FileProblem."""
    try:
        with open_regular(path) as file:
            # One that grows meanwhile is not read on and on.
            content = file.read(largest + 1)
        if len(content) > largest:
            raise FileProblem(path, "", f"expected at most {largest // 2**20} MiB")
        return content
    except OSError as error:
        raise FileProblem(path, "", f"cannot be read ({error.strerror or error})") from None
    except ValueError as error:
        raise FileProblem(path, "", f"cannot be read ({error})") from None


def read_json(path: Path, kind: type[Value]) -> Value:
    """A JSON file as a value of the model. Raises FileProblem."""
    return decode(read_whole(path), path, kind)


def decode(raw: bytes, path: Path | str, kind: type[Value]) -> Value:
    """JSON text as a value of the model; `path` is for the error. Raises FileProblem."""
    try:
        return msgspec.json.decode(raw, type=kind)
    except msgspec.ValidationError as error:
        _tell_newer(raw, path)
        message, _, place = str(error).partition(" - at ")
        if message.endswith(repr(NO_NUL)):
            message = "expected a path without NUL in it"
        raise FileProblem(path, _place(place), _lowered(message)) from None
    except msgspec.DecodeError as error:
        _tell_unsettled(raw, path)
        raise FileProblem(path, _line_of(raw, str(error)),
                          f"expected JSON ({_lowered(str(error))})") from None
    except (UnicodeDecodeError, RecursionError) as error:
        raise FileProblem(path, "", f"expected JSON in UTF-8 ({_lowered(str(error))})") from None


def _tell_newer(raw: bytes, path: Path | str) -> None:
    """Raise FileProblem for a file of a format that is not known yet: nothing else of it need
    fit."""
    with suppress(msgspec.MsgspecError):
        found = msgspec.json.decode(raw, type=_Format).format
        if found > FORMAT:
            raise FileProblem(
                path,
                "format",
                f"is {found}; this program reads up to {FORMAT}, a newer one wrote it",
            )


def _tell_unsettled(raw: bytes, path: Path | str) -> None:
    """Raise FileProblem for what no JSON has, and files now and then do: a mark of the byte order,
    and the marks of a merge that was not settled."""
    if raw.startswith((b"\xef\xbb\xbf", b"\xff\xfe", b"\xfe\xff")):
        raise FileProblem(path, "", "begins with a byte order mark; expected UTF-8 without one")
    marks = re.search(rb"^(<{7}|={7}|>{7})( |\r?$)", raw, re.MULTILINE)
    if marks is not None:
        line = raw.count(b"\n", 0, marks.start()) + 1
        raise FileProblem(path, f"line {line}",
                          "holds the conflict marks of a merge; settle them first")


class _Format(msgspec.Struct):
    format: int = 0


def encode_schema(kind: Any) -> bytes:
    """The JSON Schema of a value of the model, indented."""
    return msgspec.json.format(msgspec.json.encode(msgspec.json.schema(kind)), indent=2)


def _place(place: str) -> str:
    """msgspec's place `$.clips[0].name` in quotes as `clips[0].name`; the whole file where it is
    the root."""
    return place.strip("`").removeprefix("$").removeprefix(".") or "the file"


def _lowered(message: str) -> str:
    return message[:1].lower() + message[1:]


def _line_of(raw: bytes, message: str) -> str:
    found = re.search(r"byte (\d+)", message)
    if not found:
        return f"line {raw.count(bytes([10])) + 1}"
    before = raw[: int(found[1])]
    return f"line {before.count(bytes([10])) + 1}, column {len(before) - before.rfind(bytes([10]))}"
