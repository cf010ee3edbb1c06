"""Moves a box through the tiles: across, up and down, over slopes, and out of what it finds itself
in."""

from __future__ import annotations

from functools import lru_cache
from math import ceil, floor, radians, tan
from typing import NamedTuple

from ...model.mover import Mover
from .slopes import NEAR, lift, slope_between
from .sweep import TOUCH, across, between, columns_at, down, inwards, is_solid, up
from .terrain import Slope, Terrain

AT_BORDER = 1e-9
"""Pixels within which a middle is at a border."""
TILES_OUT = 3
"""How far a body that finds itself inside something is moved to get out."""


class MovedBox(NamedTuple):
    """What is moved: half its width, its height, and the steepest slope it stands on, in pixels up
    for one across."""

    half: float
    height: float
    steepest: float = 1.0


def box_of(mover: Mover, height: float) -> MovedBox:
    """The box of a mover that is so high now."""
    return MovedBox(mover.width / 2, height, _steepness(mover.steepest))


@lru_cache(maxsize=64)
def _steepness(degrees: float) -> float:
    return tan(radians(min(89.9, degrees))) + 1e-9


class Slid(NamedTuple):
    """Where moving across led, whether something stopped it, and by how much a slope raised it
    (pixels)."""

    x: float
    y: float
    stopped: bool
    raised: float = 0.0


def slide(terrain: Terrain, box: MovedBox, x: float, y: float, by: float, standing: bool) -> Slid:
    """Move across; one that stands keeps to slopes."""
    side = 1 if by > 0 else -1
    if not terrain.slopes or not _slopes_about(terrain, box, x, y, by):
        stop = across(terrain, x + side * box.half, y - box.height, y - TOUCH, by)
        return Slid(x + by, y, False) if stop is None else Slid(stop - side * box.half, y, True)
    first, end = y, x + by
    while by and not _wall_at(terrain, box, x, y, side):
        # From border to border: between two of them there is one floor under the middle, and no
        # wall to meet.
        to = _next_border(terrain.tile, x, box.half, side, end)
        new_y = _kept_to(terrain, box, x, to, y, standing)
        if new_y is None or (new_y < y and up(
            terrain, to - box.half + TOUCH, to + box.half - TOUCH, y - box.height,
            new_y - y) is not None
        ):
            # The floor rises too steeply, or there is no room for the head.
            break
        x, y = to, new_y
        if x == end:
            return Slid(x, y, False, max(0.0, first - y))
    return Slid(x, y, bool(by), max(0.0, first - y))


def _next_border(tile: int, x: float, half: float, side: int, end: float) -> float:
    """Where the middle, or the leading edge, next comes to a column's border on the way to
    `end`."""
    edge = x + side * half
    if side > 0:
        return min((floor((x + AT_BORDER) / tile) + 1) * tile,
                   (floor((edge + TOUCH) / tile) + 1) * tile - half, end)
    return max((ceil((x - AT_BORDER) / tile) - 1) * tile,
               (ceil((edge - TOUCH) / tile) - 1) * tile + half, end)


def _wall_at(terrain: Terrain, box: MovedBox, x: float, y: float, side: int) -> bool:
    """Whether the leading edge of a body at x, y is at a wall."""
    edge = x + side * box.half
    if abs(edge - round(edge / terrain.tile) * terrain.tile) > TOUCH:
        return False
    low = y - lift(terrain, box.half, x, y, side)
    return across(terrain, edge, y - box.height, low - TOUCH, side * TOUCH) is not None


def _slopes_about(terrain: Terrain, box: MovedBox, x: float, y: float, by: float) -> bool:
    left, right = min(x, x + by) - box.half - terrain.tile, max(x, x + by) + box.half + terrain.tile
    columns = between(left, right, terrain.columns, terrain.tile)
    if terrain.slope_columns.find(1, columns.start, columns.stop) < 0:
        return False
    return is_solid(terrain, left, y - box.height, right, y + terrain.tile, terrain.sloping)


