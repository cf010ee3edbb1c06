"""Draws a booth's own pictures: what lies behind all, tiles, water, and cells laid over places.
World pixels, y downwards."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPainterPath, QPixmap, QPolygonF

from ...core.booth.tiles.terrain import SHARES, slope_of
from ...core.booth.tiles.tile_art import Pieces, TileArt
from ...core.model.world import AIR, World


class Places:
    """Columns and rows of tiles, both ends included, also of some past the world's edges: there may
    be millions of them, and they are gone through more than once."""

    def __init__(self, left: int, right: int, top: int, bottom: int) -> None:
        self.columns, self.rows = range(left, right + 1), range(top, bottom + 1)

    def __iter__(self) -> Iterator[tuple[int, int]]:
        return ((column, row) for row in self.rows for column in self.columns)



def draw_background(painter: QPainter, world: World, picture: QPixmap, seen: QRectF) -> None:
    """A picture behind all: its lower edge at the world's, again and again to both sides; seen from
    above, in all directions from the world's corner."""
    wide, high = picture.width(), picture.height()
    area = QRectF(seen)
    if world.seen == "from the side":
        area = area & QRectF(seen.left(), len(world.rows) * world.tile_size - high, seen.width(),
                             high)
    if area.isEmpty():
        return
    top = len(world.rows) * world.tile_size - high if world.seen == "from the side" else 0.0
    painter.drawTiledPixmap(area, picture, QPointF(area.left() % wide, (area.top() - top) % high))


class TileDrawing:
    """Draws from one picture of tiles. What its cells lack, since the picture is smaller, is left
    out."""

    def __init__(self, art: TileArt, picture: QPixmap) -> None:
        self.art, self.picture = art, picture

    def draw(
        self, painter: QPainter, places: Places, pieces: Callable[[int, int], Pieces],
        sloped: bool = False,
    ) -> None:
        """One sort of what is at some places; `sloped` cuts slopes that look as brick to their
        shape."""
        size = self.art.size
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, False)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
        for column, row in places:
            found = pieces(column, row)
            if not found:
                continue
            kind = self.art.kind(column, row) if sloped else AIR
            if kind in SHARES and kind not in self.art.looks:
                painter.save()
                painter.setClipPath(_slope(kind, column, row, size),
                                    Qt.ClipOperation.IntersectClip)
                self._put(painter, found, column * size, row * size)
                painter.restore()
            else:
                self._put(painter, found, column * size, row * size)
        painter.restore()

    def _put(self, painter: QPainter, pieces: Pieces, x: int, y: int) -> None:
        for piece in pieces:
            painter.drawPixmap(x + piece.across, y + piece.down, self.picture, piece.x, piece.y,
                               piece.width, piece.height)


def _slope(kind: str, column: int, row: int, size: int) -> QPainterPath:
    slope, x, y = slope_of(kind, size), column * size, row * size
    path = QPainterPath()
    path.addPolygon(QPolygonF([
        QPointF(x, y + size - slope.left), QPointF(x + size, y + size - slope.right),
        QPointF(x + size, y + size), QPointF(x, y + size)]))
    path.closeSubpath()
    return path
