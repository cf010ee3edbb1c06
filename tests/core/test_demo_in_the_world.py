"""What Pell does with gutters, ladders, water, long falls and blows, in the booths that ship."""

from __future__ import annotations

from itertools import groupby
from pathlib import Path

from hypothesis import given
from msgspec.structs import replace

from tests.core.test_demo_promises import presses
from tests.helpers import Case, Press, run, state_of
from yarn_puppet.core.formats.booth_file import load_booth
from yarn_puppet.core.formats.puppet_file import load_puppet
from yarn_puppet.core.model.world import TILE
from yarn_puppet.core.takes.run import Record, set_up
from yarn_puppet.demo import DEMO_BOOTH, DEMO_FOLDER, DEMO_PUPPET

PELL = load_puppet(DEMO_PUPPET)
ROOFTOP, CANAL = DEMO_FOLDER / DEMO_BOOTH, DEMO_FOLDER / "canal_steps.booth.json"
PRESSED = ("left", "right", "up", "down", "jump", "attack", "guard", "run", "roll", "lamp")


def played(booth: Path, pressed: list[Press], ticks: int, x: float, row: float) -> list[Record]:
    """A run that starts with the feet on top of a row of tiles."""
    world = replace(load_booth(booth), start_x=x, start_y=row * TILE)
    return run(set_up(PELL, world), pressed, ticks)


def states(records: list[Record]) -> list[str]:
    """The states, in order."""
    return [name.removesuffix("_state")
            for name, _ in groupby(state_of(record) for record in records)]


class InTheWorld(Case):
    def test_hangs_from_a_gutter_shimmies_and_pulls_up(self) -> None:
        records = played(ROOFTOP, [(5, 30, "jump"), (80, 110, "right"), (140, 146, "up")], 200,
                         150.0, 11)
        self.assertEqual(states(records),
                         ["idle", "rise", "fall", "hang", "shimmy", "hang", "pull_up", "idle"])
        booth = records[-1].after.booth
        self.assertEqual(booth and (booth.body.y, booth.body.grounded), (5 * TILE, True))

    def test_drops_from_a_gutter(self) -> None:
        records = played(ROOFTOP, [(5, 30, "jump"), (80, 84, "down")], 140, 150.0, 11)
        self.assertEqual(states(records)[-3:], ["hang", "fall", "idle"])

    def test_climbs_a_ladder_and_slides_down_faster(self) -> None:
        up = played(CANAL, [(5, 150, "up")], 120, 63.5 * TILE, 9)
        self.assertEqual(states(up), ["idle", "climb", "idle"])
        down = played(CANAL, [(5, 60, "down"), (12, 60, "run")], 120, 63.5 * TILE, 5)
        self.assertEqual(states(down)[:4], ["idle", "climb", "slide_down", "idle"])
        times = [sum(state_of(record).startswith(name) for record in taken)
                 for taken, name in ((up, "climb"), (down, "slide"))]
        self.assertLess(times[1], times[0] * 0.7)

    def test_drops_through_the_jetty_floats_swims_and_climbs_out_at_the_ladder(self) -> None:
        pressed = [(5, 40, "down"), (10, 12, "jump"), (60, 260, "right"), (240, 420, "up")]
        records = played(CANAL, pressed, 460, 30 * TILE, 13)
        found = states(records)
        self.assertEqual(found[:5], ["idle", "rise", "fall", "afloat", "swim"])
        self.assertIn("climb", found)
        booth = records[-1].after.booth
        self.assertEqual(booth and booth.body.y, 11 * TILE)

    def test_a_swing_is_not_broken_off_by_water(self) -> None:
        records = played(CANAL, [(6, 9, "attack")], 40, 28.2 * TILE, 18)
        struck = [record for record in records if state_of(record) == "light_swing_state"]
        self.assertEqual(len(struck), 26)

    def test_lands_hard_after_a_long_fall_only(self) -> None:
        self.assertIn("land", states(played(CANAL, [(5, 20, "jump"), (5, 80, "left")], 120,
                                            58.5 * TILE, 4)))
        self.assertNotIn("land", states(played(ROOFTOP, [(5, 30, "jump")], 100, 400.0, 11)))

    def test_is_hurt_where_thatch_strikes_guards_it_and_is_safe_while_rolling(self) -> None:
        near = 940.0
        hurt = played(CANAL, [], 140, near, 9)
        self.assertIn("flinch", states(hurt))
        health = [record.after.booth.health for record in hurt if record.after.booth]
        self.assertEqual((health[0], health[-1]), (20, 19))
        guarded = played(CANAL, [(0, 5, "left"), (10, 140, "guard")], 140, near, 9)
        self.assertNotIn("flinch", states(guarded))
        self.assertTrue(any(blow.how == "guarded" for record in guarded if record.after.booth
                            for blow in record.after.booth.blows))
        rolling = played(CANAL, [(100, 160, "left"), (113, 116, "roll")], 140, near + 8, 9)
        self.assertIn("safe", [blow.how for record in rolling if record.after.booth
                               for blow in record.after.booth.blows])
        self.assertNotIn("flinch", states(rolling))

    def test_struck_in_the_air_it_is_thrown_and_gets_up(self) -> None:
        records = played(CANAL, [(116, 124, "jump")], 260, 938.0, 9)
        self.assertEqual(states(records)[:5], ["idle", "rise", "thrown", "get_up", "idle"])

    def test_crawls_through_the_tunnel_and_does_not_stand_up_in_it(self) -> None:
        pressed = [(2, 5, "down"), (20, 90, "down"), (30, 280, "right"), (200, 204, "down"),
                 (230, 234, "down")]
        records = played(CANAL, pressed, 300, 42 * TILE, 11)
        self.assertEqual(states(records)[:4], ["idle", "crouch", "crawl", "crouch"])
        self.assertEqual(state_of(records[-1]), "crouch_state")

    @given(presses(actions=PRESSED))
    def test_whatever_the_hands_do_it_goes_on_and_nothing_leaks(self, pressed: list[Press]) -> None:
        for booth, x, row in ((ROOFTOP, 150.0, 11), (CANAL, 480.0, 13)):
            for record in played(booth, pressed, 300, x, row):
                mode = next((rule.rule.text
                             for rule in record.report.rules if rule.rule.kind == "mode"), "")
                groups = record.report.layers[0].groups
                wanted = {"ledge": "ledge", "ladder": "ladder", "water": "water", "strike": "water"}
                self.assertEqual(mode, next((wanted[group] for group in groups if group in wanted),
                                            ""))
                self.assertFalse(record.report.stuck)
