"""What the program notes of itself: in a file of the user's, and where it is asked for in the
terminal."""

from __future__ import annotations

import logging
from io import TextIOWrapper
from logging.handlers import RotatingFileHandler
from pathlib import Path

from platformdirs import user_log_path

LEVELS = ("debug", "info", "warning", "error")
LARGEST, OLD_ONES = 1 << 20, 2
"""Bytes of a log file, and how many older ones are kept."""
LOG = logging.getLogger("yarn_puppet")


def log_path() -> Path:
    """Where the log file is."""
    return user_log_path("yarn-puppet") / "yarn-puppet.log"


class _LogFile(RotatingFileHandler):
    """A file that is there from the first line on: a program that has nothing to note leaves
    nothing."""

    def _open(self) -> TextIOWrapper:
        Path(self.baseFilename).parent.mkdir(parents=True, exist_ok=True)
        return super()._open()


def begin_logging(level: str = "") -> None:
    """Note warnings and worse in the file; with a level what is of it or above, and in the terminal
    too. A file that cannot be written is no reason not to start."""
    LOG.setLevel(level.upper() or logging.WARNING)
    LOG.propagate = False
    LOG.handlers.clear()
    form = logging.Formatter("%(asctime)s %(levelname)s %(name)s: %(message)s")
    handlers: list[logging.Handler] = [logging.StreamHandler()] if level else []
    handlers.append(_LogFile(log_path(), maxBytes=LARGEST, backupCount=OLD_ONES, encoding="utf-8",
                             errors="backslashreplace", delay=True))
    for handler in handlers:
        handler.setFormatter(form)
        LOG.addHandler(handler)
    # A log that cannot be written says nothing of it in the middle of what it is about.
    logging.raiseExceptions = False
