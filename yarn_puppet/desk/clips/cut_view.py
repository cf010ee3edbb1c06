"""Cutting a sheet: its grid drawn live over the picture, and cells picked into clips by dragging over them."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from PyQt6.QtCore import QPoint, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QImage, QKeyEvent, QMouseEvent, QPainter, QPixmap
from PyQt6.QtWidgets import QWidget

from ...core.formats.cutting import Alpha, cell_at, filled_cells, grid_size
from ...core.model.clips import Cell, Grid
from .. import theme
from ..art import draw_checks
from ..widgets.view import DrawnView

HEADS = 46.0
"""The room at the left in which each row has its own pick."""
Place = tuple[int, int]
"""A column and a row."""


def alpha_of(image: QImage) -> Alpha:
    """The see-through channel of a picture, shape (height, width)."""
    plain = image.convertToFormat(QImage.Format.Format_ARGB32)
    bits = plain.constBits()
    bits.setsize(plain.sizeInBytes())
    pixels = np.frombuffer(bits, dtype=np.uint8).reshape(plain.height(), plain.bytesPerLine())
    return pixels[:, 3 : plain.width() * 4 : 4].copy()


class CutView(DrawnView):
    """Drag over cells to pick them, or click the head of a row; picked again by rows, as they are read."""

    picked = pyqtSignal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setAccessibleName("Sheet")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.sheet_id = ""
        self.image = QImage()
        self.grid = Grid(1, 1)
        self.used: frozenset[Place] = frozenset()
        self.pick: tuple[Place, ...] = ()
        self.keys: Callable[[QKeyEvent], bool] = lambda event: False
        self._pixmap = QPixmap()
        self._filled: frozenset[Place] = frozenset()
        self._alpha: Alpha = np.zeros((1, 1), dtype=np.uint8)
        self._from: Place | None = None

    @property
    def alpha(self) -> Alpha:
        """The picture's see-through channel."""
        return self._alpha

    @property
    def filled(self) -> frozenset[Place]:
        """The cells that hold anything."""
        return self._filled

    def show_sheet(self, sheet_id: str, image: QImage, grid: Grid) -> None:
        """Cut this picture."""
        self.sheet_id, self.image, self._pixmap = sheet_id, image, QPixmap.fromImage(image)
        self._alpha = alpha_of(image)
        self.show_grid(grid)

    def show_grid(self, grid: Grid) -> None:
        """Lay another grid over it; the pick is let go."""
        self.grid, self.pick = grid, ()
        self._filled = filled_cells(self._alpha, grid)
        self.update()

    def cells(self, pick: tuple[Place, ...]) -> tuple[Cell, ...]:
        """The cells of a pick, empty ones left out."""
        return tuple(cell_at(self.sheet_id, self.grid, *place) for place in pick if place in self._filled)

    def rows(self) -> list[tuple[Place, ...]]:
        """The filled cells of each row that has any."""
        columns, rows = grid_size(self.image.width(), self.image.height(), self.grid)
        found = [tuple((column, row) for column in range(columns) if (column, row) in self._filled)
                 for row in range(rows)]
        return [row for row in found if row]

    # Geometry ---------------------------------------------------------------------------------------------------

    def scale(self) -> float:
        """Screen pixels to a pixel of the picture."""
        if self.image.isNull():
            return 1.0
        fit = min((self.width() - HEADS - 10) / self.image.width(), (self.height() - 12) / self.image.height())
        return max(0.05, min(8.0, fit if fit < 1 else int(fit * 2) / 2))

    def cell_rect(self, column: int, row: int) -> QRectF:
        """Where a cell is drawn."""
        cell = cell_at("x", self.grid, column, row)
        scale = self.scale()
        return QRectF(HEADS + cell.x * scale, 6 + cell.y * scale, cell.width * scale, cell.height * scale)

    def head_rect(self, row: int) -> QRectF:
        """Where a row's head is."""
        rect = self.cell_rect(0, row)
        return QRectF(4, rect.y() + 2, HEADS - 10, max(14.0, rect.height() - 4))

    def _size(self) -> tuple[int, int]:
        return grid_size(self.image.width(), self.image.height(), self.grid)

    def _place_at(self, at: QPointF) -> Place | None:
        columns, rows = self._size()
        for row in range(rows):
            for column in range(columns):
                if self.cell_rect(column, row).contains(at):
                    return column, row
        return None

    # Drawing ----------------------------------------------------------------------------------------------------

    def draw(self, painter: QPainter) -> None:
        if self.image.isNull():
            return
        scale = self.scale()
        area = QRectF(HEADS, 6, self.image.width() * scale, self.image.height() * scale)
        draw_checks(painter, area, 12)
        painter.drawPixmap(area, self._pixmap, QRectF(self._pixmap.rect()))
        columns, rows = self._size()
        if columns * rows > 20_000:
            painter.setPen(theme.MADDER)
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, "These cells are too small to be drawn")
            return
        order = {place: number + 1 for number, place in enumerate(p for p in self.pick if p in self._filled)}
        for row in range(rows):
            if any((column, row) in self._filled for column in range(columns)):
                self._draw_head(painter, row, columns)
            for column in range(columns):
                rect = self.cell_rect(column, row)
                place = (column, row)
                chosen = place in order
                painter.setBrush(theme.with_alpha(theme.MADDER, 46) if chosen else Qt.BrushStyle.NoBrush)
                painter.setPen(theme.pen(theme.MADDER if chosen else theme.with_alpha(theme.INDIGO, 110),
                                         2 if chosen else 1))
                painter.drawRect(rect.adjusted(0.5, 0.5, -0.5, -0.5))
                if place not in self._filled:
                    continue
                if chosen:
                    theme.draw_text(painter, rect.x() + 4, rect.y() + 14, str(order[place]), theme.font(13, bold=True),
                                    theme.MADDER)
                elif place in self.used:
                    painter.setPen(Qt.PenStyle.NoPen)
                    painter.setBrush(theme.WOAD)
                    painter.drawEllipse(QPointF(rect.right() - 7, rect.y() + 7), 3.5, 3.5)
        self.draw_focus(painter, 4)

    def _draw_head(self, painter: QPainter, row: int, columns: int) -> None:
        rect = self.head_rect(row)
        whole = tuple((column, row) for column in range(columns) if (column, row) in self._filled)
        chosen = bool(self.pick) and set(whole) == set(self.pick)
        painter.setPen(theme.pen(theme.MADDER if chosen else theme.SEAM, 1.2))
        painter.setBrush(theme.tint(theme.MADDER, 0.12) if chosen else theme.LINEN)
        painter.drawRoundedRect(rect, 5, 5)
        painter.setFont(theme.font(12))
        painter.setPen(theme.INK)
        painter.drawText(rect, Qt.AlignmentFlag.AlignCenter, f"row\n{row + 1}" if rect.height() > 30 else str(row + 1))

    # Hands ------------------------------------------------------------------------------------------------------

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        self.setFocus()
        columns, rows = self._size()
        for row in range(rows):
            if self.head_rect(row).contains(event.position()):
                self._from = None
                self.pick = tuple((column, row) for column in range(columns) if (column, row) in self._filled)
                self.update()
                if self.pick:
                    self.picked.emit()
                return
        self._from = self._place_at(event.position())
        if self._from is not None:
            self._pick_to(self._from)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        place = self._place_at(event.position())
        self.setCursor(Qt.CursorShape.CrossCursor if place else Qt.CursorShape.ArrowCursor)
        if self._from is not None and place is not None and event.buttons() & Qt.MouseButton.LeftButton:
            self._pick_to(place)

    def _pick_to(self, place: Place) -> None:
        """Pick the rectangle of cells between where the drag began and here, row by row."""
        assert self._from is not None
        (a, b), (c, d) = self._from, place
        self.pick = tuple((column, row) for row in range(min(b, d), max(b, d) + 1)
                          for column in range(min(a, c), max(a, c) + 1))
        self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if self._from is not None:
            self._from = None
            if self.cells(self.pick):
                self.picked.emit()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Up and down pick a row; Enter makes a clip of it."""
        rows = self.rows()
        key = Qt.Key(event.key())
        if key in (Qt.Key.Key_Up, Qt.Key.Key_Down) and rows:
            current = next((number for number, row in enumerate(rows) if set(row) == set(self.pick)), -1)
            step = 1 if key == Qt.Key.Key_Down else -1
            self.pick = rows[max(0, min(len(rows) - 1, current + step))]
            self.update()
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.cells(self.pick):
            self.picked.emit()
        elif not self.keys(event):
            super().keyPressEvent(event)

    def pick_corner(self) -> QPoint:
        """Below the first picked cell, where the new clip's name is asked for."""
        return self.cell_rect(*self.pick[0]).bottomLeft().toPoint() if self.pick else QPoint(20, 20)

    def sizeHint(self) -> QSize:
        return QSize(600, 400)
