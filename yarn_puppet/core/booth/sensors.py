"""The puppet's sensors: where each looks, what it touches, and what it ignores. docs/world.md,
section 5.

They are worked out by what feeds the senses, so that what is drawn is what is sensed.
"""

from __future__ import annotations

from math import floor, hypot
from typing import NamedTuple

from ..model.mover import Mover
from ..model.world import BRICK, LADDER, PLANK, World
from ..pose.place import Rectangle
from .body import Body
from .modes.above import footprint
from .modes.ladder import ladder_at
from .modes.water import surface_over
from .senses import HEADROOM_TILES, SIDES, headroom, zone_of
from .tiles.slopes import NEAR, slope_between
from .tiles.stepping import box_of, wall_beside
from .tiles.sweep import TOUCH, down
from .tiles.terrain import terrain_of

THICK = 3.0
"""How wide a sensor that feels along an edge is drawn, in pixels."""
UNDER = {BRICK: "brick", PLANK: "plank", LADDER: "ladder"}


class Sensor(NamedTuple):
    """`area` is where it looks, in pixels of the world; `touches` what it finds, empty for nothing;
    `ignores` what it must not see, empty for nothing."""

    name: str
    area: Rectangle
    touches: str
    ignores: str = ""

    @property
    def words(self) -> str:
        """What it finds, and what it ignores, in words."""
        if not self.touches and self.ignores:
            return f"{self.name} ignores {self.ignores}"
        return (f"{self.name}: "
                f"{self.touches or 'nothing'}{f', ignores {self.ignores}' if self.ignores else ''}")


def sensors(world: World, mover: Mover, body: Body, side: int) -> tuple[Sensor, ...]:
    """All sensors of a body that faces a side, -1 or 1."""
    if world.from_above:
        box = footprint(mover, world.tile_size)
        area = Rectangle(body.x - box.half, body.y - box.height, box.height, box.height)
        zone = zone_of(terrain_of(world), body)
        return (Sensor("feet", area, f"zone {zone}" if zone else "floor"),
                Sensor("front", _beside(area, side), "wall" if body.blocked else ""))
    height = body.height(mover)
    area = Rectangle(body.x - mover.width / 2, body.y - height, mover.width, height)
    found = [_foot(world, mover, body, area), _front(world, mover, body, area, side),
             _head(world, mover, body, area)]
    terrain = terrain_of(world)
    ledge = body.ledge or body.near
    hand = Rectangle(body.x + side * max(mover.hands_x, mover.width / 2) - mover.reach,
                     body.y - mover.hands_y - mover.reach, 2 * mover.reach, 2 * mover.reach)
    if ledge is not None:
        at_x = (
            body.x if ledge.side == 0 else body.x + ledge.side * max(mover.hands_x, mover.width / 2)
        )
        off = hypot(at_x - (ledge.x if ledge.side else at_x), body.y - mover.hands_y - ledge.y)
        where = "above" if ledge.side == 0 else SIDES[ledge.side]
        found.append(Sensor("hand", hand,
                            f"ledge {where}, {f'{off:.0f} px away' if off >= 0.5 else 'held'}"))
    else:
        found.append(Sensor("hand", hand, "", "what it let go of" if body.left else ""))
    waist = Rectangle(body.x - 2, body.y - height / 2 - 2, 4, 4)
    ladder = ladder_at(terrain, body.x, body.y, height, body.grounded)
    surface = surface_over(terrain, body.x, body.y, mover.height)
    if ladder is not None:
        found.append(Sensor("waist", waist, "ladder"))
    elif surface is not None:
        found.append(Sensor("waist", waist, f"water, {max(0.0, body.y - surface):.0f} px deep"))
    return tuple(found)


def _beside(area: Rectangle, side: int) -> Rectangle:
    return Rectangle(area.x + area.width if side > 0 else area.x - THICK, area.y, THICK,
                     area.height)


def _foot(world: World, mover: Mover, body: Body, area: Rectangle) -> Sensor:
    terrain = terrain_of(world)
    under = Rectangle(area.x, body.y, area.width, THICK)
    if not body.grounded and not body.on_slope:
        return Sensor("foot", under, "", "planks from below" if body.vy < 0 else "")
    if terrain.slopes and slope_between(terrain, body.x, body.y - NEAR, body.y + NEAR) is not None:
        return Sensor("foot", under, "slope" if body.grounded else "slope, too steep")
    top = down(terrain, area.x + TOUCH, area.x + area.width - TOUCH, body.y, TOUCH)
    if top is None:
        return Sensor("foot", under, "")
    row = int(top) // terrain.tile
    columns = range(floor(area.x / terrain.tile), floor((area.x + area.width) / terrain.tile) + 1)
    kinds = {world.tile(column, row) for column in columns}
    return Sensor("foot", under, next((UNDER[each] for each in UNDER if each in kinds), "floor"))


def _front(world: World, mover: Mover, body: Body, area: Rectangle, side: int) -> Sensor:
    terrain = terrain_of(world)
    ledge = body.ledge
    ignores = "the ledge it holds" if ledge is not None and ledge.side == side else ""
    wall = not ignores and wall_beside(terrain, box_of(mover, area.height), body.x, body.y, side)
    return Sensor("front", _beside(area, side), "wall" if wall else "", ignores)


def _head(world: World, mover: Mover, body: Body, area: Rectangle) -> Sensor:
    room = headroom(terrain_of(world), mover, body)
    over = Rectangle(area.x, area.y - THICK, area.width, THICK)
    if room >= HEADROOM_TILES * world.tile_size:
        return Sensor("head", over, "")
    return Sensor("head", over,
                  "ceiling, too low to stand" if room < 0 else f"ceiling, {room:.0f} px up")
