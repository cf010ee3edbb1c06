"""Another character on the same graph, in the real window."""

from __future__ import annotations

import json
import shutil
from pathlib import Path

from msgspec.structs import replace
from PIL import Image, ImageOps
from PyQt6.QtCore import QMimeData, QPointF, Qt, QUrl
from PyQt6.QtGui import QDropEvent
from PyQt6.QtWidgets import QApplication, QMenu, QWidget

from tests.desk.case import DeskCase
from yarn_puppet.core.formats.puppet_file import load_puppet
from yarn_puppet.core.formats.skin_file import load_skin, skins_of
from yarn_puppet.core.formats.take_file import load_take, save_take
from yarn_puppet.core.model.edits import graph as graph_edits
from yarn_puppet.core.model.edits.frames import frames as frame_edits
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.skins.dressing import dressed
from yarn_puppet.demo import DEMO_FOLDER, DEMO_PUPPET
from yarn_puppet.desk.widgets.sentence import Sentence


def mossy(source: Path, target: Path, times: int = 1) -> Path:
    """A sheet of ours in other colours, so many times as large."""
    with Image.open(source) as picture:
        red, green, blue, alpha = picture.convert("RGBA").split()
        made = Image.merge("RGBA", (ImageOps.invert(red), green, blue, alpha))
        made.resize((made.width * times, made.height * times), Image.Resampling.NEAREST).save(
            target)
    return target


def said_in(sentence: Sentence) -> str:
    """What a sentence says."""
    return " ".join(part.text for part in sentence.parts)


