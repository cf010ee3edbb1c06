"""Stable ids: made once from the first name, never changed by a rename."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Container, Iterable

from ..puppet import COLLECTIONS, Puppet
from .base import LONGEST_NAME
from .words import is_reserved


def new_id(name: str, taken: Container[str], otherwise: str = "entry") -> str:
    """An identifier like `name` that is not in `taken`: plain lower-case letters, other characters
    as underscores.

    Letters that have no plain likeness are left out; a name of only such gives `otherwise`, "sense"
    or "sense_2". No id is a word of the condition language, since conditions are kept over ids.
    """
    return new_ids((name,), taken, otherwise)[0]


def new_ids(names: Iterable[str], taken: Container[str], otherwise: str = "entry") -> list[str]:
    """Identifiers like these names, as `new_id` gives them, none of them twice."""
    ids = NewIds(taken)
    return [ids.new(name, otherwise) for name in names]


class NewIds:
    """Gives identifiers that are not in `taken`, none of them twice. Many of one name cost no more
    each than a few: it goes on counting where it was."""

    def __init__(self, taken: Container[str]) -> None:
        self._taken = taken
        self._made: set[str] = set()
        self._numbers: dict[str, int] = {}

    def new(self, name: str, otherwise: str = "entry") -> str:
        """One more, as `new_id` gives it."""
        base = _plain(name, otherwise)
        id, number = base, self._numbers.get(base, 2)
        while id in self._taken or id in self._made or is_reserved(id):
            id = f"{base}_{number}"
            number += 1
        self._numbers[base] = number
        self._made.add(id)
        return id


def _plain(name: str, otherwise: str) -> str:
    plain = unicodedata.normalize("NFKD", name.casefold()).encode("ascii", "ignore").decode()
    base = re.sub(r"[^a-z0-9]+", "_", plain).strip("_")[:60].strip("_") or otherwise
    return f"{otherwise}_{base}" if base[0].isdigit() else base


def fitting(name: str) -> str:
    """A name as a file may hold it: not empty, not too long, and text, in which what is none is a
    question mark."""
    return name.encode("utf-8", "replace").decode()[:LONGEST_NAME] or "unnamed"


def free_name(name: str, taken: Container[str]) -> str:
    """`name`, or the first of "name 2", "name 3" … that is not in `taken`; never longer than a name
    may be."""
    result, number = fitting(name), 2
    name = result
    while result in taken:
        tail = f" {number}"
        result = f"{name[:LONGEST_NAME - len(tail)]}{tail}"
        number += 1
    return result


def all_ids(puppet: Puppet) -> set[str]:
    """Every id in a puppet. New ids avoid all of them, whatever they are for: a diff then never
    reads two ways."""
    ids = {entry.id for field in COLLECTIONS for entry in getattr(puppet, field)}
    for clip in puppet.clips:
        ids |= {event.id for event in clip.events}
    return ids
