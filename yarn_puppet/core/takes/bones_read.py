"""The bones of a puppet, read from where its files lie, for who runs it. By itself: only puppets of
bones need it, and NumPy with it."""

from __future__ import annotations

from pathlib import Path

from msgspec.structs import replace

from ..formats.bones.puppet_bones import bones_that_are_there, digest_of
from ..model.puppet import Puppet
from ..pose.bones.clip_poses import ClipPoses
from ..pose.bones.known import know


def with_bones(puppet: Puppet, folder: Path) -> Puppet:
    """The puppet with its files of bones as they are now, which this process then knows: what
    stands on its bones can be hit, and hits. One whose file cannot be read stays as it is."""
    if not puppet.bone_files:
        return puppet
    arts = bones_that_are_there(puppet, folder)
    for art in arts.values():
        know(digest_of(art), art)
    files = tuple([replace(file, digest=digest_of(arts[file.id])) if file.id in arts else file
                   for file in puppet.bone_files])
    return puppet if files == puppet.bone_files else replace(puppet, bone_files=files)


def poses_in(puppet: Puppet, folder: Path) -> ClipPoses | None:
    """The clips of a puppet as poses; None where it is of sprites, or its skeleton cannot be
    read."""
    arts = bones_that_are_there(puppet, folder)
    if not puppet.bone_files or puppet.bone_files[0].id not in arts:
        return None
    return ClipPoses(puppet, arts)
