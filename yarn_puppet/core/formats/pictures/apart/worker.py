"""The process that reads pictures: `python -m yarn_puppet.core.formats.pictures.apart.worker
SOCKET`.

It reads an `Ask` a packet and answers each with a `Done` or a `Problem`. What it may take is bound
by the kernel: a decoder that goes beyond is refused memory, or ended. It ends when its socket does.
"""

from __future__ import annotations

import os
import resource
import signal
import socket
import sys
import time
from contextlib import suppress
from pathlib import Path

import msgspec

from ...file_names import said
from ..budget import Share, share_of
from ..pages import PictureProblem, TooLarge
from ..reading import drawn_in
from .answers import ASK, LONGEST, Contents, Done, PictureRequest, Progress, Unreadable

BAND = 1 << 20
"""Pixels that are written at once: a large picture is not held twice."""
PROGRESS_SECONDS = 0.05


def main() -> None:
    """Answer until nobody asks."""
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    with socket.socket(fileno=int(sys.argv[1])) as connection, suppress(ConnectionError):
        while content := connection.recv(LONGEST):
            _answer(connection, ASK.decode(content))


def _answer(connection: socket.socket, ask: PictureRequest) -> None:
    path, share = Path(os.fsdecode(ask.path)), share_of(ask.most_pixels)
    keep_to(share)
    try:
        with os.fdopen(os.memfd_create("pages"), "wb") as file:
            at = _write(connection, ask, path, file)
            file.flush()
            socket.send_fds(connection, [msgspec.json.encode(Done(at))], [file.fileno()])
    except MemoryError:
        _tell(connection, Unreadable(f"needs more than {share.memory >> 20} MiB of memory",
                                     said(path)))
    except PictureProblem as problem:
        # A folder's problem may be that of a picture in it.
        where = str(problem).removesuffix(f": {problem.what}")
        _tell(connection, Unreadable(problem.what, where, isinstance(problem, TooLarge)))
    except OSError as error:
        _tell(connection, Unreadable(f"cannot be read ({error.strerror or error})", said(path)))


def _write(connection: socket.socket, ask: PictureRequest, path: Path, file) -> int:  # type: ignore[no-untyped-def]
    """Write all pages and what is to be known of them; where the latter begins."""
    pages: list[tuple[int, int, float | None]] = []
    left_out: list[str] = []
    last = 0.0

    def progress(done: int, whole: int) -> None:
        nonlocal last
        if time.monotonic() - last > PROGRESS_SECONDS:
            last = time.monotonic()
            _tell(connection, Progress(done, whole))

    for image, duration in drawn_in(path, ask.most_pixels, left_out, progress):
        high = max(1, BAND // image.width)
        for top in range(0, image.height, high):
            file.write(image.crop((0, top, image.width, min(image.height, top + high))).tobytes())
        pages.append((image.width, image.height, duration))
    at: int = file.tell()
    file.write(msgspec.json.encode(Contents(pages, left_out)))
    return at


def keep_to(share: Share) -> None:
    """Let this process take so much from now on, and no more."""
    used = int(Path("/proc/self/statm").read_text().split()[0]) * resource.getpagesize()
    resource.setrlimit(resource.RLIMIT_AS, (used + share.memory, resource.RLIM_INFINITY))
    resource.setrlimit(resource.RLIMIT_CPU,
                       (round(time.process_time()) + share.seconds, resource.RLIM_INFINITY))


def _tell(connection: socket.socket, answer: Progress | Unreadable) -> None:
    connection.send(msgspec.json.encode(answer)[:LONGEST])


if __name__ == "__main__":
    main()