def _kept_to(
    terrain: Terrain, box: MovedBox, x: float, to: float, y: float, standing: bool
) -> float | None:
    """The feet's height after one step from x to `to`; None where the floor there is too high to
    get to."""
    rise = abs(to - x) + NEAR
    # Whatever slope the middle would be in, from the tile of its head on.
    head = floor((y - box.height) / terrain.tile) * terrain.tile
    found = slope_between(terrain, to, head, y + rise if standing else y)
    if found is not None:
        at, slope = found
        if at < y - rise:
            return None
        if at < y - TOUCH:
            return at if slope.steepness <= box.steepest else None
        if not standing or slope.steepness > box.steepest or is_solid(
            terrain, to - box.half + TOUCH, y, to + box.half - TOUCH,
            at - lift(terrain, box.half, to, at) - TOUCH
        ):
            return y
        return at
    row = floor((y - TOUCH) / terrain.tile)
    bricks = [column for column in columns_at(to, terrain.tile)
              if terrain.at(terrain.brick, column, row)]
    if bricks:
        # Only the brick at the upper end of a slope lets the middle come so far.
        free = row * terrain.tile >= y - rise and not any(
            [terrain.at(terrain.above, column, row - 1) for column in bricks])
        return float(row * terrain.tile) if free else None
    if not standing or slope_between(terrain, x, y - NEAR, y + NEAR) is None:
        return y
    # From a slope onto the flat at its lower end.
    flat = down(terrain, to - box.half + TOUCH, to + box.half - TOUCH, y, rise)
    return flat if flat is not None else y


class Fell(NamedTuple):
    """Where moving up or down led: the place, whether the feet stand, whether the head met
    something, and the slope that holds the feet."""

    x: float
    y: float
    landed: bool
    bumped: bool
    slope: Slope | None = None


