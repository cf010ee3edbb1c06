"""The journal of a desk: what is worked on is written down as it is done, for the next start to
find.

The window's thread says only what there is; a thread of our own tells it from what was written
last, writes and flushes. Each desk has a file of its own, which it holds locked while it lives: one
that nobody holds was left behind.
"""

from __future__ import annotations

import fcntl
import os
import secrets
import threading
import time
from pathlib import Path
from typing import NamedTuple

from platformdirs import user_state_path
from PyQt6.QtCore import QObject, pyqtSignal

from ....core.formats.errors import FileProblem
from ....core.formats.journal_file import SUFFIX, Journal, Work, line_of, read_journal
from ....core.formats.replacing import flush_folder
from ....logs import LOG
from ...widgets.timers import timer
from ...widgets.window_call import WindowCall
from ..document import Document

AFTER_MS = 1000
"""How long after an edit it is written down, at the latest: more edits do not put that off."""
AGAIN_MS = 5000
"""When writing is tried again, where it could not be."""
WAITED_S = 20.0
"""Seconds that writing is waited for as the program ends."""
LARGEST = 48 * 1024 * 1024
"""Bytes beyond which a journal is started again with what there is now."""


def journals_folder() -> Path:
    """Where journals are kept: the user's folder for what programs keep between starts."""
    return user_state_path("yarn-puppet") / "journals"


class LeftBehind(NamedTuple):
    """A journal that no desk holds any more, and what it holds."""

    path: Path
    journal: Journal


def left_behind(folder: Path | None = None) -> list[LeftBehind]:
    """The journals with work that no file has, the newest first. Those that hold none are swept
    away."""
    found = []
    for path in sorted((folder or journals_folder()).glob(f"*{SUFFIX}")):
        held = _Held.of(path)
        if held is None:
            continue
        with held:
            try:
                journal = read_journal(path)
            except (FileProblem, ValueError, OverflowError, OSError):
                # It may be of a newer program, or damaged in a way that only shows when its path
                # or time is used: it stays, and hides none of the others.
                continue
            if journal is None:
                path.unlink(missing_ok=True)
            else:
                found.append(LeftBehind(path, journal))
    return sorted(found, key=lambda each: -each.journal.last)


class JournalKeeper(QObject):
    """Keeps the journal of one window's document."""

    failed = pyqtSignal(str)
    """Why the work cannot be written down now; empty once it can again."""

    def __init__(self, document: Document, folder: Path | None = None) -> None:
        super().__init__(document)
        self.document = document
        self.folder = folder or journals_folder()
        self.problem = ""
        self._timer = timer(self, AFTER_MS, once=True)
        self._timer.timeout.connect(self.flush)
        self._writer = _Writer(self.folder, WindowCall(self._on_progress))
        self._last: Work | None = None
        for changed in (document.puppet_changed, document.world_changed, document.takes_changed,
                        document.replaced):
            changed.connect(self._changed)

    @property
    def path(self) -> Path | None:
        """The file, once there is one."""
        return self._writer.path

    def _changed(self) -> None:
        was_saved = self._last is not None and self._last.saved
        if not was_saved and len(self.document.history.past) > 1 and not self.document.unsaved:
            # From a save on it is counted what no file has.
            self.flush()
        elif not self._timer.isActive():
            self._timer.start(AFTER_MS)

    def flush(self) -> None:
        """Have what there is now written down."""
        document = self.document
        work = Work.of(document.history, document.path, not document.unsaved)
        if work.saved and self._last is None and len(work.steps) == 1:
            # Nothing was ever done that a file does not have.
            return
        self._last = work
        self._writer.write(work)

    def flush_now(self) -> None:
        """The same, and wait until it is written: the program is about to end."""
        self._timer.stop()
        self.flush()
        self._writer.wait()

    def let_go(self) -> None:
        """The window closes, and all is saved or need not be: nothing is left behind."""
        self._timer.stop()
        self._writer.end()

    def take_up(self, left: LeftBehind) -> bool:
        """Go on with work that was left behind; its journal goes once this one has it. False where
        another desk has taken it up meanwhile."""
        held = _Held.of(left.path)
        if held is None or not left.path.exists():
            return False
        with held:
            self.document.recover(left.journal.work)
            self.flush_now()
            # Only what this journal really has may go from the other: the disk may be full.
            if self._last is not None and self._writer.written is self._last:
                left.path.unlink(missing_ok=True)
        return True

    def _on_progress(self, problem: str) -> None:
        if problem:
            self._timer.start(AGAIN_MS)
        if problem != self.problem:
            LOG.warning("the journal: %s", problem or "is written again")
            self.problem = problem
            self.failed.emit(problem)


