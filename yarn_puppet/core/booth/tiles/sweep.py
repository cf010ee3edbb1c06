"""Sweeps through the tiles: how far something gets before it meets a solid one, at any speed.

Pixels, y downwards. No sweep looks at more tiles than the world has.
"""

from __future__ import annotations

from math import ceil, floor

from .terrain import Grid, Terrain

MOST_CEILINGS = 4096
"""Answers about ceilings that are kept for a terrain."""
TOUCH = 0.001
"""Pixels by which two things that touch do not overlap."""


def columns_at(x: float, tile: int) -> tuple[int, ...]:
    """The column of a middle; on a border both columns, so that a mirror image does the same."""
    column = floor(x / tile)
    return (column - 1, column) if column * tile == x else (column,)


def inwards(terrain: Terrain, x: float) -> int:
    """The side on which more of the world is: of two ways that are as good, the one that a mirror
    image takes too."""
    return 1 if 2 * x < terrain.columns * terrain.tile else -1


def between(low: float, high: float, count: int, tile: int) -> range:
    """The tiles of a size between two places, counted in the terrain's grid; what lies outside
    counts as its nearest outside."""
    first, last = floor(low / tile) + 1, ceil(high / tile) + 1
    if first < 0:
        first = 0
    elif first > count + 1:
        first = count + 1
    if last < 1:
        last = 1
    elif last > count + 2:
        last = count + 2
    return range(first, last)


def is_solid(
    terrain: Terrain, left: float, top: float, right: float, bottom: float, grid: Grid | None = None
) -> bool:
    """Whether a rectangle of the world meets a brick, or something of another grid."""
    columns = between(left, right, terrain.columns, terrain.tile)
    first, last = columns.start, columns.stop
    grid = grid or terrain.brick
    # Bytes are looked through faster than tile by tile.
    rows = between(top, bottom, terrain.rows, terrain.tile)
    return any([grid[row].find(1, first, last) >= 0 for row in rows])


def across(terrain: Terrain, edge: float, top: float, bottom: float, by: float) -> float | None:
    """Where the leading edge of something that moves across by `by` is stopped, or None where
    nothing stops it."""
    if by == 0.0:
        return None
    grid = terrain.to_right if by > 0 else terrain.to_left
    rows = [grid[row] for row in between(top, bottom, terrain.rows, terrain.tile)]
    if by > 0:
        for column in between(edge - TOUCH, edge + by, terrain.columns, terrain.tile):
            if (column - 1) * terrain.tile >= edge - TOUCH:
                for row in rows:
                    if row[column]:
                        return float((column - 1) * terrain.tile)
        return None
    for column in reversed(between(edge + by, edge + TOUCH, terrain.columns, terrain.tile)):
        if column * terrain.tile <= edge + TOUCH:
            for row in rows:
                if row[column]:
                    return float(column * terrain.tile)
    return None


def down(
    terrain: Terrain, left: float, right: float, feet: float, by: float, grid: Grid | None = None
) -> float | None:
    """The first top of a tile at or under the feet of something that falls by `by`; None where
    nothing is under them."""
    columns = between(left, right, terrain.columns, terrain.tile)
    grid = grid or terrain.tops
    for row in between(feet - TOUCH, feet + by + TOUCH, terrain.rows, terrain.tile):
        top = (row - 1) * terrain.tile
        if feet - TOUCH <= top <= feet + by and grid[row].find(1, columns.start, columns.stop) >= 0:
            return float(top)
    return None


def up(terrain: Terrain, left: float, right: float, head: float, by: float) -> float | None:
    """Where the head of something that rises by `by` (below zero) is stopped, or None where
    nothing is above it."""
    columns, rows = between(left, right, terrain.columns, terrain.tile), between(
        head + by, head + TOUCH, terrain.rows, terrain.tile)
    highest, lowest = rows.start, min(rows.stop - 1, floor((head + TOUCH) / terrain.tile))
    # Asked for in every tick, and most ticks are spent in the same few tiles.
    key = (columns.start, columns.stop, highest, lowest)
    if key in terrain.ceilings:
        return terrain.ceilings[key]
    found = None
    for row in range(lowest, highest - 1, -1):
        if terrain.above[row].find(1, columns.start, columns.stop) >= 0:
            found = float(row * terrain.tile)
            break
    if len(terrain.ceilings) >= MOST_CEILINGS:
        terrain.ceilings.clear()
    terrain.ceilings[key] = found
    return found


def along(terrain: Terrain, x: float, y: float, by_x: float, by_y: float) -> float | None:
    """What share of a straight way, 0 to 1, a point goes before it is in a brick; None where none
    stops it.

    Steps from tile to tile (Amanatides and Woo, "A fast voxel traversal algorithm for ray tracing",
    1987).
    """
    column, row = floor(x / terrain.tile), floor(y / terrain.tile)
    if terrain.at(terrain.brick, column, row):
        return 0.0
    step_x, step_y = (1 if by_x > 0 else -1), (1 if by_y > 0 else -1)
    next_x = ((column + (by_x > 0)) * terrain.tile - x) / by_x if by_x else 2.0
    next_y = ((row + (by_y > 0)) * terrain.tile - y) / by_y if by_y else 2.0
    each_x = abs(terrain.tile / by_x) if by_x else 0.0
    each_y = abs(terrain.tile / by_y) if by_y else 0.0
    for _ in range(terrain.columns + terrain.rows + 4):
        share = min(next_x, next_y)
        if share > 1.0:
            return None
        if next_x <= next_y:
            column, next_x = column + step_x, next_x + each_x
        else:
            row, next_y = row + step_y, next_y + each_y
        if terrain.at(terrain.brick, column, row):
            return share
    return 1.0
