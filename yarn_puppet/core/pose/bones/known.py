"""What files of bones hold, by their content: whoever has a puppet, which names the content, and
has read the file once, has its bones. So a tick of the booth, which is given a puppet and no
folder, is still a function of what it is given."""

from __future__ import annotations

from collections import OrderedDict
from typing import TYPE_CHECKING

from ...model.puppet import Puppet

if TYPE_CHECKING:
    from ...model.bones import BoneArt
    from .clip_poses import ClipPoses

MOST_KEPT = 64
_arts: OrderedDict[str, BoneArt] = OrderedDict()
"""By digest what was read."""
_poses: list[tuple[Puppet, ClipPoses | None]] = []
"""Those of the puppets that were asked for last, by identity."""
MOST_PUPPETS = 6


def know(digest: str, art: BoneArt) -> None:
    """Keep what a file of this content holds."""
    if digest not in _arts:
        _arts[digest] = art
        _poses.clear()
        while len(_arts) > MOST_KEPT:
            _arts.popitem(last=False)


def known_poses(puppet: Puppet) -> ClipPoses | None:
    """The clips of a puppet as poses; None where it is of sprites, or its skeleton was not read in
    this process."""
    for known, poses in _poses:
        if known is puppet:
            return poses
    from .clip_poses import ClipPoses

    arts = {file.id: _arts[file.digest] for file in puppet.bone_files if file.digest in _arts}
    made: ClipPoses | None = None
    if puppet.bone_files and puppet.bone_files[0].id in arts:
        before = next((poses for _, poses in _poses if poses is not None), None)
        made = ClipPoses(puppet, arts, before)
    _poses[:] = [(puppet, made), *_poses[:MOST_PUPPETS - 1]]
    return made
