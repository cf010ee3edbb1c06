"""Pictures on their way: asked for by the window, read by another process, and told when they are there."""

from __future__ import annotations

import threading
from contextlib import suppress
from pathlib import Path
from queue import Empty, SimpleQueue

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtGui import QImage

from ...core.formats.pictures.apart.reading_apart import Stopped
from .decoding import read_pictures


class Arriving(QObject):
    """Has pictures read one after the other; a thread waits for them as long as there are any."""

    arrived = pyqtSignal(object, object)
    """The path of a file, and its pages, none where it cannot be read."""
    _read = pyqtSignal(object, object)

    def __init__(self) -> None:
        super().__init__()
        self.awaited: set[Path] = set()
        self._queue: SimpleQueue[Path] = SimpleQueue()
        self._lock = threading.Lock()
        self._runs = False
        self._read.connect(self._on_read)

    def want(self, path: Path) -> None:
        """Ask for a file that is not awaited yet."""
        if path in self.awaited:
            return
        self.awaited.add(path)
        self._queue.put(path)
        with self._lock:
            if not self._runs:
                self._runs = True
                threading.Thread(target=self._work, daemon=True).start()

    def leave(self, path: Path) -> None:
        """Do not wait for a file any more."""
        self.awaited.discard(path)

    def _work(self) -> None:
        while True:
            with self._lock:
                try:
                    path = self._queue.get_nowait()
                except Empty:
                    self._runs = False
                    return
            pages: tuple[QImage, ...] = ()
            with suppress(ValueError, MemoryError, Stopped):
                pages = tuple(image for image, _ in read_pictures(path, wanted=lambda path=path: path in self.awaited))
            # The window may have closed meanwhile, and Qt's side of this object be gone with it.
            with suppress(RuntimeError):
                self._read.emit(path, pages)

    def _on_read(self, path: Path, pages: tuple[QImage, ...]) -> None:
        if path in self.awaited:
            self.awaited.discard(path)
            self.arrived.emit(path, pages)
