"""Watches files and folders of pictures, whatever happens to them and to the folders around
them."""

from __future__ import annotations

from collections.abc import Iterable
from pathlib import Path

from PyQt6.QtCore import QFileSystemWatcher, QObject, pyqtSignal

from ....core.formats.pictures.names import ENDINGS
from ...widgets.timers import timer

SETTLE_MS = 250
"""How long a file must be left alone before it is told of: programs write in several goes."""
LOOK_MS = 2000
"""How often what is missing is looked for: nobody tells of a folder that comes back in a place that
is not watched."""
Stamp = int
"""Another one for another content: of the names, times, sizes and numbers of a file, or of all in a
folder."""


class FileWatch(QObject):
    """Tells of a path once what is there is not what it was, or nothing is there any more."""

    changed = pyqtSignal(Path)
    stirred = pyqtSignal()
    """Something came into a folder around them, or went."""
    settled = pyqtSignal()
    """All that changed together has been told."""

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.stamps: dict[Path, Stamp | None] = {}
        """What was last seen of each path, also of those not watched now."""
        self._paths: frozenset[Path] = frozenset()
        self._nodes: dict[str, tuple[int, int]] = {}
        self._waiting: set[Path] = set()
        self._watcher = QFileSystemWatcher(self)
        self._watcher.fileChanged.connect(self._look)
        self._watcher.directoryChanged.connect(self._look)
        self._watcher.directoryChanged.connect(lambda _: self.stirred.emit())
        self._settle = timer(self, SETTLE_MS, once=True)
        self._settle.timeout.connect(self._settled)
        self._missing = timer(self, LOOK_MS)
        self._missing.timeout.connect(self._look)

    @property
    def busy(self) -> bool:
        """Whether something has changed and is about to be told."""
        return self._settle.isActive()

    def up_to_date(self, path: Path) -> bool:
        """Whether what is there is what was last seen."""
        return stamp_of(path) == self.stamps.get(path)

    def seen(self, path: Path) -> None:
        """What is there now is known."""
        self.stamps[path] = stamp_of(path)

    def forget(self) -> None:
        """Begin again, with nothing known."""
        self.stamps.clear()
        self._waiting.clear()
        self._paths = frozenset()

    def watch(self, paths: Iterable[Path]) -> None:
        """Watch these and no others. One that was watched before and changed since is told of."""
        before, self._paths = self._paths, frozenset(paths)
        for path in self._paths - before:
            if path not in self.stamps:
                self.seen(path)
        self._look()

    def touch(self, path: Path) -> None:
        """Look at a path again once it is left alone."""
        self._waiting.add(path)
        self._settle.start()

    def _look(self, _: str = "") -> None:
        """Ask all paths whether they are as they were; watch what is there now."""
        self._watch()
        for path in self._paths:
            if not self.up_to_date(path):
                self.touch(path)

    def _watch(self) -> None:
        around = {each for path in self._paths for each in _around(path)}
        nodes = {str(each): node for each in around if (node := _node(each)) is not None}
        wanted = nodes.keys()
        watched = {*self._watcher.files(), *self._watcher.directories()}
        # One that was replaced or renamed is watched on as what it was; what has its name now is
        # not.
        stale = {each for each in watched if each not in wanted
                 or nodes[each] != self._nodes.get(each)}
        if stale:
            self._watcher.removePaths(sorted(stale))
        if new := wanted - (watched - stale):
            self._watcher.addPaths(sorted(new))
        self._nodes = nodes
        missing = any(str(path) not in nodes for path in self._paths)
        if missing != self._missing.isActive():
            self._missing.start() if missing else self._missing.stop()

    def _settled(self) -> None:
        waiting, self._waiting = self._waiting, set()
        for path in sorted(waiting & self._paths):
            if not self.up_to_date(path):
                self.seen(path)
                self.changed.emit(path)
        self._watch()
        self.settled.emit()


def _around(path: Path) -> tuple[Path, ...]:
    """What to watch for a path: itself, what is in it, and the folders around it but for the
    outermost."""
    return (path, *_inside(path), *[parent for parent in path.parents if len(parent.parts) > 1])


def _node(path: Path) -> tuple[int, int] | None:
    try:
        status = path.stat()
    except OSError:
        return None
    return status.st_dev, status.st_ino


def stamp_of(path: Path) -> Stamp | None:
    """What tells whether a file, or anything in a folder of pictures, is another one; None where
    nothing is there."""
    try:
        status = path.stat()
        inside = sorted((each.name, each.stat()) for each in _inside(path))
    except OSError:
        return None
    # A folder's own time changes with every temporary file in it.
    own = (status.st_mtime_ns, status.st_size) if not path.is_dir() else ()
    return hash((status.st_ino, own,
                 *[(name, each.st_mtime_ns, each.st_size, each.st_ino) for name, each in inside]))


def _inside(path: Path) -> tuple[Path, ...]:
    """The pictures of a folder, nothing for a file."""
    try:
        return (
            tuple(each for each in path.iterdir() if each.suffix.lower() in ENDINGS)
            if path.is_dir()
            else ()
        )
    except OSError:
        return ()
