"""Crossings: from × to. Who may go where, through which group, in what order; and for each state
what ends it."""

from __future__ import annotations

from functools import partial
from math import ceil, floor

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QMouseEvent, QPainter
from PyQt6.QtWidgets import QWidget

from ....core.engine.program import Program
from ....core.model.edits import ready_made as edits
from ....core.model.graph import Transition
from ....core.model.puppet import Puppet
from ...session.document import Document
from ...session.run.player import Player
from ...widgets import theme
from ...widgets.dialogs import plain
from ...widgets.key_table import KeyLine, stepped
from ...widgets.things import Thing
from ...widgets.view import DrawnView, distance
from ..sentences.conditions import Terms
from ..showing import Showing
from .crossings_drawing import HEAD, SIDE, CellPictures, Mark, draw_names
from .ways import Way, Ways

LEAST, MOST = 11.0, 26.0
LINE = 19.0
LEAN = 40.0
"""How far the name over the last column leans out beside it."""


class CrossingsView(DrawnView):
    """A click on a cell goes to its transition; a drag along a row leads that state to each; a name
    says what ends it."""

    chosen = pyqtSignal(str, str)

    def __init__(
        self, document: Document, showing: Showing, player: Player, parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self.document, self.showing, self.player = document, showing, player
        self.setAccessibleName("Crossings")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self._ways, self._pictures = Ways(document.puppet, self._compiled), CellPictures()
        self._press: tuple[QPointF, int, int] | None = None
        self._at: tuple[int, int] | None = None
        document.puppet_changed.connect(self._resize)
        document.selection_changed.connect(self._resize)
        showing.changed.connect(self._resize)
        self._resize()

    # What is shown --------------------------------------------------------------------------------

    @property
    def states(self) -> list[str]:
        """The states of the layer, band by band."""
        return self._ways.states(self.document.puppet, self.showing.layer)

    def _compiled(self, puppet: Puppet) -> Program | None:
        """What the run on show was compiled to, where it is of this puppet."""
        setup = self.player.recording.setup
        return setup.program if setup.puppet is puppet else None

    @property
    def cells(self) -> dict[tuple[str, str], list[Way]]:
        """The ways from a state to a state, where there are any."""
        return {(state, end): ways for state in self.states
                for end, ways in self._row(state).items()}

    def _row(self, state: str) -> dict[str, list[Way]]:
        return self._ways.row(self.document.puppet, state)

    def ways_out(self, state: str) -> list[Way]:
        """Every transition that a state can take, in the order of trying, with its owner."""
        return self._ways.of(self.document.puppet, state)

    @property
    def cell_size(self) -> float:
        """The side of a cell, in whole pixels: so all cells of one look are one picture."""
        room = (self.width() - SIDE - LEAN) // max(1, len(self.states))
        return max(LEAST, min(MOST, room))

    def cell(self, row: int, column: int) -> QRectF:
        """Where a cell is."""
        size = self.cell_size
        return QRectF(SIDE + column * size, HEAD + row * size, size, size)

    def name_area(self, row: int) -> QRectF:
        """Where the name of a row is."""
        return QRectF(4, HEAD + row * self.cell_size, SIDE - 8, self.cell_size)

    def _resize(self) -> None:
        if self.showing.kind != "crossings":
            return
        count = len(self.states)
        listed = len(self.ways_out(self._chosen_state())) + 2 if self._chosen_state() else 1
        self.setMinimumSize(int(SIDE + count * LEAST + LEAN),
                            int(HEAD + count * self.cell_size + 20 + listed * LINE))
        self.update()

    def _chosen_state(self) -> str:
        kind, id = self.document.selection or ("", "")
        transition = self.document.puppet.transition(id) if kind == "transition" else None
        id = transition.source if transition is not None else id
        return id if id in self.states else ""

    # Drawing --------------------------------------------------------------------------------------

    def draw(self, painter: QPainter) -> None:
        states = self.states
        self._ways.follow(self.document.puppet)
        if not states:
            theme.draw_text(painter, 12, 26, "No state on this layer yet.",
                            theme.font(13, italic=True), theme.QUIET)
            return
        size, chosen = self.cell_size, self._chosen_state()
        rows, columns = self._in_sight(size, len(states))
        theme.draw_text(painter, 8, HEAD - 8, "from ↓   to →", theme.font(12), theme.QUIET)
        # Names over the columns lean to the right: those of a few before are in sight too.
        leaning = range(max(0, columns.start - ceil(HEAD / size)), columns.stop)
        for number in sorted({*rows, *leaning}):
            state = states[number]
            draw_names(painter, number, self._ways.index.states[state].name, self._color(state),
                       state == chosen, size)
        self._draw_grid(painter, rows, columns, size)
        for row in rows:
            self._draw_row(painter, states, row, columns, size)
        pointed = self._at is not None and max(self._at) < len(states)
        through = (
            self._row(states[self._at[0]]).get(states[self._at[1]], [])
            if pointed and self._at
            else []
        )
        y = HEAD + len(states) * size + 22
        if chosen:
            self._draw_ends(painter, chosen, y, through)
        else:
            theme.draw_text(painter, 10, y,
                            "Click a name to see what ends that state; drag along a row to lead it"
                            " to several.", theme.font(12.5, italic=True), theme.QUIET)
        self.draw_focus(painter)

    def _in_sight(self, size: float, count: int) -> tuple[range, range]:
        """The rows and the columns that are in sight: of a thousand states there are a million
        cells."""
        def span(first: float, last: float, origin: float) -> range:
            return range(max(0, floor((first - origin) / size)),
                         min(count, ceil((last - origin) / size)))

        return span(self.seen.top(), self.seen.bottom(), HEAD), span(
            self.seen.left(), self.seen.right(), SIDE)

    def _draw_grid(self, painter: QPainter, rows: range, columns: range, size: float) -> None:
        """The cells without what is in them."""
        left, right = SIDE + columns.start * size, SIDE + columns.stop * size
        top, bottom = HEAD + rows.start * size, HEAD + rows.stop * size
        painter.fillRect(QRectF(left, top, right - left, bottom - top), theme.PAPER)
        for row in rows:
            for column in columns if self._press is not None and self._press[1] == row else (row,):
                covered = self._is_covered(row, column)
                if covered or (row == column and column in columns):
                    painter.fillRect(QRectF(SIDE + column * size, HEAD + row * size, size, size),
                                     theme.tint(theme.WOAD, 0.25)
                                     if covered else theme.tint(theme.SEAM, 0.5))
        # Filled: lines that are smoothed and seen through take ten times as long.
        line = theme.with_alpha(theme.SEAM, 104)
        for row in range(rows.start, rows.stop + 1):
            painter.fillRect(QRectF(left, HEAD + row * size, right - left, 1), line)
        for column in range(columns.start, columns.stop + 1):
            painter.fillRect(QRectF(SIDE + column * size, top, 1, bottom - top), line)

    def _draw_row(
        self, painter: QPainter, states: list[str], row: int, columns: range, size: float
    ) -> None:
        """The cells of a row that have something in them."""
        found, marks = self._row(states[row]), []
        for column in columns:
            ways = found.get(states[column])
            if ways:
                marks.append(Mark(column, self._color(states[column]).rgb(),
                                  ways[0].owner in self._ways.index.states,
                                  str(ways[0].order) + ("+" if len(ways) > 1 else "")))
        self._pictures.draw(painter, marks, HEAD + row * size, size)

    def _draw_ends(self, painter: QPainter, state: str, y: float, through: list[Way]) -> None:
        names, terms = {node.id: node.name for node in self.document.puppet.nodes}, Terms(
            self.document.puppet)
        x = theme.draw_text(painter, 10, y, "What ends ", theme.font(13), theme.QUIET)
        theme.draw_text(painter, x, y, names[state], theme.font(13, strong=True), theme.INK)
        for number, way in enumerate(self.ways_out(state)):
            y += LINE
            each = way.transition
            words = terms.words(each.when)
            if each.leave.kind != "any time":
                words += f" · {each.leave.window + ' window' if each.leave.kind == 'in a window' else each.leave.kind}"  # noqa: E501
            owner = "" if way.owner == state else f" · through {names.get(way.owner, way.owner)}"
            owner += ", tried before its own" if each.overrides else ""
            strong = way in through
            x = theme.draw_text(painter, 16, y, f"{number + 1}", theme.font(12.5, strong=True),
                                theme.QUIET) + 8
            x = theme.draw_text(painter, x, y, f"→ {names.get(each.target, each.target)}",
                                theme.font(13, strong=True), self._color(each.target)) + 10
            theme.draw_text(painter, x, y, words + owner, theme.font(12.5, italic=strong),
                            theme.INK,
                            self.width() - x - 10)

    def _color(self, node: str) -> QColor:
        group = self._ways.index.groups.get(self._ways.index.outermost(node) or "")
        return theme.THREADS[group.thread] if group is not None else theme.FAINT

    def _is_covered(self, row: int, column: int) -> bool:
        if self._press is None or self._at is None or self._press[1] != row:
            return False
        first, last = sorted((self._press[2], self._at[1]))
        return first <= column <= last and (first != last or self._at == (row, column))

    # Hands ----------------------------------------------------------------------------------------

    def _place(self, at: QPointF) -> tuple[int, int] | None:
        """The row and column at a point, -1 for the names before the first column."""
        size, count = self.cell_size, len(self.states)
        row, column = int((at.y() - HEAD) // size), max(-1, int((at.x() - SIDE) // size))
        return (row, column) if 0 <= row < count and column < count and at.y() >= HEAD else None

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        self.setFocus()
        place = self._place(event.position())
        self._press = (event.position(), *place) if place is not None and place[1] >= 0 else None
        self._at = place if self._press else None
        self.update()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        place = self._place(event.position())
        self._at = place if place is not None and place[1] >= 0 else None
        states = self.states
        ways = self._row(states[place[0]]).get(states[place[1]], []) if self._at and place else ()
        described = (
            self._description(states[place[0]], states[place[1]], list(ways))
            if self._at and place
            else ""
        )
        self.setToolTip(plain(described))
        self.update()

    def _description(self, source: str, target: str, ways: list[Way]) -> str:
        names = {node.id: node.name for node in self.document.puppet.nodes}
        if not ways:
            return f"{names[source]} does not go to {names[target]}"
        lines = []
        for way in ways:
            words = Terms(self.document.puppet).words(way.transition.when)
            through = "" if way.owner == source else f", through {names.get(way.owner, way.owner)}"
            lines.append(f"{names[source]} → {names[target]}: {words}{through}, tried {way.order}.")
        return "\n".join(lines)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        press, self._press = self._press, None
        place = self._place(event.position())
        states = self.states
        if place is not None and (place[1] < 0 or press is None):
            self.chosen.emit("state", states[place[0]])
        elif press is not None and distance(event, press[0]) > 6 and self._at is not None:
            self._fill(press[1], press[2], self._at[1])
        elif press is not None:
            ways = self._row(states[press[1]]).get(states[press[2]], [])
            if ways:
                self.chosen.emit("transition", ways[0].transition.id)
            elif press[1] != press[2]:
                self._fill(press[1], press[2], press[2])
        self.update()

    def _fill(self, row: int, first: int, last: int) -> None:
        """Ways from one state to all that the drag covered, like the one it began at if there is
        one."""
        states = self.states
        source = states[row]
        covered = [state for state in states[min(first, last):max(first, last) + 1]
                   if not self._row(source).get(state)]
        begun = self._row(source).get(states[first], [])
        like = begun[0].transition if begun else Transition("new", source, source)
        before = self.document.puppet
        self.document.edit("fill row", lambda now: edits.ways_copied(now, like, [source], covered))
        if self.document.puppet is not before:
            self.chosen.emit("transition", self.document.puppet.transitions[-1].id)

    def things(self) -> list[Thing]:
        names = {node.id: node.name for node in self.document.puppet.nodes}
        return [Thing(f"from {names.get(state, state)}", ", ".join(
            f"to {names.get(target, target)}: {len(ways)}"
            for target, ways in self._row(state).items()) or "no way",
            self.name_area(number), state == self._chosen_state(),
            partial(lambda state: self.chosen.emit("state", state), state))
            for number, state in enumerate(self.states)]

    def key_lines(self) -> tuple[KeyLine, ...]:
        return (KeyLine(("Up", "Down"), "the state above or below", lambda key: self.chosen.emit(
            "state", stepped(self.states, self._chosen_state(), key)), lambda: bool(self.states)),)
