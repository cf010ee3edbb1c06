"""Poses over poses: through masks, in place of what is below or added to it. docs/poses.md 8."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from ...model.bones import Skeleton
from .blending import between
from .sampling import LocalPose
from .turns import inverse, product, slerp

if TYPE_CHECKING:
    from ...model.bones import Floats

LEAST_SIZE = 1e-9
"""A size of the reference below which nothing can be so many times as large."""


def mask_from(skeleton: Skeleton, bone: int, soft: int = 0) -> Floats:
    """Weights (bones,) of a bone and all that is under it: 1, or for soft ones rising over so many
    bones down the chain. All others have 0."""
    found = np.zeros(len(skeleton.parents))
    depths: dict[int, int] = {bone: 0}
    for number, parent in enumerate(skeleton.parents):
        if parent in depths:
            depths[number] = depths[parent] + 1
    for number, depth in depths.items():
        found[number] = min(1.0, (depth + 1) / (soft + 1))
    return found


def over(below: LocalPose, above: LocalPose, mask: Floats, weight: float) -> LocalPose:
    """A pose in place of another, as far as the mask (bones,) and the layer's weight say."""
    return between(below, above, (mask * weight)[:, None])


def added(
    below: LocalPose, above: LocalPose, reference: LocalPose, mask: Floats, weight: float
) -> LocalPose:
    """What a pose has beyond its reference, added to another, as far as mask (bones,), or (times,
    bones), and weight say.

    A turn is added on the side of the bone: the bone turns about its own axes, wherever those below
    have carried it.
    """
    part = (mask * weight)[..., None]
    beyond = product(inverse(reference.turns), above.turns)
    still = np.broadcast_to(np.array([0.0, 0.0, 0.0, 1.0]), beyond.shape)
    share = np.broadcast_to(part, (*beyond.shape[:-1], 1))
    turns = np.where(share > 0, product(below.turns, slerp(still, beyond, share)), below.turns)
    usable = np.abs(reference.sizes) > LEAST_SIZE
    times = np.divide(above.sizes, reference.sizes, out=np.ones_like(above.sizes), where=usable)
    return LocalPose(below.places + part * (above.places - reference.places), turns,
                     below.sizes * (1 + part * (times - 1)))
