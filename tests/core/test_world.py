"""Each rule of docs/world.md, in exact ticks, at 30, 60 and 240 Hz."""

from __future__ import annotations

from math import sqrt

import msgspec
from msgspec.structs import replace

from tests.helpers import Case
from yarn_puppet.core.booth.body import FREE, Body, Moving, Wish
from yarn_puppet.core.booth.mover import at_start, move, settled
from yarn_puppet.core.booth.senses import SENSES, reported_senses
from yarn_puppet.core.formats.booth_file import booth_from
from yarn_puppet.core.formats.errors import FileProblem
from yarn_puppet.core.model.edits.worlds import start_moved
from yarn_puppet.core.model.mover import Mover
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.model.world import TILE, World, Zone
from yarn_puppet.core.snags.check import check

RATES = (30, 60, 240)
RIGHT, LEFT, UP, DOWN = Wish(1.0), Wish(-1.0), Wish(up=1.0), Wish(up=-1.0)
JUMP = Wish(jump=True, held=True)
HELD = Wish(held=True)


def world(*rows: str, at: tuple[float, float] = (1.5, 0), **values: object) -> World:
    """A world of these rows; the start is given in tiles, its row is that it stands in."""
    made = World("w", tuple(rows), at[0] * TILE, (at[1] + 1) * TILE)
    return replace(made, **values)


def go(
    where: World, mover: Mover, asked: list[tuple[Wish, float]], rate: int, moving: Moving = FREE
) -> list[Body]:
    """The body after each tick; each wish is held for so many seconds, its calls fire in the first
    tick."""
    body, found = at_start(where, mover), []
    for wish, seconds in asked:
        for number in range(round(seconds * rate)):
            once = wish if number == 0 else wish._replace(jump=False, drop=False, pull_up=False)
            body = move(where, mover, body, once, moving, 1 / rate)
            found.append(body)
    return found


def sensed(where: World, mover: Mover, body: Body) -> dict[str, object]:
    """What the world reports of a body."""
    return dict(zip(list(SENSES)[2:],
                    reported_senses(where, mover, body, 0.0, 0, (False, False, False)),
                    strict=True))


OPEN = (*["." * 60] * 11, "#" * 60)
TALL = world(*OPEN, at=(10.5, 10))


class AtEveryRate(Case):
    """What must not depend on how many ticks there are in a second."""

    def test_a_jump_is_as_high_as_its_numbers_say(self) -> None:
        mover = Mover(jump_speed=300.0, gravity=900.0)
        for rate in RATES:
            bodies = go(TALL, mover, [(JUMP, 1.0)], rate)
            # A tick may not fall on the top of the curve itself.
            self.assertAlmostEqual(176 - min(body.y for body in bodies), 50.0,
                                   delta=900 / rate**2 / 2)
            stood = next(number for number, body in enumerate(bodies) if number and body.grounded)
            self.assertAlmostEqual((stood + 1) / rate, 2 / 3, delta=1.01 / rate)

    def test_a_jump_that_is_held_is_carried_further_and_no_longer_than_it_may(self) -> None:
        mover = Mover(jump_speed=300.0, gravity=900.0, carry=0.1)
        for rate in RATES:
            held = go(TALL, mover, [(JUMP, 1.0)], rate)
            self.assertAlmostEqual(176 - min(body.y for body in held), 80.0,
                                   delta=900 / rate**2 / 2)
            tapped = go(TALL, mover, [(Wish(jump=True), 1.0)], rate)
            self.assertLess(176 - min(body.y for body in tapped),
                            80.0 - 300 * (0.1 - 1.01 / rate) + 0.2)

    def test_walking_a_second_leads_as_far(self) -> None:
        ends = [go(TALL, Mover(), [(RIGHT, 1.0)], rate)[-1].x for rate in RATES]
        # 90 px/s reached after 0.15 s.
        for end in ends:
            self.assertAlmostEqual(end, 168 + 90 - 90 * 0.15 / 2, delta=0.5)

    def test_a_fall_is_limited_and_as_long(self) -> None:
        pit = world(*["." * 20] * 60, "#" * 20, at=(5.5, 0))
        for rate in RATES:
            bodies = go(pit, Mover(), [(Wish(), 3.0)], rate)
            self.assertEqual(max(body.vy for body in bodies), 420.0)
            landed = next(number for number, body in enumerate(bodies) if body.grounded)
            # 98 pixels until 420 px/s, the rest of 944 at that speed.
            self.assertAlmostEqual((landed + 1) / rate, 420 / 900 + (944 - 98) / 420,
                                   delta=1.01 / rate)

    def test_a_corner_of_some_pixels_is_forgiven_and_one_more_is_not(self) -> None:
        for rate in RATES:
            for over, free in ((4.0, True), (5.0, False)):
                low = world("....", "....", "....", "#...", "....", "....", "....", "####",
                            at=(0, 6),
                            start_x=16 + 8 - over)
                bodies = go(low, Mover(corner=4.0), [(JUMP, 0.4)], rate)
                self.assertEqual(min(body.y for body in bodies) < 64 + 44, free, (rate, over))
                self.assertEqual(any(body.bumped for body in bodies), not free)


