"""Missing files found again by where one of them was found: a folder that is elsewhere now took all
in it along."""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping
from pathlib import Path

from ....core.formats.file_names import path_problem


def found_with(
    missing: Mapping[str, Path], sheet: str, found: Path, used: Collection[Path],
    exists: Callable[[Path], bool] = Path.exists,
) -> dict[str, Path]:
    """Where the missing sheets are, by id, once one of them was found.

    `missing` are the places where they were looked for, `used` the files of sheets that are there.
    Another one is looked for where the same move takes it: from the folder of the one that was
    found, or from one further out as long as the folders between have the same names. No file is
    given to two sheets.
    """
    taken = {*used, found}
    result = {sheet: found}
    for each, path in missing.items():
        if each == sheet:
            continue
        for old, new in _moves(missing[sheet], found):
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
