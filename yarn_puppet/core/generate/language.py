"""What a language of the hand-off is: one record, which the language's folder makes and
`languages/table.py` lists."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from pathlib import Path
from typing import TYPE_CHECKING, Any, NamedTuple

if TYPE_CHECKING:
    from ..engine.program import Program
    from .geometry import Geometry
    from .names import RenamedForCode

GOLDEN = "golden.txt"
"""How the file of golden traces ends, after the puppet's name and a point."""


class HandedCode(NamedTuple):
    """The code of a puppet in a language: files by name, the names that had to be changed to fit
    the language, and what the language cannot say."""

    files: dict[str, str]
    renames: tuple[RenamedForCode, ...] = ()
    unsaid: tuple[str, ...] = ()


def _no_files(name: str, table: Mapping[str, Any]) -> dict[str, str]:
    return {}


class Language(NamedTuple):
    """One language."""

    words: str
    """What people call it."""
    write: Callable[[Program, str, Geometry, str], HandedCode]
    """Gives the code of a program under a name; with what hangs on its frames, and a digest of the
    puppet it is of."""
    runner: Callable[[Program, str], dict[str, str]] | None = None
    """Gives the files of the game's own test, by name: they read the golden traces and tick the
    code."""
    run: Callable[[Path, str], str] | None = None
    """Builds and runs that test in a folder, for a puppet of this name; gives what it said."""
    client: Callable[[], dict[str, str]] = dict
    """The files with which a game speaks to the live wire, by name."""
    bones: Callable[[], dict[str, str]] = dict
    """The files by which a game poses bones, by name; the same for every puppet."""
    bone_tables: Callable[[str, Mapping[str, Any]], dict[str, str]] = _no_files
    """Gives the tables of one puppet's bones in the language, under the puppet's name, of what is
    handed off as JSON; nothing where the language reads that."""
