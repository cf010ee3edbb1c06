"""The walker: acceleration, gravity and tiles. Pixels and seconds; y is downwards, so rising is a negative vy."""

from __future__ import annotations

from math import floor, sqrt
from typing import NamedTuple

from ..model.wiring import Mover
from ..model.world import TILE, World
from ..rules.numbers import sign
from .sweep import TOUCH, across, down, is_solid, up
from .terrain import Terrain, terrain_of


class Body(NamedTuple):
    """The puppet in the world, its feet at x, y. `fall_time` is the seconds since it last stood."""

    x: float
    y: float
    vx: float
    vy: float
    grounded: bool
    blocked: bool
    fall_time: float


class Moving(NamedTuple):
    """What while-rules make of the mover's numbers: factors of its speed, of gravity and of how high it jumps."""

    speed: float = 1.0
    gravity: float = 1.0
    jump_height: float = 1.0
    locked: bool = False


def move(
    world: World, mover: Mover, body: Body, wanted: float, moving: Moving, jump: bool, dt: float
) -> Body:
    """One tick of walking, falling and running into tiles.

    `wanted` is -1 to 1, how far it is pushed. `locked` stops a walker on the ground at once, so that it cannot slide;
    in the air it keeps its speed. `jump` leaves the ground when it stands.
    """
    locked = moving.locked
    target = 0.0 if locked else wanted * mover.walk_speed * moving.speed
    vx = body.vx
    if locked and body.grounded:
        vx = 0.0
    elif not locked or body.grounded:
        speeding_up = abs(target) > abs(vx) and target * vx >= 0
        step = (mover.acceleration if speeding_up else mover.deceleration) * dt
        vx = min(target, vx + step) if vx < target else max(target, vx - step)
    if jump and body.grounded:
        # Twice as high needs the root of two times the speed.
        vy = -mover.jump_speed * sqrt(max(0.0, moving.jump_height))
    else:
        vy = min(body.vy + mover.gravity * moving.gravity * dt, mover.fall_speed)
        if moving.gravity < 0:
            # What falls upwards has a limit too.
            vy = max(vy, -mover.fall_speed)

    terrain = terrain_of(world)
    x, blocked = body.x, False
    if vx or wanted or body.vx or not body.grounded:
        x, blocked = _slide_across(terrain, mover, body.x, body.y, vx * dt, wanted)
    if blocked or (x != body.x + vx * dt and vx != 0.0):
        vx = 0.0
    y, grounded, bumped = _slide_down(terrain, mover, x, body.y, vy * dt)
    if grounded or bumped:
        vy = 0.0
    return Body(x, y, vx, vy, grounded, blocked, 0.0 if grounded else body.fall_time + dt)


def _slide_across(
    terrain: Terrain, mover: Mover, x: float, y: float, by: float, wanted: float
) -> tuple[float, bool]:
    """Where a body that moves across gets to, and whether a wall stands in the wanted direction."""
    half = mover.width / 2
    top, bottom = y - mover.height, y - TOUCH
    side = 1 if by > 0 else -1
    stopped = across(terrain, x + side * half, top, bottom, by)
    x = x + by if stopped is None else stopped - side * half
    if stopped is None and is_solid(terrain, x - half + TOUCH, top, x + half - TOUCH, bottom):
        x = _pushed_out(terrain, x, half, top, bottom)
    reach = x + sign(wanted) * (half + 0.5)
    return x, wanted != 0 and is_solid(terrain, min(reach, x), top, max(reach, x), bottom)


def _pushed_out(terrain: Terrain, x: float, half: float, top: float, bottom: float) -> float:
    """Out of a wall that a body stands in, as where its start was put there or it has become wider."""
    for side in (-1, 1):
        edge = x + side * half
        if is_solid(terrain, min(edge, x), top, max(edge, x), bottom):
            column = floor(edge / TILE) if side > 0 else floor(edge / TILE) + 1
            x = column * TILE - side * half
    return x


def _slide_down(terrain: Terrain, mover: Mover, x: float, y: float, by: float) -> tuple[float, bool, bool]:
    """Where a body that falls or rises gets to, whether the feet stand, and whether the head met a ceiling."""
    left, right = x - mover.width / 2 + TOUCH, x + mover.width / 2 - TOUCH
    if by < 0:
        ceiling = up(terrain, left, right, y - mover.height, by)
        return (y + by, False, False) if ceiling is None else (ceiling + mover.height, False, True)
    floor_ = down(terrain, left, right, y, by)
    return (y + by, False, False) if floor_ is None else (floor_, True, False)
