"""Draws a puppet of bones in the booth: the pose of a tick, from the side or from above, where it
stands."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Hashable, Iterator, Sequence
from math import atan2, degrees
from typing import NamedTuple, overload

import numpy as np
from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QColor, QPaintDevice, QPainter, QTransform

from ...core.booth.body import Body
from ...core.engine.state import Report
from ...core.pose.bones.camera import BoothCamera, Camera, in_booth
from ...core.pose.bones.figure_poses import PoseByPose
from ...core.pose.bones.in_hand import InHand, attached_at, in_hand
from ...core.pose.bones.world_pose import WorldPose, in_world
from ...core.pose.ruled import Tint, tint_of
from ...core.takes.run import Record
from ..pictures.art import Art
from ..pictures.bones import Bones
from ..pictures.limbs import Piece, draw_limbs
from ..pictures.mesh.choice import MeshChoice
from ..pictures.mesh.context import Ink
from ..pictures.mesh.drawing import ShapePictures, Shapes
from ..pictures.mesh.model import MeshModel
from ..widgets import theme
from .figure import GHOSTS

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


class Posed(NamedTuple):
    """A pose that stands at x, y of a booth, seen from the side or from `above`, by its report;
    what it holds, and the colour it wears."""

    pose: WorldPose
    report: Report
    x: float
    y: float
    held: Sequence[InHand] = ()
    tint: Tint | None = None
    above: bool = False


class PoseDrawing:
    """Draws poses where they stand, as limbs or as meshes, whichever is chosen."""

    def __init__(self, meshes: MeshChoice) -> None:
        self.meshes = meshes
        self._shapes = ShapePictures(meshes.renderer)

    def begin(self, device: QPaintDevice, place: QTransform, art: Art, posed: Posed) -> None:
        """Begin what `draw` will draw."""
        model = art.bones.model if self.meshes.draws else None
        if model is not None and art.bones.puppet.mover.pixels_a_metre > 0:
            seen = self._seen(art, posed)
            self._shapes.begin(device, place, *_mesh_of(art.bones, posed, model), seen.camera,
                               _ink_of(posed.tint), seen.mirrored_about)

    def draw(
        self, painter: QPainter, art: Art, posed: Posed, ghost: QColor | None = None
    ) -> bool:
        """A pose, or all that it covers as a `ghost`. `art` is the puppet's. False where its bones
        are not there."""
        bones = art.bones
        limbs, tint = bones.limbs, posed.tint
        if limbs is None or bones.puppet.mover.pixels_a_metre <= 0:
            return False
        seen = self._seen(art, posed)
        model = bones.model if self.meshes.draws else None
        if model is not None:
            self._draw_mesh(painter, art, posed, model, seen, ghost)
            if self.meshes.draws:
                return True

        def worn(number: int, color: QColor) -> QColor:
            if ghost is not None:
                return ghost
            assert tint is not None
            return theme.tint(QColor(tint.red, tint.green, tint.blue), tint.strength, color)

        camera, about = seen
        draw_limbs(painter, limbs, posed.pose, camera, 0, about,
                   worn if tint is not None or ghost is not None else None, 0.8,
                   [piece for each in (posed.held if ghost is None else ())
                    for piece in piece_of(art, bones, each, camera, about)])
        return True

    def _seen(self, art: Art, posed: Posed) -> BoothCamera:
        return in_booth(art.bones.puppet.mover, posed.report.facing, posed.x, posed.y, posed.above)

    def _draw_mesh(
        self, painter: QPainter, art: Art, posed: Posed, model: MeshModel, seen: BoothCamera,
        ghost: QColor | None,
    ) -> None:
        """The mesh, with those it holds; pictures that it holds lie before or behind all of it. A
        ghost is all that its picture covered."""
        pictures = [piece for each in (posed.held if ghost is None else ())
                    if art.bones.prop(each.shows) is None
                    for piece in piece_of(art, art.bones, each, *seen)]
        for piece in pictures:
            if piece.depth > 0:
                piece.draw(painter)
        self._shapes.draw(painter, *_mesh_of(art.bones, posed, model), seen.camera,
                          _ink_of(posed.tint), seen.mirrored_about, flat=ghost)
        for piece in pictures:
            if piece.depth <= 0:
                piece.draw(painter)


def _mesh_of(bones: Bones, posed: Posed, model: MeshModel) -> tuple[Hashable, Shapes]:
    """The mesh of a pose with those that it holds: by what they are known again, and where they
    are."""
    props = [(each, prop) for each in posed.held if (prop := bones.prop(each.shows)) is not None]
    return ((posed.pose, model, *[(each.shows, each.matrix.tobytes()) for each, _ in props]),
            lambda: [model.placed(posed.pose),
                     *[prop.rest.moved(each.matrix) for each, prop in props]])


def _ink_of(tint: Tint | None) -> Ink:
    return Ink() if tint is None else Ink(
        (tint.red / 255, tint.green / 255, tint.blue / 255), tint.strength)


def piece_of(
    art: Art, bones: Bones, held: InHand, camera: Camera, about: float | None
) -> Iterator[Piece]:
    """A prop as it is drawn among limbs: a mesh, or a picture that turns with its anchor; nothing
    where its file is not there."""
    prop = bones.prop(held.shows)
    if prop is not None:
        mesh = prop.mesh
        yield Piece(mesh.depth(held.matrix, camera),
                    lambda painter: mesh.draw(painter, held.matrix, camera, about))
        return
    picture = art.picture(held.shows) if held.shows else None
    if picture is None:
        return
    seen = camera.seen(np.stack([held.matrix[:3, 3], held.matrix[:3, 3] + held.matrix[:3, 2]]))
    (x, y), (end_x, end_y) = [(float(px), float(py)) for px, py in seen.places]
    if about is not None:
        x, end_x = 2 * about - x, 2 * about - end_x
    size = float(np.linalg.norm(held.matrix[:3, 2]))

    def draw(painter: QPainter) -> None:
        painter.save()
        painter.translate(x, y)
        painter.rotate(degrees(atan2(end_y - y, end_x - x)))
        painter.scale(size, size if about is None else -size)
        painter.drawPixmap(QPointF(-picture.width() / 2, -picture.height() / 2), picture)
        painter.restore()

    yield Piece(float(seen.depths[0]), draw)


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
