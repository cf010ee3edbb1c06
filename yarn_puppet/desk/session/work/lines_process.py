"""A process of ours that speaks in lines, as the window sees it: told without waiting, it tells by
signal."""

from __future__ import annotations

import sys
from pathlib import Path

from PyQt6.QtCore import QObject, QProcess, QProcessEnvironment, pyqtSignal

ROOT = Path(__file__).parents[4]
"""The folder that holds the package."""


def our_process(parent: QObject, **environment: str) -> QProcess:
    """A process that finds our package; more of its environment by name."""
    process = QProcess(parent)
    whole = QProcessEnvironment.systemEnvironment()
    whole.insert("PYTHONPATH", str(ROOT))
    for name, value in environment.items():
        whole.insert(name, value)
    process.setProcessEnvironment(whole)
    return process


class LinesProcess(QObject):
    """Runs a module of ours: `start`, then `tell` it lines. One that ended unasked, as when it is
    killed, can be started again."""

    line = pyqtSignal(bytes)
    ended = pyqtSignal(str)
    """It went away without being asked to: what it said last, nothing where it simply ended."""

    def __init__(self, module: str, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.module = module
        self.process: QProcess | None = None
        self._rest = b""

    @property
    def runs(self) -> bool:
        """Whether there is a process."""
        return self.process is not None

    def start(self) -> None:
        """Begin; one that is there ends."""
        self.close()
        process = self.process = our_process(self)
        self._rest = b""
        process.readyReadStandardOutput.connect(self._read)
        process.finished.connect(self._ended)
        process.start(sys.executable, ["-P", "-m", self.module])

    def tell(self, line: bytes, last: bool = False) -> None:
        """Tell it a line; after the last one its input is closed. Nothing happens where it is not
        there."""
        if self.process is not None:
            self.process.write(line + b"\n")
            if last:
                self.process.closeWriteChannel()

    def close(self, patience: int = 0) -> None:
        """End the process: its input is closed, and after so many milliseconds it is killed."""
        process, self.process = self.process, None
        if process is not None:
            process.finished.disconnect()
            process.closeWriteChannel()
            if not (patience and process.waitForFinished(patience)):
                process.kill()
                process.waitForFinished(2000)

    def _read(self) -> None:
        process = self.process
        if process is None:
            return
        *lines, self._rest = (self._rest + process.readAllStandardOutput().data()).split(b"\n")
        for line in lines:
            # What is done on a line may end the process.
            if self.process is process:
                self.line.emit(line)

    def _ended(self) -> None:
        process, self.process = self.process, None
        said = (
            process.readAllStandardError().data().decode(errors="replace").strip()
            if process is not None
            else ""
        )
        self.ended.emit(said.splitlines()[-1] if said else "")
