"""How much is done for one picture, whatever is in its file: pixels, work, memory and time."""

from __future__ import annotations

from pathlib import Path
from typing import NamedTuple

from ...model.clips import MOST_CELL_PIXELS
from .pages import PictureProblem, TooLarge

MOST_PIXELS = 64 * 1024 * 1024
"""Of all pages together, unless someone was asked."""
HARDEST_PIXELS = 512 * 1024 * 1024
"""More than this is never read: it would take more than two gigabytes."""
MOST_PAGES = 2000
"""Frames of what moves, layers and groups of a file, pictures of a folder."""
MOST_SIDE = 1 << 16
"""Pixels of a picture's side, as of a cell's: a decoder keeps something for every row, however
short it is."""
MOST_WORK = 4
"""How many pixels are unpacked or mixed on the way, to one that is shown at the most."""
MIXING = 2
"""What a pixel that is mixed counts for."""
LEAST_WORK = 4096
"""What the smallest layer counts for."""


class Share(NamedTuple):
    """What a process that decodes may take: bytes of memory, and seconds of a processor."""

    memory: int
    seconds: int


USUAL_SHARE = Share(896 * 1024 * 1024, 4)
ASKED_SHARE = Share(6 * 1024 * 1024 * 1024, 60)
"""For a picture of more than `MOST_PIXELS`, once someone was asked."""


def share_of(most_pixels: int) -> Share:
    """What reading so many pixels may take."""
    return USUAL_SHARE if most_pixels <= MOST_PIXELS else ASKED_SHARE


class Budget:
    """How many pixels may be read of one file or folder, and how many were."""

    def __init__(self, most: int) -> None:
        self.most = most
        self.used = 0
        self.worked = 0

    def spend(self, path: Path, width: int, height: int, pages: int = 1) -> None:
        """Count pixels that are about to be read. Raises PictureProblem when they are too many, or
        none."""
        if width < 1 or height < 1:
            raise PictureProblem(path, f"its size is {width}×{height}")
        if max(width, height) > MOST_SIDE:
            raise PictureProblem(path,
                                 f"its size is {width}×{height}, a side of more than {MOST_SIDE}")
        if pages > MOST_PAGES:
            raise PictureProblem(path, f"its {pages} frames are more than {MOST_PAGES}")
        if pages > 1 and width * height > MOST_CELL_PIXELS:
            raise PictureProblem(
                path,
                f"its frames of {width}×{height} are more than {MOST_CELL_PIXELS >> 20} million "
                f"pixels each",
            )
        self.used += width * height * pages
        if self.used > self.most:
            size = f"its {width}×{height}" + (f" × {pages} frames" if pages > 1 else " pixels")
            raise self.too_many(path, size)

    def work(self, path: Path, width: int, height: int, mixing: bool = False) -> None:
        """Count pixels that are about to be unpacked, or mixed, for what is shown. Raises
        PictureProblem when they are too many."""
        self.worked += max(LEAST_WORK, width * height) * (MIXING if mixing else 1)
        if self.worked > self.most * MOST_WORK:
            raise PictureProblem(
                path,
                f"its layers and groups make more than {self.most * MOST_WORK // 2**20} million "
                f"pixels to be mixed",
            )

    def too_many(self, path: Path, what: str) -> PictureProblem:
        """The problem of pixels that were counted, and are too many."""
        kind = TooLarge if self.used <= HARDEST_PIXELS else PictureProblem
        return kind(path, f"{what} make more than {self.most // 2**20} million pixels")
