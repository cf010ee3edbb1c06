"""Slopes: where their floors are, and how far they lift the edge that meets walls. docs/world.md,
section 2."""

from __future__ import annotations

from math import ceil, floor

from .sweep import TOUCH, between, columns_at, down
from .terrain import Slope, Terrain

NEAR = 0.01
"""Pixels within which feet are on a slope's floor."""


CLOSE = 1e-6
"""Pixels by which a middle is ahead of a border it is at."""


def floor_of(slope: Slope, column: int, row: int, x: float) -> float:
    """The height of the floor of a slope's tile at x."""
    tile = slope.tile
    return (row + 1) * tile - slope.left - (slope.right - slope.left) * (x - column * tile) / tile


def slope_between(
    terrain: Terrain, x: float, top: float, bottom: float
) -> tuple[float, Slope] | None:
    """The highest floor of a slope at x that is no higher than `top` and no lower than `bottom`,
    and which slope it is. On a border, of two as high, the less steep one; of two that fall to both
    sides none of them: a peak is level."""
    found: tuple[float, Slope] | None = None
    for column in columns_at(x, terrain.tile):
        # Most columns have none.
        if not -1 <= column <= terrain.columns or not terrain.slope_columns[column + 1]:
            continue
        for row in range(max(0, floor(top / terrain.tile) - 1),
                         min(terrain.rows - 1, floor(bottom / terrain.tile)) + 1):
            slope = terrain.slopes.get((column, row))
            at = floor_of(slope, column, row, x) if slope is not None else top - 1
            if slope is not None and top <= at <= bottom:
                found = (at, slope) if found is None else _on_a_border(found, (at, slope))
                break
    return found


def _on_a_border(left: tuple[float, Slope], right: tuple[float, Slope]) -> tuple[float, Slope]:
    """Which of the floors of two columns holds a middle on their border."""
    if left[0] != right[0]:
        return min(left, right, key=lambda each: each[0])
    one, other = left[1], right[1]
    if one.steepness != other.steepness:
        return min(left, right, key=lambda each: each[1].steepness)
    if one.rises == other.rises:
        return left
    return left[0], Slope(one.right, one.right, one.tile)


def lift(terrain: Terrain, half: float, x: float, y: float, side: int = 0) -> float:
    """How far the lower edge that meets walls is lifted for a body of half a width at x, y: to the
    line of the floor ahead, at its edge on the side it goes to; for 0 to the highest of the line
    from edge to edge."""
    if not terrain.slopes:
        return 0.0
    left, right = x - half * (side <= 0) - TOUCH, x + half * (side >= 0) + TOUCH
    columns = between(left, right, terrain.columns, terrain.tile)
    if terrain.slope_columns.find(1, columns.start, columns.stop) < 0:
        return 0.0
    if side:
        return max(0.0, y - _line_ahead(terrain, half, x, y, side)[0])
    return max(0.0, y - _line_ahead(terrain, half, x, y, -1)[1],
               y - _line_ahead(terrain, half, x, y, 1)[1])


def _line_ahead(
    terrain: Terrain, half: float, x: float, y: float, side: int
) -> tuple[float, float]:
    """How high the floor is at the edge of a body, and at the highest on the way there, followed
    from under its middle: along slopes that join, and level where none does. In the air it is
    followed from the floor not further below than it could rise again."""
    begins = x + side * CLOSE
    found = slope_between(terrain, begins, y - NEAR, y + half)
    level = down(terrain, begins - TOUCH, begins + TOUCH, y, half) if found is None else None
    height, slope = found if found is not None else (y if level is None else level, None)
    column, edge = floor(begins / terrain.tile), x + side * half
    row = floor(height / terrain.tile) if slope is not None else 0
    if slope is not None and terrain.slopes.get((column, row)) is not slope:
        row -= 1
    highest = height
    while True:
        border = (column + (side > 0)) * terrain.tile
        if side * (edge - border) < -TOUCH:
            height = floor_of(slope, column, row, edge) if slope is not None else height
            return height, min(highest, height)
        if slope is not None:
            height = floor_of(slope, column, row, border)
            highest = min(highest, height)
        if side * (edge - border) <= TOUCH:
            return height, highest
        column += side
        slope, row = _joined(terrain, column, height, side)


def _joined(terrain: Terrain, column: int, height: float, side: int) -> tuple[Slope | None, int]:
    """The slope of a column, and its row, whose floor begins at a height for one who comes from the
    other side."""
    for row in (ceil(height / terrain.tile) - 1, floor(height / terrain.tile)):
        slope = terrain.slopes.get((column, row))
        if slope is not None:
            near = slope.left if side > 0 else slope.right
            if abs((row + 1) * terrain.tile - near - height) < NEAR:
                return slope, row
    return None, 0
