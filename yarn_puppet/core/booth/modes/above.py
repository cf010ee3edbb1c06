"""Seen from above: freely in every direction, or from cell to cell."""

from __future__ import annotations

from math import floor, hypot

from ...model.mover import Mover
from ...rules.numbers import sign
from ..body import Body
from ..tiles.stepping import MovedBox
from ..tiles.sweep import TOUCH, across, is_solid
from ..tiles.terrain import Terrain
from .step import MoverStep


def move_from_above(step: MoverStep) -> Body:
    """One tick of walking seen from above."""
    return _freely(step) if step.mover.goes == "freely" else _by_cells(step)


def footprint(mover: Mover, tile: int) -> MovedBox:
    """The square in which it stands, as a box: by cells no wider than a cell."""
    width = min(mover.width, tile) if mover.goes == "by cells" else mover.width
    return MovedBox(width / 2, width)


def _freely(step: MoverStep) -> Body:
    terrain, mover, body, _, wish, moving, dt = step
    box = footprint(mover, terrain.tile)
    target = (0.0, 0.0)
    if not moving.locked:
        far = max(1.0, hypot(wish.across, wish.up))
        speed = mover.walk_speed * moving.speed / far
        target = (wish.across * speed, -wish.up * speed)
    before = (body.vx, body.vy)
    if moving.locked:
        before = after = (0.0, 0.0)
    else:
        after = _approached(before, target, mover.acceleration * dt, mover.deceleration * dt)
    by = ((before[0] + after[0]) / 2 * dt, (before[1] + after[1]) / 2 * dt)
    x, blocked_x = _swept(terrain, box, body.x, body.y, by[0], upright=False)
    y, blocked_y = _swept(terrain, box, x, body.y, by[1], upright=True)
    vx, vy = (0.0 if blocked_x else after[0]), (0.0 if blocked_y else after[1])
    if mover.corner > 0 and not moving.locked:
        room = mover.walk_speed * moving.speed * dt
        if blocked_x and wish.up == 0:
            y = _round(terrain, box, x, y, sign(wish.across), mover.corner, room, upright=False)
        elif blocked_y and wish.across == 0:
            x = _round(terrain, box, x, y, -sign(wish.up), mover.corner, room, upright=True)
    blocked = (wish.across != 0 and _is_wall(terrain, box, x, y, sign(wish.across), 0)) or (
        wish.up != 0 and _is_wall(terrain, box, x, y, 0, -sign(wish.up)))
    return body._replace(
        x=x, y=y, vx=vx, vy=vy, grounded=True, blocked=blocked, fall_time=0.0, mode="above",
        on_slope=False,
        bumped=False, cell=None,
    )


def _approached(
    before: tuple[float, float], target: tuple[float, float], faster: float, slower: float
) -> tuple[float, float]:
    """The speed a step nearer to its target, straight from the one to the other."""
    gap = (target[0] - before[0], target[1] - before[1])
    far = hypot(*gap)
    speeding = (
        hypot(*target) > hypot(*before) and target[0] * before[0] + target[1] * before[1] >= 0
    )
    step = faster if speeding else slower
    if far <= step or far == 0:
        return target
    return before[0] + gap[0] / far * step, before[1] + gap[1] / far * step


def _swept(
    terrain: Terrain, box: MovedBox, x: float, y: float, by: float, upright: bool
) -> tuple[float, bool]:
    """Where a footprint that moves one way gets to, and whether a brick stopped it."""
    size = box.half * 2
    if by == 0.0:
        return (y if upright else x), False
    if not upright:
        side = 1 if by > 0 else -1
        stop = across(terrain, x + side * box.half, y - size + TOUCH, y - TOUCH, by)
        return (x + by, False) if stop is None else (stop - side * box.half, True)
    left, right = x - box.half + TOUCH, x + box.half - TOUCH
    edge = y if by > 0 else y - size
    stop = _along_column(terrain, left, right, edge, by)
    return (y + by, False) if stop is None else (stop if by > 0 else stop + size, True)


def _along_column(
    terrain: Terrain, left: float, right: float, edge: float, by: float
) -> float | None:
    """Where an edge that moves up or down is stopped by a brick; past the first and last row stands
    brick here."""
    last = terrain.rows * terrain.tile
    first, end = (edge, edge + by) if by > 0 else (edge + by, edge)
    rows = range(max(-1, floor(first / terrain.tile) - 1),
                 min(terrain.rows, floor(end / terrain.tile) + 1) + 1)
    for row in rows if by > 0 else reversed(rows):
        face = float(row * terrain.tile if by > 0 else (row + 1) * terrain.tile)
        if (edge - TOUCH <= face < edge + by if by > 0 else edge + by < face <= edge + TOUCH) and (
            not 0 <= row < terrain.rows
            or is_solid(terrain, left, (row + 0.25) * terrain.tile, right,
                        (row + 0.5) * terrain.tile)
        ):
            return min(max(face, 0.0), float(last))
    return None


