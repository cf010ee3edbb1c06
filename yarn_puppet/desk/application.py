"""Opens the desk."""

from __future__ import annotations

import signal
import sys
from pathlib import Path

from PyQt6.QtWidgets import QApplication

from . import theme


def make_application() -> QApplication:
    """The application in our look; the one that runs already, if one does."""
    running = QApplication.instance()
    if isinstance(running, QApplication):
        return running
    application = QApplication(sys.argv[:1])
    application.setApplicationName("Yarn Puppet")
    theme.dress(application)
    return application


def run_desk(path: Path) -> int:
    """Open the desk on a puppet's file; returns the exit code when its window is closed."""
    application = make_application()
    signal.signal(signal.SIGINT, signal.SIG_DFL)
    from .window import Window

    window = Window()
    window.start_on(path)
    window.show()
    return application.exec()
