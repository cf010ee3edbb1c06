"""The live wire as the window knows it: whether it is on, which games are there, and which of them
is watched."""

from __future__ import annotations

import socket
import sys
from collections import deque
from pathlib import Path

import msgspec
from PyQt6.QtCore import QObject, QProcess, QUrl, pyqtSignal
from PyQt6.QtGui import QDesktopServices

from ...core.formats.errors import FileProblem
from ...core.model.puppet import Puppet
from ...core.model.skin import Skin
from ...core.skins.dressing import dressed
from ...core.takes.promising.promises import PromiseSpan, Verdict
from ...core.wire.hub import Row
from ...core.wire.key import forgotten_address, kept_address, new_key, the_key
from ...core.wire.lines import (
    FROM_WIRE,
    Dismiss,
    Edit,
    Failed,
    Keep,
    Kept,
    Listen,
    Listening,
    NewKey,
    Rows,
    Ticks,
    Watch,
)
from ...core.wire.puppets import SKINS_FROM
from ..session.booths import Booths
from ..session.document import Document
from ..session.kept_takes import KeptTakes
from ..session.run.player import Player
from ..session.settings import Settings
from ..session.work.lines_process import ROOT, LinesProcess, our_process
from ..widgets.timers import timer

EDIT_MS = 25
"""How long edits must pause before games get them: a drag sends a few a second, not one for every
pixel."""
HEAR_MS = 8
GOODBYE_MS = 1500
"""How long the wire may take to say goodbye to games."""
AT_ONCE = 240
"""Ticks of a game that are run at once: what was told before it was watched is caught up with in
between."""
PUPPETS_KEPT = 256
MOST_ENDS = 5
"""How often in a row a wire that breaks is started again by itself, without a game having been
there in between."""
PAGE = ROOT / "examples" / "browser" / "run"


