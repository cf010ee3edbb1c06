"""A clip as a picture that moves: GIF or APNG."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from ...model.basics.sharing import shared_out
from ...model.clips import Point
from ..errors import FileProblem
from ..replacing import write_safely
from .apng import apng_bytes
from .gif import gif_bytes

SUFFIXES = (".gif", ".apng", ".png")
VIEWERS_LEAST = 2
"""Hundredths of a second: what lasts less is shown for ten by browsers."""
LARGEST_SIDE = 16_384
"""Pixels of a canvas: pivots can be put so far apart that no picture holds both frames."""


class Shown(NamedTuple):
    """One frame: pixels of shape (height, width, 4), where its pivot stands in them, and
    milliseconds."""

    pixels: NDArray[np.uint8]
    pivot_x: float
    pivot_y: float
    duration: float

    @property
    def corner(self) -> tuple[int, int]:
        """Where its left top corner is, beside the pixel its pivot stands in."""
        x, y = Point(self.pivot_x, self.pivot_y).pixel
        return -x, -y


def common_canvas(frames: Sequence[Shown]) -> list[NDArray[np.uint8]]:
    """The frames on canvases of one size, standing on one pivot. Raises ValueError where that is
    too large."""
    places = [frame.corner for frame in frames]
    left, top = min(x for x, _ in places), min(y for _, y in places)
    right = max(x + frame.pixels.shape[1] for (x, _), frame in zip(places, frames, strict=True))
    bottom = max(y + frame.pixels.shape[0] for (_, y), frame in zip(places, frames, strict=True))
    if max(right - left, bottom - top) > LARGEST_SIDE:
        raise ValueError(
            f"expected frames that lie within {LARGEST_SIDE} pixels of each other, found pivots "
            "that put "
            f"them {right - left}×{bottom - top} apart"
        )
    made = []
    for (x, y), frame in zip(places, frames, strict=True):
        canvas = np.zeros((bottom - top, right - left, 4), dtype=np.uint8)
        height, width = frame.pixels.shape[:2]
        canvas[y - top: y - top + height, x - left: x - left + width] = frame.pixels
        made.append(canvas)
    return made


def save_clip_picture(path: Path, frames: Sequence[Shown], loops: bool) -> None:
    """Write a clip as a GIF or an APNG, by the name's ending: as many frames as it has. Raises
    FileProblem.

    Durations are rounded so that the whole stays as long. A GIF counts in hundredths of a second,
    of which viewers show a frame for two at least: no frame has fewer where the whole has that
    many.
    """
    if path.suffix.lower() not in SUFFIXES:
        raise FileProblem(path, "", f"expected a name that ends in {' or '.join(SUFFIXES[:2])}")
    if not frames:
        raise FileProblem(path, "", "expected a clip with frames")
    try:
        canvases = common_canvas(frames)
    except ValueError as error:
        raise FileProblem(path, "", str(error)) from None
    parts = [max(1, round(frame.duration * 1000)) for frame in frames]
    if path.suffix.lower() == ".gif":
        whole = round(sum(parts) / 10_000)
        least = VIEWERS_LEAST if whole >= VIEWERS_LEAST * len(parts) else 1
        content = gif_bytes(canvases, shared_out(parts, whole, least), loops)
    else:
        images = [Image.fromarray(canvas, "RGBA") for canvas in canvases]
        content = apng_bytes(images, shared_out(parts, round(sum(parts) / 1000), 1), loops)
    write_safely(path, content)
