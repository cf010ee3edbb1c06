"""Edits of a booth: functions from world to world. Tiles are told by column and row."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any, Literal

from msgspec.structs import replace

from ..world import (
    AIR,
    BRICK,
    GENTLE_DOWN,
    GENTLE_UP,
    LARGEST_TILE,
    MOST_COLUMNS,
    MOST_ROWS,
    STEEP_DOWN,
    STEEP_UP,
    TILE,
    WATER,
    Dummy,
    World,
    WorldProp,
    Zone,
)
from .tile_art import Cell, lifted

Thing = Literal["dummies", "props", "zones"]

NEW_WIDTH, NEW_HEIGHT = 60, 16


def new_world(name: str, seen: Literal["from the side", "from above"] = "from the side") -> World:
    """An empty booth with a floor to stand on; seen from above, one with a wall around it."""
    if seen == "from above":
        rows = [BRICK * NEW_WIDTH, *[BRICK + AIR * (NEW_WIDTH - 2) + BRICK] * (NEW_HEIGHT - 2),
                BRICK * NEW_WIDTH]
        return World(name, tuple(rows), 8.5 * TILE, 8.0 * TILE, seen=seen)
    rows = [*[AIR * NEW_WIDTH] * (NEW_HEIGHT - 3), *[BRICK * NEW_WIDTH] * 3]
    return World(name, tuple(rows), 8.5 * TILE, (NEW_HEIGHT - 3.0) * TILE)


def _grid(world: World) -> list[list[str]]:
    """The rows, all as long as the longest: what lay past the end of one is the brick that it
    counted as."""
    return [list(row) + [BRICK] * (world.columns - len(row)) for row in world.rows]


def _wet(world: World) -> list[list[str]]:
    """Where there is water, by row."""
    return [
        [WATER if world.is_wet(column, row) else AIR for column in range(world.columns)]
        for row in range(len(world.rows))
    ]


def _made(world: World, rows: list[list[str]], wet: list[list[str]]) -> World:
    dry = [[AIR if each == WATER else each for each in row] for row in rows]
    lines = ["".join(row).rstrip(AIR) for row in wet]
    while lines and not lines[-1]:
        lines.pop()
    return replace(world, rows=tuple("".join(row) for row in dry), wet=tuple(lines))


def pieces(kind: str, cells: Iterable[Cell], first: Cell) -> dict[Cell, str]:
    """What each of some cells becomes. A gentle slope takes turns of its two halves from the
    `first` cell on."""
    pairs = {GENTLE_UP[0]: GENTLE_UP, GENTLE_DOWN[0]: GENTLE_DOWN}.get(kind)
    return {(x, y): pairs[(x - first[0]) % 2] if pairs else kind for x, y in cells}


def painted(world: World, cells: Iterable[Cell], kind: str, first: Cell | None = None) -> World:
    """With these tiles of a kind; water is laid over what stands there, air takes both away. What
    lies outside is left out."""
    listed = list(cells)
    by_row: dict[int, dict[int, str]] = {}
    for (column, row), piece in pieces(kind, listed,
                                       first or (listed[0] if listed else (0, 0))).items():
        if 0 <= row < len(world.rows) and 0 <= column < world.columns:
            by_row.setdefault(row, {})[column] = piece
    rows, wet = list(world.rows), list(world.wet)
    wet += [""] * (len(rows) - len(wet))
    for row, changes in by_row.items():
        # Only the rows that are touched are taken apart: a world may have a thousand.
        line = list(rows[row]) + [BRICK] * (world.columns - len(rows[row]))
        water = [WATER if world.is_wet(column, row) else AIR for column in range(world.columns)]
        for column, piece in changes.items():
            if piece == WATER:
                water[column] = WATER
                line[column] = AIR if line[column] == BRICK else line[column]
            else:
                line[column] = piece
                water[column] = AIR if piece in (AIR, BRICK) else water[column]
        rows[row] = "".join(AIR if each == WATER else each for each in line)
        wet[row] = "".join(water).rstrip(AIR)
    while wet and not wet[-1]:
        wet.pop()
    # What is painted anew shows as what it is.
    return lifted(replace(world, rows=tuple(rows), wet=tuple(wet)), listed)


def look(world: World, column: int, row: int) -> str:
    """What a tile looks like: its letter, or water where there is water in air."""
    tile = world.tile(column, row)
    return WATER if tile == AIR and world.is_wet(column, row) else tile


def filled(world: World, column: int, row: int, kind: str) -> World:
    """With the whole area of like tiles around a place made another kind."""
    if look(world, column, row) == kind:
        return world
    return painted(world, alike(world, column, row), kind, (column, row))


def alike(world: World, column: int, row: int) -> list[Cell]:
    """The whole area of like tiles around a place; none for one outside."""
    if not (0 <= column < world.columns and 0 <= row < len(world.rows)):
        return []
    was = look(world, column, row)
    lines = [bytearray(look(world, x, y) == was for x in range(world.columns))
             for y in range(len(world.rows))]
    found: list[Cell] = []
    waiting = [(column, row)]
    while waiting:
        x, y = waiting.pop()
        line = lines[y]
        if not line[x]:
            continue
        # A whole stretch of the row at once; what lies over and under it waits.
        left, right = line.rfind(0, 0, x) + 1, line.find(0, x)
        right = right if right >= 0 else len(line)
        line[left:right] = bytes(right - left)
        found += [(each, y) for each in range(left, right)]
        for near in (y - 1, y + 1):
            if 0 <= near < len(lines):
                place = lines[near].find(1, left, right)
                while place >= 0:
                    waiting.append((place, near))
                    end = lines[near].find(0, place, right)
                    place = lines[near].find(1, end, right) if end >= 0 else -1
    return found


def between(one: Cell, other: Cell) -> list[Cell]:
    """The cells on the way from one to another, so that a quick hand leaves no gaps (Bresenham,
    1965)."""
    (x, y), (to_x, to_y) = one, other
    by_x, by_y = abs(to_x - x), -abs(to_y - y)
    step_x, step_y = (1 if to_x > x else -1), (1 if to_y > y else -1)
    error, found = by_x + by_y, [(x, y)]
    while (x, y) != (to_x, to_y):
        double = 2 * error
        if double >= by_y:
            error, x = error + by_y, x + step_x
        if double <= by_x:
            error, y = error + by_x, y + step_y
        found.append((x, y))
    return found


def resized(world: World, columns: int, rows: int) -> World:
    """As wide and as high as asked: it grows, or is cut, at the right and at the top, since the
    ground is below."""
    columns, rows = max(1, min(MOST_COLUMNS, columns)), max(1, min(MOST_ROWS, rows))
    more = rows - len(world.rows)
    filler = BRICK if world.seen == "from above" else AIR

    def fitted(grid: list[list[str]], fill: str) -> list[list[str]]:
        wide = [(row + [fill] * columns)[:columns] for row in grid]
        return [[fill] * columns for _ in range(more)] + wide if more > 0 else wide[-more:]

    made = _made(world, fitted(_grid(world), filler), fitted(_wet(world), AIR))
    tile = world.tile_size
    by = more * tile
    return replace(
        made, start_x=min(world.start_x, columns * tile - tile / 2),
        start_y=min(max(1.0, world.start_y + by), rows * tile),
        dummies=tuple(replace(dummy, y=dummy.y + by) for dummy in world.dummies),
        props=tuple(replace(prop, y=prop.y + by) for prop in world.props),
        zones=tuple(replace(zone, y=max(0, zone.y + more)) for zone in world.zones),
        barred=tuple((column, row + more, side) for column, row, side in world.barred),
        cells=tuple((column, row + more, *cell) for column, row, *cell in world.cells
                    if column < columns and 0 <= row + more < rows),
    )


def tile_sized(world: World, size: int) -> World:
    """With tiles of so many pixels: all that is counted in pixels grows or shrinks with them, so
    that the booth is the same beside a puppet that does too."""
    size = max(1, min(LARGEST_TILE, size))
    by = size / world.tile_size

    def scaled(dummy: Dummy) -> Dummy:
        return replace(dummy, x=dummy.x * by, y=dummy.y * by, width=dummy.width * by,
                       height=dummy.height * by, span=dummy.span * by,
                       speed=min(1e6, dummy.speed * by), reach=min(1000.0, dummy.reach * by),
                       push=max(-1000.0, min(1000.0, dummy.push * by)))

    return replace(
        world, tile_size=size, start_x=world.start_x * by, start_y=world.start_y * by,
        dummies=tuple(scaled(dummy) for dummy in world.dummies),
        props=tuple(replace(prop, x=prop.x * by, y=prop.y * by) for prop in world.props),
    )


def start_moved(world: World, x: float, y: float) -> World:
    """With the puppet's start elsewhere, in the world."""
    wide, high = world.columns * world.tile_size, len(world.rows) * world.tile_size
    return replace(world, start_x=min(max(0.0, x), wide), start_y=min(max(0.0, y), high))


