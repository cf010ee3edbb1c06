"""Draws the booth's world: sky, houses, tiles, dummies. World pixels, y downwards."""

from __future__ import annotations

import random
from collections.abc import Callable
from functools import lru_cache
from math import exp, floor, sin
from pathlib import Path

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QLinearGradient, QPainter, QPainterPath, QPixmap, QPolygonF

from ...core.booth.booth import BoothState
from ...core.booth.hitting.dummies import DummyState, arm_of
from ...core.booth.tiles.terrain import SHARES, slope_of
from ...core.booth.tiles.tile_art import TileArt
from ...core.model.world import AIR, BRICK, LADDER, PLANK, SLOPES, TILE, WATER, Dummy, World
from ..pictures.art import Art
from ..widgets import theme
from ..widgets.painting import painting
from .far_tiles import FAR, colors_of, draw_far
from .tile_drawing import Places, TileDrawing, draw_background

PITCH = 62
"""From one house to the next, in pixels of the screen."""
STRETCH = PITCH * 8
"""Houses are drawn in stretches of this many pixels."""
SKY_TOP, SKY_LOW = theme.NIGHT, QColor("#3A3A63")
HOUSE, HOUSE_FAR, LIT = QColor("#20253F"), QColor("#272C4B"), QColor("#8A6F3C")
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


def draw_sky(painter: QPainter, rect: QRectF, camera_x: float) -> None:
    """Night, stars, and two rows of houses that lag behind the camera. Screen pixels."""
    painter.drawPixmap(rect.topLeft(), _night(int(rect.width()), int(rect.height())))
    for lag, row in ((0.12, 0), (0.28, 1)):
        shift = camera_x * lag
        stretch = floor(shift / STRETCH)
        houses = _houses(stretch, int(rect.width()), int(rect.height()), row)
        painter.drawPixmap(QPointF(rect.x() + stretch * STRETCH - shift, rect.y()), houses)


