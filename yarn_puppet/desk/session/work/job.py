"""Long work in a thread: with progress, and to be stopped."""

from __future__ import annotations

import threading
from collections.abc import Callable, Sequence
from typing import Any, TypeVar
from weakref import finalize

from PyQt6.QtCore import QObject, pyqtSignal

from ....core.formats.watching import Stopped, Watch
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


class Within:
    """How far a thread is within one item, told to the window in hundredths; ends it where its run
    is not wanted any more. A `Watch`."""

    def __init__(self, wanted: Wanted, run: int, tell: Callable[[int, int], None]) -> None:
        self._wanted, self._run, self._tell = wanted, run, tell
        self._last = 0

    def __call__(self, done: int, whole: int) -> None:
        if self._wanted.run != self._run:
            raise Stopped
        hundredth = done * 100 // max(1, whole)
        if hundredth != self._last:
            self._last = hundredth
            self._tell(self._run, hundredth)


class Job(QObject):
    """Works through items; starting again, or cancelling, drops what the run before would give."""

    progressed = pyqtSignal()

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self.done = self.total = 0
        """Items of the run that goes on; a total of 0 when none does."""
        self.hundredth = 0
        """How much of the item under way is done, where that is told."""
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
        self.start_watched(items, lambda item, within: each(item), then, stride)

    def start_watched(
        self,
        items: Sequence[Item],
        each: Callable[[Item, Watch], Result],
        then: Callable[[list[Result]], None],
        stride: int = 1,
    ) -> None:
        """The same, where `each` tells how far it is within an item, and is ended in the middle of
        it."""
        wanted, run = self._wanted, self._wanted.drop()
        self._then, self.done, self.total, self.hundredth = then, 0, len(items), 0
        self.progressed.emit()
        step, failed = WindowCall(self._on_step), WindowCall(self._on_failed)
        end, part = WindowCall(self._on_end), WindowCall(self._on_part)

        def work() -> None:
            results = []
            for number, item in enumerate(items):
                if wanted.run != run:
                    return
                if number % stride == 0:
                    step(run, number)
                try:
                    results.append(each(item, Within(wanted, run, part)))
                except Stopped:
                    return
                except Exception as fault:
                    failed(run, fault)
                    return
            end(run, results)

        threading.Thread(target=work, daemon=True).start()

    def cancel(self) -> None:
        """Stop: after the item that is being worked on, or in the middle of one that is watched.
        Nothing comes of the run."""
        self._wanted.drop()
        self.done = self.total = 0
        self.progressed.emit()

    def _on_step(self, run: int, done: int) -> None:
        if run == self._wanted.run:
            self.done, self.hundredth = done, 0
            self.progressed.emit()

    def _on_part(self, run: int, hundredth: int) -> None:
        if run == self._wanted.run:
            self.hundredth = hundredth
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
