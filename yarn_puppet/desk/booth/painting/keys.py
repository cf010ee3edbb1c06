"""Painting by keys: a mark goes from tile to tile, and the brush is put down where it stands."""

from __future__ import annotations

from math import floor

from PyQt6.QtCore import QPointF

from ...widgets.key_table import KeyLine
from .brushes import BRUSHES, FROM_ABOVE
from .editing import Painting
from .view import ZOOM

STEPS = {"Left": (-1, 0), "Right": (1, 0), "Up": (0, -1), "Down": (0, 1)}


class PaintKeys:
    """What the keys of the painted booth do."""

    def __init__(self, painting: Painting) -> None:
        self.painting, self.view = painting, painting.view

    def lines(self) -> tuple[KeyLine, ...]:
        """All of them."""
        view, painting = self.view, self.painting
        brushes = tuple(brush.key for brush in BRUSHES.values() if brush.key)
        return (
            KeyLine(tuple(STEPS), "the mark a tile on", self._step),
            KeyLine(tuple(f"Shift+{step}" for step in STEPS), "painting as it goes", self._step),
            KeyLine(("Return", "Space"), "paint or put there what the brush is",
                    lambda key: self._put(),
                    lambda: view.cell is not None),
            KeyLine(("Del",), "remove what is chosen, or what is at the mark",
                    lambda key: self._remove()),
            KeyLine(brushes, "the brushes: "
                    + ", ".join(f"{brush.key} {brush.name}" for brush in BRUSHES.values()
                                                         if brush.key),
                    self._brush, lambda: True),
            KeyLine(("+", "=", "-"), "larger or smaller", lambda key: view.zoom(
                1 / ZOOM if key == "-" else ZOOM, QPointF(view.width() / 2, view.height() / 2))),
            KeyLine(("0",), "all of the world", lambda key: view.fit()),
            KeyLine(("Esc",), "choose nothing", lambda key: painting.choose(None)),
        )

    def _brush(self, key: str) -> None:
        brush = next(each for each in BRUSHES.values() if each.key == key)
        world = self.view.world
        if (world.tiles or brush.name != "cell") and (
                world.seen != "from above" or brush.name in FROM_ABOVE):
            self.painting.choose_brush(brush.name)

    def _step(self, key: str) -> None:
        view = self.view
        cell = view.cell or (floor(view.world.start_x / view.tile),
                             floor(view.world.start_y / view.tile) - 1)
        across, down = STEPS[key.rpartition("+")[2]]
        view.cell = (max(0, min(view.world.columns - 1, cell[0] + across)),
                     max(0, min(len(view.world.rows) - 1, cell[1] + down)))
        if key.startswith("Shift") and BRUSHES[view.brush].tile:
            self.painting.put_at(view.cell)
        self.painting.pointed.emit()

    def _put(self) -> None:
        if self.view.cell is not None:
            self.painting.put_at(self.view.cell)

    def _remove(self) -> None:
        if self.view.chosen is not None:
            self.painting.remove_chosen()
        elif self.view.cell is not None:
            self.painting.take_from(self.view.cell)
