"""The Booth page: sentences, the world to paint on, the mover's numbers, and what is reported."""

from __future__ import annotations

from pathlib import Path

from msgspec.structs import replace
from PyQt6.QtCore import QEvent, QObject, Qt, QTimer
from PyQt6.QtGui import QMouseEvent, QWheelEvent
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from ....core.booth.booth import booth_senses
from ....core.booth.move_input import move_input_of
from ....core.booth.senses import SENSES
from ....core.model.edits import worlds as edits
from ....core.model.puppet import Puppet
from ....core.model.starter import BOOTH_SENSES, MORE_SENSES
from ....core.model.wiring import Sense
from ....core.model.world import World
from ...pictures.art import Art
from ...session.booths import Booths
from ...session.document import Document
from ...session.kept_takes import KeptTakes
from ...session.run.player import Player
from ...widgets import theme
from ...widgets.panel import Panel, QuietLine, scrolling
from ...widgets.parts import Part, Token, Word, many_field
from ...widgets.sentence import Sentence
from ..opponents_drawing import CastArt
from .brushes import BRUSHES, FROM_ABOVE, tile_word, word_of
from .editing import Painting
from .keys import PaintKeys
from .mover_sentences import mover_sentences, said
from .tile_sentence import cell_sentence
from .tile_sheet import TileSheet
from .view import PaintView
from .world_sentence import (
    booth_sentence,
    brush_sentence,
    place_words,
    thing_sentence,
)

REPORTS_SHOWN = 6


