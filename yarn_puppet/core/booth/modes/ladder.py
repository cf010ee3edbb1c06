"""On a ladder: up and down its column, to its top and to the floor."""

from __future__ import annotations

from math import floor

from ..body import Body
from ..tiles.stepping import fall, rise, slide
from ..tiles.sweep import TOUCH, columns_at, inwards
from ..tiles.terrain import Terrain
from .step import MoverStep


def ladder_at(
    terrain: Terrain, x: float, y: float, height: float, standing: bool
) -> tuple[int, int] | None:
    """The tile of the ladder that a body could hold: at half its height, at its feet, or right
    under them."""
    if not terrain.has_ladders:
        return None
    # Under the feet only what it stands on: it would climb down from there.
    for at in (y - height / 2, y - TOUCH, *((y + TOUCH,) if standing else ())):
        for column in columns_at(x, terrain.tile)[::-inwards(terrain, x)]:
            if terrain.at(terrain.ladder, column, floor(at / terrain.tile)):
                return column, floor(at / terrain.tile)
    return None


def move_on_ladder(step: MoverStep, held: tuple[int, int]) -> Body:
    """One tick of holding a ladder whose tile is given."""
    terrain, mover, body, box, wish, moving, dt = step
    speed = mover.climb_speed * moving.speed
    column, row = held
    while terrain.at(terrain.ladder, column, row - 1) and row > 0:
        row -= 1
    top = float(row * terrain.tile)
    # A ladder that goes on into a brick, or stands in one, has no top to stand on.
    open_above = not terrain.at(terrain.above, column, row - 1)
    middle = (column + 0.5) * terrain.tile
    x, y = body.x, body.y
    if not moving.locked and x != middle:
        by = max(-mover.climb_speed * dt, min(mover.climb_speed * dt, middle - x))
        x, y, *_ = slide(terrain, box, x, y, by, standing=False)
    vy = 0.0 if moving.locked else -wish.up * speed
    by = vy * dt
    bumped = False
    grounded = by == 0 and fall(terrain, box, x, y, 0.0).landed
    if by < 0:
        by = max(by, min(0.0, top - y)) if open_above or y > top else 0.0
        done = rise(terrain, box, x, y, by) if by < 0 else None
        if done is not None:
            y, bumped = done.y, done.bumped
        grounded = y == top
    elif by > 0:
        # Through its own top, and through planks it leads through; not through the floor.
        done = fall(terrain, box, x, y, by, thin=False)
        y, grounded = done.y, done.landed
    if grounded or bumped:
        vy = 0.0
    return body._replace(
        x=x, y=y, vx=0.0, vy=vy, grounded=grounded, blocked=False, fall_time=0.0, mode="ladder",
        on_slope=False,
        bumped=bumped, grace=mover.grace if grounded else 0.0, carry=0.0,
    )