def forget(left: LeftBehind) -> None:
    """Let go of work that was left behind."""
    held = _Held.of(left.path)
    if held is not None:
        with held:
            left.path.unlink(missing_ok=True)


class _Held:
    """A journal's lock, which goes with the process that has it, however that ends."""

    def __init__(self, descriptor: int) -> None:
        self.descriptor = descriptor

    @classmethod
    def of(cls, path: Path) -> _Held | None:
        """The lock of a journal; None where another process has it, or it cannot be opened."""
        try:
            descriptor = os.open(path, os.O_RDWR | os.O_NOFOLLOW | os.O_NONBLOCK)
        except OSError:
            return None
        try:
            fcntl.flock(descriptor, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            os.close(descriptor)
            return None
        return cls(descriptor)

    def __enter__(self) -> _Held:
        return self

    def __exit__(self, *_: object) -> None:
        os.close(self.descriptor)


class _Writer:
    """Writes in a thread."""

    def __init__(self, folder: Path, tell: WindowCall) -> None:
        self.path: Path | None = None
        self._folder, self._tell = folder, tell
        self._lock = threading.Lock()
        self._next: list[Work] = []
        self._thread: threading.Thread | None = None
        self._descriptor = -1
        self._written, self._size = Work(), 0

    @property
    def written(self) -> Work:
        """What the file holds."""
        return self._written

    def write(self, work: Work) -> None:
        """Have this work written down."""
        with self._lock:
            # What came in between is among the steps of the newest; that it was saved then is not.
            if self._next and not self._next[-1].saved:
                self._next.pop()
            self._next.append(work)
            if self._thread is None:
                self._thread = threading.Thread(target=self._run, name="journal", daemon=True)
                self._thread.start()

    def wait(self) -> None:
        """Return when all that was given is written, or could not be."""
        thread = self._thread
        if thread is not None:
            thread.join(WAITED_S)

    def end(self) -> None:
        """Take the file away."""
        self.wait()
        self._close(True)

    def _run(self) -> None:
        while True:
            with self._lock:
                if not self._next:
                    self._thread = None
                    return
                work = self._next.pop(0)
            problem = ""
            try:
                self._put(work)
            except OSError as error:
                problem = error.strerror or str(error)
            self._tell(problem)

    def _put(self, work: Work) -> None:
        if self._size > LARGEST:
            before, self.path = self.path, None
            self._close(False)
            self._written, self._size = Work(), 0
            self._put(work)
            if before is not None:
                before.unlink(missing_ok=True)
            return
        if self.path is None:
            self._open()
        line = line_of(self._written, work, time.time())
        try:
            left = memoryview(line)
            while left:
                left = left[os.write(self._descriptor, left):]
            os.fsync(self._descriptor)
        except OSError:
            # Half a line is worse than none: the next would be taken for its end.
            os.ftruncate(self._descriptor, self._size)
            os.lseek(self._descriptor, self._size, os.SEEK_SET)
            raise
        self._written, self._size = work, self._size + len(line)

    def _open(self) -> None:
        self._folder.mkdir(parents=True, exist_ok=True, mode=0o700)
        path = self._folder / f"{os.getpid()}-{secrets.token_hex(6)}{SUFFIX}"
        descriptor = os.open(path, os.O_RDWR | os.O_CREAT | os.O_EXCL, 0o600)
        fcntl.flock(descriptor, fcntl.LOCK_EX | fcntl.LOCK_NB)
        flush_folder(self._folder)
        self._descriptor, self.path = descriptor, path

    def _close(self, forget: bool) -> None:
        if self._descriptor >= 0:
            os.close(self._descriptor)
            self._descriptor = -1
        if forget and self.path is not None:
            self.path.unlink(missing_ok=True)
            self.path = None
        self._written, self._size = Work(), 0
