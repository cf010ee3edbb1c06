"""Where bones are, by a second and simpler thought than ours: from docs/poses.md alone.

A transform is a function of points. A bone's place is what becomes of the origin on its way up
through its parents, one after the other; there are no matrices but scipy's turns, and no arrays of
times or bones.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from itertools import pairwise
from typing import Any, NamedTuple

import numpy as np
from scipy.spatial.transform import Rotation, Slerp

Point = Any
Keys = Sequence[tuple[float, Any]]


class Moved(NamedTuple):
    """A bone's own transform."""

    place: Point
    turn: Rotation
    size: Point

    def of(self, point: Point) -> Point:
        """Where a point goes."""
        return self.turn.apply(np.asarray(point) * self.size) + self.place


def sampled(keys: Keys, interpolation: str, turns: bool, at: float) -> Any:
    """The value of a channel at a time; a key of a spline is (in, value, out)."""
    spline = interpolation == "CUBICSPLINE"

    def value(key: tuple[float, Any]) -> Any:
        found = np.asarray(key[1][1] if spline else key[1], dtype=float)
        return found / np.linalg.norm(found) if turns else found

    if at <= keys[0][0]:
        return value(keys[0])
    if at >= keys[-1][0]:
        return value(keys[-1])
    number = max(place for place, key in enumerate(keys) if key[0] <= at)
    one, other = keys[number], keys[number + 1]
    if interpolation == "STEP":
        return value(one)
    wide = other[0] - one[0]
    share = (at - one[0]) / wide
    if spline:
        # The four of Bézier's way, which say the same as Hermite's: ends, and a third of a tangent
        # from each.
        ends = [value(one), value(one) + np.asarray(one[1][2], dtype=float) * wide / 3,
                value(other) - np.asarray(other[1][0], dtype=float) * wide / 3, value(other)]
        while len(ends) > 1:
            ends = [a + (b - a) * share for a, b in pairwise(ends)]
        return ends[0] / np.linalg.norm(ends[0]) if turns else ends[0]
    if turns:
        return Slerp([0, 1], Rotation.from_quat([value(one), value(other)]))([share]).as_quat()[0]
    return value(one) + (value(other) - value(one)) * share


def world(
    parents: Sequence[int], local: Callable[[int], Moved], bone: int
) -> tuple[Point, Rotation]:
    """The place and the turn of a bone, of all that is above it."""
    point, turn, at = np.zeros(3), Rotation.identity(), bone
    while at >= 0:
        moved = local(at)
        point, turn, at = moved.of(point), moved.turn * turn, parents[at]
    return point, turn
