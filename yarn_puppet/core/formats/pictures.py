"""Pictures of every open kind as pages of plain pixels: a still has one page, a moving one a page a frame.

PNG, APNG, GIF and WebP are read by Pillow. OpenRaster (`.ora`) is a zip of layers listed in `stack.xml`
(https://www.openraster.org), each a page, the lowest first. A folder of numbered pictures is a page each.
Files are hostile until read: sizes are known before anything is unpacked, and nothing is looked for outside an archive.
"""

from __future__ import annotations

import io
import re
import threading
import warnings
import zipfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path, PurePosixPath
from typing import IO, NamedTuple
from xml.etree import ElementTree

from PIL import Image, ImageSequence

MOST_PIXELS = 64 * 1024 * 1024
"""Of all pages together, unless someone was asked."""
HARDEST_PIXELS = 512 * 1024 * 1024
"""More than this is never read: it would take more than two gigabytes."""
MOST_PAGES = 2000
LARGEST_LIST = 1024 * 1024
"""Bytes of an archive's list of layers."""
KINDS = ("PNG", "GIF", "WEBP")
ENDINGS = (".png", ".apng", ".gif", ".webp", ".ora")
USUAL_DURATION = 100.0
"""Milliseconds of a frame that says none, as browsers have it."""


_LOCK = threading.Lock()
"""Pillow's bound on pixels is one for the whole process: who reads sets it, one at a time."""


class PictureProblem(ValueError):
    """A picture that cannot be used: which, and what is wrong."""

    def __init__(self, path: Path, what: str) -> None:
        super().__init__(f"{path}: {what}")


class TooLarge(PictureProblem):
    """A picture of more pixels than are read unasked; it could be read with `most_pixels` at `HARDEST_PIXELS`."""


class Page(NamedTuple):
    """One frame: `pixels` holds width × height × 4 bytes, red, green, blue, alpha. `duration` in milliseconds."""

    width: int
    height: int
    duration: float | None
    pixels: bytes


class _Budget:
    """How many pixels may be read of one file or folder, and how many were."""

    def __init__(self, most: int) -> None:
        self.most = most
        self.used = 0

    def spend(self, path: Path, width: int, height: int, pages: int) -> None:
        """Count pixels that are about to be read. Raises PictureProblem when they are too many, or none."""
        if width < 1 or height < 1:
            raise PictureProblem(path, f"its size is {width}×{height}")
        self.used += width * height * pages
        if self.used > self.most:
            size = f"{width}×{height}" + (f" × {pages} frames" if pages > 1 else "")
            kind = TooLarge if self.used <= HARDEST_PIXELS else PictureProblem
            raise kind(path, f"{size} makes more than {self.most // 2**20} million pixels")


def read_pages(path: Path, most_pixels: int = MOST_PIXELS) -> tuple[Page, ...]:
    """The pages of a picture file, an OpenRaster file or a folder of numbered pictures.

    Raises PictureProblem; where only the number of pixels stands against it, TooLarge.
    """
    budget = _Budget(most_pixels)
    try:
        if path.is_dir():
            return _folder(path, budget)
        if not path.is_file():
            raise PictureProblem(path, "there is no such file")
        if zipfile.is_zipfile(path):
            return _open_raster(path, budget)
        with path.open("rb") as file:
            return _picture(path, file, budget)
    except PictureProblem:
        raise
    except OSError as error:
        raise PictureProblem(path, f"cannot be read ({error.strerror or error})") from None


def _picture(path: Path, file: IO[bytes], budget: _Budget) -> tuple[Page, ...]:
    """The pages of one picture."""
    try:
        with _LOCK, warnings.catch_warnings(), _bound(budget.most - budget.used):
            warnings.simplefilter("ignore")
            pages = _pages(path, file, budget)
    except PictureProblem:
        raise
    except Image.DecompressionBombError as error:
        raise _too_many(path, error, budget) from None
    except Exception as error:
        # Decoders meet bytes nobody meant them to read; what they stumble over is no one's list to keep.
        raise PictureProblem(path, f"cannot be read as a picture ({str(error) or type(error).__name__})") from None
    if not pages:
        raise PictureProblem(path, "cannot be read as a picture (it has no frames)")
    return tuple(pages)


def _pages(path: Path, file: IO[bytes], budget: _Budget) -> list[Page]:
    pages = []
    with Image.open(file, formats=KINDS) as image:
        count = getattr(image, "n_frames", 1)
        if count > MOST_PAGES:
            raise PictureProblem(path, f"its {count} frames are more than {MOST_PAGES}")
        budget.spend(path, image.width, image.height, count)
        for frame in ImageSequence.Iterator(image):
            plain = frame.convert("RGBA")
            # WebP knows a frame's duration only once the frame is decoded.
            duration = frame.info.get("duration")
            pages.append(Page(plain.width, plain.height, _duration(duration, count), plain.tobytes()))
    return pages


