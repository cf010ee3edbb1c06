"""A program that is told to end keeps the work: signals, and the end of a session."""

from __future__ import annotations

import signal
import socket
from contextlib import suppress

from PyQt6.QtCore import QObject, QSocketNotifier, pyqtSignal

SIGNALS = (signal.SIGTERM, signal.SIGHUP, signal.SIGINT)
"""What ends a program from outside: another program or the system, a terminal that is closed,
Ctrl-C in it."""


class Ending(QObject):
    """Brings signals to the window's thread, where there is something to be done before the end."""

    asked = pyqtSignal(int)
    """The number of the signal."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        # Python's own handlers run between two of its lines, of which a window that waits runs
        # none: the byte that is written here at once wakes it.
        self._heard, self._written = socket.socketpair()
        for each in (self._heard, self._written):
            each.setblocking(False)
        signal.set_wakeup_fd(self._written.fileno(), warn_on_full_buffer=False)
        for number in SIGNALS:
            # Who begins a program so that it outlives its terminal has this one ignored.
            if signal.getsignal(number) is not signal.SIG_IGN:
                signal.signal(number, lambda *_: None)
        self._notifier = QSocketNotifier(  # type: ignore[call-overload]  # its stub knows no plain number
            self._heard.fileno(), QSocketNotifier.Type.Read, self)
        self._notifier.activated.connect(self._hear)

    def _hear(self) -> None:
        with suppress(BlockingIOError):
            for number in self._heard.recv(64):
                if number in SIGNALS:
                    self.asked.emit(number)
