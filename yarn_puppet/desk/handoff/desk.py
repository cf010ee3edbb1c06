"""What is handed off: in which languages, where to and when; made beside the window's work, and
written on demand."""

from __future__ import annotations

from pathlib import Path
from time import monotonic
from typing import NamedTuple

import msgspec
from msgspec.structs import replace
from PyQt6.QtCore import QObject, pyqtSignal

from ...core.formats.errors import FileProblem
from ...core.handoff.comparing import RANDOM_TICKS, CompareRequest, LanguageResult
from ...core.handoff.files import Handed, HandOff, hand_off, is_there, write_changed
from ...core.model.puppet import Puppet
from ...core.model.skin import Skin
from ...core.model.take import Take
from ...core.model.world import World
from ...core.takes.run import set_up
from ..session.document import Document
from ..session.files.takes_to_write import title_of
from ..session.kept_takes import KeptTakes
from ..session.settings import HandOffChoice, Settings
from ..session.work.job import Job
from ..session.work.lines_process import LinesProcess
from ..widgets.timers import timer

SETTLE_MS = 300
FOUND = msgspec.json.Decoder(LanguageResult)


class HandOffRequest(NamedTuple):
    """All that a hand-off is made of."""

    puppet: Puppet
    choice: HandOffChoice
    art: Path | None
    takes: dict[str, Take]
    worlds: dict[str, World]
    skins: tuple[Skin, ...]
    unread: tuple[str, ...] = ()
    """Why skins that lie beside the puppet cannot be read: nothing is handed off without them."""


class Made(NamedTuple):
    """A hand-off, and of each file whether the folder has another; or why there is none."""

    wanted: HandOffRequest
    handed: HandOff | None
    files: tuple[Handed, ...]
    problem: str = ""
    written: bool = False


