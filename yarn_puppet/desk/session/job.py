"""Long work in a thread: with progress, and to be stopped."""

from __future__ import annotations

import threading
from collections.abc import Callable, Sequence
from contextlib import suppress
from typing import Any, TypeVar

from PyQt6.QtCore import QObject, pyqtSignal

Item = TypeVar("Item")
Result = TypeVar("Result")


class Job(QObject):
    """Works through items; starting again, or cancelling, drops what the run before would give."""

    progressed = pyqtSignal()
    _step = pyqtSignal(int, int)
    _end = pyqtSignal(int, list)
    _failed = pyqtSignal(int, object)

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self.done = self.total = 0
        """Items of the run that goes on; a total of 0 when none does."""
        self._run = 0
        self._then: Callable[[list[Any]], None] = lambda results: None
        self._step.connect(self._on_step)
        self._end.connect(self._on_end)
        self._failed.connect(self._on_failed)

    def start(
        self, items: Sequence[Item], each: Callable[[Item], Result], then: Callable[[list[Result]], None],
        stride: int = 1,
    ) -> None:
        """Do `each` to all items in a thread, telling every `stride` of them, then go on in the window's thread."""
        self._run += 1
        run, self._then, self.done, self.total = self._run, then, 0, len(items)
        self.progressed.emit()

        def work() -> None:
            results = []
            # The window may close meanwhile, and Qt's side of this object be gone with it.
            with suppress(RuntimeError):
                for number, item in enumerate(items):
                    if run != self._run:
                        return
                    if number % stride == 0:
                        self._step.emit(run, number)
                    try:
                        results.append(each(item))
                    except Exception as fault:
                        self._failed.emit(run, fault)
                        return
                self._end.emit(run, results)

        threading.Thread(target=work, daemon=True).start()

    def cancel(self) -> None:
        """Stop after the item that is being worked on; nothing comes of the run."""
        self._run += 1
        self.done = self.total = 0
        self.progressed.emit()

    def _on_step(self, run: int, done: int) -> None:
        if run == self._run:
            self.done = done
            self.progressed.emit()

    def _on_failed(self, run: int, fault: Exception) -> None:
        """A fault of ours is told where faults are, and not lost in a thread."""
        if run == self._run:
            self.done = self.total = 0
            self.progressed.emit()
        raise fault

    def _on_end(self, run: int, results: list[Any]) -> None:
        if run == self._run:
            self.done = self.total = 0
            self._then(results)
            self.progressed.emit()
