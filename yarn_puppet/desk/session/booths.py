"""The booths that a puppet can be tried in: those beside its file, those that ship, and what was
painted on them."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import suppress
from pathlib import Path
from re import sub

from msgspec.structs import replace
from PyQt6.QtCore import QObject

from ...core.formats.booth_file import SUFFIX, booth_bytes, booths_in, load_booth
from ...core.formats.errors import FileProblem
from ...core.formats.puppet_file import load_puppet, puppet_bytes
from ...core.formats.skin_file import SUFFIX as SKINS
from ...core.formats.skin_file import load_skin, skin_bytes
from ...core.model.edits.worlds import new_world
from ...core.model.world import World
from ...demo import DEMO_BOOTH, DEMO_FOLDER
from .document import Document
from .files.rebasing import Rebasing
from .opponents import Opponents


class Booths(QObject):
    """Which booth is shown is an edit of the puppet, and what is painted is one of the same
    history.

    `problem` says why the booth that the puppet names cannot be shown; then the first that ships
    stands in for it.
    """

    def __init__(self, document: Document) -> None:
        super().__init__(document)
        self.document = document
        self.problem: FileProblem | None = None
        self.opponents = Opponents(document)
        self._read: dict[Path, tuple[tuple[int, int], World]] = {}
        self._shown: tuple[tuple[object, ...], World] | None = None

    @property
    def file(self) -> str:
        """The file name of the booth shown."""
        asked = self.document.puppet.booth or DEMO_BOOTH
        return asked if self.problem is None else DEMO_BOOTH

    @property
    def world(self) -> World:
        """The booth shown, with what was painted on it."""
        document = self.document
        # Asked with every picture that is drawn: folders are looked into only when something was
        # edited.
        step = document.history.past[-1]
        if (
            self._shown is None
            or self._shown[0][0] is not step
            or self._shown[0][1] != document.path
        ):
            self._shown = ((step, document.path), self._looked_up(step.puppet.booth or DEMO_BOOTH))
        return self._shown[1]

    def _looked_up(self, asked: str) -> World:
        self.problem = None
        try:
            return self.get(asked)
        except FileProblem as problem:
            self.problem = problem
            # The one that ships: a file of that name beside the puppet may be the very one that
            # cannot be read.
            return self.opponents.in_world(DEMO_BOOTH, self._load(DEMO_FOLDER / DEMO_BOOTH))

    def get(self, file: str) -> World:
        """A booth by its file name, with the opponents in it. Raises FileProblem."""
        return self.opponents.in_world(file, self._found(file))

    def _found(self, file: str) -> World:
        painted = self.document.history.worlds.get(file)
        if painted is not None:
            return painted
        path = self.files().get(file)
        if path is None:
            raise FileProblem(file, "booth",
                              f"expected it in {self.document.folder} or among those that ship")
        return self._load(path)

    def look_again(self) -> None:
        """What an opponent's file has is another."""
        self._shown = None
        self.document.world_changed.emit()

    def _load(self, path: Path) -> World:
        try:
            stat = path.stat()
        except OSError as error:
            raise FileProblem(path, "", error.strerror or str(error)) from error
        stamp = (stat.st_mtime_ns, stat.st_size)
        known = self._read.get(path)
        if known is None or known[0] != stamp:
            known = self._read[path] = (stamp, load_booth(path))
        return known[1]

    def files(self) -> dict[str, Path]:
        """The booth files there are, by name; those of the puppet's folder before those that
        ship."""
        folders = [self.document.folder] if self.document.path is not None else []
        return booths_in([*folders, DEMO_FOLDER])

    def names(self) -> list[tuple[str, str]]:
        """Every booth's name and file, those that are only painted so far too."""
        found = []
        for file in dict.fromkeys([*self.files(), *self.document.history.worlds]):
            try:
                found.append((self.get(file).name, file))
            except FileProblem:
                found.append((f"{file.removesuffix(SUFFIX)} (cannot be read)", file))
        return found

    # Edits ----------------------------------------------------------------------------------------

    def edit(self, name: str, change: Callable[[World], World], merge: bool = False) -> None:
        """Make an edit of the booth shown."""
        before = self.world
        after = change(before)
        if after != before:
            self.document.edit_worlds(name, {**self.document.history.worlds, self.file: after},
                                      merge)

    def choose(self, file: str) -> None:
        """Try the puppet in another booth."""
        self.document.edit("choose booth", lambda puppet: replace(puppet, booth=file))

    def add(self, name: str, world: World | None = None) -> None:
        """Begin another booth, empty or as a copy, and go there."""
        made = replace(world or new_world(name), name=name)
        file = self.new_file(name)
        worlds = {**self.document.history.worlds, file: made}
        self.document.edit_worlds("new booth", worlds,
                                  puppet=replace(self.document.puppet, booth=file))

    def new_file(self, name: str) -> str:
        """A file name for a booth of this name, which no other has."""
        stem = sub(r"[^\w-]+", "_", name.lower()).strip("_")[:80] or "booth"
        taken, file, number = {*self.files(), *self.document.history.worlds}, f"{stem}{SUFFIX}", 2
        while file in taken:
            file, number = f"{stem}_{number}{SUFFIX}", number + 1
        return file

    def to_write(self, folder: Path) -> dict[Path, bytes]:
        """What is to be written into a folder: every booth that was painted, and the one shown.

        Raises FileProblem where another folder has another booth of that name.
        """
        own = self.document.path is not None and self.document.path.parent == folder
        for file, world in self.document.history.worlds.items() if not own else ():
            if (folder / file).exists() and booth_bytes(load_booth(folder / file)) != booth_bytes(
                    world):
                raise FileProblem(
                    folder / file,
                    "",
                    "is another booth of this name; expected a folder without it, or"
                    " a copy of this booth to be painted on instead",
                )
        found = {folder / file: booth_bytes(world)
                 for file, world in self.document.history.worlds.items()
                 if not own or self.document.saved_worlds.get(file) != world}
        file = self.document.puppet.booth
        source = self.files().get(file)
        if (
            file
            and source is not None
            and source.parent not in (folder, DEMO_FOLDER)
            and not (folder / file).exists()
        ):
            found[folder / file] = booth_bytes(self.get(file))
        booths = [path.name for path in found]
        return {**found, **self._pictures_to_write(folder, booths),
                **self._casts_to_write(folder, booths)}

    def _pictures_to_write(self, folder: Path, booths: list[str]) -> dict[Path, bytes]:
        """What booths are drawn with goes with them to another folder that has nothing of that
        name."""
        found: dict[Path, bytes] = {}
        if self.document.path is None or self.document.path.parent == folder:
            return found
        for name in dict.fromkeys(each for file in booths for each in pictures_of(self.get(file))):
            source = self.document.folder / name
            if source.is_file() and not (folder / name).exists():
                with suppress(OSError):
                    found[folder / name] = source.read_bytes()
        return found

    def _casts_to_write(self, folder: Path, booths: list[str]) -> dict[Path, bytes]:
        """Other puppets that dummies are go with them likewise, their art seen from there. Skins of
        the puppet itself are written with it."""
        found: dict[Path, bytes] = {}
        here = self.document.folder
        if self.document.path is None or here == folder:
            return found
        rebasing = Rebasing(here, folder)
        casts = [dummy.cast for file in booths for dummy in self.get(file).dummies if dummy.cast]
        for name in dict.fromkeys(casts):
            if name in self.document.skins:
                continue
            with suppress(FileProblem, OSError):
                if name.endswith(SKINS):
                    skin = load_skin(here / name)
                    found[folder / name] = skin_bytes(rebasing.skin(skin))
                    name = Path(skin.puppet).name
                found[folder / name] = puppet_bytes(rebasing.puppet(load_puppet(here / name)))
        return {path: raw for path, raw in found.items() if not path.exists()}

    def written(self) -> None:
        """What was to be written is."""
        self.document.saved_worlds = self.document.history.worlds


def pictures_of(world: World) -> Iterator[str]:
    """The file names of all pictures of a booth."""
    yield from (name for name in (
        world.tiles, world.background, *[dummy.picture for dummy in world.dummies],
        *[prop.picture for prop in world.props]) if name)
