"""Nothing goes through a wall, at any speed; and nothing in the booth hangs on a hostile number."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as some
from msgspec.structs import replace

from tests.helpers import Case, clip, puppet_of, run
from yarn_puppet.core.booth.body import FREE, Body, Wish
from yarn_puppet.core.booth.mover import move
from yarn_puppet.core.booth.tiles.sweep import along, is_solid
from yarn_puppet.core.booth.tiles.terrain import terrain_of
from yarn_puppet.core.model.events import Moment
from yarn_puppet.core.model.graph import State
from yarn_puppet.core.model.mover import Mover
from yarn_puppet.core.model.world import TILE, Dummy, World
from yarn_puppet.core.takes.run import Record, set_up

HALL = World("Hall", ("#" * 30, *["#" + "." * 28 + "#"] * 8, "#" * 30), 100.0, 144.0)


@some.composite
def worlds(draw: some.DrawFn) -> World:
    """Rooms with pillars, floors and holes, the middle left free to start in."""
    rows = [["." if draw(some.integers(0, 3)) else "#" for _ in range(16)] for _ in range(10)]
    for row in (3, 4, 5, 6):
        for column in (6, 7, 8):
            rows[row][column] = "."
    return World("Room", tuple("".join(row) for row in rows), 7.5 * TILE, 7.0 * TILE)


def shooting(
    speed: float, angle: float = 0.0, start: float = 100.0, **values: object
) -> list[Record]:
    """A puppet that launches once, without an anchor, in the hall."""
    shot = Moment("m", 0, "launch", "lantern", speed=speed, angle=angle)
    puppet = replace(puppet_of([clip("c", (5000.0,), "once", [shot])], [State("a", "A", clip="c")]),
                     **values)
    dummies = (Dummy("Straw", 300.0, 144.0, 18.0, 100.0),)
    return run(set_up(puppet, replace(HALL, dummies=dummies, start_x=start)), [], 60)


class Bodies(Case):
    @given(
        worlds(),
        some.lists(
            some.tuples(some.sampled_from([-1, 0, 1]), some.booleans()), min_size=5, max_size=30
        ),
        some.sampled_from([90.0, 500.0, 4000.0, 90000.0]),
        some.sampled_from([30, 60, 240]),
    )
    def test_no_body_is_ever_inside_a_tile_or_beyond_the_walls(
        self, world: World, pressed: list[tuple[int, bool]], speed: float, rate: int
    ) -> None:
        mover = Mover(width=14.0, height=30.0, walk_speed=speed, acceleration=speed * 60,
                      fall_speed=speed,
                      gravity=speed * 10, jump_speed=speed)
        body = Body(world.start_x, world.start_y, 0.0, 0.0, False, False, 0.0)
        for wanted, jump in pressed:
            body = move(world, mover, body, Wish(wanted, jump=jump), FREE, 1 / rate)
            inside = (body.x - 6.99, body.y - 29.99, body.x + 6.99, body.y - 0.01)
            self.assertFalse(is_solid(terrain_of(world), *inside), body)
            self.assertTrue(0 < body.x < 16 * TILE)

    def test_a_walk_of_500_pixels_a_second_stays_in_the_world(self) -> None:
        puppet = replace(puppet_of([clip("c")], [State("a", "A", clip="c")]),
                         mover=Mover(walk_speed=500.0))
        records = run(set_up(puppet, HALL), [(0, 240, "right")], 240)
        self.assertEqual(records[-1].after.booth and records[-1].after.booth.body.x, 29 * TILE - 8)

    def test_a_body_larger_than_the_world_hangs_nothing(self) -> None:
        for size in (Mover(height=1e9), Mover(width=1e9),
                     Mover(walk_speed=1e9, fall_speed=1e9, gravity=1e9)):
            puppet = replace(puppet_of([clip("c")], [State("a", "A", clip="c")]), mover=size,
                             rate=1)
            self.assertEqual(len(run(set_up(puppet, HALL), [(0, 9, "right")], 12)), 12)


class Shots(Case):
    def hits(self, records: list[Record]) -> int:
        return sum(len(record.after.booth.hits) for record in records if record.after.booth)

    def test_a_shot_hits_what_stands_in_its_way_at_any_speed(self) -> None:
        for speed in (60.0, 400.0, 6000.0, 1e6, 1e9):
            with self.subTest(speed):
                self.assertEqual(self.hits(shooting(speed)), 0 if speed == 60.0 else 1)

    def test_a_wall_between_ends_it_first(self) -> None:
        wall = replace(HALL, rows=tuple(row[:12] + "#" + row[13:] for row in HALL.rows))
        shot = Moment("m", 0, "launch", "lantern", speed=9000.0)
        puppet = puppet_of([clip("c", (5000.0,), "once", [shot])], [State("a", "A", clip="c")])
        records = run(set_up(puppet,
                             replace(wall, dummies=(Dummy("Straw", 300.0, 144.0, 18.0, 100.0),))),
                             [], 30)
        self.assertEqual(self.hits(records), 0)
        self.assertEqual([len(record.after.booth.shots)
                          for record in records[:3] if record.after.booth], [1, 0, 0])

    def test_without_an_anchor_it_flies_over_flat_ground(self) -> None:
        records = shooting(120.0)
        flying = [record.after.booth.shots[0].x for record in records[:40] if record.after.booth]
        self.assertEqual(flying[10] - flying[0], 20.0)

    @given(some.floats(20, 400), some.floats(20, 140), some.floats(-2e6, 2e6),
           some.floats(-2e6, 2e6))
    def test_a_straight_way_ends_where_the_first_solid_tile_begins(
        self, x: float, y: float, by_x: float, by_y: float
    ) -> None:
        share = along(terrain_of(HALL), x, y, by_x, by_y)
        end = 1.0 if share is None else share
        # Whatever is passed before is air: looked at every few pixels of the world that is there.
        length = max(abs(by_x), abs(by_y)) * end
        for step in range(0, int(min(length, 900)), 3):
            at = step / max(abs(by_x), abs(by_y), 1e-9)
            if at < end - 1e-6:
                self.assertNotEqual(HALL.tile(int((x + by_x * at) // TILE),
                                              int((y + by_y * at) // TILE)), "#")
