"""Painters that are ended whatever happens."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager

from PyQt6.QtGui import QPaintDevice, QPainter

SMOOTH = QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform


@contextmanager
def painting(device: QPaintDevice) -> Iterator[QPainter]:
    """A painter on a device.

    A fault while something is drawn must cost one picture and no more: a painter that is still open
    when its device goes takes the whole process with it.
    """
    painter = QPainter(device)
    try:
        yield painter
    finally:
        painter.end()
