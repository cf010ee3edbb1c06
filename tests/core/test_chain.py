"""The engine beside the hand-written chain of ifs of the bench: the same in every tick, whatever
the hands do."""

from __future__ import annotations

from hypothesis import given

from bench.chain import Chain
from bench.ticks import named, seen
from tests.core.test_demo_promises import presses
from tests.helpers import Case, Press, demo_setup, run


class SameAsTheChain(Case):
    @given(presses(ticks=280))
    def test_in_every_tick(self, pressed: list[Press]) -> None:
        setup, chain = demo_setup(), Chain()
        for record in run(setup, pressed, 320):
            self.assertEqual(seen(record.report), chain.step(*named(setup, record.inputs)),
                             f"tick {record.report.tick}")
