"""The tiles of a world laid out once, so that a sweep looks each of them up at once."""

from __future__ import annotations

from typing import NamedTuple

from ..model.world import (
    BRICK,
    GENTLE_DOWN,
    GENTLE_UP,
    LADDER,
    PLANK,
    SLOPES,
    STEEP_DOWN,
    STEEP_UP,
    TILE,
    World,
)

MOST_KNOWN = 8

Grid = list[bytes]
"""`grid[row + 1][column + 1]` is not nought where there is something, for rows from -1 to `rows`, columns likewise."""


class Slope(NamedTuple):
    """A slope's floor: its height above the tile's lower edge at the left and at the right, in pixels."""

    left: float
    right: float

    @property
    def steepness(self) -> float:
        """Pixels up in one pixel across, whichever way."""
        return abs(self.right - self.left) / TILE


SLOPE_OF = {
    STEEP_UP: Slope(0.0, 16.0), STEEP_DOWN: Slope(16.0, 0.0),
    GENTLE_UP[0]: Slope(0.0, 8.0), GENTLE_UP[1]: Slope(8.0, 16.0),
    GENTLE_DOWN[0]: Slope(16.0, 8.0), GENTLE_DOWN[1]: Slope(8.0, 0.0),
}
HIGH_LEFT, HIGH_RIGHT = STEEP_DOWN + GENTLE_DOWN[0], STEEP_UP + GENTLE_UP[1]
"""The slopes whose whole left, or right, side is solid."""


class Terrain:
    """Grids of one world. Past either end of a row is brick, above and below the rows is air; what is further out is
    as what is just outside.

    `brick` is what no body may be in, `to_right` and `to_left` what stops one that goes that way, `above` what stops
    one that rises, `tops` what one that falls stands on: bricks, planks and ladders' tops, which are `thin`. `slopes`
    gives slopes by (column, row), `sloping` is where they are, `wet` where there is water.
    """

    __slots__ = ("above", "barred", "brick", "columns", "has_ladders", "has_ledges", "has_water", "has_zones", "ladder",
                 "rows", "slopes", "sloping", "thin", "to_left", "to_right", "tops", "wet", "world")

    def __init__(self, world: World) -> None:
        self.world = world
        self.rows, self.columns = len(world.rows), world.columns
        tiles = [
            [world.tile(column, row) for column in range(-1, self.columns + 1)] for row in range(-1, self.rows + 1)
        ]
        if world.seen == "from above":
            # Walked over: whatever is no brick is floor.
            tiles = [[each if each == BRICK else "." for each in line] for line in tiles]
        self.brick = _grid(tiles, BRICK)
        self.ladder = _grid(tiles, LADDER)
        self.slopes = {
            (column - 1, row - 1): SLOPE_OF[each]
            for row, line in enumerate(tiles) for column, each in enumerate(line) if each in SLOPE_OF
        }
        self.sloping = _grid(tiles, SLOPES)
        self.to_right = _grid(tiles, BRICK + HIGH_LEFT) if self.slopes else self.brick
        self.to_left = _grid(tiles, BRICK + HIGH_RIGHT) if self.slopes else self.brick
        self.above = _grid(tiles, BRICK + SLOPES) if self.slopes else self.brick
        self.thin = [
            bytes(
                each == PLANK or (each == LADDER and row > 0 and tiles[row - 1][column] not in LADDER + BRICK)
                for column, each in enumerate(line)
            ) for row, line in enumerate(tiles)
        ]
        self.tops = [
            bytes(one or other for one, other in zip(brick, thin, strict=True))
            for brick, thin in zip(self.brick, self.thin, strict=True)
        ]
        self.wet = [
            bytes(world.is_wet(column, row) for column in range(-1, self.columns + 1))
            for row in range(-1, self.rows + 1)
        ]
        self.has_ladders = any(LADDER in line for line in tiles)
        self.has_water = any("~" in line for line in (*world.rows, *world.wet))
        self.has_zones = bool(world.zones)
        self.barred = frozenset(world.barred)
        self.has_ledges = world.seen == "from the side"

    def at(self, grid: Grid, column: int, row: int) -> int:
        """What a grid holds at a tile."""
        line = grid[0 if row < 0 else row + 1 if row <= self.rows else self.rows + 1]
        return line[0 if column < 0 else column + 1 if column <= self.columns else self.columns + 1]


def _grid(tiles: list[list[str]], kinds: str) -> Grid:
    return [bytes(each in kinds for each in line) for line in tiles]


_known: dict[int, tuple[World, Terrain]] = {}


def terrain_of(world: World) -> Terrain:
    """The terrain of a world; those of the last few are kept."""
    known = _known.get(id(world))
    if known is not None and known[0] is world:
        return known[1]
    if len(_known) >= MOST_KNOWN:
        _known.clear()
    made = Terrain(world)
    _known[id(world)] = (world, made)
    return made