class HandOffDesk(QObject):
    """`made` is the hand-off of the present puppet; `written` is when it was written last, in
    seconds of the clock that only goes forward, and `changed_then` how many files that changed."""

    changed = pyqtSignal()

    def __init__(self, document: Document, kept: KeptTakes, settings: Settings) -> None:
        super().__init__()
        self.document, self.kept, self.settings = document, kept, settings
        self.made: Made | None = None
        self.written: float | None = None
        self.changed_then = 0
        self.problem = ""
        self.looked_at = False
        """Whether anything shows it: only then is it made after every edit."""
        self.found: dict[str, LanguageResult] = {}
        """What the last comparison found, by language."""
        self.found_for: tuple[object, ...] = ()
        self.comparing = False
        self._writes = self._again = False
        self.random_ticks = RANDOM_TICKS
        self._unsaved_choice = HandOffChoice()
        self._chosen, self._path = self.choice, str(document.path)
        """What was chosen, and the file that it was chosen for."""
        self._job = Job(self)
        self._process = LinesProcess("yarn_puppet.core.handoff.comparing", self)
        self._process.line.connect(self._read)
        self._process.ended.connect(self._compared)
        self._settle = timer(self, SETTLE_MS, once=True)
        self._settle.timeout.connect(self.make)
        for signal in (document.puppet_changed, document.takes_changed):
            signal.connect(self._edited)
        document.replaced.connect(self._another)

    # What is chosen -------------------------------------------------------------------------------

    @property
    def choice(self) -> HandOffChoice:
        """How this puppet is handed off."""
        path = self.document.path
        return (
            self._unsaved_choice
            if path is None
            else self.settings.hand_offs.get(str(path), HandOffChoice())
        )

    def choose(self, **values: object) -> None:
        """Hand off otherwise from now on."""
        choice, path = replace(self.choice, **values), self.document.path
        self._chosen, self._path = choice, str(path)
        if path is None:
            self._unsaved_choice = choice
        else:
            self.settings.hand_offs[str(path)] = choice
        self.make()
        self.changed.emit()

    def toggle(self, language: str, known: tuple[str, ...]) -> None:
        """Hand off in a language, or not; one at least stays."""
        languages = set(self.choice.languages) ^ {language}
        if languages:
            self.choose(languages=tuple([each for each in known if each in languages]))

    # Making and writing ---------------------------------------------------------------------------

    def _another(self) -> None:
        self.made, self.written, self.problem, self.found, self.found_for = None, None, "", {}, ()
        self._writes = self._again = False
        self._job.cancel()
        self._chosen, self._path = self.choice, str(self.document.path)
        self.stop_comparing()
        self._edited()

    def _edited(self) -> None:
        if self.looked_at:
            self._settle.start()

    def look(self, on: bool) -> None:
        """It is shown now, or no more."""
        self.looked_at = on
        if on and (self.made is None or self.made.wanted != self._wanted()):
            self.make()

    def _wanted(self) -> HandOffRequest:
        choice, path = self.choice, self.document.path
        takes = {name: take for name, take in self.kept.takes.items()
                 if take.rate == self.document.bare_puppet.rate}
        return HandOffRequest(self.document.bare_puppet, choice,
                              path.parent if choice.art and path is not None else None,
                      takes if choice.tests else {}, self._worlds(takes) if choice.tests else {},
                              self._skins(), tuple(self.document.wearing.problems.values()))

    def _skins(self) -> tuple[Skin, ...]:
        return tuple(self.document.skins.values())

    def _compared_with(self) -> tuple[object, ...]:
        return self.document.bare_puppet, self.kept.takes, self._skins()

    def _worlds(self, takes: dict[str, Take]) -> dict[str, World]:
        worlds = {}
        for take in takes.values():
            if take.booth is not None and take.booth not in worlds:
                try:
                    worlds[take.booth] = self.kept.booths.get(take.booth)
                except FileProblem:
                    continue
        return worlds

    def make(self, write: bool = False) -> None:
        """Make it in a thread; then write it, or say what the folder has that is another."""
        self._writes = self._writes or write
        if self._job.total:
            # What is under way is not dropped, a write least of all; and a thread cannot be stopped
            # half-way: of a large puppet several would be at it at once.
            self._again = True
        else:
            self._again, writes, self._writes = False, self._writes, False
            self._job.start([self._wanted()], lambda each: make(each, writes), self._done)
        self.changed.emit()

    @property
    def busy(self) -> bool:
        """Whether it is being made."""
        return bool(self._job.total)

    def write(self) -> None:
        """Write it where it goes."""
        self.make(write=True)

    def saved(self) -> None:
        """The puppet was saved; under another name it is handed off as it was."""
        path = str(self.document.path)
        if path != self._path:
            self.settings.hand_offs.setdefault(path, self._chosen)
            self._path = path
        if self.choice.on_save and self.choice.folder:
            self.write()

    def _done(self, results: list[Made]) -> None:
        made = results[0]
        if made.handed is not None or self.made is None:
            self.made = made
        self.problem = made.problem
        if made.written:
            self.written, self.changed_then = monotonic(), sum(file.changed for file in made.files)
        if self._again:
            self.make()
        self.changed.emit()

    # The same in all ------------------------------------------------------------------------------

    @property
    def found_is_old(self) -> bool:
        """Whether what was found is of another puppet, or of other takes."""
        return bool(self.found) and self.found_for != self._compared_with()

    def compare(self) -> None:
        """Run every language beside the engine, in a process of its own."""
        self.stop_comparing()
        takes = {title_of(name): take for name, take in self.kept.takes.items()
                 if take.rate == self.document.bare_puppet.rate}
        self.found, self.found_for = {}, self._compared_with()
        self.comparing = True
        self._process.start()
        ask = CompareRequest(self.document.bare_puppet, takes, self._worlds(takes),
                             self.random_ticks, self._skins())
        self._process.tell(msgspec.json.encode(ask), last=True)
        self.changed.emit()

    def stop_comparing(self) -> None:
        """Leave the comparison that goes on."""
        self.comparing = False
        if self._process.runs:
            self._process.close()
            self.changed.emit()

    def _read(self, line: bytes) -> None:
        found = FOUND.decode(line)
        self.found[found.language] = found
        self.changed.emit()

    def _compared(self, said: str) -> None:
        self.comparing = False
        if said:
            self.problem = f"they could not be compared: {said}"
        self.changed.emit()


def make(wanted: HandOffRequest, write: bool) -> Made:
    """Make a hand-off; write it where it is to be written. What is wrong is told in it."""
    if wanted.unread:
        return Made(wanted, None, (), wanted.unread[0])
    try:
        takes = [(title_of(name), set_up(wanted.puppet, wanted.worlds.get(take.booth or "")), take)
                 for name, take in wanted.takes.items()]
        choice = wanted.choice
        handed = hand_off(wanted.puppet, choice.languages, None, takes, wanted.art, choice.wire,
                          wanted.skins)
        folder = Path(choice.folder) if choice.folder else None
        if write and folder is not None:
            return Made(wanted, handed, write_changed(folder, handed.files), written=True)
        return Made(wanted, handed, tuple([_beside(folder, name, content)
                                           for name, content in sorted(handed.files.items())]))
    except FileProblem as problem:
        return Made(wanted, None, (), str(problem))


def _beside(folder: Path | None, name: str, content: bytes) -> Handed:
    """A file that is not written yet, beside what the folder has."""
    return Handed(name, len(content), folder is None or not is_there(folder / name, content))
