"""In water: swimming every way, rising by itself, floating at the surface."""

from __future__ import annotations

from math import floor

from ...model.world import TILE
from ...rules.numbers import sign
from ..body import Body, approach
from ..tiles.stepping import fall, rise, slide, wall_beside
from ..tiles.terrain import Terrain
from .step import Step

FLOATS_AT = 0.7
"""The share of its height that is under water where it floats."""
BUOYANCY = 0.5
"""The share of the swimming speed at which it rises by itself."""
AT_SURFACE = 0.05
"""The share of its height within which it counts as floating at the surface."""


def surface_over(terrain: Terrain, x: float, y: float, height: float) -> float | None:
    """The height of the surface of the water that the lower half of a body is in; None where it is in none."""
    if not terrain.has_water:
        return None
    wet, column = terrain.wet, floor(x / TILE)
    row, highest = floor((y - 0.5) / TILE), floor((y - height / 2) / TILE)
    # The feet may stand on a slope, or hang over the bottom.
    while row >= highest and not terrain.at(wet, column, row):
        row -= 1
    if row < highest and not terrain.at(wet, column, row):
        return None
    while terrain.at(wet, column, row - 1):
        row -= 1
    return float(row * TILE)


def is_in_water(surface: float | None, y: float, height: float) -> bool:
    """Whether half the height of a body is under water."""
    return surface is not None and y - height / 2 >= surface


def floats(surface: float | None, y: float, height: float) -> bool:
    """Whether a body floats at the surface, from which it may jump."""
    return surface is not None and y - surface <= (FLOATS_AT + AT_SURFACE) * height


def move_in_water(step: Step, surface: float) -> Body:
    """One tick of swimming under a surface at this height."""
    terrain, mover, body, box, wish, moving, dt = step
    across, up = (0.0, 0.0) if moving.locked else (wish.across, wish.up)
    speed = mover.swim_speed * moving.speed
    faster, slower = mover.acceleration * dt, mover.deceleration * dt
    vx = approach(body.vx, across * speed, faster, slower)
    vy = approach(body.vy, -up * speed if up else -BUOYANCY * mover.swim_speed, faster, slower)
    x, y, stopped, _ = slide(terrain, box, body.x, body.y, (body.vx + vx) / 2 * dt, standing=False)
    by = (body.vy + vy) / 2 * dt
    line = surface + FLOATS_AT * mover.height
    if y + by < line:
        # Not out of the water by swimming; what is above already sinks back.
        by, vy = (line - y, 0.0) if y >= line else (min(max(by, 0.0), line - y) if by > 0 else 0.0, max(vy, 0.0))
    fell = rise(terrain, box, x, y, by) if by < 0 else fall(terrain, box, x, y, by)
    if stopped:
        vx = 0.0
    if fell.landed or fell.bumped:
        vy = 0.0
    return body._replace(
        x=fell.x, y=fell.y, vx=vx, vy=vy, grounded=fell.landed,
        blocked=across != 0 and wall_beside(terrain, box, fell.x, fell.y, sign(across)), fall_time=0.0, mode="water",
        on_slope=fell.slope is not None, bumped=fell.bumped, grace=0.0, carry=0.0,
    )
