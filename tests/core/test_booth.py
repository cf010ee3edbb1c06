"""The booth: walking, walls, jumping, hits."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as some
from msgspec.structs import replace

from tests.core.test_demo_promises import presses
from tests.helpers import Case, Press, demo_puppet, demo_setup, run
from yarn_puppet.core.booth.body import Body, Moving, Wish
from yarn_puppet.core.booth.booth_state import BoothState
from yarn_puppet.core.booth.mover import move
from yarn_puppet.core.booth.senses import SENSES, reported_senses
from yarn_puppet.core.model.clips import Box
from yarn_puppet.core.model.edits.frames.boxes import box_added
from yarn_puppet.core.model.mover import Mover
from yarn_puppet.core.model.starter import BOOTH_SENSES, MORE_SENSES
from yarn_puppet.core.model.world import TILE, Dummy, World
from yarn_puppet.core.pose.place import placed
from yarn_puppet.core.takes.run import Record, Setup, set_up

FLAT = World("Flat", ("." * 40, "." * 40, "." * 40, "." * 40, "#" * 40), 100.0, 64.0)
RATE = 60


def booth(record: Record) -> BoothState:
    """The world after a tick."""
    assert record.after.booth is not None
    return record.after.booth


def walked(
    wanted: list[int], mover: Mover | None = None, world: World = FLAT, **values: float
) -> list[Body]:
    """The body after each tick of walking in the wanted directions."""
    body, found = Body(world.start_x, world.start_y, 0.0, 0.0, True, False, 0.0), []
    for each in wanted:
        body = move(world, mover or Mover(), body, Wish(each),
                    Moving(values.get("factor", 1.0), locked=bool(values.get("locked"))), 1 / RATE)
        found.append(body)
    return found


class Walking(Case):
    def test_speed_rises_by_the_acceleration_to_the_walk_speed_and_falls_by_the_deceleration(
        self,
    ) -> None:
        bodies = walked([1] * 30 + [0] * 30)
        speeds = [body.vx for body in bodies]
        self.assertAlmostEqual(speeds[0], 600 / RATE)
        self.assertEqual(max(speeds), 90.0)
        self.assertAlmostEqual(speeds[30], 90 - 900 / RATE)
        self.assertEqual(speeds[-1], 0.0)

    def test_locked_on_the_ground_it_stands_at_once(self) -> None:
        body = walked([1] * 30)[-1]
        locked = move(FLAT, Mover(), body, Wish(1), Moving(locked=True), 1 / RATE)
        self.assertEqual((locked.vx, locked.x), (0.0, body.x))

    def test_a_wall_blocks_and_is_sensed_only_while_pushed(self) -> None:
        world = replace(FLAT, rows=(*["." * 10 + "#" + "." * 29] * 4, "#" * 40))
        bodies = walked([1] * 60 + [0], world=world)
        self.assertEqual(bodies[59].x, 10 * TILE - Mover().width / 2)
        self.assertEqual((bodies[59].blocked, bodies[59].vx, bodies[60].blocked),
                         (True, 0.0, False))

    def test_off_an_edge_it_falls_at_most_as_fast_as_it_may(self) -> None:
        world = World("Drop", ("." * 20, "#" * 5 + "." * 15, *["." * 20] * 200), 60.0, 16.0)
        bodies = walked([1] * 120, world=world)
        self.assertEqual(max(body.vy for body in bodies), Mover().fall_speed)
        self.assertGreater(bodies[-1].fall_time, 1.0)
        self.assertFalse(bodies[-1].grounded)

    @given(presses())
    def test_it_is_never_inside_a_wall_and_grounded_means_standing(
        self, pressed: list[Press]
    ) -> None:
        setup = demo_setup()
        assert setup.world is not None
        mover = setup.puppet.mover
        for record in run(setup, pressed, 300):
            body = booth(record).body
            for across in (-mover.width / 2 + 0.01, 0.0, mover.width / 2 - 0.01):
                for up in (0.01, mover.height / 2, mover.height - 0.5):
                    tile = setup.world.tile(int((body.x + across) // TILE),
                                            int((body.y - up) // TILE))
                    self.assertNotEqual(tile, "#", f"at {body}")
            if body.grounded:
                self.assertEqual(body.y % TILE, 0)


class Jumping(Case):
    def test_the_height_is_that_of_the_numbers(self) -> None:
        records = run(demo_setup(), [(10, 14, "jump")], 80)
        heights = [176.0 - booth(record).body.y for record in records]
        mover = demo_puppet().mover
        # Without drag a body rises v² / 2g; ticks are steps of that curve.
        expected = mover.jump_speed**2 / (2 * mover.gravity)
        self.assertAlmostEqual(max(heights), expected, delta=mover.jump_speed / RATE)
        self.assertEqual(heights[-1], 0.0)

    def test_the_graph_decides_when_a_jump_begins(self) -> None:
        setup = demo_setup()
        silent = replace(setup.puppet, clips=tuple(
            replace(clip, moments=()) if clip.id == "rise" else clip
            for clip in setup.puppet.clips))
        records = run(set_up(silent, setup.world), [(10, 14, "jump")], 60)
        self.assertEqual({booth(record).body.y for record in records}, {176.0})

    def test_fallen_out_of_the_world_it_starts_again(self) -> None:
        pit = World("Pit", ("." * 20,), 100.0, 0.0)
        records = run(set_up(demo_puppet(), pit), [], 240)
        self.assertLess(max(booth(record).body.y for record in records), 500)


class Senses(Case):
    def test_they_say_what_the_body_does(self) -> None:
        body = Body(100.0, 40.0, -30.0, -120.0, False, True, 0.5)
        news = (True, False, True)
        found = dict(zip(SENSES, (-1, 0, *reported_senses(FLAT, Mover(), body, 10800.0, 3, news)),
                         strict=True))
        self.assertEqual(found, {
            "move_x": -1, "move_y": 0, "grounded": False, "speed": 30.0, "vx": -30.0, "vy": 120.0,
            "blocked": True,
            "fall_time": 0.5, "footing": False, "on_slope": False, "on_ladder": False,
            "ladder_above": False,
            "at_ledge": False, "ledge_side": "none", "in_water": False, "water_depth": 0.0,
            "headroom": 160.0,
            "bumped_head": False, "zone": "", "yaw_rate": 10800.0, "health": 3, "hurt": True,
            "guarded": False,
            "hit_landed": True,
        })

    def test_every_one_of_them_can_be_added_to_a_puppet(self) -> None:
        offered = {each.id: each.type for each in (*BOOTH_SENSES, *MORE_SENSES)}
        self.assertEqual(offered, SENSES)


class Hits(Case):
    def at(self, *dummies: float) -> Setup:
        """Pell on flat ground among dummies."""
        world = replace(FLAT, dummies=tuple(Dummy(f"d{x:g}", x, 64.0, 18.0, 40.0) for x in dummies))
        return set_up(demo_puppet(), world)

    def hits(self, setup: Setup, pressed: list[Press], ticks: int = 200) -> list[tuple[int, int]]:
        return [(record.report.tick, hit.dummy) for record in run(setup, pressed, ticks)
                for hit in booth(record).hits]

    def test_one_swing_hits_every_dummy_in_reach_once(self) -> None:
        self.assertEqual(self.hits(self.at(125.0, 135.0, 300.0), [(5, 8, "attack")]),
                         [(17, 0), (17, 1)])

    def test_the_next_swing_hits_again(self) -> None:
        found = self.hits(self.at(125.0), [(5, 8, "attack"), (60, 63, "attack")])
        self.assertEqual([tick for tick, _ in found], [17, 72])

    def test_behind_the_back_is_out_of_reach_until_it_turns(self) -> None:
        self.assertEqual(self.hits(self.at(60.0), [(5, 8, "attack")]), [])
        self.assertEqual(len(self.hits(self.at(60.0), [(0, 3, "left"), (20, 23, "attack")])), 1)

    def test_a_box_of_another_window_does_not_hit(self) -> None:
        setup = self.at(125.0)
        puppet = setup.puppet
        for index in (2, 3, 4):
            clip = puppet.clip("light_swing")
            assert clip is not None
            kept = tuple(box for box in clip.frames[index].boxes if box.kind == "body")
            frames = (*clip.frames[:index], replace(clip.frames[index], boxes=kept),
                      *clip.frames[index + 1:])
            puppet = replace(puppet,
                             clips=tuple(replace(each, frames=frames) if each is clip else each
                                                 for each in puppet.clips))
            puppet = box_added(puppet, "light_swing", index, Box("hit", 54, 12, 40, 40, "lantern"))
        self.assertEqual(self.hits(set_up(puppet, setup.world), [(5, 8, "attack")]), [])


class Placing(Case):
    @given(some.floats(-50, 150), some.floats(-50, 150), some.sampled_from(["right", "left"]))
    def test_mirroring_is_about_the_pivot_and_undoes_itself(
        self, x: float, y: float, facing: str
    ) -> None:
        here = placed(demo_puppet(), "light_swing", 3, facing, 200.0, 100.0)
        other = placed(demo_puppet(), "light_swing", 3, "left" if facing == "right" else "right",
                       200.0, 100.0)
        assert here is not None and other is not None
        (ax, ay), (bx, by) = here.point(x, y), other.point(x, y)
        self.assertAlmostEqual(ax - 200.0, 200.0 - bx)
        self.assertEqual(ay, by)
        self.assertEqual(here.point(44.0, 60.0), (200.0, 100.0))

    def test_a_frame_that_is_not_there_is_nothing(self) -> None:
        self.assertIsNone(placed(demo_puppet(), "walk", 99, "right", 0, 0))
        self.assertIsNone(placed(demo_puppet(), "gone", 0, "right", 0, 0))
