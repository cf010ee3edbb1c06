"""Cutting a sheet: its cuts drawn live over the picture, and cells picked into clips by dragging
over them."""

from __future__ import annotations

from msgspec.structs import replace
from PyQt6.QtCore import QPoint, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QImage, QMouseEvent, QPainter, QPixmap
from PyQt6.QtWidgets import QWidget

from ....core.art.cutting import Alpha, cell_at, filled_rows, grid_size, with_gap, with_start
from ....core.model.clips import Cell, Grid, Islands
from ...pictures.drawing import draw_checks
from ...pictures.pixels import alpha_of
from ...widgets import theme
from ...widgets.key_table import KeyLine
from ...widgets.view import DrawnView

HEADS = 46.0
"""The room at the left in which each row has its own pick."""
MOST_CELLS = 20_000
NEAR = 3.5
"""How near to a line of the grid a press takes hold of it, in pixels."""
Rows = tuple[tuple[Cell, ...], ...]


class CutView(DrawnView):
    """Drag over cells to pick them, or click the head of a row; picked again by rows, as they are
    read.

    Lines of the grid are dragged: a cell's right or lower edge for its size, the outermost for the
    margin, and the far side of a gap, or any line with Alt, for the gap.
    """

    picked = pyqtSignal()
    grid_dragged = pyqtSignal(bool)
    """The grid was dragged: whether it was let go."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setAccessibleName("Sheet")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.sheet_id = ""
        self.image = QImage()
        self.grid = Grid(1, 1)
        self.islands: Islands | None = None
        self.rows: Rows = ()
        """The cells that hold anything, row by row."""
        self.used: frozenset[Cell] = frozenset()
        self.pick: tuple[Cell, ...] = ()
        self.problem = ""
        self.more_keys: tuple[KeyLine, ...] = ()
        self._scaled = QPixmap()
        self._from: QPointF | None = None
        self._held_scale: float | None = None
        self._line: tuple[str, int] | None = None

    @property
    def alpha(self) -> Alpha:
        """The picture's see-through channel."""
        return alpha_of(self.image)

    @property
    def cells(self) -> tuple[Cell, ...]:
        """All cells that hold anything, as they are read."""
        return tuple(cell for row in self.rows for cell in row)

    def show_sheet(self, sheet_id: str, image: QImage, grid: Grid, islands: Islands | None) -> None:
        """Cut this picture. One that is only read again, cut as before, keeps its pick as far as
        there is still anything in it: art may be told of in the middle of picking."""
        same = (sheet_id, grid, islands) == (self.sheet_id, self.grid, self.islands)
        pick = self.pick if same else ()
        self.sheet_id, self.image, self._scaled = sheet_id, image, QPixmap()
        self.show_cut(grid, islands)
        cells = frozenset(self.cells)
        self.pick = tuple([each for each in pick if each in cells])

    def show_cut(self, grid: Grid, islands: Islands | None = None) -> None:
        """Cut it another way; the pick is let go."""
        self.grid, self.islands, self.pick, self.problem, self.rows = grid, islands, (), "", ()
        try:
            self.rows = self._cut()
        except ValueError as error:
            self.problem = str(error)
        self.update()

    def _cut(self) -> Rows:
        if self.islands is not None:
            from ....core.art.islands import islands

            return islands(self.sheet_id, self.alpha, self.islands.join)
        columns, rows = self._size()
        if columns * rows > MOST_CELLS:
            raise ValueError("these cells are too small to be drawn")
        return filled_rows(self.sheet_id, self.alpha, self.grid)

    # Geometry -------------------------------------------------------------------------------------

    def scale(self) -> float:
        """Screen pixels to a pixel of the picture."""
        if self.image.isNull():
            return 1.0
        if self._held_scale is not None:
            return self._held_scale
        fit = min((self.width() - HEADS - 10) / self.image.width(),
                  (self.height() - 12) / self.image.height())
        return max(0.02, min(8.0, fit if fit < 1 else int(fit * 2) / 2))

    def rect_of(self, cell: Cell) -> QRectF:
        """Where a cell is drawn."""
        scale = self.scale()
        return QRectF(HEADS + cell.x * scale, 6 + cell.y * scale, cell.width * scale,
                      cell.height * scale)

    def cell_rect(self, column: int, row: int) -> QRectF:
        """Where a place of the grid is drawn."""
        return self.rect_of(cell_at("x", self.grid, column, row))

    def head_rect(self, row: int) -> QRectF:
        """Where a row's head is."""
        rects = [self.rect_of(cell) for cell in self.rows[row]]
        top = min(rect.top() for rect in rects)
        return QRectF(4, top + 2, HEADS - 10,
                      max(14.0, max(rect.bottom() for rect in rects) - top - 4))

    def _size(self) -> tuple[int, int]:
        return grid_size(self.image.width(), self.image.height(), self.grid)

    def _line_at(self, at: QPointF) -> tuple[str, int] | None:
        """The line of the grid near a point: which way it lies and what it sets, and the number of
        its cell."""
        if self.islands is not None or self.image.isNull():
            return None
        grid, scale = self.grid, self.scale()
        columns, rows = self._size()
        for way, along, cell, count in (("column", (at.x() - HEADS) / scale, grid.cell_width,
                                         columns),
                                        ("row", (at.y() - 6) / scale, grid.cell_height, rows)):
            axis = 0 if way == "column" else 1
            margin, step = grid.start[axis], grid.step[axis]
            gap = step - cell
            if margin and abs(along - margin) * scale <= NEAR:
                return f"{way} margin", 0
            number = round((along - margin) / step)
            for each in (number - 1, number):
                start = margin + each * step
                if 0 <= each < count and abs(along - start - cell) * scale <= NEAR:
                    return f"{way} size", each
                if gap and 0 < each <= count and abs(along - start) * scale <= NEAR:
                    return f"{way} gap", each
        return None

    # Drawing --------------------------------------------------------------------------------------

    def draw(self, painter: QPainter) -> None:
        if self.image.isNull():
            return
        scale = self.scale()
        area = QRectF(HEADS, 6, self.image.width() * scale, self.image.height() * scale)
        draw_checks(painter, area, 12)
        painter.drawPixmap(area, self._fitted(area), QRectF(self._scaled.rect()))
        if self.problem:
            painter.setPen(theme.MADDER)
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, self.problem)
            return
        for row in range(len(self.rows)):
            self._draw_head(painter, row)
        self._draw_grid(painter, area)
        order = {cell: number + 1 for number, cell in enumerate(self.pick)}
        for number, cell in enumerate(self.cells):
            self._draw_cell(painter, cell, order.get(cell), number + 1)
        self.draw_focus(painter, 4)

    def _fitted(self, area: QRectF) -> QPixmap:
        """The picture at the size it is drawn at, made once: a large sheet would else be scaled at
        every paint."""
        ratio = self.devicePixelRatioF()
        size = QSize(max(1, round(area.width() * ratio)), max(1, round(area.height() * ratio)))
        if size.width() >= self.image.width():
            size = self.image.size()
        if self._scaled.size() != size:
            image, free = self.image, Qt.AspectRatioMode.IgnoreAspectRatio
            if image.width() > 6 * size.width():
                # Four samples a pixel are smooth enough, and far quicker than all of a very large
                # sheet.
                image = image.scaled(size * 4, free, Qt.TransformationMode.FastTransformation)
            self._scaled = QPixmap.fromImage(image.scaled(
                size, free, Qt.TransformationMode.SmoothTransformation))
        return self._scaled

    def _draw_grid(self, painter: QPainter, area: QRectF) -> None:
        if self.islands is not None:
            return
        painter.setPen(theme.pen(theme.with_alpha(theme.INDIGO, 110), 1))
        columns, rows = self._size()
        grid, scale = self.grid, self.scale()
        top, left = self.cell_rect(0, 0).top(), self.cell_rect(0, 0).left()
        right, bottom = self.cell_rect(columns - 1, 0).right(), self.cell_rect(0, rows - 1).bottom()
        for column in range(columns):
            x = left + column * grid.step[0] * scale
            for at in {x, x + grid.cell_width * scale}:
                painter.drawLine(QPointF(at, top), QPointF(at, bottom))
        for row in range(rows):
            y = top + row * grid.step[1] * scale
            for at in {y, y + grid.cell_height * scale}:
                painter.drawLine(QPointF(left, at), QPointF(right, at))

    def _draw_cell(self, painter: QPainter, cell: Cell, picked: int | None, number: int) -> None:
        rect = self.rect_of(cell)
        if picked is not None or self.islands is not None:
            color = theme.MADDER if picked is not None else theme.INDIGO
            painter.setBrush(theme.with_alpha(color, 46)
                             if picked is not None else Qt.BrushStyle.NoBrush)
            painter.setPen(theme.pen(color, 2 if picked is not None else 1))
            painter.drawRect(rect.adjusted(0.5, 0.5, -0.5, -0.5))
        label, of = str(picked or number), theme.font(13 if picked else 11, bold=picked is not None)
        if rect.width() > theme.text_width(label, of) + 4 and rect.height() > 14:
            # On a scrap of paper: numbers must be read over any art.
            wide = theme.text_width(label, of)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.with_alpha(theme.PAPER, 215))
            painter.drawRoundedRect(QRectF(rect.x() + 1.5, rect.y() + 1.5, wide + 5, 14), 3, 3)
            theme.draw_text(painter, rect.x() + 4, rect.y() + 13, label, of,
                            theme.MADDER if picked else theme.INK)
        if cell in self.used and picked is None:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.WOAD)
            painter.drawEllipse(QPointF(rect.right() - 7, rect.y() + 7), 3.5, 3.5)

    def _draw_head(self, painter: QPainter, row: int) -> None:
        rect = self.head_rect(row)
        chosen = bool(self.pick) and set(self.rows[row]) == set(self.pick)
        painter.setPen(theme.pen(theme.MADDER if chosen else theme.SEAM, 1.2))
        painter.setBrush(theme.tint(theme.MADDER, 0.12) if chosen else theme.LINEN)
        painter.drawRoundedRect(rect, 5, 5)
        painter.setFont(theme.font(12))
        painter.setPen(theme.INK)
        painter.drawText(rect, Qt.AlignmentFlag.AlignCenter,
                         f"row\n{row + 1}" if rect.height() > 30 else str(row + 1))

    # Hands ----------------------------------------------------------------------------------------

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        self.setFocus()
        for row in range(len(self.rows)):
            if self.head_rect(row).contains(event.position()):
                self._from = None
                self.pick = self.rows[row]
                self.update()
                self.picked.emit()
                return
        self._line = self._line_at(event.position())
        # The sentence above says other numbers meanwhile, and may take another line.
        self._held_scale = self.scale() if self._line is not None else None
        if self._line is None:
            self._from = event.position()
            self._pick_to(event.position())

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if not event.buttons() & Qt.MouseButton.LeftButton:
            line = self._line_at(event.position())
            self.setCursor(Qt.CursorShape.ArrowCursor if event.position().x() < HEADS - 5 else
                           Qt.CursorShape.CrossCursor if line is None else
                           Qt.CursorShape.SplitHCursor if line[0].startswith("column") else
                           Qt.CursorShape.SplitVCursor)
        elif self._line is not None:
            self._drag_line(event.position(),
                            bool(event.modifiers() & Qt.KeyboardModifier.AltModifier))
        elif self._from is not None:
            self._pick_to(event.position())

    def _drag_line(self, at: QPointF, gap: bool) -> None:
        """Set what a line of the grid stands for, so that the line comes to lie where the mouse
        is."""
        assert self._line is not None
        what, number = self._line
        column = what.startswith("column")
        along = (at.x() - HEADS if column else at.y() - 6) / self.scale()
        grid, axis = self.grid, 0 if column else 1
        start, step = grid.start[axis], grid.step[axis]
        cell = grid.cell_width if column else grid.cell_height
        if what.endswith("margin"):
            made = with_start(grid, axis, max(0, round(along)))
        elif what.endswith("gap") or (gap and number >= 0):
            before = number if what.endswith("gap") else number + 1
            made = with_gap(grid, axis, max(0, round((along - start) / before - cell)))
        else:
            size = max(1, round((along - start - number * (step - cell)) / (number + 1)))
            made = replace(grid, cell_width=size) if column else replace(grid, cell_height=size)
        if made != grid:
            self.show_cut(made)
            self.grid_dragged.emit(False)

    def _pick_to(self, at: QPointF) -> None:
        """Pick the cells between where the drag began and here, row by row."""
        assert self._from is not None
        area = QRectF(self._from, at).normalized().adjusted(-0.5, -0.5, 0.5, 0.5)
        self.pick = tuple(cell for cell in self.cells if self.rect_of(cell).intersects(area))
        self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if self._line is not None:
            self._line = self._held_scale = None
            self.grid_dragged.emit(True)
        elif self._from is not None:
            self._from = None
            if self.pick:
                self.picked.emit()

    def key_lines(self) -> tuple[KeyLine, ...]:
        def has_cells() -> bool:
            return bool(self.cells)

        return (
            KeyLine(("Up", "Down"), "pick the row above or below", self._pick_row,
                    lambda: bool(self.rows)),
            KeyLine(("Left", "Right"), "pick the cell before or after",
                    lambda key: self._pick_beside(
                1 if key == "Right" else -1, False), has_cells),
            KeyLine(("Shift+Left", "Shift+Right"), "pick it too", lambda key: self._pick_beside(
                1 if key.endswith("Right") else -1, True), has_cells),
            KeyLine(("Return",), "a clip of what is picked", lambda key: self.picked.emit(),
                    lambda: bool(self.pick)),
            *self.more_keys,
        )

    def _pick_row(self, key: str) -> None:
        current = next((number for number, row in enumerate(self.rows)
                        if set(row) == set(self.pick)), -1)
        self.pick = self.rows[max(0,
                                  min(len(self.rows) - 1, current + (1 if key == "Down" else -1)))]
        self.update()

    def _pick_beside(self, step: int, more: bool) -> None:
        """Pick the cell before or after the last picked one, alone or beside those that are picked
        already."""
        cells = self.cells
        last = (
            cells.index(self.pick[-1])
            if self.pick and self.pick[-1] in cells
            else -1
            if step > 0
            else len(cells)
        )
        cell = cells[max(0, min(len(cells) - 1, last + step))]
        if not more:
            self.pick = (cell,)
        elif step > 0 and cell not in self.pick:
            self.pick = (*self.pick, cell)
        elif step < 0 and len(self.pick) > 1:
            self.pick = self.pick[:-1]
        self.update()

    def pick_corner(self) -> QPoint:
        """Below the first picked cell, where the new clip's name is asked for."""
        return self.rect_of(self.pick[0]).bottomLeft().toPoint() if self.pick else QPoint(20, 20)

    def sizeHint(self) -> QSize:
        return QSize(600, 400)
