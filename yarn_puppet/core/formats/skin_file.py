"""`NAME.skin.json`: other art for a puppet, described in docs/file-format.md."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import msgspec

from ..model.mover import Mover
from ..model.skin import NUMBERS, Skin
from .belonging import puppet_named_in
from .errors import FileProblem, decode, encode_schema, read_json
from .puppet_file import ONE_A_LINE, unique
from .replacing import write_safely
from .writing import as_read, laid_out, said_of

SUFFIX = ".skin.json"


def load_skin(path: Path) -> Skin:
    """The skin in a file. Raises FileProblem with the file, the place in it and what was
    expected."""
    return checked(read_json(path, Skin), path)


def skin_from(raw: bytes, path: Path | str = "skin") -> Skin:
    """The skin in JSON text; `path` is for the error. Raises FileProblem."""
    return checked(decode(raw, path, Skin), path)


def skin_bytes(skin: Skin) -> bytes:
    """A skin as the text of its file."""
    made: dict[str, Any] = {"format": skin.format, **said_of(as_read(skin))}
    return laid_out(made, ONE_A_LINE | {"numbers"})


def checked_bytes(skin: Skin, path: Path) -> bytes:
    """A skin as the text of its file, which was read back: nothing is written that could not be
    opened again. Raises FileProblem."""
    content = skin_bytes(skin)
    try:
        again = skin_from(content, path)
    except FileProblem as problem:
        raise FileProblem(
            path, problem.place,
            f"not saved, since it could not be opened again: {problem.expected}") from None
    if again != skin:
        raise FileProblem(path, "", "not saved, since it would be read as something else")
    return content


def save_skin(skin: Skin, path: Path) -> None:
    """Write a skin's file safely. Raises FileProblem, and then the old file stands."""
    write_safely(path, checked_bytes(skin, path))


def skin_schema() -> bytes:
    """JSON Schema of the skin file."""
    return encode_schema(Skin)


def skins_of(puppet_file: Path) -> list[Path]:
    """The files of the skins that lie beside a puppet's file and are for it, in the order of their
    names. One that is so damaged that nobody can read whose it is counts as this puppet's: passed
    over in silence it would be missing from a hand-off."""
    return [path for path in sorted(puppet_file.absolute().parent.glob(f"*{SUFFIX}"))
            if puppet_named_in(path) in (None, puppet_file.name)]


def checked(skin: Skin, path: Path | str) -> Skin:
    """The same skin, once its ids are known to be unique and its numbers to be such of a mover.

    Clips that the puppet has not are let through: it may have them again.
    """
    unique(path, "sheets", [sheet.id for sheet in skin.sheets])
    unique(path, "clips", [each.clip for each in skin.clips])
    unique(path, "numbers", [each.name for each in skin.numbers])
    for number, each in enumerate(skin.clips):
        unique(path, f"clips[{number}]", [
            *(moment.id for moment in each.moments), *(window.id for window in each.windows)])
        unique(path, f"clips[{number}].own", list(each.own))
    for number, each_number in enumerate(skin.numbers):
        if each_number.name not in NUMBERS:
            raise FileProblem(path, f"numbers[{number}].name",
                              f"expected a number of the mover ({', '.join(NUMBERS)}), found "
                              f"{each_number.name}")
        try:
            value: float = each_number.value
            if each_number.name == "health" and value == int(value):
                value = int(value)
            msgspec.convert({each_number.name: value}, Mover)
        except msgspec.ValidationError as error:
            raise FileProblem(path, f"numbers[{number}].value",
                              str(error).partition(" - at")[0]) from None
    return skin
