"""On the ground: walking, up and down slopes too."""

from __future__ import annotations

from math import copysign, sqrt

from ...rules.numbers import sign
from ..body import Body, approach
from ..tiles.slopes import NEAR, slope_between
from ..tiles.stepping import fall, slide, wall_beside
from .step import MoverStep


def coasted(
    body: Body, gravity: float, x: float, y: float, vx: float, raised: float
) -> tuple[float, float, float]:
    """The place and speed of a body that a slope raised while nobody walks it up: rising costs
    speed, or a slope would be a gift. Where it has too little, it stays."""
    left = vx * vx - 2 * gravity * raised
    return (x, y, copysign(sqrt(left), vx)) if left >= 0 else (body.x, body.y, 0.0)


def move_on_ground(step: MoverStep) -> Body:
    """One tick of standing or walking."""
    terrain, mover, body, box, wish, moving, dt = step
    if moving.locked:
        before = after = 0.0
    else:
        before = body.vx
        after = approach(before, wish.across * mover.walk_speed * moving.speed,
                         mover.acceleration * dt,
                         mover.deceleration * dt)
    x, y, stopped, raised = body.x, body.y, False, 0.0
    if before or after:
        x, y, stopped, raised = slide(terrain, box, x, y, (before + after) / 2 * dt, standing=True)
        if stopped:
            after = 0.0
        elif raised and wish.across * after <= 0:
            x, y, after = coasted(body, mover.gravity, x, y, after, raised)
    pull = mover.gravity * moving.gravity * dt
    fell = fall(terrain, box, x, y, max(0.0, pull / 2 * dt))
    on_slope = fell.slope is not None or (
        bool(terrain.slopes) and slope_between(
            terrain, x, fell.y - NEAR, fell.y + NEAR) is not None)
    blocked = wish.across != 0 and wall_beside(terrain, box, x, fell.y, sign(wish.across))
    falls = not fell.landed or pull < 0
    # All of it, in the order of the fields: most ticks of most takes end here, and `_replace` takes
    # its time.
    return Body(
        x, fell.y, after, min(pull, mover.fall_speed) if falls else 0.0, not falls, blocked,
        dt if falls else 0.0,
        "air" if falls else "ground", body.low, on_slope and not falls, False, mover.grace, 0.0,
        body.push, body.ledge,
        body.near, body.left, body.cell, body.way)
