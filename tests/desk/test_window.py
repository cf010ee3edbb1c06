"""The window's files: new, open, save, and asking before anything unsaved is lost; and the tour."""

from __future__ import annotations

from pathlib import Path

from msgspec.structs import replace
from PyQt6.QtCore import QItemSelectionModel, Qt
from PyQt6.QtGui import QColor, QImage, QPixmap
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QLineEdit, QListView, QPushButton

from tests.depth import examples
from tests.desk.case import DeskCase
from tests.helpers import demo_puppet
from yarn_puppet.core.formats.errors import FileProblem
from yarn_puppet.core.formats.puppet_file import load_puppet, save_puppet
from yarn_puppet.core.formats.take_file import load_take
from yarn_puppet.core.model.edits import graph as edits
from yarn_puppet.core.model.edits.clips import sheet_added
from yarn_puppet.core.model.wiring import Axis, Threshold
from yarn_puppet.demo import DEMO_PUPPET
from yarn_puppet.desk.tour.tour import Tour

ROOT = Path(__file__).parents[2]
CONTROL = Qt.KeyboardModifier.ControlModifier


class Files(DeskCase):
    def edit(self) -> None:
        self.window.document.edit("remove state",
                                  lambda now: edits.state_removed(now, "crouch_state"))

    def key(self, key: Qt.Key, modifier: Qt.KeyboardModifier = CONTROL) -> None:
        self.window.activateWindow()
        self.hand.wait()
        QTest.keyClick(self.window, key, modifier)
        self.hand.wait()

    def test_undo_and_redo_say_which_edit(self) -> None:
        self.edit()
        self.assertEqual(self.window.header.undo.toolTip(), "Undo remove state (Ctrl+Z)")
        self.key(Qt.Key.Key_Z)
        self.assertEqual(self.puppet, demo_puppet())
        self.assertEqual(self.window.header.redo.toolTip(), "Redo remove state (Ctrl+Shift+Z)")
        self.key(Qt.Key.Key_Z, CONTROL | Qt.KeyboardModifier.ShiftModifier)
        self.assertIsNone(self.puppet.state("crouch_state"))

    def test_a_new_puppet_asks_first_and_cancel_loses_nothing(self) -> None:
        self.edit()
        edited = self.puppet
        self.key(Qt.Key.Key_N)
        self.answer("Cancel")
        self.assertIs(self.puppet, edited)
        self.key(Qt.Key.Key_N)
        self.answer("Discard them")
        self.assertEqual((self.puppet.states, self.puppet.name), ((), "new puppet"))

    def test_save_from_the_question_then_goes_on(self) -> None:
        self.edit()
        edited = self.puppet
        self.key(Qt.Key.Key_N)
        self.answer("Save…")
        self.answer_file(self.folder / "kept.puppet.json")
        self.assertEqual(load_puppet(self.folder / "kept.puppet.json").states, edited.states)
        self.assertEqual(self.puppet.states, ())

    def test_closing_asks_and_closes_after_the_answer(self) -> None:
        self.edit()
        self.window.close()
        self.assertTrue(self.window.isVisible())
        self.answer("Cancel")
        self.assertTrue(self.window.isVisible())
        self.window.close()
        self.answer("Discard them")
        self.assertFalse(self.window.isVisible())

    def test_saving_elsewhere_keeps_the_art_found_and_opening_gives_it_back(self) -> None:
        self.key(Qt.Key.Key_S)
        self.answer_file(self.folder / "copy")
        saved = self.folder / "copy.puppet.json"
        puppet = load_puppet(saved)
        self.assertFalse(Path(puppet.sheets[0].path).is_absolute())
        self.assertTrue((self.folder / puppet.sheets[0].path).resolve().is_file())
        sounds = {moment.file for clip in puppet.clips for moment in clip.moments if moment.file}
        self.assertEqual(len(sounds), 5)
        self.assertTrue(all((self.folder / file).resolve().is_file() for file in sounds))
        self.edit()
        self.key(Qt.Key.Key_S)
        self.assertIsNone(load_puppet(saved).state("crouch_state"), "the second save asks nothing")
        self.window.files.open()
        self.answer_file(saved)
        self.assertFalse(self.window.document.unsaved)
        self.assertIsNotNone(self.window.art.sheet("lamplighter"))

    def replaced(self, button: str) -> None:
        box = self.dialog("replace")
        self.hand.click(next(each
                             for each in box.findChildren(QPushButton) if each.text() == button))

    def test_the_name_that_is_asked_about_is_the_name_that_is_written(self) -> None:
        hero = self.folder / "hero.puppet.json"
        for typed, written in (("hero", hero), ("hero.v2", self.folder / "hero.v2.puppet.json"),
                               ("hero.json", hero)):
            hero.write_text("precious")
            self.key(Qt.Key.Key_S, CONTROL | Qt.KeyboardModifier.ShiftModifier)
            self.answer_file(self.folder / typed)
            if written == hero:
                self.assertIn("hero.puppet.json already exists", self.dialog("replace").text())
                self.replaced("Cancel")
                self.assertEqual(hero.read_text(), "precious")
                self.key(Qt.Key.Key_S, CONTROL | Qt.KeyboardModifier.ShiftModifier)
                self.answer_file(self.folder / typed)
                self.replaced("Another name…")
                self.answer_file(self.folder / "other")
                self.assertEqual(hero.read_text(), "precious")
                self.assertTrue((self.folder / "other.puppet.json").is_file())
                (self.folder / "other.puppet.json").unlink()
            else:
                self.assertEqual(hero.read_text(), "precious")
                self.assertEqual(load_puppet(written).states, self.puppet.states)

    def test_arts_paths_are_right_in_every_step_after_saving_elsewhere(self) -> None:
        self.edit()
        self.window.document.edit("rename",
                                  lambda now: edits.state_changed(now, "idle_state", name="Rest"))
        self.window.document.undo()
        (self.folder / "deep").mkdir()
        self.window.document.save(self.folder / "deep" / "it.puppet.json")
        for step in (self.window.document.undo, self.window.document.redo,
                     self.window.document.redo):
            step()
            self.key(Qt.Key.Key_S)
            puppet = load_puppet(self.folder / "deep" / "it.puppet.json")
            self.assertEqual(puppet, self.puppet)
            self.assertTrue((self.folder / "deep" / puppet.sheets[0].path).resolve().is_file())

    def test_art_that_was_brought_in_and_undone_is_found_again_after_saving_elsewhere(self) -> None:
        document = self.window.document
        document.start_new()
        document.save(self.folder / "first.puppet.json")
        (self.folder / "deep").mkdir()
        (self.folder / "a.png").write_bytes(b"art")
        document.edit("bring in", lambda now: sheet_added(now, "a.png", "a.png", None)[0])
        document.undo()
        document.save(self.folder / "deep" / "it.puppet.json")
        document.redo()
        self.assertEqual(self.puppet.sheets[0].path, "../a.png")

    def test_what_is_unsaved_is_asked_about_once_and_what_is_edited_while_a_file_is_read_too(
        self,
    ) -> None:
        files, document = self.window.files, self.window.document
        self.edit()
        files.open_demo()
        self.answer("Discard them")
        self.hand.until(lambda: not document.unsaved, "the demo")
        self.assertIsNone(QApplication.activeModalWidget())
        self.assertEqual(document.path, DEMO_PUPPET)
        files.open_demo()
        self.assertTrue(files.busy)
        self.edit()
        edited = document.puppet
        self.hand.until(lambda: not files.busy, "the file")
        self.answer("Cancel")
        self.assertIs(document.puppet, edited)

    def test_who_starts_a_new_one_does_not_get_what_was_being_read(self) -> None:
        files, notices = self.window.files, self.window.notices
        files.load(DEMO_PUPPET, large=0)
        files.opening.emit(DEMO_PUPPET)
        self.assertTrue(files.busy)
        self.assertIsNotNone(notices.sentence("opening"))
        QTest.keyClick(self.window, Qt.Key.Key_N, CONTROL)
        self.assertIsNone(notices.sentence("opening"))
        self.quiet()
        self.assertEqual((self.puppet.states, self.puppet.name), ((), "new puppet"))

    def test_a_typed_path_is_taken_whatever_the_dialogs_list_still_marks(self) -> None:
        saved = self.folder / "x" / "it.puppet.json"
        saved.parent.mkdir()
        save_puppet(demo_puppet(), saved)
        self.window.files.open()
        dialog = self.dialog("file dialog")
        dialog.setDirectory(str(self.folder))
        view = dialog.findChild(QListView, "listView")
        self.hand.until(lambda: view.model().rowCount(view.rootIndex()) > 0, "the folder's list")
        QTest.keyClicks(dialog.findChild(QLineEdit, "fileNameEdit"), "x")
        view.selectionModel().select(view.model().index(0, 0, view.rootIndex()),
                                     QItemSelectionModel.SelectionFlag.Select)
        self.answer_file(saved)
        self.assertEqual(self.window.document.path, saved)

    def test_what_could_not_be_opened_again_is_said_and_the_file_stays(self) -> None:
        path = self.folder / "kept.puppet.json"
        self.window.document.save(path)
        before = path.read_bytes()
        self.window.document.edit("break", lambda now: replace(now, name="x" * 201))
        self.key(Qt.Key.Key_S)
        self.assertIn("could not be opened again", self.complaint())
        self.assertEqual(path.read_bytes(), before)
        self.assertTrue(self.window.document.unsaved)

    def test_a_broken_file_is_said_and_the_open_puppet_stays(self) -> None:
        before = self.puppet
        broken = self.folder / "broken.puppet.json"
        broken.write_text('{"format": 1, "clips": [{"id": "x"}]}')
        self.key(Qt.Key.Key_O)
        self.answer_file(broken)
        said = self.complaint()
        self.assertIn("clips[0]", said)
        self.assertIn("name", said)
        self.assertIs(self.puppet, before)

    def test_a_folder_that_cannot_be_written_is_said_and_the_edit_stays(self) -> None:
        self.edit()
        self.window.document.path = self.folder / "gone" / "it.puppet.json"
        self.key(Qt.Key.Key_S)
        self.assertIn("cannot be written", self.complaint())
        self.assertTrue(self.window.document.unsaved)

    def test_a_take_is_saved_and_opened(self) -> None:
        self.hold(Qt.Key.Key_Right, 20)
        self.window.files.save_take()
        self.hand.wait()
        self.answer_file(self.folder / "stroll")
        take = load_take(self.folder / "stroll.take.json")
        self.assertEqual((take.ticks, take.controls), (20, ((0, "right", 1),)))
        records = [record.report for record in self.records]
        self.window.player.restart()
        self.window.player.pause()
        self.window.files.load_take(self.folder / "stroll.take.json")
        self.settle()
        self.assertEqual([record.report for record in self.records], records)
        self.assertEqual(self.window.player.take_name, "stroll")

    def test_a_puppet_of_another_rate_refuses_the_take(self) -> None:
        path = self.folder / "slow.take.json"
        path.write_text('{"booth": null, "rate": 30, "ticks": 3}')
        self.window.files.load_take(path)
        self.assertIn("rate: expected the puppet's 60", self.complaint())

    def test_every_page_opens_and_the_panes_borders_are_remembered(self) -> None:
        for name in ("Clips", "Wiring", "Snags", "Weave"):
            self.go(name)
            self.assertTrue(self.window.page(name).isVisible())
        self.window.above.setSizes([420, 300])
        sizes = self.window.above.sizes()
        self.window.files.drop_edits()
        self.window.close()
        again = self.open_window()
        self.assertAlmostEqual(again.above.sizes()[1], sizes[1], delta=4)

    def test_snags_are_counted_in_the_header_and_a_click_goes_there(self) -> None:
        puppet, id = edits.transition_added(self.puppet, "idle_state", "walk_state", "move_x != 0")
        self.window.document.edit("add transition", puppet)
        self.assertNotIn("every name is known", self.window.page("Snags").said(),
                         "what is not known yet is not said")
        self.hand.until(lambda: self.window.header.pages["Snags"].badge == "1", "the snag")
        page = self.go("Snags")
        self.hand.click(page, page.card(0))
        self.assertEqual((self.window.current_page, self.window.document.selection),
                         ("Weave", ("transition", id)))

    def test_as_many_snags_as_there_are_can_be_come_to(self) -> None:
        self.window.document.edit("none", replace(
            self.puppet, axes=(Axis("lean", "lean"),),
            clips=(), states=tuple(replace(state, clip="gone") for state in self.puppet.states),
            thresholds=(Threshold("far", "far", "gone", 1.0, 0.0),), layers=(
                replace(self.puppet.layers[0], shown_when="("),)))
        self.window.snags.refresh()
        page = self.go("Snags")
        snags = self.window.snags.snags
        self.assertGreater(len(snags), 10)
        self.assertEqual(self.window.size().height(), 800)
        page.setFocus()
        for _ in snags:
            self.hand.key(page, Qt.Key.Key_Down)
        last = page.card(len(snags) - 1)
        self.assertTrue(page.visibleRegion().boundingRect().contains(last.center().toPoint()))
        for number, snag in enumerate(snags):
            self.window.show_page("Snags")
            page.go_to(snag)
            expected = {"axis": "Wiring", "threshold": "Wiring", "clip": "Clips"}.get(
                snag.kind, "Weave")
            self.assertEqual(self.window.current_page, expected, f"{number}: {snag}")

    def test_a_hostile_puppet_opens_draws_and_runs(self) -> None:
        from hypothesis import HealthCheck, given, settings

        from tests import strategies

        @settings(max_examples=examples(12), deadline=None, derandomize=True,
                  suppress_health_check=list(HealthCheck))
        @given(strategies.puppets())
        def opens(puppet) -> None:  # type: ignore[no-untyped-def]
            path = self.folder / "odd.puppet.json"
            save_puppet(puppet, path)
            self.window.files.load(path)
            self.window.player.pause()
            for page in ("Clips", "Weave", "Wiring", "Snags"):
                self.window.show_page(page)
                self.window.grab()
            self.steps(5)

        opens()


class ShortTour(DeskCase):
    """The whole of it is a command of the README's start, and is run as that."""

    def test_what_is_seen_is_saved_and_a_view_that_shows_nothing_fails(self) -> None:
        tour = Tour(self.window, self.folder)
        tour.play()
        tour.clips()
        self.assertEqual(tour.saved, ["play.png", "clips.png"])
        for name in tour.saved:
            image = QImage(str(self.folder / name))
            self.assertEqual((image.width(), image.height()), (1280, 800))
        empty = QPixmap(64, 64)
        empty.fill(QColor("white"))
        with self.assertRaises(FileProblem) as caught:
            tour.written(empty, self.folder / "empty.png")
        self.assertIn("shows nothing", str(caught.exception))
