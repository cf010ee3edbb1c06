"""Sweeps through the tiles: how far something gets before it meets a solid one, at any speed.

Pixels, y downwards. Past either end of a row is a wall, above and below the rows is air, so no sweep looks at more
tiles than the world has.
"""

from __future__ import annotations

from math import ceil, floor

from ..model.world import TILE, World

TOUCH = 0.001
"""Pixels by which two things that touch do not overlap."""


def rows_of(world: World, top: float, bottom: float) -> range:
    """The rows of tiles between two heights; what lies outside the world counts as its nearest row outside."""
    last = len(world.rows)
    return range(max(-1, min(last, floor(top / TILE))), max(0, min(last + 1, ceil(bottom / TILE))))


def columns_of(world: World, left: float, right: float) -> range:
    """The columns of tiles between two places, those outside the world as its nearest column outside."""
    last = world.columns
    return range(max(-1, min(last, floor(left / TILE))), max(0, min(last + 1, ceil(right / TILE))))


def is_solid(world: World, left: float, top: float, right: float, bottom: float) -> bool:
    """Whether a rectangle of the world meets a solid tile."""
    columns, tile = columns_of(world, left, right), world.tile
    for row in rows_of(world, top, bottom):
        for column in columns:
            if tile(column, row) == "#":
                return True
    return False


def across(world: World, edge: float, top: float, bottom: float, by: float) -> float | None:
    """Where the leading edge of something that moves across by `by` is stopped, or None where nothing stops it."""
    rows, tile = rows_of(world, top, bottom), world.tile
    if by > 0:
        for column in columns_of(world, edge - TOUCH, edge + by):
            if column * TILE >= edge - TOUCH and any(tile(column, row) == "#" for row in rows):
                return float(column * TILE)
    elif by < 0:
        for column in reversed(columns_of(world, edge + by, edge + TOUCH)):
            if (column + 1) * TILE <= edge + TOUCH and any(tile(column, row) == "#" for row in rows):
                return float((column + 1) * TILE)
    return None


def down(world: World, left: float, right: float, feet: float, by: float) -> float | None:
    """Where the feet of something that falls by `by` stand, or None where nothing is under them."""
    columns, tile = columns_of(world, left, right), world.tile
    for row in rows_of(world, feet - TOUCH, feet + by + TOUCH):
        top = row * TILE
        if feet - TOUCH <= top <= feet + by and any(tile(column, row) == "#" for column in columns):
            return float(top)
    return None


def up(world: World, left: float, right: float, head: float, by: float) -> float | None:
    """Where the head of something that rises by `by` (below nought) is stopped, or None where nothing is above it."""
    columns, tile = columns_of(world, left, right), world.tile
    for row in reversed(rows_of(world, head + by, head + TOUCH)):
        if (row + 1) * TILE <= head + TOUCH and any(tile(column, row) == "#" for column in columns):
            return float((row + 1) * TILE)
    return None


def along(world: World, x: float, y: float, by_x: float, by_y: float) -> float | None:
    """What share of a straight way, 0 to 1, a point goes before it is in a solid tile; None where it is stopped by
    none.

    Steps from tile to tile (Amanatides and Woo, "A fast voxel traversal algorithm for ray tracing", 1987).
    """
    column, row = floor(x / TILE), floor(y / TILE)
    if world.tile(column, row) == "#":
        return 0.0
    step_x, step_y = (1 if by_x > 0 else -1), (1 if by_y > 0 else -1)
    next_x = ((column + (by_x > 0)) * TILE - x) / by_x if by_x else 2.0
    next_y = ((row + (by_y > 0)) * TILE - y) / by_y if by_y else 2.0
    each_x, each_y = abs(TILE / by_x) if by_x else 0.0, abs(TILE / by_y) if by_y else 0.0
    for _ in range(world.columns + len(world.rows) + 4):
        share = min(next_x, next_y)
        if share > 1.0:
            return None
        if next_x <= next_y:
            column, next_x = column + step_x, next_x + each_x
        else:
            row, next_y = row + step_y, next_y + each_y
        if world.tile(column, row) == "#":
            return share
    return 1.0