@contextmanager
def _bound(pixels: int) -> Iterator[None]:
    """Have Pillow refuse pictures of more pixels than this, wherever in a file their size is told."""
    before = Image.MAX_IMAGE_PIXELS
    # It only warns up to twice its bound.
    Image.MAX_IMAGE_PIXELS = max(1, pixels // 2)
    try:
        yield
    finally:
        Image.MAX_IMAGE_PIXELS = before


def _too_many(path: Path, error: Exception, budget: _Budget) -> PictureProblem:
    """What Pillow says of too many pixels, in our words."""
    told = re.search(r"\d+", str(error))
    pixels = int(told[0]) if told else HARDEST_PIXELS + 1
    kind = TooLarge if budget.used + pixels <= HARDEST_PIXELS else PictureProblem
    return kind(path, f"its {pixels} pixels make more than {budget.most // 2**20} million pixels")


def _duration(value: object, count: int) -> float | None:
    if count < 2:
        return None
    return max(1.0, float(value)) if isinstance(value, int | float) and value > 0 else USUAL_DURATION


def _folder(path: Path, budget: _Budget) -> tuple[Page, ...]:
    """The numbered pictures of a folder, in the order of their numbers."""
    numbered = []
    for each in path.iterdir():
        number = re.search(r"(\d+)(?!.*\d)", each.stem)
        if number and each.suffix.lower() in ENDINGS and each.is_file():
            numbered.append((int(number[1]), each.name, each))
    if not numbered:
        raise PictureProblem(path, "no numbered pictures are in this folder")
    if len(numbered) > MOST_PAGES:
        raise PictureProblem(path, f"its {len(numbered)} pictures are more than {MOST_PAGES}")
    pages: list[Page] = []
    for _, _, each in sorted(numbered):
        with each.open("rb") as file:
            pages.append(_picture(each, file, budget)[0]._replace(duration=USUAL_DURATION))
    return tuple(pages)


def _open_raster(path: Path, budget: _Budget) -> tuple[Page, ...]:
    """The layers of an OpenRaster file, the lowest first, each on a page of the whole picture's size."""
    try:
        with zipfile.ZipFile(path) as archive:
            listed = _member(path, archive, "stack.xml", LARGEST_LIST)
            if b"<!DOCTYPE" in listed or b"<!ENTITY" in listed:
                raise PictureProblem(path, "stack.xml declares entities, which OpenRaster does not have")
            image = ElementTree.fromstring(listed)
            width, height = int(image.get("w", "0")), int(image.get("h", "0"))
            layers = [layer for layer in image.iter("layer") if layer.get("src")]
            if not layers:
                raise PictureProblem(path, "it has no layers")
            if len(layers) > MOST_PAGES:
                raise PictureProblem(path, f"its {len(layers)} layers are more than {MOST_PAGES}")
            budget.spend(path, width, height, len(layers))
            return tuple(_layer(path, archive, layer, width, height, budget.most) for layer in reversed(layers))
    except PictureProblem:
        raise
    except Exception as error:
        raise PictureProblem(path, f"cannot be read as OpenRaster ({str(error) or type(error).__name__})") from None


def _member(path: Path, archive: zipfile.ZipFile, name: str, largest: int) -> bytes:
    """A file inside an archive, once its name stays inside and its size unpacked is bearable."""
    plain = PurePosixPath(name)
    if plain.is_absolute() or ".." in plain.parts or "\\" in name:
        raise PictureProblem(path, f"it names {name}, which lies outside it")
    info = archive.getinfo(name)
    if info.file_size > largest:
        raise PictureProblem(path, f"{name} unpacks to {info.file_size} bytes, more than {largest}")
    with archive.open(info) as file:
        # The size an archive states may be a lie; no more than the bound is ever unpacked.
        content = file.read(largest + 1)
    if len(content) > largest:
        raise PictureProblem(path, f"{name} unpacks to more than {largest} bytes")
    return content


def _layer(
    path: Path, archive: zipfile.ZipFile, layer: ElementTree.Element, width: int, height: int, most_pixels: int
) -> Page:
    content = _member(path, archive, layer.get("src", ""), width * height * 8 + LARGEST_LIST)
    picture = _picture(path, io.BytesIO(content), _Budget(most_pixels))[0]
    whole = Image.new("RGBA", (width, height), (0, 0, 0, 0))
    part = Image.frombytes("RGBA", (picture.width, picture.height), picture.pixels)
    whole.paste(part, (int(layer.get("x", "0")), int(layer.get("y", "0"))))
    return Page(width, height, USUAL_DURATION, whole.tobytes())
