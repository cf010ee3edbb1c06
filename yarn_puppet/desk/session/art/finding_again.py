"""Missing files found again by where one of them was found: a folder that is elsewhere now took all
in it along."""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping
from pathlib import Path

from ....core.formats.file_names import path_problem, said


def files_found(
    paths: Mapping[str, Path], missing: Collection[str], id: str, found: Path, what: str
) -> dict[str, Path]:
    """Where files are now, by id, once the one of `id` was found; `paths` are where all of a kind
    were looked for, and `what` one of them is called. Raises ValueError with what speaks against
    it."""
    looked_for = {each: paths[each] for each in ({*missing} if id in missing else {id})}
    used = {path.resolve() for each, path in paths.items() if each not in looked_for}
    if problem := path_problem(found):
        raise ValueError(problem)
    if found.resolve() in used:
        raise ValueError(f"{said(found)} is another {what} of this puppet already")
    return found_with(looked_for, id, found, used)


def found_with(
    missing: Mapping[str, Path], id: str, found: Path, used: Collection[Path],
    exists: Callable[[Path], bool] = Path.exists,
) -> dict[str, Path]:
    """Where the missing files are, by id, once one of them was found.

    `missing` are the places where they were looked for, `used` the files that are there.
    Another one is looked for where the same move takes it: from the folder of the one that was
    found, or from one further out as long as the folders between have the same names. No file is
    given twice.
    """
    taken = {*used, found}
    result = {id: found}
    for each, path in missing.items():
        if each == id:
            continue
        for old, new in _moves(missing[id], found):
            if path.is_relative_to(old):
                there = new / path.relative_to(old)
                if there not in taken and exists(there) and not path_problem(there):
                    result[each] = there
                    taken.add(there)
                    break
    return result


def _moves(old: Path, new: Path) -> list[tuple[Path, Path]]:
    """Folders that may have become others, the innermost first."""
    moves = []
    for before, after in zip(old.parents, new.parents, strict=False):
        moves.append((before, after))
        if before.name != after.name:
            break
    return moves
