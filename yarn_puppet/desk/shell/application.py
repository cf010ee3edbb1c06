"""Opens the desk."""

from __future__ import annotations

import logging
import os
import sys
import traceback
from contextlib import suppress
from functools import cache
from pathlib import Path
from types import TracebackType
from typing import NoReturn

import PyQt6
from PyQt6.QtCore import QCoreApplication, QTimer
from PyQt6.QtWidgets import QApplication

from ...logs import LOG
from ..widgets import theme
from ..widgets.certain import sure

TURN = 0.0005
"""Seconds after which a thread that works gives way to the window. Every event that reaches us
waits for such a turn, and a picture is many: with Python's own 0.005 the window stood still for a
third of a second while a hand-off was made."""

SOON_MS = 300
"""How long after the window is shown the pages are fetched: it is painted first."""


@cache
def make_application() -> QApplication:
    """The application in our look; the one that runs already, if one does. It is kept until the
    program ends: with it all of Qt's objects go that Python made, also those that others still
    hold."""
    running = QApplication.instance()
    if isinstance(running, QApplication):
        return running
    sys.setswitchinterval(TURN)
    # Qt reads where its plugins are as a line of settings, in which a comma or a semicolon in a
    # folder's name ends it.
    QCoreApplication.addLibraryPath(str(Path(PyQt6.__file__).parent / "Qt6" / "plugins"))
    application = QApplication(sys.argv[:1])
    application.setApplicationName("Yarn Puppet")
    theme.dress(application)
    return application


def keep_going(
    kind: type[BaseException], error: BaseException, trace: TracebackType | None
) -> None:
    """An error of ours in one view must not take the window down."""
    LOG.error("a fault: %s", "".join(traceback.format_exception(kind, error, trace)))
    traceback.print_exception(kind, error, trace)


def run_desk(path: Path | None) -> NoReturn:
    """Open the desk on a puppet's file; the process ends with the exit code when its window is
    closed. Without a file on the demo, and at the first start on the smaller one, with what to
    press."""
    application = make_application()
    from ..session.files.journal import journals_folder
    from .ending import Ending
    from .faults import Faults
    from .first_start import start_on_demo
    from .pages import fetch
    from .window import Window

    window = Window(journals_folder())
    assert window.keeper is not None
    sys.excepthook = Faults(window, window.keeper.flush_now).hook

    def end(number: int) -> None:
        window.keep_and_end()
        application.exit(128 + number)

    Ending(window).asked.connect(end)
    # The session ends: who does not keep now is not asked again.
    application.commitDataRequest.connect(lambda _: sure(window.keeper).flush_now())
    if path is not None:
        window.start_on(path)
    else:
        start_on_demo(window)
    window.show()
    QTimer.singleShot(SOON_MS, fetch)
    code = application.exec()
    if code > 128:
        # What was still done before the last event.
        window.keeper.flush_now()
    end_process(code)


def end_process(code: int) -> NoReturn:
    """End at once, with all that was written. Threads may still read a picture or run a take, and
    Python would take Qt's objects down under them."""
    for stream in (sys.stdout, sys.stderr):
        if stream is not None:
            with suppress(OSError, ValueError):
                stream.flush()
    logging.shutdown()
    os._exit(code)
