"""Cutting a sheet into clips: the sentence of its cut over the sheet itself."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from functools import partial

from msgspec.structs import replace
from PyQt6.QtCore import QPoint, QRect, pyqtSignal
from PyQt6.QtWidgets import QWidget

from ....core.art.cutting import counted_grid, grid_size, guess_grid, with_gap, with_start
from ....core.model.clips import Cell, Grid, Islands, Sheet
from ....core.model.edits.directions import directions_added, expanded, suggested_patterns
from ....core.model.edits.entries import changed
from ....core.model.edits.frames.frames import frames_inserted
from ....core.model.puppet import find
from ....core.patterns.clip_names import USUAL_WORDS, named_rows, rows_problem
from ...pictures.art import Art
from ...pictures.pixels import raw_pixels
from ...session.document import Document
from ...widgets import theme
from ...widgets.asking import complain
from ...widgets.key_table import KeyLine
from ...widgets.panel import Panel
from ...widgets.parts import Field, Part, Suggestion, Token, Word, choice_field, number_field
from ...widgets.popup import TokenPopup
from ...widgets.sentence import Sentence
from ..clip_desk import ClipDesk
from .cell_reader import CellReader, Then
from .fitting import Drawn, clip_from_cells, frame_like, pivot_like, under_all
from .sheets import REMOVE, REPLACE, sheet_field, without
from .view import CutView, Rows

ADD = "\0"
"""What stands before the id of a clip that picked cells are added to: no typed name begins so."""
COLUMNS = "a column each: "
"""What stands before a pattern whose names are for the columns."""


class CutPanel(Panel):
    """Cells are picked by dragging; the name of the clip they make is asked for right there."""

    finished = pyqtSignal()
    left = pyqtSignal()
    """It was left by Esc: no other sheet is wanted either."""
    refit = pyqtSignal(str)
    """The sheet's clips are to follow the way it is cut now."""
    wanted = pyqtSignal(str)
    """Another sheet is to be cut."""
    replace_asked = pyqtSignal(str)
    """A sheet is to be read from another file."""

    def __init__(self, document: Document, desk: ClipDesk, art: Art) -> None:
        sentence, cut = Sentence(), CutView()
        super().__init__(sentence, cut)
        self.document, self.desk, self.art = document, desk, art
        self.sentence, self.cut = sentence, cut
        self.column.setStretchFactor(self.cut, 1)
        self.sentence.fallback = self.cut
        self.cut.picked.connect(self._ask_name)
        self.cut.grid_dragged.connect(self._grid_dragged)
        self.cut.more_keys = (KeyLine(("Esc",), "back to the clips; or stop looking at cells",
                                      self._left),)
        self.reader = CellReader(self)
        self.reader.progressed.connect(self.refresh)
        self._merge = False
        document.puppet_changed.connect(self._puppet_changed)

    def show_sheet(self, id: str) -> bool:
        """Show a sheet under its cut; False where its picture cannot be read, which is said, or is
        on its way."""
        sheet = find(self.document.puppet.sheets, id)
        if sheet is not None and self.art.awaited(id):
            return False
        image = self.art.sheet(id)
        if sheet is None or image is None:
            name = sheet.path if sheet else id
            complain(self.window(), "This sheet cannot be cut",
                     f"{name} cannot be read as a picture")
            return False
        self.cut.show_sheet(id, image, sheet.grid or guess_grid(raw_pixels(image)), sheet.islands)
        self.refresh()
        return True

    def _puppet_changed(self) -> None:
        if self.isVisible():
            sheet = find(self.document.puppet.sheets, self.cut.sheet_id)
            if sheet is not None and sheet.grid is not None and (
                    (sheet.grid, sheet.islands) != (self.cut.grid, self.cut.islands)):
                self.cut.show_cut(sheet.grid, sheet.islands)
            self.refresh()

    # The sentence ---------------------------------------------------------------------------------

    def refresh(self) -> None:
        """Say how the sheet is cut."""
        sheet = find(self.document.puppet.sheets, self.cut.sheet_id)
        if sheet is None:
            return
        if self.reader.total:
            self.sentence.show_parts([Word(sheet.name, strong=True), Word(
                f"looking at cell {self.reader.done + 1} of {self.reader.total} · Esc stops it")])
            return
        cut, image = self.cut, self.cut.image
        mine = [frame.cell for clip in self.document.puppet.clips for frame in clip.frames
                if frame.cell.sheet == sheet.id]
        cut.used = frozenset(mine) & frozenset(cut.cells)
        parts: list[Part] = [
            Token(sheet.name, theme.INK, name="sheet", tip="Another sheet, or another file for it",
                  field=sheet_field(self.document.puppet, sheet, self._act_on_sheet)),
            Word(f"{image.width()}×{image.height()} px, drawn"), self._grain(sheet),
            Word("· cut by"),
            Token("islands" if cut.islands else "grid", theme.INDIGO, name="cut by",
                  field=choice_field(
                "islands" if cut.islands else "grid",
                [("a grid", "grid"), ("islands of what is drawn", "islands")],
                lambda kind: self._recut(islands=Islands() if kind == "islands" else None))),
        ]
        parts += self._island_words() if cut.islands else self._grid_words()
        parts += [
            Word(f"· drag over cells, or click a row{'; ● is in a clip' if cut.used else ''} ·"),
            Token("a clip from every row", theme.WOAD, quiet=True, name="every row",
                  field=self._rows_field()),
            Token(
                "directions…",
                theme.WOAD,
                quiet=True,
                name="directions",
                field=self._directions_field(),
                tip="A walking clip from each row or column, and an idle one from its first frame",
            ),
        ]
        if set(mine) - set(cut.cells):
            parts.append(
                Token(
                    "fit the clips to this cut",
                    theme.MADDER,
                    name="refit",
                    action=lambda: self.refit.emit(sheet.id),
                    tip="Find every frame again, by its pixels, then by its place",
                )
            )
        parts.append(Token("done", theme.INK, action=self.finished.emit, filled=True, name="done",
                           tip="Back (Esc)"))
        self.sentence.show_parts(parts)
        cut.update()

    def _grain(self, sheet: Sheet) -> Token:
        """Whether its pixels are to be seen."""
        guessed = "painted" if self.art.looks_painted(sheet.id) else "as pixels"
        return Token(sheet.drawn or guessed, theme.INDIGO, name="drawn", quiet=not sheet.drawn,
                     tip="Pixels are kept where it is shown larger, paint is smoothed"
                         + ("" if sheet.drawn else "; guessed from its colours"),
                     field=choice_field(sheet.drawn, [
                         (f"as its colours say: {guessed}", ""), ("as pixels", "as pixels"),
                         ("painted", "painted")], lambda drawn: self.document.edit(
                             "change how it is drawn", lambda now: changed(
                                 now, "sheets", sheet.id, drawn=drawn))))

    def _act_on_sheet(self, act: str) -> None:
        sheet = self.cut.sheet_id
        if act == REPLACE:
            self.replace_asked.emit(sheet)
        elif act == REMOVE:
            self.document.edit("remove sheet", lambda now: without(now, sheet))
            self.finished.emit()
        else:
            self.wanted.emit(act)

    def _grid_words(self) -> list[Part]:
        grid, image = self.cut.grid, self.cut.image
        columns, rows = grid_size(image.width(), image.height(), grid)

        def length(value: int, name: str, most: int, made: Callable[[int], Grid]) -> Token:
            return Token(str(value), theme.INDIGO, name=name, field=number_field(
                value, lambda number: self._recut(made(int(number))), int(name.startswith("cell")),
                most, 1))

        def count(value: int, name: str, across: bool) -> Token:
            def commit(number: float) -> None:
                size = (int(number), rows) if across else (columns, int(number))
                made = counted_grid(image.width(), image.height(), max(1, size[0]), max(1, size[1]),
                                    grid)
                self._recut(made)

            return Token(str(value), theme.INDIGO, name=name,
                         field=number_field(value, commit, 1,
                                            min(512, image.width() if across else image.height()),
                                            1))

        return [
            Word("of"), count(columns, "columns", True), Word("×"), count(rows, "rows", False),
            Word("cells,"),
            length(grid.cell_width, "cell width", image.width(),
                   lambda size: replace(grid, cell_width=size)), Word("×"),
            length(grid.cell_height, "cell height", image.height(),
                   lambda size: replace(grid, cell_height=size)), Word("px, margin"),
            length(grid.start[0], "margin", image.width() // 2, partial(with_start, grid, 0)),
            Word("×"),
            length(grid.start[1], "margin down", image.height() // 2, partial(with_start, grid, 1)),
            Word("gap"),
            length(grid.step[0] - grid.cell_width, "gap", image.width(),
                   partial(with_gap, grid, 0)), Word("×"),
            length(grid.step[1] - grid.cell_height, "gap down", image.height(),
                   partial(with_gap, grid, 1)),
        ]

    def _island_words(self) -> list[Part]:
        cut = self.cut
        assert cut.islands is not None
        return [
            Word("joined across"),
            Token(str(cut.islands.join), theme.INDIGO, name="join", field=number_field(
                cut.islands.join, lambda number: self._recut(islands=Islands(int(number))), 0, 200,
                1,
                "pixels between what is one figure")),
            Word(f"px → {len(cut.cells)} in {len(cut.rows)} rows"),
        ]

    def _recut(
        self, grid: Grid | None = None, islands: Islands | None = None, merge: bool = False
    ) -> None:
        self.cut.show_cut(grid or self.cut.grid, islands)
        sheet, made = self.cut.sheet_id, self.cut.grid
        self.document.edit("change cut",
                           lambda now: changed(now, "sheets", sheet, grid=made, islands=islands),
                           merge)
        self.refresh()

    def _grid_dragged(self, done: bool) -> None:
        sheet, made = self.cut.sheet_id, self.cut.grid
        self.document.edit("change cut", lambda now: changed(now, "sheets", sheet, grid=made),
                           self._merge)
        self._merge = not done
        self.refresh()

    # Making clips ---------------------------------------------------------------------------------

    def _ask_name(self) -> None:
        """Ask for the new clip's name right under the picked cells."""
        mine = [clip for clip in self.document.puppet.clips
                if any(frame.cell.sheet == self.cut.sheet_id for frame in clip.frames)]
        field = Field(
            "",
            self._make_clip,
            tuple(Suggestion(clip.name, ADD + clip.id, "add to it") for clip in mine),
            check=lambda text: None if text.strip() else "expected a name",
            hint=f"a name for the clip of these {len(self.cut.pick)} frames, or one to add them to",
        )
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
        pick = self.cut.pick
        self._look(pick, lambda drawn: self._clip_made(name, pick, drawn))

    def _look(self, cells: Sequence[Cell], then: Then) -> None:
        """Go on once it is known what is drawn in some cells."""
        self.reader.read(self.art.pages(self.cut.sheet_id), cells, then)

    def _clip_made(self, name: str, pick: tuple[Cell, ...], drawn: Mapping[Cell, Drawn]) -> None:
        clip = self.document.puppet.clip(name.removeprefix(ADD)) if name.startswith(ADD) else None
        if clip is not None:
            frames = [frame_like(clip, drawn, cell) for cell in pick]
            self.document.edit("add frames",
                               lambda now: frames_inserted(now, clip.id, frames, len(clip.frames)))
            self.desk.show_clip(clip.id, len(clip.frames))
        else:
            puppet, id = clip_from_cells(self.document.puppet, drawn, name.strip(), pick)
            self.document.edit("make clip", puppet)
            self.desk.show_clip(id)
        self.cut.pick = ()
        self.refresh()

    def _rows_field(self) -> Field:
        """The names of all rows in one line; Enter alone gives them numbers."""
        count = len(self.cut.rows)
        numbers = ", ".join(f"row {number + 1}" for number in range(count))
        usual = " ".join(USUAL_WORDS[:count])
        offers = [Suggestion(usual, usual, "the usual words")] if count <= len(USUAL_WORDS) else []
        offers.append(Suggestion(f"row 1 to row {count}", numbers, "by number"))
        return Field(
            "", self._every_row, tuple(offers), check=lambda text: rows_problem(text, count),
            hint=f"{count} name{'s' * (count != 1)} from the top, as: {usual}; - leaves a row out",
        )

    def _every_row(self, text: str) -> None:
        rows, names = self.cut.rows, named_rows(text)
        # The sheet may have been cut otherwise since it was asked.
        if problem := rows_problem(text, len(rows)):
            complain(self.window(), "The cut has changed since", problem)
            return
        self._look(self.cut.cells, lambda drawn: self._rows_made(names, rows, drawn))

    def _rows_made(
        self, names: Sequence[str], rows: Rows, drawn: Mapping[Cell, Drawn]
    ) -> None:
        puppet, first = self.document.puppet, ""
        for name, row in zip(names, rows, strict=True):
            if name:
                puppet, id = clip_from_cells(puppet, drawn, name, row)
                first = first or id
        self.document.edit("make clips of rows", puppet)
        self.desk.show_clip(first)
        self.finished.emit()

    # A sheet of directions ------------------------------------------------------------------------

    def _directions_field(self) -> Field:
        rows, columns = self.cut.rows, _turned(self.cut.rows)
        offers = [(pattern, pattern, "a row each") for pattern in suggested_patterns(len(rows))]
        if len(columns) in (2, 4, 8):
            offers += [(pattern, COLUMNS + pattern, "a column each")
                       for pattern in suggested_patterns(len(columns))]
        return Field("", self._make_directions, tuple(Suggestion(*offer) for offer in offers),
                     check=self._directions_fit,
                     hint="pick one, or type a pattern such as walk_{down,left,right,up}")

    def _directions_fit(self, text: str) -> str | None:
        pattern, rows = self._pattern_and_rows(text)
        try:
            names = expanded(pattern)
        except ValueError as error:
            return str(error)
        return (
            None if len(names) == len(rows) else f"expected {len(rows)} names, found {len(names)}"
        )

    def _pattern_and_rows(self, text: str) -> tuple[str, Rows]:
        if text.startswith(COLUMNS):
            return text.removeprefix(COLUMNS).strip(), _turned(self.cut.rows)
        return text.strip(), self.cut.rows

    def _make_directions(self, text: str) -> None:
        # The sheet may have been cut otherwise since it was offered: by an undo, or redrawn by
        # another program.
        problem = self._directions_fit(text)
        if problem is not None:
            complain(self.window(), "The cut has changed since", problem)
            return
        pattern, rows = self._pattern_and_rows(text)
        self._look(self.cut.cells, lambda drawn: self._directions_made(pattern, rows, drawn))

    def _directions_made(self, pattern: str, rows: Rows, drawn: Mapping[Cell, Drawn]) -> None:
        own = [under_all([drawn[cell].feet for cell in row]) for row in rows]
        pivot = pivot_like(self.document.puppet, rows[0][0]) or own[0]
        alike = len({(cell.width, cell.height) for row in rows for cell in row}) == 1
        marks = {cell: each.mark for cell, each in drawn.items() if each.mark is not None}
        pivots, bodies = [pivot] * len(rows) if alike else own, [drawn[row[0]].body for row in rows]
        puppet, ids = directions_added(self.document.puppet, pattern, rows, marks, pivots, bodies)
        self.document.edit("make clips of directions", puppet)
        self.desk.show_clip(ids[0])
        self.finished.emit()

    def _left(self, key: str) -> None:
        if self.reader.total:
            self.reader.cancel()
        else:
            self.left.emit()
            self.finished.emit()


def _turned(rows: Rows) -> Rows:
    """The columns of a cut, where all rows are as long."""
    return tuple(zip(*rows, strict=True)) if len({len(row) for row in rows}) == 1 else ()
