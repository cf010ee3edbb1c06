"""OpenRaster files (`.ora`, https://www.openraster.org): a zip of layers, listed in `stack.xml`.

Every visible layer or group at the top is a page, the lowest first. A group is put together of what is visible in it.
"""

from __future__ import annotations

import zipfile
from collections.abc import Iterator
from pathlib import Path, PurePosixPath
from xml.etree import ElementTree

import numpy as np
from PIL import Image

from .decoding import decoded_still
from .mixing import Floats, mixed
from .pages import HARDEST_PIXELS, MOST_PAGES, USUAL_DURATION, Budget, Page, PictureProblem

LARGEST_LIST = 1024 * 1024
"""Bytes of an archive's list of layers."""
DEEPEST = 32
"""Groups inside each other."""


def open_raster(path: Path, budget: Budget) -> list[Page]:
    """The pages of an OpenRaster file. Raises PictureProblem; where only its size is against it, TooLarge."""
    try:
        with zipfile.ZipFile(path) as archive:
            return _pages(path, archive, budget)
    except PictureProblem:
        raise
    except Exception as error:
        raise PictureProblem(path, f"cannot be read as OpenRaster ({str(error) or type(error).__name__})") from None


def _pages(path: Path, archive: zipfile.ZipFile, budget: Budget) -> list[Page]:
    listed = _member(path, archive, "stack.xml", LARGEST_LIST)
    if b"<!DOCTYPE" in listed or b"<!ENTITY" in listed:
        raise PictureProblem(path, "stack.xml declares entities, which OpenRaster does not have")
    image = ElementTree.fromstring(listed)
    width, height = int(image.get("w", "0")), int(image.get("h", "0"))
    root = image.find("stack")
    root = image if root is None else root
    layers = list(image.iter("layer"))
    if not layers:
        raise PictureProblem(path, "it has no layers")
    if len(layers) > MOST_PAGES:
        raise PictureProblem(path, f"its {len(layers)} layers are more than {MOST_PAGES}")
    shown = list(_shown(root))
    if not shown:
        raise PictureProblem(path, "none of its layers is visible")
    # Every layer is unpacked, whichever page it ends up on.
    budget.spend(path, width, height, max(len(shown), sum(1 for each in shown for _ in each.iter("layer"))))
    reader = _Reader(path, archive, width, height, budget.most)
    return [Page(width, height, USUAL_DURATION, reader.page(each)) for each in reversed(shown)]


def _shown(group: ElementTree.Element) -> Iterator[ElementTree.Element]:
    """The layers and groups right inside a group that are visible, the uppermost first."""
    for each in group:
        if each.tag in ("layer", "stack") and each.get("visibility", "visible") == "visible" and (
                each.tag == "stack" or each.get("src")):
            yield each


class _Reader:
    def __init__(self, path: Path, archive: zipfile.ZipFile, width: int, height: int, most_pixels: int) -> None:
        self.path, self.archive = path, archive
        self.width, self.height = width, height
        self.most_pixels = most_pixels

    def page(self, element: ElementTree.Element) -> bytes:
        """A layer or group alone, as bytes of its pixels."""
        opacity = _opacity(element)
        if element.tag == "layer" and opacity == 1:
            return self.layer(element, 0, 0).tobytes()
        made = mixed(self.clear(), self.drawn(element, 0, 0, 0), opacity)
        return np.round(made * 255).astype(np.uint8).tobytes()

    def clear(self) -> Floats:
        """Nothing drawn."""
        return np.zeros((self.height, self.width, 4), dtype=np.float32)

    def drawn(self, element: ElementTree.Element, x: int, y: int, depth: int) -> Floats:
        """A layer or group before its own opacity; x, y is where what it is in lies."""
        if element.tag == "layer":
            return np.asarray(self.layer(element, x, y)).astype(np.float32) / np.float32(255)
        if depth > DEEPEST:
            raise PictureProblem(self.path, f"its groups lie more than {DEEPEST} deep inside each other")
        x, y = x + int(element.get("x", "0")), y + int(element.get("y", "0"))
        made = self.clear()
        for each in reversed(list(_shown(element))):
            over = self.drawn(each, x, y, depth + 1)
            made = mixed(made, over, _opacity(each), each.get("composite-op", "svg:src-over"))
        return made

    def layer(self, element: ElementTree.Element, x: int, y: int) -> Image.Image:
        """A layer's picture where it lies on the whole."""
        most = self.width * self.height * 8 + LARGEST_LIST
        content = _member(self.path, self.archive, element.get("src", ""), most)
        picture = decoded_still(self.path, content, Budget(min(self.most_pixels, HARDEST_PIXELS)))
        whole = Image.new("RGBA", (self.width, self.height), (0, 0, 0, 0))
        whole.paste(picture, (x + int(element.get("x", "0")), y + int(element.get("y", "0"))))
        return whole


def _opacity(element: ElementTree.Element) -> float:
    value = float(element.get("opacity", "1"))
    return min(1.0, max(0.0, value)) if value == value else 1.0


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
