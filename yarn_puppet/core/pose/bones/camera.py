"""Where points of the world of a pose are on a view: seen from the side as the booth does, or by a
camera that goes round."""

from __future__ import annotations

from functools import lru_cache
from math import cos, radians, sin
from typing import TYPE_CHECKING, NamedTuple

import numpy as np

if TYPE_CHECKING:
    from ...model.bones import Floats

NEAREST = 0.05
"""Metres in front of the camera at which points stop."""


class Seen(NamedTuple):
    """Points on a view: x to the right and y downwards (n, 2), in pixels; how many pixels a metre
    is there (n,); how far they are behind the middle (n,), in metres."""

    places: Floats
    scales: Floats
    depths: Floats


class Camera(NamedTuple):
    """Looks at `target`, from `distance` metres away, or from so far that all lines are parallel
    where that is zero. At `yaw` 0 it looks at the figure's right side, whose front is to the right
    then; it goes round with more of it, in degrees. `pitch` raises it. `scale` is the pixels of a
    metre at the target, which is at `x`, `y` of the view."""

    target: tuple[float, float, float]
    yaw: float
    pitch: float
    distance: float
    scale: float
    x: float
    y: float

    def axes(self) -> Floats:
        """To the right, up, and towards the camera: rows of (3, 3)."""
        return _axes(self.yaw, self.pitch)

    def seen(self, points: Floats) -> Seen:
        """Points (n, 3) on the view."""
        across, up, toward = self.axes() @ (points - np.array(self.target)).T
        share = np.ones_like(toward)
        if self.distance > 0:
            share = self.distance / np.maximum(self.distance - toward, NEAREST)
        scales = self.scale * share
        return Seen(np.stack([self.x + across * scales, self.y - up * scales], axis=1), scales,
                    -toward)

    def ray(self, x: float, y: float) -> tuple[Floats, Floats]:
        """From where, and in which direction, one looks through a point of the view."""
        right, up, toward = self.axes()
        across, high = (x - self.x) / self.scale, -(y - self.y) / self.scale
        on_plane = np.array(self.target) + right * across + up * high
        if self.distance <= 0:
            return on_plane, -toward
        eye = np.array(self.target) + toward * self.distance
        way = on_plane - eye
        return eye, way / np.linalg.norm(way)


@lru_cache(maxsize=16)
def _axes(yaw: float, pitch: float) -> Floats:
    # Kept, as each pose of hundreds is seen from the same side.
    turn, tilt = radians(yaw), radians(pitch)
    toward = np.array([-cos(turn) * cos(tilt), sin(tilt), -sin(turn) * cos(tilt)])
    right = np.array([-sin(turn), 0.0, cos(turn)])
    made = np.array([right, np.cross(toward, right), toward])
    made.flags.writeable = False
    return made


def from_the_side(
    scale: float, x: float, y: float, leftwards: bool = False, mirrored: bool = False
) -> Camera:
    """Parallel lines from the side: the origin at x, y. One who looks left is turned round; a
    `mirrored` one is as in a mirror instead, which is up to who draws it: its depths are those of
    one who looks right."""
    yaw = 180.0 if leftwards and not mirrored else 0.0
    return Camera((0.0, 0.0, 0.0), yaw, 0.0, 0.0, scale, x, y)
