"""Edits of what a booth is drawn with: its pictures, how tiles look, and cells laid on places."""

from __future__ import annotations

from collections.abc import Iterable

from msgspec.structs import replace

from ..world import MOST_CELLS, TileLook, World

Cell = tuple[int, int]
MOST_LAID = 200_000
"""Places of a booth that can have a cell of their own."""


def looking(world: World, look: TileLook) -> World:
    """With a tile that looks so."""
    others = [each for each in world.looks if each.tile != look.tile]
    return replace(world, looks=tuple(sorted([*others, look], key=lambda each: each.tile)))


def looking_usual(world: World, tile: str) -> World:
    """With a tile that is drawn as we draw it."""
    return replace(world, looks=tuple([each for each in world.looks if each.tile != tile]))


def laid(world: World, places: Iterable[Cell], cell: Cell) -> World:
    """With a cell of the picture laid over these places. What lies outside the world is left out,
    and so is what is too much."""
    x, y = cell
    if not (0 <= x < MOST_CELLS and 0 <= y < MOST_CELLS):
        return world
    found = {(column, row): (x, y) for column, row, x, y in world.cells}
    for column, row in places:
        if 0 <= column < world.columns and 0 <= row < len(world.rows) and (
                (column, row) in found or len(found) < MOST_LAID):
            found[column, row] = (x, y)
    return _with_cells(world, found)


def lifted(world: World, places: Iterable[Cell]) -> World:
    """Without the cells that are laid over these places."""
    away = set(places)
    if not away or not world.cells:
        return world
    left = tuple([each for each in world.cells if each[:2] not in away])
    return world if len(left) == len(world.cells) else replace(world, cells=left)


def _with_cells(world: World, found: dict[Cell, Cell]) -> World:
    return replace(world, cells=tuple([(*place, *cell) for place, cell in sorted(found.items())]))
