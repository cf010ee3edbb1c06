"""The process that listens for games, as the window sees it: told without waiting, it tells by signal."""

from __future__ import annotations

import sys
from pathlib import Path

import msgspec
from PyQt6.QtCore import QObject, QProcess, QProcessEnvironment, pyqtSignal

from ...core.wire.lines import FROM_WIRE, Listen

ROOT = Path(__file__).parents[3]
"""The folder that holds the package."""


class WireProcess(QObject):
    """Begins with `listen`, and ends with `close`."""

    told = pyqtSignal(object)
    """One of the lines that `FROM_WIRE` reads."""
    ended = pyqtSignal(str)
    """It went away without being asked to: what it said last."""

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._process: QProcess | None = None
        self._rest = b""

    def listen(self, listen: Listen) -> None:
        """Begin."""
        self.close()
        process = self._process = QProcess(self)
        environment = QProcessEnvironment.systemEnvironment()
        environment.insert("PYTHONPATH", str(ROOT))
        process.setProcessEnvironment(environment)
        self._rest = b""
        process.readyReadStandardOutput.connect(self._read)
        process.finished.connect(self._ended)
        process.start(sys.executable, ["-m", "yarn_puppet.core.wire.worker"])
        self.tell(listen)

    def tell(self, line: object) -> None:
        """Tell it something; nothing happens where it is not there."""
        if self._process is not None:
            self._process.write(msgspec.json.encode(line) + b"\n")

    def close(self) -> None:
        """End it: games are said goodbye to."""
        process, self._process = self._process, None
        if process is not None:
            process.finished.disconnect()
            process.closeWriteChannel()
            if not process.waitForFinished(1500):
                process.kill()
                process.waitForFinished(1000)

    def _read(self) -> None:
        process = self._process
        if process is None:
            return
        *lines, self._rest = (self._rest + process.readAllStandardOutput().data()).split(b"\n")
        for line in lines:
            if self._process is process:
                self.told.emit(FROM_WIRE.decode(line))

    def _ended(self) -> None:
        process, self._process = self._process, None
        said = process.readAllStandardError().data().decode(errors="replace").strip() if process is not None else ""
        self.ended.emit(said.splitlines()[-1] if said else "the wire's process ended")
