"""A clip as a picture that moves: GIF or APNG."""

from __future__ import annotations

import io
from collections.abc import Sequence
from pathlib import Path
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from .errors import FileProblem
from .writing import write_safely

SUFFIXES = (".gif", ".apng", ".png")
CLEAR_BELOW = 128
"""GIF knows only seen or not seen: alpha below this is not."""


class Shown(NamedTuple):
    """One frame: pixels of shape (height, width, 4), where its pivot stands in them, and milliseconds."""

    pixels: NDArray[np.uint8]
    pivot_x: float
    pivot_y: float
    duration: float


def common_canvas(frames: Sequence[Shown]) -> list[NDArray[np.uint8]]:
    """The frames on canvases of one size, standing on one pivot."""
    places = [(-round(frame.pivot_x), -round(frame.pivot_y)) for frame in frames]
    left, top = min(x for x, _ in places), min(y for _, y in places)
    right = max(x + frame.pixels.shape[1] for (x, _), frame in zip(places, frames, strict=True))
    bottom = max(y + frame.pixels.shape[0] for (_, y), frame in zip(places, frames, strict=True))
    made = []
    for (x, y), frame in zip(places, frames, strict=True):
        canvas = np.zeros((bottom - top, right - left, 4), dtype=np.uint8)
        height, width = frame.pixels.shape[:2]
        canvas[y - top: y - top + height, x - left: x - left + width] = frame.pixels
        made.append(canvas)
    return made


def save_clip_picture(path: Path, frames: Sequence[Shown], loops: bool) -> None:
    """Write a clip as a GIF or an APNG, by the name's ending. Raises FileProblem.

    A GIF counts time in hundredths of a second: borders between frames are rounded, so that the whole stays as long.
    """
    if path.suffix.lower() not in SUFFIXES:
        raise FileProblem(path, "", f"expected a name that ends in {' or '.join(SUFFIXES[:2])}")
    if not frames:
        raise FileProblem(path, "", "expected a clip with frames")
    gif = path.suffix.lower() == ".gif"
    canvases = common_canvas(frames)
    images = [Image.fromarray(_hard_edged(canvas) if gif else canvas, "RGBA") for canvas in canvases]
    out = io.BytesIO()
    durations = _rounded([frame.duration for frame in frames], 10 if gif else 1)
    options: dict[str, object] = {"loop": 0} if loops else {} if gif else {"loop": 1}
    if gif:
        options["disposal"] = 2
    images[0].save(
        out, "GIF" if gif else "PNG", save_all=True, append_images=images[1:], duration=durations, **options
    )
    write_safely(path, out.getvalue())


def _hard_edged(canvas: NDArray[np.uint8]) -> NDArray[np.uint8]:
    made = canvas.copy()
    made[..., 3] = np.where(canvas[..., 3] < CLEAR_BELOW, 0, 255)
    return made


def _rounded(durations: Sequence[float], unit: int) -> list[int]:
    """Durations as whole multiples of `unit` milliseconds, at least one; what is rounded off is carried over."""
    made, start, shown = [], 0.0, 0
    for duration in durations:
        start += duration
        end = max(shown + 1, round(start / unit))
        made.append((end - shown) * unit)
        shown = end
    return made
