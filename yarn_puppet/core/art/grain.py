"""Whether a picture is pixel art, whose pixels are meant to be seen, or painted."""

from __future__ import annotations

import numpy as np

from .cutting import OPAQUE
from .marks import Pixels

A_LITTLE = 24
"""By how much neighbours differ that blend into each other: the three channels together, of 765."""
MOSTLY = 0.55
"""The share of neighbours that do from which a picture is painted."""
LEAST_PAIRS = 64
MOST_ROWS = 1024
"""Rows that are looked at: of more, every second one, and so on."""


def is_painted(pixels: Pixels) -> bool:
    """A guess from the colours of what is drawn: in paint most neighbours differ by a little, in
    pixel art they are equal, or another colour."""
    rows = pixels[:: max(1, -(-pixels.shape[0] // MOST_ROWS))].astype(np.int16)
    drawn = rows[:, :, 3] > OPAQUE
    both = drawn[:, 1:] & drawn[:, :-1]
    apart = np.abs(rows[:, 1:, :3] - rows[:, :-1, :3]).sum(axis=2)[both]
    if apart.size < LEAST_PAIRS:
        return False
    return bool(np.count_nonzero((apart > 0) & (apart <= A_LITTLE)) > MOSTLY * apart.size)
