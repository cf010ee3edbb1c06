"""What is chosen on the Takes page, and what is done to it."""

from __future__ import annotations

from PyQt6.QtCore import QObject, pyqtSignal

from ...core.formats.errors import FileProblem
from ...core.model.promise import Promise
from ...core.model.take import Take
from ...core.model.world import World
from ...core.takes.promising.promises import promise_words
from ...core.takes.promising.suggesting import promises_from
from ..pictures.feet import FeetOfClips
from ..session.document import Document
from ..session.files.takes_to_write import title_of
from ..session.kept_takes import KeptTakes, Since
from ..session.run.player import Player
from .measuring import Measuring
from .promise_sentence import changed

LONGEST_OFFERED = 4000
"""Ticks of a run up to which promises are made of what just happened."""
SHOWS = ("promises", "rates 30 60 120 240", "measured")
"""What can be shown of the take that is chosen."""


class TakesDesk(QObject):
    """The file of the take that is `current`, what of it is shown, and since when changes are
    told."""

    changed = pyqtSignal()
    another_chosen = pyqtSignal()

    def __init__(
        self, document: Document, kept: KeptTakes, player: Player, feet: FeetOfClips
    ) -> None:
        super().__init__()
        self.document, self.kept, self.player = document, kept, player
        self.current = ""
        self.shows = SHOWS[0]
        self.since: Since = "the last edit"
        self.measuring = Measuring(player, feet, self)
        self.measuring.changed.connect(self.changed)
        self._offered: tuple[Promise, ...] = ()
        document.replaced.connect(self._another)
        kept.renamed.connect(self._renamed)

    def _renamed(self, names: dict[str, str]) -> None:
        self.current = names.get(self.current, self.current)

    def _another(self) -> None:
        self.current = ""
        self.changed.emit()

    @property
    def take(self) -> Take | None:
        """The take that is chosen."""
        return self.kept.takes.get(self.current)

    @property
    def world(self) -> World | None:
        """The booth of the take that is chosen."""
        try:
            return self.kept.world_of(self.take) if self.take is not None else None
        except FileProblem:
            return None

    # Takes ----------------------------------------------------------------------------------------

    def choose(self, file: str) -> None:
        """Show a take: in the booth, the trace and below its strip."""
        self.current = file
        take, world = self.take, self.world
        if (
            take is not None
            and self.player.take_file != file
            and take.rate == self.document.puppet.rate
            and (take.booth is None or world is not None)
        ):
            self.player.open_take(take, title_of(file), world, file)
        if self.shows.startswith("rates"):
            self.kept.show_rates(file)
        self.changed.emit()
        self.another_chosen.emit()

    def show_what(self, shows: str) -> None:
        """Promises and what changed, the other rates, or what is measured."""
        self.shows = shows
        self.kept.show_rates(self.current if shows.startswith("rates") else "")
        self.measuring.wanted = shows == "measured"
        self.measuring.measure()
        self.changed.emit()

    def compare_with(self, since: Since) -> None:
        """Tell what changed by the last edit, or since the reference."""
        self.since = since
        self.changed.emit()

    def next_name(self) -> str:
        """A name for the next piece that is kept."""
        return f"take {len(self.kept.takes) + 1}"

    def keep(self, name: str) -> None:
        """Keep the part of the trace that is marked."""
        self.current = self.kept.keep(self.player.piece(*self.player.span), name)
        self.changed.emit()

    def rename(self, file: str, name: str) -> None:
        """Give a take another name."""
        new = self.kept.rename(file, name)
        if self.player.take_file == file:
            self.player.take_file, self.player.take_name = new, title_of(new)
        self.current = new
        self.changed.emit()

    def loop(self) -> None:
        """Play what is recorded round and round, or stop that."""
        self.player.set_looping(not self.player.looping)

    def look_at(self, tick: int) -> None:
        """Look at a tick."""
        self.player.pause()
        self.player.seek(tick)

    # Promises -------------------------------------------------------------------------------------

    def promises(self, file: str) -> tuple[Promise, ...]:
        """The promises of a take; none of one that was taken away while a field of it was open."""
        take = self.kept.takes.get(file)
        return take.promises if take is not None else ()

    def add(self, file: str, promise: Promise) -> None:
        """Promise one thing more."""
        self.kept.set_promises(file, (*self.promises(file), promise), "add promise")

    def put(self, file: str, number: int, **values: object) -> None:
        """Change a promise."""
        promises = list(self.promises(file))
        if number < len(promises):
            promises[number] = changed(promises[number], **values)
            self.kept.set_promises(file, tuple(promises))

    def take_back(self, file: str, number: int) -> None:
        """Promise one thing less."""
        promises = self.promises(file)
        self.kept.set_promises(file, promises[:number] + promises[number + 1:], "remove promise")

    def offered_promises(self) -> list[tuple[str, str]]:
        """What just happened, as promises: each in words, and its number."""
        run, known = self.player.records, self.promises(self.current)
        self._offered = () if len(run) > LONGEST_OFFERED else tuple([
            each for each in promises_from(run, self.player.tick, self.player.begins)
            if each not in known])
        return [(promise_words(each, self.document.puppet), str(number))
                for number, each in enumerate(self._offered)]

    def promise_this(self, number: str) -> None:
        """Make what just happened a promise."""
        self.add(self.current, self._offered[int(number)])