class Planks(Case):
    LOFT = world("." * 10, "." * 10, "." * 10, "." * 10, "..====....", "." * 10, "." * 10, "#" * 10,
                 at=(3.5, 6))

    def test_passed_from_below_and_stood_on_from_above(self) -> None:
        for rate in RATES:
            bodies = go(self.LOFT, Mover(jump_speed=330.0), [(JUMP, 1.5)], rate)
            self.assertEqual((bodies[-1].y, bodies[-1].grounded), (64.0, True))
            self.assertFalse(any(body.bumped for body in bodies))

    def test_dropped_through_by_down_and_jump_and_by_the_call(self) -> None:
        for rate in RATES:
            for drop in (Wish(up=-1.0, jump=True), Wish(drop=True)):
                bodies = go(replace(self.LOFT, start_y=64.0), Mover(), [(drop, 1.0)], rate)
                self.assertEqual((bodies[-1].y, bodies[-1].grounded), (112.0, True), (rate, drop))
                self.assertLessEqual(min(body.vy for body in bodies), 900 / rate)
                self.assertGreaterEqual(min(body.vy for body in bodies), 0.0)

    def test_bricks_are_not_dropped_through_it_jumps(self) -> None:
        bodies = go(TALL, Mover(), [(Wish(up=-1.0, jump=True), 0.2)], 60)
        self.assertLess(bodies[0].vy, 0)


class Edges(Case):
    CLIFF = world("." * 20, "." * 20, "." * 20, "." * 20, "#" * 5 + "." * 15, *["." * 20] * 20,
                  at=(3.5, 3))

    def test_grace_is_as_long_after_an_edge_at_every_rate(self) -> None:
        mover = Mover(grace=0.1)
        for rate in RATES:
            bodies = go(self.CLIFF, mover, [(RIGHT, 1.0)], rate)
            footing = [sensed(self.CLIFF, mover, body)["footing"] for body in bodies]
            grounded = [body.grounded for body in bodies]
            self.assertEqual(sum(footing) - sum(grounded), round(0.1 * rate))
            off = grounded.index(False)
            late = move(self.CLIFF, mover, bodies[off + round(0.1 * rate) - 1],
                        Wish(1.0, jump=True), FREE, 1 / rate)
            self.assertLess(late.vy, 0)
            too_late = move(self.CLIFF, mover, bodies[off + round(0.1 * rate)],
                            Wish(1.0, jump=True), FREE, 1 / rate)
            self.assertGreater(too_late.vy, 0)

    def test_a_jump_uses_the_grace_up(self) -> None:
        mover = Mover(grace=0.5)
        bodies = go(TALL, mover, [(JUMP, 0.1), (JUMP, 0.1)], 60)
        self.assertEqual([body.vy for body in bodies[6:8]], [-300 + 15 * 7, -300 + 15 * 8])