def thing_added(world: World, kind: Thing, thing: Dummy | WorldProp | Zone) -> World:
    """With one more dummy, prop or zone, under a name that nothing of its kind has."""
    taken = {each.name for each in getattr(world, kind)}
    name, number = thing.name, 2
    while name in taken:
        name, number = f"{thing.name} {number}", number + 1
    return replace(world, **{kind: (*getattr(world, kind), replace(thing, name=name))})


def thing_changed(world: World, kind: Thing, index: int, **values: Any) -> World:
    """With a dummy, prop or zone changed. One that is not there is left as it is."""
    things = getattr(world, kind)
    if not 0 <= index < len(things):
        return world
    return replace(world, **{kind: (*things[:index], replace(things[index], **values),
                                    *things[index + 1:])})


def thing_removed(world: World, kind: Thing, index: int) -> World:
    """Without a dummy, prop or zone."""
    things = getattr(world, kind)
    return replace(world, **{kind: (*things[:index], *things[index + 1:])})


def barring(world: World, column: int, row: int, side: Literal[-1, 0, 1]) -> World:
    """With a ledge barred, or grabbed again where it was."""
    place = (column, row, side)
    if place in world.barred:
        return replace(world, barred=tuple(each for each in world.barred if each != place))
    return replace(world, barred=(*world.barred, place))


SLOPE_KINDS = (STEEP_UP, STEEP_DOWN, GENTLE_UP[0], GENTLE_DOWN[0])
"""What a hand paints slopes with: each gentle one stands for both its halves."""
