"""The files of bones of a puppet, read from where they lie."""

from __future__ import annotations

from collections import OrderedDict
from pathlib import Path

from ...model.bones import BoneArt
from ...model.puppet import Puppet
from ..errors import FileProblem
from .reading import load_bones

MOST_KEPT = 8
_kept: OrderedDict[Path, tuple[tuple[int, int], BoneArt]] = OrderedDict()
"""What was read last, by file, and when it was changed and how large it was then."""


def bones_of(puppet: Puppet, folder: Path) -> dict[str, BoneArt]:
    """By id what the files of bones of a puppet hold. Raises FileProblem for the first that cannot
    be read."""
    return {file.id: bones_in(folder / file.path) for file in puppet.bone_files}


def bones_that_are_there(puppet: Puppet, folder: Path) -> dict[str, BoneArt]:
    """The same of those that can be read."""
    found = {}
    for file in puppet.bone_files:
        try:
            found[file.id] = bones_in(folder / file.path)
        except FileProblem:
            continue
    return found


def bones_in(path: Path) -> BoneArt:
    """What a file holds; not read again where it is as it was. Raises FileProblem."""
    try:
        there = path.stat()
    except (OSError, ValueError) as error:
        raise FileProblem(path, "", f"cannot be read ({getattr(error, 'strerror', error)})"
                          ) from None
    stamp = (there.st_mtime_ns, there.st_size)
    known = _kept.get(path)
    if known is None or known[0] != stamp:
        known = _kept[path] = (stamp, load_bones(path))
        while len(_kept) > MOST_KEPT:
            _kept.popitem(last=False)
    return known[1]
