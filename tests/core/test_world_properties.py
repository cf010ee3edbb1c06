"""Whatever the world, the mover and the hands: nothing is passed through, nothing is left inside a
brick, and no slope gives energy away."""

from __future__ import annotations

from math import ceil, floor, isfinite

from hypothesis import given
from hypothesis import strategies as some
from msgspec.structs import replace

from tests.helpers import Case
from tests.worlds import COLUMNS, WorldInput, bodies, movers, pressed, worlds
from yarn_puppet.core.booth.body import FREE, STILL, Body, Wish
from yarn_puppet.core.booth.mover import at_start, move
from yarn_puppet.core.booth.tiles.terrain import SHARES, Slope, slope_of
from yarn_puppet.core.model.mover import Mover
from yarn_puppet.core.model.world import TILE, World

RATES = some.sampled_from([30, 60, 240])
EDGE = 0.02
"""Pixels by which what touches may seem to overlap."""


def slope_at(world: World, column: int, row: int) -> Slope | None:
    """The slope that a letter stands for."""
    letter = world.tile(column, row)
    return slope_of(letter, TILE) if letter in SHARES else None


def slope_floor(world: World, x: float, row: int) -> float | None:
    """The floor of the slope at x in a row, read off the letters."""
    column = floor(x / TILE)
    slope = slope_at(world, column, row)
    if slope is None:
        return None
    share = (x - column * TILE) / TILE
    return (row + 1) * TILE - slope.left * (1 - share) - slope.right * share


def lift_of(world: World, mover: Mover, body: Body) -> float:
    """How much of the lower edge does not count beside slopes: no line rises by more than it goes
    across."""
    row, half = floor((body.y - 0.001) / TILE), mover.width / 2
    found = 0.0
    for column in range(floor((body.x - half - 1) / TILE), floor((body.x + half + 1) / TILE) + 1):
        for above in range(row - ceil(half / TILE), row + 2):
            slope = slope_at(world, column, above)
            if slope is not None:
                found = max(found, half * abs(slope.right - slope.left) / TILE)
    return found


class Everywhere(Case):
    def check(self, world: World, mover: Mover, body: Body, said: object) -> None:
        self.assertTrue(all(isfinite(each) for each in body[:4]), said)
        height = body.height(mover)
        left, right = body.x - mover.width / 2 + EDGE, body.x + mover.width / 2 - EDGE
        top, low = body.y - height + EDGE, body.y - lift_of(world, mover, body) - EDGE
        for row in range(floor(top / TILE), floor(low / TILE) + 1):
            for column in range(floor(left / TILE), floor(right / TILE) + 1):
                self.assertNotEqual(world.tile(column, row), "#",
                                    f"in a brick at {column}, {row}: {said}")
        for row in range(floor(top / TILE), floor((body.y - EDGE) / TILE) + 1):
            floor_ = slope_floor(world, body.x, row)
            self.assertNotEqual(world.tile(floor(body.x / TILE), row), "#",
                                f"the middle is in a brick: {said}")
            if floor_ is not None:
                self.assertGreaterEqual(floor_ + EDGE, body.y,
                                        f"the feet are under a slope: {said}")

    @given(worlds(), movers, pressed, RATES)
    def test_nothing_is_left_inside_anything_or_beyond_the_walls(
        self, world: World, mover: Mover, asked: list[tuple[WorldInput, int]], rate: int
    ) -> None:
        before = at_start(world, mover)
        for body, wish, moving in bodies(world, mover, asked, rate):
            self.check(world, mover, body, (before, wish, moving, body))
            self.assertTrue(0 <= body.x <= COLUMNS * TILE, body)
            before = body

    @given(worlds(), movers, pressed, RATES)
    def test_nobody_stands_on_nothing(
        self, world: World, mover: Mover, asked: list[tuple[WorldInput, int]], rate: int
    ) -> None:
        for body, _, _ in bodies(world, mover, asked, rate):
            if body.grounded:
                left, right = body.x - mover.width / 2, body.x + mover.width / 2
                row = floor((body.y + 0.5) / TILE)
                under = {world.tile(column, row)
                         for column in range(floor(left / TILE), floor(right / TILE) + 1)}
                slope = any(
                    (at := slope_floor(world, body.x, each)) is not None and abs(at - body.y) < 0.1
                    for each in (row - 1, row))
                self.assertTrue(slope or (under & set("#=H") and abs(body.y - row * TILE) < 0.1),
                                body)

    @given(worlds(), movers, pressed, RATES)
    def test_left_to_itself_it_never_gains_energy(
        self, world: World, mover: Mover, asked: list[tuple[WorldInput, int]], rate: int
    ) -> None:
        body = bodies(world, mover, asked, rate)[-1][0]._replace(low=1.0, push=0.0)
        mover = replace(mover, air_control=0.0, fall_speed=1e6, deceleration=0.0)
        energy = self.energy(mover, body)
        for _ in range(60):
            before, body = body, move(world, mover, body, STILL, FREE, 1 / rate)
            now = self.energy(mover, body)
            self.assertLessEqual(now, energy + 1e-6 * abs(energy) + 1e-3 * mover.gravity,
                                 (before, body))
            energy = now

    @staticmethod
    def energy(mover: Mover, body: Body) -> float:
        return (body.vx**2 + body.vy**2) / 2 - mover.gravity * body.y

    @given(worlds(), movers, pressed, RATES)
    def test_one_tick_moves_no_further_than_its_speed(
        self, world: World, mover: Mover, asked: list[tuple[WorldInput, int]], rate: int
    ) -> None:
        before = at_start(world, mover)
        for body, wish, moving in bodies(world, mover, asked, rate):
            fastest = max(abs(before.vx), abs(body.vx), mover.walk_speed * 2, mover.climb_speed * 2)
            snapped = (
                mover.reach + mover.hands_x + mover.width + TILE
                if body.mode == "ledge" or wish.pull_up
                else 0.0
            )
            self.assertLessEqual(abs(body.x - before.x),
                                 fastest / rate + snapped + mover.corner + 0.01,
                                 (before, wish, moving, body))
            before = body


