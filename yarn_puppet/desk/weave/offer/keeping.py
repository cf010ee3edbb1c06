"""Keeps a puppet, or what is selected of one, as a pattern at this desk."""

from __future__ import annotations

from collections.abc import Collection

from ....core.formats.errors import FileProblem
from ....core.formats.file_names import path_problem
from ....core.formats.puppet_file import SUFFIX, save_puppet
from ....core.patterns.keeping import pattern_of
from ...session.document import Document
from .known_patterns import kept_folder, known_patterns


def keep_as_pattern(document: Document, nodes: Collection[str] = ()) -> None:
    """Keep some states and groups, or all, under a name that no pattern has; what became of it is
    told."""
    puppet = document.bare_puppet
    named = next((found for id in nodes if (found := puppet.node(id)) is not None), None)
    name = free_pattern_name(named.name.casefold() if named is not None else puppet.name)
    pattern = pattern_of(puppet, name, nodes)
    folder = kept_folder()
    path = folder / f"{name}{SUFFIX}"
    try:
        if problem := path_problem(path):
            raise FileProblem(path, "", problem)
        folder.mkdir(parents=True, exist_ok=True)
        save_puppet(pattern, path)
    except (FileProblem, OSError) as problem:
        document.message.emit(f"The pattern cannot be kept: {problem}")
        return
    waits = sum(each.waits for each in pattern.states)
    document.message.emit(f"kept as the pattern “{name}”: {waits} card{'s' * (waits != 1)} that "
                       f"wait for clips, in {path}")


def free_pattern_name(name: str) -> str:
    """A name like this that no pattern has, and that a file can have."""
    plain = "".join("-" if letter in '/\\:*?"<>|' or ord(letter) < 32 else letter
                    for letter in name).strip(" .") or "pattern"
    known, number, result = set(known_patterns()), 2, plain[:80]
    while result in known:
        result = f"{plain[:80]} {number}"
        number += 1
    return result
