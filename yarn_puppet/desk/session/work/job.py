"""Long work in a thread: with progress, and to be stopped."""

from __future__ import annotations

import threading
from collections.abc import Callable, Sequence
from typing import Any, TypeVar
from weakref import finalize

from PyQt6.QtCore import QObject, pyqtSignal

from ...widgets.window_call import WindowCall

Item = TypeVar("Item")
Result = TypeVar("Result")


class Wanted:
    """What the window and a thread both look at: the run whose outcome is wanted, of those begun so
    far."""

    def __init__(self, owner: QObject) -> None:
        self.run = 0
        # Without its owner nobody waits for what is done.
        finalize(owner, self.drop)

    def drop(self) -> int:
        """Cancel what is under way; returns the number of the run that may
        begin."""
        self.run += 1
        return self.run


class Job(QObject):
    """Works through items; starting again, or cancelling, drops what the run before would give."""

    progressed = pyqtSignal()

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self.done = self.total = 0
        """Items of the run that goes on; a total of 0 when none does."""
        self._wanted = Wanted(self)
        self._then: Callable[[list[Any]], None] = lambda results: None

    def start(
        self,
        items: Sequence[Item],
        each: Callable[[Item], Result],
        then: Callable[[list[Result]], None],
        stride: int = 1,
    ) -> None:
        """Do `each` to all items in a thread, telling every `stride` of them, then go on in the
        window's thread.

        `each` must hold nothing of the window's (see widgets/window_call.py).
        """
        wanted, run = self._wanted, self._wanted.drop()
        self._then, self.done, self.total = then, 0, len(items)
        self.progressed.emit()
        step, failed = WindowCall(self._on_step), WindowCall(self._on_failed)
        end = WindowCall(self._on_end)

        def work() -> None:
            results = []
            for number, item in enumerate(items):
                if wanted.run != run:
                    return
                if number % stride == 0:
                    step(run, number)
                try:
                    results.append(each(item))
                except Exception as fault:
                    failed(run, fault)
                    return
            end(run, results)

        threading.Thread(target=work, daemon=True).start()

    def cancel(self) -> None:
        """Stop after the item that is being worked on; nothing comes of the run."""
        self._wanted.drop()
        self.done = self.total = 0
        self.progressed.emit()

    def _on_step(self, run: int, done: int) -> None:
        if run == self._wanted.run:
            self.done = done
            self.progressed.emit()

    def _on_failed(self, run: int, fault: Exception) -> None:
        """An error of ours is told where faults are, and not lost in a thread."""
        if run == self._wanted.run:
            self.done = self.total = 0
            self.progressed.emit()
        raise fault

    def _on_end(self, run: int, results: list[Any]) -> None:
        if run == self._wanted.run:
            self.done = self.total = 0
            self._then(results)
            self.progressed.emit()
