"""Reads pictures in a thread: with progress, and to be stopped."""

from __future__ import annotations

from pathlib import Path
from typing import NamedTuple

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QImage

from ....core.art.cutting import guess_grid
from ....core.art.marks import mark_of
from ....core.formats.file_names import path_problem, said
from ....core.formats.pictures.pages import HARDEST_PIXELS, TooLarge
from ....core.model.clips import Grid, Mark
from ...pictures.decoding import MOST_PIXELS, read_pictures
from ...pictures.pixels import alpha_of, pixels_of
from ...session.job import Job


class Read(NamedTuple):
    """A file or folder read: its pages, and their durations in milliseconds.

    For a still the guess at its grid, for what moves the mark of each page.
    """

    path: Path
    images: tuple[QImage, ...]
    durations: tuple[float | None, ...]
    grid: Grid | None
    marks: tuple[Mark | None, ...]
    left_out: tuple[str, ...] = ()
    """What of a folder cannot be read, and why."""


class Unread(NamedTuple):
    """A file or folder that was not read, and why; `large` when it is only too large to be read unasked."""

    path: Path
    words: str
    large: bool = False


class PictureReader(Job):
    """Goes through files and folders; what is wrong with one keeps none of the others out."""

    finished = pyqtSignal(list, list)
    """What was read, and what was not."""

    def read(self, paths: list[Path], however_large: bool = False) -> None:
        """Begin to read; `however_large` once someone was asked."""
        if paths:
            most = HARDEST_PIXELS if however_large else MOST_PIXELS
            self.start(paths, lambda path: _read(path, most), self._sorted)

    def _sorted(self, outcomes: list[Read | Unread]) -> None:
        self.finished.emit([each for each in outcomes if isinstance(each, Read)],
                           [each for each in outcomes if isinstance(each, Unread)])


def _read(path: Path, most: int) -> Read | Unread:
    if problem := path_problem(path):
        return Unread(path, problem)
    left_out: list[str] = []
    try:
        images, durations = zip(*read_pictures(path, most, left_out), strict=True)
    except TooLarge as error:
        return Unread(path, str(error), large=True)
    except (ValueError, MemoryError) as error:
        return Unread(path, str(error) or f"{said(path)}: there is not enough memory for it")
    still = len(images) == 1
    grid = guess_grid(alpha_of(images[0])) if still else None
    marks = () if still else tuple(mark_of(pixels_of(image)) for image in images)
    return Read(path, images, durations, grid, marks, tuple(left_out))
