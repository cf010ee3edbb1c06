"""A case with the real window, off screen, its settings in a folder of its own."""

from __future__ import annotations

import gc
import os
import shutil
import sys
import tempfile
import threading
import traceback
from collections.abc import Sequence
from functools import cache
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PyQt6.QtCore import Qt, qInstallMessageHandler
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QFileDialog, QLineEdit, QMessageBox, QPushButton

from tests.desk.demo_pictures import decode_once
from tests.helpers import Case
from yarn_puppet.core.takes.run import Record
from yarn_puppet.demo import DEMO_FOLDER, FIRST_STEPS
from yarn_puppet.desk.shell.application import make_application
from yarn_puppet.desk.shell.window import Window
from yarn_puppet.desk.tour.hand import PATIENCE, Hand, typed

qInstallMessageHandler(lambda kind, context, message: None)
APPLICATION = make_application()
decode_once()
# What is imported stays: the collector, which goes through everything when play pauses, need not
# see it.
gc.freeze()
FAULTS: list[str] = []
"""What went wrong inside Qt's calls, where no test can catch it."""
sys.excepthook = lambda kind, error, trace: FAULTS.append(
    "".join(traceback.format_exception(kind, error, trace)))


@cache
def _demo_without_takes() -> tempfile.TemporaryDirectory[str]:
    folder = tempfile.TemporaryDirectory()
    shutil.copytree(DEMO_FOLDER, folder.name, dirs_exist_ok=True,
                    ignore=shutil.ignore_patterns("*.take.json", "make", "__pycache__"))
    return folder


def without_takes(file: Path) -> Path:
    """A puppet of the demo where no takes are kept beside it: a test of something else would run
    all of them. The folder is there for all tests of a process, and not to be written to."""
    return Path(_demo_without_takes().name) / file.name


class DeskCase(Case):
    """Opens the window on the demo, paused at its first tick, with a hand over it."""

    file: Path | None = FIRST_STEPS

    def setUp(self) -> None:
        self.settings = tempfile.TemporaryDirectory()
        self.addCleanup(self.settings.cleanup)
        self.folder = Path(self.settings.name)
        os.environ["XDG_CONFIG_HOME"] = str(self.folder / "config")
        os.environ["XDG_DATA_HOME"] = str(self.folder / "data")
        FAULTS.clear()
        self.addCleanup(lambda: self.assertEqual(FAULTS, []))
        self.window = self.open_window(self.own_file(), paused=True)
        self.hand = Hand()
        self.hand.wait()

    def own_file(self) -> Path | None:
        """What the window opens; made in the test's own folder, where that is wanted, before there
        is a window: an empty one need not be shown first."""
        return self.file

    def open_window(self, file: Path | None = None, paused: bool = False) -> Window:
        """A window, with a file open, closed again when the test ends; paused at its first tick
        where that is wanted, or playing."""
        window = Window()
        window.resize(1280, 800)
        if file is not None:
            # Before it is seen: an empty puppet is not drawn first.
            window.files.load(file)
        if paused:
            window.player.restart()
            window.player.pause()
            # Its art too: all views would be drawn without it first.
            Hand().until(lambda: not window.art.busy, "the art")
        window.show()
        window.activateWindow()
        QTest.qWaitForWindowActive(window)
        self.addCleanup(self.close_window, window)
        return window

    def close_window(self, window: Window) -> None:
        """Close without being asked anything."""
        for box in QApplication.topLevelWidgets():
            if isinstance(box, QMessageBox | QFileDialog):
                box.close()
        window.files.drop_edits()
        window.close()
        window.deleteLater()
        QApplication.processEvents()
        # A window of before is garbage in circles.
        gc.collect()

    # Hands ----------------------------------------------------------------------------------------

    @property
    def puppet(self):  # type: ignore[no-untyped-def]
        """The present puppet."""
        return self.window.document.puppet

    @property
    def records(self) -> Sequence[Record]:
        """The run so far."""
        return self.window.player.records

    def go(self, page: str):  # type: ignore[no-untyped-def]
        """Click a page's name in the header."""
        self.hand.click(self.window.header.pages[page])
        return self.window.page(page)

    def steps(self, count: int) -> None:
        """Run ticks by key."""
        for _ in range(count):
            QTest.keyClick(self.window, Qt.Key.Key_F10)

    def hold(self, key: Qt.Key, ticks: int) -> None:
        """Hold a key over the booth for some ticks."""
        QTest.keyPress(self.window.booth, key)
        self.steps(ticks)
        QTest.keyRelease(self.window.booth, key)

    def shown_state(self) -> str:
        """The name of the active state at the tick on show."""
        record = self.window.player.shown
        assert record is not None
        state = self.puppet.state(record.report.layers[0].state)
        return state.name if state else ""

    def settle(self) -> None:
        """Wait until the take has been run again after an edit."""
        self.hand.until(lambda: not self.window.player.busy, "the take run again")

    def quiet(self) -> None:
        """Let every thread come to its end, and what it told be heard; but for those that wait for
        work as long as the program runs."""
        for thread in threading.enumerate():
            if thread.daemon and thread is not threading.current_thread():
                thread.join(PATIENCE)
                self.assertFalse(thread.is_alive(), f"{thread} does not end")
        self.hand.wait()

    # Dialogs --------------------------------------------------------------------------------------

    def dialog(self, name: str):  # type: ignore[no-untyped-def]
        """The open dialog of this name."""
        found = [toplevelwidget for toplevelwidget in QApplication.topLevelWidgets()
                 if toplevelwidget.objectName() == name and toplevelwidget.isVisible()]
        self.assertTrue(found, f"no {name} is open")
        return found[-1]

    def answer_file(self, path: Path) -> None:
        """Type a path into the file dialog, and Enter."""
        dialog = self.dialog("file dialog")
        line = dialog.findChild(QLineEdit, "fileNameEdit")
        # As for a user: nothing is typed before the dialog has the keyboard.
        dialog.activateWindow()
        line.setFocus()
        self.hand.until(line.hasFocus, "the keyboard in the dialog")
        line.selectAll()
        typed(line, str(path))
        if line.completer() is not None:
            line.completer().popup().hide()
        QTest.keyClick(line, Qt.Key.Key_Return)
        self.hand.gestures += 2
        self.hand.wait()
        self.hand.until(lambda: not self.window.files.busy, "the file")

    def answer(self, button: str) -> None:
        """Click a button of the question about unsaved edits."""
        box = self.dialog("unsaved")
        found = next(each for each in box.findChildren(QPushButton) if each.text() == button)
        self.hand.click(found)
        self.hand.wait()

    def complaint(self) -> str:
        """What the open complaint says; it is closed."""
        box = self.dialog("complaint")
        text = box.informativeText()
        box.close()
        self.hand.wait()
        return str(text)
