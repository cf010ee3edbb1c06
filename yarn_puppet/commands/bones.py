"""Puppets as commands run them: with their bones read, where they are of bones."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from ..core.model.puppet import Puppet
    from ..core.snags.snag import Snag


def read_puppet(path: Path) -> Puppet:
    """A puppet's file, its bones known. Raises FileProblem where the puppet cannot be read."""
    from ..core.formats.puppet_file import load_puppet

    return bones_known(load_puppet(path), path.parent)


def bones_known(puppet: Puppet, folder: Path) -> Puppet:
    """A puppet whose files of bones are looked for from a folder, as they are now."""
    if not puppet.bone_files:
        return puppet
    from ..core.takes.bones_read import with_bones

    return with_bones(puppet, folder)


def bone_snags(puppet: Puppet, folder: Path) -> list[Snag]:
    """Which of a puppet's files of bones cannot be read."""
    if not puppet.bone_files:
        return []
    from ..core.formats.bones.puppet_bones import bones_in
    from ..core.formats.errors import FileProblem
    from ..core.snags.lost_bones import unread_bones

    problems = {}
    for file in puppet.bone_files:
        try:
            bones_in(folder / file.path)
        except FileProblem as problem:
            problems[file.id] = str(problem)
    return unread_bones(puppet, problems)
