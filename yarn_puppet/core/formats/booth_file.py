"""`NAME.booth.json`: the tiles, dummies and start of a booth."""

from __future__ import annotations

from collections.abc import Iterable
from contextlib import suppress
from pathlib import Path, PurePosixPath

from msgspec.structs import replace

from ..model.world import MOST_ROWS, World
from .errors import FileProblem, decode, read_json
from .replacing import write_safely
from .writing import as_read, laid_out

SUFFIX = ".booth.json"
ONE_A_LINE = frozenset(("rows", "wet", "dummies", "zones", "props", "barred", "looks", "cells"))


def load_booth(path: Path) -> World:
    """The booth in a file. Raises FileProblem."""
    return _checked(read_json(path, World), path)


def booth_from(raw: bytes, path: Path | str = "booth") -> World:
    """The booth in JSON text; `path` is for the error. Raises FileProblem."""
    return _checked(decode(raw, path, World), path)


def _checked(world: World, path: Path | str) -> World:
    if not 0 < len(world.rows) <= MOST_ROWS or not world.columns:
        raise FileProblem(path, "rows", f"expected 1 to {MOST_ROWS} rows of tiles")
    if world.opponents:
        raise FileProblem(path, "opponents",
                          "expected none in the file: they are read from the files that dummies "
                          "name as their cast")
    wide, high = world.columns * world.tile_size, len(world.rows) * world.tile_size
    if not (0 <= world.start_x <= wide and 0 <= world.start_y <= high):
        raise FileProblem(path, "start_x, start_y",
                          f"expected a start inside the world, 0 to {wide} across and 0 to"
                          f" {high} down, not {world.start_x:g}, {world.start_y:g}")
    return world


def save_booth(world: World, path: Path) -> None:
    """Write a booth's file safely. Raises FileProblem."""
    write_safely(path, booth_bytes(world))


def booth_bytes(world: World) -> bytes:
    """A booth as the text of its file: as one that was read is written, numbers of their types.
    Opponents have files of their own."""
    return laid_out(as_read(replace(world, opponents=())), ONE_A_LINE)


def booths_in(folders: Iterable[Path]) -> dict[str, Path]:
    """The booth files of folders by name; of one name, that of the first folder that has it."""
    found: dict[str, Path] = {}
    for folder in folders:
        with suppress(OSError):
            for path in sorted(folder.glob(f"*{SUFFIX}")):
                found.setdefault(path.name, path)
    return found


def find_booth(name: str, folders: Iterable[Path]) -> World:
    """The booth of this file name in the first of the folders that has it. Raises FileProblem."""
    return load_booth(booth_path(name, folders))


def booth_path(name: str, folders: Iterable[Path]) -> Path:
    """Where the booth of this file name is: in the first of the folders that has it. Raises
    FileProblem.

    A take names its booth; a take is not trusted, so the name may not lead out of the folders.
    """
    plain = PurePosixPath(name)
    if plain.name != name or not name.endswith(SUFFIX):
        raise FileProblem(name, "booth",
                          f"expected the name of a file that ends in {SUFFIX}, without folders")
    searched = list(dict.fromkeys(folders))
    for folder in searched:
        if (folder / name).is_file():
            return folder / name
    raise FileProblem(name, "booth",
                      f"expected it in {' or '.join(str(folder) for folder in searched)}")
