"""What a puppet names that its files of bones do not hold, for who has them read."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING

from ..model.puppet import Puppet
from .snag import Snag

if TYPE_CHECKING:
    from ..pose.bones.clip_poses import ClipPoses

KINDS = {"clips": "clip", "anchors": "anchor", "layers": "layer", "bone_boxes": "box on a bone"}


def lost_bones(
    puppet: Puppet, poses: ClipPoses | None, problems: Mapping[str, str]
) -> list[Snag]:
    """Files that cannot be read, with why by their ids; then clips and bones that are gone, and
    bones of other files that are none of ours."""
    found = [
        Snag("error", "puppet", puppet.name, file.name, problems[file.id],
             "put the file back, or find it again on the Clips page")
        for file in puppet.bone_files if file.id in problems
    ]
    if poses is None:
        return found
    from ..pose.bones.lost import lost_parts, unmatched

    for lost in lost_parts(poses):
        found.append(Snag("error" if lost.field == "clips" else "warning", KINDS[lost.field],
                          lost.id, *_parted(lost.words), "choose another, or bring it back"))
    names = {file.id: file.name for file in puppet.bone_files}
    for id, bones in unmatched(poses).items():
        few = ", ".join(bones[:4]) + ", …" * (len(bones) > 4)
        found.append(Snag("note", "puppet", puppet.name, names[id],
                          f"it moves bones that are none of ours: {few}",
                          "say on the Clips page which bones they are, or leave them out"))
    return found


def _parted(words: str) -> tuple[str, str]:
    """Where it is, and what."""
    where, _, why = words.partition(": ")
    return where, why
