"""What a thread has to say, said in the window's thread.

A thread must hold nothing of the window's while it works. If the window closes meanwhile, the
thread has the last hold on it, and takes Qt's objects down in a thread that is not theirs. A signal
fares no better: sent while the window's thread takes its sender down, it reads freed memory. So a
thread holds a call. What it calls is held by the window alone, and the signal that brings the call
there is of an object that always stands.
"""

from __future__ import annotations

from collections.abc import Callable
from contextlib import suppress
from functools import cache
from weakref import WeakMethod

from PyQt6 import sip
from PyQt6.QtCore import QObject, Qt, pyqtSignal


class _Messenger(QObject):
    brought = pyqtSignal(object, tuple)

    def __init__(self) -> None:
        super().__init__()
        self.brought.connect(  # type: ignore[call-arg]  # its stub knows no kind of connection
            _deliver, Qt.ConnectionType.QueuedConnection)


@cache
def _messenger() -> _Messenger:
    return _Messenger()


def _deliver(method: WeakMethod[Callable[..., object]], arguments: tuple[object, ...]) -> None:
    found = method()
    # Qt's side of an object may be gone before Python's.
    if found is not None and not sip.isdeleted(found.__self__):  # type: ignore[attr-defined]
        found(*arguments)


class WindowCall:
    """A method of one of the window's objects, to be called from any thread: it runs in the
    window's, a turn later at the earliest, and not at all where its object is gone by then."""

    def __init__(self, method: Callable[..., object]) -> None:
        """To be made in the window's thread."""
        self._method = WeakMethod(method)
        _messenger()

    def __call__(self, *arguments: object) -> None:
        # What is still at work when the program ends has nobody left to say it to.
        with suppress(RuntimeError):
            _messenger().brought.emit(self._method, arguments)
