"""Values seen from afar: what lies in one pixel is one stroke from the least of them to the most.

Painted straight into an image, so that ten minutes cost no more than ten seconds.
"""

from __future__ import annotations

from collections.abc import Sequence
from math import ceil
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QColor, QImage, QPainter

NEAR = 4.0
"""Pixels to a tick from which on values are drawn as lines."""
FAR = 1.0
"""Pixels to a tick below which states and windows are bands of colour."""


def draw_strokes(
    painter: QPainter,
    heights: NDArray[np.float64],
    left: float,
    wide: float,
    area: QRectF,
    color: QColor,
    dotted: bool,
) -> None:
    """Draw the values of ticks, as heights on the screen; the first tick begins at `left`, each is
    so wide."""
    seen = _columns(painter, len(heights), left, wide)
    if seen is None:
        return
    first, columns, grain, begins, ends = seen
    # With the tick before each column, so that strokes join.
    begins = np.clip(begins - 1, 0, len(heights) - 1)
    ends = np.clip(np.maximum(ends, begins + 1), 0, len(heights) - 1)
    low, high = _spans(heights, begins, ends)
    rows = ceil(area.height() * grain) + 3
    top = area.top() - 1
    above = np.clip(np.rint((low - top) * grain).astype(int), 0, rows - 1)
    below = np.clip(np.maximum(np.rint((high - top) * grain).astype(int), above), 0, rows - 1)
    thick = max(1, round(1.4 * grain))
    places = np.arange(rows)[:, None]
    mask = (places >= above[None, :]) & (places < below[None, :] + thick)
    if dotted:
        mask[:, np.arange(columns) % (3 * thick) >= 2 * thick] = False
    pixels = np.zeros((rows, columns), dtype=np.uint32)
    pixels[mask] = color.rgba()
    _draw_pixels(painter, pixels, first, top, grain)


def draw_band(
    painter: QPainter,
    codes: NDArray[Any],
    colors: Sequence[QColor | None],
    left: float,
    wide: float,
    area: QRectF,
    most: bool = False,
) -> list[tuple[float, float, int]]:
    """Draw a number a tick as a band of its colour; None is left clear. Of those in one pixel it is
    the first that is seen, or the `most`. Gives where each colour begins and ends on the screen,
    and its number."""
    seen = _columns(painter, len(codes), left, wide)
    if seen is None:
        return []
    first, columns, grain, begins, ends = seen
    begins = np.clip(begins, 0, len(codes) - 1)
    shown = (
        _spans(codes, begins, np.clip(np.maximum(ends - 1, begins), 0, len(codes) - 1))[1]
        if most
        else codes[begins]
    )
    table = np.array([0 if color is None else color.rgba() for color in colors], dtype=np.uint32)
    rows = max(1, round(area.height() * grain))
    _draw_pixels(painter, np.repeat(table[shown][None, :], rows, axis=0), first, area.top(), grain)
    changes = np.concatenate(([0], np.flatnonzero(np.diff(shown)) + 1, [columns]))
    return [(first + begin / grain, first + end / grain, int(shown[begin]))
            for begin, end in zip(changes[:-1].tolist(), changes[1:].tolist(), strict=True)]


def _columns(
    painter: QPainter, ticks: int, left: float, wide: float
) -> tuple[float, int, float, NDArray[np.int_], NDArray[np.int_]] | None:
    """What of so many ticks is seen: the first x, how many columns of so many a pixel, and the tick
    each begins with and the one after its last."""
    device = painter.device()
    grain = device.devicePixelRatioF() if device is not None else 1.0
    window = painter.clipBoundingRect()
    first = max(left, window.left())
    columns = ceil((min(left + ticks * wide, window.right()) - first) * grain)
    if columns <= 0 or not ticks:
        return None
    begins = np.floor((first - left + np.arange(columns) / grain) / wide).astype(int)
    ends = np.floor((first - left + (np.arange(columns) + 1) / grain) / wide).astype(int)
    return first, columns, grain, begins, ends


def _draw_pixels(
    painter: QPainter, pixels: NDArray[np.uint32], x: float, y: float, grain: float
) -> None:
    rows, columns = pixels.shape
    data = pixels.tobytes()
    image = QImage(data, columns, rows, columns * 4, QImage.Format.Format_ARGB32)
    image.setDevicePixelRatio(grain)
    painter.drawImage(QPointF(x, y), image)


def _spans(
    values: NDArray[Any], begins: NDArray[np.int_], ends: NDArray[np.int_]
) -> tuple[NDArray[Any], NDArray[Any]]:
    """The least and the most of the values from each begin to each end, both included. Both
    rise."""
    # Pairs of places, as `reduceat` takes them: what lies between two spans is left out.
    places = np.empty(2 * len(begins), dtype=int)
    places[0::2], places[1::2] = begins, ends + 1
    longer = np.append(values, values[-1])
    places = np.minimum(places, len(longer) - 1)
    return np.minimum.reduceat(longer, places)[0::2], np.maximum.reduceat(longer, places)[0::2]
