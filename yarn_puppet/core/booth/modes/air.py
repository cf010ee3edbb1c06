"""In the air: rising, falling, and sliding down what is too steep to stand on."""

from __future__ import annotations

from math import sqrt

from ...rules.numbers import sign
from ..body import Body, approach
from ..tiles.slopes import NEAR
from ..tiles.stepping import Fell, fall, rise, slide, wall_beside
from ..tiles.terrain import Slope
from .ground import coasted
from .step import MoverStep

WATER_BRAKE = 3.0
"""By how many times gravity water slows what sinks too fast."""


def move_in_air(step: MoverStep, jumps: bool, drops: bool, sinks: bool) -> Body:
    """One tick in the air. `jumps`: a jump begins; `drops`: it goes through the planks under it;
    `sinks`: it is in water and does not swim."""
    terrain, mover, body, box, wish, moving, dt = step
    before, after = body.vx, body.vx
    if not moving.locked and mover.air_control > 0:
        control = mover.air_control * dt
        after = approach(before, wish.across * mover.walk_speed * moving.speed,
                         mover.acceleration * control,
                         mover.deceleration * control)
    vy, carry = body.vy, body.carry
    if jumps:
        vy = -mover.jump_speed * sqrt(max(0.0, moving.jump_height))
        carry = mover.carry
    if drops:
        vy, carry = max(0.0, vy), 0.0
    carry = carry if wish.held or jumps else 0.0
    carried = min(carry, dt)
    by, gravity, left = vy * carried, mover.gravity * moving.gravity, dt - carried
    if sinks and vy > mover.swim_speed:
        # Water slows what falls into it.
        slowed = max(mover.swim_speed, vy - WATER_BRAKE * mover.gravity * left)
        by, vy = by + (vy + slowed) / 2 * left, slowed
    else:
        limit = min(mover.fall_speed, mover.swim_speed) if sinks else mover.fall_speed
        vy, more = _pulled(vy, gravity, limit, left)
        by += more

    x, y, stopped, raised = slide(
        terrain, box, body.x, body.y + (NEAR if drops else 0.0), (before + after) / 2 * dt,
        standing=False
    ) if before or after else (body.x, body.y + (NEAR if drops else 0.0), False, 0.0)
    if stopped:
        after = 0.0
    elif raised and wish.across * after <= 0:
        x, y, after = coasted(body, mover.gravity, x, y, after, raised)
    fell = rise(terrain, box, x, y, by, mover.corner) if by < 0 else fall(terrain, box, x, y, by)
    on_slope = False
    slope = fell.slope
    if fell.landed and slope is not None:
        on_slope = True
        if slope.steepness > box.steepest:
            return _slid(step, fell, slope, after, vy)
    if fell.landed or fell.bumped:
        vy = 0.0
    across, landed = wish.across, fell.landed
    # All of it, in the order of the fields: `_replace` takes its time.
    return Body(
        fell.x, fell.y, after, vy, landed,
        across != 0 and wall_beside(terrain, box, fell.x, fell.y, sign(across)),
        0.0 if landed else body.fall_time + dt, "ground" if landed else "air", body.low, on_slope,
        fell.bumped,
        mover.grace if landed else 0.0 if jumps or drops else _left(body.grace, dt),
        0.0 if landed or fell.bumped else _left(carry, carried), body.push, body.ledge, body.near,
        body.left, body.cell,
        body.way,
    )


def _left(seconds: float, gone: float) -> float:
    """What is left of some seconds; what is no more than a rounding is nothing."""
    left = seconds - gone
    return left if left > 1e-9 else 0.0


def _pulled(vy: float, gravity: float, limit: float, dt: float) -> tuple[float, float]:
    """The speed after a pull of so many seconds that goes no further than the limit, and how far it
    moved."""
    after = vy + gravity * dt
    bound = limit if gravity > 0 else -limit
    if gravity == 0 or (after <= bound if gravity > 0 else after >= bound):
        return after, (vy + after) / 2 * dt
    if (vy >= bound) if gravity > 0 else (vy <= bound):
        return bound, bound * dt
    reached = (bound - vy) / gravity
    return bound, (vy + bound) / 2 * reached + bound * (dt - reached)


def _slid(step: MoverStep, fell: Fell, slope: Slope, vx: float, vy: float) -> Body:
    """On a slope too steep to stand on: what goes into it is lost, the rest goes down along it."""
    body, dt = step.body, step.dt
    downhill = 1.0 if slope.left > slope.right else -1.0
    length = sqrt(1 + slope.steepness * slope.steepness)
    ahead, below = downhill / length, slope.steepness / length
    along = min(max(0.0, vx * ahead + vy * below), step.mover.fall_speed)
    # What it fell is all it can have won.
    most = body.vx * body.vx + body.vy * body.vy + 2 * abs(step.mover.gravity) * max(
        0.0, fell.y - body.y)
    along = min(along, sqrt(most))
    return body._replace(
        x=fell.x, y=fell.y, vx=along * ahead, vy=along * below, grounded=False, blocked=False,
        fall_time=body.fall_time + dt, mode="air", on_slope=True, bumped=False, carry=0.0,
        grace=_left(body.grace, dt),
    )
