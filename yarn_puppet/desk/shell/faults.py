"""An error of ours while the desk is open: said plainly, with a report, and one goes on. The work
is kept first."""

from __future__ import annotations

import platform
import sys
import traceback
from collections.abc import Callable
from contextlib import suppress
from datetime import datetime
from pathlib import Path
from types import TracebackType

from platformdirs import user_state_path
from PyQt6.QtCore import PYQT_VERSION_STR, QObject
from PyQt6.QtWidgets import QMessageBox, QWidget

from ...logs import LOG
from ...version import VERSION
from ..widgets.asking import Answer, ask

MOST_KEPT = 20
"""Reports that are kept, the newest."""


def reports_folder() -> Path:
    """Where reports are written."""
    return user_state_path("yarn-puppet") / "reports"


class Faults(QObject):
    """Takes whatever no other code has caught: in one view it must not take the window, and the
    work in it, down."""

    def __init__(
        self, window: QWidget, keep: Callable[[], object], folder: Path | None = None
    ) -> None:
        super().__init__(window)
        self.window, self.keep = window, keep
        self.folder = folder or reports_folder()
        self._dialog: QMessageBox | None = None

    def hook(
        self, kind: type[BaseException], error: BaseException, trace: TracebackType | None
    ) -> None:
        """As `sys.excepthook`."""
        text = "".join(traceback.format_exception(kind, error, trace))
        LOG.error("a fault: %s", text)
        with suppress(Exception):
            self.keep()
        path = self._report(text)
        if self._dialog is None:
            self._tell(f"{kind.__name__}: {error}", path)

    def _report(self, text: str) -> Path | None:
        """Write what went wrong down; None where that cannot be."""
        now = datetime.now()
        path = self.folder / f"{now:%Y-%m-%d %H.%M.%S.%f}.txt"
        head = (
            f"Yarn Puppet {VERSION}, {now:%Y-%m-%d %H:%M}\nPython {sys.version}\nPyQt "
            f"{PYQT_VERSION_STR}\n"
            f"{platform.platform()}\n\n"
        )
        try:
            self.folder.mkdir(parents=True, exist_ok=True)
            path.write_text(head + text, encoding="utf-8", errors="backslashreplace")
            for old in sorted(self.folder.glob("*.txt"))[:-MOST_KEPT]:
                old.unlink(missing_ok=True)
        except OSError:
            return None
        return path

    def _tell(self, what: str, report: Path | None) -> None:
        lies = f"\n\nA report lies in {report}" if report is not None else ""
        kept = "Your work is kept, and you can continue. The last action may not have completed."
        self._dialog = ask(self.window, "fault", "Something went wrong",
                           "There is an error in Yarn Puppet.",
                         f"{kept}\n\n{what[:400]}{lies}", [Answer("Go on")])
        self._dialog.finished.connect(self._closed)

    def _closed(self) -> None:
        self._dialog = None
