"""Watches the pictures that the booth shown is drawn with: one that is redrawn is shown at once."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from ...pictures.art import Art
from ..booths import Booths, pictures_of
from ..document import Document
from ..files.watching import FileWatch


class BoothPictures(QObject):
    """Keeps `art` as the files are. They lie beside the puppet, or beside the booths that ship,
    which nobody draws anew."""

    changed = pyqtSignal()

    def __init__(self, document: Document, booths: Booths, art: Art) -> None:
        super().__init__(booths)
        self.document, self.booths, self.art = document, booths, art
        self._paths: tuple[Path, ...] = ()
        self._files = FileWatch(self)
        self._files.changed.connect(self._drawn_anew)
        for signal in (document.puppet_changed, document.world_changed, document.replaced):
            signal.connect(self.look)
        self.look()

    @property
    def busy(self) -> bool:
        """Whether a change is about to be told."""
        return self._files.busy

    def look(self) -> None:
        """Watch what the booth on show names."""
        paths = tuple(dict.fromkeys(self.document.folder / name
                                    for name in pictures_of(self.booths.world)))
        if paths != self._paths:
            self._paths = paths
            self._files.watch(paths)

    def _drawn_anew(self, path: Path) -> None:
        self.art.forget(path)
        self.changed.emit()
