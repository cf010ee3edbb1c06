"""Boxes on bones in the world of a pose: as points, and how far round each they reach."""

from __future__ import annotations

from itertools import product as every
from typing import TYPE_CHECKING, NamedTuple

import numpy as np

from ...model.motions import BoneBox, BonePlace
from .clip_poses import ClipPoses
from .in_hand import anchor_matrix
from .world_pose import WorldPose

if TYPE_CHECKING:
    from ...model.bones import Floats

CORNERS = np.array(list(every((-0.5, 0.5), repeat=3)))


class Reaches(NamedTuple):
    """Points (n, 3), and the radius round each: the corners of a box, the middle of a ball, the two
    ends of a capsule."""

    points: Floats
    radius: float


def reaches_of(
    poses: ClipPoses, pose: WorldPose, box: BoneBox, time: int = 0
) -> Reaches | None:
    """Where a box is at one of a pose's times; None where its bone is gone."""
    matrix = anchor_matrix(poses, pose, BonePlace(box.bone, box.place, box.turn), time)
    if matrix is None:
        return None
    wide, high, deep = box.size
    if box.shape == "box":
        own, radius = CORNERS * np.array([wide, high, deep]), 0.0
    elif box.shape == "ball":
        own, radius = np.zeros((1, 3)), wide / 2
    else:
        along = max(0.0, high - wide) / 2
        own, radius = np.array([[0.0, -along, 0.0], [0.0, along, 0.0]]), wide / 2
    points: Floats = own @ matrix[:3, :3].T + matrix[:3, 3]
    return Reaches(points, radius)
