"""Under which names the skins of a puppet are written: no file is replaced that is not known to be
this puppet's."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from pathlib import Path
from typing import NamedTuple

from msgspec.structs import replace

from ....core.formats.belonging import puppet_named_in
from ....core.formats.puppet_file import SUFFIX as PUPPET_SUFFIX
from ....core.formats.skin_file import SUFFIX, checked_bytes
from ....core.model.skin import Skin
from .rebasing import Rebasing
from .takes_to_write import file_stem

Skins = tuple[tuple[str, Skin | None], ...]


class SkinsToWrite(NamedTuple):
    """What saving writes of the skins, and takes away.

    `names` are the files that go under another name, `skins` all skins by file name as they are
    written; `moved` brings what a step of the history has of them to the place it goes.
    """

    written: dict[Path, bytes]
    gone: tuple[Path, ...]
    names: dict[str, str]
    skins: dict[str, Skin]
    moved: Callable[[Skins], Skins]


def skins_to_write(
    skins: Mapping[str, Skin], files: Mapping[str, Skin], path: Path, rebasing: Rebasing,
    before: Path | None, edited: Callable[[str], bool],
) -> SkinsToWrite:
    """What is to be written of these skins beside a puppet's file.

    `files` are those that lie beside the file `before`, and `edited` says of which the history has
    another than was saved. In another place, or of another puppet's name, all are written.
    """
    elsewhere = before != path
    names: dict[str, str] = {}
    for file in skins:
        ours = (not elsewhere and file in files) or puppet_named_in(path.parent / file) == path.name
        if (path.parent / file).exists() and not ours:
            names[file] = _free(file, path, {*skins, *names.values()})

    def there(file: str, skin: Skin) -> Skin:
        moved = rebasing.skin(skin)
        return moved if moved.puppet == path.name else replace(moved, puppet=path.name)

    found = {names.get(file, file): there(file, skin) for file, skin in skins.items()}
    written = {path.parent / names.get(file, file): checked_bytes(
        found[names.get(file, file)], path.parent / names.get(file, file))
        for file in skins if elsewhere or edited(file) or file not in files}
    gone = () if elsewhere else tuple([path.parent / file for file in files if file not in skins])

    def moved(each: Skins) -> Skins:
        return tuple([(names.get(file, file), None if skin is None else there(file, skin))
                      for file, skin in each])

    return SkinsToWrite(written, gone, names, found, moved)


def _free(file: str, puppet: Path, taken: set[str]) -> str:
    """Another name for a skin's file: it holds the puppet's."""
    stem = file.removesuffix(SUFFIX).split(".", 1)[0]
    whose = file_stem(puppet.name.removesuffix(PUPPET_SUFFIX))
    made, number = f"{stem}.{whose}{SUFFIX}", 2
    while made in taken or (puppet.parent / made).exists():
        made, number = f"{stem}_{number}.{whose}{SUFFIX}", number + 1
    return made
