"""Our booth and the second one, written from docs/world.md, move a body alike, whatever the world
and the hands."""

from __future__ import annotations

from hypothesis import given

from tests.core.test_world_properties import RATES
from tests.helpers import Case
from tests.simple_world import SimpleWorld
from tests.worlds import WorldInput, bodies, movers, pressed, worlds
from yarn_puppet.core.model.mover import Mover
from yarn_puppet.core.model.world import World

FLAT_TILES = "......####==HH"


class Agreement(Case):
    @given(worlds(FLAT_TILES), movers, pressed, RATES)
    def test_they_agree_in_every_tick(
        self, world: World, mover: Mover, asked: list[tuple[WorldInput, int]], rate: int
    ) -> None:
        compare(self, world, mover, asked, rate)


def compare(
    case: Case, world: World, mover: Mover, asked: list[tuple[WorldInput, int]], rate: int
) -> None:
    """Fail where the two differ in a tick."""
    second = SimpleWorld(world, mover, rate)
    for number, (body, wish, moving) in enumerate(bodies(world, mover, asked, rate)):
        expected = second.tick(wish, moving)
        for name, value in expected.items():
            ours = {"footing": body.grounded or body.grace > 0,
                    "near": body.near and tuple(body.near)}.get(
                name, getattr(body, name, None))
            if isinstance(value, float):
                case.assertAlmostEqual(
                    ours, value, 6, f"{name} in tick {number}: {wish} {moving}\n{body}\n{expected}"
                )
            else:
                case.assertEqual(ours, value,
                                 f"{name} in tick {number}: {wish} {moving}\n{body}\n{expected}")
