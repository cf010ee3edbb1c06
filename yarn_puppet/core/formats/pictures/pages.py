"""A picture as pages of plain pixels, and what is wrong with one that cannot be used."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, NamedTuple

from ..file_names import said

if TYPE_CHECKING:
    from PIL import Image

USUAL_DURATION = 100.0
"""Milliseconds of a frame that says none, as browsers have it."""


class PictureProblem(ValueError):
    """A picture that cannot be used: which, and what is wrong."""

    def __init__(self, path: Path | str, what: str) -> None:
        self.what = what
        super().__init__(f"{said(path)}: {what}")


class TooLarge(PictureProblem):
    """A picture of more pixels than are read unasked; it could be read with `most_pixels` at
    `HARDEST_PIXELS`."""


class Page(NamedTuple):
    """One frame: `pixels` holds width × height × 4 bytes, red, green, blue, alpha. `duration` in
    milliseconds."""

    width: int
    height: int
    duration: float | None
    pixels: bytes | memoryview


class Drawn(NamedTuple):
    """One frame as it comes from a decoder, of eight bits a colour, with alpha; its owner may draw
    on it later."""

    image: Image.Image
    duration: float | None