class WireDesk(QObject):
    """Switched on and off by hand. `rows` are the games; `watched` the number of the one that is on
    show, zero for none."""

    changed = pyqtSignal()

    def __init__(
        self,
        document: Document,
        booths: Booths,
        kept: KeptTakes,
        player: Player,
        settings: Settings,
    ) -> None:
        super().__init__()
        self.document, self.booths, self.kept, self.player, self.settings = (
            document,
            booths,
            kept,
            player,
            settings,
        )
        self.process = LinesProcess("yarn_puppet.core.wire.worker", self)
        self.process.line.connect(lambda line: self._heard(FROM_WIRE.decode(line)))
        self.process.ended.connect(self._ended)
        self.on = False
        self.address = ""
        """Where it listens, empty until it does."""
        self.key = ""
        self.trouble = ""
        self.rows: tuple[Row, ...] = ()
        self.refused = ""
        """Why a game was not let in, the last one, if it was not."""
        self.watched = 0
        self._number = 0
        self._ends = 0
        self._puppets: dict[int, tuple[Puppet, tuple[Skin, ...]]] = {}
        self._worn: dict[int, tuple[Puppet, Puppet]] = {}
        """The last puppet that a game wore, by its number: without a skin, and in it."""
        self._waiting: deque[Ticks] = deque()
        self._settle = timer(self, EDIT_MS, once=True)
        self._settle.timeout.connect(self._send_edit)
        self._hearing = timer(self, HEAR_MS)
        self._hearing.timeout.connect(self._hear_some)
        self._stand_ins: list[QProcess] = []
        self.page_address = ""
        """Where the page for the browser was opened, with the key."""
        document.puppet_changed.connect(self._edited)
        player.game_left.connect(self._leave_for_own_run)
        player.run_replaced.connect(self._run_replaced)

    # On and off -----------------------------------------------------------------------------------

    def switch(self, on: bool) -> None:
        """Listen, or listen no more."""
        if on == self.on:
            return
        if on:
            self._ends = 0
            self._begin()
        else:
            self._stop("")
        self.changed.emit()

    def _begin(self, address: str = "") -> None:
        host, port = split_address(address or self.settings.wire)
        try:
            self.key = the_key()
        except FileProblem as problem:
            self.trouble = str(problem)
            return
        self.on, self.trouble, self._number = True, "", 1
        self._puppets = {1: (self.document.bare_puppet, self._skins())}
        self.process.start()
        self._tell(Listen(host, port, self.key, self.document.bare_puppet, 1, self._skins()))

    def _skins(self) -> tuple[Skin, ...]:
        return tuple(self.document.skins.values())

    def _puppet_of(self, revision: int) -> Puppet:
        """The puppet of a number, in the skin that the game wears."""
        skin, number = divmod(revision, SKINS_FROM)
        puppet, skins = self._puppets.get(number, (self.document.bare_puppet, self._skins()))
        known = self._worn.get(revision)
        if known is None or known[0] is not puppet:
            # The same object tick after tick: who runs it compiles it once.
            known = (puppet, dressed(puppet, skins[skin - 1] if 0 < skin <= len(skins) else None))
            self._worn = {revision: known}
        return known[1]

    def _tell(self, line: object) -> None:
        self.process.tell(msgspec.json.encode(line))

    def _stop(self, why: str) -> None:
        self.process.close(GOODBYE_MS)
        forgotten_address(self.address)
        watched = self.watched
        self.on, self.address, self.trouble, self.rows, self.watched, self.refused = (
            False,
            "",
            why,
            (),
            0,
            "",
        )
        self._waiting.clear()
        self._hearing.stop()
        if watched and self.player.game:
            self._leave_for_own_run()

    def listen_at(self, address: str) -> None:
        """Listen somewhere else, from now on."""
        self.settings.wire = address
        if self.on:
            self._stop("")
            self._begin()
        self.changed.emit()

    def change_key(self) -> None:
        """Make another key; games that are there stay."""
        try:
            self.key = new_key()
        except FileProblem as problem:
            self.trouble = str(problem)
        self._tell(NewKey(self.key))
        self.changed.emit()

    def close(self) -> None:
        """The window closes."""
        self._settle.stop()
        self._hearing.stop()
        for each in self._stand_ins:
            each.kill()
            each.waitForFinished(1000)
        self.process.close(GOODBYE_MS)
        forgotten_address(self.address)

    # Games ----------------------------------------------------------------------------------------

    def row(self, number: int) -> Row | None:
        """A game by its number."""
        return next((row for row in self.rows if row.number == number), None)

    def watch(self, number: int) -> None:
        """Show what a game does, in the booth, the ways out and the trace; zero for none."""
        row = self.row(number)
        if row is None:
            if self.player.game:
                self._leave_for_own_run()
            return
        self._waiting.clear()
        self.player.watch(row.name, self.document.bare_puppet)
        self.watched = number
        self._tell(Watch(number))
        self.changed.emit()

    def _leave_for_own_run(self) -> None:
        self._unwatch()
        self.player.load(self.document.puppet, self.booths.world, self.booths.file)
        self.player.play()
        self.changed.emit()

    def _unwatch(self) -> None:
        self.watched = 0
        self._waiting.clear()
        self._tell(Watch(0))

    def _run_replaced(self) -> None:
        """An opened take, or another puppet, took the place of a game's run."""
        if self.watched and not self.player.game:
            self._unwatch()
            self.changed.emit()

    def keep(self, number: int) -> None:
        """Keep a game's last minute as a take."""
        self._tell(Keep(number))

    def dismiss(self, number: int) -> None:
        """Forget a game that went away."""
        if number == self.watched:
            self._leave_for_own_run()
        self._tell(Dismiss(number))

    def note(self, row: Row) -> str:
        """What stands over the run of a game that is watched."""
        rate = self.player.recording.puppet.rate
        if row.mode == "drive":
            return f"driven: {row.name}, {rate} Hz · {row.ticks:,} ticks"
        equal = f"differs from tick {row.differs:,} on" if row.differs >= 0 else "all equal"
        return f"followed: {row.name}, {rate} Hz · {row.ticks:,} ticks, {equal}"

    def verdicts(self) -> tuple[Verdict, ...]:
        """Where the game that is watched differs, as the trace marks it."""
        row = self.row(self.watched)
        if row is None or row.differs < 0 or not self.player.game:
            return ()
        words = f"{row.name} has other {' and '.join(row.parts)}"
        return (Verdict(False, row.differs, words,
                        (PromiseSpan(row.differs, row.differs, False),)),)

    def start_stand_in(self, mode: str) -> None:
        """Start the game that ships, in a process of its own."""
        process = our_process(self, YARN_PUPPET_KEY=self.key)
        file = self.document.path
        arguments = ["-P", "-m", "yarn_puppet", "game", "--mode", mode, "--wire", self.address]
        process.finished.connect(lambda: self._stand_ins.remove(process)
                                 if process in self._stand_ins else None)
        self._stand_ins.append(process)
        process.start(sys.executable, arguments + ([str(Path(file))] if file is not None else []))

    @property
    def has_page(self) -> bool:
        """Whether the page for the browser is here, as it is in the whole tree."""
        return PAGE.is_file()

    def start_page(self) -> None:
        """Hand the puppet's file off to the page that shows it on a canvas, serve that, and open it
        in the browser."""
        process = QProcess(self)
        with socket.create_server(("127.0.0.1", 0)) as free:
            port = free.getsockname()[1]
        process.finished.connect(lambda: self._stand_ins.remove(process)
                                 if process in self._stand_ins else None)
        process.readyReadStandardOutput.connect(lambda: self._open_page(process, port))
        self._stand_ins.append(process)
        file = self.document.path
        process.start(str(PAGE), [str(port), *([str(file)] if file is not None else [])])

    def _open_page(self, process: QProcess, port: int) -> None:
        said = process.readAllStandardOutput().data().decode(errors="replace")
        if "open http" in said:
            self.page_address = f"http://127.0.0.1:{port}/#key={self.key}&wire={self.address}"
            QDesktopServices.openUrl(QUrl(self.page_address))

    # What is told ---------------------------------------------------------------------------------

    def _edited(self) -> None:
        if self.on:
            self._settle.start()

    def _send_edit(self) -> None:
        self._number += 1
        self._puppets[self._number] = (self.document.bare_puppet, self._skins())
        while len(self._puppets) > PUPPETS_KEPT:
            del self._puppets[next(iter(self._puppets))]
        self._tell(Edit(self.document.bare_puppet, self._number, self._skins()))

    def _heard(self, line: object) -> None:
        if isinstance(line, Ticks):
            if line.game == self.watched:
                self._waiting.append(line)
                self._hearing.start()
        elif isinstance(line, Rows):
            self.rows, self.refused = line.rows, line.refused
            self._ends = 0 if line.rows else self._ends
            self.changed.emit()
        elif isinstance(line, Listening):
            self.address = (
                f"[{line.host}]:{line.port}" if ":" in line.host else f"{line.host}:{line.port}"
            )
            try:
                kept_address(self.address)
            except FileProblem as problem:
                self.trouble = str(problem)
            self.changed.emit()
        elif isinstance(line, Failed):
            self._stop(line.why)
            self.changed.emit()
        elif isinstance(line, Kept):
            self._keep(line)

    def _hear_some(self) -> None:
        left = AT_ONCE
        while self._waiting and left > 0:
            ticks = self._waiting.popleft()
            now, later = ticks.controls[:left], ticks.controls[left:]
            left -= len(now)
            if later:
                self._waiting.appendleft(Ticks(
                    ticks.game, ticks.first + len(now), ticks.revision, later))
            self.player.hear(self._puppet_of(ticks.revision), ticks.first, now)
        if not self._waiting:
            self._hearing.stop()

    def _keep(self, line: Kept) -> None:
        if line.take is None:
            self.trouble = (
                f"{line.name} has sent nothing yet, or more than can be kept: let its puppet "
                "begin again")
            self.changed.emit()
            return
        self.kept.keep(line.take, f"{line.name} last minute")

    def _ended(self, why: str) -> None:
        address, said = self.address, f"the wire broke: {why or 'its process ended'}"
        self._stop(said)
        self._ends += 1
        if address and self._ends <= MOST_ENDS:
            # Where it was, for games that know no other place.
            self._begin(address)
            self.trouble = self.trouble or f"{said}; it was started again"
        self.changed.emit()


def split_address(address: str) -> tuple[str, int]:
    """A host and a port; a host alone listens at the first port that is ours."""
    host, _, port = address.rpartition(":")
    if not host or not port.isdigit():
        return address.strip("[]"), 47800
    return host.strip("[]"), int(port)
