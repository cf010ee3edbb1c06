"""Marks: digests of what is drawn in cells, by which frames are found again in a sheet that was
redrawn."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from hashlib import blake2b

import numpy as np
from numpy.typing import NDArray

from ..model.clips import Cell, Mark

Pixels = NDArray[np.uint8]
"""A picture, shape (height, width, 4): red, green, blue, alpha. Colours may be multiplied by alpha
or not."""


def mark_of(pixels: Pixels) -> Mark | None:
    """The mark of a cell's pixels, None for an empty one.

    Read from the pixels within the bounds of what is not wholly see-through. The colours of those
    that are partly so are left out: programs round them differently, and the mark must be the same
    whichever read the file.
    """
    seen = pixels[:, :, 3] > 0
    down, across = np.flatnonzero(seen.any(axis=1)), np.flatnonzero(seen.any(axis=0))
    if not down.size:
        return None
    top, bottom, left, right = int(down[0]), int(down[-1]) + 1, int(across[0]), int(across[-1]) + 1
    piece = pixels[top:bottom, left:right].copy()
    piece[piece[:, :, 3] < 255, :3] = 0
    digest = blake2b(repr(piece.shape).encode() + piece.tobytes(), digest_size=10)
    return Mark(digest.hexdigest(), left, top)


def marks_of(look: Callable[[Cell], Pixels], cells: Iterable[Cell]) -> dict[Cell, Mark]:
    """The marks of those cells that hold anything; `look` gives the pixels of a cell."""
    marks = {cell: mark_of(look(cell)) for cell in cells}
    return {cell: mark for cell, mark in marks.items() if mark is not None}
