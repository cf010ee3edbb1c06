"""The process that runs kept takes again, as the window sees it."""

from __future__ import annotations

import msgspec
from PyQt6.QtCore import QObject, pyqtSignal

from ....core.takes.again.worker import ANSWER, Answer, TakesRequest
from .lines_process import LinesProcess


class TakesProcess(QObject):
    """Starts with the first question. One that ends unasked, as when it is killed, is started again
    by the next."""

    answered = pyqtSignal(Answer)
    ended = pyqtSignal(str)
    """It went away without being asked to: what it said last."""

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._lines = LinesProcess("yarn_puppet.core.takes.again.worker", self)
        self._lines.line.connect(lambda line: self.answered.emit(ANSWER.decode(line)))
        self._lines.ended.connect(lambda said: self.ended.emit(
            said or "the process that runs takes again ended"))

    @property
    def runs(self) -> bool:
        """Whether there is a process."""
        return self._lines.runs

    def ask(self, ask: TakesRequest) -> None:
        """Ask; what was asked before and is not answered yet is left."""
        if not self._lines.runs:
            self._lines.start()
        self._lines.tell(msgspec.json.encode(ask))

    def close(self) -> None:
        """End the process."""
        self._lines.close()
