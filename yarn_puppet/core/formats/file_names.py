"""Names of files: which can be kept in a puppet, how they are said, and what a file for something
is called."""

from __future__ import annotations

import re
from pathlib import Path

LONGEST_BYTES = 180
"""Of a file's name that is made here: file systems take 255, of which endings and temporary names
want some."""


def path_problem(path: Path | str) -> str | None:
    """Why a puppet cannot name a file, or None. It is kept in UTF-8, and a name may be any
    bytes."""
    try:
        str(path).encode()
    except UnicodeEncodeError:
        part = next(each for each in Path(path).parts if said(each) != each)
        return (
            f"{said(path)}: expected names in UTF-8, found {said(part)}; rename that file or folder"
        )
    return None


def said(path: Path | str) -> str:
    """A path as it can be shown and printed, bytes that are no text as `\\xff`."""
    return str(path).encode("utf-8", "surrogateescape").decode("utf-8", "backslashreplace")


def printable(text: str) -> str:
    """A text out of a file as it can be printed in one line: what would move a terminal's cursor,
    or colour what follows, is written as `\\x1b` is."""
    return re.sub(r"[\x00-\x1f\x7f-\x9f]", lambda found: f"\\x{ord(found[0]):02x}", text)


def file_name(text: str) -> str:
    """A name for a file of something that is called so: no folders, nothing hidden, not too long
    for a file system."""
    plain = re.sub(r"[\x00-\x1f\x7f/\\]+", "_", text.strip()).lstrip(".")
    return (
        plain.encode("utf-8", "ignore")[:LONGEST_BYTES].decode("utf-8", "ignore").strip()
        or "unnamed"
    )
