"""Watches the files of bones: what another program changes is shown at once, and clips that were
not trimmed last as long as their files say."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from ....core.model.edits.motions import bones_as_read, followed
from ...pictures.bones import Bones
from ..document import Document
from ..files.watching import FileWatch


class BoneSources(QObject):
    """Keeps the bones as their files are."""

    changed = pyqtSignal()
    """Other files, or other bones."""

    def __init__(self, document: Document, bones: Bones) -> None:
        super().__init__()
        self.document, self.bones = document, bones
        self._files = FileWatch(self)
        self._files.changed.connect(self._file_changed)
        self._paths: frozenset[Path] = frozenset()
        bones.arrived.connect(self._arrived)
        document.puppet_changed.connect(self._puppet_changed)
        document.replaced.connect(self._replaced)
        self._puppet_changed()

    @property
    def busy(self) -> bool:
        """Whether a file is being read, or about to be."""
        return self.bones.busy or self._files.busy

    def _replaced(self) -> None:
        self._files.forget()
        self._paths = frozenset()
        self._puppet_changed()

    def _puppet_changed(self) -> None:
        paths = frozenset(self.document.folder / file.path
                          for file in self.document.puppet.bone_files)
        if paths != self._paths:
            self._paths = paths
            self._files.watch(paths)

    def _file_changed(self, path: Path) -> None:
        # What was read before stays on show while a file is away: it may be half written.
        if path.exists():
            self.bones.forget(path)
        self.changed.emit()

    def _arrived(self) -> None:
        poses = self.bones.poses
        if poses is not None and poses.puppet is self.document.puppet:
            steps = (self.document.puppet, *self.document.future_puppets)
            made = list(steps)
            for id, art in poses.arts.items():
                lengths = {clip.name: clip.seconds * 1000 for clip in art.clips}
                digest = self.bones.digest_of(id)
                made = [bones_as_read(followed(each, id, lengths), id, digest) for each in made]
            if made[0] is not steps[0]:
                self.document.follow("follow the bones", made[0], made[1:])
        self.changed.emit()
