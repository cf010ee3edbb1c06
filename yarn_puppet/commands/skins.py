"""The skins that a command runs a puppet in."""

from __future__ import annotations

import argparse
from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from ..core.model.puppet import Puppet
    from ..core.model.skin import Skin

ALL, NONE = "all", "none"
HELP = "one of the skins beside FILE, by its name or file"


def add_skin(command: argparse.ArgumentParser, more: str = "", default: str = "") -> None:
    """The argument that says which."""
    command.add_argument("--skin", metavar="SKIN", default=default, help=HELP + more)


def skins_beside(file: Path) -> dict[Path, Skin]:
    """The skins of a puppet's file, by their files. Raises FileProblem for one that cannot be
    read."""
    from ..core.formats.skin_file import load_skin, skins_of

    return {path: load_skin(path) for path in skins_of(file)}


def skin_named(file: Path, name: str) -> tuple[Path, Skin] | None:
    """The skin that is meant, with its file; None for no name. Raises FileProblem."""
    from ..core.formats.errors import FileProblem
    from ..core.formats.skin_file import SUFFIX, load_skin

    if not name:
        return None
    beside = skins_beside(file)
    found = [(path, skin) for path, skin in beside.items()
             if name in (skin.name, path.name, path.name.removesuffix(SUFFIX))]
    if len(found) > 1:
        # A file is one; of a name there may be several.
        found = [each for each in found if each[0].name.removesuffix(SUFFIX) == name] or found
    if len(found) == 1:
        return found[0]
    if not found and name.endswith(SUFFIX) and Path(name).is_file():
        return Path(name), load_skin(Path(name))
    names = ", ".join(sorted(skin.name for skin in beside.values())) or "no skin"
    raise FileProblem(file, "--skin", f"expected one of those beside it ({names}), found {name}"
                      if not found else f"expected a file, {name} is the name of {len(found)}")


def in_skin(file: Path, puppet: Puppet, name: str) -> Puppet:
    """A puppet in the skin that is meant; itself for none. Raises FileProblem."""
    from ..core.skins.dressing import dressed

    found = skin_named(file, name)
    return puppet if found is None else dressed(puppet, found[1])


def chosen_skins(file: Path, name: str) -> list[tuple[str, Skin | None]]:
    """What is meant, by what it is called: nothing is the puppet as it is, with an empty name;
    `all` is that, and each of its skins. Raises FileProblem."""
    if name != ALL:
        found = skin_named(file, name)
        return [("", None)] if found is None else [(found[1].name, found[1])]
    return [("", None), *((skin.name, skin) for skin in skins_beside(file).values())]


def skin_at(file: Path, name: str, revision: str) -> Skin | None:
    """The skin that is meant as it was in a revision of the git repository it lies in; None for no
    name. Raises FileProblem."""
    from ..core.formats.revisions import file_at
    from ..core.formats.skin_file import skin_from

    found = skin_named(file, name)
    return None if found is None else skin_from(file_at(found[0], revision),
                                                f"{found[0]} in {revision}")
