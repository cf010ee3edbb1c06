"""In water: swimming every way, rising by itself, floating at the surface."""

from __future__ import annotations

from math import floor

from ...rules.numbers import sign
from ..body import Body, approach
from ..tiles.stepping import fall, rise, slide, wall_beside
from ..tiles.sweep import columns_at
from ..tiles.terrain import Terrain
from .step import MoverStep

MOST_KNOWN = 4096
"""Answers about surfaces that are kept for a terrain."""
FLOATS_AT = 0.7
"""The share of its height that is under water where it floats."""
BUOYANCY = 0.5
"""The share of the swimming speed at which it rises by itself."""
AT_SURFACE = 0.05
"""The share of its height within which it counts as floating at the surface."""


def surface_over(terrain: Terrain, x: float, y: float, height: float) -> float | None:
    """The height of the surface of the water that the lower half of a body is in; None where it is
    in none."""
    if not terrain.has_water:
        return None
    row, highest = floor((y - 0.5) / terrain.tile), floor((y - height / 2) / terrain.tile)
    found = [surface for column in columns_at(x, terrain.tile)
             if (surface := _known(terrain, column, row, highest)) is not None]
    return min(found, default=None)


def _known(terrain: Terrain, column: int, row: int, highest: int) -> float | None:
    # Asked for several times a tick, mostly of the same tiles.
    key = (column, row, highest)
    if key not in terrain.surfaces:
        if len(terrain.surfaces) >= MOST_KNOWN:
            terrain.surfaces.clear()
        terrain.surfaces[key] = _surface(terrain, column, row, highest)
    return terrain.surfaces[key]


def _surface(terrain: Terrain, column: int, row: int, highest: int) -> float | None:
    """The surface over the lowest water between two rows of a column."""
    wet = terrain.wet
    # The feet may stand on a slope, or hang over the bottom.
    while row >= highest and not terrain.at(wet, column, row):
        row -= 1
    if row < highest and not terrain.at(wet, column, row):
        return None
    while terrain.at(wet, column, row - 1):
        row -= 1
    return float(row * terrain.tile)


def is_in_water(surface: float | None, y: float, height: float) -> bool:
    """Whether half the height of a body is under water."""
    return surface is not None and y - height / 2 >= surface


def floats(surface: float | None, y: float, height: float) -> bool:
    """Whether a body floats at the surface, from which it may jump."""
    return surface is not None and y - surface <= (FLOATS_AT + AT_SURFACE) * height


def move_in_water(step: MoverStep, surface: float) -> Body:
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
        by, vy = (
            (line - y, 0.0)
            if y >= line
            else (min(max(by, 0.0), line - y) if by > 0 else 0.0, max(vy, 0.0))
        )
    fell = rise(terrain, box, x, y, by) if by < 0 else fall(terrain, box, x, y, by)
    if stopped:
        vx = 0.0
    if fell.landed or fell.bumped:
        vy = 0.0
    # All of it, in the order of the fields: `_replace` takes its time.
    return Body(
        fell.x, fell.y, vx, vy, fell.landed,
        across != 0 and wall_beside(terrain, box, fell.x, fell.y, sign(across)), 0.0, "water",
        body.low,
        fell.slope is not None, fell.bumped, 0.0, 0.0, body.push, body.ledge, body.near, body.left,
        body.cell, body.way,
    )
