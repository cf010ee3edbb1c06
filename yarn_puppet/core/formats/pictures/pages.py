"""A picture as pages of plain pixels, and how much of one is read at all."""

from __future__ import annotations

from pathlib import Path
from typing import NamedTuple

from ..file_names import said

MOST_PIXELS = 64 * 1024 * 1024
"""Of all pages together, unless someone was asked."""
HARDEST_PIXELS = 512 * 1024 * 1024
"""More than this is never read: it would take more than two gigabytes."""
MOST_PAGES = 2000
USUAL_DURATION = 100.0
"""Milliseconds of a frame that says none, as browsers have it."""


class PictureProblem(ValueError):
    """A picture that cannot be used: which, and what is wrong."""

    def __init__(self, path: Path, what: str) -> None:
        super().__init__(f"{said(path)}: {what}")


class TooLarge(PictureProblem):
    """A picture of more pixels than are read unasked; it could be read with `most_pixels` at `HARDEST_PIXELS`."""


class Page(NamedTuple):
    """One frame: `pixels` holds width × height × 4 bytes, red, green, blue, alpha. `duration` in milliseconds."""

    width: int
    height: int
    duration: float | None
    pixels: bytes


class Budget:
    """How many pixels may be read of one file or folder, and how many were."""

    def __init__(self, most: int) -> None:
        self.most = most
        self.used = 0

    def spend(self, path: Path, width: int, height: int, pages: int = 1) -> None:
        """Count pixels that are about to be read. Raises PictureProblem when they are too many, or none."""
        if width < 1 or height < 1:
            raise PictureProblem(path, f"its size is {width}×{height}")
        if pages > MOST_PAGES:
            raise PictureProblem(path, f"its {pages} frames are more than {MOST_PAGES}")
        self.used += width * height * pages
        if self.used > self.most:
            size = f"its {width}×{height}" + (f" × {pages} frames" if pages > 1 else " pixels")
            raise self.too_many(path, size)

    def too_many(self, path: Path, what: str) -> PictureProblem:
        """The problem of pixels that were counted, and are too many."""
        kind = TooLarge if self.used <= HARDEST_PIXELS else PictureProblem
        return kind(path, f"{what} make more than {self.most // 2**20} million pixels")
