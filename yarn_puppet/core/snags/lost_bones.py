"""What is wrong with a puppet's bones, for who has its files read: what they do not hold, and
clips that go away."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING

from ..engine.program import Program
from ..model.puppet import Puppet
from .snag import Snag

if TYPE_CHECKING:
    from ..pose.bones.clip_poses import ClipPoses

KINDS = {"clips": "clip", "anchors": "anchor", "layers": "layer", "bone_boxes": "box on a bone"}
AWAY, ROUND = 0.05, 5.0
"""Metres and degrees from the start of a loop to its end that are told of."""


def unread_bones(puppet: Puppet, problems: Mapping[str, str]) -> list[Snag]:
    """Files that cannot be read, with why by their ids."""
    return [Snag("error", "puppet", puppet.name, file.name, problems[file.id],
                 "put the file back, or find it again on the Clips page")
            for file in puppet.bone_files if file.id in problems]


def lost_bones(puppet: Puppet, program: Program) -> list[Snag]:
    """Clips and bones that are gone, bones of other files that are none of ours, and loops that go
    away, where this process has read the puppet's files."""
    if not puppet.bone_files:
        return []
    from ..pose.bones.known import known_poses
    from ..pose.bones.lost import lost_parts, unmatched

    poses = known_poses(puppet)
    if poses is None:
        return []
    found = [Snag("error" if lost.field == "clips" else "warning", KINDS[lost.field], lost.id,
                  *_parted(lost.words), "choose another, or bring it back")
             for lost in lost_parts(poses)]
    names = {file.id: file.name for file in puppet.bone_files}
    for id, bones in unmatched(poses).items():
        few = ", ".join(bones[:4]) + ", …" * (len(bones) > 4)
        found.append(Snag("note", "puppet", puppet.name, names[id],
                          f"it moves bones that are none of ours: {few}",
                          "say on the Clips page which bones they are, or leave them out"))
    return found + _going_away(puppet, poses)


def _going_away(puppet: Puppet, poses: ClipPoses) -> list[Snag]:
    from ..pose.bones.travel import travel_of

    found = []
    for clip in puppet.clips:
        if clip.motion is None or clip.mode != "loop" or poses.file_clip(clip.motion) is None:
            continue
        gone = travel_of(poses, clip)
        ways = [f"{gone.metres:.2f} m away"] * (gone.metres > AWAY)
        ways += [f"round by {gone.degrees:.0f}°"] * (gone.degrees > ROUND)
        if ways:
            found.append(Snag(
                "warning", "clip", clip.id, clip.name,
                f"it goes {' and '.join(ways)} in its file, and jumps back where it loops",
                "take a clip that walks on the spot, or set what moves it by a speed"))
    return found


def _parted(words: str) -> tuple[str, str]:
    """Where it is, and what."""
    where, _, why = words.partition(": ")
    return where, why
