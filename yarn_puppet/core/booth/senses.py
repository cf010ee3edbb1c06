"""What the world reports to the puppet. docs/world.md, section 5."""

from __future__ import annotations

from math import floor, hypot
from typing import Any

from ..model.mover import Mover
from ..model.wiring import FACING_DEGREES
from ..model.world import World
from .body import Body
from .modes.ladder import ladder_at
from .modes.water import MOST_KNOWN, is_in_water, surface_over
from .tiles.stepping import box_of
from .tiles.sweep import TOUCH, columns_at, up
from .tiles.terrain import Terrain, terrain_of

HEADROOM_TILES = 10.0
"""Tiles over its head that are looked at."""

SENSES = {
    "move_x": "int", "move_y": "int",
    "grounded": "bool", "speed": "float", "vx": "float", "vy": "float", "blocked": "bool",
    "fall_time": "float",
    "footing": "bool", "on_slope": "bool", "on_ladder": "bool", "ladder_above": "bool",
    "at_ledge": "bool",
    "ledge_side": "choice", "in_water": "bool", "water_depth": "float", "headroom": "float",
    "bumped_head": "bool",
    "zone": "choice", "yaw_rate": "float", "health": "int", "hurt": "bool", "guarded": "bool",
    "hit_landed": "bool",
}
"""The ids and types of what the world reports: what the hands push to, then all that `told` tells,
in its order."""

SIDES = {1: "right", -1: "left", 0: "none"}


def reported_senses(
    world: World,
    mover: Mover,
    body: Body,
    yaw_rate: float,
    health: int,
    news: tuple[bool, bool, bool],
) -> tuple[Any, ...]:
    """What the world reports of a body; `news` are whether it was hurt, guarded a blow, and landed
    one."""
    terrain = terrain_of(world)
    height = body.height(mover)
    ladder = above = False
    if terrain.has_ladders:
        ladder = ladder_at(terrain, body.x, body.y, height, body.grounded) is not None
        above = any([terrain.at(terrain.ladder, column, floor((body.y - height / 2) / terrain.tile))
                     for column in columns_at(body.x, terrain.tile)])
    surface = surface_over(terrain, body.x, body.y, mover.height) if terrain.has_water else None
    near = body.ledge or body.near
    return (
        body.grounded, speed_of(body), body.vx, 0.0 - body.vy, body.blocked, body.fall_time,
        body.grounded or body.grace > 0, body.on_slope, ladder, above, near is not None,
        SIDES[near.side] if near is not None else "none",
        surface is not None and is_in_water(surface, body.y, mover.height),
        0.0 if surface is None else max(0.0, body.y - surface), headroom(terrain, mover, body),
        body.bumped,
        zone_of(terrain, body) if terrain.has_zones else "", yaw_rate, health, *news,
    )


def speed_of(body: Body) -> float:
    """Pixels a second along what it moves on."""
    if body.mode in ("above", "water"):
        return hypot(body.vx, body.vy)
    return abs(body.vy) if body.mode == "ladder" else abs(body.vx)


def headroom(terrain: Terrain, mover: Mover, body: Body) -> float:
    """From the head of the body at its full height to the ceiling; less than zero where it could
    not stand up."""
    highest = HEADROOM_TILES * terrain.tile
    if terrain.world.from_above:
        return highest
    half = box_of(mover, mover.height).half
    left, right = body.x - half + TOUCH, body.x + half - TOUCH
    head = body.y - body.height(mover)
    full = body.y - mover.height
    ceiling = up(terrain, left, right, head, full - highest - head)
    return highest if ceiling is None else min(highest, full - ceiling)


def zone_of(terrain: Terrain, body: Body) -> str:
    """The name of the first zone that holds the middle of its feet, or empty."""
    columns, row = columns_at(body.x, terrain.tile), floor((body.y - 1) / terrain.tile)
    key = columns[0], columns[-1], row
    if key not in terrain.zoned:
        if len(terrain.zoned) >= MOST_KNOWN:
            terrain.zoned.clear()
        terrain.zoned[key] = next((
            zone.name for zone in terrain.world.zones
            if any([zone.x <= column < zone.x + zone.width for column in columns])
            and zone.y <= row < zone.y + zone.height
        ), "")
    return terrain.zoned[key]


def turned_by(before: str, after: str) -> int:
    """By how many degrees the facing turned the short way, leftwards positive; half a turn counts
    as 180."""
    if before == after:
        return 0
    by = (FACING_DEGREES[after] - FACING_DEGREES[before]) % 360
    return by if by <= 180 else by - 360
