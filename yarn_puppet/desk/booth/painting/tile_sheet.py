"""The booth's picture of tiles as brushes: a cell of it is chosen by a click or with the arrows."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QPainter, QPixmap

from ....core.model.world import TileLook, World
from ...pictures.drawing import draw_checks
from ...widgets import theme
from ...widgets.key_table import KeyLine
from ...widgets.view import DrawnView

MOST_HIGH = 150
"""Pixels of the screen that it takes at most, one above the other."""
EDGE = 4.0
BLOCKS = {"none": (1, 1), "outside": (3, 3), "all": (5, 3)}
"""How many cells a look takes, by its edges."""
STEPS = {"Left": (-1, 0), "Right": (1, 0), "Up": (0, -1), "Down": (0, 1)}


class TileSheet(DrawnView):
    """Shows the picture cut by the tile size, the cell chosen, and which cells stand for tiles."""

    chosen = pyqtSignal()

    def __init__(self) -> None:
        super().__init__(None)
        self.setAccessibleName("The booth's tiles as brushes")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.picture: QPixmap | None = None
        self.size_of_tile = 16
        self.looks: tuple[tuple[str, TileLook], ...] = ()
        """What tiles are called, and how they look."""
        self.cell: tuple[int, int] = (0, 0)
        self._hovered: tuple[int, int] | None = None

    def show_tiles(
        self, picture: QPixmap | None, world: World, looks: tuple[tuple[str, TileLook], ...],
        in_hand: bool,
    ) -> None:
        """Show what a booth is drawn with: as long as its cells are `in_hand`, and there is a
        picture."""
        self.picture, self.size_of_tile, self.looks = picture, world.tile_size, looks
        self.setHidden(picture is None or not in_hand)
        columns, rows = self.cells
        self.cell = (min(self.cell[0], max(0, columns - 1)), min(self.cell[1], max(0, rows - 1)))
        self.setFixedHeight(self.sizeHint().height())
        self.update()

    @property
    def cells(self) -> tuple[int, int]:
        """How many whole cells lie beside and under each other."""
        if self.picture is None:
            return 0, 0
        return (self.picture.width() // self.size_of_tile,
                self.picture.height() // self.size_of_tile)

    def sizeHint(self) -> QSize:
        high = self.picture.height() * self._scale() if self.picture is not None else 0
        return QSize(300, int(high + 2 * EDGE))

    def resizeEvent(self, event: object) -> None:
        self.setFixedHeight(self.sizeHint().height())

    def _scale(self) -> float:
        """Pixels of the view to one of the picture: whole ones, where there is room."""
        if self.picture is None or self.picture.isNull():
            return 1.0
        fit = min(max(50, self.width() - 2 * EDGE) / self.picture.width(),
                  (MOST_HIGH - 2 * EDGE) / self.picture.height())
        return fit if fit < 1 else float(min(3, int(fit)))

    def rect_of(self, column: int, row: int, columns: int = 1, rows: int = 1) -> QRectF:
        """Where some cells are drawn."""
        size = self.size_of_tile * self._scale()
        return QRectF(EDGE + column * size, EDGE + row * size, columns * size, rows * size)

    def _cell_at(self, at: QPointF) -> tuple[int, int] | None:
        size = self.size_of_tile * self._scale()
        cell = int((at.x() - EDGE) // size), int((at.y() - EDGE) // size)
        columns, rows = self.cells
        return cell if 0 <= cell[0] < columns and 0 <= cell[1] < rows else None

    def draw(self, painter: QPainter) -> None:
        if self.picture is None:
            return
        scale, (columns, rows) = self._scale(), self.cells
        area = QRectF(EDGE, EDGE, self.picture.width() * scale, self.picture.height() * scale)
        draw_checks(painter, area)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, scale < 1)
        painter.drawPixmap(area, self.picture, QRectF(self.picture.rect()))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        if self.size_of_tile * scale >= 6:
            painter.setPen(theme.pen(theme.with_alpha(theme.INK, 60), 1))
            for column in range(columns + 1):
                x = EDGE + column * self.size_of_tile * scale
                painter.drawLine(QPointF(x, EDGE), QPointF(x, area.bottom()))
            for row in range(rows + 1):
                y = EDGE + row * self.size_of_tile * scale
                painter.drawLine(QPointF(EDGE, y), QPointF(area.right(), y))
        for _, look in self.looks:
            painter.setPen(theme.pen(theme.CLAY, 2))
            painter.drawRect(self.rect_of(look.column, look.row, *BLOCKS[look.edges]))
        if self._hovered is not None:
            painter.setPen(theme.pen(theme.INDIGO, 1.5))
            painter.drawRect(self.rect_of(*self._hovered))
        if columns and rows:
            painter.setPen(theme.pen(theme.INK, 3))
            painter.drawRect(self.rect_of(*self.cell).adjusted(-1, -1, 1, 1))
            painter.setPen(theme.pen(theme.PAPER, 1))
            painter.drawRect(self.rect_of(*self.cell).adjusted(-1, -1, 1, 1))
        self._draw_names(painter, area)
        self.draw_focus(painter, 4)

    def _draw_names(self, painter: QPainter, area: QRectF) -> None:
        """What stands for what, beside the picture, where there is room."""
        x, of = area.right() + 14, theme.font(12)
        lines = [f"{name} is {look.column}, {look.row}"
                 + {"none": "", "outside": " with edges",
                    "all": " with edges and corners"}[look.edges] for name, look in self.looks]
        y = EDGE + 14
        for line in lines or ["Choose a cell, and say what looks like it, or lay it on places."]:
            if y > self.height() - 2 or self.width() - x < 60:
                return
            theme.draw_text(painter, x, y, line, of, theme.QUIET, self.width() - x - 6)
            y += 17

    # The hand -------------------------------------------------------------------------------------

    def key_lines(self) -> tuple[KeyLine, ...]:
        return (KeyLine(tuple(STEPS), "another cell", self._step),)

    def _step(self, key: str) -> None:
        columns, rows = self.cells
        across, down = STEPS[key]
        self.choose((max(0, min(columns - 1, self.cell[0] + across)),
                     max(0, min(rows - 1, self.cell[1] + down))))

    def choose(self, cell: tuple[int, int]) -> None:
        """Paint with a cell."""
        self.cell = cell
        self.chosen.emit()
        self.update()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        cell = self._cell_at(event.position())
        if cell is not None:
            self.choose(cell)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        cell = self._cell_at(event.position())
        if cell != self._hovered:
            self._hovered = cell
            self.setToolTip("" if cell is None else f"cell {cell[0]}, {cell[1]}")
            self.update()

    def leaveEvent(self, event: object) -> None:
        self._hovered = None
        self.update()
