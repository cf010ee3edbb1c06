"""Draws the booth's world: its ground, tiles, props and zones. World pixels, y downwards."""

from __future__ import annotations

from collections.abc import Callable
from math import floor

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPixmap

from ...core.booth.tiles.tile_art import TileArt
from ...core.model.world import AIR, BRICK, LADDER, PLANK, TILE, WATER, World
from ..widgets import theme
from ..widgets.stills import Stills
from .far_tiles import FAR, colors_of, draw_far
from .tile_drawing import Places, TileDrawing, draw_background
from .usual_tiles import BRICKS, FLAGS, PLANK_WOOD, POOL, RUNGS, UsualTiles

FROM_FAR = {AIR: QColor(0, 0, 0, 0), BRICK: BRICKS[0], PLANK: PLANK_WOOD, LADDER: RUNGS,
            WATER: theme.with_alpha(POOL, 215)}
"""What tiles are from so far that none can be told from another."""


KNOTS = 32.0
"""Pixels of the world from knot to knot, where there is no booth."""


def with_dusk(alpha: int) -> QColor:
    """The colour of writing on the sky, seen through."""
    return theme.with_alpha(theme.DUSK, alpha)


def draw_bare_ground(painter: QPainter, seen: QRectF, y: float) -> None:
    """Where nothing is known of the world: a thread the puppet stands on, with a knot every few
    paces, by which one sees it move. World pixels."""
    painter.setPen(theme.pen(with_dusk(90), 0.8, (4, 3)))
    painter.drawLine(QPointF(seen.left(), y), QPointF(seen.right(), y))
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(with_dusk(120))
    first = floor(seen.left() / KNOTS) * KNOTS
    for number in range(int(seen.width() / KNOTS) + 2):
        painter.drawEllipse(QPointF(first + number * KNOTS, y), 1.3, 1.3)


def draw_tiles(
    painter: QPainter, world: World, seen: QRectF, tick: int,
    picture: Callable[[str], QPixmap | None], stills: Stills | None = None,
) -> None:
    """The tiles in `seen`, a rectangle of the world: as its own pictures have them, and else as we
    draw them. `picture` gives those that lie beside the booth. What rests is kept in `stills`,
    where a view has any."""
    background = picture(world.background)
    if background is not None:
        draw_background(painter, world, background, seen)
    sheet = picture(world.tiles)
    art = _tile_art(world) if sheet is not None else None
    looks = frozenset(art.looks) if art is not None else frozenset()
    size = world.tile_size
    if painter.worldTransform().m11() * size < FAR:
        if world.from_above and background is None:
            painter.fillRect(seen, FLAGS)
        draw_far(painter, world, seen, FROM_FAR if art is None or sheet is None
                 else colors_of(art, sheet, FROM_FAR))
        return
    left, right = floor(seen.left() / size) - 1, floor(seen.right() / size) + 1
    top = max(0, floor(seen.top() / size))
    bottom = min(len(world.rows) + 14, floor(seen.bottom() / size) + 1)
    places = Places(left, right, top, bottom)
    usual = UsualTiles(world, places, looks, stills)
    if world.from_above and AIR not in looks and background is None:
        painter.fillRect(seen, FLAGS)
        usual.draw_flags(painter)
    drawing = TileDrawing(art, sheet) if art is not None and sheet is not None else None
    if drawing is not None and AIR in looks:
        drawing.draw(painter, places, drawing.art.behind)
    usual.draw(painter)
    if drawing is not None:
        drawing.draw(painter, places, drawing.art.tile, sloped=True)
    wet = any(world.wet) or any([WATER in row for row in world.rows])
    if wet and WATER not in looks:
        usual.draw_water(painter, tick)
    elif wet and drawing is not None:
        drawing.draw(painter, places, drawing.art.water)
    if drawing is not None and drawing.art.laid:
        drawing.draw(painter, places, drawing.art.over)
    painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)


_LAST: list[TileArt] = []
"""Of the booth that was drawn last: it is asked for with every picture."""


def _tile_art(world: World) -> TileArt:
    if not _LAST or _LAST[0].world is not world:
        _LAST[:] = [TileArt(world)]
    return _LAST[0]


def draw_world_props(
    painter: QPainter, world: World, before: bool, picture: Callable[[str], QPixmap | None]
) -> None:
    """What there is to look at, behind the puppet or before it."""
    for prop in world.props:
        if prop.before == before:
            drawn = picture(prop.picture)
            if drawn is not None:
                painter.drawPixmap(QPointF(prop.x - drawn.width() / 2, prop.y - drawn.height()),
                                   drawn)
            else:
                painter.save()
                painter.translate(prop.x, prop.y)
                painter.scale(world.tile_size / TILE, world.tile_size / TILE)
                painter.setPen(theme.pen(theme.CLAY, 1.2))
                painter.setBrush(QColor("#A9753F"))
                painter.drawRect(QRectF(-8, -14, 16, 14))
                painter.drawLine(QPointF(-8, -14), QPointF(8, 0))
                painter.restore()


def draw_zones(painter: QPainter, world: World, named: bool = True) -> None:
    """Named areas, dashed."""
    painter.save()
    painter.scale(world.tile_size / TILE, world.tile_size / TILE)
    for zone in world.zones:
        rect = QRectF(zone.x * TILE, zone.y * TILE, zone.width * TILE, zone.height * TILE)
        painter.setBrush(theme.with_alpha(theme.PLUM, 26))
        painter.setPen(theme.pen(QColor("#B79BC0"), 1, (3, 3)))
        painter.drawRect(rect)
        if named:
            theme.draw_text(painter, rect.x() + 3, rect.y() + 9, f"zone: {zone.name}",
                            theme.font(8, strong=True),
                            QColor("#E4D3E8"), rect.width() - 5)
    painter.restore()
