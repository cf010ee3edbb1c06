"""How far a figure goes from where its clip begins to where it ends: of a loop, how far it jumps
back."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from ...model.clips import Clip
from .clip_poses import ClipPoses
from .turns import inverse, product
from .world_pose import in_world


class Travel(NamedTuple):
    """Metres over the ground, and degrees about what is up."""

    metres: float
    degrees: float


def travel_of(poses: ClipPoses, clip: Clip) -> Travel:
    """What most of a figure's bones do, whichever of them its clips move: a root, or hips under
    one. A limb that ends elsewhere is a seam, and no travel."""
    world = in_world(poses.skeleton, poses.at(clip, np.array([0.0, clip.length / 1000])))
    gone = (world.places[1] - world.places[0])[:, (0, 2)]
    turned = product(world.turns[1], inverse(world.turns[0]))
    about_up = 2 * np.degrees(np.arctan2(turned[:, 1], turned[:, 3]))
    about_up = (about_up + 180) % 360 - 180
    return Travel(float(np.linalg.norm(np.median(gone, axis=0))), abs(float(np.median(about_up))))
