"""A puppet of bones as it stands in the booth: its anchors and boxes in the plane, as those of a
frame are, or in the space of a booth seen from above. Rules 13 to 15 of docs/poses.md."""

from __future__ import annotations

from math import cos, radians, sin
from typing import TYPE_CHECKING

from ...engine.state import Report
from ...model.motions import BoneBox
from ...model.puppet import Puppet
from ...model.wiring import FACING_DEGREES
from ..cuboid import Area, Cuboid
from ..rectangle import Rectangle
from .known import known_poses

if TYPE_CHECKING:
    from ...model.bones import Floats
    from .clip_poses import ClipPoses
    from .world_pose import WorldPose

MOST_KEPT = 4
_kept: list[tuple[Puppet, Report, WorldPose]] = []
"""The poses that were asked for last: of one tick several things are asked."""


class PosedFigure:
    """The figure of a report at a place of the world, in pixels: from the side, or on the ground of
    a booth seen from `above`. Its pose is made when something of it is asked for first."""

    def __init__(
        self, puppet: Puppet, poses: ClipPoses, report: Report, x: float, y: float,
        above: bool = False,
    ) -> None:
        self.puppet, self.poses, self.report, self.x, self.y = puppet, poses, report, x, y
        self.above = above
        self.flipped = self.leftwards = report.facing.rpartition(" ")[2] == "left"

    @property
    def pose(self) -> WorldPose:
        """Where the bones are. Momentum is for who draws: what hits is what the graph plays."""
        for puppet, report, pose in _kept:
            if puppet is self.puppet and report is self.report:
                return pose
        from .figure_poses import FigurePoses
        from .world_pose import in_world

        made = in_world(self.poses.skeleton,
                        FigurePoses(self.poses, carries=False).of([self.report]))
        _kept[:] = [(self.puppet, self.report, made), *_kept[:MOST_KEPT - 1]]
        return made

    def at(self, points: Floats) -> Floats:
        """Points of the pose's world (n, 3): across, along the ground (y of the world), and above
        it (n, 3), in pixels. Seen from the side all are along the line on which it stands."""
        import numpy as np

        mover = self.puppet.mover
        scale, front = mover.pixels_a_metre, points[:, 2]
        if self.above:
            left = -points[:, 0] if self.leftwards and mover.turned == "mirrored" else points[:, 0]
            heading = radians(FACING_DEGREES[self.report.facing])
            across = front * cos(heading) - left * sin(heading)
            along = -front * sin(heading) - left * cos(heading)
        else:
            across, along = -front if self.leftwards else front, np.zeros(len(points))
        found: Floats = np.stack(
            [self.x + across * scale, self.y + along * scale, points[:, 1] * scale], axis=1)
        return found

    def anchor(self, anchor: str | None) -> tuple[float, float] | None:
        """Where an anchor is drawn in the world, or None where it is on no bone."""
        found = self.anchor_in_space(anchor)
        return None if found is None else (found[0], found[1] - found[2])

    def anchor_in_space(self, anchor: str | None) -> tuple[float, float, float] | None:
        """An anchor across, along the ground, and above it; None where it is on no bone."""
        from .in_hand import anchor_matrix

        found = next((each for each in self.puppet.anchors if each.id == anchor), None)
        if found is None or found.on_bone is None:
            return None
        matrix = anchor_matrix(self.poses, self.pose, found.on_bone)
        if matrix is None:
            return None
        x, along, high = self.at(matrix[None, :3, 3])[0]
        return float(x), float(along), float(high)

    def hit_boxes(self, window: str) -> list[Area]:
        """Where a hit window of this name hits: the hit boxes of its name, and those without
        one."""
        return [area for box in self.puppet.bone_boxes
                if box.kind == "hit" and box.name in ("", window)
                and (area := self.area(box)) is not None]

    def bodies(self, asked: str) -> list[tuple[BoneBox, Area]]:
        """The body boxes of a name; where there is none of it, those without one."""
        boxes = [box for box in self.puppet.bone_boxes if box.kind == "body"]
        chosen = [box for box in boxes if box.name == asked] or [
            box for box in boxes if not box.name]
        return [(box, area) for box in chosen if (area := self.area(box)) is not None]

    def area(self, box: BoneBox) -> Area | None:
        """What a box covers in the plane, or in space; None where its bone is gone."""
        from .boxes import reaches_of

        reaches = reaches_of(self.poses, self.pose, box)
        if reaches is None:
            return None
        places = self.at(reaches.points)
        radius = reaches.radius * self.puppet.mover.pixels_a_metre
        left, far, low = [float(each) for each in places.min(axis=0) - radius]
        right, near, high = [float(each) for each in places.max(axis=0) + radius]
        if self.above:
            return Cuboid(left, right - left, far, near, low, high)
        return Rectangle(left, self.y - high, right - left, high - low)


def posed_figure(
    puppet: Puppet, report: Report, x: float, y: float, above: bool = False
) -> PosedFigure | None:
    """The figure of a tick; None for a puppet of sprites, or where its bones were not read."""
    poses = known_poses(puppet) if puppet.bone_files else None
    return PosedFigure(puppet, poses, report, x, y, above) if poses is not None else None
