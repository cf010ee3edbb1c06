"""Tiles that are too small to be told apart: a pixel each, as a map of the world."""

from __future__ import annotations

from itertools import zip_longest

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QColor, QImage, QPainter, QPixmap

from ...core.booth.tiles.tile_art import TileArt
from ...core.model.world import AIR, BRICK, LADDER, PLANK, SLOPES, WATER, World

FAR = 3.0
"""Pixels of the screen that a tile is wide, under which its map is drawn in its place."""
LETTERS = AIR + BRICK + PLANK + LADDER + WATER + SLOPES
NUMBERS = bytes.maketrans(LETTERS.encode(), bytes(range(len(LETTERS))))


def draw_far(
    painter: QPainter, world: World, seen: QRectF, colors: dict[str, QColor]
) -> None:
    """A world from far away, in a colour for each tile; brick goes on past its ends, and under it
    what stands lowest."""
    size, columns, rows = world.tile_size, world.columns, len(world.rows)
    whole = QRectF(0, 0, columns * size, rows * size)
    picture = _map_of(world, colors)
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, False)
    painter.drawImage(whole, picture)
    under = QRectF(0, whole.bottom(), whole.width(), max(0.0, seen.bottom() - whole.bottom()))
    if under.height():
        painter.drawImage(under, picture, QRectF(0, rows - 1, columns, 1))
    brick = colors[BRICK]
    for side in (QRectF(seen.left(), seen.top(), -seen.left(), seen.height()),
                 QRectF(whole.right(), seen.top(), seen.right() - whole.right(), seen.height())):
        if side.width() > 0:
            painter.fillRect(side, brick)
    painter.restore()


def _map_of(world: World, colors: dict[str, QColor]) -> QImage:
    columns, rows = world.columns, len(world.rows)
    image = QImage(columns, rows, QImage.Format.Format_Indexed8)
    image.setColorTable([colors.get(letter, colors[BRICK]).rgba() for letter in LETTERS])
    pixels = image.bits()
    assert pixels is not None
    pixels.setsize(image.sizeInBytes())
    step = image.bytesPerLine()
    for number, (line, wet) in enumerate(zip_longest(world.rows, world.wet[:rows], fillvalue="")):
        # Past the end of its line is brick.
        made = bytearray(line.ljust(columns, BRICK).encode())
        at = wet.find(WATER)
        while at >= 0:
            if at < columns and made[at:at + 1] == AIR.encode():
                made[at:at + 1] = WATER.encode()
            at = wet.find(WATER, at + 1)
        pixels[number * step:number * step + columns] = bytes(made.translate(NUMBERS))
    return image


def colors_of(art: TileArt, sheet: QPixmap, ours: dict[str, QColor]) -> dict[str, QColor]:
    """Ours, and of tiles with a look of the booth's own what its cell comes to."""
    found = dict(ours)
    for tile in LETTERS:
        look = art.look_of(tile)
        if look is not None:
            column, row = ((look.column, look.row) if look.edges == "none"
                           else (look.column + 1, look.row + 1))
            cell = sheet.copy(column * art.size, row * art.size, art.size, art.size).toImage()
            found[tile] = cell.scaled(
                1, 1, Qt.AspectRatioMode.IgnoreAspectRatio,
                Qt.TransformationMode.SmoothTransformation).pixelColor(0, 0)
    return found
