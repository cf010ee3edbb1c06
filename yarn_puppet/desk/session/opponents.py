"""The puppets that dummies are: of the puppet that is worked on its skins as they are now, and
others as their files have them."""

from __future__ import annotations

from pathlib import Path

from ...core.formats.belonging import puppet_named_in
from ...core.formats.errors import FileProblem
from ...core.formats.puppet_file import SUFFIX as PUPPETS
from ...core.formats.skin_file import SUFFIX as SKINS
from ...core.model.puppet import Puppet
from ...core.model.world import World
from ...core.skins.dressing import Dressing
from ...core.skins.opponents import load_opponent, with_opponents
from .document import Document
from .files.watching import stamp_of


class Opponents:
    """What did not change is the same object, so that what was run with it is not run again."""

    def __init__(self, document: Document) -> None:
        self.document = document
        self._read: dict[Path, tuple[object, Puppet | None]] = {}
        self._dressings: dict[str, Dressing] = {}
        self._worlds: dict[str, tuple[World, World]] = {}
        """By booth the world that was asked for last, and the same with its opponents."""

    def in_world(self, file: str, world: World) -> World:
        """A booth with its opponents."""
        if not world.opponents and not any(dummy.cast for dummy in world.dummies):
            return world
        known = self._worlds.get(file)
        made = with_opponents(known[1] if known is not None and known[0] is world else world,
                              self.puppet)
        self._worlds[file] = (world, made)
        return made

    def puppet(self, file: str) -> Puppet | None:
        """The puppet in a file, None where it is not there or cannot be read."""
        skin = self.document.skins.get(file)
        if skin is not None:
            dressing = self._dressings.setdefault(file, Dressing())
            return dressing.dressed(self.document.bare_puppet, skin)
        if self.document.path is None:
            return None
        path = self.document.folder / file
        stamp = (stamp_of(path), stamp_of(path.parent / (puppet_named_in(path) or ""))
                 if file.endswith(SKINS) else None)
        known = self._read.get(path)
        if known is None or known[0] != stamp:
            known = self._read[path] = (stamp, _opponent_in(path))
        return known[1]

    def missing(self, world: World) -> list[str]:
        """The files of a booth's opponents that are not there, or cannot be read."""
        casts = dict.fromkeys(dummy.cast for dummy in world.dummies if dummy.cast)
        return [file for file in casts if self.puppet(file) is None]

    def names(self) -> list[tuple[str, str]]:
        """Who a dummy can be besides the puppet itself: names and files, skins first."""
        found = [(skin.name, file) for file, skin in self.document.skins.items()]
        path = self.document.path
        for each in sorted(path.parent.glob(f"*{PUPPETS}")) if path is not None else ():
            if each != path:
                found.append((each.name.removesuffix(PUPPETS).replace("_", " "), each.name))
        return found


def _opponent_in(path: Path) -> Puppet | None:
    try:
        return load_opponent(path)
    except FileProblem:
        # What cannot be read is said where it is named.
        return None
