"""GIF files out (GIF89a): every frame whole and with colours of its own, where Pillow would join
and share.

Pillow packs the frames; only what stands between them is written here.
"""

from __future__ import annotations

import struct
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray
from PIL import Image
from PIL.GifImagePlugin import getdata

CLEAR_BELOW = 128
"""GIF knows only seen or not seen: alpha below this is not."""
MOST_COLORS = 255
"""Of a frame, beside clear."""
RESTORE = 2
"""A frame's place is cleared when its time is over."""
ROUND_FOR_EVER = b"!\xff\x0bNETSCAPE2.0\x03\x01\x00\x00\x00"
"""The block by which programs play a GIF again and again."""


def gif_bytes(frames: Sequence[NDArray[np.uint8]], hundredths: Sequence[int], loops: bool) -> bytes:
    """Frames of one shape (height, width, 4), red, green, blue, alpha, each shown so many
    hundredths of a second."""
    height, width = frames[0].shape[:2]
    made = [b"GIF89a", struct.pack("<HHBBB", width, height, 0x70, 0, 0),
            ROUND_FOR_EVER if loops else b""]
    for pixels, lasts in zip(frames, hundredths, strict=True):
        image, clear = indexed(pixels)
        made += getdata(image, duration=min(lasts, 0xFFFF) * 10, disposal=RESTORE,
                        transparency=clear,
                        include_color_table=True)
    return b"".join([*made, b";"])


def indexed(pixels: NDArray[np.uint8]) -> tuple[Image.Image, int]:
    """A frame in up to 255 colours and clear, and the number of clear. So many colours or fewer are
    exact."""
    seen = pixels[..., 3] >= CLEAR_BELOW
    drawn = pixels[seen][:, :3].astype(np.uint32)
    packed, places = np.unique(drawn[:, 0] << 16 | drawn[:, 1] << 8 | drawn[:, 2],
                               return_inverse=True)
    colors = np.stack((packed >> 16, packed >> 8 & 255, packed & 255), axis=1)
    if len(colors) > MOST_COLORS:
        row = Image.fromarray(np.ascontiguousarray(pixels[seen][None, :, :3]), "RGB")
        picked = row.quantize(MOST_COLORS, Image.Quantize.MEDIANCUT, kmeans=2,
                              dither=Image.Dither.NONE)
        places = np.asarray(picked).reshape(-1).astype(np.intp)
        colors = np.asarray(picked.getpalette() or [], dtype=np.uint32).reshape(-1, 3)[:MOST_COLORS]
    clear = len(colors)
    numbers = np.full(seen.shape, clear, dtype=np.uint8)
    numbers[seen] = places.reshape(-1)
    image = Image.fromarray(numbers, "P")
    image.putpalette([*colors.reshape(-1).tolist(), 0, 0, 0])
    return image, clear
