"""Cutting a sheet into clips: the sentence of its grid over the sheet itself."""

from __future__ import annotations

from PyQt6.QtCore import QPoint, QRect, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QWidget

from ...core.formats.cutting import common_bounds, grid_size, guess_grid
from ...core.model.clips import Box, Cell, Grid, Point
from ...core.model.edits import clips as edits
from ...core.model.edits.entries import changed
from ...core.model.puppet import Puppet, find
from .. import theme
from ..art import Art
from ..dialogs import complain
from ..document import Document
from ..widgets.panel import Panel
from ..widgets.parts import Field, Part, Token, Word, number_field
from ..widgets.popup import TokenPopup
from ..widgets.sentence import Sentence
from .clip_desk import ClipDesk
from .cut_view import CutView, alpha_of


class CutPanel(Panel):
    """Cells are picked by dragging; the name of the clip they make is asked for right there."""

    finished = pyqtSignal()

    def __init__(self, document: Document, desk: ClipDesk, art: Art) -> None:
        sentence, cut = Sentence(), CutView()
        super().__init__(sentence, cut)
        self.document, self.desk, self.art = document, desk, art
        self.sentence, self.cut = sentence, cut
        self.column.setStretchFactor(self.cut, 1)
        self.sentence.fallback = self.cut
        self.cut.picked.connect(self._ask_name)
        self.cut.keys = self._keys

    def show_sheet(self, id: str) -> bool:
        """Show a sheet under its grid; False where its picture cannot be read, which is said."""
        sheet = find(self.document.puppet.sheets, id)
        image = self.art.sheet(id)
        if sheet is None or image is None:
            name = sheet.path if sheet else id
            complain(self.window(), "This sheet cannot be cut", f"{name} cannot be read as a picture")
            return False
        self.cut.show_sheet(id, image, sheet.grid or guess_grid(alpha_of(image)))
        self.refresh()
        return True

    def refresh(self) -> None:
        sheet = find(self.document.puppet.sheets, self.cut.sheet_id)
        if sheet is None:
            return
        grid, image = self.cut.grid, self.cut.image
        used = {frame.cell for clip in self.document.puppet.clips for frame in clip.frames}
        self.cut.used = frozenset(
            place for place in self.cut.filled if self.cut.cells((place,)) and self.cut.cells((place,))[0] in used
        )
        columns, rows = grid_size(image.width(), image.height(), grid)

        def regrid(**values: int) -> None:
            made = Grid(**{"cell_width": grid.cell_width, "cell_height": grid.cell_height, "margin": grid.margin,
                           "gap": grid.gap, **values})
            self.cut.show_grid(made)
            self.document.edit("change grid", lambda now: changed(now, "sheets", sheet.id, grid=made))
            self.refresh()

        def token(value: int, field: str, low: int, high: int) -> Token:
            return Token(str(value), theme.INDIGO, name=field.replace("_", " "), field=number_field(
                value, lambda number: regrid(**{field: int(number)}), low, high, 1))

        parts: list[Part] = [
            Word(sheet.name, strong=True), Word(f"{image.width()}×{image.height()} px · cells of"),
            token(grid.cell_width, "cell_width", 1, image.width()), Word("×"),
            token(grid.cell_height, "cell_height", 1, image.height()), Word("· margin"),
            token(grid.margin, "margin", 0, image.width()), Word("gap"),
            token(grid.gap, "gap", 0, image.width()), Word(f"→ {columns} × {rows} · drag over cells, or click a row"
                 f"{'; ● is in a clip' if self.cut.used else ''} ·"),
            Token("a clip from every row", theme.WOAD, action=self._every_row, quiet=True, name="every row"),
            Token("done", theme.INK, action=self.finished.emit, filled=True, name="done", tip="Back (Esc)"),
        ]
        self.sentence.show_parts(parts)
        self.cut.update()

    def _ask_name(self) -> None:
        """Ask for the new clip's name right under the picked cells."""
        field = Field("", self._make_clip, check=lambda text: None if text.strip() else "expected a name",
                      hint=f"a name for the clip of these {len(self.cut.cells(self.cut.pick))} frames")
        at = QWidget(self.cut)
        corner = self.cut.pick_corner()
        at.setGeometry(QRect(QPoint(corner.x(), corner.y() - 6), self.cut.size() / 8))
        popup = TokenPopup(self.window(), field, theme.MADDER)
        popup.closed.connect(at.deleteLater)
        popup.closed.connect(self.cut.setFocus)
        self._popup = popup
        at.setFixedHeight(6)
        popup.open_at(at)

    def _make_clip(self, name: str) -> None:
        cells = self.cut.cells(self.cut.pick)
        puppet, id = edits.clip_added(self.document.puppet, name.strip(), cells)
        puppet = self._fitted(puppet, id, cells)
        self.document.edit("make clip", puppet)
        self.desk.show_clip(id)
        self.cut.pick = ()
        self.refresh()

    def _every_row(self) -> None:
        puppet, last = self.document.puppet, ""
        for number, row in enumerate(self.cut.rows()):
            cells = self.cut.cells(row)
            puppet, last = edits.clip_added(puppet, f"row {number + 1}", cells)
            puppet = self._fitted(puppet, last, cells)
        self.document.edit("make clips of rows", puppet)
        if last:
            self.desk.show_clip(last)
        self.finished.emit()

    def _fitted(self, puppet: Puppet, clip: str, cells: tuple[Cell, ...]) -> Puppet:
        """With a pivot under the feet of what is drawn, and a body box around it: a start that is rarely far off."""
        first = common_bounds(self.cut.alpha, [cells[0]])
        lowest = common_bounds(self.cut.alpha, list(cells))
        if first is None or lowest is None:
            return puppet
        left, top, right, bottom = first
        # Sheets of one figure share a pivot; what an earlier clip of this cell size found is kept.
        like = next((each.pivot for each in puppet.clips if each.id != clip and each.pivot and each.frames and
                     (each.frames[0].cell.width, each.frames[0].cell.height) == (cells[0].width, cells[0].height)),
                    None)
        pivot = like or Point(float(round((left + right) / 2)), float(lowest[3]))
        puppet = edits.clip_changed(puppet, clip, pivot=pivot)
        return edits.frames_changed(
            puppet, clip, boxes=(Box("body", float(left), float(top), float(right - left), float(bottom - top)),)
        )

    def _keys(self, event: QKeyEvent) -> bool:
        if event.key() == Qt.Key.Key_Escape:
            self.finished.emit()
            return True
        return False
