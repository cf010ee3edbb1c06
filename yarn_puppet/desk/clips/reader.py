"""Reads pictures in a thread: with progress, and to be stopped."""

from __future__ import annotations

import threading
from pathlib import Path
from typing import NamedTuple

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtGui import QImage

from ...core.art.cutting import guess_grid
from ...core.art.marks import mark_of
from ...core.formats.pictures import HARDEST_PIXELS, TooLarge
from ...core.model.clips import Grid, Mark
from ..decoding import MOST_PIXELS, read_pictures
from ..pixels import alpha_of, pixels_of


class Read(NamedTuple):
    """A file or folder read: its pages, and their durations in milliseconds.

    For a still the guess at its grid, for what moves the mark of each page.
    """

    path: Path
    images: tuple[QImage, ...]
    durations: tuple[float | None, ...]
    grid: Grid | None
    marks: tuple[Mark | None, ...]


class PictureReader(QObject):
    """One job at a time; starting another, or cancelling, drops what the one before would give."""

    finished = pyqtSignal(list, list, list)
    """What was read; what is wrong with the rest, in words; and (path, words) of what is too large to read unasked."""
    progressed = pyqtSignal()
    _step = pyqtSignal(int, int)
    _end = pyqtSignal(int, list, list, list)

    def __init__(self) -> None:
        super().__init__()
        self.done = 0
        self.total = 0
        """Files of the job that runs; 0 when none does."""
        self._job = 0
        self._step.connect(self._on_step)
        self._end.connect(self._on_end)

    def read(self, paths: list[Path], however_large: bool = False) -> None:
        """Begin to read; `however_large` once someone was asked."""
        if not paths:
            return
        self._job += 1
        job = self._job
        self.done, self.total = 0, len(paths)
        self.progressed.emit()
        most = HARDEST_PIXELS if however_large else MOST_PIXELS

        def work() -> None:
            found: list[Read] = []
            wrong: list[str] = []
            large: list[tuple[Path, str]] = []
            for number, path in enumerate(paths):
                if job != self._job:
                    return
                try:
                    images, durations = zip(*read_pictures(path, most), strict=True)
                except TooLarge as error:
                    large.append((path, str(error)))
                except (ValueError, MemoryError) as error:
                    wrong.append(str(error) or f"{path}: there is not enough memory for it")
                else:
                    still = len(images) == 1
                    grid = guess_grid(alpha_of(images[0])) if still else None
                    marks = () if still else tuple(mark_of(pixels_of(image)) for image in images)
                    found.append(Read(path, images, durations, grid, marks))
                self._step.emit(job, number + 1)
            self._end.emit(job, found, wrong, large)

        threading.Thread(target=work, daemon=True).start()

    def cancel(self) -> None:
        """Stop after the file being read; nothing of the job comes in."""
        self._job += 1
        self.done = self.total = 0
        self.progressed.emit()

    def _on_step(self, job: int, done: int) -> None:
        if job == self._job:
            self.done = min(done, self.total - 1)
            self.progressed.emit()

    def _on_end(self, job: int, found: list[Read], wrong: list[str], large: list[tuple[Path, str]]) -> None:
        if job == self._job:
            self.done = self.total = 0
            self.progressed.emit()
            self.finished.emit(found, wrong, large)
