"""The puppet's file, its takes, skins and booths, as they lie on the disk: what others make of them
is seen, and never written over unasked."""

from __future__ import annotations

import fcntl
import hashlib
import os
from collections.abc import Callable, Iterable
from pathlib import Path
from typing import Any, NamedTuple

from PyQt6.QtCore import QObject, pyqtSignal

from ....core.formats.booth_file import load_booth
from ....core.formats.errors import FileProblem
from ....core.formats.puppet_file import load_puppet
from ....core.formats.skin_file import SUFFIX as SKIN
from ....core.formats.skin_file import load_skin, skins_of
from ....core.formats.take_file import SUFFIX as TAKE
from ....core.formats.take_file import load_take, takes_of
from ....core.model.puppet import Puppet
from ....core.model.skin import Skin
from ....core.model.take import Take
from ....core.model.world import World
from ....core.versions.differing import (
    EntryDifference,
    puppets_differ,
    skins_differ,
    takes_differ,
)
from ....demo import DEMO_FOLDER
from ...widgets.timers import timer
from ..booths import Booths
from ..document import Document
from ..kept_takes import KeptTakes
from .watching import SETTLE_MS, FileWatch, Stamp

TAKEN = "take what the file has"
"""The name of the edit that takes over what another program wrote: undone, it is ours again."""


DIFFER: dict[type, Callable[[Any, Any], list[EntryDifference]]] = {
    Puppet: puppets_differ, Take: takes_differ, Skin: skins_differ}
"""How two values of a kind differ, in words."""


class Theirs(NamedTuple):
    """A file that is not as this desk knows it.

    `value` is what it holds, None where it is gone or cannot be read; then `problem` says why.
    `taken` is whether that was taken over at once, since nothing here was another.
    """

    path: Path
    value: Any
    ours: Any
    problem: str = ""
    taken: bool = False

    @property
    def differences(self) -> tuple[str, ...]:
        """In what they differ, by name: from ours to theirs where theirs was taken over, else the
        other way."""
        one, other = (self.ours, self.value) if self.taken else (self.value, self.ours)
        if one is None or other is None:
            return ()
        if isinstance(one, World):
            return tuple(name.replace("_", " ") for name in World.__struct_fields__
                         if getattr(one, name) != getattr(other, name))
        return tuple(each.words for each in DIFFER[type(one)](one, other))