class BoothPage(QWidget):
    """Made of sentences and one view. What is edited is the booth, and the puppet's mover."""

    def __init__(
        self,
        document: Document,
        booths: Booths,
        kept: KeptTakes,
        player: Player,
        art: Art,
        cast_art: CastArt,
        folder: Path,
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self.document, self.booths, self.player = document, booths, player
        self.view = PaintView(document, booths, player, art, cast_art, folder)
        self.painting = Painting(document, booths, self.view, folder, lambda: kept.takes)
        self.view.brush_keys = PaintKeys(self.painting).lines
        self.painting.changed.connect(self.refresh)
        self.painting.pointed.connect(self.show_place)
        self.view.installEventFilter(self)
        self.booth, self.brushes, self.thing = Sentence(), Sentence(background=False), Sentence()
        self.tiles = TileSheet()
        self.tiles.chosen.connect(lambda: self.painting.choose_cell(self.tiles.cell))
        self.place = QuietLine()
        self.place.setFixedHeight(20)
        self.lines = QWidget()
        self.column = QVBoxLayout(self.lines)
        self.column.setContentsMargins(0, 0, 0, 0)
        self.column.setSpacing(0)
        self.sentences: list[Sentence] = []
        self.reports = Sentence(background=False)
        self._numbers = scrolling(self.lines)
        self._shown: tuple[object, ...] = ()
        self._reported: tuple[object, ...] = ()
        panel = Panel(self.booth, self.brushes, self.tiles, self.thing, self.place, self.view,
                      self._numbers)
        self._numbers.setMinimumHeight(60)
        # The numbers take what they need, as far as there is room; the world has the rest.
        panel.column.setStretchFactor(self.view, 1)
        panel.column.setStretchFactor(self._numbers, 100)
        panel.column.setSpacing(2)
        whole = QVBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.addWidget(panel)
        document.puppet_changed.connect(self.refresh)
        document.world_changed.connect(self.refresh)
        document.replaced.connect(self._another)
        art.arrived.connect(self.pictures_changed)
        player.seen.connect(self._show_reports)

    # What is shown --------------------------------------------------------------------------------

    def refresh(self) -> None:
        """Show the booth and the mover as they are, where they differ; on a page that is not on
        show, once it is."""
        if not self.isVisible():
            return
        puppet, world = self.document.puppet, self.booths.world
        shown = (puppet.mover, puppet.intents, puppet.senses, puppet.rate, puppet.booth, world,
                 self.view.brush, self.painting.cell,
                 self.view.chosen, self.booths.problem)
        if shown == self._shown:
            return
        another = not self._shown or self._shown[4] != puppet.booth
        self._shown = shown
        if world.from_above and self.view.brush not in FROM_ABOVE:
            self.view.brush = "brick"
        if self.view.brush == "cell" and not world.tiles:
            self.view.brush = "brick"
        self.booth.show_parts(booth_sentence(self.painting))
        self.brushes.show_parts(brush_sentence(self.painting))
        self.show_tiles()
        thing = thing_sentence(self.painting) or cell_sentence(self.painting)
        self.thing.setVisible(thing is not None)
        self.thing.show_parts(thing or [])
        self._show_lines(mover_sentences(self.document, world))
        self.show_place()
        if another:
            self.view.chosen = None
            self.view.fit()
        self.view.update()

    def showEvent(self, event: object) -> None:
        self.refresh()
        self._show_reports()

    def show_tiles(self) -> None:
        """Show the booth's picture of tiles as it is now."""
        world = self.booths.world
        picture = self.view.dummies.picture(world.tiles)
        if picture is None and world.tiles and self.view.art.busy:
            # It is on its way: what was there stays till then.
            return
        looks = tuple([(tile_word(look.tile), look) for look in world.looks])
        self.tiles.show_tiles(picture, world, looks,
                              self.view.brush == "cell")

    def pictures_changed(self) -> None:
        """Pictures are there, or others."""
        self.show_tiles()
        self.view.update()

    def _show_lines(self, lines: list[list[Part]]) -> None:
        while len(self.sentences) < len(lines):
            sentence = Sentence(background=False)
            self.sentences.append(sentence)
            self.column.insertWidget(len(self.sentences) - 1, sentence)
        if self.column.indexOf(self.reports) < 0:
            self.column.addWidget(self.reports)
            self.column.addStretch(1)
        for number, sentence in enumerate(self.sentences):
            sentence.setVisible(number < len(lines))
            if number < len(lines) and list(sentence.parts) != lines[number]:
                sentence.show_parts(lines[number])
        self._reported = ()
        self._show_reports()
        self._make_room()

    def resizeEvent(self, event: object) -> None:
        # The sentences are wrapped again only after the page has its size.
        QTimer.singleShot(0, self._make_room)

    def _make_room(self) -> None:
        """The numbers get the room they need, as far as the world keeps enough to be painted in."""
        needed = sum(each.minimumHeight()
                     for each in (*self.sentences, self.reports) if not each.isHidden())
        self._numbers.setMaximumHeight(needed + 2)

    def _show_reports(self) -> None:
        """What the world reports now: those the puppet reads, and how many more it could."""
        if not self.isVisible():
            return
        record, puppet = self.player.shown, self.document.puppet
        booth = self.player.booth_shown
        if booth is None:
            return
        asked = (
            move_input_of(puppet, record.controls.down, record.controls.axes)
            if record is not None
            else move_input_of(puppet, frozenset())
        )
        values = dict(zip(SENSES, booth_senses(booth, asked), strict=True))
        read = [sense for sense in puppet.senses if sense.id in values]
        # What says something now comes first; what is false, or zero, tells least.
        first = sorted(read, key=lambda sense: not values[sense.id] or values[sense.id] == "none")[
            :REPORTS_SHOWN]
        shown = tuple((sense.name, said(values[sense.id])) for sense in read if sense in first)
        more = [sense for sense in (*BOOTH_SENSES, *MORE_SENSES)
                if sense.id not in {each.id for each in read}]
        if (shown, len(more)) == self._reported:
            return
        self._reported = (shown, len(more))
        parts: list[Part] = [Word("Reports", strong=True)]
        parts += [Token(f"{name} {value}", theme.WOAD, name=f"report {name}",
                        tip="What the world tells the graph") for name, value in shown]
        rest = len(read) - len(shown)
        if rest:
            parts.append(Word(f"{rest} more"))
        if more:
            parts.append(Token(f"{len(more)} not read…", theme.WOAD, name="more senses", quiet=True,
                               field=many_field(
                lambda: [(sense.name, sense.id) for sense in more], self._read,
                "let the puppet read one more sense")))
        self.reports.show_parts(parts)

    def _read(self, id: str) -> None:
        sense = next(each for each in (*BOOTH_SENSES, *MORE_SENSES) if each.id == id)
        self.document.edit(f"read {sense.name}",
                           lambda now: with_sense(now, sense, self.booths.world))

    def show_place(self) -> None:
        """What the brush does, and what is under the pointer; or what is wrong with the booth's
        file."""
        if self.booths.problem is not None:
            self.place.setText(f"{self.booths.problem} · {self.booths.world.name} stands in for it")
            return
        cell, world = self.view.cell, self.booths.world
        missing = self.booths.opponents.missing(world)
        if missing and cell is None:
            self.place.setText(f"{' and '.join(missing)} cannot be read: the puppet itself stands "
                               "in for it")
            return
        under = (
            place_words(world, cell, word_of(edits.look(world, *cell))) if cell is not None else ""
        )
        self.place.setText(f"{BRUSHES[self.view.brush].says}{f'   {under}' if under else ''}")

    def _another(self) -> None:
        self.view.chosen, self._shown = None, ()

    # What is done ---------------------------------------------------------------------------------

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        """The view only draws; what happens on it is done here."""
        if isinstance(event, QMouseEvent):
            does = {
                QEvent.Type.MouseButtonPress: self.painting.press,
                QEvent.Type.MouseMove: self.painting.move,
                QEvent.Type.MouseButtonRelease: self.painting.release,
            }.get(event.type())
            if does is not None:
                if event.type() == QEvent.Type.MouseButtonPress:
                    self.view.setFocus(Qt.FocusReason.MouseFocusReason)
                does(event)
                return True
        elif isinstance(event, QWheelEvent):
            self.painting.wheel(event)
            return True
        elif event is not None and event.type() == QEvent.Type.KeyPress:
            self.view.update()
        elif event is not None and event.type() == QEvent.Type.Leave:
            self.view.cell = None
            self.show_place()
            self.view.update()
        return False


def with_sense(puppet: Puppet, sense: Sense, world: World) -> Puppet:
    """The puppet with one more sense; `zone` gets the names of the zones there are."""
    if sense.id == "zone":
        sense = replace(sense, choices=("", *dict.fromkeys(zone.name for zone in world.zones)))
    return puppet if any(each.id == sense.id for each in puppet.senses) else replace(
        puppet, senses=(*puppet.senses, sense))
