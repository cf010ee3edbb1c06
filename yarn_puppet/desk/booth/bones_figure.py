"""Draws a puppet of bones in the booth: the pose of a tick, from the side or from above, where it
stands."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Iterator, Sequence
from math import atan2, degrees
from typing import overload

import numpy as np
from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QColor, QPainter

from ...core.booth.body import Body
from ...core.engine.state import Report
from ...core.pose.bones.camera import Camera, in_booth
from ...core.pose.bones.figure_poses import pose_at
from ...core.pose.bones.in_hand import InHand, attached_at, in_hand
from ...core.pose.bones.world_pose import WorldPose, in_world
from ...core.pose.ruled import Tint, tint_of
from ...core.takes.run import Record
from ..pictures.art import Art
from ..pictures.bones import Bones
from ..pictures.limbs import Piece, draw_limbs
from ..pictures.mesh.choice import MeshChoice
from ..pictures.mesh.context import Ink
from ..pictures.mesh.drawing import ShapePictures
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
        self._kept: OrderedDict[int, tuple[object, Record, WorldPose]] = OrderedDict()

    def pose(self, records: Sequence[Record], tick: int) -> WorldPose | None:
        """Where the bones are in a tick, relative to where the puppet stands."""
        poses = self.bones.poses
        if poses is None or not 0 <= tick < len(records):
            return None
        record, known = records[tick], self._kept.get(tick)
        if known is None or known[0] is not poses or known[1] is not record:
            local = pose_at(poses, _Reports(records), tick)
            known = self._kept[tick] = (poses, record, in_world(poses.skeleton, local))
            while len(self._kept) > MOST_KEPT:
                self._kept.popitem(last=False)
        return known[2]

    def forget(self) -> None:
        """Make every pose anew, as for what measures it."""
        self._kept.clear()

    def draw(
        self, painter: QPainter, records: Sequence[Record], tick: int, body: Body,
        ghosts: bool,
    ) -> bool:
        """The figure at a tick, with where it was some ticks before. False where there is none."""
        limbs = self.bones.limbs
        if limbs is None:
            return False
        mover = self.bones.puppet.mover
        for back in GHOSTS if ghosts else ():
            if 0 <= tick - back < len(records):
                then = records[tick - back].after.booth
                if then is not None and max(abs(then.body.x - body.x),
                                            abs(then.body.y - body.y)) > 6:
                    self._draw(painter, records, tick - back, then.body, None,
                               theme.with_alpha(theme.MOONLIGHT, GHOST))
        shown = records[tick] if 0 <= tick < len(records) else None
        if shown is None or mover.pixels_a_metre <= 0:
            return False
        return self._draw(painter, records, tick, body, tint_of(shown.report), None)

    def _draw(
        self, painter: QPainter, records: Sequence[Record], tick: int, body: Body,
        tint: Tint | None, ghost: QColor | None,
    ) -> bool:
        pose = self.pose(records, tick)
        if pose is None:
            return False
        held = self._held(pose, records[tick]) if ghost is None else ()
        world = records[tick].setup.world
        return self.drawing.draw(painter, self.art, pose, records[tick].report, body.x, body.y,
                                 held, tint, ghost, world is not None and world.from_above)

    def _held(self, pose: WorldPose, record: Record) -> tuple[InHand, ...]:
        """What while-rules hold in a tick, and what moments attached."""
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


class PoseDrawing:
    """Draws poses where they stand, as limbs or as meshes, whichever is chosen."""

    def __init__(self, meshes: MeshChoice) -> None:
        self.meshes = meshes
        self._shapes = ShapePictures(meshes.renderer)

    def draw(
        self, painter: QPainter, art: Art, pose: WorldPose, report: Report, x: float, y: float,
        held: Sequence[InHand], tint: Tint | None = None, ghost: QColor | None = None,
        above: bool = False,
    ) -> bool:
        """The pose of a report, which stands at x, y, seen from the side or from `above`. `art` is
        the puppet's. False where its bones
        are not there."""
        bones = art.bones
        limbs, mover = bones.limbs, bones.puppet.mover
        if limbs is None or mover.pixels_a_metre <= 0:
            return False
        camera, about = in_booth(mover, report.facing, x, y, above)
        model = bones.model if self.meshes.draws else None
        if model is not None:
            self._draw_mesh(painter, art, pose, model, held, camera, about, tint, ghost)
            if self.meshes.draws:
                return True

        def worn(number: int, color: QColor) -> QColor:
            if ghost is not None:
                return ghost
            assert tint is not None
            return theme.tint(QColor(tint.red, tint.green, tint.blue), tint.strength, color)

        draw_limbs(painter, limbs, pose, camera, 0, about,
                   worn if tint is not None or ghost is not None else None, 0.8,
                   [piece for each in held
                    for piece in piece_of(art, bones, each, camera, about)])
        return True

    def _draw_mesh(
        self, painter: QPainter, art: Art, pose: WorldPose, model: MeshModel,
        held: Sequence[InHand], camera: Camera, about: float | None, tint: Tint | None,
        ghost: QColor | None,
    ) -> None:
        """The mesh, with those it holds; pictures that it holds lie before or behind all of it."""
        if ghost is not None:
            painter.setOpacity(ghost.alphaF())
            self._shapes.draw(painter, (pose, model), [model.placed(pose)], camera, Ink(
                (ghost.redF(), ghost.greenF(), ghost.blueF()), 1.0, False), about)
            painter.setOpacity(1.0)
            return
        shapes, pictures = [model.placed(pose)], list[Piece]()
        for each in held:
            prop = art.bones.prop(each.shows)
            if prop is not None:
                shapes.append(prop.rest.moved(each.matrix))
            else:
                pictures += piece_of(art, art.bones, each, camera, about)
        for piece in pictures:
            if piece.depth > 0:
                piece.draw(painter)
        ink = Ink() if tint is None else Ink(
            (tint.red / 255, tint.green / 255, tint.blue / 255), tint.strength)
        self._shapes.draw(
            painter, (pose, model, *[(each.shows, each.matrix.tobytes()) for each in held]), shapes,
            camera, ink, about)
        for piece in pictures:
            if piece.depth <= 0:
                piece.draw(painter)


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
