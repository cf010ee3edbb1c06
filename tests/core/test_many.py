"""A small share of the long runs: files spoilt in every way, programs killed in the middle of
saving.

`python -m tests.many_files` and `python -m tests.many_saves` do it as often as one likes.
"""

from __future__ import annotations

import random

from tests import many_files, many_saves
from tests.helpers import Case


class Many(Case):
    def test_spoilt_files_are_read_or_refused_in_one_line(self) -> None:
        seed = random.randrange(1 << 30)
        with self.subTest(seed=seed):
            counts, _ = many_files.run(600, seed)
        self.assertEqual(sum(counts.values()), 600)
        for name in many_files.READERS:
            self.assertGreater(counts[f"{name} read"], 0, "some are still what they are")
            self.assertGreater(counts[f"{name} refused"], 0)

    def test_kills_while_saving_leave_whole_files(self) -> None:
        within, _ = many_saves.run(12, random.randrange(1 << 30))
        self.assertGreater(within, 0, "some fell into the middle of a save")
