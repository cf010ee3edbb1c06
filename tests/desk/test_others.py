"""Another program, or another window, writes the same files: it is said, and nothing is lost
unasked."""

from __future__ import annotations

import shutil
from pathlib import Path
from unittest import mock

from msgspec.structs import replace

from tests.desk.case import DeskCase
from yarn_puppet.core.formats.booth_file import load_booth, save_booth
from yarn_puppet.core.formats.puppet_file import load_puppet, save_puppet
from yarn_puppet.core.formats.skin_file import load_skin, save_skin
from yarn_puppet.core.formats.take_file import load_take, save_take
from yarn_puppet.core.model.edits.frames.frames import frame_changed
from yarn_puppet.core.model.edits.graph import state_changed
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.demo import DEMO_FOLDER
from yarn_puppet.desk.session.files.own_files import OwnFiles


class Others(DeskCase):
    def own_file(self) -> Path:
        self.home = self.folder / "home"
        self.home.mkdir()
        for path in (*DEMO_FOLDER.glob("lamplighter*"), *DEMO_FOLDER.glob("*.booth.json")):
            shutil.copy(path, self.home)
        shutil.copytree(DEMO_FOLDER / "sounds", self.home / "sounds")
        self.own = self.home / "lamplighter.puppet.json"
        return self.own

    def setUp(self) -> None:
        super().setUp()
        self.take = self.home / "guarded_fall.take.json"

    def theirs(self, name: str) -> None:
        """Another program's edit."""
        save_puppet(state_changed(load_puppet(self.own), "walk_state", name=name), self.own)

    def ours(self, name: str) -> None:
        self.window.document.edit("rename state",
                                  lambda now: state_changed(now, "idle_state", name=name))

    def notice(self, path=None):  # type: ignore[no-untyped-def]
        """What is said of a file, once it is."""
        name = f"file {path or self.own}"
        self.hand.until(lambda: self.window.notices.sentence(name) is not None, "the notice")
        return self.window.notices.sentence(name)

    def said(self, path=None) -> str:  # type: ignore[no-untyped-def]
        return " ".join(part.text for part in self.notice(path).parts)

    def test_with_nothing_unsaved_it_is_shown_as_it_is_now(self) -> None:
        self.theirs("Stroll")
        self.assertIn(
            "changed by another program, and is shown as it is now: state Walk renamed: to Stroll",
            self.said(),
        )
        self.assertEqual(self.puppet.state("walk_state").name, "Stroll")
        self.assertFalse(self.window.document.unsaved)
        self.window.document.undo()
        self.assertEqual(self.puppet.state("walk_state").name, "Walk")
        self.assertTrue(self.window.document.unsaved)

    def test_what_is_written_while_a_file_is_read_is_no_less_seen(self) -> None:
        def and_then(puppet: Puppet) -> None:
            self.theirs("Stroll")

        with mock.patch("yarn_puppet.desk.shell.files.compile_puppet", and_then):
            self.window.files.open_path(self.own)
            self.hand.until(lambda: not self.window.files.busy, "the file")
        self.assertIn("state Walk renamed: to Stroll", self.said())
        self.assertEqual(self.puppet.state("walk_state").name, "Stroll")

    def test_with_unsaved_edits_one_is_asked(self) -> None:
        self.ours("Rest")
        self.theirs("Stroll")
        said = self.notice()
        self.hand.token(said, "see what differs")
        words = self.complaint()
        self.assertIn("state Idle renamed: to Rest", words)
        self.assertIn("state Stroll renamed: to Walk", words)
        self.hand.token(said, "take theirs")
        self.assertEqual([self.puppet.state(id).name for id in ("idle_state", "walk_state")],
                         ["Idle", "Stroll"])
        self.assertEqual((self.window.notices.names, self.window.document.unsaved), ([], False))
        self.window.document.undo()
        self.assertEqual(self.puppet.state("idle_state").name, "Rest")

    def test_what_is_taken_is_what_the_file_has_then(self) -> None:
        self.ours("Rest")
        self.theirs("Stroll")
        said = self.notice()
        self.theirs("March")
        self.hand.token(said, "take theirs")
        self.assertEqual(self.puppet.state("walk_state").name, "March")
        self.assertFalse(self.window.document.unsaved)

    def test_saving_asks_before_it_writes_over_theirs(self) -> None:
        self.ours("Rest")
        self.theirs("Stroll")
        # At once, before anybody was told.
        self.window.files.save()
        self.assertEqual(load_puppet(self.own).state("walk_state").name, "Stroll")
        self.hand.token(self.notice(), "keep ours")
        found = load_puppet(self.own)
        self.assertEqual([found.state(id).name for id in ("idle_state", "walk_state")],
                         ["Rest", "Walk"])
        self.assertEqual((self.window.notices.names, self.window.document.unsaved), ([], False))
        self.ours("Ease")
        self.theirs("March")
        self.notice()
        # Told of, and not decided: it is asked again.
        self.window.files.save()
        self.assertEqual(load_puppet(self.own).state("walk_state").name, "March")

    def test_what_is_only_written_again_is_nothing(self) -> None:
        self.ours("Rest")
        self.own.write_bytes(self.own.read_bytes())
        self.hand.until(lambda: not self.window.own_files._watch.busy, "the watch")
        self.window.files.save()
        self.assertEqual((load_puppet(self.own).state("idle_state").name,
                          self.window.notices.names), ("Rest", []))

    def test_a_file_that_is_gone_or_broken_is_said_and_ours_can_be_written(self) -> None:
        for what, said in ((self.own.unlink, "no longer exists"),
                           (lambda: self.own.write_text("{"),
                            "cannot be read: line 1: expected JSON")):
            what()
            self.hand.until(lambda said=said: self.window.notices.sentence(
                f"file {self.own}") is not None
                            and said in self.said(), "the notice")
            self.hand.token(self.notice(), "keep ours")
            self.assertEqual(load_puppet(self.own), self.puppet)
            self.hand.until(lambda: self.window.notices.names == [], "no notice")

    def test_takes_and_booths_too(self) -> None:
        shutil.copy(DEMO_FOLDER / self.take.name, self.home)
        self.window.files.load(self.own)
        self.window.player.pause()
        save_take(replace(load_take(self.take), promises=()), self.take)
        self.assertIn("is shown as it is now", self.said(self.take))
        self.assertEqual(self.window.kept.takes[self.take.name].promises, ())
        # One that is pulled, and one that both changed.
        pulled = self.home / "new_one.take.json"
        save_take(load_take(self.take), pulled)
        self.assertIn("it is new", self.said(pulled))
        self.assertIn(pulled.name, self.window.kept.takes)
        self.window.kept.set_promises(pulled.name, load_take(DEMO_FOLDER / self.take.name).promises)
        save_take(replace(load_take(pulled), first=3), pulled)
        self.hand.until(lambda: "you have changed it too" in self.said(pulled), "the notice")
        self.window.files.save()
        self.assertEqual(load_take(pulled).first, 3)
        self.hand.token(self.notice(pulled), "take theirs")
        self.assertEqual(self.window.kept.takes[pulled.name].first, 3)
        booth = self.home / "rooftop.booth.json"
        self.window.booths.edit("paint", lambda world: replace(world, start_x=99.0))
        save_booth(replace(load_booth(booth), start_x=50.0), booth)
        self.hand.token(self.notice(booth), "take theirs")
        self.assertEqual(self.window.booths.world.start_x, 50.0)

    def test_skins_too(self) -> None:
        file = self.home / "tamsin.skin.json"
        for path in DEMO_FOLDER.glob("tamsin*"):
            shutil.copy(path, self.home)
        self.hand.until(lambda: "tamsin.skin.json" in self.window.document.skins, "the skin")
        document = self.window.document
        document.wear("tamsin.skin.json")
        save_skin(replace(load_skin(file), name="Tam"), file)
        self.hand.until(lambda: "name Tamsin → Tam" in self.said(file), "what they changed")
        self.assertEqual(document.skin.name, "Tam")
        self.assertFalse(document.unsaved)
        document.edit("change duration",
                      lambda now: frame_changed(now, "walk", 0, duration=99.0))
        save_skin(replace(load_skin(file), name="Tess"), file)
        self.hand.until(lambda: "you have changed it too" in self.said(file), "the question")
        self.hand.token(self.notice(file), "take theirs")
        self.assertEqual((document.skin.name, document.unsaved), ("Tess", False))
        document.undo()
        self.assertEqual(document.puppet.clip("walk").frames[0].duration, 99.0)

    def test_the_puppet_is_taken_under_the_skin_on_show(self) -> None:
        for path in DEMO_FOLDER.glob("tamsin*"):
            shutil.copy(path, self.home)
        self.window.files.load(self.own)
        document = self.window.document
        document.wear("tamsin.skin.json")
        skin = document.skin
        self.theirs("Stroll")
        self.notice()
        self.assertEqual(document.puppet.state("walk_state").name, "Stroll")
        self.assertEqual((document.skin, document.unsaved), (skin, False))

    def test_saved_into_a_folder_that_was_renamed_the_art_is_found_there(self) -> None:
        sheets = [sheet.path for sheet in self.puppet.sheets]
        self.ours("Rest")
        moved = self.folder / "renamed"
        shutil.rmtree(self.home / "sounds")
        self.home.rename(moved)
        self.window.files.save_as()
        self.answer_file(moved / "hero.puppet.json")
        found = load_puppet(moved / "hero.puppet.json")
        self.assertEqual([sheet.path for sheet in found.sheets], sheets)
        self.assertEqual(found.state("idle_state").name, "Rest")
        # What was taken away is said.
        said = " ".join(part.text for part in self.window.notices.sentence("lost").parts)
        self.assertIn("sounds/", said)
        self.assertNotIn("lamplighter.png", said)
        shutil.copytree(DEMO_FOLDER / "sounds", moved / "sounds")
        self.window.files.save()
        self.assertIsNone(self.window.notices.sentence("lost"))

    def test_two_windows_on_one_puppet_know_of_each_other(self) -> None:
        documents = []
        for _ in range(2):
            window = self.open_window()
            files = OwnFiles(window.document, window.booths, window.kept, self.folder / "claims")
            files.shared.connect(documents.append)
            window.files.load(self.own)
            window.player.pause()
        self.assertEqual(documents, [self.own])
