"""Picture files as Qt's images, read by a process of its own. Whoever calls this waits: never the
window's thread."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtGui import QImage

from ...core.formats.pictures.apart.reading_apart import PICTURES, OnProgress
from ...core.formats.pictures.budget import MOST_PIXELS

READY = QImage.Format.Format_ARGB32_Premultiplied
"""The format in which every picture is kept: the one Qt draws without converting."""


def read_pictures(
    path: Path, most_pixels: int = MOST_PIXELS, left_out: list[str] | None = None,
    progress: OnProgress = lambda done, whole: None, wanted: Callable[[], bool] = lambda: True,
) -> tuple[tuple[QImage, float | None], ...]:
    """The pages of a picture file or folder, each with its duration in milliseconds where it has
    one.

    Raises PictureProblem, TooLarge and Stopped, and takes `left_out`, `told` and `wanted`, as
    `PictureProcess.read` does.
    """
    return tuple((_image(page.width, page.height, page.pixels), page.duration)
                 for page in PICTURES.read(path, most_pixels, left_out, progress, wanted))


def _image(width: int, height: int, pixels: bytes | memoryview) -> QImage:
    # A copy: what the pixels lie in is let go.
    return QImage(pixels, width, height, width * 4,  # type: ignore[arg-type]  # any buffer will do
                  QImage.Format.Format_RGBA8888).convertToFormat(READY)