class Slopes(Case):
    HILL = world("." * 16, "." * 16, "." * 16, "." * 16, ".....r##f.......", "#" * 16, at=(2.5, 3))
    GENTLE = world("." * 16, "." * 16, "." * 16, "." * 16, "....ab###cd.....", "#" * 16,
                   at=(1.5, 4))

    def test_walked_over_without_a_tick_in_the_air(self) -> None:
        for rate in RATES:
            for hill in (self.HILL, self.GENTLE):
                start = replace(hill, start_x=24.0, start_y=80.0)
                bodies = go(start, Mover(), [(RIGHT, 2.4)], rate)
                self.assertTrue(all(body.grounded for body in bodies))
                self.assertEqual(min(body.y for body in bodies), 64.0)
                self.assertEqual((bodies[-1].y, bodies[-1].on_slope), (80.0, False))
                self.assertTrue(any(body.on_slope for body in bodies))

    def test_too_steep_is_a_wall_from_below_and_slid_down_from_above(self) -> None:
        mover = Mover(steepest=40.0)
        start = replace(self.HILL, start_x=24.0, start_y=80.0)
        self.assertEqual(go(start, mover, [(RIGHT, 2.0)], 60)[-1].y, 80.0)
        bodies = go(replace(self.HILL, start_x=120.0, start_y=64.0), mover,
                    [(RIGHT, 0.3), (Wish(), 1.0)], 60)
        self.assertTrue(any(body.on_slope and not body.grounded for body in bodies))
        self.assertEqual((bodies[-1].y, bodies[-1].grounded), (80.0, True))
        self.assertTrue(go(self.GENTLE, mover, [(RIGHT, 1.0)], 60)[-1].y < 80.0)

    def test_stood_on_without_creeping_down(self) -> None:
        bodies = go(replace(self.HILL, start_x=88.0, start_y=70.0), Mover(), [(Wish(), 1.0)], 60)
        self.assertEqual({body.x for body in bodies}, {88.0})


class Ladders(Case):
    SHAFT = world("......", "......", "......", "###H##", "...H..", "...H..", "...H..", "...H..",
                  "######", at=(3.5, 7))
    ON = Moving(mode="ladder")

    def test_climbed_to_its_top_and_stood_on(self) -> None:
        for rate in RATES:
            bodies = go(self.SHAFT, Mover(climb_speed=60.0), [(UP, 2.0)], rate, self.ON)
            self.assertEqual((bodies[-1].x, bodies[-1].y, bodies[-1].grounded), (56.0, 48.0, True))
            # 80 pixels at 60 px/s.
            top = next(number for number, body in enumerate(bodies) if body.y == 48.0)
            self.assertAlmostEqual((top + 1) / rate, 80 / 60, delta=1.01 / rate)

    def test_climbed_down_through_its_own_top_to_the_floor(self) -> None:
        for rate in RATES:
            bodies = go(replace(self.SHAFT, start_x=56.0, start_y=48.0), Mover(), [(DOWN, 2.0)],
                        rate, self.ON)
            self.assertEqual((bodies[-1].y, bodies[-1].grounded), (128.0, True))

    def test_from_its_foot_and_its_top_it_can_be_walked_away_from(self) -> None:
        for y in (48.0, 128.0):
            bodies = go(replace(self.SHAFT, start_x=56.0, start_y=y), Mover(), [(LEFT, 0.4)], 60,
                        self.ON)
            self.assertLess(bodies[-1].x, 40.0)
        half = go(self.SHAFT, Mover(), [(UP, 0.5), (LEFT, 0.4)], 60, self.ON)
        self.assertEqual((half[-1].x, half[-1].mode), (56.0, "ladder"))

    def test_without_the_while_rule_it_is_scenery(self) -> None:
        self.assertEqual(go(self.SHAFT, Mover(), [(UP, 1.0)], 60)[-1].y, 128.0)

    def test_what_is_sensed_along_it(self) -> None:
        mover = Mover()
        body = at_start(self.SHAFT, mover)
        for y, on, above, grounded in ((128.0, True, True, True), (80.0, True, True, False),
                                       (60.0, True, False, False),
                                       (48.0, True, False, True)):
            found = sensed(self.SHAFT, mover, body._replace(x=56.0, y=y, grounded=grounded))
            self.assertEqual((found["on_ladder"], found["ladder_above"]), (on, above), y)

    def test_locked_it_holds_still(self) -> None:
        bodies = go(self.SHAFT, Mover(), [(UP, 0.5)], 60, self.ON._replace(locked=True))
        self.assertEqual(bodies[-1].y, 128.0)


