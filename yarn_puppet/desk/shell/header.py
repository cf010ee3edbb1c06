"""The thin header: the puppet, the pages in the order of the work, and the take with its
controls."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace

from msgspec import structs
from PyQt6.QtCore import QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QHBoxLayout, QMenu, QWidget

from ..session.document import Document
from ..session.run.pace import LEAST_SPEED, MOST_SPEED, SPEEDS
from ..session.run.player import Player
from ..widgets import buttons, theme
from ..widgets.buttons import PillButton, SignButton
from ..widgets.caption import Caption
from ..widgets.certain import sure
from ..widgets.painting import painting
from ..widgets.parts import Suggestion, number_field
from ..widgets.popup import TokenPopup

RATES = (30, 60, 120, 240)
MOST_RATE = 1000
SPEED_WORDS = {0.0625: "1/16×", 0.125: "⅛×", 0.25: "¼×", 0.5: "½×"}


def speed_words(speed: float) -> str:
    """A speed as it is shown."""
    return SPEED_WORDS.get(speed, f"{speed:g}×")


class Header(QWidget):
    """Says what is asked for; the window does it."""

    page_chosen = pyqtSignal(str)
    keys_asked = pyqtSignal()

    def __init__(
        self,
        document: Document,
        player: Player,
        pages: Iterable[str],
        parent: QWidget | None = None,
    ):
        super().__init__(parent)
        self.document, self.player = document, player
        self.setFixedHeight(41)
        row = QHBoxLayout(self)
        row.setContentsMargins(14, 0, 14, 2)
        row.setSpacing(3)
        self._add_pages(row, pages)
        row.addStretch(1)
        self._add_undo(row)
        self._add_take(row)
        self._add_time(row)
        document.puppet_changed.connect(self.refresh)
        document.world_changed.connect(self.refresh)
        document.skin_changed.connect(self.refresh)
        player.state_changed.connect(self.refresh)
        player.moved.connect(self._show_tick)
        self.refresh()

    def _add_pages(self, row: QHBoxLayout, pages: Iterable[str]) -> None:
        title = self.title = Caption("Yarn Puppet", font=theme.font(16, bold=True))
        row.addWidget(title)
        self.puppet = PillButton("puppet", size=15)
        self.puppet.setCheckable(False)
        self.puppet.setObjectName("puppet menu")
        self.puppet.setToolTip("New, open, save, undo")
        row.addWidget(self.puppet)
        self.skin = PillButton("skin", size=13.5)
        self.skin.setCheckable(False)
        self.skin.setObjectName("skin menu")
        self.skin.setToolTip("The skin on show. The graph and the wiring are everyone's")
        row.addWidget(self.skin)
        row.addSpacing(22)
        self.pages: dict[str, PillButton] = {}
        for name in pages:
            button = PillButton(name)
            button.clicked.connect(lambda _, name=name: self.page_chosen.emit(name))
            self.pages[name] = button
            row.addWidget(button)

    def _add_undo(self, row: QHBoxLayout) -> None:
        self.undo = SignButton("undo", buttons.undo_sign, "Undo")
        self.redo = SignButton("redo", buttons.redo_sign, "Redo")
        self.undo.clicked.connect(self.document.undo)
        self.redo.clicked.connect(self.document.redo)
        row.addWidget(self.undo)
        row.addWidget(self.redo)
        row.addSpacing(14)

    def _add_take(self, row: QHBoxLayout) -> None:
        player = self.player
        self.take = PillButton("take", size=13.5)
        self.take.setCheckable(False)
        self.take.setObjectName("take menu")
        row.addWidget(self.take)
        row.addSpacing(4)
        self.record = SignButton("record", buttons.record_sign,
                                 "Record a new take from the start (F6)")
        self.play = SignButton("play", buttons.play_sign, "Go on from the present, or pause (F5)")
        self.back = SignButton("step back", buttons.back_sign, "One tick back (F9)")
        self.step = SignButton("step", buttons.step_sign, "One tick on (F10)")
        for button in (self.record, self.play, self.back, self.step):
            row.addWidget(button)
        self.record.clicked.connect(player.restart)
        self.play.clicked.connect(player.toggle)
        self.back.clicked.connect(lambda: player.step(-1))
        self.step.clicked.connect(lambda: player.step(1))
        row.addSpacing(4)

    def _add_time(self, row: QHBoxLayout) -> None:
        self.speed = PillButton("1×", size=13.5)
        self.speed.setCheckable(False)
        self.speed.setObjectName("speed")
        self.speed.setToolTip("Playback speed. The ticks themselves stay the same")
        self.speed.clicked.connect(self._choose_speed)
        row.addWidget(self.speed)
        self.tick = Caption(font=theme.font(14, strong=True))
        self.tick.setObjectName("tick")
        self.tick.setFixedWidth(76)
        row.addWidget(self.tick)
        self.rate = PillButton("60 Hz", size=12)
        self.rate.setCheckable(False)
        self.rate.setObjectName("rate")
        self.rate.setToolTip("Rate: ticks in a second of the puppet")
        self.rate.clicked.connect(self._choose_rate)
        row.addWidget(self.rate)
        self.keys = PillButton("?", size=13.5)
        self.keys.setCheckable(False)
        self.keys.setObjectName("keys")
        self.keys.setAccessibleName("Keys of this page")
        self.keys.setToolTip("Keys of this page (F1)")
        self.keys.clicked.connect(self.keys_asked)
        row.addWidget(self.keys)

    def _choose_speed(self) -> None:
        number = number_field(self.player.speed, self.player.set_speed, LEAST_SPEED, MOST_SPEED,
                              0.05,
                              "times as fast: pick one, or type another")
        field = replace(number, suggestions=tuple(
            [Suggestion(speed_words(speed), f"{speed:g}") for speed in SPEEDS]))
        popup = TokenPopup(self.window(), field, theme.INDIGO)
        popup.open_at(self.speed)

    def _choose_rate(self) -> None:
        number = number_field(self.document.puppet.rate, self._set_rate, 1, MOST_RATE, 1,
                              "ticks in a second; kept takes stay at the rate they were made at")
        check = number.check
        assert check is not None
        field = replace(
            number, suggestions=tuple([Suggestion(f"{rate} Hz", str(rate)) for rate in RATES]),
            check=lambda text: check(text) or (None if float(text.replace(",", ".")).is_integer()
                                               else "expected a whole number"),
        )
        TokenPopup(self.window(), field, theme.INDIGO).open_at(self.rate)

    def _set_rate(self, rate: float) -> None:
        self.document.edit("rate", lambda now: structs.replace(now, rate=int(rate)))

    def refresh(self) -> None:
        """Show the names, what can be undone, and how the run goes."""
        history = self.document.history
        self.puppet.setText(f"{self.document.puppet.name}{' •' if self.document.unsaved else ''} ▾")
        self.puppet.setAccessibleName(f"puppet: {self.document.puppet.name}")
        self.puppet.updateGeometry()
        skin, wearing = self.document.skin, self.document.wearing
        self.skin.setVisible(bool(self.document.skins or wearing.problems))
        self.skin.setText(f"in {skin.name} ▾" if skin is not None else "no skin ▾")
        self.skin.setAccessibleName(f"skin: {skin.name if skin is not None else 'none'}")
        self.skin.updateGeometry()
        self.undo.setEnabled(history.undo_name is not None)
        self.undo.setToolTip(f"Undo {history.undo_name} (Ctrl+Z)"
                             if history.undo_name else "Nothing to undo")
        self.redo.setEnabled(history.redo_name is not None)
        self.redo.setToolTip(f"Redo {history.redo_name} (Ctrl+Shift+Z)"
                             if history.redo_name else "Nothing to redo")
        busy = self.player.progress is not None
        name = (
            "memory full: record a new take"
            if self.player.full
            else self.player.take_name or "untitled"
        )
        named = name if self.player.full else f"take {name}"
        self.take.setText("take running…" if busy else f"{named} ▾")
        self.take.setAccessibleName(f"take: {name}")
        self.take.updateGeometry()
        self.play.sign = buttons.pause_sign if self.player.playing else buttons.play_sign
        self.play.setAccessibleName("pause" if self.player.playing else "play")
        self.speed.setText(speed_words(self.player.speed))
        self.speed.setAccessibleName(f"speed: {self.speed.text()}")
        self.rate.setText(f"{self.document.puppet.rate} Hz")
        self.rate.setAccessibleName(f"rate: {self.rate.text()}")
        self.rate.update()
        self.play.update()
        self.speed.update()
        self._fit()
        self._show_tick()

    def resizeEvent(self, event: object) -> None:
        self._fit()

    def _fit(self) -> None:
        """Where there is too little room the pages move together, then the program's own name
        goes."""
        pills = [*self.pages.values(), self.puppet, self.skin, self.take, self.speed, self.rate,
                 self.keys]
        for tight, title in ((False, True), (True, True), (True, False)):
            for pill in pills:
                pill.make_tight(tight)
            self.title.setVisible(title)
            sure(self.layout()).invalidate()
            if sure(self.layout()).sizeHint().width() <= self.width():
                break

    def _show_tick(self) -> None:
        self.tick.setText(f"tick {self.player.tick:04d}")
        self.tick.set_color(theme.MADDER if self.player.head is not None else theme.INK)

    def show_page(self, name: str) -> None:
        """Mark the page on show."""
        for each, button in self.pages.items():
            button.setChecked(each == name)

    def menu_at(self, button: PillButton, actions: list[QAction | None]) -> None:
        """Open a menu under one of the two names; None is a dividing line."""
        menu = theme.dressed(QMenu(self))
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        for action in actions:
            if action is None:
                menu.addSeparator()
            else:
                menu.addAction(action)
        menu.popup(button.mapToGlobal(button.rect().bottomLeft()))

    def paintEvent(self, event: object) -> None:
        with painting(self) as painter:
            painter.fillRect(self.rect(), theme.PAPER)
            painter.setPen(theme.pen(theme.SEAM, 2, (3, 2)))
            y = QRectF(self.rect()).bottom() - 1
            painter.drawLine(0, int(y), self.width(), int(y))
