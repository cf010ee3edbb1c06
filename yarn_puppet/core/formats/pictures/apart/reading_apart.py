"""Reads pictures by a process of its own, as `read_pages` does: what is in a file can neither hold
us up nor take our memory."""

from __future__ import annotations

import mmap
import os
import signal
import socket
import subprocess
import sys
import threading
from collections.abc import Callable
from pathlib import Path

import msgspec

from ...file_names import said
from ...watching import Stopped
from ..budget import MOST_PIXELS, share_of
from ..pages import Page, PictureProblem, TooLarge
from .answers import ANSWER, CONTENTS, LONGEST, Done, PictureRequest, Progress, Unreadable

ROOT = Path(__file__).parents[5]
"""The folder that holds the package."""
MODULE = "yarn_puppet.core.formats.pictures.apart.worker"
GLANCE_SECONDS = 0.05
"""How often someone who waits is asked whether it is still wanted."""

OnProgress = Callable[[int, int], None]


class _Killed(Exception):
    """Somebody killed the process; `problem` is what that is for the picture."""

    def __init__(self, problem: PictureProblem) -> None:
        super().__init__(str(problem))
        self.problem = problem


class PictureProcess:
    """A process that reads pictures, begun when the first is asked for and again where it ended;
    for any thread."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._process: subprocess.Popen[bytes] | None = None
        self._connection: socket.socket | None = None

    def read(
        self, path: Path, most_pixels: int = MOST_PIXELS, left_out: list[str] | None = None,
        progress: OnProgress = lambda done, whole: None, wanted: Callable[[], bool] = lambda: True,
    ) -> tuple[Page, ...]:
        """The pages of a picture file, an OpenRaster file or a folder of numbered pictures.

        Raises PictureProblem; where only the number of pixels stands against it, TooLarge; Stopped
        once it is not `wanted` any more, and then the process is ended in the middle of it.
        `progress` hears how far a folder is read.
        """
        # What is no longer wanted does not wait for others either.
        while not self._lock.acquire(timeout=GLANCE_SECONDS):
            if not wanted():
                raise Stopped
        try:
            idle = self._process is not None
            try:
                return self._asked(path, most_pixels, left_out, progress, wanted)
            except _Killed as killed:
                # It may have been killed while it had nothing to do: that is no fault of this
                # picture.
                if not idle:
                    raise killed.problem from None
            try:
                return self._asked(path, most_pixels, left_out, progress, wanted)
            except _Killed as killed:
                raise killed.problem from None
        finally:
            self._lock.release()

    def warm(self) -> None:
        """Begin the process, so that it is there when the first picture is asked for."""
        if self._lock.acquire(blocking=False):
            try:
                if self._connection is None:
                    self._begin()
            finally:
                self._lock.release()

    def close(self) -> None:
        """End the process, whatever it does."""
        process, connection = self._process, self._connection
        self._process = self._connection = None
        if connection is not None:
            connection.close()
        if process is not None:
            process.kill()
            process.wait()

    @property
    def pid(self) -> int | None:
        """The number of the process, None where there is none."""
        return self._process.pid if self._process is not None else None

    def _asked(self, path: Path, most_pixels: int, left_out: list[str] | None, progress: OnProgress,
               wanted: Callable[[], bool]) -> tuple[Page, ...]:
        ask = msgspec.json.encode(PictureRequest(os.fsencode(path.absolute()), most_pixels))
        if len(ask) > LONGEST:
            raise PictureProblem(path, "cannot be read (its name is too long)")
        connection = self._begun(ask)
        while True:
            try:
                content, files, _, _ = socket.recv_fds(connection, LONGEST, 1)
            except TimeoutError:
                if wanted():
                    continue
                self.close()
                raise Stopped from None
            except ConnectionError:
                content = b""
            if not content:
                raise self._ended(path, most_pixels)
            answer = ANSWER.decode(content)
            if isinstance(answer, Progress):
                progress(answer.done, answer.whole)
            elif isinstance(answer, Unreadable):
                where = str(path) if answer.path == said(path.absolute()) else answer.path
                raise (TooLarge if answer.large else PictureProblem)(where, answer.what)
            else:
                return _taken(files[0], answer, left_out)

    def _begun(self, ask: bytes) -> socket.socket:
        """A connection to a process that was asked; one that ended meanwhile is started again."""
        if self._connection is not None:
            try:
                self._connection.send(ask)
            except OSError:
                self.close()
            else:
                return self._connection
        connection = self._begin()
        connection.send(ask)
        return connection

    def _begin(self) -> socket.socket:
        ours, theirs = socket.socketpair(socket.AF_UNIX, socket.SOCK_SEQPACKET)
        with theirs:
            environment = {**os.environ, "PYTHONPATH": str(ROOT), "OPENBLAS_NUM_THREADS": "1"}
            self._process = subprocess.Popen(
                [sys.executable, "-P", "-m", MODULE, str(theirs.fileno())],
                pass_fds=[theirs.fileno()], env=environment,
                stdin=subprocess.DEVNULL, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
        ours.settimeout(GLANCE_SECONDS)
        self._connection = ours
        return ours

    def _ended(self, path: Path, most_pixels: int) -> Exception:
        """What it says of a picture that the process ended over it."""
        process, share = self._process, share_of(most_pixels)
        status = process.wait() if process is not None else 0
        self.close()
        if -status == signal.SIGXCPU:
            return PictureProblem(path, f"takes more than {share.seconds} seconds of a processor")
        if -status == signal.SIGKILL:
            return _Killed(PictureProblem(path, "cannot be read (what reads it was killed)"))
        return PictureProblem(path, "cannot be read as a picture (what reads it broke down)")


def _taken(descriptor: int, answer: Done, left_out: list[str] | None) -> tuple[Page, ...]:
    """The pages that lie in a file that came over. Their pixels are views of it: it is held as long
    as they are."""
    with os.fdopen(descriptor, "rb") as file:
        whole = memoryview(mmap.mmap(file.fileno(), 0, access=mmap.ACCESS_READ))
    contents = CONTENTS.decode(whole[answer.at:])
    if left_out is not None:
        left_out += contents.left_out
    pages, at = [], 0
    for width, height, duration in contents.pages:
        end = at + width * height * 4
        pages.append(Page(width, height, duration, whole[at:end]))
        at = end
    return tuple(pages)


PICTURES = PictureProcess()
"""The one of this program: whoever reads a picture reads it by this."""
