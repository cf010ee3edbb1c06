"""The files of bones of a puppet, read from where they lie."""

from __future__ import annotations

import hashlib
from collections import OrderedDict
from pathlib import Path

from ...model.bones import BoneArt
from ...model.puppet import Puppet
from ..errors import FileProblem
from ..watching import Watch, unwatched
from .reading import load_bones

MOST_KEPT = 8
DIGITS = 32
_digests: OrderedDict[int, tuple[BoneArt, str]] = OrderedDict()
"""By the identity of what was read, which is held with it."""
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


def digest_of(art: BoneArt) -> str:
    """A digest of the bones and clips of a file: what stands on them, and where they are. Meshes
    and textures are no part of it."""
    known = _digests.get(id(art))
    if known is not None and known[0] is art:
        return known[1]
    made, skeleton = hashlib.sha256(), art.skeleton
    made.update(repr((skeleton.names, skeleton.parents, sorted(skeleton.tips.items()))).encode())
    for array in (skeleton.places, skeleton.turns, skeleton.sizes, skeleton.bases):
        made.update(array.tobytes())
    for clip in art.clips:
        made.update(repr((clip.name, clip.seconds)).encode())
        for channel in clip.channels:
            made.update(repr((channel.bone, channel.part, channel.interpolation)).encode())
            made.update(channel.times.tobytes() + channel.values.tobytes())
    found = made.hexdigest()[:DIGITS]
    _digests[id(art)] = (art, found)
    while len(_digests) > MOST_KEPT:
        _digests.popitem(last=False)
    return found


def bones_in(path: Path, watch: Watch = unwatched) -> BoneArt:
    """What a file holds; not read again where it is as it was. Raises FileProblem, and what `watch`
    raises."""
    try:
        there = path.stat()
    except (OSError, ValueError) as error:
        raise FileProblem(path, "", f"cannot be read ({getattr(error, 'strerror', error)})"
                          ) from None
    stamp = (there.st_mtime_ns, there.st_size)
    known = _kept.get(path)
    if known is None or known[0] != stamp:
        known = _kept[path] = (stamp, load_bones(path, watch))
        while len(_kept) > MOST_KEPT:
            _kept.popitem(last=False)
    return known[1]
