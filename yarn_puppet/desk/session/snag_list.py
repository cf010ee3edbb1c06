"""The snags of the present puppet, worked out in a thread once edits pause."""

from __future__ import annotations

from PyQt6.QtCore import QObject, pyqtSignal

from ...core.engine.program import Program
from ...core.model.puppet import Puppet
from ...core.snags.check import check
from ...core.snags.snag import Snag
from ..widgets.timers import timer
from .document import Document
from .run.player import Player
from .work.job import Job


class SnagList(QObject):
    """Listens to the document; views ask it what is wrong with one thing or with all.

    The puppet that is played has been compiled already, and is not compiled again.
    """

    changed = pyqtSignal()

    def __init__(self, document: Document, player: Player) -> None:
        super().__init__()
        self.document = document
        self.player = player
        self.snags: tuple[Snag, ...] = ()
        self._by_entry: dict[tuple[str, str], list[Snag]] = {}
        self._job = Job(self)
        self.looking = True
        """Whether the present puppet has not been looked through yet: `snags` are those of the one
        before."""
        self._timer = timer(self, 120, once=True)
        self._timer.timeout.connect(self._look)
        document.puppet_changed.connect(self.look_again)

    def look_again(self) -> None:
        """What the snags are of is another."""
        self.looking = True
        self._timer.start()
        self.changed.emit()

    def _look(self) -> None:
        self._job.start([self._compiled()], lambda given: check(*given), self._show_found)

    def _compiled(self) -> tuple[Puppet, Program | None]:
        """The present puppet, and its program where the player has it."""
        puppet, setup = self.document.puppet, self.player.recording.setup
        return puppet, setup.program if setup.puppet is puppet else None

    def _show_found(self, results: list[tuple[Snag, ...]]) -> None:
        self.snags, self.looking = results[0], False
        self._by_entry = {}
        for snag in self.snags:
            self._by_entry.setdefault((snag.kind, snag.id), []).append(snag)
        self.changed.emit()

    def refresh(self) -> None:
        """Work the snags out now, and wait for them."""
        self._timer.stop()
        self._job.cancel()
        self._show_found([check(*self._compiled())])

    def of(self, kind: str, id: str) -> tuple[Snag, ...]:
        """The snags found in one entry."""
        return tuple(self._by_entry.get((kind, id), ()))
