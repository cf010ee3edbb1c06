"""Watches what the booth shown is made with: its pictures, and the files of its opponents and of
their art."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from ...pictures.art import Art
from ..booths import Booths, pictures_of
from ..document import Document
from .watching import FileWatch


class BoothFiles(QObject):
    """Keeps `art` and the opponents as the files are. They lie beside the puppet, or beside the
    booths that ship, which nobody draws anew."""

    changed = pyqtSignal()

    def __init__(self, document: Document, booths: Booths, art: Art) -> None:
        super().__init__(booths)
        self.document, self.booths, self.art = document, booths, art
        self._paths: tuple[Path, ...] = ()
        self._pictures: set[Path] = set()
        self._files = FileWatch(self)
        self._files.changed.connect(self._another)
        for signal in (document.puppet_changed, document.world_changed, document.replaced):
            signal.connect(self.look)
        self.look()

    @property
    def busy(self) -> bool:
        """Whether a change is about to be told."""
        return self._files.busy

    def look(self) -> None:
        """Watch what the booth on show names."""
        world = self.booths.world
        names = [*pictures_of(world), *[dummy.cast for dummy in world.dummies if dummy.cast],
                 *[sheet.path for each in world.opponents for sheet in each.puppet.sheets]]
        # The puppet's own sheets are followed, and what they showed before is needed for that.
        own = {sheet.path for sheet in self.document.puppet.sheets}
        self._pictures = {self.document.folder / name for name in pictures_of(world)
                          if name not in own}
        paths = tuple(dict.fromkeys(self.document.folder / name for name in names))
        if paths != self._paths:
            self._paths = paths
            self._files.watch(paths)

    def _another(self, path: Path) -> None:
        if path.name.endswith(".json"):
            self.booths.look_again()
        elif path in self._pictures:
            self.art.forget(path)
        self.changed.emit()
