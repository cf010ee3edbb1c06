"""What is drawn in the cells that clips are made of: few are looked at at once, many in a thread."""

from __future__ import annotations

import threading
from collections.abc import Callable, Mapping, Sequence
from contextlib import suppress

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtGui import QImage

from ...core.model.clips import Cell
from ..pixels import cell_pixels
from .fitting import Drawn, drawn_in

AT_ONCE = 200
"""As many cells as can be looked at without anybody noticing."""
STEP = 32
Then = Callable[[Mapping[Cell, Drawn]], None]


class CellReader(QObject):
    """One job at a time; cancelling it leaves everything as it was."""

    progressed = pyqtSignal()
    _step = pyqtSignal(int, int)
    _end = pyqtSignal(int, object)

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self.done = self.total = 0
        """Cells of the job that runs; a total of 0 when none does."""
        self._job = 0
        self._then: Then = lambda drawn: None
        self._step.connect(self._on_step)
        self._end.connect(self._on_end)

    def read(self, pages: Sequence[QImage], cells: Sequence[Cell], then: Then) -> None:
        """Look at cells of a picture, and then go on with what is drawn in them."""
        wanted = list(dict.fromkeys(cells))
        if len(wanted) <= AT_ONCE:
            then({cell: drawn_in(cell_pixels(pages, cell)) for cell in wanted})
            return
        self._job += 1
        job, self._then, self.done, self.total = self._job, then, 0, len(wanted)
        self.progressed.emit()

        def work() -> None:
            found: dict[Cell, Drawn] = {}
            # The window may close meanwhile, and Qt's side of this object be gone with it.
            with suppress(RuntimeError):
                for number, cell in enumerate(wanted):
                    if job != self._job:
                        return
                    found[cell] = drawn_in(cell_pixels(pages, cell))
                    if number % STEP == 0:
                        self._step.emit(job, number)
                self._end.emit(job, found)

        threading.Thread(target=work, daemon=True).start()

    def cancel(self) -> None:
        """Give the job up."""
        self._job += 1
        self.done = self.total = 0
        self.progressed.emit()

    def _on_step(self, job: int, done: int) -> None:
        if job == self._job:
            self.done = done
            self.progressed.emit()

    def _on_end(self, job: int, found: Mapping[Cell, Drawn]) -> None:
        if job == self._job:
            self.done = self.total = 0
            self._then(found)
            self.progressed.emit()
