"""Pictures on their way: asked for by the window, read by another process, and told when they are
there."""

from __future__ import annotations

import threading
from contextlib import suppress
from functools import partial
from pathlib import Path
from queue import Empty, SimpleQueue

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtGui import QImage

from ...core.formats.watching import Stopped
from ..widgets.window_call import WindowCall
from .decoding import read_pictures

GUESSED_BY = 128
"""Rows of a sheet by which it is guessed whether it is painted."""


class Arriving(QObject):
    """Has pictures read one after the other; a thread waits for them as long as there are any."""

    arrived = pyqtSignal(object, object, bool)
    """The path of a file, its pages, none where it cannot be read, and whether they look
    painted."""

    def __init__(self) -> None:
        super().__init__()
        self.awaited: set[Path] = set()
        self._queue: SimpleQueue[Path] = SimpleQueue()
        self._runs = threading.Lock()
        """Held by the thread that waits."""

    def want(self, path: Path) -> None:
        """Ask for a file that is not awaited yet."""
        if path in self.awaited:
            return
        self.awaited.add(path)
        self._queue.put(path)
        self._go_on()

    def _go_on(self) -> None:
        if self._runs.acquire(blocking=False):
            threading.Thread(target=_work,
                             args=(self._queue, self.awaited, self._runs,
                                   WindowCall(self._was_read)),
                             daemon=True).start()

    def leave(self, path: Path) -> None:
        """Do not wait for a file any more."""
        self.awaited.discard(path)

    def _was_read(self, path: Path, pages: tuple[QImage, ...], painted: bool) -> None:
        """A thread has read it."""
        if path in self.awaited:
            self.awaited.discard(path)
            self.arrived.emit(path, pages, painted)
        if not self._queue.empty():
            # It was asked for just as the thread ended.
            self._go_on()


def looks_painted(page: QImage) -> bool:
    """Whether its colours say that a picture is painted, and no pixel art."""
    # What it needs takes long to import, and this file is imported as the window opens.
    from ...core.art.grain import is_painted
    from .pixels import some_rows

    return is_painted(some_rows(page, GUESSED_BY))


def _work(queue: SimpleQueue[Path], awaited: set[Path], runs: threading.Lock,
          was_read: WindowCall) -> None:
    """Read what is asked for, until there is nothing more."""
    while True:
        try:
            path = queue.get_nowait()
        except Empty:
            runs.release()
            # What was put in between is seen by one of the two.
            if queue.empty() or not runs.acquire(blocking=False):
                return
            continue
        pages: tuple[QImage, ...] = ()
        with suppress(ValueError, MemoryError, Stopped):
            pages = tuple(image for image, _ in read_pictures(
                path, wanted=partial(lambda path: path in awaited, path)))
        was_read(path, pages, bool(pages) and looks_painted(pages[0]))