@lru_cache(maxsize=16)
def _houses(stretch: int, width: int, height: int, row: int) -> QPixmap:
    """The houses of one row from a stretch of them on, drawn once: the nearer row is lower and
    darker."""
    top, color, seed = ((0.30, HOUSE_FAR, 11), (0.42, HOUSE, 5))[row]
    pixmap = QPixmap(width + STRETCH, height)
    pixmap.fill(Qt.GlobalColor.transparent)
    with painting(pixmap) as painter:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(Qt.PenStyle.NoPen)
        first = stretch * STRETCH // PITCH
        for number in range(first - 1, first + (width + STRETCH) // PITCH + 2):
            dice = random.Random(number * 31 + seed)
            x = float(number * PITCH - stretch * STRETCH)
            wide = 40 + dice.random() * 26
            y = height * (top + dice.random() * 0.2)
            painter.setBrush(color)
            painter.drawRect(QRectF(x, y, wide, height - y))
            painter.drawPolygon(QPolygonF([
                QPointF(x - 5, y), QPointF(x + wide / 2, y - 24), QPointF(x + wide + 5, y)]))
            painter.drawRect(QRectF(x + wide * 0.7, y - 26, 6, 18))
            painter.setBrush(theme.with_alpha(LIT, 150 if row else 80))
            for column in range(2):
                if dice.random() < 0.55:
                    painter.drawRect(QRectF(x + 9 + column * 20, y + 14 + dice.randrange(3) * 16, 8,
                                            10))
    return pixmap


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


@lru_cache(maxsize=16)
def _night(width: int, height: int) -> QPixmap:
    """The sky and its stars, drawn once for a size of the view."""
    pixmap = QPixmap(width, height)
    with painting(pixmap) as painter:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        sky = QLinearGradient(0, 0, 0, height)
        sky.setColorAt(0, SKY_TOP)
        sky.setColorAt(1, SKY_LOW)
        painter.fillRect(pixmap.rect(), sky)
        dice = random.Random(7)
        painter.setPen(Qt.PenStyle.NoPen)
        for _ in range(46):
            at = QPointF(dice.random() * width, dice.random() * height * 0.6)
            painter.setBrush(QColor(255, 240, 210, dice.randrange(90, 210)))
            painter.drawEllipse(at, 0.9, 0.9)
    return pixmap


class Dummies:
    """Draws the dummies with the pictures that lie beside the booth's file."""

    def __init__(self, folder: Path, art: Art) -> None:
        self.folder, self.art = folder, art
        self._lit: dict[tuple[str, int], QPixmap] = {}

    def picture(self, name: str) -> QPixmap | None:
        """A picture that lies beside the booth, or None: of the puppet's folder, then of the
        booths that ship."""
        if not name:
            return None
        beside = self.art.folder / name
        return self.art.picture(str(beside if beside.is_file() else self.folder / name))

    def _flash(self, name: str, picture: QPixmap) -> QPixmap:
        """The picture all in light, laid over it for the instant of a blow."""
        key = (name, picture.cacheKey())
        if key not in self._lit:
            light = QPixmap(picture)
            with painting(light) as painter:
                painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_SourceAtop)
                painter.fillRect(light.rect(), QColor(255, 240, 214, 215))
            self._lit[key] = light
        return self._lit[key]

    def draw(
        self, painter: QPainter, world: World, booth: BoothState | None, tick: int, rate: int
    ) -> None:
        """Every dummy; one that was hit sways away from the blow and back, less each time."""
        for number, dummy in enumerate(world.dummies):
            sway, bright, moved = (
                0.0,
                0.0,
                booth.dummies[number].moved if booth is not None else 0.0,
            )
            if booth is not None and booth.dummies[number].last >= 0:
                age = (tick - booth.dummies[number].last) / rate
                sway = wobble(age) * booth.dummies[number].side
                bright = max(0.0, 1 - age / 0.12)
            painter.save()
            painter.translate(dummy.x + moved, dummy.y)
            painter.rotate(sway)
            picture = self.picture(dummy.picture)
            if dummy.does == "replays" and dummy.long:
                # It is the puppet once more, and drawn as that.
                pass
            elif picture is not None:
                scale = dummy.height / (picture.height() - 8)
                wide, high = picture.width() * scale, picture.height() * scale
                area = QRectF(-wide / 2, -high + 4 * scale, wide, high)
                painter.drawPixmap(area, picture, QRectF(picture.rect()))
                if bright > 0:
                    painter.setOpacity(bright)
                    painter.drawPixmap(area, self._flash(dummy.picture, picture),
                                       QRectF(picture.rect()))
            else:
                painter.setPen(theme.pen(theme.CLAY, 2))
                painter.drawLine(QPointF(0, 0), QPointF(0, -dummy.height * 0.4))
                painter.setBrush(theme.WELD)
                painter.drawEllipse(QRectF(-dummy.width / 2, -dummy.height, dummy.width,
                                           dummy.height * 0.66))
            painter.restore()
            if booth is not None:
                self._draw_deeds(painter, dummy, booth.dummies[number], rate)
            state = booth.dummies[number] if booth is not None else None
            long = (
                dummy.ticks("reels_guarding" if state.guarded else "reels", rate)
                if state is not None
                else 0
            )
            if state is not None and state.last >= 0 and long:
                left = 1 - (tick - state.last) / long
                if left > 0:
                    self._draw_reeling(painter,
                                       QPointF(dummy.x + moved, dummy.y - dummy.height - 8), left)

    def _draw_deeds(self, painter: QPainter, dummy: Dummy, state: DummyState, rate: int) -> None:
        """Its arm or its guard, on the side it faces, and its health as a number over its head."""
        x, side = dummy.x + state.moved, state.heading
        arm = arm_of(dummy, state, rate)
        if arm is not None and (arm.raised > 0 or arm.reaches):
            shoulder = QPointF(x + side * dummy.width / 3, dummy.y - dummy.height * 0.66)
            raised = QPointF(-side * 4, -dummy.height * 0.4) * arm.raised
            reach = QPointF(side * dummy.reach, 4) if arm.reaches else raised
            painter.setPen(theme.pen(QColor("#E4626A") if arm.reaches else theme.WELD, 3))
            painter.drawLine(shoulder, shoulder + reach)
        if dummy.does == "guards":
            painter.setPen(theme.pen(QColor("#9FB4E8"), 2.4))
            at = x + side * (dummy.width / 2 + 3)
            painter.drawLine(QPointF(at, dummy.y - dummy.height * 0.85),
                             QPointF(at, dummy.y - dummy.height * 0.25))
        if dummy.health:
            text, of = str(state.health), theme.font(9, bold=True)
            theme.draw_text(painter, x - theme.text_width(text, of) / 2,
                            dummy.y - dummy.height - 12, text, of,
                            theme.MOONLIGHT if state.health else QColor("#E4626A"))

    def _draw_reeling(self, painter: QPainter, at: QPointF, left: float) -> None:
        """How long it reels still, as a bar over its head that runs out."""
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.with_alpha(theme.INK, 150))
        painter.drawRoundedRect(QRectF(at.x() - 11, at.y() - 1.5, 22, 3), 1.5, 1.5)
        painter.setBrush(theme.MOONLIGHT)
        painter.drawRoundedRect(QRectF(at.x() - 11, at.y() - 1.5, 22 * left, 3), 1.5, 1.5)


def wobble(age: float) -> float:
    """The sway in degrees of a dummy hit `age` seconds ago: a damped swing that begins away from
    the blow."""
    return 24 * exp(-3.2 * age) * sin(13 * age + 0.5) if 0 <= age < 2.5 else 0.0
