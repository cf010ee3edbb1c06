"""Where points of the world of a pose are on a view: seen as the booth sees them, or by a camera
that goes round."""

from __future__ import annotations

from functools import lru_cache
from math import cos, radians, sin, sqrt
from typing import TYPE_CHECKING, NamedTuple

import numpy as np

from ...model.wiring import FACING_DEGREES

if TYPE_CHECKING:
    from ...model.bones import Floats
    from ...model.mover import Mover

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
    metre at the target, which is at `x`, `y` of the view; upwards it is `stretch` times that."""

    target: tuple[float, float, float]
    yaw: float
    pitch: float
    distance: float
    scale: float
    x: float
    y: float
    stretch: float = 1.0

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
        places = [self.x + across * scales, self.y - up * scales * self.stretch]
        return Seen(np.stack(places, axis=1), scales, -toward)

    def ray(self, x: float, y: float) -> tuple[Floats, Floats]:
        """From where, and in which direction, one looks through a point of the view."""
        right, up, toward = self.axes()
        across = (x - self.x) / self.scale
        high = -(y - self.y) / self.scale / self.stretch
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


class BoothCamera(NamedTuple):
    """How a figure that stands in a booth is seen: by which camera, and about which x of the world
    its picture is mirrored, or None."""

    camera: Camera
    mirrored_about: float | None


def in_booth(mover: Mover, facing: str, x: float, y: float, above: bool) -> BoothCamera:
    """One that stands at x, y of a booth seen from the side, or from `above`. Rule 13 of
    docs/poses.md."""
    leftwards, mirrored = facing.rpartition(" ")[2] == "left", mover.turned == "mirrored"
    about = x if leftwards and mirrored else None
    if not above:
        return BoothCamera(from_the_side(mover.pixels_a_metre, x, y, leftwards, mirrored), about)
    heading = FACING_DEGREES[facing]
    # From half way up, and as much higher as that makes the ground lower: nothing is foreshortened.
    return BoothCamera(
        Camera((0.0, 0.0, 0.0), heading if about is None else 180 - heading, 45.0, 0.0,
               mover.pixels_a_metre, x, y, sqrt(2)), about)
