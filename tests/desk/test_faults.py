"""Something went wrong is said plainly, the work is kept first, a report lies where it says, and
one goes on."""

from __future__ import annotations

import sys
from unittest import mock

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QPushButton

from tests.core import test_commands
from tests.desk.case import DeskCase
from yarn_puppet.core.model.edits.graph import state_changed
from yarn_puppet.desk.shell.faults import MOST_KEPT, Faults
from yarn_puppet.logs import LOG, begin_logging


class AFault(DeskCase):
    def setUp(self) -> None:
        super().setUp()
        self.kept = 0
        self.faults = Faults(self.window, self.keep, self.folder / "reports")
        self.enterContext(mock.patch.object(sys, "excepthook", self.faults.hook))

    def keep(self) -> None:
        self.kept += 1

    def fail(self, msg: object = None) -> None:  # type: ignore[override]
        QTimer.singleShot(0, lambda: 1 // 0)
        self.hand.until(lambda: bool(list((self.folder / "reports").glob("*.txt"))), "the report")

    def test_it_is_said_once_and_one_goes_on(self) -> None:
        self.fail()
        box = self.dialog("fault")
        (report,) = (self.folder / "reports").iterdir()
        self.assertIn("ZeroDivisionError", box.informativeText())
        self.assertIn(str(report), box.informativeText())
        said = report.read_text()
        for each in ("Yarn Puppet 0.1.0", "Python 3.", "ZeroDivisionError", "1 // 0"):
            self.assertIn(each, said)
        self.assertEqual(self.kept, 1)
        # Others while it is open are reported, and do not stand over each other.
        for _ in range(MOST_KEPT + 3):
            QTimer.singleShot(0, lambda: [][1])
        self.hand.until(lambda: self.kept == MOST_KEPT + 4, "the others")
        self.assertEqual(len(list((self.folder / "reports").iterdir())), MOST_KEPT)
        self.hand.click(box.findChildren(QPushButton)[0])
        self.window.document.edit("rename",
                                  lambda now: state_changed(now, "walk_state", name="Stroll"))
        self.assertEqual(self.puppet.state("walk_state").name, "Stroll")

    def test_one_while_something_is_painted_costs_that_picture_and_no_more(self) -> None:
        for name, page, view in (
            ("clips.lanes.view.Lanes._rest", "Clips", "lanes"),
            ("weave.drawing.picture.WeavePicture._rest", "Weave", "view"),
            ("weave.drawing.picture.WeavePicture._draw_grown", "Weave", "view"),
        ):
            before, shown = self.kept, getattr(self.go(page), view)
            shown.grab()
            with mock.patch(f"yarn_puppet.desk.{name}", side_effect=ZeroDivisionError):
                shown.resize(shown.width() - 40, shown.height() - 20)
                shown.grab()
                self.hand.until(lambda before=before: self.kept > before, f"the fault of {name}")
            shown.grab()
        self.window.document.edit("rename",
                                  lambda now: state_changed(now, "walk_state", name="Stroll"))
        self.window.grab()
        self.assertEqual(self.puppet.state("walk_state").name, "Stroll")

    def test_without_a_place_for_reports_it_is_said_all_the_same(self) -> None:
        (self.folder / "reports").write_text("a file")
        QTimer.singleShot(0, lambda: 1 // 0)
        self.hand.until(lambda: self.kept == 1, "the fault")
        self.assertNotIn("report", self.dialog("fault").informativeText())


class Logged(DeskCase):
    def test_what_was_noted_lies_in_the_file_and_nothing_where_there_was_nothing(self) -> None:
        with mock.patch.dict("os.environ", {"XDG_STATE_HOME": str(self.folder / "state")}):
            begin_logging()
            LOG.info("not noted")
            self.assertFalse((self.folder / "state").exists())
            LOG.warning("noted 光")
            (file,) = (self.folder / "state").rglob("*.log")
            self.assertIn("WARNING yarn_puppet: noted 光", file.read_text(encoding="utf-8"))
            run = test_commands.Commands().run_as_typed(f"it --log info check {test_commands.PELL}")
            self.assertIn("INFO yarn_puppet: yarn-puppet --log info check", run.stderr)
            self.assertEqual(run.returncode, 0)
        for handler in list(LOG.handlers):
            LOG.removeHandler(handler)
            handler.close()
