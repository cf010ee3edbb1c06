"""Names of files and things that no puppet could hold: said, changed, and never in the way of
saving."""

from __future__ import annotations

import os
import shutil
from pathlib import Path

from PIL import Image
from PyQt6.QtWidgets import QFileDialog, QLineEdit

from tests.desk.case import DeskCase
from yarn_puppet.core.formats.file_names import file_name, path_problem, said
from yarn_puppet.core.formats.puppet_file import load_puppet
from yarn_puppet.core.model.edits.clips import clip_changed
from yarn_puppet.demo import DEMO_FOLDER, FIRST_STEPS

BYTES = os.fsdecode(b"pell\xff\xfe")
"""A file's name that is no text."""


class OddNames(DeskCase):
    file = None

    def test_art_whose_name_is_no_text_is_named_and_the_rest_comes_in(self) -> None:
        page = self.go("Clips")
        for name in (f"{BYTES}.png", "good.png"):
            Image.new("RGBA", (8, 8), (1, 2, 3, 255)).save(self.folder / name)
        page.bringing.bring_in([self.folder / f"{BYTES}.png", self.folder / "good.png"])
        self.hand.until(lambda: len(self.puppet.sheets) == 1, "the good one")
        self.assertIn("pell\\xff\\xfe.png: expected names in UTF-8", self.complaint())
        self.window.document.save(self.folder / "it.puppet.json")
        self.assertEqual(load_puppet(self.folder / "it.puppet.json"), self.puppet)

    def test_art_that_was_renamed_to_no_text_is_not_taken(self) -> None:
        page = self.go("Clips")
        Image.new("RGBA", (8, 8), (1, 2, 3, 255)).save(self.folder / "good.png")
        page.bringing.bring_in([self.folder / "good.png"])
        self.hand.until(lambda: len(self.puppet.sheets) == 1, "the picture")
        page.finish_cutting()
        (self.folder / "good.png").rename(self.folder / f"{BYTES}.png")
        sheet = self.puppet.sheets[0]
        self.hand.until(lambda: sheet in self.window.sources.missing, "it to be missing")
        self.assertIn("expected names in UTF-8",
                      self.window.sources.find_again(sheet.id, self.folder / f"{BYTES}.png"))
        self.assertEqual(self.puppet.sheets[0], sheet)

    def test_a_puppet_under_such_a_name_is_opened_worked_on_and_saved(self) -> None:
        for name in ("lamplighter.png", "lamplighter_world.png"):
            shutil.copy(DEMO_FOLDER / name, self.folder / name)
        odd = self.folder / f"{BYTES}.puppet.json"
        shutil.copy(FIRST_STEPS, odd)
        self.window.files.load(odd)
        self.window.player.pause()
        self.assertEqual(len(self.puppet.clips), len(load_puppet(FIRST_STEPS).clips))
        self.window.document.edit("rename", lambda now: clip_changed(now, "walk", name="stroll"))
        self.window.document.save(odd)
        self.assertEqual(load_puppet(odd), self.puppet)
        self.window.document.start_new()
        self.window.document.save(self.folder / f"{BYTES}2.puppet.json")
        self.assertEqual(load_puppet(self.folder / f"{BYTES}2.puppet.json"), self.puppet)

    def test_a_clip_of_a_name_like_a_path_is_offered_as_a_file_here(self) -> None:
        self.window.files.load(FIRST_STEPS)
        page = self.go("Clips")
        self.window.document.edit("rename",
                                  lambda now: clip_changed(
                                      now, "walk", name="walk/left " + "é" * 190))
        page.desk.show_clip("walk")
        page.act("save moving")
        dialog = self.dialog("file dialog")
        assert isinstance(dialog, QFileDialog)
        typed = dialog.findChild(QLineEdit, "fileNameEdit").text()
        self.assertNotIn("/", typed)
        self.assertLess(len(typed.encode()), 255)
        self.assertTrue(typed.startswith("walk_left é") and typed.endswith(".gif"), typed)
        dialog.close()

    def test_names_made_and_said(self) -> None:
        self.assertEqual([file_name(each) for each in ("a/b", "..", "", " x\n", "n\udcff")],
                         ["a_b", "unnamed", "unnamed", "x", "n"])
        self.assertIsNone(path_problem(Path("/tmp/绣 à.png")))
        self.assertEqual(said(f"/tmp/{BYTES}"), "/tmp/pell\\xff\\xfe")