class Skins(DeskCase):
    def own_file(self) -> Path:
        # A copy of one's own, without the skin that the demo has.
        for path in (*DEMO_FOLDER.glob("lamplighter*.p*"), *DEMO_FOLDER.glob("*.booth.json")):
            shutil.copy(path, self.folder)
        shutil.copytree(DEMO_FOLDER / "sounds", self.folder / "sounds")
        return (self.folder / "lamplighter.puppet.json").rename(self.folder / "hero.puppet.json")

    def menu(self, button: QWidget, words: str) -> None:
        """Open a menu under the header, and pick from it."""
        self.hand.click(button)
        self.hand.until(lambda: isinstance(QApplication.activePopupWidget(), QMenu), "the menu")
        menu = QApplication.activePopupWidget()
        assert isinstance(menu, QMenu)
        action = next(each for each in menu.actions() if each.text() == words)
        self.hand.click(menu, menu.actionGeometry(action).toRectF())
        self.hand.wait()

    def matched(self) -> None:
        """Wait till the files are read and matched."""
        self.hand.until(lambda: not self.window.skin_art.busy, "the skin")
        self.hand.wait()

    def another(self, *paths: Path) -> None:
        """Another skin of these files, by the menu of the puppet."""
        header = self.window.header
        self.menu(header.puppet, "Another skin…")
        self.answer_file(paths[0])
        self.matched()

    def drop(self, *paths: Path) -> None:
        """Drop files on the clips."""
        data = QMimeData()
        data.setUrls([QUrl.fromLocalFile(str(path)) for path in paths])
        page = self.go("Clips")
        page.dropEvent(QDropEvent(QPointF(50, 50), Qt.DropAction.CopyAction, data,
                                  Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier))
        self.hand.gestures += 1
        self.hand.until(lambda: not page.bringing.busy, "the files to be read")
        self.matched()

    def test_another_character_on_the_same_graph(self) -> None:
        before = self.window.document.bare_puppet
        art = mossy(DEMO_FOLDER / "lamplighter.png", self.folder / "moss.png", 2)
        self.another(art)
        # Typing a path into the dialog stands for one choice in it.
        gestures = self.hand.gestures - 1
        print(f"\n  another character on the same graph took {gestures} gestures")
        self.assertLessEqual(gestures, 3)
        document = self.window.document
        self.assertEqual(self.window.header.skin.text(), "in moss ▾")
        self.assertIs(document.bare_puppet, before)
        self.assertEqual(document.puppet.states, before.states)
        walk, old = document.puppet.clip("walk"), before.clip("walk")
        self.assertEqual(walk.frames[1].cell.x, old.frames[1].cell.x * 2)
        self.assertEqual(walk.windows, old.windows)
        said = said_in(self.go("Clips").news_sentence)
        self.assertIn("in the skin moss", said)
        self.assertIn("by cells", said)
        # It is played, and saved, and there again.
        self.window.player.restart()
        self.window.player.pause()
        self.hand.click(self.window.booth)
        self.hold(Qt.Key.Key_D, 30)
        self.assertEqual(self.shown_state(), "Walk")
        self.window.files.save()
        path = self.folder / "hero.puppet.json"
        self.assertEqual(load_puppet(path), before)
        [file] = skins_of(path)
        self.assertEqual((file.name, load_skin(file).puppet), ("moss.skin.json", path.name))
        self.assertEqual(json.loads(file.read_text())["sheets"][0]["path"], "moss.png")
        shown = document.puppet
        self.window.files.load(path)
        self.assertEqual(self.window.header.skin.text(), "no skin ▾")
        self.menu(self.window.header.skin, "moss")
        self.assertEqual(document.puppet, shown)

    def test_what_is_edited_in_a_skin_is_its_own_and_the_graph_is_everyones(self) -> None:
        document = self.window.document
        self.another(mossy(DEMO_FOLDER / "lamplighter.png", self.folder / "moss.png"))
        before = document.bare_puppet
        page = self.go("Clips")
        page.desk.show_clip("walk")
        self.hand.token(page.clip_sentence, "duration")
        self.hand.type("140")
        self.assertEqual(document.puppet.clip("walk").frames[0].duration, 140.0)
        self.assertEqual(document.bare_puppet, before)
        self.assertIn("moss's own: cells durations", said_in(page.clip_sentence))
        document.edit("add state",
                      lambda now: graph_edits.state_added(now, "New", None, None, 0)[0])
        self.menu(self.window.header.skin, "The puppet's own look")
        self.assertIn("New", [state.name for state in document.puppet.states])
        self.assertEqual(document.puppet.clips, before.clips)
        self.menu(self.window.header.skin, "moss")
        self.hand.token(page.clip_sentence, "own durations")
        self.assertEqual(document.puppet.clip("walk").frames[0].duration,
                         before.clip("walk").frames[0].duration)
        while document.history.undo_name is not None:
            document.undo()
        self.assertEqual(document.skins, {})
        self.assertEqual(document.puppet, document.bare_puppet)
        self.assertFalse(self.window.header.skin.isVisible())

    def test_an_undo_shows_what_it_changes(self) -> None:
        document = self.window.document
        self.another(mossy(DEMO_FOLDER / "lamplighter.png", self.folder / "moss.png"))
        document.edit("change duration", lambda now: frame_edits.frame_changed(
            now, "walk", 0, duration=150.0))
        self.menu(self.window.header.skin, "The puppet's own look")
        document.undo()
        self.assertEqual(self.window.header.skin.text(), "in moss ▾")
        document.redo()
        self.assertEqual(document.puppet.clip("walk").frames[0].duration, 150.0)

    def test_dropped_files_are_for_the_skin_on_show_by_their_names(self) -> None:
        document = self.window.document
        self.another(mossy(DEMO_FOLDER / "lamplighter.png", self.folder / "moss.png"))
        with Image.open(DEMO_FOLDER / "lamplighter_world.png") as picture:
            picture.crop((0, 0, 4 * 96, 64)).save(self.folder / "moss_hang.png")
            picture.crop((0, 0, 96, 64)).save(self.folder / "moss_parasol.png")
        clips = document.puppet.clips
        self.drop(self.folder / "moss_hang.png", self.folder / "moss_parasol.png")
        self.assertEqual([clip.id for clip in document.puppet.clips], [clip.id for clip in clips])
        hang = document.puppet.clip("hang")
        sheet = next(each for each in document.skin.sheets if each.path == "moss_hang.png")
        self.assertEqual({frame.cell.sheet for frame in hang.frames}, {sheet.id})
        said = said_in(self.go("Clips").news_sentence)
        self.assertIn("1 by name", said)
        self.assertIn("no clip for moss_parasol", said)

    def test_saved_elsewhere_it_goes_along_and_nobody_elses_is_replaced(self) -> None:
        self.another(mossy(DEMO_FOLDER / "lamplighter.png", self.folder / "moss.png"))
        self.window.files.save()
        other = self.folder / "sub"
        other.mkdir()
        (other / "moss.skin.json").write_text('{"puppet": "someone.puppet.json"}')
        document = self.window.document
        shown = document.puppet
        self.window.files._write(other / "two.puppet.json")
        self.assertEqual(json.loads((other / "moss.skin.json").read_text())["puppet"],
                         "someone.puppet.json")
        [file] = skins_of(other / "two.puppet.json")
        self.assertEqual(load_skin(file).sheets[0].path, "../moss.png")
        self.assertEqual(document.wearing.shown, file.name)
        self.assertEqual([replace(each, windows=(), moments=()) for each in document.puppet.clips],
                         [replace(each, windows=(), moments=()) for each in shown.clips])
        [first] = skins_of(self.folder / "hero.puppet.json")
        self.assertEqual(load_skin(first).sheets[0].path, "moss.png")
        self.assertFalse(document.unsaved)

    def test_takes_are_run_in_the_skin_and_compared_with_what_was_run_in_it(self) -> None:
        document, kept = self.window.document, self.window.kept
        name = "guarded_fall.take.json"
        save_take(replace(load_take(DEMO_FOLDER / name), puppet="hero.puppet.json"),
                  self.folder / name)
        self.window.files.load(self.folder / "hero.puppet.json")
        self.window.player.pause()
        self.another(mossy(DEMO_FOLDER / "lamplighter.png", self.folder / "moss.png"))
        document.edit("slower", lambda now: replace(
            now, mover=replace(now.mover, walk_speed=30.0)))
        self.hand.until(lambda: kept.outcomes and not kept.busy and not kept._settle.isActive(),
                        "the takes")
        self.assertTrue(kept.differs, "in this skin it is slower than it was")
        self.menu(self.window.header.skin, "The puppet's own look")
        self.hand.until(lambda: not kept.busy and not kept._settle.isActive(), "the takes")
        self.assertFalse(kept.differs, "the puppet itself is as it was")
        puppet: Puppet = document.bare_puppet
        self.assertEqual(dressed(puppet, document.skins["moss.skin.json"]).mover.walk_speed, 30.0)

    def test_a_skin_is_taken_away_with_its_file_and_an_undo_brings_both_back(self) -> None:
        self.another(mossy(DEMO_FOLDER / "lamplighter.png", self.folder / "moss.png"))
        self.window.files.save()
        file = self.folder / "moss.skin.json"
        self.assertTrue(file.exists())
        self.menu(self.window.header.skin, "Take moss away")
        self.window.files.save()
        self.assertFalse(file.exists())
        self.window.document.undo()
        self.window.files.save()
        self.assertTrue(file.exists())


class OnShow(DeskCase):
    file = DEMO_PUPPET

    def test_what_is_on_show_stays_the_same_object_while_others_are_dressed(self) -> None:
        document = self.window.document
        document.wear("tamsin.skin.json")
        for name in ("one", "two", "three"):
            document.edit("rename", lambda now, name=name: replace(now, name=name))
        document.undo()
        document.undo()
        self.settle()
        shown = document.puppet
        self.assertEqual([each.name for each in document.future_puppets], ["three", "two"])
        self.assertIs(document.puppet, shown)
        # What follows the art asks for them, and makes them other steps.
        document.follow("follow", replace(shown, name="one, too"), document.future_puppets)
        self.settle()
        self.assertIs(self.window.player.recording.setup.puppet, document.puppet)
        self.assertEqual(document.puppet.name, "one, too")
        document.redo()
        self.assertEqual(document.puppet.name, "two")
