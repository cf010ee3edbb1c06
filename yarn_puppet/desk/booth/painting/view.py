"""The whole booth, drawn to be painted on: tiles, ledges, zones, things, the puppet, its jump and
its sensors."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPixmap, QPolygonF
from PyQt6.QtWidgets import QWidget

from ....core.booth.booth_state import BoothState
from ....core.booth.meaning import Jump, jump_of
from ....core.booth.sensors import Sensor, sensors
from ....core.booth.tiles.terrain import terrain_of
from ....core.model.mover import Mover
from ....core.model.world import World
from ....core.pose.figure import figure
from ....core.takes.run import Record
from ...pictures.art import Art
from ...session.booths import Booths
from ...session.document import Document
from ...session.run.player import Player
from ...widgets import theme
from ...widgets.key_table import KeyLine
from ...widgets.painting import painting
from ...widgets.view import DrawnView
from ..bones_figure import BonesFigure
from ..dummies_drawing import Dummies
from ..far_tiles import FAR
from ..figure import draw_figure
from ..opponents_drawing import CastArt, draw_opponents
from ..scenery import draw_tiles, draw_world_props, draw_zones
from .labels import Labels, ledges_of

LEAST_GRID = 11
"""Pixels of the screen that a tile is wide from which the grid is drawn."""
SMALLEST_TILE, LARGEST_TILE = 4.0, 256.0
"""Pixels of the screen that a tile is wide at the furthest and at the closest; further where the
whole world is not seen yet."""
ZOOM = 1.25


class PaintView(DrawnView):
    """Draws the world at `scale`, its upper left corner at `corner`; pixels of the view from pixels
    of the world."""

    hovered = pyqtSignal()

    def __init__(
        self, document: Document, booths: Booths, player: Player, art: Art, cast_art: CastArt,
        folder: Path, parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self.document, self.booths, self.player, self.art = document, booths, player, art
        self.setAccessibleName("The booth to paint on")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMinimumHeight(140)
        self.dummies = Dummies(folder, art)
        self.cast_art, self.bones_figure = cast_art, BonesFigure(art)
        self.scale, self.corner, self.fits = 1.0, QPointF(), True
        self.held = False
        """Whether a button is down on it."""
        self.brush = "brick"
        self.chosen: tuple[str, int] | None = None
        """The kind and the place of the thing chosen."""
        self.cell: tuple[int, int] | None = None
        """The tile under the pointer, or under the keyboard's mark."""
        self.rubber: QRectF | None = None
        """The zone that is being drawn, in pixels of the world."""
        self._jump: tuple[Mover, Jump, Jump] | None = None
        self._drawn: tuple[tuple[object, ...], QPixmap] | None = None
        self.brush_keys: Callable[[], tuple[KeyLine, ...]] = tuple
        """What its keys do is for whoever paints on it to say."""
        player.seen.connect(self.update)

    def key_lines(self) -> tuple[KeyLine, ...]:
        return self.brush_keys()

    # Where things are -----------------------------------------------------------------------------

    @property
    def world(self) -> World:
        """The booth that is painted."""
        return self.booths.world

    @property
    def tile(self) -> int:
        """How many pixels of the world a tile is wide and high."""
        return self.world.tile_size

    def fit(self) -> None:
        """Show as much of the world as there is room for, its ground at the bottom."""
        self.fits = True
        wide = max(1, self.world.columns * self.tile)
        high = max(1, len(self.world.rows) * self.tile)
        # Its whole height; or all of its width, where that costs no more than some sky.
        by_height = self.height() / high
        sky = 1.25 if self.world.seen == "from the side" else 1.0
        wanted = max(by_height, min(by_height * sky, self.width() / wide))
        self.scale = max(SMALLEST_TILE / self.tile, min(LARGEST_TILE / self.tile, wanted))
        shown = self.width() / self.scale
        state = self.player.recording.compiled_state.booth
        middle = state.body.x if state is not None else self.world.start_x
        x = (wide - shown) / 2 if shown >= wide else max(0.0, min(wide - shown, middle - shown / 2))
        self.corner = QPointF(x, high - self.height() / self.scale)
        self.update()

    def zoom(self, by: float, at: QPointF) -> None:
        """Closer or further, what is under a point of the view staying there."""
        self.fits = False
        under = self.to_world(at)
        whole = min(self.width() / max(1, self.world.columns * self.tile),
                    self.height() / max(1, len(self.world.rows) * self.tile))
        least = min(SMALLEST_TILE / self.tile, whole)
        self.scale = max(least, min(LARGEST_TILE / self.tile, self.scale * by))
        self.corner = under - at / self.scale
        self.update()

    def pan(self, by: QPointF) -> None:
        """Move the world by pixels of the view."""
        self.fits = False
        self.corner -= by / self.scale
        self.update()

    def resizeEvent(self, event: object) -> None:
        # Never under a hand that paints.
        if self.fits and not self.held:
            self.fit()

    def to_world(self, at: QPointF) -> QPointF:
        """A point of the view as one of the world."""
        return at / self.scale + self.corner

    def to_view(self, x: float, y: float) -> QPointF:
        """A point of the world as one of the view."""
        return (QPointF(x, y) - self.corner) * self.scale

    def cell_at(self, at: QPointF) -> tuple[int, int]:
        """The tile under a point of the view."""
        point = self.to_world(at)
        return int(point.x() // self.tile), int(point.y() // self.tile)

    # What is drawn --------------------------------------------------------------------------------

    def draw(self, painter: QPainter) -> None:
        world = self.world
        seen = QRectF(self.corner, self.corner + QPointF(self.width(), self.height()) / self.scale)
        painter.save()
        painter.scale(self.scale, self.scale)
        painter.translate(-self.corner)
        tick = self.player.tick
        setup, booth = self.player.setup_shown, self.player.booth_shown
        record = self.player.shown
        if setup.world is not world:
            booth = None
        painter.restore()
        painter.drawPixmap(0, 0, self._still(world, seen))
        painter.save()
        painter.scale(self.scale, self.scale)
        painter.translate(-self.corner)
        draw_world_props(painter, world, False, self.dummies.picture)
        for before in (False, True):
            self.dummies.draw(painter, world, booth, tick, self.document.puppet.rate, before)
            if setup.world is world:
                draw_opponents(painter, setup, booth, self.art, self.cast_art, 0.0, before)
            if record is not None and booth is not None and not before:
                self._draw_puppet(painter, record, booth, world)
        draw_world_props(painter, world, True, self.dummies.picture)
        draw_zones(painter, world, named=False)
        self._draw_start(painter, world)
        found: tuple[Sensor, ...] = ()
        if record is not None and booth is not None:
            side = -1 if record.report.facing.endswith("left") else 1
            found = sensors(world, self.document.puppet.mover, booth.body, side)
            self._draw_sensors(painter, found)
        if world.seen == "from the side":
            self._draw_jump(painter, world)
        self._draw_marks(painter)
        painter.restore()
        self._draw_words(painter, world, found)
        self.draw_focus(painter, 4)

    def _still(self, world: World, seen: QRectF) -> QPixmap:
        """What does not move, drawn once for a world, a place and a size: there may be ten thousand
        tiles."""
        key = (world, self.scale, self.corner.x(), self.corner.y(), self.width(), self.height(),
               theme.edition(), self.art.edition)
        if self._drawn is None or self._drawn[0][0] is not world or self._drawn[0][1:] != key[1:]:
            ratio = self.devicePixelRatioF()
            pixmap = QPixmap(round(self.width() * ratio), round(self.height() * ratio))
            pixmap.setDevicePixelRatio(ratio)
            pixmap.fill(theme.NIGHT)
            with painting(pixmap) as painter:
                painter.setRenderHint(QPainter.RenderHint.Antialiasing)
                painter.scale(self.scale, self.scale)
                painter.translate(-self.corner)
                draw_tiles(painter, world, seen, 0, self.dummies.picture)
                self._dim_outside(painter, world, seen)
                self._draw_grid(painter, world, seen)
                self._draw_ledges(painter, world, seen)
            self._drawn = (key, pixmap)
        return self._drawn[1]

    def _dim_outside(self, painter: QPainter, world: World, seen: QRectF) -> None:
        """What lies past the world's edges can be seen, but not painted."""
        inside = QPainterPath()
        inside.addRect(QRectF(0, 0, world.columns * self.tile, len(world.rows) * self.tile))
        outside = QPainterPath()
        outside.addRect(seen)
        painter.fillPath(outside - inside, theme.with_alpha(theme.NIGHT, 190))

    def _draw_grid(self, painter: QPainter, world: World, seen: QRectF) -> None:
        if self.scale * self.tile < LEAST_GRID:
            return
        tile, wide, high = self.tile, world.columns * self.tile, len(world.rows) * self.tile
        painter.setPen(theme.pen(QColor(150, 160, 200, 26), 0.5))
        for column in range(max(0, int(seen.left() // self.tile)),
                            min(world.columns, int(seen.right() // self.tile)) + 1):
            painter.drawLine(QPointF(column * tile, max(0.0, seen.top())),
                             QPointF(column * tile, min(seen.bottom(), high)))
        for row in range(max(0, int(seen.top() // self.tile)),
                         min(len(world.rows), int(seen.bottom() // self.tile)) + 1):
            painter.drawLine(QPointF(max(0.0, seen.left()), row * tile),
                             QPointF(min(seen.right(), wide), row * tile))

    def _draw_ledges(self, painter: QPainter, world: World, seen: QRectF) -> None:
        """Each ledge as a golden corner; one that cannot be grabbed as a grey one, struck
        through."""
        if world.from_above or self.scale * self.tile < FAR:
            return
        terrain = terrain_of(world)
        for x, y, side, barred in ledges_of(world, terrain, seen):
            painter.setPen(theme.pen(QColor("#7C7A86") if barred else QColor("#F0C24B"), 2))
            if side == 0:
                painter.drawLine(QPointF(x - 6, y + 5), QPointF(x + 6, y + 5))
            else:
                painter.drawLine(QPointF(x, y + 1), QPointF(x + side * 6, y + 1))
                painter.drawLine(QPointF(x, y + 1), QPointF(x, y + 7))
            if barred:
                painter.drawLine(QPointF(x - 4, y + 8), QPointF(x + 5, y - 3))

    def _draw_puppet(
        self, painter: QPainter, record: Record, booth: BoothState, world: World
    ) -> None:
        puppet, body = self.document.puppet, booth.body
        if puppet.is_of_bones:
            self.bones_figure.draw(painter, self.player.records, self.player.tick, body, False)
            return
        raised = puppet.mover.art_up if world.from_above else 0.0
        draw_figure(painter, self.art, figure(puppet, record.report, body.x, body.y - raised))

    def _draw_start(self, painter: QPainter, world: World) -> None:
        painter.setPen(theme.pen(QColor("#F4E9CC"), 1.4))
        painter.drawLine(QPointF(world.start_x, world.start_y),
                         QPointF(world.start_x, world.start_y - 11))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.WELD)
        painter.drawEllipse(QPointF(world.start_x, world.start_y - 14), 4, 4)

    def _draw_jump(self, painter: QPainter, world: World) -> None:
        tapped, held = self.jumps()
        for jump, color in ((held, QColor(240, 194, 75, 110)), (tapped, QColor("#F0C24B"))):
            painter.setPen(theme.pen(color, 1.6, (0.6, 2.4)))
            painter.drawPolyline(QPolygonF([QPointF(world.start_x + x, world.start_y + y)
                                            for x, y in jump.path]))

    def jumps(self) -> tuple[Jump, Jump]:
        """A tapped and a held jump at full speed."""
        mover = self.document.puppet.mover
        if self._jump is None or self._jump[0] != mover:
            # So wide that nothing is in the way.
            empty = terrain_of(EMPTY)
            rate = self.document.puppet.rate
            self._jump = (mover, jump_of(mover, empty, False, rate),
                          jump_of(mover, empty, True, rate))
        return self._jump[1], self._jump[2]

    def _draw_sensors(self, painter: QPainter, found: tuple[Sensor, ...]) -> None:
        for sensor in found:
            color = QColor("#6FD0C8") if sensor.touches else QColor(190, 196, 214, 120)
            painter.setPen(theme.pen(color, 0.8, None if sensor.touches else (2, 2)))
            painter.setBrush(theme.with_alpha(color, 60 if sensor.touches else 0))
            painter.drawRect(QRectF(*sensor.area))

    def _draw_marks(self, painter: QPainter) -> None:
        """The thing chosen, the tile under the pointer, and the zone being drawn."""
        area = self.area_of(self.chosen)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        if area is not None:
            painter.setPen(theme.pen(QColor("#F6E3A8"), 1.5))
            painter.drawRect(area.adjusted(-2, -2, 2, 2))
        if self.rubber is not None:
            painter.setPen(theme.pen(QColor("#E4D3E8"), 1.2, (3, 2)))
            painter.drawRect(self.rubber)
        if self.cell is not None:
            painter.setPen(theme.pen(QColor("#FFFFFF"), 1))
            tile = self.tile
            painter.drawRect(QRectF(self.cell[0] * tile, self.cell[1] * tile, tile, tile))

    def area_of(self, chosen: tuple[str, int] | None) -> QRectF | None:
        """Where a thing is, in pixels of the world; None for one that is gone."""
        if chosen is None:
            return None
        kind, index = chosen
        things = getattr(self.world, kind)
        if index >= len(things):
            return None
        thing = things[index]
        if kind == "zones":
            tile = self.tile
            return QRectF(thing.x * tile, thing.y * tile, thing.width * tile, thing.height * tile)
        if kind == "dummies":
            return QRectF(thing.x - thing.width / 2, thing.y - thing.height, thing.width,
                          thing.height)
        picture = self.dummies.picture(thing.picture)
        wide, high = (picture.width(), picture.height()) if picture is not None else (
            self.tile, self.tile * 14 / 16)
        return QRectF(thing.x - wide / 2, thing.y - high, wide, high)

    def _draw_words(self, painter: QPainter, world: World, found: tuple[Sensor, ...]) -> None:
        """Words at their own size, whatever the zoom; none lies on another."""
        labels = Labels(painter, QRectF(self.rect()))
        for zone in world.zones:
            labels.put(self.to_view((zone.x + zone.width / 2) * self.tile, zone.y * self.tile),
                       [f"zone: {zone.name}"],
                       QColor("#E4D3E8"))
        touching = [sensor for sensor in found
                    if sensor.name != "foot" and (sensor.touches or sensor.ignores)]
        if touching:
            area = touching[0].area
            at = self.to_view(area.x + area.width / 2, min(each.area.y for each in touching))
            labels.put(at, [each.words for each in touching], QColor("#9FE0D8"))
        for dummy in world.dummies:
            does = f" · {DOES[dummy.does].format(dummy)}" if dummy.does in DOES else ""
            labels.put(self.to_view(dummy.x, dummy.y - dummy.height), [f"{dummy.name}{does}"],
                       QColor("#F4E9CC"))
        if world.seen == "from the side":
            tapped, held = self.jumps()
            lines = [said_jump(tapped, self.tile)]
            if held.up > tapped.up + 0.5:
                lines.append(f"held {held.up / self.tile:.1f} up, {held.far / self.tile:.1f} far")
            labels.put(self.to_view(world.start_x + held.far / 2, world.start_y - held.up), lines,
                       QColor("#F0C24B"))


EMPTY = World("", ("." * 4096,) * 3, 0.0, 0.0)
DOES = {
    "walks": "walks {0.span:g} px to and fro", "guards": "guards",
    "strikes": "strikes every {0.every:g} s", "answers": "answers",
}


def said_jump(jump: Jump, tile: int) -> str:
    """What a jump comes to, in words."""
    return f"{jump.up / tile:.1f} tiles up, {jump.far / tile:.1f} far, {jump.seconds:.2f} s"
