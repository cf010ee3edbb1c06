"""Chains of edits of frames, beside a second model written from docs/frames.md."""

from __future__ import annotations

from tests.chains import chained
from tests.depth import some_of
from tests.helpers import Case

CHAINS = 130


class Chains(Case):
    def test_whatever_is_done_to_frames_what_hangs_on_them_stays(self) -> None:
        for seed in some_of(range(CHAINS)):
            self.assertIsNone(chained(seed))
