"""The tiles of a world laid out once, so that a sweep looks each of them up at once."""

from __future__ import annotations

from collections.abc import Iterator
from typing import NamedTuple

from ...model.world import (
    AIR,
    BRICK,
    GENTLE_DOWN,
    GENTLE_UP,
    LADDER,
    PLANK,
    SLOPES,
    STEEP_DOWN,
    STEEP_UP,
    WATER,
    World,
)

MOST_KNOWN = 8

Grid = list[bytes]
"""`grid[row + 1][column + 1]` is not zero where there is something, for rows from -1 to `rows`,
columns likewise."""


class Slope(NamedTuple):
    """A slope's floor: its height above the tile's lower edge at the left and at the right, in
    pixels."""

    left: float
    right: float

    tile: int
    """The width of the tile."""

    @property
    def rises(self) -> bool:
        """Whether it rises to the right."""
        return self.right > self.left

    @property
    def steepness(self) -> float:
        """Pixels up in one pixel across, whichever way."""
        return abs(self.right - self.left) / self.tile


SHARES = {
    STEEP_UP: (0.0, 1.0), STEEP_DOWN: (1.0, 0.0),
    GENTLE_UP[0]: (0.0, 0.5), GENTLE_UP[1]: (0.5, 1.0),
    GENTLE_DOWN[0]: (1.0, 0.5), GENTLE_DOWN[1]: (0.5, 0.0),
}
"""The floor of each slope at its left and at its right, as shares of a tile."""


def slope_of(letter: str, tile: int) -> Slope:
    """The slope of a letter where tiles are so wide."""
    left, right = SHARES[letter]
    return Slope(left * tile, right * tile, tile)


HIGH_LEFT, HIGH_RIGHT = STEEP_DOWN + GENTLE_DOWN[0], STEEP_UP + GENTLE_UP[1]
"""The slopes whose whole left, or right, side is solid."""


class Terrain:
    """Grids of one world. Past either end of a row is brick, above and below the rows is air; what
    is further out is as what is just outside.

    `brick` is what no body may be in, `to_right` and `to_left` what stops one that goes that way,
    `above` what stops one that rises, `tops` what one that falls stands on: bricks, planks and
    ladders' tops, which are `thin`. `slopes` gives slopes by (column, row), `sloping` is where they
    are, `wet` where there is water.
    """

    __slots__ = ("above", "barred", "brick", "ceilings", "columns", "has_ladders", "has_ledges",
                 "has_water",
                 "has_zones", "ladder", "rows", "slope_columns", "slopes", "sloping", "surfaces",
                 "thin", "tile", "to_left",
                 "to_right", "tops", "wet", "world", "zoned")

    def __init__(self, world: World) -> None:
        self.world = world
        self.rows, self.columns = len(world.rows), world.columns
        self.tile = world.tile_size
        tiles = _lines(world)
        if world.from_above:
            # Walked over: whatever is no brick is floor.
            only_bricks = _table(BRICK, ord(BRICK), ord(AIR))
            tiles = [line.translate(only_bricks) for line in tiles]
        self.brick = _grid(tiles, BRICK)
        self.ladder = _grid(tiles, LADDER)
        self.sloping = _grid(tiles, SLOPES)
        known = {letter: slope_of(letter, self.tile) for letter in SLOPES}
        self.slopes = {
            (column - 1, row - 1): known[chr(tiles[row][column])]
            for row, line in enumerate(self.sloping) for column in _places(line)
        }
        self.to_right = _grid(tiles, BRICK + HIGH_LEFT) if self.slopes else self.brick
        self.to_left = _grid(tiles, BRICK + HIGH_RIGHT) if self.slopes else self.brick
        self.above = _grid(tiles, BRICK + SLOPES) if self.slopes else self.brick
        self.has_ladders = any(1 in line for line in self.ladder)
        self.thin = _grid(tiles, PLANK)
        if self.has_ladders:
            covers = _grid(tiles, LADDER + BRICK)
            for row, line in enumerate(self.ladder):
                tops = [column for column in _places(line)
                        if row > 0 and not covers[row - 1][column]]
                if tops:
                    own = bytearray(self.thin[row])
                    for column in tops:
                        own[column] = 1
                    self.thin[row] = bytes(own)
        self.tops = [
            _either(brick, thin) if 1 in thin else brick
            for brick, thin in zip(self.brick, self.thin, strict=True)
        ]
        self.wet = _wet(world, self.columns)
        self.has_water = any(1 in line for line in self.wet)
        self.has_zones = bool(world.zones)
        self.barred = frozenset(world.barred)
        self.has_ledges = world.seen == "from the side"
        self.slope_columns = bytes(self.columns + 2)
        for line in self.sloping:
            self.slope_columns = _either(self.slope_columns, line)
        """1 for the columns that have a slope, counted as in the grids."""
        self.surfaces: dict[tuple[int, int, int], float | None] = {}
        """What was found out about surfaces of water, by the tiles that were looked at."""
        self.zoned: dict[tuple[int, int, int], str] = {}
        """The name of the zone of each tile that was asked about."""
        self.ceilings: dict[tuple[int, int, int, int], float | None] = {}
        """What was found out about ceilings, by the tiles that were looked at."""

    def at(self, grid: Grid, column: int, row: int) -> int:
        """What a grid holds at a tile."""
        line = grid[0 if row < 0 else row + 1 if row <= self.rows else self.rows + 1]
        return line[0 if column < 0 else column + 1 if column <= self.columns else self.columns + 1]


def _lines(world: World) -> list[bytes]:
    """The letters of the rows from -1 to the one after the last, of the columns likewise, as
    bytes."""
    columns = world.columns
    first, last = (len(world.rows[0]), len(world.rows[-1])) if world.rows else (0, 0)
    ends = [BRICK + AIR * length + BRICK * (columns - length + 1) for length in (first, last)]
    inside = [f"{BRICK}{row.replace(WATER, AIR)}{BRICK * (columns - len(row) + 1)}"
              for row in world.rows]
    return [line.encode("ascii") for line in (ends[0], *inside, ends[1])]


def _wet(world: World, columns: int) -> Grid:
    nothing = bytes(columns + 2)
    found = [nothing]
    water = _table(WATER, 1, 0)
    for row, line in enumerate(world.rows):
        own = line.encode("ascii").translate(water)
        other = world.wet[row].encode("ascii").translate(water) if row < len(world.wet) else b""
        wet = b"\0" + _either(own.ljust(columns, b"\0"),
                              other.ljust(columns, b"\0")[:columns]) + b"\0"
        found.append(wet if 1 in wet else nothing)
    return [*found, nothing]


def _table(kinds: str, inside: int, outside: int) -> bytes:
    return bytes(inside if chr(each) in kinds else outside for each in range(256))


def _grid(tiles: list[bytes], kinds: str) -> Grid:
    table = _table(kinds, 1, 0)
    return [line.translate(table) for line in tiles]


def _either(one: bytes, other: bytes) -> bytes:
    """Bytes that are 1 where one of two of the same length is."""
    return (int.from_bytes(one, "big") | int.from_bytes(other, "big")).to_bytes(len(one), "big")


def _places(line: bytes) -> Iterator[int]:
    """Where a grid's row holds something."""
    place = line.find(1)
    while place >= 0:
        yield place
        place = line.find(1, place + 1)


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
