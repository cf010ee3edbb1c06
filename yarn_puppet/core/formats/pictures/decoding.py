"""One picture file as its frames, by Pillow; its colours brought to eight bits each."""

from __future__ import annotations

import io
import re
import threading
import warnings
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import IO

from PIL import Image, UnidentifiedImageError

from .budget import MOST_PAGES, Budget
from .pages import USUAL_DURATION, Drawn, PictureProblem

KINDS = ("PNG", "GIF", "WEBP")
_LOCK = threading.RLock()
"""Pillow's bound on pixels is one for the whole process: who reads sets it, one at a time."""


def decoded(path: Path, file: IO[bytes], budget: Budget) -> Iterator[Drawn]:
    """The frames of one picture, each drawn when it is asked for. Raises PictureProblem; where only
    its size is against it, TooLarge."""
    found = False
    try:
        with _LOCK, warnings.catch_warnings(), _bound(budget.most - budget.used):
            warnings.simplefilter("ignore")
            for drawn in _frames(path, file, budget):
                found = True
                yield drawn
    except (PictureProblem, MemoryError):
        raise
    except Image.DecompressionBombError as error:
        raise _too_many(path, error, budget) from None
    except UnidentifiedImageError:
        raise PictureProblem(
            path, "cannot be read as a picture (it is none of PNG, GIF, WebP or OpenRaster)"
        ) from None
    except Exception as error:
        # Decoders meet bytes nobody meant them to read; what they stumble over is no one's list to
        # keep.
        raise PictureProblem(
            path, f"cannot be read as a picture ({str(error) or type(error).__name__})"
        ) from None
    if not found:
        raise PictureProblem(path, "cannot be read as a picture (it has no frames)")


def decoded_still(path: Path, content: bytes, budget: Budget) -> Image.Image:
    """A picture inside another file: its first frame. Raises PictureProblem."""
    frames = decoded(path, io.BytesIO(content), budget)
    first = next(frames).image
    frames.close()  # type: ignore[attr-defined]
    return first


def _frames(path: Path, file: IO[bytes], budget: Budget) -> Iterator[Drawn]:
    with Image.open(file, formats=KINDS) as image:
        count = getattr(image, "n_frames", 1)
        if count > MOST_PAGES:
            raise PictureProblem(path, f"its {count} frames are more than {MOST_PAGES}")
        budget.spend(path, image.width, image.height, count)
        for number in range(count):
            if number and image.format == "GIF":
                # A frame that does not say what becomes of it stays (0 in GIF89a): Pillow would do
                # with it what the frame before it said.
                image.disposal_method = 0  # type: ignore[attr-defined]
            image.seek(number)
            plain = eight_bits(image)
            # WebP knows a frame's duration only once the frame is decoded.
            duration = image.info.get("duration")
            yield Drawn(plain, duration_of(duration) if count > 1 else None)


def eight_bits(image: Image.Image) -> Image.Image:
    """A picture as red, green, blue and alpha of eight bits each. Pillow cuts sixteen bits of grey
    off at 255."""
    clear = image.info.get("transparency")
    if image.mode.startswith("I"):
        # Only here: a process that reads pictures is to be ready soon.
        import numpy as np

        grey = np.asarray(image).astype(np.int64).clip(0, 65535)
        alpha = (
            np.where(grey == clear, 0, 255) if isinstance(clear, int) else np.full_like(grey, 255)
        )
        light = (grey * 255 + 32767) // 65535
        return Image.fromarray(np.dstack((light, light, light, alpha)).astype(np.uint8), "RGBA")
    if image.mode == "RGB" and isinstance(clear, tuple) and max(clear) > 255:
        # The colour that is clear is told in sixteen bits, of which the upper eight are left.
        image = image.copy()
        image.info["transparency"] = tuple(each >> 8 for each in clear)
    if image.mode == "RGBA" and getattr(image, "n_frames", 1) == 1:
        # As it is: a copy of a large sheet would be half of what may be taken for it.
        image.load()
        return image
    return image.convert("RGBA")


def duration_of(value: object) -> float:
    """How long a frame lasts, in milliseconds of a thousandth at the finest, at least one."""
    return (
        max(1.0, round(float(value), 3))
        if isinstance(value, int | float) and value > 0
        else USUAL_DURATION
    )


@contextmanager
def _bound(pixels: int) -> Iterator[None]:
    """Have Pillow refuse pictures of more pixels than this, wherever in a file their size is
    told."""
    before = Image.MAX_IMAGE_PIXELS
    # It only warns up to twice its bound; an odd number is rounded up, and what is over it is
    # counted by us.
    Image.MAX_IMAGE_PIXELS = max(1, (pixels + 1) // 2)
    try:
        yield
    finally:
        Image.MAX_IMAGE_PIXELS = before


def _too_many(path: Path, error: Exception, budget: Budget) -> PictureProblem:
    """What Pillow says of too many pixels, in our words."""
    counted = re.search(r"\d+", str(error))
    pixels = int(counted[0]) if counted else 1 << 62
    budget.used += pixels
    return budget.too_many(path, f"its {pixels} pixels")