class Ledges(Case):
    WALL = world(*["." * 12] * 4, *["........####"] * 6, "#" * 12, at=(7.0, 1))
    HANG = Moving(mode="ledge")

    def test_a_fall_past_a_corner_is_felt_and_held_at_every_rate(self) -> None:
        for rate in RATES:
            for speed in (420.0, 3000.0):
                mover = Mover(fall_speed=speed, gravity=4000.0)
                start = replace(self.WALL, start_x=118.0, start_y=80.0)
                bodies = go(start, mover, [(RIGHT, 1.0)], rate, self.HANG)
                self.assertEqual((bodies[-1].x, bodies[-1].y, bodies[-1].mode),
                                 (118.0, 64 + 42.0, "ledge"),
                                 (rate, speed))
                self.assertFalse(bodies[-1].blocked)

    def test_pulled_up_it_stands_on_the_edge_where_there_is_room(self) -> None:
        start = replace(self.WALL, start_x=118.0, start_y=80.0)
        bodies = go(start, Mover(), [(RIGHT, 1.0), (Wish(pull_up=True), 0.1)], 60, self.HANG)
        self.assertEqual((bodies[-1].x, bodies[-1].y, bodies[-1].grounded), (136.0, 64.0, True))
        low = replace(start, start_y=92.0,
                      rows=("." * 12, "." * 12, "........####", *start.rows[3:]))
        bodies = go(low, Mover(), [(RIGHT, 1.0), (Wish(pull_up=True), 0.1)], 60, self.HANG)
        self.assertEqual((bodies[-1].y, bodies[-1].mode), (106.0, "ledge"))

    def test_let_go_it_is_not_felt_again_until_out_of_reach(self) -> None:
        start = replace(self.WALL, start_x=118.0, start_y=80.0)
        bodies = go(start, Mover(), [(RIGHT, 1.0), (Wish(drop=True), 0.5)], 60, self.HANG)
        self.assertEqual((bodies[-1].y, bodies[-1].grounded), (160.0, True))

    def test_a_barred_ledge_is_none(self) -> None:
        start = replace(self.WALL, start_x=118.0, start_y=80.0, barred=((8, 4, -1),))
        self.assertTrue(go(start, Mover(), [(RIGHT, 1.0)], 60, self.HANG)[-1].grounded)

    def test_planks_are_held_from_and_shimmied_along_to_their_end(self) -> None:
        gutter = world(*["." * 14] * 4, "...=======....", *["." * 14] * 6, "#" * 14, at=(5.5, 3),
                       start_y=90.0)
        for rate in RATES:
            bodies = go(gutter, Mover(shimmy_speed=40.0), [(Wish(), 0.2), (RIGHT, 3.0)], rate,
                        self.HANG)
            self.assertEqual((bodies[-1].y, bodies[-1].mode, bodies[-1].blocked),
                             (64 + 42.0, "ledge", True))
            self.assertAlmostEqual(bodies[-1].x, 160.0, delta=0.02)

    def test_which_side_it_is_on_is_said(self) -> None:
        start = replace(self.WALL, start_x=118.0, start_y=80.0)
        found = sensed(start, Mover(), go(start, Mover(), [(RIGHT, 1.0)], 60, self.HANG)[-1])
        self.assertEqual((found["at_ledge"], found["ledge_side"]), (True, "right"))