class OwnFiles(QObject):
    """Watches the files of a document, as its art is watched."""

    changed = pyqtSignal(object)
    """`Theirs`: a file is another."""
    settled = pyqtSignal(Path)
    """It is as this desk knows it again, or it was decided."""
    shared = pyqtSignal(Path)
    """The puppet is open in another window too."""

    def __init__(
        self, document: Document, booths: Booths, kept: KeptTakes, claims: Path | None = None
    ) -> None:
        super().__init__(document)
        self.document, self.booths, self.kept = document, booths, kept
        self._watch = FileWatch(self)
        self._watch.changed.connect(self._look)
        self._unsettled: set[Path] = set()
        """Files of which it was not decided yet whose is to stay."""
        self._appeared = timer(self, SETTLE_MS, once=True)
        self._appeared.timeout.connect(self._new_takes)
        self._watch.stirred.connect(self._appeared.start)
        self._claims, self._claim = claims, -1
        self._worlds: dict[Path, World] = {}
        """The booths as their files had them last."""
        document.replaced.connect(self._another)

    @property
    def watched(self) -> list[Path]:
        """The files: takes that appear beside them are looked for besides."""
        path = self.document.path
        if path is None or path.is_relative_to(DEMO_FOLDER):
            return []
        booths = [file for file in self.booths.files().values() if file.parent == path.parent]
        return [path, *takes_of(path), *skins_of(path), *booths]

    def _another(self) -> None:
        self._watch.forget()
        self._worlds = {}
        self._unsettled = set()
        self._go_on()
        self._claim_file()

    def _go_on(self) -> None:
        paths = self.watched
        for path in paths:
            if path.name.endswith(".booth.json") and path not in self._worlds:
                value = _read(path)
                if isinstance(value, World):
                    self._worlds[path] = value
        self._watch.watch(paths)

    def was_read(self, path: Path, stamp: Stamp | None) -> None:
        """A file was read when it had this stamp: what was written since is told of."""
        if path in self._watch.stamps:
            self._watch.stamps[path] = stamp
            self._watch.touch(path)

    def saved(self, paths: Iterable[Path]) -> None:
        """These were written by this desk."""
        for path in paths:
            self._watch.seen(path)
            self._settle(path)
        for file, world in self.document.history.worlds.items():
            self._worlds[self.document.folder / file] = world
        self._go_on()
        self._claim_file()

    def others(self, paths: Iterable[Path]) -> list[Theirs]:
        """Those of these files that are about to be written and are not as this desk knows them."""
        found = []
        for path in paths:
            unlike = path in self._unsettled or not self._watch.up_to_date(path)
            if path in self._watch.stamps and unlike and path.exists():
                theirs = self._theirs(path)
                found += [theirs._replace(taken=False)] if theirs is not None else []
        return found

    def keep_ours(self, path: Path) -> None:
        """What this desk has is to be written over it when it is saved."""
        self._watch.seen(path)
        self._settle(path)

    def _settle(self, path: Path) -> None:
        self._unsettled.discard(path)
        self.settled.emit(path)

    def take_theirs(self, theirs: Theirs) -> None:
        """Take over what a file holds: an edit, so that an undo brings ours back."""
        path = theirs.path
        self._watch.seen(path)
        # It may be another again since it was told of.
        value = _read(path) if path.exists() else "no longer exists"
        if isinstance(value, str):
            self._unsettled.add(path)
            self.changed.emit(theirs._replace(value=None, problem=value, taken=False))
            return
        if path == self.document.path:
            self.document.edit_skins(TAKEN, {}, value)
            self.document.saved = value
        elif path.name.endswith(TAKE):
            self.kept.take_theirs(path, value)
        elif path.name.endswith(SKIN):
            self._take_skin(path.name, value)
        else:
            worlds = {**self.document.history.worlds, path.name: value}
            self._worlds[path] = value
            self.document.edit_worlds(TAKEN, worlds)
            self.document.saved_worlds = {**self.document.saved_worlds, path.name: value}
        self.document.puppet_changed.emit()
        self._settle(path)

    def _take_skin(self, file: str, skin: Skin) -> None:
        """A skin as another program wrote it."""
        document = self.document
        document.wearing.files[file] = skin
        document.wearing.problems.pop(file, None)
        if file in document.history.skins:
            document.edit_skins(TAKEN, {file: skin})
            document.saved_skins = {**document.saved_skins, file: skin}
        document.skin_changed.emit()

    # What is there --------------------------------------------------------------------------------

    def _look(self, path: Path) -> None:
        theirs = self._theirs(path)
        if theirs is None:
            self._watch.seen(path)
            self._settle(path)
        elif theirs.value is not None and theirs.taken:
            self.take_theirs(theirs)
            if path not in self._unsettled:
                self.changed.emit(theirs)
        else:
            self._unsettled.add(path)
            self.changed.emit(theirs)

    def _theirs(self, path: Path) -> Theirs | None:
        """What a file holds that this desk does not know of; None where it holds what it knew, or
        has itself."""
        known, ours = self._known(path)
        if not path.exists():
            return Theirs(path, None, ours, "no longer exists")
        value = _read(path)
        if isinstance(value, str):
            return Theirs(path, None, ours, value)
        if value == known:
            return None
        if value == ours:
            self._now_known(path, value)
            return None
        return Theirs(path, value, ours, taken=ours == known)

    def _known(self, path: Path) -> tuple[Any, Any]:
        """A file as it was when it was read or written last, and as this desk has it now."""
        if path == self.document.path:
            return self.document.saved, self.document.bare_puppet
        if path.name.endswith(TAKE):
            return self.kept.known(path), self.kept.takes.get(path.name)
        if path.name.endswith(SKIN):
            wearing = self.document.wearing
            saved = self.document.saved_skins.get(path.name, wearing.files.get(path.name))
            return saved, self.document.skins.get(path.name)
        known = self._worlds.get(path)
        return known, self.document.history.worlds.get(path.name, known)

    def _now_known(self, path: Path, value: Any) -> None:
        if path == self.document.path:
            self.document.saved = value
            self.document.puppet_changed.emit()
        elif path.name.endswith(SKIN):
            self.document.wearing.files[path.name] = value
        elif not path.name.endswith(TAKE):
            self._worlds[path] = value

    def _new_takes(self) -> None:
        """Takes and skins that others put beside the puppet."""
        path = self.document.path
        for file in skins_of(path) if path is not None else ():
            if file.name not in {**self.document.wearing.files, **self.document.history.skins}:
                value = _read(file)
                if not isinstance(value, str):
                    self._take_skin(file.name, value)
                    self._watch.seen(file)
                    self.changed.emit(Theirs(file, value, None, taken=True))
        for file in takes_of(path) if path is not None else ():
            if self.kept.known(file) is None and file.name not in self.kept.takes:
                value = _read(file)
                if not isinstance(value, str):
                    self.kept.take_theirs(file, value)
                    self._watch.seen(file)
                    self.changed.emit(Theirs(file, value, None, taken=True))
        self._go_on()

    # Who else -------------------------------------------------------------------------------------

    def _claim_file(self) -> None:
        """Say to other desks that this one has the puppet open: a lock, which goes with the
        process."""
        if self._claim >= 0:
            os.close(self._claim)
            self._claim = -1
        path = self.document.path
        if self._claims is None or path is None or path.is_relative_to(DEMO_FOLDER):
            return
        try:
            self._claims.mkdir(parents=True, exist_ok=True, mode=0o700)
            name = hashlib.sha256(os.path.realpath(path).encode(
                errors="surrogateescape")).hexdigest()[:32]
            self._claim = os.open(self._claims / name, os.O_RDWR | os.O_CREAT, 0o600)
            fcntl.flock(self._claim, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            self.shared.emit(path)
        except OSError:
            # Without a place for it nobody is told; what is saved is told all the same.
            return


def _read(path: Path) -> Any:
    """What is in a file, or a text that says why it cannot be read."""
    load = (
        load_take
        if path.name.endswith(TAKE)
        else load_skin
        if path.name.endswith(SKIN)
        else load_booth
        if path.name.endswith(".booth.json")
        else load_puppet
    )
    try:
        return load(path)
    except FileProblem as problem:
        return f"cannot be read: {problem.place}: {problem.expected}" if problem.place else (
            f"cannot be read: {problem.expected}")
