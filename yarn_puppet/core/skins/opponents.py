"""Who stands in a booth beside the puppet: dummies that are other puppets, or skins, read from the
files they name."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from msgspec.structs import replace

from ..formats.errors import FileProblem
from ..formats.puppet_file import load_puppet
from ..formats.skin_file import SUFFIX, load_skin
from ..model.puppet import Puppet
from ..model.world import Opponent, World
from .dressing import dressed


def with_opponents(world: World, read: Callable[[str], Puppet | None]) -> World:
    """A booth with the puppets that its dummies are; itself where it has them already. One that
    cannot be read is left out, and its dummy is the puppet itself."""
    files = dict.fromkeys(dummy.cast for dummy in world.dummies if dummy.cast)
    found = [(file, read(file)) for file in files]
    opponents = tuple([Opponent(file, puppet) for file, puppet in found if puppet is not None])
    same = len(opponents) == len(world.opponents) and all(
        one.file == other.file and one.puppet is other.puppet
        for one, other in zip(opponents, world.opponents, strict=True))
    return world if same else replace(world, opponents=opponents)


def opponents_beside(world: World, folder: Path) -> World:
    """The same with the files of a folder, each read once. Raises FileProblem for one that cannot
    be read: what is run with another in its place is no answer."""
    return with_opponents(world, lambda file: load_opponent(folder / file))


def load_opponent(path: Path) -> Puppet:
    """The puppet of a puppet's or a skin's file, dressed. Raises FileProblem."""
    if not path.name.endswith(SUFFIX):
        return load_puppet(path)
    skin = load_skin(path)
    if not skin.puppet or Path(skin.puppet).name != skin.puppet:
        raise FileProblem(path, "puppet", "expected the name of a puppet's file beside it")
    return dressed(load_puppet(path.parent / skin.puppet), skin)
