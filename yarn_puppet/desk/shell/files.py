"""New, open, save; and asking before anything unsaved is lost. Nothing here blocks: dialogs answer
when they close."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import NamedTuple

from PyQt6.QtCore import QObject, QTimer, pyqtSignal
from PyQt6.QtWidgets import QWidget

from ...core.engine.compiling.puppets import compile_puppet
from ...core.formats import puppet_file, take_file
from ...core.formats.booth_file import find_booth
from ...core.formats.errors import FileProblem
from ...core.formats.replacing import WriteProtected
from ...core.model.history import History
from ...core.model.puppet import Puppet
from ...demo import DEMO_FOLDER, DEMO_PUPPET
from ...logs import LOG
from ..session.booths import Booths
from ..session.document import Document
from ..session.files.own_files import OwnFiles, Theirs
from ..session.files.watching import Stamp, stamp_of
from ..session.kept_takes import KeptTakes
from ..session.run.player import Player
from ..session.settings import Settings, worked_on
from ..session.work.job import Job
from ..widgets.asking import Answer, ask, complain
from ..widgets.dialogs import choose_file

LARGE = 1 << 19
"""Bytes of a puppet's file that take so long to read and to compile that they are not read while
the window waits."""
LITTLE = 1 << 15
"""Bytes that are read and compiled within a turn in which all views change too."""


def _size_of(path: Path) -> int:
    try:
        return path.stat().st_size
    except (OSError, ValueError):
        return 0


class _WasRead(NamedTuple):
    puppet: Puppet
    stamp: Stamp | None
    """The file's, just before it was read."""


def _read(path: Path) -> _WasRead | FileProblem:
    """A puppet, compiled too: who shows it then finds that done."""
    stamp = stamp_of(path.absolute())
    try:
        puppet = puppet_file.load_puppet(path.absolute())
    except FileProblem as problem:
        return problem
    compile_puppet(puppet)
    return _WasRead(puppet, stamp)


