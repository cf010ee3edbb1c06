"""How far bones jump in a run: poses made of its reports, many ticks at once."""

from __future__ import annotations

from collections.abc import Iterable
from typing import TYPE_CHECKING, NamedTuple

from ..run import Record

if TYPE_CHECKING:
    from ...model.bones import Floats, Indices
    from ...pose.bones.clip_poses import ClipPoses


class RunJumps(NamedTuple):
    """For each tick of a run the centimetres that the bone went furthest which went furthest, and
    that bone; nothing in the first."""

    centimetres: Floats
    bones: Indices
    names: tuple[str, ...]


def jumps_of(poses: ClipPoses, records: Iterable[Record]) -> RunJumps:
    """The jumps of a run, whose figure is posed as it is now."""
    import numpy as np

    from ...pose.bones.baking import take_poses
    from ...pose.bones.jumps import Jumps

    counted = Jumps(poses)
    far, bones = [np.zeros(0)], [np.zeros(0, dtype=np.int64)]
    for pose in take_poses(poses, (record.report for record in records)):
        found = counted.add(pose)
        far.append(found.centimetres)
        bones.append(found.bones)
    return RunJumps(np.concatenate(far), np.concatenate(bones), poses.skeleton.names)
