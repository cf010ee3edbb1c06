"""The solid tiles of a world, laid out once so that a sweep looks each of them up at once."""

from __future__ import annotations

from ..model.world import World

MOST_KNOWN = 8


class Terrain:
    """`grid[row + 1][column + 1]` is not nought where a tile is solid, for rows from -1 to `rows`, columns likewise.

    Past either end of a row is a wall, above and below the rows is air; what is further out is as what is just outside.
    """

    __slots__ = ("columns", "grid", "rows")

    def __init__(self, world: World) -> None:
        self.rows = len(world.rows)
        self.columns = world.columns
        self.grid = [
            bytes(world.tile(column, row) == "#" for column in range(-1, self.columns + 1))
            for row in range(-1, self.rows + 1)
        ]


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
