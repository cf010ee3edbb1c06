"""Edits of how a file of bones is meant: its unit, axes and pairs."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from msgspec.structs import replace

from ..motions import BoneFile, BonePair
from ..puppet import Puppet, find
from .entries import changed


def bone_setting_changed(puppet: Puppet, bones: str, **fields: Any) -> Puppet:
    """With a file that is meant otherwise."""
    file = find(puppet.bone_files, bones)
    if file is None:
        return puppet
    return changed(puppet, "bone_files", bones, setting=replace(file.setting, **fields))


def paired_as(puppet: Puppet, bones: str, pairs: Mapping[str, str | None]) -> Puppet:
    """With bones of a file that are those of ours, or none; what was said of them before gives
    way."""
    file = find(puppet.bone_files, bones)
    if file is None:
        return puppet
    kept = [pair for pair in file.pairs if pair.theirs not in pairs]
    return changed(puppet, "bone_files", bones, pairs=(
        *kept, *[BonePair(theirs, ours) for theirs, ours in pairs.items()]))


def kept_pairs(puppet: Puppet, bones: str, names: frozenset[str]) -> BoneFile | None:
    """Another file of the puppet whose pairs fit a file with bones of these names, and say what its
    own do not."""
    file = find(puppet.bone_files, bones)
    own = {pair.theirs for pair in file.pairs} if file is not None else set()
    return next((other for other in puppet.bone_files if other.id != bones and other.pairs
                 and all(pair.theirs in names for pair in other.pairs)
                 and not all(pair.theirs in own for pair in other.pairs)), None)
