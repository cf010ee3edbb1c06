"""Has pictures read, and looks at them in a thread: with progress, and to be stopped."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from contextlib import suppress
from pathlib import Path
from typing import NamedTuple

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtGui import QImage

from ....core.art.cutting import guess_grid
from ....core.art.cutting import read as read_drawn
from ....core.art.marks import mark_of
from ....core.art.periods import Period, periods
from ....core.art.strips import frames_in, is_strip, strip_grids
from ....core.formats.file_names import path_problem, said
from ....core.formats.pictures.apart.reading_apart import OnProgress
from ....core.formats.pictures.budget import HARDEST_PIXELS, MOST_PIXELS
from ....core.formats.pictures.pages import TooLarge
from ....core.formats.watching import Stopped
from ....core.model.clips import Grid, Mark
from ...pictures.decoding import read_pictures
from ...pictures.pixels import alpha_of, pixels_of, raw_pixels
from ...session.work.job import Job


class Read(NamedTuple):
    """A file or folder read: its pages, and their durations in milliseconds.

    For a still the guess at its grid and, where it is a strip, how many frames it holds; for what
    moves the mark of each page.
    """

    path: Path
    images: tuple[QImage, ...]
    durations: tuple[float | None, ...]
    grid: Grid | None
    marks: tuple[Mark | None, ...]
    left_out: tuple[str, ...] = ()
    """What of a folder cannot be read, and why."""
    frames: int = 0
    """Of a strip; zero for everything else."""
    others: tuple[Grid, ...] = ()
    """Ways to cut a strip that fit it about as well as its grid."""
    across: Mapping[int, list[Period]] = {}
    """Of a strip all its ways across, by their count."""


class Unread(NamedTuple):
    """A file or folder that was not read, and why; `large` when it is only too large to be read
    unasked."""

    path: Path
    words: str
    large: bool = False


class PictureReader(Job):
    """Goes through files and folders; what is wrong with one keeps none of the others out."""

    finished = pyqtSignal(list, list)
    """What was read, and what was not."""
    _progress = pyqtSignal(int, int, int)

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self.part = (0, 0)
        """How many pictures of a folder were read, of how many; none where it is a single file."""
        self._number = 0
        self._progress.connect(self._on_progress)

    def read(self, paths: list[Path], however_large: bool = False) -> None:
        """Begin to read; `however_large` once someone was asked."""
        if paths:
            most = HARDEST_PIXELS if however_large else MOST_PIXELS
            self._number += 1
            number = self._number
            self.part = (0, 0)

            def progress(done: int, whole: int) -> None:
                # The window may close meanwhile, and Qt's side of this object be gone with it.
                with suppress(RuntimeError):
                    self._progress.emit(number, done, whole)

            self.start(paths, lambda path: _read(
                path, most, progress, lambda: number == self._number), self._sorted)

    def cancel(self) -> None:
        """Stop in the middle of whatever it is; nothing comes of the run."""
        self._number += 1
        super().cancel()

    def _on_progress(self, number: int, done: int, whole: int) -> None:
        if number == self._number:
            self.part = (done, whole)
            self.progressed.emit()

    def _sorted(self, outcomes: list[Read | Unread]) -> None:
        self.finished.emit([outcome for outcome in outcomes if isinstance(outcome, Read)],
                           [outcome for outcome in outcomes if isinstance(outcome, Unread)])


def _read(path: Path, most: int, progress: OnProgress, wanted: Callable[[], bool]) -> Read | Unread:
    if problem := path_problem(path):
        return Unread(path, problem)
    left_out: list[str] = []
    try:
        images, durations = zip(*read_pictures(path, most, left_out, progress, wanted), strict=True)
    except TooLarge as error:
        return Unread(path, str(error), large=True)
    except Stopped:
        return Unread(path, "")
    except (ValueError, MemoryError) as error:
        return Unread(path, str(error) or f"{said(path)}: there is not enough memory for it")
    still = len(images) == 1
    grid, others, frames = None, tuple[Grid, ...](), 0
    across: dict[int, list[Period]] = {}
    if still:
        raw = raw_pixels(images[0])
        across = periods(*read_drawn(raw))
        grid = guess_grid(raw, across)
        if is_strip(raw, grid):
            grid, *more = strip_grids(raw, path.stem, found=across)
            others, frames = tuple(more), frames_in(alpha_of(images[0]), grid)
    marks = () if still else tuple(mark_of(pixels_of(image)) for image in images)
    return Read(path, images, durations, grid, marks, tuple(left_out), frames, others, across)
