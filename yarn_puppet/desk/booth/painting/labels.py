"""What is written over the painted booth, and where its ledges are."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFontMetricsF, QPainter

from ....core.booth.modes.ledge import is_corner, is_gutter
from ....core.booth.tiles.terrain import Terrain
from ....core.model.world import BRICK, World
from ...widgets import theme

LABEL = QColor(24, 26, 44, 215)


class Labels:
    """Puts lines of words on dark plates over points, inside the view and clear of each other."""

    def __init__(self, painter: QPainter, room: QRectF) -> None:
        self.painter, self.room = painter, room
        self.font = theme.font(11.5, strong=True)
        self.line = QFontMetricsF(self.font).height() - 1
        self.taken: list[QRectF] = []

    def put(self, at: QPointF, lines: list[str], color: QColor) -> None:
        """Lines over a point; left out where the point is not in the view."""
        if not self.room.adjusted(-40, -40, 40, 40).contains(at):
            return
        wide = max(theme.text_width(line, self.font) for line in lines) + 12
        high = 5 + len(lines) * self.line
        x = max(self.room.left() + 3, min(self.room.right() - wide - 3, at.x() - wide / 2))
        y = max(self.room.top() + 3, min(self.room.bottom() - high - 3, at.y() - high - 5))
        plates = [QRectF(x, y - by * (high + 2), wide, high) for by in (0, 1, -1, 2, -2, 3, -3)]
        inside = [each for each in plates if self.room.contains(each)] or plates[:1]
        plate = next((each for each in inside
                      if not any(each.intersects(other) for other in self.taken)), inside[0])
        self.taken.append(plate)
        self.painter.setPen(Qt.PenStyle.NoPen)
        self.painter.setBrush(LABEL)
        self.painter.drawRoundedRect(plate, 4, 4)
        for number, line in enumerate(lines):
            theme.draw_text(self.painter, x + 6, plate.y() + 13 + number * self.line, line,
                            self.font, color)


def ledges_of(world: World, terrain: Terrain, seen: QRectF) -> list[tuple[float, float, int, bool]]:
    """The ledges in a part of the world: (x, y, which way the tile lies, 0 for a plank, whether it
    is barred)."""
    found = []
    for row in range(max(0, int(seen.top() // world.tile_size)),
                     min(len(world.rows), int(seen.bottom() // world.tile_size) + 1)):
        for column in range(max(0, int(seen.left() // world.tile_size)),
                            min(world.columns, int(seen.right() // world.tile_size) + 1)):
            if world.tile(column, row) == BRICK:
                for side in (1, -1):
                    barred = (column, row, -side) in terrain.barred
                    if barred or is_corner(terrain, column, row, side):
                        x = column * world.tile_size if side > 0 else (column + 1) * world.tile_size
                        found.append((float(x), float(row * world.tile_size), side, barred))
            elif (column, row, 0) in terrain.barred or is_gutter(terrain, column, row):
                found.append(((column + 0.5) * world.tile_size, float(row * world.tile_size), 0,
                              (column, row, 0) in terrain.barred))
    return found
