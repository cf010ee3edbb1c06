"""Slopes: where their floors are, and how far they lift the edge that meets walls. docs/world.md, section 2."""

from __future__ import annotations

from math import floor

from ...model.world import TILE
from .sweep import TOUCH, between
from .terrain import Slope, Terrain

NEAR = 0.01
"""Pixels within which feet are on a slope's floor."""


def floor_of(slope: Slope, column: int, row: int, x: float) -> float:
    """The height of the floor of a slope's tile at x."""
    return (row + 1) * TILE - slope.left - (slope.right - slope.left) * (x - column * TILE) / TILE


def slope_between(terrain: Terrain, x: float, top: float, bottom: float) -> tuple[float, Slope] | None:
    """The highest floor of a slope at x that is no higher than `top` and no lower than `bottom`, and which slope it
    is."""
    column = floor(x / TILE)
    # Most columns have none.
    if not -1 <= column <= terrain.columns or not terrain.slope_columns[column + 1]:
        return None
    for row in range(max(0, floor(top / TILE) - 1), min(terrain.rows - 1, floor(bottom / TILE)) + 1):
        slope = terrain.slopes.get((column, row))
        if slope is not None:
            at = floor_of(slope, column, row, x)
            if top <= at <= bottom:
                return at, slope
    return None


def lift(terrain: Terrain, half: float, x: float, y: float, side: int = 0) -> float:
    """How far the lower edge that meets walls is lifted for a body of half a width at x, y: only slopes under its
    middle or on the side it goes to, that rise that way, count; all for 0."""
    if not terrain.slopes:
        return 0.0
    left, right = x - half * (side <= 0) - TOUCH, x + half * (side >= 0) + TOUCH
    columns = between(left, right, terrain.columns)
    if terrain.slope_columns.find(1, columns.start, columns.stop) < 0:
        return 0.0
    row = between(y - TOUCH, y - TOUCH, terrain.rows).start
    if terrain.sloping[row].find(1, columns.start, columns.stop) < 0:
        return 0.0
    steepest = max(
        (slope.steepness for column in columns
         if (slope := terrain.slopes.get((column - 1, row - 1))) is not None
         # The lower half of a gentle slope leads up to its upper half, not to a brick.
         and max(slope.left, slope.right) == TILE and (slope.right - slope.left) * side >= 0), default=0.0)
    return half * steepest
