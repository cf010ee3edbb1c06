"""Several poses as one, by their weights. docs/poses.md 7."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

import numpy as np

from .sampling import LocalPose
from .turns import slerp

if TYPE_CHECKING:
    from ...model.bones import Floats


def between(first: LocalPose, second: LocalPose, share: Floats | float) -> LocalPose:
    """The pose that is this share of the way from the first to the second, bone by bone.

    `share` is a number, or has the shape (bones, 1) or (times, bones, 1). Where it is 0 or 1 the
    numbers are the very ones of that pose.
    """
    part = np.asarray(share, dtype=np.float64)
    turns = slerp(first.turns, second.turns, np.broadcast_to(part, (*first.turns.shape[:-1], 1)))
    return LocalPose(_mixed(first.places, second.places, part), turns,
                     _mixed(first.sizes, second.sizes, part))


def _mixed(first: Floats, second: Floats, part: Floats) -> Floats:
    mixed = first * (1 - part) + second * part
    return np.where(part <= 0, first, np.where(part >= 1, second, mixed))


def blended(poses: Sequence[LocalPose], weights: Sequence[float]) -> LocalPose:
    """Poses from the oldest to the newest, mixed by weights of zero or more of which one is above.

    Each is mixed into what came of those before it, by its share of the weights so far: so a blend
    that is interrupted goes on from what was on show. Weights need not sum to one; only their
    ratios count. Raises ValueError where none is above zero.
    """
    found: LocalPose | None = None
    so_far = 0.0
    for pose, weight in zip(poses, weights, strict=True):
        if weight > 0:
            so_far += weight
            found = pose if found is None else between(found, pose, weight / so_far)
    if found is None:
        raise ValueError("expected a pose with a weight above zero")
    return found
