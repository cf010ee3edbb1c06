"""Draws a puppet of bones in the booth: the pose of a tick, from the side or from above, where it
stands."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Iterator, Sequence
from typing import overload

from PyQt6.QtGui import QColor, QPaintDevice, QPainter, QTransform

from ...core.booth.body import Body
from ...core.engine.state import Report
from ...core.pose.bones.figure_poses import PoseByPose
from ...core.pose.bones.in_hand import InHand, attached_at, in_hand
from ...core.pose.bones.world_pose import WorldPose, in_world
from ...core.pose.ruled import tint_of
from ...core.takes.run import Record
from ..pictures.art import Art
from ..widgets import theme
from .figure import GHOSTS
from .pose_drawing import Posed, PoseDrawing

MOST_KEPT = 24
"""Poses: that of the tick on show and those before it, of which ghosts are some."""
GHOST = 46
"""How strongly a ghost is seen, of 255."""


class BonesFigure:
    """The puppet of bones of one booth. Poses are kept: a tick may be drawn several times."""

    def __init__(self, art: Art) -> None:
        self.art, self.bones = art, art.bones
        self.drawing = PoseDrawing(self.bones.meshes)
        self._one_by_one: PoseByPose | None = None
        self._kept: OrderedDict[int, tuple[object, Record, WorldPose]] = OrderedDict()
        self._held: OrderedDict[int, tuple[object, WorldPose, tuple[InHand, ...]]] = OrderedDict()

    def pose(self, records: Sequence[Record], tick: int) -> WorldPose | None:
        """Where the bones are in a tick, relative to where the puppet stands."""
        poses = self.bones.poses
        if poses is None or not 0 <= tick < len(records):
            return None
        record, known = records[tick], self._kept.get(tick)
        if known is None or known[0] is not poses or known[1] is not record:
            if self._one_by_one is None or self._one_by_one.poses is not poses:
                self._one_by_one = PoseByPose(poses)
            local = self._one_by_one.at(_Reports(records), tick)
            known = self._kept[tick] = (poses, record, in_world(poses.skeleton, local))
            while len(self._kept) > MOST_KEPT:
                self._kept.popitem(last=False)
        return known[2]

    def forget(self) -> None:
        """Make every pose anew, as for what measures it."""
        self._kept.clear()
        self._one_by_one = None

    def begin(
        self, device: QPaintDevice, place: QTransform, records: Sequence[Record], tick: int,
        body: Body, ghosts: bool,
    ) -> None:
        """Begin what `draw` will draw with a painter on `device` that is moved and scaled as
        `place`: what lies behind the figure can be drawn meanwhile."""
        for at, stands, _ in self._shown(records, tick, body, ghosts):
            posed = self._posed(records, at, stands)
            if posed is not None:
                self.drawing.begin(device, place, self.art, posed)

    def draw(
        self, painter: QPainter, records: Sequence[Record], tick: int, body: Body,
        ghosts: bool,
    ) -> bool:
        """The figure at a tick, with where it was some ticks before. False where there is none."""
        drawn = False
        for at, stands, ghost in self._shown(records, tick, body, ghosts):
            posed = self._posed(records, at, stands)
            drawn = posed is not None and self.drawing.draw(painter, self.art, posed, ghost)
        return drawn

    def _shown(
        self, records: Sequence[Record], tick: int, body: Body, ghosts: bool
    ) -> Iterator[tuple[int, Body, QColor | None]]:
        """The ticks that are drawn, each with where it stands, and a colour for ghosts; the one on
        show last."""
        if not 0 <= tick < len(records):
            return
        for back in GHOSTS if ghosts else ():
            then = records[tick - back].after.booth if tick >= back else None
            if then is not None and max(abs(then.body.x - body.x),
                                        abs(then.body.y - body.y)) > 6:
                yield tick - back, then.body, theme.with_alpha(theme.MOONLIGHT, GHOST)
        yield tick, body, None

    def _posed(self, records: Sequence[Record], tick: int, body: Body) -> Posed | None:
        pose = self.pose(records, tick)
        if pose is None:
            return None
        record = records[tick]
        world = record.setup.world
        return Posed(pose, record.report, body.x, body.y, self._in_hand(pose, record),
                     tint_of(record.report), world is not None and world.from_above)

    def _in_hand(self, pose: WorldPose, record: Record) -> tuple[InHand, ...]:
        """What while-rules hold in a tick, and what moments attached; known again for ghosts."""
        puppet, tick = self.bones.puppet, record.report.tick
        known = self._held.get(tick)
        if known is None or known[0] is not puppet or known[1] is not pose:
            known = self._held[tick] = (puppet, pose, self._held_now(pose, record))
            while len(self._held) > MOST_KEPT:
                self._held.popitem(last=False)
        return known[2]

    def _held_now(self, pose: WorldPose, record: Record) -> tuple[InHand, ...]:
        poses, booth = self.bones.poses, record.after.booth
        if poses is None:
            return ()
        held = list(in_hand(poses, pose, record.report))
        for prop in booth.props if booth is not None else ():
            attached = attached_at(poses, pose, self.bones.puppet, prop.anchor, prop.file,
                                   prop.clip, prop.under)
            if attached is not None:
                held.append(attached)
        return tuple(held)


class _Reports(Sequence[Report]):
    """The reports of records, taken as they are asked for."""

    def __init__(self, records: Sequence[Record]) -> None:
        self._records = records

    def __len__(self) -> int:
        return len(self._records)

    @overload
    def __getitem__(self, place: int) -> Report: ...

    @overload
    def __getitem__(self, place: slice) -> list[Report]: ...

    def __getitem__(self, place: int | slice) -> Report | list[Report]:
        if isinstance(place, slice):
            return [self._records[number].report for number in range(*place.indices(len(self)))]
        return self._records[place].report
