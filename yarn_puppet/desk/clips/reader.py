"""Reads pictures in a thread: with progress, and to be stopped."""

from __future__ import annotations

import threading
from pathlib import Path
from typing import NamedTuple

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtGui import QImage

from ...core.formats.cutting import guess_grid
from ...core.model.clips import Grid
from ..art import read_pictures
from .cut_view import alpha_of


class Read(NamedTuple):
    """A file or folder read: its pages, their durations in milliseconds, and for a still the guess at its grid."""

    path: Path
    images: tuple[QImage, ...]
    durations: tuple[float | None, ...]
    grid: Grid | None


class PictureReader(QObject):
    """One job at a time; starting another, or cancelling, drops what the one before would give."""

    finished = pyqtSignal(list, list)
    """What was read, and what is wrong with the rest, in words."""
    progressed = pyqtSignal()
    _step = pyqtSignal(int, int)
    _end = pyqtSignal(int, list, list)

    def __init__(self) -> None:
        super().__init__()
        self.done = 0
        self.total = 0
        """Files of the job that runs; 0 when none does."""
        self._job = 0
        self._step.connect(self._on_step)
        self._end.connect(self._on_end)

    def read(self, paths: list[Path]) -> None:
        """Begin to read."""
        if not paths:
            return
        self._job += 1
        job = self._job
        self.done, self.total = 0, len(paths)
        self.progressed.emit()

        def work() -> None:
            found: list[Read] = []
            wrong: list[str] = []
            for number, path in enumerate(paths):
                if job != self._job:
                    return
                try:
                    pages = read_pictures(path)
                except ValueError as error:
                    wrong.append(str(error))
                else:
                    images, durations = zip(*pages, strict=True)
                    grid = guess_grid(alpha_of(images[0])) if len(images) == 1 else None
                    found.append(Read(path, images, durations, grid))
                self._step.emit(job, number + 1)
            self._end.emit(job, found, wrong)

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

    def _on_end(self, job: int, found: list[Read], wrong: list[str]) -> None:
        if job == self._job:
            self.done = self.total = 0
            self.progressed.emit()
            self.finished.emit(found, wrong)
