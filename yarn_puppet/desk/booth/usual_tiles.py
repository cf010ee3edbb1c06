"""Draws tiles that have no look of the booth's own. World pixels, y downwards."""

from __future__ import annotations

from collections.abc import Callable
from functools import lru_cache
from math import sin
from typing import NamedTuple

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPixmap, QPolygonF

from ...core.booth.tiles.terrain import SHARES, slope_of
from ...core.model.world import AIR, BRICK, LADDER, PLANK, SLOPES, TILE, World
from ..widgets import theme
from ..widgets.painting import painting
from ..widgets.stills import Stills
from .tile_drawing import Places

BRICKS = (QColor("#6B4A45"), QColor("#75524B"), QColor("#624340"), QColor("#6F4E49"))
MORTAR, LEDGE, POOL = QColor("#3A2B33"), QColor("#A98A78"), QColor("#2D4C70")
PLANK_WOOD, RUNGS, FLAGS = QColor("#8A5A32"), QColor("#C79A4B"), QColor("#39424A")


class UsualTiles(NamedTuple):
    """The tiles at some places, less the kinds in `looks`: drawn as if they had the usual size, and
    scaled. What rests is kept in `stills`, where a view has any: who walks by sees the same tiles
    for many pictures, and an edit of the puppet changes none of them."""

    world: World
    places: Places
    looks: frozenset[str]
    stills: Stills | None

    def draw_flags(self, painter: QPainter) -> None:
        """The ground, seen from above: stone flags, two a tile, laid as they came."""
        self._rest(painter, "flags", self._paint_flags)

    def draw(self, painter: QPainter) -> None:
        """All but the water."""
        self._rest(painter, "tiles", self._paint)

    def draw_water(self, painter: QPainter, tick: int) -> None:
        """Water, which moves."""
        world = self.world
        last, width = len(world.rows) - 1, world.columns
        painter.save()
        self._scale(painter)
        for column, row in self.places:
            if 0 <= column < width and world.is_wet(column, min(row, last)):
                _draw_water(painter, world, column, row, tick)
        painter.restore()

    def _scale(self, painter: QPainter) -> None:
        scale = self.world.tile_size / TILE
        painter.scale(scale, scale)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, False)

    def _rest(
        self, painter: QPainter, name: str, paint: Callable[[QPainter], None]
    ) -> None:
        placed = painter.worldTransform()

        def drawn(still: QPainter) -> None:
            still.setWorldTransform(placed, True)
            self._scale(still)
            paint(still)

        painter.save()
        painter.resetTransform()
        if self.stills is None:
            drawn(painter)
        else:
            columns, rows, size = self.places.columns, self.places.rows, self.world.tile_size
            area = QRectF(columns.start * size, rows.start * size, len(columns) * size,
                          len(rows) * size)
            self.stills.draw(painter, name, placed.mapRect(area), (self.world.rows,),
                             (columns, rows, size, self.looks, placed.m11()), drawn)
        painter.restore()

    def _paint_flags(self, painter: QPainter) -> None:
        for column, row in self.places:
            shade = FLAGS.lighter(100 + (column * 7 + row * 5 + (column & row)) % 4 * 5)
            cut = 6 + (column * 3 + row) % 5
            painter.fillRect(QRectF(column * TILE, row * TILE, cut - 0.6, TILE - 0.6), shade)
            painter.fillRect(
                QRectF(column * TILE + cut, row * TILE, TILE - cut - 0.6, TILE - 0.6),
                shade.lighter(104))

    def _paint(self, painter: QPainter) -> None:
        world, looks = self.world, self.looks
        last, width = len(world.rows) - 1, world.columns
        bricks = BRICK not in looks
        for column, row in self.places:
            within = 0 <= column < width
            kind = world.tile(column, min(row, last)) if within else BRICK
            if row > last and kind in SLOPES:
                # What a slope stands on goes on below the world.
                kind = BRICK
            if kind in looks or (not bricks and kind in (BRICK, *SLOPES)):
                continue
            if kind != AIR and (row <= last or kind == BRICK):
                _draw_tile(painter, world, kind, column, row, within and row <= last)


def _draw_tile(
    painter: QPainter, world: World, kind: str, column: int, row: int, within: bool
) -> None:
    x, y = column * TILE, row * TILE
    if kind == BRICK:
        bricks = _bricks((column * 7 + row * 3) % len(BRICKS), row % 2)
        painter.drawPixmap(QRectF(x, y, TILE, TILE), bricks, QRectF(bricks.rect()))
        if within and world.tile(column, row - 1) not in (BRICK, *SLOPES):
            painter.fillRect(QRectF(x, y, TILE, 2), LEDGE)
    elif kind == PLANK:
        painter.fillRect(QRectF(x, y, TILE, 4), PLANK_WOOD)
        painter.fillRect(QRectF(x, y, TILE, 1), LEDGE)
        painter.fillRect(QRectF(x + (column % 2) * 8 + 3, y + 1.5, 1, 2), MORTAR)
    elif kind == LADDER:
        painter.fillRect(QRectF(x + 2, y, 1.6, TILE), RUNGS)
        painter.fillRect(QRectF(x + 12.4, y, 1.6, TILE), RUNGS)
        for rung in (2.5, 7.8, 13.1):
            painter.fillRect(QRectF(x + 2, y + rung, 12, 1.3), RUNGS)
    elif kind in SHARES:
        slope = slope_of(kind, TILE)
        corner = [QPointF(x, y + TILE - slope.left), QPointF(x + TILE, y + TILE - slope.right),
                  QPointF(x + TILE, y + TILE), QPointF(x, y + TILE)]
        path = QPainterPath()
        path.addPolygon(QPolygonF(corner))
        painter.save()
        painter.setClipPath(path, Qt.ClipOperation.IntersectClip)
        bricks = _bricks((column * 7 + row * 3) % len(BRICKS), row % 2)
        painter.drawPixmap(QRectF(x, y, TILE, TILE), bricks, QRectF(bricks.rect()))
        painter.restore()
        painter.setPen(theme.pen(LEDGE, 2))
        painter.drawLine(corner[0] + QPointF(0, 1), corner[1] + QPointF(0, 1))


def _draw_water(painter: QPainter, world: World, column: int, row: int, tick: int) -> None:
    x, y = column * TILE, row * TILE
    painter.fillRect(QRectF(x, y, TILE, TILE), theme.with_alpha(POOL, 215))
    if not world.is_wet(column, row - 1) and row < len(world.rows):
        glint = 2 + 1.2 * sin(tick / 14 + column)
        painter.fillRect(QRectF(x, y + glint, TILE, 1), QColor(160, 196, 220, 150))


@lru_cache(maxsize=16)
def _bricks(shade: int, odd: int) -> QPixmap:
    """One tile of bricks, drawn once: two courses, the upper or the lower of them staggered."""
    fine = 4
    pixmap = QPixmap(TILE * fine, TILE * fine)
    pixmap.fill(MORTAR)
    with painting(pixmap) as painter:
        painter.scale(fine, fine)
        for course in (0, 1):
            shift = 0 if (odd + course) % 2 else -8
            for part in range(2):
                start, end = max(0, shift + part * 16), min(TILE, shift + part * 16 + 15)
                if end > start:
                    color = BRICKS[(shade + course * 5 + part) % len(BRICKS)]
                    painter.fillRect(QRectF(start, course * 8, end - start, 7), color)
    return pixmap
