"""Picture files as Qt's images."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtGui import QImage, QImageReader

from ...core.formats.errors import open_regular

MOST_PIXELS = 64 * 1024 * 1024
"""As in the core's reader, which is only imported once it is needed: it brings a library for pictures with it."""
READY = QImage.Format.Format_ARGB32_Premultiplied
"""The format in which every picture is kept: the one Qt draws without converting."""


def read_pictures(
    path: Path, most_pixels: int = MOST_PIXELS, left_out: list[str] | None = None
) -> tuple[tuple[QImage, float | None], ...]:
    """The pages of a picture file or folder, each with its duration in milliseconds where it has one.

    Raises PictureProblem. Stills go through Qt, which has them ready when the window opens; everything that moves,
    or has layers, or is odd in any way, through the core's reader, which says what is wrong. What of a folder could not
    be read is told in `left_out`.
    """
    still = _still(path, most_pixels)
    if still is not None:
        return ((still, None),)
    from ...core.formats.pictures.reading import read_pages

    return tuple((_image(page.width, page.height, page.pixels), page.duration)
                 for page in read_pages(path, most_pixels, left_out))


def _still(path: Path, most_pixels: int) -> QImage | None:
    """A PNG of eight bits a colour that does not move, read by Qt; None for anything else."""
    try:
        with open_regular(path) as file:
            head = file.read(65536)
    except OSError:
        return None
    # Qt mistakes what is clear in pictures of sixteen bits a colour.
    if not head.startswith(b"\x89PNG") or b"acTL" in head or head[24:25] == b"\x10":
        return None
    reader = QImageReader(str(path))
    reader.setDecideFormatFromContent(True)
    reader.setAllocationLimit(0)
    size = reader.size()
    if not size.isValid() or size.width() * size.height() > most_pixels:
        return None
    image = reader.read()
    if image.isNull():
        return None
    # In place where it can be: a large sheet is held once, not twice.
    image.convertTo(READY)
    return image


def _image(width: int, height: int, pixels: bytes) -> QImage:
    image = QImage(pixels, width, height, width * 4, QImage.Format.Format_RGBA8888)
    return image.convertToFormat(READY)