def fall(terrain: Terrain, box: MovedBox, x: float, y: float, by: float, thin: bool = True) -> Fell:
    """Move down by `by`; planks and ladders' tops hold it where `thin`."""
    left, right = x - box.half + TOUCH, x + box.half - TOUCH
    top = down(terrain, left, right, y, by, terrain.tops if thin else terrain.brick)
    if not terrain.slopes:
        return Fell(x, y + by, False, False) if top is None else Fell(x, top, True, False)
    # As far as it falls: what slides on it must not leave it by a number's last digit.
    found = slope_between(terrain, x, y - NEAR, y + by + AT_BORDER)
    while top is not None and _leads_to(terrain, x, left, right, int(top) // terrain.tile):
        # The upper end of the slope it stands over holds nothing.
        further = top + terrain.tile
        top = down(terrain, left, right, further, y + by - further) if further <= y + by else None
    if found is not None and (top is None or found[0] <= top):
        return Fell(x, min(found[0], y + by), True, False, found[1])
    return Fell(x, y + by, False, False) if top is None else Fell(x, top, True, False)


def _leads_to(terrain: Terrain, x: float, left: float, right: float, row: int) -> bool:
    """Whether all that stands under a box in a row is what the slope under its middle leads up
    to."""
    return any([_leads_up(terrain, column, left, right, row)
                for column in columns_at(x, terrain.tile)])


def _leads_up(terrain: Terrain, column: int, left: float, right: float, row: int) -> bool:
    slope = terrain.slopes.get((column, row))
    if slope is None or max(slope.left, slope.right) < terrain.tile:
        return False
    low_side = (
        (left, column * terrain.tile - TOUCH)
        if slope.rises
        else ((column + 1) * terrain.tile + TOUCH, right)
    )
    return low_side[0] >= low_side[1] or not is_solid(
        terrain, low_side[0], (row + 0.25) * terrain.tile, low_side[1],
        (row + 0.5) * terrain.tile, terrain.tops)


def rise(
    terrain: Terrain, box: MovedBox, x: float, y: float, by: float, corner: float = 0.0
) -> Fell:
    """Move up by `by` (below zero), round corners that hold it by no more than `corner`
    pixels."""
    left, right = x - box.half + TOUCH, x + box.half - TOUCH
    head = y - box.height
    ceiling = up(terrain, left, right, head, by)
    if ceiling is None:
        return Fell(x, y + by, False, False)
    if corner > 0:
        aside = _aside(terrain, box, x, head, by, corner)
        if aside is not None:
            return Fell(aside, y + by, False, False)
    return Fell(x, min(y, ceiling + box.height), False, True)


def _aside(
    terrain: Terrain, box: MovedBox, x: float, head: float, by: float, corner: float
) -> float | None:
    """The nearest x within `corner` pixels at which the way up is free and the way there too."""
    # Only where an edge of the box stands flush with a tile can a way open.
    left_edge = ceil((x - box.half) / terrain.tile) * terrain.tile + box.half
    right_edge = floor((x + box.half) / terrain.tile) * terrain.tile - box.half
    side = inwards(terrain, x)
    for to in sorted((left_edge, right_edge),
                     key=lambda each: (abs(each - x), (each - x) * side < 0)):
        if 0 < abs(to - x) <= corner and not is_solid(
            terrain, min(x, to) - box.half + TOUCH, head, max(x, to) + box.half - TOUCH,
            head + box.height - TOUCH,
        ) and up(terrain, to - box.half + TOUCH, to + box.half - TOUCH, head, by) is None:
            return to
    return None


def is_free(terrain: Terrain, box: MovedBox, x: float, y: float) -> bool:
    """Whether a box may stand at x, y."""
    low = y - lift(terrain, box.half, x, y)
    if is_solid(terrain, x - box.half + TOUCH, y - box.height + TOUCH, x + box.half - TOUCH,
                low - TOUCH):
        return False
    if not terrain.slopes:
        return True
    # The middle is under no slope's floor, and in no brick.
    tile = terrain.tile
    return not is_solid(terrain, x - TOUCH, y - box.height, x + TOUCH, y - TOUCH) and all(
        slope_between(terrain, x, row * tile, min(y - NEAR, (row + 1) * tile)) is None or (
            row * tile >= y - NEAR)
        for row in range(floor((y - box.height) / tile), floor((y - NEAR) / tile) + 1)
        if any([(column, row) in terrain.slopes for column in columns_at(x, tile)])
    )


def got_out(terrain: Terrain, box: MovedBox, x: float, y: float) -> tuple[float, float] | None:
    """The nearest free place of a body that is inside something, upwards before aside; None where
    there is none near."""
    if is_free(terrain, box, x, y):
        return x, y
    side = inwards(terrain, x)
    for step in range(1, TILES_OUT * terrain.tile + 1):
        if is_free(terrain, box, x, y - step):
            # Stand on what it came out of, not a part of a pixel over it.
            fell = fall(terrain, box, x, y - step, 1.0)
            return fell.x, fell.y if fell.landed else y - step
    for step in range(1, TILES_OUT * terrain.tile + 1):
        for to in (x + step * side, x - step * side):
            if is_free(terrain, box, to, y):
                return to, y
    return None


def wall_beside(terrain: Terrain, box: MovedBox, x: float, y: float, side: int) -> bool:
    """Whether something solid stands within half a pixel of a side."""
    end = x + side * 0.5
    if not terrain.slopes or not _slopes_about(terrain, box, x, y, end - x):
        return across(terrain, x + side * box.half, y - box.height, y - TOUCH,
                      side * 0.5) is not None
    # What a slope lifts it over on the way there is no wall.
    while not _wall_at(terrain, box, x, y, side):
        if x == end:
            return False
        to = _next_border(terrain.tile, x, box.half, side, end)
        there = _kept_to(terrain, box, x, to, y, standing=True)
        x, y = to, y if there is None else there
    return True
