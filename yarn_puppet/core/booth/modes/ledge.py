"""At a ledge: feeling for it, hanging, shimmying along planks, pulling up. docs/world.md, sections
3 and 4."""

from __future__ import annotations

from math import floor

from ...model.mover import Mover
from ...model.world import PLANK
from ...rules.numbers import sign
from ..body import Body, Ledge, approach
from ..tiles.slopes import NEAR
from ..tiles.stepping import MovedBox, is_free
from ..tiles.sweep import columns_at, inwards
from ..tiles.terrain import Terrain
from .step import MoverStep


def hanging_at(mover: Mover, box: MovedBox, ledge: Ledge, x: float) -> tuple[float, float]:
    """Where the feet of a body are that hangs at a ledge; along planks it stays at its x."""
    if ledge.side == 0:
        return x, ledge.y + mover.hands_y
    # Never in the wall itself, however short the arms are.
    return ledge.x - ledge.side * max(mover.hands_x, box.half), ledge.y + mover.hands_y


def is_corner(terrain: Terrain, column: int, row: int, side: int) -> bool:
    """Whether the upper corner of a brick is a ledge for a body whose ledge is on that side of
    it."""
    beside = column - side
    return bool(
        terrain.at(terrain.brick, column, row) and not terrain.at(terrain.above, column, row - 1)
        and not terrain.at(terrain.above, beside, row)
        and not terrain.at(terrain.above, beside, row - 1)
        and 0 <= row < terrain.rows and 0 <= column < terrain.columns
        and (column, row, -side) not in terrain.barred
    )


def is_gutter(terrain: Terrain, column: int, row: int) -> bool:
    """Whether a tile is a plank that hands can hold."""
    return terrain.world.tile(column, row) == PLANK and (column, row, 0) not in terrain.barred


def felt(
    terrain: Terrain, mover: Mover, box: MovedBox, body: Body, before_y: float, side: int
) -> Ledge | None:
    """The ledge that a body off the ground has its hands at, having come from the height
    `before_y`."""
    hands = body.y - mover.hands_y
    # Whatever the hands passed in this tick counts: a fast fall misses no ledge.
    lowest, highest = hands + mover.reach, min(hands, before_y - mover.hands_y) - mover.reach
    rows = range(max(0, floor(highest / terrain.tile)),
                 min(terrain.rows - 1, floor(lowest / terrain.tile)) + 1)
    for row in rows:
        y = float(row * terrain.tile)
        if not highest <= y <= lowest:
            continue
        for each in (side, -side):
            ledge = _corner(terrain, mover, box, body, row, each)
            if ledge is not None:
                return ledge
        for column in columns_at(body.x, terrain.tile)[::-inwards(terrain, body.x)]:
            if is_gutter(terrain, column, row):
                ledge = Ledge((column + 0.5) * terrain.tile, y, 0)
                if _may_hang(terrain, mover, box, body, ledge):
                    return ledge
    return None


def _corner(
    terrain: Terrain, mover: Mover, box: MovedBox, body: Body, row: int, side: int
) -> Ledge | None:
    hand = body.x + side * max(mover.hands_x, box.half)
    first = floor((hand - mover.reach) / terrain.tile) - 1
    last = floor((hand + mover.reach) / terrain.tile) + 1
    found = None
    for column in range(first, last + 1):
        x = float(column * terrain.tile if side > 0 else (column + 1) * terrain.tile)
        if abs(x - hand) <= mover.reach and is_corner(terrain, column, row, side):
            ledge = Ledge(x, float(row * terrain.tile), side)
            if _may_hang(terrain, mover, box, body, ledge) and (
                found is None or abs(x - hand) < abs(found.x - hand)
            ):
                found = ledge
    return found


def _may_hang(terrain: Terrain, mover: Mover, box: MovedBox, body: Body, ledge: Ledge) -> bool:
    return ledge != body.left and is_free(terrain, box, *hanging_at(mover, box, ledge, body.x))


def still_out_of_mind(mover: Mover, body: Body, box: MovedBox, tile: int) -> Ledge | None:
    """The ledge that was let go of, for as long as the hands are within reach of it."""
    left = body.left
    if left is None:
        return None
    hands = body.y - mover.hands_y
    across = abs(body.x + left.side * max(mover.hands_x, box.half) - left.x) if left.side else (
        0.0 if abs(body.x - left.x) <= tile / 2 + mover.reach else mover.reach + 1)
    return left if abs(hands - left.y) <= mover.reach and across <= mover.reach else None


def move_at_ledge(step: MoverStep, ledge: Ledge) -> Body:
    """One tick of hanging at a ledge, moving along it, or pulling up on it."""
    terrain, mover, body, box, wish, moving, dt = step
    if wish.pull_up:
        up = _pulled_up(step, ledge)
        if up is not None:
            return up
    x, y = hanging_at(mover, box, ledge, body.x)
    vx = blocked = 0.0
    if ledge.side == 0 and not moving.locked:
        before = body.vx if body.ledge is not None else 0.0
        vx = approach(before, wish.across * mover.shimmy_speed * moving.speed,
                      mover.acceleration * dt,
                      mover.deceleration * dt)
        to = _along(terrain, box, x, y, (before + vx) / 2 * dt, floor(ledge.y / terrain.tile))
        if to != x + (before + vx) / 2 * dt:
            vx, blocked = 0.0, wish.across
        x = to
        ledge = Ledge((floor(x / terrain.tile) + 0.5) * terrain.tile, ledge.y, 0)
    return body._replace(
        x=x, y=y, vx=vx, vy=0.0, grounded=False, blocked=bool(blocked), fall_time=0.0, mode="ledge",
        on_slope=False,
        bumped=False, grace=0.0, carry=0.0, ledge=ledge, left=None,
    )


def _along(terrain: Terrain, box: MovedBox, x: float, y: float, by: float, row: int) -> float:
    """How far hands that move along planks get: to the end of the planks, or to what is in the
    way."""
    side = sign(by)
    if side == 0:
        return x
    to, column = x + by, floor(x / terrain.tile)
    while is_gutter(terrain, column + side, row) and (
        (column + 1) * terrain.tile < to if side > 0 else column * terrain.tile > to
    ):
        column += side
    end = (column + 1) * terrain.tile - NEAR if side > 0 else column * terrain.tile + NEAR
    to = min(to, max(x, end)) if side > 0 else max(to, min(x, end))
    return to if _free_way(terrain, box, x, to, y) else x


def _free_way(terrain: Terrain, box: MovedBox, x: float, to: float, y: float) -> bool:
    wide = MovedBox(box.half + abs(to - x) / 2, box.height)
    return is_free(terrain, wide, (x + to) / 2, y) and is_free(terrain, box, to, y)


def _pulled_up(step: MoverStep, ledge: Ledge) -> Body | None:
    """On top of the ledge, if there is room."""
    body, box, mover = step.body, step.box, step.mover
    x = body.x if ledge.side == 0 else ledge.x + ledge.side * box.half
    if not is_free(step.terrain, box, x, ledge.y):
        return None
    return body._replace(
        x=x, y=ledge.y, vx=0.0, vy=0.0, grounded=True, blocked=False, fall_time=0.0, mode="ground",
        on_slope=False,
        bumped=False, grace=mover.grace, carry=0.0, ledge=None, near=None, left=None,
    )
