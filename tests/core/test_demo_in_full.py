"""What Pell in full promises: the combo, running, crawling, the umbrella over walking legs, the
lantern."""

from __future__ import annotations

from itertools import pairwise

from hypothesis import given

from tests.core.test_demo_promises import presses
from tests.helpers import Case, Press, demo_world, entered, run, state_of
from yarn_puppet.core.formats.puppet_file import load_puppet
from yarn_puppet.core.pose.figure import figure, standing
from yarn_puppet.core.takes.controls import Controls
from yarn_puppet.core.takes.run import Record, advance, set_up, start
from yarn_puppet.demo import DEMO_PUPPET

SETUP = set_up(load_puppet(DEMO_PUPPET), demo_world())
SWINGS = ["light_swing_state", "light_swing_2_state", "light_swing_3_state"]


class InFull(Case):
    def swings(self, records: list[Record]) -> list[str]:
        return [taken.target for record in records
                for taken in record.report.taken if taken.target in SWINGS]

    def test_taps_in_time_give_three_swings_and_then_the_first_again(self) -> None:
        taps: list[Press] = [(5 + 20 * number, 8 + 20 * number, "attack") for number in range(3)]
        records = run(SETUP, [*taps, (120, 123, "attack")], 160)
        self.assertEqual(self.swings(records), [*SWINGS, SWINGS[0]])
        steps = [record.report.memos[0] for record in records for taken in record.report.taken
                 if taken.target in SWINGS]
        self.assertEqual(steps, [0, 1, 2, 0])

    def test_one_tap_gives_one_swing_and_the_step_goes_back_by_itself(self) -> None:
        records = run(SETUP, [(5, 8, "attack"), (24, 27, "attack")], 140)
        self.assertEqual(self.swings(records), SWINGS[:2])
        self.assertEqual(records[40].report.memos[0], 1)
        self.assertEqual(records[-1].report.memos[0], 0)

    @given(presses(actions=("attack", "guard", "left", "right", "jump", "down", "run", "lamp")))
    def test_no_tap_gives_two_swings_whatever_the_hands_do(self, pressed: list[Press]) -> None:
        records = run(SETUP, pressed, 300)
        taps = sum(1 for _, _, action in pressed if action == "attack")
        self.assertLessEqual(len(self.swings(records)), taps)
        for record in records:
            for taken in record.report.taken:
                if taken.target in SWINGS:
                    self.assertEqual(len(record.report.used), 1)

    def test_a_tap_crouches_and_gets_up_and_a_second_held_crawls(self) -> None:
        records = run(SETUP, [(5, 9, "down"), (40, 44, "down"), (70, 140, "down")], 150)
        self.assertEqual([state_of(records[tick]) for tick in (20, 60, 129, 130)],
                         ["crouch_state", "idle_state", "idle_state", "crawl_state"])

    def test_running_takes_the_other_clip_of_the_spread_and_eases_the_speed(self) -> None:
        records = run(SETUP, [(0, 120, "right"), (40, 120, "run")], 120)
        clips = [record.report.layers[0].clip for record in records]
        self.assertEqual((clips[35], clips[100]), ("walk", "run"))
        speeds = [record.report.move_speed for record in records[40:60]]
        self.assertEqual(speeds, sorted(speeds))
        self.assertEqual((records[39].report.move_speed, records[80].report.move_speed),
                         (1.0, 1.75))
        changes = [(one, other) for one, other in pairwise(clips) if one != other]
        self.assertEqual(changes[-1:], [("walk", "run")])
        self.assertLessEqual(len(changes), 2, "the spread does not flicker at its border")

    def test_the_umbrella_is_held_at_the_shoulder_over_walking_legs(self) -> None:
        records = run(SETUP, [(0, 90, "right"), (30, 90, "guard")], 90)
        report, booth = records[-1].report, records[-1].after.booth
        assert booth is not None
        drawn = {layer.layer: layer
                 for layer in figure(SETUP.puppet, report, booth.body.x, booth.body.y)}
        self.assertEqual({layer.clip for layer in report.layers if layer.weight},
                         {"walk", "umbrella_arm"})
        stands = standing(SETUP.puppet, report, booth.body.x, booth.body.y)
        held = stands["arms"]
        self.assertEqual((held.x, held.y), stands["body"].anchor("shoulder"))
        self.assertEqual(drawn["arms"].weight, 1.0)
        self.assertEqual(report.move_speed, 0.5)

    def test_the_lantern_is_lit_and_put_out_by_one_key_and_fades(self) -> None:
        records = run(SETUP, [(5, 7, "lamp"), (60, 62, "lamp")], 110)
        weights = [record.report.layers[2].weight for record in records]
        self.assertEqual((weights[4], weights[40], weights[-1]), (0.0, 0.85, 0.0))
        self.assertTrue(0 < weights[6] < 0.85 and 0 < weights[65] < 0.85)

    def test_being_struck_breaks_anything_off_and_is_undone(self) -> None:
        state, records = start(SETUP), []
        for tick in range(80):
            down = frozenset({"attack"}) if 5 <= tick < 8 else frozenset()
            records.append(advance(SETUP, state, Controls(down, (("hurt", tick == 12),))))
            state = records[-1].after
        self.assertEqual(entered(records, "flinch_state"), [12])
        self.assertTrue(records[20].report.safe and records[20].report.lock_movement)
        self.assertEqual((state_of(records[-1]), records[-1].report.safe, records[-1].report.rules),
                         ("idle_state", False, ()))
