"""Which parts of a booth's picture of tiles are drawn where; docs/world.md, section 7."""

from __future__ import annotations

from typing import NamedTuple

from ...model.world import AIR, BRICK, SLOPES, WATER, TileLook, World


class TilePiece(NamedTuple):
    """A part of the picture, its left top corner at `x`, `y`, and where in the tile it lies;
    pixels."""

    x: int
    y: int
    across: int
    down: int
    width: int
    height: int


Pieces = tuple[TilePiece, ...]
MOST_KNOWN = 50_000
"""Tiles whose pieces are kept."""


class TileArt:
    """What is drawn of one booth. Looks of a tile that is looked at twice count once, the last."""

    def __init__(self, world: World) -> None:
        self.world, self.size = world, world.tile_size
        self.looks = {look.tile: look for look in world.looks} if world.tiles else {}
        self._known: dict[tuple[str, int, int], Pieces] = {}
        self.laid = {(column, row): (x, y) for column, row, x, y in world.cells} \
            if world.tiles else {}

    def look_of(self, tile: str) -> TileLook | None:
        """How a tile is drawn; a slope without a look of its own as the brick it is cut from."""
        found = self.looks.get(tile)
        return self.looks.get(BRICK) if found is None and tile in SLOPES else found

    def behind(self, column: int, row: int) -> Pieces:
        """What lies behind the tile at a place: nothing behind brick."""
        return () if self.kind(column, row) == BRICK else self._drawn(AIR, column, row)

    def tile(self, column: int, row: int) -> Pieces:
        """The tile at a place, without what is behind it, and without water; nothing for one that
        has no look."""
        kind = self.kind(column, row)
        return () if kind == AIR else self._drawn(kind, column, row)

    def water(self, column: int, row: int) -> Pieces:
        """The water at a place."""
        return self._drawn(WATER, column, row) if self._stands(column, row, WATER) else ()

    def over(self, column: int, row: int) -> Pieces:
        """The cell that is laid over a place."""
        cell = self.laid.get((column, row))
        return () if cell is None else (self._whole(*cell),)

    def kind(self, column: int, row: int) -> str:
        """The tile that is drawn at a place: under the world goes on what stands lowest."""
        last = len(self.world.rows) - 1
        kind = self.world.tile(column, min(row, last))
        if row <= last:
            return kind
        return BRICK if kind == BRICK or kind in SLOPES else AIR

    def _stands(self, column: int, row: int, tile: str) -> bool:
        """Whether a tile goes on at a place: brick in slopes too, and air, which lies behind all
        else, in all else."""
        if tile == WATER:
            return self.world.is_wet(column, min(row, len(self.world.rows) - 1))
        kind = self.kind(column, row)
        if tile == AIR:
            return kind != BRICK
        return kind == tile or (tile == BRICK and kind in SLOPES)

    def _whole(self, column: int, row: int) -> TilePiece:
        return TilePiece(column * self.size, row * self.size, 0, 0, self.size, self.size)

    def _drawn(self, tile: str, column: int, row: int) -> Pieces:
        # The same places are asked for with every picture.
        key = (tile, column, row)
        found = self._known.get(key)
        if found is None:
            if len(self._known) >= MOST_KNOWN:
                self._known.clear()
            found = self._known[key] = self._found(tile, column, row)
        return found

    def _found(self, tile: str, column: int, row: int) -> Pieces:
        look = self.look_of(tile)
        if look is None:
            return ()
        if look.edges == "none":
            return (self._whole(look.column, look.row),)
        if look.tile == BRICK and tile in SLOPES:
            # The slope is its edge.
            return (self._whole(look.column + 1, look.row + 1),)
        quarters = [self._quarter(look, tile, column, row, right, lower)
                    for lower in (0, 1) for right in (0, 1)]
        if len(set(quarters)) == 1:
            return (self._whole(*quarters[0]),)
        half = self.size // 2
        found = []
        for number, cell in enumerate(quarters):
            across, down = half * (number % 2), half * (number // 2)
            width = self.size - half if across or (not half and number % 2) else half
            height = self.size - half if down or (not half and number // 2) else half
            if width and height:
                found.append(TilePiece(cell[0] * self.size + across,
                                       cell[1] * self.size + down, across, down, width, height))
        return tuple(found)

    def _quarter(
        self, look: TileLook, tile: str, column: int, row: int, right: int, lower: int
    ) -> tuple[int, int]:
        """The cell from which a quarter of a tile is taken: by whether the tile goes on at its
        side, over or under it, and between the two."""
        aside, above = (1 if right else -1), (1 if lower else -1)
        beside = self._stands(column + aside, row, tile)
        beyond = self._stands(column, row + above, tile)
        if beside and beyond:
            if look.edges == "all" and not self._stands(column + aside, row + above, tile):
                # The cell whose missing corner is this one.
                return look.column + (3 if right else 4), look.row + (0 if lower else 1)
            return look.column + 1, look.row + 1
        return (look.column + (1 if beside else 2 * right),
                look.row + (1 if beyond else 2 * lower))
