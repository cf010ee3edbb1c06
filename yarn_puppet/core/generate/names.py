"""Names of a puppet as identifiers of a programming language: predictable, all different, what was
renamed listed."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Container, Iterable
from typing import NamedTuple

from ..engine.program import Program

LONGEST = 60


class RenamedForCode(NamedTuple):
    """A name that could not be used as it is, and what stands for it; what it is a name of."""

    kind: str
    name: str
    instead: str

    @property
    def words(self) -> str:
        """As it is told. A name that is empty, or of blanks, would not be seen."""
        return (f"the {self.kind} {self.name if self.name.strip() else f'“{self.name}”'} is "
                f"called {self.instead}")


def identifier(name: str) -> str:
    """Lower-case letters of English, digits and underscores, like a name; letters that have no such
    likeness by their number, so that other names give others."""
    plain = "".join(
        each if each.isascii() else f"u{ord(each):x}"
        for each in unicodedata.normalize("NFKD", name)
        if not unicodedata.combining(each))
    made = re.sub(r"[^A-Za-z0-9]+", "_", plain).strip("_").lower()[:LONGEST].strip("_") or "unnamed"
    return f"n{made}" if made[0].isdigit() else made


class Identifiers:
    """The identifiers of one scope. A word of the language gets an underscore, one that is taken a
    number."""

    def __init__(self, words: Container[str]) -> None:
        self.words = words
        self.renames: list[RenamedForCode] = []

    def of(self, kind: str, names: Iterable[str], taken: Iterable[str] = ()) -> list[str]:
        """Identifiers for these names, in their order, other than those that are taken."""
        found: list[str] = []
        known = set(taken)
        numbers: dict[str, int] = {}
        for name in names:
            base = identifier(name)
            made = f"{base}_" if base in self.words else base
            number = numbers.get(base, 2)
            while made in known:
                made = f"{base}_{number}"
                number += 1
            numbers[base] = number
            known.add(made)
            found.append(made)
            if made != re.sub(r"[ -]+", "_", name.strip().lower()):
                self.renames.append(RenamedForCode(kind, name, made))
        return found

    def inputs(self, program: Program) -> tuple[list[str], list[str]]:
        """What the inputs of a tick call the actions and the senses of a program."""
        actions = self.of("action", program.actions)
        return actions, self.of("sense", [sense.name for sense in program.senses], actions)