class Water(Case):
    POOL = world(*["." * 12] * 3, *["###......###"] * 8, "#" * 12, at=(5.5, 9),
                 wet=("", "", "", *["...~~~~~~..."] * 8))
    SWIM = Moving(mode="water")

    def test_it_rises_to_the_surface_and_floats_there(self) -> None:
        for rate in RATES:
            bodies = go(self.POOL, Mover(), [(Wish(), 6.0)], rate, self.SWIM)
            self.assertAlmostEqual(bodies[-1].y, 48 + 0.7 * 44, delta=0.01)
            self.assertEqual((bodies[-1].vy, bodies[-1].mode), (0.0, "water"))

    def test_it_swims_every_way_at_its_speed(self) -> None:
        down = go(replace(self.POOL, start_y=100.0), Mover(), [(DOWN, 0.5)], 60, self.SWIM)
        self.assertEqual(down[-1].vy, 70.0)
        aside = go(self.POOL, Mover(), [(RIGHT, 0.3)], 60, self.SWIM)
        self.assertEqual(aside[-1].vx, 70.0)

    def test_from_the_surface_it_may_jump_from_the_deep_it_may_not(self) -> None:
        floating = go(self.POOL, Mover(), [(Wish(), 6.0)], 60, self.SWIM)[-1]
        self.assertLess(move(self.POOL, Mover(), floating, JUMP, self.SWIM, 1 / 60).vy, -200)
        deep = go(replace(self.POOL, start_y=150.0), Mover(), [(Wish(), 0.1)], 60, self.SWIM)[-1]
        self.assertGreater(move(self.POOL, Mover(), deep, JUMP, self.SWIM, 1 / 60).vy, -100)

    def test_what_does_not_swim_sinks_slowly(self) -> None:
        bodies = go(replace(self.POOL, start_y=40.0), Mover(), [(Wish(), 3.0)], 60)
        self.assertEqual((bodies[-1].y, bodies[-1].grounded), (176.0, True))
        self.assertEqual(max(body.vy for body in bodies[60:100]), 70.0)

    def test_depth_and_being_in_it(self) -> None:
        body = at_start(self.POOL, Mover())
        for y, depth, inside in ((48.0, 0.0, False), (69.0, 21.0, False), (70.0, 22.0, True),
                                 (170.0, 122.0, True)):
            found = sensed(self.POOL, Mover(), body._replace(x=88.0, y=y))
            self.assertEqual((found["water_depth"], found["in_water"]), (depth, inside))


class Low(Case):
    TUNNEL = world("." * 12, "......######", "......######", "." * 12, "." * 12, "#" * 12,
                   at=(4.0, 4))

    def test_it_goes_under_a_low_ceiling_and_stays_low_until_there_is_room(self) -> None:
        for rate in RATES:
            low = go(self.TUNNEL, Mover(), [(RIGHT, 1.0)], rate, Moving(height=0.6))[-1]
            self.assertGreater(low.x, 120)
            stays = move(self.TUNNEL, Mover(), low, Wish(), FREE, 1 / rate)
            self.assertEqual(stays.low, 0.6)
            out = stays
            for _ in range(rate):
                out = move(self.TUNNEL, Mover(), out, LEFT, FREE, 1 / rate)
            self.assertEqual(out.low, 1.0)
            self.assertLessEqual(out.x, 88.0)

    def test_headroom_is_counted_from_its_full_height(self) -> None:
        body = at_start(self.TUNNEL, Mover())
        self.assertEqual(sensed(self.TUNNEL, Mover(), body)["headroom"], 160.0)
        self.assertEqual(sensed(self.TUNNEL, Mover(), body._replace(x=130.0, low=0.6))["headroom"],
                         32 - 44)


