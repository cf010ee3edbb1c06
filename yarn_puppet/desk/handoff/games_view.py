"""The games on the live wire, a row each. A click watches one."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QMouseEvent, QPainter
from PyQt6.QtWidgets import QWidget

from ...core.wire.hub import Row
from ..widgets import theme
from ..widgets.dialogs import plain
from ..widgets.key_table import KeyLine
from ..widgets.things import Thing
from ..widgets.view import DrawnView
from .wire_desk import WireDesk

ROW = 27.0
AT_NAME, AT_MODE, AT_WORDS = 26.0, 104.0, 170.0


class GamesView(DrawnView):
    """Whether a game is there, what it does, and whether all is equal; × lets go of one that went
    away."""

    def __init__(self, wire: WireDesk, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.wire = wire
        self.current = 0
        self.setAccessibleName("Games on the live wire")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        wire.changed.connect(self.refresh)
        self.refresh()

    def refresh(self) -> None:
        """Show the games as they stand."""
        rows = self.wire.rows
        self.setMinimumHeight(int(max(1, len(rows)) * ROW + 4))
        self.setAccessibleDescription("; ".join(
            f"{row.name} {mode_words(row)}, {row_words(row)}" for row in rows))
        self.update()

    def row(self, number: int) -> QRectF:
        """Where a game's row is."""
        return QRectF(2, 2 + number * ROW, self.width() - 4, ROW - 1)

    def dismissing(self, number: int) -> QRectF:
        """Where a game that went away is let go of."""
        row = self.row(number)
        return QRectF(row.right() - 24, row.y(), 24, row.height())

    def things(self) -> list[Thing]:
        return [Thing(f"game {each.name}", f"{mode_words(each)}, {row_words(each)}",
                      self.row(number),
                      number == self.current) for number, each in enumerate(self.wire.rows)]

    def draw(self, painter: QPainter) -> None:
        rows = self.wire.rows
        if not rows:
            said = (
                "no game yet: one that is started finds the desk by itself"
                if self.wire.address
                else ("off: nothing listens")
            )
            theme.draw_text(painter, 10, 19, said, theme.font(13, italic=True), theme.QUIET,
                            self.width() - 20)
        for number, each in enumerate(rows):
            rect = self.row(number)
            watched = each.number == self.wire.watched
            if watched or (self.hasFocus() and number == self.current):
                painter.setPen(theme.pen(theme.INDIGO, 1.4 if watched else 1.0,
                                         None if watched else (2, 2)))
                painter.setBrush(theme.WHITE if watched else Qt.BrushStyle.NoBrush)
                painter.drawRoundedRect(rect.adjusted(0.5, 0.5, -0.5, -0.5), 6, 6)
            self._draw_game(painter, rect, each)
            if not each.here:
                theme.draw_text(painter, self.dismissing(number).x() + 7, rect.center().y() + 5,
                                "×", theme.font(15),
                                theme.QUIET)
        self.draw_focus(painter, 8)

    def _draw_game(self, painter: QPainter, rect: QRectF, each: Row) -> None:
        middle = rect.center().y()
        color = row_color(each)
        painter.setPen(theme.pen(color, 1.6))
        painter.setBrush(color if each.here else Qt.BrushStyle.NoBrush)
        painter.drawEllipse(QPointF(rect.x() + 12, middle), 4.5, 4.5)
        theme.draw_text(painter, rect.x() + AT_NAME - 2, middle + 4.5, each.name,
                        theme.font(13, strong=True),
                        theme.INK, AT_MODE - AT_NAME - 6)
        theme.draw_text(painter, rect.x() + AT_MODE - 2, middle + 4.5, mode_words(each),
                        theme.font(13, strong=True),
                        theme.INDIGO, AT_WORDS - AT_MODE - 4)
        bad = each.differs >= 0 or bool(each.trouble)
        theme.draw_text(painter, rect.x() + AT_WORDS - 2, middle + 4.5, row_words(each),
                        theme.font(12.5),
                        theme.MADDER if bad else theme.QUIET,
                        rect.width() - AT_WORDS - (26 if not each.here else 6))

    def _pressed(self, number: int) -> None:
        game = self.wire.rows[number]
        self.current = number
        self.wire.watch(0 if game.number == self.wire.watched else game.number)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        self.setFocus()
        for number, each in enumerate(self.wire.rows):
            if not each.here and self.dismissing(number).contains(event.position()):
                self.wire.dismiss(each.number)
                return
            if self.row(number).contains(event.position()):
                self._pressed(number)
                return

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        said = [row_words(each) for number, each in enumerate(self.wire.rows)
                if self.row(number).contains(event.position())]
        self.setToolTip(plain(said[0]) if said else "")

    def key_lines(self) -> tuple[KeyLine, ...]:
        def has_games() -> bool:
            self.current = max(0, min(len(self.wire.rows) - 1, self.current))
            return bool(self.wire.rows)

        return (
            KeyLine(("Up", "Down"), "the game above or below", self._along, has_games),
            KeyLine(("Return", "Space"), "watch it, or stop watching",
                    lambda key: self._pressed(self.current),
                    has_games),
            KeyLine(("Del",), "let go of a game that went", lambda key: self.wire.dismiss(
                self.wire.rows[self.current].number),
                lambda: has_games() and not self.wire.rows[self.current].here),
        )

    def _along(self, key: str) -> None:
        self.current = max(0, min(len(self.wire.rows) - 1,
                                  self.current + (1 if key == "Down" else -1)))
        self.update()


def mode_words(row: Row) -> str:
    """What a game does with the puppet."""
    return "is driven" if row.mode == "drive" else "follows"


def row_color(row: Row) -> QColor:
    """A game's dot."""
    if row.differs >= 0:
        return theme.MADDER
    return (
        theme.WELD
        if row.silent or row.trouble
        else theme.MOSS
        if row.mode == "drive"
        else theme.WOAD
    )


def row_words(row: Row) -> str:
    """What is to be said of a game, the worst first."""
    ticks = f"{row.ticks:,} tick{'s' * (row.ticks != 1)}"
    if row.differs >= 0:
        said = f"differs from tick {row.differs:,} on, in {' and '.join(row.parts)}"
        said += "" if row.same else "; its code was made of another puppet"
    elif row.trouble:
        said = row.trouble
    elif row.mode == "drive":
        said = f"the desk runs the puppet for it; {ticks}"
    else:
        code = f"its own {row.code} code" if row.code else "its own code"
        equal = f"{ticks}, all equal" if row.compared else f"{ticks}, nothing to compare"
        said = (
            f"runs {code}; {equal}" if row.same else f"{equal}; its code was made of another puppet"
        )
    if row.full:
        said += "; too long to be kept, until its puppet begins again"
    if not row.here:
        return f"went away · {said}"
    return f"silent · {said}" if row.silent else said
