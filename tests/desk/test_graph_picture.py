"""The graph as a picture, by command: whole, and readable without our typeface."""

from __future__ import annotations

import shutil
from pathlib import Path
from xml.etree import ElementTree

from PyQt6.QtGui import QImage

from tests.desk.case import DeskCase
from yarn_puppet.cli import main
from yarn_puppet.core.formats.puppet_file import load_puppet, save_puppet
from yarn_puppet.core.model.starter import new_puppet
from yarn_puppet.demo import DEMO_FOLDER


class GraphPicture(DeskCase):
    file = None

    def saved(self, name: str, puppet: str = "lamplighter.puppet.json") -> Path:
        out = self.folder / name
        self.assertEqual(main(["picture", str(DEMO_FOLDER / puppet), "--out", str(out)]), 0)
        return out

    def test_an_svg_names_every_state_and_every_condition(self) -> None:
        texts = {each.text for each in ElementTree.parse(self.saved("it.svg")).iter(
            "{http://www.w3.org/2000/svg}text")}
        puppet = load_puppet(DEMO_FOLDER / "lamplighter.puppet.json")
        for state in puppet.states:
            self.assertIn(state.name, texts)
        self.assertIn("Light 1  4 → Light 2", texts)
        self.assertIn("tap attack + cancel window", texts)
        self.assertFalse(any("dropped here" in (text or "") for text in texts),
                         "nothing of the hands is on it")

    def test_the_same_puppet_gives_the_same_picture(self) -> None:
        self.assertEqual(self.saved("one.svg").read_bytes(), self.saved("two.svg").read_bytes())

    def test_a_png_is_as_large_as_the_graph(self) -> None:
        small = QImage(str(self.saved("small.png", "first_steps.puppet.json")))
        large = QImage(str(self.saved("large.png")))
        self.assertEqual(small.width(), large.width())
        self.assertGreater(large.height(), small.height())

    def test_what_cannot_be_is_said_and_an_empty_puppet_is_a_picture_too(self) -> None:
        file = str(DEMO_FOLDER / "first_steps.puppet.json")
        self.assertEqual(main(["picture", file, "--out", str(self.folder / "it.bmp")]), 2)
        self.assertEqual(main(["picture", str(self.folder / "gone"), "--out",
                               str(self.folder / "it.svg")]), 2)
        save_puppet(new_puppet(), self.folder / "new.puppet.json")
        shutil.rmtree(self.folder / "art", ignore_errors=True)
        out = str(self.folder / "n.svg")
        self.assertEqual(main(["picture", str(self.folder / "new.puppet.json"), "--out", out]), 0)
