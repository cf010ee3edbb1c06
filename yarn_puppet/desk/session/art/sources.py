"""Watches the files of the art: what is redrawn is shown at once, and the clips follow it."""

from __future__ import annotations

import threading
from collections.abc import Mapping
from itertools import count
from pathlib import Path
from typing import NamedTuple

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtGui import QImage

from ....core.formats.watching import Stopped
from ....core.model.clips import Cell, Grid, Mark, Sheet
from ....core.model.edits.entries import changed
from ....core.model.edits.following.matching import Drawing, Old
from ....core.model.edits.following.recutting import marked, recut, recut_too, shown_of
from ....core.model.puppet import find
from ...pictures.art import Art
from ...pictures.decoding import read_pictures
from ...widgets.timers import timer
from ...widgets.window_call import WindowCall
from ..document import Document
from ..files.watching import FileWatch, stamp_of
from .art_news import Lost, SheetNews, frames_of, own_cells, stands_between
from .bone_sources import BoneSources
from .finding_again import files_found

OPENED_MS = 1500
"""How long after a puppet is opened its art is looked at: the window comes first."""


class Sources(QObject):
    """Keeps the art as its files are. `news` tells, sheet by sheet, what someone should know of."""

    changed = pyqtSignal()
    """Other news, or other art."""

    def __init__(self, document: Document, art: Art) -> None:
        super().__init__()
        self.document, self.art = document, art
        self.bones = BoneSources(document, art.bones)
        self.bones.changed.connect(self.changed)
        self.news: dict[str, SheetNews] = {}
        self._files = FileWatch(self)
        self._files.changed.connect(self._changed)
        self._files.settled.connect(self.changed)
        self._gone: dict[Path, tuple[QImage, ...]] = {}
        """What was drawn in files that are not there now: it tells what is new when they come
        back."""
        self._jobs: dict[str, int] = {}
        self._number = count(1)
        self._unchecked: set[str] = set()
        self._paths: dict[Path, list[str]] = {}
        self._opened = timer(self, OPENED_MS, once=True)
        self._opened.timeout.connect(self._check)
        art.arrived.connect(self.changed)
        document.puppet_changed.connect(self._puppet_changed)
        document.replaced.connect(self._replaced)
        document.skin_changed.connect(self._look_again)
        self._puppet_changed()

    @property
    def missing(self) -> tuple[Sheet, ...]:
        """The sheets whose files are not there."""
        return tuple(sheet for sheet in self.document.puppet.sheets
                     if not self._path(sheet).exists())

    @property
    def busy(self) -> bool:
        """Whether a file is being read, or about to be."""
        return bool(self._jobs) or self._files.busy

    @property
    def up_to_date(self) -> bool:
        """Whether all files are there, and as they were when they were last looked at."""
        return not self.busy and not self.missing and all(map(self._files.up_to_date, self._paths))

    # Watching -------------------------------------------------------------------------------------

    def _path(self, sheet: Sheet) -> Path:
        return self.document.folder / sheet.path

    def _puppet_changed(self) -> None:
        paths: dict[Path, list[str]] = {}
        for sheet in self.document.puppet.sheets:
            paths.setdefault(self._path(sheet), []).append(sheet.id)
        # Most edits name no other file, and asking for all of them at every step of a drag would be
        # felt.
        if paths != self._paths:
            self._paths = paths
            self._files.watch(paths)
        self._show_lost()

    def _replaced(self) -> None:
        self.news.clear()
        self._paths = {}
        self._files.forget()
        self._gone.clear()
        self._jobs.clear()
        self._look_again()

    def _look_again(self) -> None:
        """What was redrawn while nobody looked, or while another skin was on show, is followed."""
        marked = {frame.cell.sheet for clip in self.document.puppet.clips
                  for frame in clip.frames if frame.mark}
        self._unchecked = {sheet.id for sheet in self.document.puppet.sheets if sheet.id in marked}
        if self._unchecked:
            self._opened.start()

    def _check(self) -> None:
        # One that has changed since was read already, and one may have been taken out.
        for sheet in sorted(self._unchecked):
            if find(self.document.puppet.sheets, sheet) is not None:
                self._start(sheet, opened=True)

    def _changed(self, path: Path) -> None:
        """What is at a path is another file, or none."""
        there = path.exists()
        for sheet in self._paths.get(path, ()):
            if there:
                self._start(sheet)
            else:
                # It is missing, and that is all there is to say of it.
                self.news.pop(sheet, None)
                self._jobs.pop(sheet, None)
        if not there:
            pages = self.art.kept(path)
            if pages:
                self._gone[path] = pages
            self.art.forget(path)

    # Following ------------------------------------------------------------------------------------

    def _start(self, id: str, opened: bool = False, fit: bool = False) -> None:
        """Read a sheet's file again in a thread, and what is drawn in its cells, before and now."""
        sheet = find(self.document.puppet.sheets, id)
        assert sheet is not None
        self._unchecked.discard(id)
        self._jobs.pop(id, None)
        path = self._path(sheet)
        stamp = stamp_of(path)
        if stamp is None:
            # It is missing, and that is all there is to say of it.
            return
        # No number is used twice: a thread that was given up must never be taken for a later one.
        job = self._jobs[id] = next(self._number)
        before = self._gone.pop(path, ()) or (self.art.pages(id) if self.art.known(id) else ())
        shown, jobs, was_read = self._shown(id), self._jobs, WindowCall(self._on_read)

        def wanted() -> bool:
            return jobs.get(id) == job

        def read() -> _Outcome:
            from ....core.art.drawings import cells_of, drawing_of
            from ....core.art.marks import marks_of
            from ...pictures.pixels import cell_pixels, picture_of

            try:
                pages = tuple(image for image, _ in read_pictures(path, wanted=wanted))
                old: dict[Cell, Mark] = {}
                if before:
                    cells = (*(cell for cell, _ in shown), *cells_of(sheet, picture_of(before)))
                    old = marks_of(lambda cell: cell_pixels(before, cell), dict.fromkeys(cells))
                # Frames that were never looked at showed what was there before.
                known = tuple((cell, mark or old.get(cell)) for cell, mark in shown)
                size = (before[0].width(), before[0].height()) if before else None
                drawing, grid = drawing_of(sheet, picture_of(pages), known, size, fit)
            except Stopped:
                return _Outcome(id, job, stamp, "cancelled")
            except (ValueError, OSError, MemoryError) as error:
                return _Outcome(id, job, stamp, str(error) or "there is not enough memory")
            return _Outcome(id, job, stamp, "", pages, drawing, grid, old, opened, fit,
                            frozenset(cell for cell, _ in shown))

        threading.Thread(target=lambda: was_read(read()), daemon=True).start()

    def _shown(self, sheet: str) -> tuple[Old, ...]:
        """What frames show of a sheet, now and in the steps that were undone."""
        steps = (self.document.puppet, *self.document.future_puppets)
        return tuple(dict.fromkeys(each for puppet in steps for each in shown_of(puppet, sheet)))

    def _on_read(self, outcome: _Outcome) -> None:
        if self._jobs.get(outcome.sheet) != outcome.job:
            return
        del self._jobs[outcome.sheet]
        sheet = find(self.document.puppet.sheets, outcome.sheet)
        if sheet is None:
            return
        path = self._path(sheet)
        if outcome.stamp != stamp_of(path) or outcome.stamp != self._files.stamps.get(path):
            # It changed while it was read, or before the watch has told: what was read may be half
            # of each.
            self._files.touch(path)
            return
        if outcome.problem or outcome.drawing is None:
            # What was decoded before stays on show: half a file is no reason to lose the picture.
            self.news[sheet.id] = SheetNews(sheet.id, 0, (), (), (), (), outcome.problem)
            self.changed.emit()
            return
        if not all(cell in outcome.looked for cell, _ in self._shown(sheet.id)):
            # The cells of frames that came in meanwhile were not looked at.
            self.art.know(path, outcome.pages)
            self._start(sheet.id, outcome.opened, outcome.fit)
            return
        self.art.know(path, outcome.pages)
        self._follow(sheet, outcome, outcome.drawing._replace(before=outcome.old))

    def fit_to_cut(self, id: str) -> None:
        """Give the frames of a sheet the cells of the way it is cut now, though its picture is the
        same."""
        self._start(id, fit=True)

    def _follow(self, sheet: Sheet, outcome: _Outcome, drawing: Drawing) -> None:
        puppets = [marked(each, sheet.id, outcome.old) for each in (
            self.document.puppet, *self.document.future_puppets)]
        found = recut(puppets[0], drawing)
        fresh = found.fresh
        if outcome.opened:
            fresh = tuple(cell for cell in fresh if stands_between(found.puppet, cell))
        # What was told before and nobody has settled is told still: new cells as long as they are
        # there and in no clip.
        used = own_cells(found.puppet, sheet.id)
        earlier = self.news.get(sheet.id) or SheetNews(sheet.id, 0, (), (), (), ())
        fresh += tuple(cell for cell in earlier.fresh
                       if cell in drawing.cells and cell in drawing.marks and cell not in used
                       and cell not in fresh)
        moved = tuple(at for at in dict.fromkeys((*earlier.moved, *found.moved))
                      if at not in found.lost)
        redrawn = tuple(at for at in dict.fromkeys((*earlier.redrawn, *found.redrawn))
                        if at not in found.lost)
        clips = {clip.id: clip for clip in found.puppet.clips}
        lost = tuple(
            Lost(at.clip, clips[at.clip].frames[at.frame].cell,
                 clips[at.clip].frames[at.frame].mark)
            for at in found.lost
        )
        news = SheetNews(sheet.id, found.kept, moved, redrawn, lost, fresh)
        if news.moved or news.redrawn or news.lost or news.fresh:
            self.news[sheet.id] = news
        else:
            self.news.pop(sheet.id, None)
        steps = [found.puppet, *recut_too(puppets[1:], drawing)]
        if outcome.grid is not None:
            steps = [changed(each, "sheets", sheet.id, grid=outcome.grid) for each in steps]
        self.document.follow(f"follow {sheet.name}", steps[0], steps[1:])
        self._show_lost()
        self.changed.emit()

    # What is told ---------------------------------------------------------------------------------

    def _show_lost(self) -> None:
        lost = frozenset((each.cell, each.mark) for news in self.news.values()
                         for each in news.lost)
        self.art.lost = lost

    def dismiss(self, sheet: str) -> None:
        """Tell no more of a sheet, but of frames that are still lost."""
        news = self.news.get(sheet)
        if news is not None:
            left = tuple(each for each in news.lost if frames_of(self.document.puppet, each))
            if left:
                self.news[sheet] = SheetNews(sheet, 0, (), (), left, ())
            else:
                del self.news[sheet]
            self._show_lost()
            self.changed.emit()

    def find_again(self, sheet: str, path: Path) -> str:
        """A sheet is to be read from this file. Where it was missing, others that are missing are
        too, where the same move takes them.

        What speaks against it, and then nothing was changed; empty where nothing does.
        """
        puppet = self.document.puppet
        try:
            found = files_found({each.id: self._path(each) for each in puppet.sheets},
                                [each.id for each in self.missing], sheet, path, "sheet")
        except ValueError as problem:
            return str(problem)
        for id, there in found.items():
            puppet = changed(puppet, "sheets", id, path=self.document.stored(there))
            self.news.pop(id, None)
        self.document.edit("another file for a sheet", puppet)
        for id in found:
            path = self.art.path_of(id)
            self.art.forget(path)
            self._files.seen(path)
            self._start(id, opened=True)
        self.changed.emit()
        return ""


class _Outcome(NamedTuple):
    sheet: str
    job: int
    stamp: int | None
    problem: str
    pages: tuple[QImage, ...] = ()
    drawing: Drawing | None = None
    grid: Grid | None = None
    """Another cut of the sheet, where its picture grew."""
    old: Mapping[Cell, Mark] = {}
    """What was drawn in its cells before."""
    opened: bool = False
    fit: bool = False
    looked: frozenset[Cell] = frozenset()
    """The cells of frames that were looked at."""