class FromAbove(Case):
    @given(
        worlds("......##"),
        some.sampled_from(["freely", "by cells"]),
        pressed,
        RATES,
        some.sampled_from([90.0, 900.0, 90000.0]),
        some.sampled_from([0.0, 5.0]),
        some.sampled_from([16.0, 7.0, 40.0]),
    )
    def test_nothing_is_passed_through_and_cells_are_kept_to(
        self,
        world: World,
        goes: str,
        asked: list[tuple[WorldInput, int]],
        rate: int,
        speed: float,
        corner: float,
        width: float,
    ) -> None:
        world = replace(world, seen="from above")
        # By cells it may be as wide as it likes.
        width = width if goes == "by cells" else min(width, 16.0)
        mover = replace(Mover(width=width, walk_speed=speed, acceleration=speed * 20,
                              corner=corner), goes=goes)  # type: ignore[arg-type]
        size = min(width, 16.0) - 0.04
        for body, wish, _ in bodies(world, mover, asked, rate):
            for column in range(floor((body.x - size / 2) / TILE),
                                floor((body.x + size / 2) / TILE) + 1):
                for row in range(floor((body.y - size - 0.02) / TILE),
                                 floor((body.y - 0.02) / TILE) + 1):
                    self.assertNotEqual(world.tile(column, row), "#", body)
                    self.assertTrue(0 <= row < len(world.rows), body)
            if goes == "by cells" and body.cell is None:
                self.assertEqual((body.x % TILE, body.y % TILE), (8.0, 0.0), (wish, body))


class Putting(Case):
    @given(worlds(), movers, some.integers(0, COLUMNS * TILE), some.integers(0, 190))
    def test_a_start_inside_something_is_put_out_of_it_where_there_is_room(
        self, world: World, mover: Mover, x: int, y: int
    ) -> None:
        mover = replace(mover, width=14.0, height=12.0)
        body = at_start(replace(world, start_x=float(x), start_y=float(y)), mover)
        for _ in range(3):
            body = move(world, mover, body, Wish(), FREE, 1 / 60)
        self.assertTrue(isfinite(body.x) and isfinite(body.y))
