"""Runs controls again in a thread, from the first tick that an edit can touch on."""

from __future__ import annotations

import threading
from collections.abc import Sequence
from contextlib import suppress

from PyQt6.QtCore import QObject, pyqtSignal

from ...core.takes.again.touched import first_touched
from ...core.takes.recording import run_again
from ...core.takes.records import Records
from ...core.takes.run import Controls, Setup


class Rerun(QObject):
    """One job at a time: starting another, or cancelling, drops what the one before would give.

    `base` is the setup that a run is of as far as `base_ticks`: what was edited since is not run again yet.
    """

    finished = pyqtSignal(Records)

    _ended = pyqtSignal(int, Records)

    def __init__(self, parent: QObject, base: Setup) -> None:
        super().__init__(parent)
        self.base = base
        self.base_ticks = 0
        self.progress: float | None = None
        """The share that is done; None while nothing is run."""
        self._job = 0
        self._ended.connect(self._on_ended)

    def begin_with(self, base: Setup) -> None:
        """Another run is on show."""
        self.base, self.base_ticks = base, 0

    def cancel(self) -> None:
        """Leave what is being run."""
        self._job += 1
        self.progress = None

    def start(self, setup: Setup, controls: Sequence[Controls], known: Records | None) -> None:
        """Run controls again; `known` is the run on show of them, of which what an edit cannot touch is taken over."""
        self._job += 1
        self.progress = 0.0
        job, base, ticks = self._job, self.base, self.base_ticks

        def work() -> None:
            again = Records()
            for again in run_again(setup, controls, _untouched(known, base, ticks, setup)):
                if job != self._job:
                    return
                if len(again) % 64 == 0:
                    self.progress = len(again) / max(1, len(controls))
            # The window may close meanwhile, and Qt's side of this object be gone with it.
            with suppress(RuntimeError):
                self._ended.emit(job, again)

        threading.Thread(target=work, daemon=True).start()

    def _on_ended(self, job: int, again: Records) -> None:
        if job == self._job:
            self.finished.emit(again)


def _untouched(run: Records | None, base: Setup, ticks: int, setup: Setup) -> Records | None:
    """What of a run, whose first ticks are those of `base`, is the same with another setup."""
    if run is None or not ticks:
        return None
    known = run.up_to(ticks)
    return known.up_to(first_touched(base, setup, known.firsts, ticks))
