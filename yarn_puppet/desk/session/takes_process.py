"""The process that runs kept takes again, as the window sees it: asked without waiting, it answers by signal."""

from __future__ import annotations

import sys
from pathlib import Path

import msgspec
from PyQt6.QtCore import QObject, QProcess, QProcessEnvironment, pyqtSignal

from ...core.takes.again.worker import ANSWER, Answer, Ask

ROOT = Path(__file__).parents[3]
"""The folder that holds the package."""


class TakesProcess(QObject):
    """Starts with the first question. One that ends unasked, as when it is killed, is begun anew by the next."""

    answered = pyqtSignal(Answer)
    ended = pyqtSignal(str)
    """It went away without being asked to: what it said last."""

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._process: QProcess | None = None
        self._rest = b""

    @property
    def runs(self) -> bool:
        """Whether there is a process."""
        return self._process is not None

    def ask(self, ask: Ask) -> None:
        """Ask; what was asked before and is not answered yet is left."""
        if self._process is None:
            self._start()
        assert self._process is not None
        self._process.write(msgspec.json.encode(ask) + b"\n")

    def close(self) -> None:
        """End the process."""
        process, self._process = self._process, None
        if process is not None:
            process.finished.disconnect()
            process.closeWriteChannel()
            process.kill()
            process.waitForFinished(2000)

    def _start(self) -> None:
        process = self._process = QProcess(self)
        environment = QProcessEnvironment.systemEnvironment()
        environment.insert("PYTHONPATH", str(ROOT))
        process.setProcessEnvironment(environment)
        self._rest = b""
        process.readyReadStandardOutput.connect(self._read)
        process.finished.connect(self._ended)
        process.start(sys.executable, ["-m", "yarn_puppet.core.takes.again.worker"])

    def _read(self) -> None:
        if self._process is None:
            return
        *lines, self._rest = (self._rest + self._process.readAllStandardOutput().data()).split(b"\n")
        for line in lines:
            self.answered.emit(ANSWER.decode(line))

    def _ended(self) -> None:
        process, self._process = self._process, None
        said = process.readAllStandardError().data().decode(errors="replace").strip() if process is not None else ""
        self.ended.emit(said.splitlines()[-1] if said else "the process that runs takes again ended")
