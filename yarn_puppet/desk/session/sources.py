"""Watches the files of the art: what is drawn anew is shown at once, and the clips follow it."""

from __future__ import annotations

import threading
from contextlib import suppress
from itertools import count
from pathlib import Path
from typing import NamedTuple

from PyQt6.QtCore import QFileSystemWatcher, QObject, QTimer, pyqtSignal
from PyQt6.QtGui import QImage

from ...core.model.clips import Cell, Mark, Sheet
from ...core.model.edits.entries import changed
from ...core.model.edits.following.recutting import marked, recut
from ...core.model.puppet import Puppet, find
from ..pictures.art import Art
from .art_news import Lost, News, cells_of, frames_of, own_cells, stands_between
from .document import Document

SETTLE_MS = 250
"""How long a file must be left alone before it is read: programs write in several goes."""
OPENED_MS = 1500
"""How long after a puppet is opened its art is looked at: the window comes first."""


class Sources(QObject):
    """Keeps the art as its files are. `news` tells, sheet by sheet, what someone should know of."""

    told = pyqtSignal()
    """Other news, or other art."""
    _read = pyqtSignal(object)

    def __init__(self, document: Document, art: Art) -> None:
        super().__init__()
        self.document, self.art = document, art
        self.news: dict[str, News] = {}
        self._watcher = QFileSystemWatcher(self)
        self._watcher.fileChanged.connect(self._touched)
        self._watcher.directoryChanged.connect(self._folder_touched)
        self._watched: dict[Path, str] = {}
        self._waiting: set[Path] = set()
        self._stamps: dict[Path, tuple[int, int] | None] = {}
        self._jobs: dict[str, int] = {}
        self._number = count(1)
        self._unchecked: set[str] = set()
        self._settle = QTimer(self, interval=SETTLE_MS, singleShot=True)
        self._settle.timeout.connect(self._settled)
        self._opened = QTimer(self, interval=OPENED_MS, singleShot=True)
        self._opened.timeout.connect(self._check)
        self._read.connect(self._on_read)
        document.puppet_changed.connect(self._puppet_changed)
        document.replaced.connect(self._replaced)
        self._puppet_changed()

    @property
    def missing(self) -> tuple[Sheet, ...]:
        """The sheets whose files are not there."""
        return tuple(sheet for sheet in self.document.puppet.sheets
                     if not (self.document.folder / sheet.path).exists())

    @property
    def busy(self) -> bool:
        """Whether a file is being read, or about to be."""
        return bool(self._jobs) or self._settle.isActive()

    @property
    def up_to_date(self) -> bool:
        """Whether all files are as they were when they were last looked at."""
        return not self.busy and all(_stamp(path) == self._stamps.get(path) for path in self._paths())

    # Watching ---------------------------------------------------------------------------------------------------

    def _paths(self) -> dict[Path, str]:
        return {self.document.folder / sheet.path: sheet.id for sheet in self.document.puppet.sheets}

    def _puppet_changed(self) -> None:
        # Most edits name no other file, and asking for all of them at every step of a drag would be felt.
        if self._paths() != self._watched:
            self._watch()
        self._show_lost()

    def _watch(self) -> None:
        """Watch the files of all sheets, and no others."""
        wanted, self._watched = set(), self._paths()
        for path in self._watched:
            # The folder too: a file that is replaced is another file, and the watch on the old one ends with it.
            wanted |= {str(each) for each in (path, path.parent, *_inside(path)) if each.exists()}
            if path not in self._stamps:
                self._stamps[path] = _stamp(path)
        watched = {*self._watcher.files(), *self._watcher.directories()}
        if watched - wanted:
            self._watcher.removePaths(sorted(watched - wanted))
        if wanted - watched:
            self._watcher.addPaths(sorted(wanted - watched))

    def _replaced(self) -> None:
        self.news.clear()
        self._watched = {}
        self._stamps.clear()
        self._jobs.clear()
        self._unchecked.clear()
        for sheet in self.document.puppet.sheets:
            if any(frame.mark for clip in self.document.puppet.clips for frame in clip.frames
                   if frame.cell.sheet == sheet.id):
                # The art may have been drawn anew while nobody looked.
                self._unchecked.add(sheet.id)
        if self._unchecked:
            self._opened.start()

    def _check(self) -> None:
        # One that has changed since was read already, and one may have been taken out.
        for sheet in sorted(self._unchecked):
            if find(self.document.puppet.sheets, sheet) is not None:
                self._start(sheet, opened=True)

    def _folder_touched(self, folder: str) -> None:
        for path in self._paths():
            if Path(folder) in (path, path.parent) and _stamp(path) != self._stamps.get(path):
                self._touched(str(path))

    def _touched(self, path: str) -> None:
        # A picture in a folder of numbered ones is no sheet of its own: the folder is.
        self._waiting |= {Path(path), Path(path).parent}
        self._settle.start()

    def _settled(self) -> None:
        waiting, self._waiting = self._waiting, set()
        paths = self._paths()
        for path in waiting & set(paths):
            stamp = _stamp(path)
            if stamp == self._stamps.get(path):
                # Told of twice, by the file and by its folder, and read already.
                continue
            self._stamps[path] = stamp
            if stamp is not None:
                self._start(paths[path])
            else:
                self.art.forget(path)
        self._watch()
        self.told.emit()

    # Following --------------------------------------------------------------------------------------------------

    def _start(self, id: str, opened: bool = False) -> None:
        """Read a sheet's file again in a thread, and what is drawn in its cells, before and now."""
        from ..pictures.decoding import read_pictures

        sheet = find(self.document.puppet.sheets, id)
        assert sheet is not None
        self._unchecked.discard(id)
        # No number is used twice: a thread that was given up must never be taken for a later one.
        job = self._jobs[id] = next(self._number)
        path = self.document.folder / sheet.path
        stamp = _stamp(path)
        before = self.art.pages(id) if self.art.known(id) else ()
        own = own_cells(self.document.puppet, id)

        def read() -> _Outcome:
            from ...core.art.marks import marks_of
            from ..pictures.pixels import cell_pixels

            try:
                pages = tuple(image for image, _ in read_pictures(path))
            except (ValueError, OSError, MemoryError) as error:
                return _Outcome(id, job, stamp, (), (), {}, {}, opened, str(error) or "there is not enough memory")
            cells = cells_of(sheet, pages, own)
            old = {}
            if before:
                old = marks_of(lambda cell: cell_pixels(before, cell),
                               dict.fromkeys((*own, *cells_of(sheet, before, own))))
            marks = marks_of(lambda cell: cell_pixels(pages, cell), cells)
            return _Outcome(id, job, stamp, pages, cells, marks, old, opened)

        def work() -> None:
            outcome = read()
            # The window may have closed meanwhile, and Qt's side of this object be gone with it.
            with suppress(RuntimeError):
                self._read.emit(outcome)

        threading.Thread(target=work, daemon=True).start()

    def _on_read(self, outcome: _Outcome) -> None:
        if self._jobs.get(outcome.sheet) != outcome.job:
            return
        del self._jobs[outcome.sheet]
        sheet = find(self.document.puppet.sheets, outcome.sheet)
        if sheet is None:
            return
        path = self.document.folder / sheet.path
        if outcome.stamp != _stamp(path) or outcome.stamp != self._stamps.get(path):
            # It changed while it was read, or before the watch has told: what was read may be half of each.
            self._touched(str(path))
            return
        if outcome.problem:
            # What was decoded before stays on show: half a file is no reason to lose the picture.
            self.news[sheet.id] = News(sheet.id, 0, (), (), (), (), outcome.problem)
            self.told.emit()
            return
        self.art.know(path, outcome.pages)
        puppet = marked(self.document.puppet, sheet.id, outcome.old)
        self._follow(puppet, sheet, outcome.cells, outcome.marks,
                     {mark.digest for mark in outcome.old.values()}, outcome.opened)

    def fit_to_cut(self, id: str) -> None:
        """Give the frames of a sheet the cells of the way it is cut now, though its picture is the same."""
        self._start(id)

    def _follow(
        self, puppet: Puppet, sheet: Sheet, cells: tuple[Cell, ...], marks: dict[Cell, Mark], known: set[str],
        opened: bool,
    ) -> None:
        found = recut(puppet, sheet.id, cells, marks, known)
        fresh = found.fresh if not opened else tuple(cell for cell in found.fresh if stands_between(found.puppet, cell))
        # What was told before and nobody has settled is told still: new cells as long as they are there and in no clip.
        used, earlier = own_cells(found.puppet, sheet.id), self.news.get(sheet.id) or News(sheet.id, 0, (), (), (), ())
        fresh += tuple(cell for cell in earlier.fresh if cell in marks and cell not in used and cell not in fresh)
        moved = tuple(dict.fromkeys((*earlier.moved, *found.moved)))
        redrawn = tuple(dict.fromkeys((*earlier.redrawn, *found.redrawn)))
        clips = {clip.id: clip for clip in found.puppet.clips}
        lost = tuple(
            Lost(at.clip, clips[at.clip].frames[at.frame].cell, clips[at.clip].frames[at.frame].mark)
            for at in found.lost
        )
        told = News(sheet.id, found.kept, moved, redrawn, lost, fresh)
        if told.moved or told.redrawn or told.lost or told.fresh:
            self.news[sheet.id] = told
        else:
            self.news.pop(sheet.id, None)
        self.document.edit(f"follow {sheet.name}", found.puppet)
        self._show_lost()
        self.told.emit()

    # What is told -----------------------------------------------------------------------------------------------

    def _show_lost(self) -> None:
        lost = frozenset((each.cell, each.mark) for news in self.news.values() for each in news.lost)
        self.art.lost = lost

    def dismiss(self, sheet: str) -> None:
        """Tell no more of a sheet, but of frames that are still lost."""
        news = self.news.get(sheet)
        if news is not None:
            left = tuple(each for each in news.lost if frames_of(self.document.puppet, each))
            if left:
                self.news[sheet] = News(sheet, 0, (), (), left, ())
            else:
                del self.news[sheet]
            self._show_lost()
            self.told.emit()

    def find_again(self, sheet: str, path: Path) -> None:
        """A missing sheet was found: use this file, and those beside it for others that are missing by their names."""
        beside = {each.name: each for each in path.parent.iterdir()} if path.parent.is_dir() else {}
        puppet = self.document.puppet
        found = [sheet]
        for each in self.missing:
            here = path if each.id == sheet else beside.get(Path(each.path).name)
            if here is not None:
                puppet = changed(puppet, "sheets", each.id, path=self.document.stored(here))
                found.append(each.id)
        self.document.edit("find art again", puppet)
        for id in dict.fromkeys(found):
            path = self.art.path_of(id)
            self.art.forget(path)
            self._stamps[path] = _stamp(path)
            self._start(id, opened=True)
        self.told.emit()


class _Outcome(NamedTuple):
    sheet: str
    job: int
    stamp: tuple[int, int] | None
    pages: tuple[QImage, ...]
    cells: tuple[Cell, ...]
    marks: dict[Cell, Mark]
    old: dict[Cell, Mark]
    opened: bool
    problem: str = ""


def _stamp(path: Path) -> tuple[int, int] | None:
    """When a file, or anything in a folder of pictures, was last written, and its size; None where it is not there."""
    try:
        found = [each.stat() for each in (path, *_inside(path))]
    except OSError:
        return None
    return max(status.st_mtime_ns for status in found), sum(status.st_size for status in found)


def _inside(path: Path) -> tuple[Path, ...]:
    """The files of a folder of numbered pictures, nothing for a file."""
    try:
        return tuple(path.iterdir()) if path.is_dir() else ()
    except OSError:
        return ()
