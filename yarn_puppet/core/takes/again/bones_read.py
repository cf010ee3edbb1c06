"""The bones of a puppet whose takes are judged, read from where its files lie. By itself: only
takes that promise something of bones need it, and NumPy with it."""

from __future__ import annotations

from pathlib import Path

from ...formats.bones.puppet_bones import bones_that_are_there
from ...model.puppet import Puppet
from ...pose.bones.clip_poses import ClipPoses


def poses_in(puppet: Puppet, folder: Path) -> ClipPoses | None:
    """The clips of a puppet as poses; None where it is of sprites, or its skeleton cannot be
    read."""
    arts = bones_that_are_there(puppet, folder)
    if not puppet.bone_files or puppet.bone_files[0].id not in arts:
        return None
    return ClipPoses(puppet, arts)
