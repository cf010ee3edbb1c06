"""Turns as unit quaternions x, y, z, w, in the last axis of arrays."""

from __future__ import annotations

from math import tau
from typing import TYPE_CHECKING

import numpy as np

if TYPE_CHECKING:
    from ...model.bones import Floats

CLOSE = 1e-6
"""Radians below which an arc is as good as straight."""
NOTHING = 1e-12
"""The length of a quaternion that has no direction."""


def product(first: Floats, second: Floats) -> Floats:
    """The turn that is `second` and then `first`: as matrices, first @ second."""
    ax, ay, az, aw = first[..., 0], first[..., 1], first[..., 2], first[..., 3]
    bx, by, bz, bw = second[..., 0], second[..., 1], second[..., 2], second[..., 3]
    found = np.empty(np.broadcast_shapes(first.shape, second.shape))
    found[..., 0] = aw * bx + ax * bw + ay * bz - az * by
    found[..., 1] = aw * by - ax * bz + ay * bw + az * bx
    found[..., 2] = aw * bz + ax * by - ay * bx + az * bw
    found[..., 3] = aw * bw - ax * bx - ay * by - az * bz
    return found


def unit(turns: Floats, otherwise: Floats) -> Floats:
    """The same with a length of one; where there is none, `otherwise`."""
    lengths = np.linalg.norm(turns, axis=-1, keepdims=True)
    made: Floats = np.where(lengths > NOTHING, turns / np.maximum(lengths, NOTHING), otherwise)
    return made


def slerp(first: Floats, second: Floats, share: Floats) -> Floats:
    """The turn that is this share of the short way from the first to the second.

    At an even speed (K. Shoemake, "Animating rotation with quaternion curves", SIGGRAPH 1985). A
    share of 0 or 1 gives the very end.
    """
    # A quaternion and its negative are one turn: the nearer of the two.
    cosine = np.einsum("...i,...i->...", first, second)[..., None]
    second = np.where(cosine < 0, -second, second)
    # The angle from the chord: near zero the arc cosine has lost half of its digits.
    gap = first - second
    angle = 2 * np.arcsin(np.minimum(np.sqrt(np.einsum("...i,...i->...", gap, gap)) / 2, 1))[
        ..., None]
    sine = np.sin(angle)
    close = angle < CLOSE
    if close.any():
        safe = np.where(close, 1.0, sine)
        left = np.where(close, 1 - share, np.sin((1 - share) * angle) / safe)
        right = np.where(close, share, np.sin(share * angle) / safe)
    else:
        left, right = np.sin((1 - share) * angle) / sine, np.sin(share * angle) / sine
    # At a share of 0 or 1 the one is exactly one, and the other exactly nothing.
    found: Floats = left * first + right * second
    return found


def matrices(turns: Floats) -> Floats:
    """Rotation matrices, in two last axes of three."""
    x, y, z, w = turns[..., 0], turns[..., 1], turns[..., 2], turns[..., 3]
    found = np.empty((*turns.shape[:-1], 3, 3))
    found[..., 0, 0] = 1 - 2 * (y * y + z * z)
    found[..., 0, 1] = 2 * (x * y - z * w)
    found[..., 0, 2] = 2 * (x * z + y * w)
    found[..., 1, 0] = 2 * (x * y + z * w)
    found[..., 1, 1] = 1 - 2 * (x * x + z * z)
    found[..., 1, 2] = 2 * (y * z - x * w)
    found[..., 2, 0] = 2 * (x * z - y * w)
    found[..., 2, 1] = 2 * (y * z + x * w)
    found[..., 2, 2] = 1 - 2 * (x * x + y * y)
    return found


def inverse(turns: Floats) -> Floats:
    """The turns back."""
    found: Floats = turns * np.array([-1.0, -1.0, -1.0, 1.0])
    return found


def turn_about(turns: Floats) -> tuple[Floats, Floats]:
    """The axis, of length one, and the angle of each turn, from zero to half a turn; an axis of
    zeros where nothing turns."""
    near = with_positive_w(turns)
    sines = np.linalg.norm(near[..., :3], axis=-1)
    axes = np.divide(near[..., :3], sines[..., None], out=np.zeros_like(near[..., :3]),
                     where=sines[..., None] > NOTHING)
    return axes, 2 * np.arctan2(sines, near[..., 3])


def turned_by(vectors: Floats) -> Floats:
    """The turns about the axes along which the vectors lie, by their lengths in radians."""
    angles = np.linalg.norm(vectors, axis=-1, keepdims=True)
    # sin(x / 2) / x, which is a half at zero.
    return np.concatenate([vectors * np.sinc(angles / tau) / 2, np.cos(angles / 2)], axis=-1)


def with_positive_w(turns: Floats) -> Floats:
    """The same turns, as they are written: w of zero or more."""
    return np.where(turns[..., 3:] < 0, -turns, turns)


def rotated(turns: Floats, vectors: Floats) -> Floats:
    """Vectors (…, 3), turned."""
    found: Floats = np.einsum("...ij,...j->...i", matrices(turns), vectors)
    return found


def turn_between(first: Floats, second: Floats) -> Floats:
    """The shortest turn (4,) from one direction (3,) to another; none where either has no
    length."""
    one, other = (np.asarray(each) / max(float(np.linalg.norm(each)), NOTHING)
                  for each in (first, second))
    if not one.any() or not other.any():
        return np.array((0.0, 0.0, 0.0, 1.0))
    found = np.append(np.cross(one, other), 1 + one @ other)
    if np.linalg.norm(found) < CLOSE:
        # Half a turn, about whatever is across.
        found = np.append(np.cross(one, np.eye(3)[np.argmin(np.abs(one))]), 0.0)
    made: Floats = found / np.linalg.norm(found)
    return made
