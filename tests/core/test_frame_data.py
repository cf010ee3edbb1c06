"""Frame data says what a run shows: when the hit window opens, for how long, and when the puppet is free again."""

from __future__ import annotations

import unittest

from msgspec.structs import replace

from tests.helpers import Case, demo_puppet, demo_setup, demo_world, run, state_of
from yarn_puppet.core.engine.compiling.puppets import compile_puppet
from yarn_puppet.core.model.graph import Placed, Spread
from yarn_puppet.core.pose.frame_data import COLUMNS, frame_data, frame_data_rows


class Counted(Case):
    def test_every_number_is_what_a_run_shows(self) -> None:
        puppet = demo_puppet()
        rows = {each.state: each for each in frame_data(puppet, compile_puppet(puppet), demo_world())}
        for state, presses in (("light_swing_state", [(20, 21, "attack")]), ("heavy_slam_state", [(20, 60, "attack")])):
            row, records = rows[state], run(demo_setup(), presses, 140)
            inside = [each.report.tick for each in records if state_of(each) == state]
            hits = [each.report.tick for each in records
                    if any(opened.window.kind == "hit" for opened in each.report.windows)]
            self.assertEqual((hits[0] - inside[0], len(hits)), (row.startup, row.active))
            self.assertEqual((inside[-1] - hits[-1], len(inside)), (row.recovery, row.total))
            self.assertEqual(hits[0] - 20, row.from_control)
            free = inside[-1] + 1 - hits[0] - 1
            self.assertEqual((row.on_hit, row.on_guard), (24 - free, 14 - free))

    def test_a_dummy_that_does_not_say_leaves_the_advantage_open(self) -> None:
        puppet, world = demo_puppet(), demo_world()
        silent = replace(world, dummies=tuple(replace(each, reels=0, reels_guarding=0) for each in world.dummies))
        for row in (*frame_data(puppet, compile_puppet(puppet), silent), *frame_data(puppet, compile_puppet(puppet))):
            self.assertEqual((row.on_hit, row.on_guard), (None, None))
        table = list(frame_data_rows(frame_data(puppet, compile_puppet(puppet), silent)))
        self.assertEqual({len(line) for line in table}, {len(COLUMNS)})
        self.assertEqual(table[1][-2:], ["", ""])

    def test_every_clip_of_a_spread_that_hits_has_a_row(self) -> None:
        puppet = demo_puppet()
        spread = Spread("both", "both", (Placed("light_swing", (0.0,)), Placed("heavy_slam", (180.0,)),
                                         Placed("walk", (90.0,))))
        puppet = replace(puppet, spreads=(spread,), states=tuple(
            replace(each, spread="both") if each.id == "idle_state" else each for each in puppet.states))
        names = [each.name for each in frame_data(puppet, compile_puppet(puppet)) if each.state == "idle_state"]
        self.assertEqual(names, ["Idle · light_swing", "Idle · heavy_slam"])

    def test_a_clip_that_stands_still_has_no_row(self) -> None:
        puppet = demo_puppet()
        puppet = replace(puppet, states=tuple(replace(each, speed=0.0) for each in puppet.states))
        self.assertEqual(frame_data(puppet, compile_puppet(puppet)), ())


if __name__ == "__main__":
    unittest.main()
