"""Watches the files of bones: what another program changes is shown at once, and clips that were
not trimmed last as long as their files say."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from ....core.model.edits.entries import changed
from ....core.model.edits.motions import bones_as_read, clips_of_file, followed
from ....core.model.motions import BoneFile
from ....core.model.puppet import find
from ...pictures.bones import Bones
from ..document import Document
from ..files.watching import FileWatch
from .finding_again import files_found


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
        self._known: dict[str, frozenset[str]] = {}
        """By file the clips in it that need no word."""
        bones.arrived.connect(self._arrived)
        document.puppet_changed.connect(self._puppet_changed)
        document.replaced.connect(self._replaced)
        self._puppet_changed()

    @property
    def busy(self) -> bool:
        """Whether a file is being read, or about to be."""
        return self.bones.busy or self._files.busy

    @property
    def missing(self) -> tuple[BoneFile, ...]:
        """The files that are not there."""
        return tuple([file for file in self.document.puppet.bone_files
                      if not self._path(file).exists()])

    @property
    def fresh(self) -> dict[str, tuple[str, ...]]:
        """By file the clips that are new in it since it was read last, now or before the puppet was
        opened, and that no clip of the puppet is."""
        poses, found = self.bones.poses, dict[str, tuple[str, ...]]()
        if poses is None or poses.puppet is not self.document.puppet:
            return found
        for id, art in poses.arts.items():
            known = self._known.get(id, frozenset()) | clips_of_file(poses.puppet, id)
            if names := tuple([clip.name for clip in art.clips if clip.name not in known]):
                found[id] = names
        return found

    def dismiss(self, bones: str) -> None:
        """Tell no more of what is new in a file."""
        self._known[bones] = self._known.get(bones, frozenset()) | {*self.fresh.get(bones, ())}
        self.changed.emit()

    def find_again(self, bones: str, path: Path) -> str:
        """A file is to be read from here, and others that are missing where the same move takes
        them.

        What speaks against it, and then nothing was changed; empty where nothing does.
        """
        puppet = self.document.puppet
        try:
            found = files_found({each.id: self._path(each) for each in puppet.bone_files},
                                [each.id for each in self.missing], bones, path, "file of bones")
        except ValueError as problem:
            return str(problem)
        for id, there in found.items():
            puppet = changed(puppet, "bone_files", id, path=self.document.stored(there))
        self.document.edit("another file of bones", puppet)
        return ""

    def _path(self, file: BoneFile) -> Path:
        return self.document.folder / file.path

    def _replaced(self) -> None:
        self._files.forget()
        self._known = {}
        self._paths = frozenset()
        self._puppet_changed()

    def _puppet_changed(self) -> None:
        paths = frozenset(self._path(file) for file in self.document.puppet.bone_files)
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
                file = find(self.document.puppet.bone_files, id)
                if id not in self._known and file is not None and file.digest in ("", digest):
                    self._known[id] = frozenset(clip.name for clip in art.clips)
                made = [bones_as_read(followed(each, id, lengths), id, digest) for each in made]
            if made[0] is not steps[0]:
                self.document.follow("follow the bones", made[0], made[1:])
        self.changed.emit()
