"""Files of bones brought in: read in a thread, each becomes a file of the puppet, with a clip for
each that it holds, in one edit."""

from __future__ import annotations

import re
from collections.abc import Collection, Mapping
from pathlib import Path
from typing import NamedTuple

import numpy as np
from PyQt6.QtCore import QObject, pyqtSignal

from ....core.formats.bones.puppet_bones import bones_in, digest_of
from ....core.formats.bones.textures import unread_textures
from ....core.formats.errors import FileProblem
from ....core.formats.watching import Watch
from ....core.model.bones import BoneArt
from ....core.model.edits.entries import changed
from ....core.model.edits.motions import (
    FileClip,
    bone_file_added,
    clip_of_file,
    clips_of_file,
)
from ....core.model.motions import BoneFile
from ....core.model.puppet import Puppet
from ....core.patterns.clip_names import named_by_files
from ....core.pose.bones.jumps import gap_between
from ....core.pose.bones.known import know
from ....core.pose.bones.recognising import up_at_rest
from ....core.pose.bones.sampling import ClipSampler
from ...pictures.art import Art
from ...session.document import Document
from ...session.work.job import Job
from ...widgets.asking import complain
from ...widgets.certain import sure

BONES = (".glb", ".gltf", ".bvh")
GUESSED = "(a guess)"
LOOPS = (4.0, 8.0)
"""Centimetres and degrees between the ends of a clip up to which it is taken to loop."""
ONCE = frozenset((
    "attack", "bite", "blow", "cast", "cut", "death", "die", "dodge", "draw", "dying", "fire",
    "flinch", "hit", "hurt", "jump", "kick", "land", "landing", "parry", "punch", "reload",
    "roll", "shoot", "slam", "slash", "stab", "strike", "swing", "throw", "turn", "vault"))
"""Words of names of clips that are over when they are over, though they end as they begin."""


class _Read(NamedTuple):
    path: Path
    art: BoneArt | None
    clips: tuple[FileClip, ...]
    problem: str = ""
    digest: str = ""
    unread: tuple[str, ...] = ()
    """Of its textures."""


class BonesIn(QObject):
    """Reads files of bones and makes clips of them."""

    progressed = pyqtSignal()
    clip_made = pyqtSignal(str)
    """The first clip that came in."""
    file_came = pyqtSignal(str)
    """The last file that is new."""

    def __init__(self, document: Document, art: Art, parent: QObject) -> None:
        super().__init__(parent)
        self.document, self.art = document, art
        self._job = Job(self)
        self._only: Mapping[Path, Collection[str]] = {}
        self._job.progressed.connect(self.progressed)

    @property
    def busy(self) -> bool:
        """Whether files are being read."""
        return bool(self._job.total)

    def said(self) -> str:
        """How far the reading is."""
        return (f"reading bones, {self._job.done + 1} of {self._job.total}, "
                f"{self._job.hundredth} % · Esc stops it")

    def cancel(self) -> None:
        """Stop reading; nothing comes in."""
        self._job.cancel()

    def read(self, paths: list[Path], only: Mapping[Path, Collection[str]] | None = None) -> None:
        """Bring files in; of those in `only` no other clips."""
        self._only = only or {}
        if any(clip.frames for clip in self.document.puppet.clips):
            self._complain("This puppet is of sprites; one is of sprites or of bones. Open a new "
                           "one and bring the bones in there.")
            return
        self._job.start_watched(paths, _read, self._come_in)

    def _complain(self, words: str) -> None:
        parent = self.parent()
        page = parent.parent() if parent is not None else None
        complain(sure(page).window(), "Not everything could be brought in",  # type: ignore[attr-defined]
                 words)

    def _come_in(self, read: list[_Read]) -> None:
        puppet, before = self.document.puppet, {clip.id for clip in self.document.puppet.clips}
        known = {file.id for file in puppet.bone_files}
        # A file with a mesh is the body, whichever was dropped first.
        for each in read:
            if each.art is not None:
                know(each.digest, each.art)
        read_well = [each for each in read if each.art is not None]
        read_well.sort(key=lambda each: not (each.art is not None and each.art.meshes))
        called = named_by_files([(each.path.stem, [clip.name for clip in each.clips])
                             for each in read_well], [clip.name for clip in puppet.clips])
        for each, names in zip(read_well, called, strict=True):
            clips = tuple(clip._replace(called=name)
                          for clip, name in zip(each.clips, names, strict=True))
            puppet = self._added(puppet, each._replace(clips=clips))
        if puppet is not self.document.puppet:
            self.document.edit("bring in bones", puppet)
            made = [clip.id for clip in puppet.clips if clip.id not in before]
            if made:
                self.clip_made.emit(made[0])
            new = [file.id for file in puppet.bone_files if file.id not in known]
            if new:
                self.file_came.emit(new[-1])
        wrong = [each.problem for each in read if each.problem]
        wrong += [f"{each.path.name}: {words}" for each in read if each.art is not None
                  for words in (*each.art.left_out, *each.unread)]
        if wrong:
            self._complain("\n".join(wrong))

    def _added(self, puppet: Puppet, read: _Read) -> Puppet:
        """With a file, or where it is known already with the clips that are new in it."""
        known = self._known(puppet, read)
        if known is None:
            puppet, id = bone_file_added(puppet, self.document.stored(read.path), read.path.name,
                                         read.clips, digest=read.digest)
            # Of a second file what rests otherwise is told beside ours.
            art = read.art
            if art is None or puppet.bone_files[0].id != id or not art.unit.endswith(GUESSED):
                return puppet
            return changed(puppet, "bone_files", id, setting=up_at_rest(art))
        if self.document.folder / known.path != read.path:
            puppet = changed(puppet, "bone_files", known.id, path=self.document.stored(read.path))
        shown, wanted = clips_of_file(puppet, known.id), self._only.get(read.path)
        for clip in read.clips:
            if clip.name not in shown and (wanted is None or clip.name in wanted):
                puppet, _ = clip_of_file(puppet, known.id, clip)
        return puppet


    def _known(self, puppet: Puppet, read: _Read) -> BoneFile | None:
        """The file of the puppet that was read: by its place, or of those that are missing by its
        content, or else its name."""
        places = {file.id: self.document.folder / file.path for file in puppet.bone_files}
        missing = [file for file in puppet.bone_files if not places[file.id].exists()]
        return next((file for files, same in (
            (puppet.bone_files, lambda file: places[file.id].resolve() == read.path.resolve()),
            (missing, lambda file: file.digest == read.digest),
            (missing, lambda file: places[file.id].name == read.path.name),
        ) for file in files if same(file)), None)


def _read(path: Path, watch: Watch) -> _Read:
    try:
        # What is made of its clips afterwards takes a small part of the time.
        art = bones_in(path, lambda done, whole: watch(done, whole + whole // 10))
    except FileProblem as problem:
        return _Read(path, None, (), str(problem))
    clips = []
    for number, clip in enumerate(art.clips):
        watch(10 * len(art.clips) + number, 11 * len(art.clips))
        ends = ClipSampler(art.skeleton, clip).at(np.array([clip.seconds, 0.0]))
        gap = gap_between(art.skeleton, ends)
        words = set(re.findall(r"[a-z]+", clip.name.casefold()))
        loops = (gap.centimetres <= LOOPS[0] and gap.degrees <= LOOPS[1]
                 and ONCE.isdisjoint(words))
        clips.append(FileClip(clip.name, clip.seconds * 1000, "loop" if loops else "once"))
    return _Read(path, art, tuple(clips), "", digest_of(art), unread_textures(art))
