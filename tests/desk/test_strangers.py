"""A stranger's folder: names that are markup, and pipes and devices in the place of files, hold
nothing up."""

from __future__ import annotations

import os
import shutil
from pathlib import Path

from PIL import Image
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel

from tests.core.test_commands import typed
from tests.desk.case import DeskCase
from yarn_puppet.core.model.edits.graph import state_changed
from yarn_puppet.demo import DEMO_FOLDER
from yarn_puppet.desk.widgets.dialogs import plain

MARKUP = '<img src="file:///etc/hostname"><b>Walk</b> <a href="x">y</a>'


class Strangers(DeskCase):
    file = None

    def setUp(self) -> None:
        super().setUp()
        self.home = self.folder / "home"
        shutil.copytree(DEMO_FOLDER, self.home,
                        ignore=shutil.ignore_patterns("make", "__pycache__"))
        self.own = self.home / "lamplighter.puppet.json"

    def pipe(self, name: str) -> None:
        path = self.home / name
        path.unlink(missing_ok=True)
        os.mkfifo(path)

    def test_pipes_in_the_place_of_files_are_said_and_wait_for_nobody(self) -> None:
        for name in ("lamplighter.png", "guarded_fall.take.json", "rooftop.booth.json",
                     "sounds/soft_step.wav",
                     "stray.take.json"):
            self.pipe(name)
        code, out, err = typed("check", str(self.own))
        self.assertEqual(code, 2)
        self.assertIn("cannot be judged", out + err)
        self.window.files.load(self.own)
        self.window.player.play()
        for page in self.window.header.pages:
            self.go(page)
        self.assertIn("guarded_fall.take.json", self.window.kept.problems)
        self.pipe("lamplighter.puppet.json")
        self.window.files.load(self.own)
        self.assertIn("expected a file", self.complaint())
        for each in ("/dev/zero", "/dev/tty"):
            if Path(each).exists():
                self.assertEqual(typed("check", each)[0], 2)

    def test_names_are_shown_as_they_are(self) -> None:
        self.window.files.load(self.own)
        self.window.player.pause()
        self.window.document.edit("rename",
                                  lambda now: state_changed(now, "walk_state", name=MARKUP))
        self.window.document.select("state", "walk_state")
        for page in self.window.header.pages:
            self.go(page)
        for label in self.window.findChildren(QLabel):
            if "<img" in label.text():
                self.assertEqual(label.textFormat(), Qt.TextFormat.PlainText, label.text())
        self.assertEqual(plain("a < b"), "a < b")
        self.assertNotIn("<img", plain(MARKUP))
        self.window.files.new()
        box = self.dialog("unsaved")
        self.assertNotIn("<img", box.text())
        box.close()

    def test_a_pipe_among_numbered_pictures_is_left_out(self) -> None:
        folder = self.home / "walk"
        folder.mkdir()
        Image.new("RGBA", (8, 8), (1, 2, 3, 255)).save(folder / "walk_1.png")
        os.mkfifo(folder / "walk_2.png")
        from yarn_puppet.desk.pictures.decoding import read_pictures

        self.assertEqual(len(read_pictures(folder)), 1)
