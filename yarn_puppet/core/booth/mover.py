"""The walker: acceleration, gravity and tiles. Pixels and seconds; y is downwards, so rising is a negative vy."""

from __future__ import annotations

from math import ceil, floor
from typing import NamedTuple

from ..model.wiring import Mover
from ..model.world import TILE, World


class Body(NamedTuple):
    """The puppet in the world, its feet at x, y. `fall_time` is the seconds since it last stood."""

    x: float
    y: float
    vx: float
    vy: float
    grounded: bool
    blocked: bool
    fall_time: float


def move(
    world: World, mover: Mover, body: Body, wanted: int, speed_factor: float, locked: bool, jump: bool, dt: float
) -> Body:
    """One tick of walking, falling and running into tiles.

    `wanted` is -1, 0 or 1. `locked` stops a walker on the ground at once, so that it cannot slide; in the air it
    keeps its speed. `jump` leaves the ground when it stands.
    """
    target = 0.0 if locked else wanted * mover.walk_speed * speed_factor
    vx = body.vx
    if locked and body.grounded:
        vx = 0.0
    elif not locked or body.grounded:
        speeding_up = abs(target) > abs(vx) and target * vx >= 0
        step = (mover.acceleration if speeding_up else mover.deceleration) * dt
        vx = min(target, vx + step) if vx < target else max(target, vx - step)
    vy = -mover.jump_speed if jump and body.grounded else min(body.vy + mover.gravity * dt, mover.fall_speed)

    x, blocked = _slide_across(world, mover, body.x + vx * dt, body.y, wanted)
    if blocked:
        vx = 0.0
    y, grounded, bumped = _slide_down(world, mover, x, body.y, vy * dt)
    if grounded or bumped:
        vy = 0.0
    return Body(x, y, vx, vy, grounded, blocked, 0.0 if grounded else body.fall_time + dt)


def _solid(world: World, left: float, top: float, right: float, bottom: float) -> bool:
    """Whether a rectangle of the world meets a solid tile."""
    columns = range(floor(left / TILE), ceil(right / TILE))
    rows = range(floor(top / TILE), ceil(bottom / TILE))
    return any(world.tile(column, row) == "#" for row in rows for column in columns)


def _slide_across(world: World, mover: Mover, x: float, y: float, wanted: int) -> tuple[float, bool]:
    """The nearest free x, and whether a wall stands in the wanted direction."""
    half = mover.width / 2
    top, bottom = y - mover.height, y - 0.001
    for side in (-1, 1):
        edge = x + side * half
        if _solid(world, min(edge, x), top, max(edge, x), bottom):
            column = floor(edge / TILE) if side > 0 else floor(edge / TILE) + 1
            x = column * TILE - side * half
    reach = x + wanted * (half + 0.5)
    blocked = wanted != 0 and _solid(world, min(reach, x), top, max(reach, x), bottom)
    return x, blocked


def _slide_down(world: World, mover: Mover, x: float, y: float, by: float) -> tuple[float, bool, bool]:
    """The nearest free y, whether the feet stand, and whether the head met a ceiling."""
    left, right = x - mover.width / 2 + 0.001, x + mover.width / 2 - 0.001
    if by < 0:
        head = y + by - mover.height
        if _solid(world, left, head, right, head + 1):
            return (floor(head / TILE) + 1) * TILE + mover.height, False, True
        return y + by, False, False
    feet = y + by
    for row in range(floor(y / TILE), floor(feet / TILE) + 1):
        top = row * TILE
        if top >= y - 0.001 and top <= feet and _solid(world, left, top, right, top + 1):
            return float(top), True, False
    return feet, False, False
