"""Runs controls again in a thread, from the first tick that an edit can touch on."""

from __future__ import annotations

import threading
from collections.abc import Sequence

from PyQt6.QtCore import QObject, pyqtSignal

from ....core.takes.again.touched import first_touched
from ....core.takes.controls import Controls
from ....core.takes.recording import Recording, run_again
from ....core.takes.records import Records
from ....core.takes.run import Setup
from ...widgets.timers import timer
from ...widgets.window_call import WindowCall
from ..work.job import Wanted

SETTLE_MS = 150
"""How long edits must pause before a run is run again."""


class Rerun(QObject):
    """Of one recording at a time, one job at a time: another, or cancelling, drops what the one
    before would give.

    The recording is right as far as `base_ticks` for the setup `base`: what was edited since is not
    run again yet.
    """

    adopted = pyqtSignal()
    """The recording is what was run again."""
    changed = pyqtSignal()
    """It began."""

    def __init__(self, parent: QObject, recording: Recording) -> None:
        super().__init__(parent)
        self.begin_with(recording)
        self._progress: list[float] = []
        """The share that is done, which the thread writes; empty while nothing is run."""
        self.opening: list[Controls] | None = None
        """The controls of an opened take that has not been run yet."""
        self._wanted = Wanted(self)
        self.settle = timer(self, SETTLE_MS, once=True)
        self.settle.timeout.connect(self._start)

    def begin_with(self, recording: Recording) -> None:
        """Another run is on show."""
        self.recording, self.base, self.base_ticks = recording, recording.compiled, 0

    @property
    def progress(self) -> float | None:
        """The share that is done; None while nothing is run."""
        return self._progress[-1] if self._progress else None

    @property
    def busy(self) -> bool:
        """Whether something is being, or about to be, run again."""
        return self.progress is not None or self.settle.isActive()

    def cancel(self) -> None:
        """Leave what is being run, or would be soon."""
        self._drop()
        self.settle.stop()
        self.opening = None

    def open(self, controls: Sequence[Controls]) -> None:
        """Run the controls of an opened take, of which nothing has been run."""
        self.opening = list(controls)
        self._start()

    def before_edit(self) -> None:
        """The recording is about to be edited: what was run so far is of the setup before."""
        if self.recording.is_compiled and self.recording.compiled is self.base:
            self.base_ticks = len(self.recording.records)

    def soon(self) -> None:
        """Run again once edits pause. What a thread works on now would be of the puppet before."""
        self._drop()
        self.settle.start()

    def all_soon(self) -> None:
        """Run all of it again: it may come out otherwise, though nothing of the puppet was
        edited."""
        self.base_ticks = 0
        if self.recording.records or self.opening is not None:
            self.soon()

    def cut_off(self, ticks: int) -> None:
        """Only the first ticks are left. An edit of them that was not run again yet still has to
        be."""
        self.base_ticks = min(self.base_ticks, ticks)
        if self.base is not self.recording.setup:
            self.settle.start()

    def _drop(self) -> None:
        self._wanted.drop()
        self._progress = []

    def _start(self) -> None:
        wanted, job = self._wanted, self._wanted.drop()
        progress = self._progress = [0.0]
        setup, opening = self.recording.setup, self.opening
        controls = self.recording.controls if opening is None else opening
        # What an edit cannot have touched need not be run again.
        known = self.recording.records if opening is None else None
        base, ticks, ended = self.base, self.base_ticks, WindowCall(self._on_ended)

        def work() -> None:
            again = Records()
            for again in run_again(setup, controls, _untouched(known, base, ticks, setup)):
                if wanted.run != job:
                    return
                if len(again) % 64 == 0:
                    progress[0] = len(again) / max(1, len(controls))
            ended(job, again)

        threading.Thread(target=work, daemon=True).start()
        self.changed.emit()

    def _on_ended(self, job: int, again: Records) -> None:
        if job != self._wanted.run:
            return
        if self.recording.adopt(again):
            self.base = self.recording.setup
            self._progress = []
            self.opening = None
            self.adopted.emit()


def _untouched(run: Records | None, base: Setup, ticks: int, setup: Setup) -> Records | None:
    """What of a run, whose first ticks are those of `base`, is the same with another setup."""
    if run is None or not ticks:
        return None
    known = run.up_to(ticks)
    return known.up_to(first_touched(base, setup, known.first_seen, ticks))
