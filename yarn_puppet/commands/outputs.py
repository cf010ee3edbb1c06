"""What a command may write over: nothing that it reads, and nothing of another kind than what it
writes."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from ..core.formats.errors import FileProblem, open_regular
from ..core.formats.trace_file import TRACES

HEAD = 4096
"""Bytes from which a file's kind is told."""
KINDS: dict[str, tuple[str, Callable[[bytes], bool]]] = {
    "junit": ("JUnit XML", lambda head: head.lstrip().startswith(b"<") and b"<testsuite" in head),
    ".svg": ("SVG", lambda head: head.lstrip().startswith(b"<") and b"<svg" in head),
    "pose": ("table of a pose", lambda head: head.startswith(b"time_ms,")),
    "glb": ("glTF file of this program",
            lambda head: head.startswith(b"glTF") and b'"generator":"Yarn Puppet"' in head),
    ".png": ("PNG", lambda head: head.startswith(b"\x89PNG\r\n\x1a\n")),
    **{suffix: (each.words, each.begins) for suffix, each in TRACES.items()},
}
"""By kind, or by the ending of a name: what it is called, and how it is known."""


def may_write(out: Path, kind: str, *inputs: Path) -> None:
    """Raise FileProblem where a file that a command is to write is one that it reads, is no file,
    or is of another kind: then it stays as it is. An empty one is of any kind."""
    name, is_one = KINDS[kind]
    try:
        if not out.exists():
            return
        if any(each.exists() and out.samefile(each) for each in inputs):
            raise FileProblem(out, "",
                              "is read by this very command; expected another name to write to")
        if not out.is_file():
            raise FileProblem(out, "", "already exists, and is no file")
        with open_regular(out) as file:
            head = file.read(HEAD)
    except OSError as error:
        raise FileProblem(out, "", f"cannot be read ({error.strerror or error})") from None
    if head and not is_one(head):
        raise FileProblem(out, "", f"already exists and is no {name}; it is not replaced")
