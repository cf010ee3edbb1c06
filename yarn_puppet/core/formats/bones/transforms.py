"""Transforms as files have them: matrices taken apart, turns made unit quaternions."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
import scipy

if TYPE_CHECKING:
    from collections.abc import Sequence

    from ...model.bones import Floats

LEAST_LENGTH = 1e-9
"""Of a quaternion or an axis that still has a direction."""
SHEAR = 1e-3
"""How far from a right angle two axes of a matrix may be, as a cosine."""


MOST = 1e9
"""No number of a file is larger: a million kilometres."""


def are_usable(values: Floats) -> bool:
    """Whether all of them are numbers, and none is beyond `MOST`."""
    # What is no number is not less than anything.
    return bool((np.abs(values) <= MOST).all())


def unit_turn(turn: Sequence[float] | Floats) -> Floats | None:
    """A quaternion x, y, z, w made a unit; None for one of zero, or of no numbers."""
    values = np.asarray(turn, dtype=np.float64)
    length = float(np.linalg.norm(values)) if are_usable(values) else 0.0
    return values / length if length > LEAST_LENGTH else None


def taken_apart(matrix: Floats) -> tuple[Floats, Floats, Floats] | None:
    """The place, turn and size of a 4 × 4 matrix; None where it shears, or is no transform.

    A mirrored one has a negative x size. An axis of no length is taken at a right angle to the
    others.
    """
    if not are_usable(matrix) or not np.allclose(matrix[3], (0, 0, 0, 1), atol=1e-6):
        return None
    axes = matrix[:3, :3].copy()
    sizes = np.linalg.norm(axes, axis=0)
    flat = sizes <= LEAST_LENGTH
    sizes[flat] = 0.0
    axes[:, ~flat] /= sizes[~flat]
    if flat.any():
        axes = _completed(axes, flat)
    if max(abs(axes[:, one] @ axes[:, other]) for one, other in ((0, 1), (0, 2), (1, 2))) > SHEAR:
        return None
    if np.linalg.det(axes) < 0:
        axes[:, 0] *= -1
        sizes[0] *= -1
    # The nearest turn: what is left of shear after the check is noise.
    return matrix[:3, 3].copy(), scipy.spatial.transform.Rotation.from_matrix(axes).as_quat(), sizes


def _completed(axes: Floats, flat: Floats) -> Floats:
    """Axes of no length in directions of their own, so that all three are a turn."""
    kept = [axes[:, number] for number in range(3) if not flat[number]]
    if len(kept) == 2:
        cross = np.cross(axes[:, (int(np.argmax(flat)) + 1) % 3],
                         axes[:, (int(np.argmax(flat)) + 2) % 3])
        axes[:, int(np.argmax(flat))] = cross
        return axes
    if not kept:
        return np.eye(3)
    number = int(np.argmin(flat))
    turn, _ = scipy.spatial.transform.Rotation.align_vectors([kept[0]], [np.eye(3)[number]])
    return np.asarray(turn.as_matrix())


def matrix_of(place: Floats, turn: Floats, size: Floats) -> Floats:
    """The 4 × 4 matrix that applies size, then turn, then place."""
    made = np.eye(4)
    made[:3, :3] = scipy.spatial.transform.Rotation.from_quat(turn).as_matrix() * size
    made[:3, 3] = place
    return made