class FromAbove(Case):
    YARD = world("#" * 10, "#........#", "#...#....#", "#........#", "#........#", "#" * 10,
                 at=(2.5, 3),
                 seen="from above")

    def test_aslant_it_is_no_faster(self) -> None:
        for rate in RATES:
            body = go(self.YARD, Mover(), [(Wish(1.0, -1.0), 0.3)], rate)[-1]
            self.assertAlmostEqual(sqrt(body.vx**2 + body.vy**2), 90.0)

    def test_from_cell_to_cell_exactly(self) -> None:
        mover = Mover(goes="by cells", walk_speed=64.0)
        for rate in RATES:
            bodies = go(self.YARD, mover, [(RIGHT, 0.2), (Wish(), 1.0)], rate)
            self.assertEqual((bodies[-1].x, bodies[-1].y, bodies[-1].vx), (56.0, 64.0, 0.0))
            self.assertAlmostEqual(bodies[round(0.25 * rate) - 1].x, 56.0)
            self.assertEqual(bodies[round(0.26 * rate)].x, 56.0)

    def test_what_blocks_the_way_is_said_and_not_entered(self) -> None:
        mover = Mover(goes="by cells")
        bodies = go(replace(self.YARD, start_x=56.0, start_y=48.0), mover, [(RIGHT, 0.5)], 60)
        self.assertEqual((bodies[-1].x, bodies[-1].blocked), (56.0, True))

    def test_a_step_that_was_begun_is_ended_while_movement_is_locked(self) -> None:
        mover = Mover(goes="by cells")
        body = go(self.YARD, mover, [(RIGHT, 0.05)], 60)[-1]
        for _ in range(60):
            body = move(self.YARD, mover, body, RIGHT, Moving(locked=True), 1 / 60)
        self.assertEqual((body.x, body.cell), (56.0, None))

    def test_a_start_between_cells_goes_to_the_nearest(self) -> None:
        body = go(replace(self.YARD, start_x=43.0, start_y=60.0), Mover(goes="by cells"),
                  [(Wish(), 1.0)], 60)[-1]
        self.assertEqual((body.x, body.y), (40.0, 64.0))


class Odd(Case):
    def test_the_ground_painted_away_is_fallen_through(self) -> None:
        body = at_start(TALL, Mover())
        gone = replace(TALL, rows=(*OPEN[:-1], "." * 60))
        self.assertFalse(settled(gone, Mover(), body).grounded)

    def test_painted_over_it_gets_out_upwards(self) -> None:
        body = at_start(TALL, Mover())
        over = replace(TALL, rows=(*OPEN[:-2], "#" * 60, "#" * 60))
        self.assertEqual(settled(over, Mover(), body).y, 160.0)

    def test_a_start_outside_of_the_world_is_refused_and_the_hand_cannot_put_it_there(self) -> None:
        inside = world("....", "....", "####", at=(1.5, 1))
        for x, y in ((-1.0, 20.0), (65.0, 20.0), (20.0, 49.0), (20.0, -0.5)):
            raw = msgspec.json.encode(replace(inside, start_x=x, start_y=y))
            with self.assertRaisesRegex(FileProblem,
                                        "start inside the world, 0 to 64 across and 0 to 48 down"):
                booth_from(raw)
            moved = start_moved(inside, x, y)
            self.assertEqual(booth_from(msgspec.json.encode(moved)), moved)

    def test_by_cells_what_is_wider_is_as_wide_as_a_cell_and_a_snag(self) -> None:
        lane = replace(world("#######", "#.....#", "#######", at=(1.5, 2)), seen="from above",
                       start_x=24.0,
                       start_y=32.0)
        wide = replace(Mover(width=30.0), goes="by cells")  # type: ignore[arg-type]
        bodies = go(lane, wide, [(RIGHT, 1.2)], 60)
        self.assertEqual((bodies[-1].x, bodies[-1].y), (5.5 * 16, 32.0))
        self.assertIn("goes by cells of 16",
                      " ".join(snag.why for snag in check(Puppet(mover=wide))))

    def test_zones_have_names(self) -> None:
        named = replace(TALL, zones=(Zone("warm chimney", 9, 9, 3, 2), Zone("all", 0, 0, 60, 12)))
        body = at_start(named, Mover())
        self.assertEqual(sensed(named, Mover(), body)["zone"], "warm chimney")
        self.assertEqual(sensed(named, Mover(), body._replace(x=300.0))["zone"], "all")

    def test_a_corner_is_gone_round_from_above(self) -> None:
        yard = replace(FromAbove.YARD, start_x=40.0, start_y=36.0)
        held = go(yard, Mover(), [(RIGHT, 1.0)], 60)[-1]
        self.assertEqual((held.x, held.blocked), (56.0, True))
        self.assertGreater(go(yard, Mover(corner=5.0), [(RIGHT, 1.0)], 60)[-1].x, 80.0)
