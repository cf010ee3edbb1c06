"""How an offset dies away, with the speed that it had. docs/poses.md 9.

A polynomial of the fifth degree whose value, speed and acceleration end at zero (the curve of least
jerk: T. Flash and N. Hogan, "The coordination of arm movements", Journal of Neuroscience, 1985).
"""

from __future__ import annotations

from math import tau
from typing import TYPE_CHECKING, NamedTuple

import numpy as np

from .sampling import LocalPose
from .turns import inverse, product, turn_about, turned_by

if TYPE_CHECKING:
    from ...model.bones import Floats

NOTHING = 1e-12


def dying(offset: Floats, speed: Floats, seconds: float, time: float) -> Floats:
    """What is left of offsets after `time` seconds, number by number.

    `speed` is how fast each changes, a second: the curve begins with it, and is over in `seconds`.
    One that flies toward zero so fast that it would go past it is over sooner, and so does not. One
    that grows grows on for a while.
    """
    if seconds <= 0:
        return np.zeros_like(offset)
    # Seen from the side of zero on which it is.
    side = np.where(offset != 0, np.sign(offset), np.sign(speed))
    length, pace = offset * side, speed * side
    soonest = np.divide(-5 * length, pace, out=np.full_like(length, np.inf),
                        where=pace < -NOTHING)
    ends = np.maximum(np.minimum(seconds, soonest), NOTHING)
    s, pull = np.clip(time / ends, 0.0, 1.0), pace * ends
    # Fast ones brake at once, or the curve would bend below zero before its end.
    brake = np.maximum(0.0, -8 * pull - 20 * length)
    left = (length + pull * s + brake / 2 * s**2
            - (3 * brake + 12 * pull + 20 * length) / 2 * s**3
            + (3 * brake + 16 * pull + 30 * length) / 2 * s**4
            - (brake + 6 * pull + 12 * length) / 2 * s**5)
    found: Floats = np.where(s >= 1, 0.0, left * side)
    return found


class Offset(NamedTuple):
    """How far the pose on show is from the one that takes its place, and how fast that changes:
    places and sizes as they are, turns as axis times angle; (1, bones, 3) each."""

    places: Floats
    place_speeds: Floats
    turns: Floats
    turn_speeds: Floats
    sizes: Floats
    size_speeds: Floats

    def onto(self, pose: LocalPose, seconds: float, time: float) -> LocalPose:
        """The new pose with what is left of it, `time` seconds after the change, of `seconds`."""
        return LocalPose(
            pose.places + dying(self.places, self.place_speeds, seconds, time),
            product(pose.turns, turned_by(dying(self.turns, self.turn_speeds, seconds, time))),
            pose.sizes + dying(self.sizes, self.size_speeds, seconds, time))


def offset_of(now: LocalPose, before: LocalPose, new: LocalPose, tick: float) -> Offset:
    """The offset at a change: `now` and `before` were on show in the last tick and the one before
    it, `tick` seconds apart; `new` is what takes their place."""
    gap, was = _about(product(inverse(new.turns), now.turns)), _about(
        product(inverse(new.turns), before.turns))
    return Offset(
        now.places - new.places, (now.places - before.places) / tick,
        gap, (gap - _nearest(was, gap)) / tick,
        now.sizes - new.sizes, (now.sizes - before.sizes) / tick)


def _about(turns: Floats) -> Floats:
    axes, angles = turn_about(turns)
    return axes * angles[..., None]


def _nearest(turns: Floats, to: Floats) -> Floats:
    """The same turns as axis times angle, the other way round where that is nearer: beside half a
    turn two that hardly differ have opposite axes."""
    angles = np.linalg.norm(turns, axis=-1, keepdims=True)
    axes = np.divide(turns, angles, out=np.zeros_like(turns), where=angles > NOTHING)
    other = axes * (angles - tau)
    nearer = np.sum((other - to)**2, axis=-1) < np.sum((turns - to)**2, axis=-1)
    found: Floats = np.where(nearer[..., None], other, turns)
    return found
