"""What the hand does on the painted booth: paint, erase, fill, put, choose, drag; with the mouse or
with keys."""

from __future__ import annotations

from collections.abc import Callable
from math import floor, hypot
from pathlib import Path
from typing import Any

from msgspec.structs import replace
from PyQt6.QtCore import QObject, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QWheelEvent

from ....core.booth.tiles.sweep import down
from ....core.booth.tiles.terrain import terrain_of
from ....core.model.basics.words import one_of
from ....core.model.edits import tile_art
from ....core.model.edits import worlds as edits
from ....core.model.take import Take
from ....core.model.world import AIR, Dummy, World, WorldProp, Zone
from ....core.rules.renames import choice_renamed
from ...session.booths import Booths
from ...session.document import Document
from .brushes import BRUSHES, LAY, LIFT
from .labels import ledges_of
from .view import ZOOM, PaintView

KINDS = ("dummies", "props", "zones")
NEAR_LEDGE = 0.625
"""Tiles within which a click means a ledge."""


class Painting(QObject):
    """Turns what happens on the view into edits of the booth. `changed` says that something else is
    chosen, the brush or a thing; `pointed` that the mark stands elsewhere."""

    changed = pyqtSignal()
    pointed = pyqtSignal()

    def __init__(
        self,
        document: Document,
        booths: Booths,
        view: PaintView,
        folder: Path,
        takes: Callable[[], dict[str, Take]],
    ) -> None:
        """`takes` gives the kept takes, which a dummy can replay."""
        super().__init__(view)
        self.takes = takes
        self.cell = (0, 0)
        """The cell of the booth's picture that is laid."""
        self.document, self.booths, self.view, self.folder = document, booths, view, folder
        self._stroke: tuple[str, tuple[int, int], tuple[int, int]] | None = None
        """The tile being painted, the cell it began in, and the cell before."""
        self._begun = False
        """Whether this drag has made an edit, which the rest of it joins."""
        self._dragging: tuple[str, int, QPointF] | None = None
        self._panning: QPointF | None = None
        self._corner: tuple[int, int] | None = None

    # Edits ----------------------------------------------------------------------------------------

    def edit(self, name: str, change: Any) -> None:
        """One edit; those of one drag are one step of undo."""
        self.booths.edit(name, change, merge=self._begun)
        self._begun = True

    def change(self, name: str, change: Callable[[World], World]) -> None:
        """One edit by a token: a step of undo of its own."""
        self.booths.edit(name, change)

    def rename_dummy(self, index: int, name: str) -> None:
        """Another name for a dummy, in the promises of the kept takes of this booth too."""
        world, file, history = self.booths.world, self.booths.file, self.document.history
        before = world.dummies[index].name
        after = edits.thing_changed(world, "dummies", index, name=name)
        takes = dict(history.takes)
        if all(dummy.name != before for dummy in after.dummies):
            for kept, take in self.takes().items():
                promises = tuple([replace(promise, target=name)
                                  if promise.target == before else promise
                                  for promise in take.promises])
                if take.booth == file and promises != take.promises:
                    takes[kept] = replace(take, promises=promises)
        self.document.edit_worlds("rename", {**history.worlds, file: after}, takes=takes)

    def rename_zone(self, index: int, name: str) -> None:
        """Another name for a zone, wherever conditions compare with it too."""
        world, document = self.booths.world, self.document
        after = edits.thing_changed(world, "zones", index, name=name)
        document.edit_worlds("rename zone", {**document.history.worlds, self.booths.file: after},
                             puppet=choice_renamed(
                                 document.puppet, "zone", world.zones[index].name, name))

    def choose_brush(self, brush: str) -> None:
        """Paint with another brush."""
        self.view.brush = brush
        if BRUSHES[brush].tile:
            self.view.chosen = None
        self.changed.emit()

    def choose_cell(self, cell: tuple[int, int]) -> None:
        """Lay another cell of the booth's picture."""
        self.cell = cell
        self.choose_brush("cell")

    def picture_folders(self) -> list[Path]:
        """Where pictures of the booth may lie."""
        return [self.folder, *([self.document.folder] if self.document.path is not None else [])]

    def paint(self, cells: list[tuple[int, int]], tile: str, first: tuple[int, int]) -> None:
        """Paint some tiles, or lay a cell over them."""
        if tile in (LAY, LIFT):
            cell = self.cell
            self.edit(f"{tile} cell", lambda world: tile_art.laid(world, cells, cell)
                      if tile == LAY else tile_art.lifted(world, cells))
            return
        name = next((brush.name for brush in BRUSHES.values() if brush.tile == tile), "tiles")
        self.edit("erase" if tile == AIR else f"paint {name}",
                  lambda world: edits.painted(world, cells, tile, first))

    def remove_chosen(self) -> None:
        """Take the thing away that is chosen."""
        if self.view.chosen is not None:
            kind, index = self.view.chosen
            self.view.chosen = None
            self._begun = False
            self.edit(f"remove {one_of(kind)}",
                      lambda world: edits.thing_removed(
                          world, kind, index))  # type: ignore[arg-type]
            self.changed.emit()

    # The mouse ------------------------------------------------------------------------------------

    def press(self, event: QMouseEvent) -> None:
        """A button went down."""
        self._begun, self.view.held = False, True
        at, cell = event.position(), self.view.cell_at(event.position())
        if event.button() == Qt.MouseButton.MiddleButton:
            self._panning = at
            return
        if event.button() == Qt.MouseButton.RightButton:
            away = self._away()
            self._stroke = (away, cell, cell)
            self.paint([cell], away, cell)
            return
        brush = BRUSHES[self.view.brush]
        if brush.tile and brush.name != "erase":
            if event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
                self._fill(brush.name, brush.tile, cell)
                return
            self._stroke = (brush.tile, cell, cell)
            self.paint([cell], brush.tile, cell)
            return
        self._put(brush.name, at, cell)

    def _away(self) -> str:
        return LIFT if self.view.brush == "cell" else AIR

    def put_at(self, cell: tuple[int, int]) -> None:
        """Paint a tile, or put a thing in its middle, as the brush does: one edit."""
        view, tile = self.view, BRUSHES[self.view.brush].tile
        self._begun = False
        if tile:
            self.paint([cell], tile, cell)
        else:
            self._put(view.brush, view.to_view((cell[0] + 0.5) * view.tile,
                                               (cell[1] + 0.5) * view.tile), cell)
            self._dragging = self._corner = None

    def take_from(self, cell: tuple[int, int]) -> None:
        """Take away what the brush paints: one edit."""
        self._begun = False
        self.paint([cell], self._away(), cell)

    def _fill(self, brush: str, tile: str, cell: tuple[int, int]) -> None:
        if tile == LAY:
            self.paint(edits.alike(self.view.world, *cell), LAY, cell)
            return
        self.edit(f"fill with {brush}", lambda world: edits.filled(world, *cell, tile))

    def _put(self, brush: str, at: QPointF, cell: tuple[int, int]) -> None:
        point, world = self.view.to_world(at), self.view.world
        if brush == "start":
            self.edit("move the start",
                      lambda now: edits.start_moved(now, *self.stands(now, point)))
            self._dragging = ("start", 0, point)
            return
        if brush == "ledges":
            self._bar(world, point)
            return
        found = self.thing_at(point)
        if brush == "erase":
            if found is not None:
                self.view.chosen = found
                self.remove_chosen()
            else:
                self._stroke = (AIR, cell, cell)
                self.paint([cell], AIR, cell)
            return
        if found is not None:
            self.choose(found)
            self._dragging = (*found, point)
        elif brush == "zone":
            self._corner = cell
            tile = self.view.tile
            self.view.rubber = QRectF(cell[0] * tile, cell[1] * tile, tile, tile)
        else:
            self.add(brush, *self.stands(world, point))

    def add(self, brush: str, x: float, y: float) -> None:
        """Put a dummy or a prop."""
        if brush == "dummy":
            self._add("dummies", Dummy("straw", x, y, 18.0, 48.0, "thatch.png", 24, 14))
        else:
            self._add("props", WorldProp("crate", x, y))

    def _add(self, kind: edits.Thing, thing: Any) -> None:
        self.edit(f"add {one_of(kind)}", lambda world: edits.thing_added(world, kind, thing))
        self.choose((kind, len(getattr(self.view.world, kind)) - 1))

    def choose(self, thing: tuple[str, int] | None) -> None:
        """Choose a thing: the sentence is about it."""
        self.view.chosen = thing
        self.changed.emit()

    def move(self, event: QMouseEvent) -> None:
        """The pointer moved."""
        at, cell = event.position(), self.view.cell_at(event.position())
        if self._panning is not None:
            self.view.pan(at - self._panning)
            self._panning = at
        elif self._stroke is not None and cell != self._stroke[2]:
            tile, first, before = self._stroke
            self._stroke = (tile, first, cell)
            self.paint(edits.between(before, cell)[1:], tile, first)
        elif self._corner is not None:
            x, y = min(cell[0], self._corner[0]), min(cell[1], self._corner[1])
            wide, high = abs(cell[0] - self._corner[0]) + 1, abs(cell[1] - self._corner[1]) + 1
            size = self.view.tile
            self.view.rubber = QRectF(x * size, y * size, wide * size, high * size)
        elif self._dragging is not None:
            self._drag(self.view.to_world(at))
        if cell != self.view.cell:
            self.view.cell = cell
            self.pointed.emit()
        self.view.update()

    def _drag(self, point: QPointF) -> None:
        kind, index, before = self._dragging or ("", 0, point)
        if kind == "start":
            self.edit("move the start",
                      lambda now: edits.start_moved(now, *self.stands(now, point)))
            return
        thing = getattr(self.view.world, kind)[index]
        if kind == "zones":
            tile = self.view.tile
            by = (round((point.x() - before.x()) / tile), round((point.y() - before.y()) / tile))
            if by != (0, 0):
                self._dragging = (kind, index, before + QPointF(*by) * self.view.tile)
                place = {"x": max(0, thing.x + by[0]), "y": max(0, thing.y + by[1])}
                self.edit("move zone", lambda now: edits.thing_changed(
                    now, "zones", index, **place))
            return
        if (point - before).manhattanLength() * self.view.scale < 3 and not self._begun:
            return
        x, y = self.stands(self.view.world, point)
        self.edit(f"move {one_of(kind)}",
                  lambda now: edits.thing_changed(
                      now, kind, index, x=x, y=y))  # type: ignore[arg-type]

    def release(self, event: QMouseEvent) -> None:
        """A button went up."""
        if self._corner is not None and self.view.rubber is not None:
            area, size = self.view.rubber, self.view.tile
            self._add("zones", Zone("zone", max(0, int(area.x() // size)),
                                    max(0, int(area.y() // size)),
                                    int(area.width() // size), int(area.height() // size)))
        self._stroke = self._dragging = self._panning = self._corner = None
        self.view.rubber, self.view.held = None, False
        self.view.update()

    def wheel(self, event: QWheelEvent) -> None:
        """Closer or further at the pointer."""
        self.view.zoom(ZOOM if event.angleDelta().y() > 0 else 1 / ZOOM, event.position())

    # Places ---------------------------------------------------------------------------------------

    def stands(self, world: World, point: QPointF) -> tuple[float, float]:
        """Where something put at a point stands: on the half tiles across, on the ground below
        where there is any."""
        tile = world.tile_size
        x = round(point.x() / (tile / 2)) * (tile / 2)
        row = floor(point.y() / tile)
        if world.from_above:
            return floor(point.x() / tile) * tile + tile / 2, float((row + 1) * tile)
        under = down(terrain_of(world), x - tile / 4, x + tile / 4, row * tile, 6 * tile)
        return x, under if under is not None else round(point.y())

    def thing_at(self, point: QPointF) -> tuple[str, int] | None:
        """The thing under a point of the world: the smallest kind first."""
        for kind in KINDS:
            for index in reversed(range(len(getattr(self.view.world, kind)))):
                area = self.view.area_of((kind, index))
                if area is not None and area.contains(point):
                    return kind, index
        return None

    def _bar(self, world: World, point: QPointF) -> None:
        tile = world.tile_size
        area = QRectF(point.x() - 2 * tile, point.y() - 2 * tile, 4 * tile, 4 * tile)
        near = min(ledges_of(world, terrain_of(world), area), default=None,
                   key=lambda each: (each[0] - point.x()) ** 2 + (each[1] - point.y()) ** 2)
        if near is None or hypot(near[0] - point.x(), near[1] - point.y()) > NEAR_LEDGE * tile:
            return
        x, y, side, _ = near
        column = floor(x / tile) if side >= 0 else floor(x / tile) - 1
        self.edit("bar ledge", lambda now: edits.barring(
            now, column, int(y // tile), -side))  # type: ignore[arg-type]