def _round(
    terrain: Terrain,
    box: MovedBox,
    x: float,
    y: float,
    side: int,
    corner: float,
    room: float,
    upright: bool,
) -> float:
    """Where a body that a corner holds goes aside to, if the way is free within `corner` pixels."""
    high = x + box.half if upright else y
    low = x - box.half if upright else y - box.height
    # Only where an edge stands flush with a tile can a way open.
    for by in sorted((-(high % terrain.tile), -low % terrain.tile), key=abs):
        free_x, free_y = (x + by, y) if upright else (x, y + by)
        if 0 < abs(by) <= corner and not _is_wall(
            terrain, box, free_x, free_y, 0 if upright else side, side if upright else 0
        ):
            return _swept(terrain, box, x, y, max(-room, min(room, by)), not upright)[0]
    return x if upright else y


def _is_wall(
    terrain: Terrain, box: MovedBox, x: float, y: float, across_side: int, down_side: int
) -> bool:
    """Whether a brick stands within half a pixel of a side of the footprint."""
    if across_side:
        return _swept(terrain, box, x, y, across_side * 0.5, upright=False)[1]
    return _swept(terrain, box, x, y, down_side * 0.5, upright=True)[1]


# By cells -----------------------------------------------------------------------------------------


def _cell_of(tile: int, x: float, y: float) -> tuple[int, int]:
    return floor(x / tile), floor((y - 0.5) / tile)


def _place_of(tile: int, column: int, row: int) -> tuple[float, float]:
    return (column + 0.5) * tile, float((row + 1) * tile)


def _by_cells(step: MoverStep) -> Body:
    terrain, mover, body, _, wish, moving, dt = step
    speed = mover.walk_speed * moving.speed
    tile = terrain.tile
    left, x, y, goal, way, blocked = dt, body.x, body.y, body.cell, body.way, False
    vx = vy = 0.0
    if goal is None and (x, y) != _place_of(tile, *_cell_of(tile, x, y)):
        goal = _place_of(tile, *_cell_of(tile, x, y))
    while left > 1e-9:
        if goal is None:
            across, down = _chosen(wish.across, wish.up, way) if not moving.locked else (0, 0)
            if not (across or down):
                break
            way = (across, down)
            column, row = _cell_of(tile, x, y)
            if _is_taken(terrain, column + across, row + down):
                blocked = True
                break
            goal = _place_of(tile, column + across, row + down)
        far = hypot(goal[0] - x, goal[1] - y)
        step_speed = speed if speed > 0 else mover.walk_speed
        if step_speed <= 0:
            break
        vx, vy = (
            ((goal[0] - x) / far * step_speed, (goal[1] - y) / far * step_speed)
            if far
            else (0.0, 0.0)
        )
        if far > step_speed * left:
            x, y, left = x + vx * left, y + vy * left, 0.0
        else:
            (x, y), left, goal = goal, left - far / step_speed, None
    if goal is None and not _going(wish, moving.locked, blocked):
        vx = vy = 0.0
    return body._replace(
        x=x, y=y, vx=vx, vy=vy, grounded=True, blocked=blocked, fall_time=0.0, mode="above",
        on_slope=False,
        bumped=False, cell=goal, way=way,
    )


def _going(wish: object, locked: bool, blocked: bool) -> bool:
    return not locked and not blocked and bool(wish.across or wish.up)  # type: ignore[attr-defined]


def _chosen(across: float, up: float, way: tuple[int, int]) -> tuple[int, int]:
    """Which of the wanted ways is gone: the one before if it is still wanted, else across before
    up."""
    wanted = sign(across), -sign(up)
    if way[0] and way[0] == wanted[0]:
        return wanted[0], 0
    if way[1] and way[1] == wanted[1]:
        return 0, wanted[1]
    return (wanted[0], 0) if wanted[0] else (0, wanted[1])


def _is_taken(terrain: Terrain, column: int, row: int) -> bool:
    return not 0 <= row < terrain.rows or bool(terrain.at(terrain.brick, column, row))
