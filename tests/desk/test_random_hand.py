"""A hasty user at random, for a while; `python -m tests.random_hand` goes on for longer."""

from __future__ import annotations

import shutil

from tests.desk.case import FAULTS, DeskCase
from tests.random_hand import RandomHand
from yarn_puppet.demo import DEMO_FOLDER


class Hasty(DeskCase):
    file = None

    def test_whatever_is_done_the_puppet_is_what_its_file_gives_and_the_run_is_its(self) -> None:
        own = self.folder / "own"
        shutil.copytree(DEMO_FOLDER, own, ignore=shutil.ignore_patterns("make", "__pycache__"))
        for seed, name in ((1, "first_steps"), (2, "gardener")):
            with self.subTest(name):
                self.window.files.drop_edits()
                self.window.files.load(own / f"{name}.puppet.json")
                hand = RandomHand(self.window, self.folder, seed)
                hand.go_on(100)
                hand.undo_all()
                self.assertEqual(FAULTS, [], list(hand.did))
