"""Draws the booth's world: its ground, tiles, props and zones. World pixels, y downwards."""

from __future__ import annotations

from collections.abc import Callable
from functools import lru_cache
from math import floor, sin

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPixmap, QPolygonF

from ...core.booth.tiles.terrain import SHARES, slope_of
from ...core.booth.tiles.tile_art import TileArt
from ...core.model.world import AIR, BRICK, LADDER, PLANK, SLOPES, TILE, WATER, World
from ..widgets import theme
from ..widgets.painting import painting
from .far_tiles import FAR, colors_of, draw_far
from .tile_drawing import Places, TileDrawing, draw_background

BRICKS = (QColor("#6B4A45"), QColor("#75524B"), QColor("#624340"), QColor("#6F4E49"))
MORTAR, LEDGE, POOL = QColor("#3A2B33"), QColor("#A98A78"), QColor("#2D4C70")
PLANK_WOOD, RUNGS, FLAGS = QColor("#8A5A32"), QColor("#C79A4B"), QColor("#39424A")
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
    picture: Callable[[str], QPixmap | None],
) -> None:
    """The tiles in `seen`, a rectangle of the world: as its own pictures have them, and else as we
    draw them. `picture` gives those that lie beside the booth."""
    background = picture(world.background)
    if background is not None:
        draw_background(painter, world, background, seen)
    sheet = picture(world.tiles)
    art = _tile_art(world) if sheet is not None else None
    looks = frozenset(art.looks) if art is not None else frozenset()
    size = world.tile_size
    if painter.worldTransform().m11() * size < FAR:
        if world.seen == "from above" and background is None:
            painter.fillRect(seen, FLAGS)
        draw_far(painter, world, seen, FROM_FAR if art is None or sheet is None
                 else colors_of(art, sheet, FROM_FAR))
        return
    scaled = size / TILE
    usual = QRectF(seen.x() / scaled, seen.y() / scaled, seen.width() / scaled,
                   seen.height() / scaled)
    left, right = floor(seen.left() / size) - 1, floor(seen.right() / size) + 1
    top = max(0, floor(seen.top() / size))
    bottom = min(len(world.rows) + 14, floor(seen.bottom() / size) + 1)
    places = Places(left, right, top, bottom)

    def ours(draw: Callable[[], None]) -> None:
        painter.save()
        painter.scale(scaled, scaled)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, False)
        draw()
        painter.restore()

    if world.seen == "from above" and AIR not in looks and background is None:
        ours(lambda: _draw_flags(painter, usual, places))
    drawing = TileDrawing(art, sheet) if art is not None and sheet is not None else None
    if drawing is not None and AIR in looks:
        drawing.draw(painter, places, drawing.art.behind)
    ours(lambda: _draw_usual(painter, world, places, looks))
    if drawing is not None:
        drawing.draw(painter, places, drawing.art.tile, sloped=True)
    wet = any(world.wet) or any([WATER in row for row in world.rows])
    if wet and WATER not in looks:
        ours(lambda: _draw_wet(painter, world, places, tick))
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


def _draw_flags(painter: QPainter, seen: QRectF, places: Places) -> None:
    """The ground, seen from above: stone flags, two a tile, laid as they came."""
    painter.fillRect(seen, FLAGS)
    for column, row in places:
        shade = FLAGS.lighter(100 + (column * 7 + row * 5 + (column & row)) % 4 * 5)
        cut = 6 + (column * 3 + row) % 5
        painter.fillRect(QRectF(column * TILE, row * TILE, cut - 0.6, TILE - 0.6), shade)
        painter.fillRect(QRectF(column * TILE + cut, row * TILE, TILE - cut - 0.6, TILE - 0.6),
                         shade.lighter(104))


def _draw_usual(
    painter: QPainter, world: World, places: Places, looks: frozenset[str]
) -> None:
    """The tiles that have no look of the booth's own, as if they had the usual size."""
    last, width = len(world.rows) - 1, world.columns
    bricks = BRICK not in looks
    for column, row in places:
        within = 0 <= column < width
        kind = world.tile(column, min(row, last)) if within else BRICK
        if row > last and kind in SLOPES:
            # What a slope stands on goes on below the world.
            kind = BRICK
        if kind in looks or (not bricks and kind in (BRICK, *SLOPES)):
            continue
        if kind != AIR and (row <= last or kind == BRICK):
            _draw_tile(painter, world, kind, column, row, within and row <= last)


def _draw_wet(painter: QPainter, world: World, places: Places, tick: int) -> None:
    last, width = len(world.rows) - 1, world.columns
    for column, row in places:
        if 0 <= column < width and world.is_wet(column, min(row, last)):
            _draw_water(painter, world, column, row, tick)


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
