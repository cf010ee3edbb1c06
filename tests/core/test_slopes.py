"""Slopes do not hold a walker up: at every width, rate and way, held against a model that knows
only the line."""

from __future__ import annotations

import itertools
from random import Random

from hypothesis import given
from hypothesis import strategies as some

from tests.depth import examples
from tests.helpers import Case
from tests.mirrored_worlds import first_difference, random_trial
from tests.simple_slopes import Hill, Walker, hill_of
from yarn_puppet.core.booth.body import FREE, Body, Wish
from yarn_puppet.core.booth.mover import at_start, move
from yarn_puppet.core.model.mover import Mover
from yarn_puppet.core.model.world import World

NEAR = 0.011
"""What the page allows the feet to be off a slope's floor."""


def walked(hill: World, mover: Mover, rate: int, seconds: float, across: float) -> list[Body]:
    """A body that walks from the start for so long."""
    body = at_start(hill, mover)
    found = [body]
    for _ in range(round(seconds * rate)):
        body = move(hill, mover, body, Wish(across=across), FREE, 1 / rate)
        found.append(body)
    return found


def line_of_tiles(*rows: str) -> World:
    """A world with its start on the lower left."""
    return World(name="hill", rows=rows, start_x=40.0, start_y=16.0 * (len(rows) - 1))


AIR = "." * 50
STEEP = line_of_tiles(AIR, AIR, AIR, AIR, "." * 20 + "r" + "#" * 29, "#" * 50)
GENTLE = line_of_tiles(AIR, AIR, AIR, AIR, "." * 20 + "ab" + "#" * 28, "#" * 50)
STAIRS = line_of_tiles(AIR, AIR, AIR, "." * 21 + "r" + "#" * 28, "." * 20 + "r" + "#" * 29,
                       "#" * 50)


class Walking(Case):
    def test_three_slopes_cost_no_time(self) -> None:
        mover = Mover()
        for slope, name in ((STEEP, "steep"), (GENTLE, "gentle"), (STAIRS, "stairs")):
            for rate in (30, 60, 240):
                for width in (5.0, 11.3, 16.0, 30.0):
                    said = f"{name} at {rate} Hz, {width} wide"
                    bodies = walked(slope, Mover(width=width), rate, 5.0, 1.0)
                    flat = walked(line_of_tiles(AIR, AIR, AIR, AIR, "#" * 50), mover, rate, 5.0,
                                  1.0)
                    self.assertAlmostEqual(bodies[-1].x, flat[-1].x, places=6, msg=said)
                    self.assertLess(bodies[-1].y, bodies[0].y, said)
                    fast = next(number for number, body in enumerate(bodies)
                                if body.vx == mover.walk_speed)
                    self.assertEqual({body.vx for body in bodies[fast:]}, {mover.walk_speed}, said)
                    self.assertFalse(any(body.blocked or not body.grounded for body in bodies),
                                     said)

    def test_and_back_again(self) -> None:
        for slope in (STEEP, GENTLE, STAIRS):
            top = walked(slope, Mover(), 60, 5.0, 1.0)[-1]
            back = walked(World(name="back", rows=slope.rows, start_x=top.x, start_y=top.y),
                          Mover(), 60, 5.0, -1.0)
            self.assertAlmostEqual(back[-1].x, 40.0, places=4)
            self.assertEqual(back[-1].y, slope.start_y)
            self.assertTrue(all(body.grounded for body in back))

    @given(
        some.integers(0, 1 << 30),
        some.sampled_from((24, 30, 60, 144, 240)),
        some.floats(2.0, 60.0),
        some.sampled_from((60.0, 90.0, 480.0)),
    )
    def test_a_hill_is_walked_as_its_line_says(
        self, seed: int, rate: int, width: float, speed: float
    ) -> None:
        compare(self, Random(seed), rate, width, speed)


def compare(case: Case, random: Random, rate: int, width: float, speed: float) -> None:
    """Fail where a walk to and fro over a hill is not the one along its line."""
    hill: Hill = hill_of(random)
    # A body lower than half its width would have its head in the slope before it.
    mover = Mover(width=width, height=width / 2 + random.uniform(1, 40), walk_speed=speed)
    walker = Walker(hill, mover, rate)
    body = at_start(hill.world, mover)
    way = 1.0
    for number in range(6 * rate):
        if random.random() < 1.5 / rate:
            way = -way
        body = move(hill.world, mover, body, Wish(across=way), FREE, 1 / rate)
        x, y, vx = walker.tick(way)
        said = f"tick {number} at {rate} Hz, {mover}: {body}, on the line {x, y, vx}\n" + "\n".join(
            hill.world.rows)
        case.assertAlmostEqual(body.x, x, delta=1e-6, msg=said)
        case.assertAlmostEqual(body.y, y, delta=NEAR, msg=said)
        if min(abs(x - walker.left), abs(x - walker.right)) < 1e-6:
            # It came to touch the wall: it is stopped now, or as it goes on.
            walker.vx = body.vx
        else:
            case.assertAlmostEqual(body.vx, vx, delta=1e-6, msg=said)
        case.assertTrue(body.grounded, said)


if __name__ == "__main__":
    import unittest

    unittest.main()


class Mirrored(Case):
    def test_a_mirror_image_runs_mirrored_to_the_last_bit(self) -> None:
        for seed in range(examples(150)):
            self.assertEqual(first_difference(random_trial(seed)), "", seed)

    def test_a_ramp_leads_up_to_planks_and_a_ladders_top(self) -> None:
        for ramp, top in itertools.product(("r", "ab"), ("=", "H", "#", "")):
            row = ("." * 20 + ramp + top * 10).ljust(60, ".")
            where = line_of_tiles("." * 60, row, "#" * 60)
            for rate, speed in itertools.product((15, 60, 240), (40.0, 90.0, 333.0)):
                mover = Mover(walk_speed=speed, acceleration=1e6)
                end = 16.0 * (20 + len(ramp))
                found = walked(where, mover, rate, (end + 60 - where.start_x) / speed, 1.0)
                with self.subTest(ramp=ramp, top=top, rate=rate, speed=speed):
                    # Off a free end it falls within the tick in which it gets there.
                    fallen = mover.gravity / rate ** 2 / 2 * (not top) + 1e-9
                    self.assertLessEqual(min(body.y for body in found), 16.0 + fallen)
                    if top:
                        self.assertEqual(found[-1].y, 16.0)
