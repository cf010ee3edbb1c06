"""Draws a pose as knitted tubes, a limb a bone: the further ones first."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from math import acos, atan2, cos, degrees, hypot, pi, sin
from typing import TYPE_CHECKING, NamedTuple

import numpy as np
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPolygonF

from ...core.pose.bones.camera import Camera
from ...core.pose.bones.limbs import Limbs
from ...core.pose.bones.world_pose import WorldPose
from ..widgets import theme

if TYPE_CHECKING:
    from ...core.model.bones import Floats

SMALL = 2.6
"""Pixels of radius under which a limb is a stroke and has no stitches."""
STITCHED = 6.0
"""Pixels of radius from which stitches are seen."""
LEAST_OUTLINE = 0.7
FURTHER = 0.28
"""How much darker the furthest limbs are than the nearest."""
LEVELS = 9
"""In how many steps limbs get darker."""
FARTHEST = 1e6
"""Pixels beyond which nothing is drawn."""
OUTLINE = theme.with_alpha(theme.NIGHT, 225)
Tint = Callable[[int, QColor], QColor]


class Piece(NamedTuple):
    """Something that is drawn among limbs: how far behind the middle it is, and drawing it."""

    depth: float
    draw: Callable[[QPainter], None]


def draw_limbs(
    painter: QPainter, limbs: Limbs, pose: WorldPose, camera: Camera, time: int = 0,
    flipped_about: float | None = None, tint: Tint | None = None, outline: float = 1.6,
    between: Sequence[Piece] = (),
) -> None:
    """The limbs of a pose. `flipped_about` mirrors what is seen about that x; `tint` gives the
    colour of a limb, whose number and colour it is told. What is `between` is drawn among them, by
    its depth."""
    if not len(limbs.bones):
        return
    first, last = limbs.placed(pose, time)
    one, other = camera.seen(first), camera.seen(last)
    depths = (one.depths + other.depths) / 2
    low, high = float(depths.min()), float(depths.max())
    starts, ends = one.places, other.places
    if flipped_about is not None:
        starts, ends = _flipped(starts, flipped_about), _flipped(ends, flipped_about)
    # As plain numbers, since one by one those of arrays are slow.
    tubes = np.column_stack([starts, limbs.radii[:, 0] * one.scales,
                             ends, limbs.radii[:, 1] * other.scales])
    seen = np.abs(tubes).max(axis=1) < FARTHEST
    levels = np.round((depths - low) / max(high - low, 1e-6) * (LEVELS - 1)).astype(int).tolist()
    rows, wools = tubes.tolist(), _wools(limbs)
    waiting = sorted(between, key=lambda piece: piece.depth)
    for number in np.argsort(-depths, kind="stable").tolist():
        while waiting and waiting[-1].depth >= depths[number]:
            waiting.pop().draw(painter)
        if not seen[number]:
            continue
        color = wools[number][levels[number]]
        if tint is not None:
            color = tint(number, color)
        _draw_tube(painter, rows[number], color, outline)
    while waiting:
        waiting.pop().draw(painter)


_last: list[tuple[Limbs, int, list[list[QColor]]]] = []
"""The colours of the limbs that were drawn last, by what the desk wears: by limb, then by how far
off it is."""


def _wools(limbs: Limbs) -> list[list[QColor]]:
    for known, edition, wools in _last:
        if known is limbs and edition == theme.edition():
            return wools
    made = [[theme.tint(color, 1 - round(FURTHER * level / (LEVELS - 1), 3), theme.NIGHT)
             for level in range(LEVELS)] for color in colors_of(limbs)]
    _last[:] = [(limbs, theme.edition(), made), *_last[:3]]
    return made


def colors_of(limbs: Limbs) -> Sequence[QColor]:
    """The colours of limbs; those without one are of wool."""
    return [QColor.fromRgbF(*[max(0.0, min(1.0, as_seen(part))) for part in color])
            if color is not None else theme.INDIGO for color in limbs.colors]


def as_seen(part: float) -> float:
    """A share of light, as files of bones count it, as screens do."""
    return 12.92 * part if part <= 0.0031308 else float(1.055 * part ** (1 / 2.4) - 0.055)


def _flipped(places: Floats, about: float) -> Floats:
    return np.stack([2 * about - places[:, 0], places[:, 1]], axis=1)


def _draw_tube(
    painter: QPainter, tube: Sequence[float], color: QColor, outline: float
) -> None:
    x0, y0, r0, x1, y1, r1 = tube
    thick = r0 if r0 > r1 else r1
    if thick < SMALL:
        # Few widths, as pens are kept.
        painter.setPen(theme.pen(color, max(1.0, int(5 * (r0 + r1)) / 5)))
        painter.drawLine(QLineF(x0, y0, x1, y1))
        return
    path = tube_path(x0, y0, r0, x1, y1, r1)
    painter.setPen(theme.pen(OUTLINE, int(10 * max(LEAST_OUTLINE, min(outline, thick * 0.16))) / 10)
                   if outline else Qt.PenStyle.NoPen)
    painter.setBrush(color)
    painter.drawPath(path)
    if min(r0, r1) >= STITCHED:
        _draw_stitches(painter, (x0, y0, r0), (x1, y1, r1), color)


def tube_path(x0: float, y0: float, r0: float, x1: float, y1: float, r1: float) -> QPainterPath:
    """The outline of two circles with what is between them."""
    path = QPainterPath()
    far = hypot(x1 - x0, y1 - y0)
    if far <= abs(r0 - r1) + 1e-6:
        radius, x, y = (r0, x0, y0) if r0 >= r1 else (r1, x1, y1)
        path.addEllipse(QPointF(x, y), radius, radius)
        return path
    way, open = atan2(y1 - y0, x1 - x0), acos(max(-1.0, min(1.0, (r0 - r1) / far)))
    # Angles of Qt go the other way round, y being downwards.
    first, last = -degrees(way + open), -degrees(way - open)
    path.arcMoveTo(QRectF(x0 - r0, y0 - r0, 2 * r0, 2 * r0), first)
    path.arcTo(QRectF(x0 - r0, y0 - r0, 2 * r0, 2 * r0), first, -(360 - 2 * degrees(open)))
    path.arcTo(QRectF(x1 - r1, y1 - r1, 2 * r1, 2 * r1), last, -2 * degrees(open))
    path.closeSubpath()
    return path


def _draw_stitches(
    painter: QPainter, start: tuple[float, float, float], end: tuple[float, float, float],
    color: QColor,
) -> None:
    """Chevrons along a tube, as knitting has them."""
    (x0, y0, r0), (x1, y1, r1) = start, end
    far = hypot(x1 - x0, y1 - y0)
    step = max(5.0, min(r0, r1) * 0.62)
    count = int(far // step)
    if count < 1:
        return
    way = atan2(y1 - y0, x1 - x0)
    along, across = (cos(way), sin(way)), (cos(way + pi / 2), sin(way + pi / 2))
    wide = round(max(0.9, step * 0.2), 1)
    painter.setPen(theme.pen(theme.tint(color, 0.62, theme.MOONLIGHT), wide))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    for number in range(count):
        at = (number + 0.5) * far / count
        share = at / far
        half, deep = (r0 + (r1 - r0) * share) * 0.42, step * 0.34
        x, y = x0 + along[0] * at, y0 + along[1] * at
        painter.drawPolyline(QPolygonF([
            QPointF(x - along[0] * deep + across[0] * half,
                    y - along[1] * deep + across[1] * half),
            QPointF(x + along[0] * deep, y + along[1] * deep),
            QPointF(x - along[0] * deep - across[0] * half,
                    y - along[1] * deep - across[1] * half)]))
