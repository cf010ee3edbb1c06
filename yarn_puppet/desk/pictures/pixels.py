"""Qt's images as plain pixels. Apart from the decoding of files, so that a window opens without
NumPy."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QRect
from PyQt6.QtGui import QImage

from ...core.art.drawings import SheetPicture
from ...core.model.clips import Cell, Frame


def alpha_of(image: QImage) -> NDArray[np.uint8]:
    """The see-through channel of a kept picture, shape (height, width): a view of it, which keeps
    it alive."""
    return _view(image)[:, :, 3]


def raw_pixels(image: QImage) -> NDArray[np.uint8]:
    """The pixels of a kept picture as they lie in memory, shape (height, width, 4), alpha last: for
    what only compares them."""
    return _view(image)


def pixels_of(image: QImage) -> NDArray[np.uint8]:
    """The pixels of a picture, shape (height, width, 4): red, green, blue, alpha, colours not
    multiplied by it."""
    return _view(image.convertToFormat(QImage.Format.Format_RGBA8888))


def some_rows(image: QImage, most: int) -> NDArray[np.uint8]:
    """As many rows of a picture as that, spread over it, as `pixels_of` gives them: what a guess
    needs, in a fraction of the time."""
    step = max(1, -(-image.height() // most))
    rows = _view(image)[::step]
    raw = rows.tobytes()
    few = QImage(raw, image.width(), rows.shape[0], image.width() * 4, image.format())
    return pixels_of(few).copy()


def cell_pixels(pages: Sequence[QImage], cell: Cell) -> NDArray[np.uint8]:
    """What is drawn in a cell, as `pixels_of` gives it, as far as its picture goes: less than the
    cell where it lies over an edge, a single clear pixel where the picture has no such page or
    place."""
    page = pages[cell.page] if cell.page < len(pages) else QImage()
    rect = QRect(cell.x, cell.y, cell.width, cell.height).intersected(page.rect())
    return pixels_of(page.copy(rect)) if not rect.isEmpty() else np.zeros((1, 1, 4), dtype=np.uint8)


def whole_cell(pixels: NDArray[np.uint8], cell: Cell) -> NDArray[np.uint8]:
    """What `cell_pixels` gives as large as the cell, clear beyond the picture."""
    if pixels.shape[:2] == (cell.height, cell.width):
        return pixels
    made = np.zeros((cell.height, cell.width, 4), dtype=np.uint8)
    made[: pixels.shape[0], : pixels.shape[1]] = pixels
    return made


def frame_pixels(pages: Sequence[QImage], frame: Frame) -> NDArray[np.uint8]:
    """The pixels of a frame, flipped where it is; clear where its cell goes beyond the picture."""
    pixels = whole_cell(cell_pixels(pages, frame.cell), frame.cell)
    return pixels[:, ::-1] if frame.mirrored else pixels


def picture_of(pages: Sequence[QImage]) -> SheetPicture:
    """Pages as the core looks at them."""
    return SheetPicture(tuple((page.width(), page.height()) for page in pages),
                        lambda: alpha_of(pages[0]),
                   lambda cell: cell_pixels(pages, cell))


def _view(image: QImage) -> NDArray[np.uint8]:
    whole = np.asarray(_Bytes(image))
    return whole[:, : image.width() * 4].reshape(image.height(), image.width(), 4)


class _Bytes:
    """A picture's bytes as NumPy takes them: arrays made of this hold on to it, and so to the
    picture."""

    def __init__(self, image: QImage) -> None:
        self.image = image
        self.__array_interface__ = {
            "shape": (image.height(), image.bytesPerLine()), "typestr": "|u1", "version": 3,
            "data": (int(image.constBits()), True),
        }
