"""What the mover's numbers mean in the world: how high and how far it jumps, and back from that to
the numbers."""

from __future__ import annotations

from math import sqrt
from typing import NamedTuple

from msgspec.structs import replace

from ..model.mover import Mover
from .body import Body, Moving, Wish
from .modes.air import move_in_air
from .modes.step import MoverStep
from .tiles.stepping import box_of
from .tiles.terrain import Terrain


class Jump(NamedTuple):
    """A jump at full speed: pixels up and far, seconds in the air, and the feet on the way, from 0,
    0."""

    up: float
    far: float
    seconds: float
    path: tuple[tuple[float, float], ...]


def jump_height(mover: Mover) -> float:
    """How high a jump goes whose button is only tapped, in pixels: v² / 2g. Zero without
    gravity."""
    return mover.jump_speed**2 / (2 * mover.gravity) if mover.gravity > 0 else 0.0


def carried_height(mover: Mover) -> float:
    """How high one goes whose button is held, in pixels."""
    return jump_height(mover) + mover.jump_speed * mover.carry


def with_jump_height(mover: Mover, height: float) -> Mover:
    """The mover whose tapped jump is that high; one that is held goes as much higher as before."""
    more = carried_height(mover) - jump_height(mover)
    speed = sqrt(2 * mover.gravity * max(0.0, height))
    return replace(mover, jump_speed=speed, carry=more / speed if speed > 0 else 0.0)


def with_carried_height(mover: Mover, height: float) -> Mover:
    """The mover whose held jump is that high, but no lower than a tapped one."""
    more = max(0.0, height - jump_height(mover))
    return replace(mover, carry=more / mover.jump_speed if mover.jump_speed > 0 else 0.0)


def seconds_to_full_speed(mover: Mover) -> float:
    """How long it takes to walk at full speed; 0 without acceleration, which is never."""
    return mover.walk_speed / mover.acceleration if mover.acceleration > 0 else 0.0


def seconds_to_stop(mover: Mover) -> float:
    """How long it takes to stand still from full speed."""
    return mover.walk_speed / mover.deceleration if mover.deceleration > 0 else 0.0


def jump_of(mover: Mover, terrain: Terrain, held: bool, rate: int, most_ticks: int = 600) -> Jump:
    """A jump at full speed to the right over flat ground, run by the mover itself, `terrain` being
    empty."""
    dt, box = 1.0 / rate, box_of(mover, mover.height)
    body = Body(0.0, 0.0, mover.walk_speed, 0.0, True, False, 0.0)
    path = [(0.0, 0.0)]
    wish = Wish(1.0, held=held)
    for number in range(most_ticks):
        body = move_in_air(
            MoverStep(terrain, mover, body._replace(grounded=False), box,
                      wish if number else wish._replace(jump=True),
                 Moving(), dt), number == 0, False, False)
        path.append((body.x, body.y))
        if body.y >= 0 and number:
            break
    return Jump(-min(y for _, y in path), path[-1][0], (len(path) - 1) * dt, tuple(path))