class Files(QObject):
    """The files of one window, whose dialogs stand over `window`.

    `begun` says that an empty puppet was begun, `closable` that an asked-for close may now happen.
    """

    begun = pyqtSignal()
    closable = pyqtSignal()
    saved = pyqtSignal()
    """The puppet was written to its file."""
    opening = pyqtSignal(object)
    """A large file is being read: its path; None once it is."""
    lost = pyqtSignal(list)
    """Files that the puppet just written names, and that are not there; none where all are."""

    def __init__(
        self,
        window: QWidget,
        document: Document,
        booths: Booths,
        kept: KeptTakes,
        player: Player,
        settings: Settings,
    ) -> None:
        super().__init__(window)
        self.window = window
        self.document = document
        self.booths = booths
        self.kept = kept
        self.player = player
        self.settings = settings
        self._job = Job(self)
        self._sure = False
        self.own: OwnFiles | None = None
        """The files as they lie on the disk, where they are watched."""
        self.ask_about: Callable[[Theirs, Callable[[], object]], object] = lambda theirs, then: None
        """Says that a file is another than this desk knows, and does the rest once ours is to be
        kept."""

    # Puppets --------------------------------------------------------------------------------------

    def new(self) -> None:
        """An empty puppet."""
        def begin() -> None:
            self._leave_reading()
            self.document.start_new()
            self.begun.emit()

        self._unless_unsaved(begin)

    def open(self) -> None:
        """Choose a puppet's file and open it."""
        self._unless_unsaved(lambda: self._choose(
            "Open a puppet", f"Puppets (*{puppet_file.SUFFIX})", self.load_beside))

    def open_demo(self) -> None:
        """The demo."""
        self._unless_unsaved(lambda: self.load_beside(DEMO_PUPPET))

    def open_path(self, path: Path) -> None:
        """Open one of the puppets that were worked on."""
        self._unless_unsaved(lambda: self.load_beside(path))

    def load_beside(self, path: Path) -> None:
        """As `load`, while the window goes on: reading and compiling are another thread's, but for
        a little file's."""
        self.load(path, LITTLE)

    def load(self, path: Path, large: int = LARGE) -> None:
        """Open a file, or say what is wrong with it and leave everything as it was. One of more
        bytes than `large` is read in a thread, and shown once it is there."""
        self._leave_reading()
        size = _size_of(path)
        if size > large:
            if size > LARGE:
                # What is there in a moment need not be said.
                self.opening.emit(path)
            before = self.document.history
            self._job.start([path], _read, lambda found: self._was_read(path, found[0], before))
            return
        try:
            self.document.open(path)
        except FileProblem as problem:
            self.complain("This puppet cannot be opened", problem)
            return
        self._opened(path)

    def _leave_reading(self) -> None:
        """What is still being read is not wanted any more."""
        self._job.cancel()
        self.opening.emit(None)

    @property
    def busy(self) -> bool:
        """Whether a file is being read."""
        return bool(self._job.total)

    def _was_read(self, path: Path, found: _WasRead | FileProblem, before: History) -> None:
        self.opening.emit(None)
        if isinstance(found, FileProblem):
            self.complain("This puppet cannot be opened", found)
            return

        def show() -> None:
            # All that changes is drawn in a turn of its own.
            self.window.setUpdatesEnabled(False)
            QTimer.singleShot(0, self._draw_again)
            self.document.show(found.puppet, path)
            if self.own is not None:
                self.own.was_read(path.absolute(), found.stamp)
            self._opened(path)

        if self.document.history is before:
            # What there was to ask was asked before it was read.
            show()
        else:
            self._unless_unsaved(show)

    def _draw_again(self) -> None:
        self.window.setUpdatesEnabled(True)

    def _opened(self, path: Path) -> None:
        LOG.info("opened %s", path)
        if not path.absolute().is_relative_to(DEMO_FOLDER):
            self.settings.folder = str(path.absolute().parent)
            worked_on(self.settings, path)
        self.player.play()

    def save(self) -> None:
        """Write the puppet to its file; ask for one where there is none."""
        path = self.document.path
        if path is None or path.is_relative_to(DEMO_FOLDER):
            # The demo ships with the program; saving it means a copy of one's own.
            self.save_as()
        else:
            self._write(path)

    def save_as(self, then: Callable[[], object] | None = None) -> None:
        """Choose a file and write the puppet to it."""
        self._choose("Save the puppet as", f"Puppets (*{puppet_file.SUFFIX})",
                     lambda path: self._write(path, then), puppet_file.SUFFIX,
                     self.document.puppet.name)

    def _write(
        self, path: Path, then: Callable[[], object] | None = None, protected: bool = False
    ) -> None:
        """Write the puppet with its takes and booths: all of them, or none."""
        path = path.absolute()
        try:
            takes = self.kept.to_write(path)
            beside = {**self.booths.to_write(path.parent), **takes.files}
            skins = self.document.skin_files(path)
            for theirs in (
                self.own.others([*beside, *takes.gone, *skins, path])
                if self.own is not None else ()
            ):
                # Another program, or another window, has written it since: nothing is lost unasked.
                self.ask_about(theirs, lambda: self._write(path, then, protected))
                return
            self.document.save(path, beside, takes.gone, protected)
        except WriteProtected as problem:
            self._ask("Write-protected", f"{problem.path} is write-protected.",
                      "Replace it anyway? It stays write-protected.", "Replace it",
                      lambda: self._write(path, then, protected=True))
            return
        except FileProblem as problem:
            self.complain("This puppet cannot be saved", problem)
            return
        self.booths.written()
        self.kept.written(path.parent, takes)
        if self.own is not None:
            self.own.saved([*beside, *skins, path])
        self.document.puppet_changed.emit()
        LOG.info("saved %s", path)
        self.settings.folder = str(path.parent)
        worked_on(self.settings, path)
        self.saved.emit()
        self.lost.emit(self.document.lost_files)
        if then is not None:
            then()

    # Takes ----------------------------------------------------------------------------------------

    def open_take(self) -> None:
        """Choose a take and show it."""
        self._choose("Open a take", f"Takes (*{take_file.SUFFIX})", self.load_take)

    def load_take(self, path: Path) -> None:
        """Show a take, run with the present puppet; or say what is wrong with it."""
        try:
            take = take_file.load_take(path, self.document.puppet)
            world = find_booth(take.booth, (path.parent, DEMO_FOLDER)) if take.booth else None
            if world is not None:
                world = self.booths.opponents.in_world(f"{path.parent}/{take.booth}", world)
        except FileProblem as problem:
            self.complain("This take cannot be opened", problem)
            return
        name = path.name.removesuffix(take_file.SUFFIX).replace("_", " ")
        self.player.open_take(take, name, world)

    def save_take(self) -> None:
        """Choose a file and write the run's controls to it."""
        self._choose("Save the take as", f"Takes (*{take_file.SUFFIX})", self._write_take,
                     take_file.SUFFIX,
                     self.player.take_name or "take")

    def _write_take(self, path: Path) -> None:
        try:
            take_file.save_take(self.player.recording.take(), path)
        except FileProblem as problem:
            self.complain("This take cannot be saved", problem)
            return
        self.player.take_name = path.name.removesuffix(take_file.SUFFIX).replace("_", " ")
        self.player.state_changed.emit()

    # Dialogs --------------------------------------------------------------------------------------

    def _choose(
        self,
        title: str,
        filter: str,
        then: Callable[[Path], None],
        suffix: str = "",
        name: str = "",
    ) -> None:
        """Ask for a file. With a suffix it is one to write, and the name is given that suffix."""
        choose_file(self.window, title, filter, self.settings.folder, then, suffix, name)

    def complain(self, title: str, problem: Exception) -> None:
        """Say what is wrong, where, and what was expected."""
        complain(self.window, title, str(problem))

    def _ask(self, title: str, what: str, more: str, yes: str, then: Callable[[], object]) -> None:
        """Do something once it is agreed to."""
        ask(self.window, "question", title, what, more, [Answer(yes, then), Answer("Cancel")])

    def _unless_unsaved(self, then: Callable[[], object]) -> None:
        """Do it at once, or after asking what is to become of unsaved edits."""
        if not self.document.unsaved:
            then()
            return

        def save() -> None:
            path = self.document.path
            if path is None or path.is_relative_to(DEMO_FOLDER):
                self.save_as(then)
            else:
                self._write(path, then)

        ask(self.window, "unsaved", "Unsaved edits",
            f"{self.document.puppet.name} has edits that are not saved.",
            "Save them first, or discard them?",
            [Answer("Save…", save), Answer("Discard them", then, lets_go=True), Answer("Cancel")])

    def drop_edits(self) -> None:
        """Count the puppet as saved as it is: nothing will be asked about it."""
        self.document.saved, self.document.saved_worlds = (
            self.document.bare_puppet,
            self.document.history.worlds,
        )
        self.document.saved_takes = self.document.history.takes
        self.document.saved_skins = self.document.history.skins

    def may_close(self) -> bool:
        """Whether the window may close now; if not, it is asked about and closes after the
        answer."""
        if self._sure or not self.document.unsaved:
            return True

        def close() -> None:
            self._sure = True
            self.closable.emit()

        self._unless_unsaved(close)
        return False
