"""OpenRaster files (`.ora`, https://www.openraster.org): a zip of layers, listed in `stack.xml`.

Every visible layer or group at the top is a page, the lowest first. A group is put together of what
is visible in it.
"""

from __future__ import annotations

import zipfile
from collections.abc import Iterator
from pathlib import Path, PurePosixPath
from xml.etree import ElementTree

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from .budget import HARDEST_PIXELS, MOST_PAGES, Budget
from .decoding import decoded_still
from .mixing import Floats, mixed
from .pages import USUAL_DURATION, Drawn, PictureProblem

LARGEST_LIST = 1024 * 1024
"""Bytes of an archive's list of layers."""
DEEPEST = 32
"""Groups inside each other."""
BAND = 1 << 18
"""Pixels that are mixed at once: as numbers with fractions they take four times as much as when
they are shown."""
SHOWN = ("layer", "stack")


def open_raster(path: Path, budget: Budget) -> Iterator[Drawn]:
    """The pages of an OpenRaster file. Raises PictureProblem; where only its size is against it,
    TooLarge."""
    try:
        with zipfile.ZipFile(path) as archive:
            yield from _pages(path, archive, budget)
    except (PictureProblem, MemoryError):
        raise
    except Exception as error:
        raise PictureProblem(
            path, f"cannot be read as OpenRaster ({str(error) or type(error).__name__})"
        ) from None


def _pages(path: Path, archive: zipfile.ZipFile, budget: Budget) -> Iterator[Drawn]:
    listed = _member(path, archive, "stack.xml", LARGEST_LIST)
    if b"<!DOCTYPE" in listed or b"<!ENTITY" in listed:
        raise PictureProblem(path, "stack.xml declares entities, which OpenRaster does not have")
    image = ElementTree.fromstring(listed)
    width, height = int(image.get("w", "0")), int(image.get("h", "0"))
    root = image.find("stack")
    root = image if root is None else root
    layers = sum(1 for _ in image.iter("layer"))
    if not layers:
        raise PictureProblem(path, "it has no layers")
    count = layers + sum(1 for each in image.iter("stack") if each is not root)
    if count > MOST_PAGES:
        raise PictureProblem(path, f"its {count} layers and groups are more than {MOST_PAGES}")
    shown = list(_shown(root))
    if not shown:
        raise PictureProblem(path, "none of its layers is visible")
    budget.spend(path, width, height, len(shown))
    reader = _LayerReader(path, archive, width, height, budget)
    for each in shown:
        reader.count(each, 0)
    for each in reversed(shown):
        yield Drawn(reader.page(each), USUAL_DURATION)


def _shown(group: ElementTree.Element) -> Iterator[ElementTree.Element]:
    """The layers and groups right inside a group that are visible, the uppermost first."""
    for each in group:
        if each.tag in SHOWN and each.get("visibility", "visible") == "visible" and (
                each.tag == "stack" or each.get("src")):
            yield each


class _LayerReader:
    def __init__(
        self, path: Path, archive: zipfile.ZipFile, width: int, height: int, budget: Budget
    ) -> None:
        self.path, self.archive = path, archive
        self.width, self.height = width, height
        self.budget = budget
        self.layers: dict[ElementTree.Element, NDArray[np.uint8]] = {}
        """The pictures of the page that is put together."""

    def count(self, element: ElementTree.Element, depth: int) -> None:
        """Count what it takes to put a page together, before any of it is done. Raises
        PictureProblem."""
        if depth > DEEPEST:
            raise PictureProblem(self.path,
                                 f"its groups lie more than {DEEPEST} deep inside each other")
        if depth or element.tag == "stack" or _opacity(element) < 1:
            self.budget.work(self.path, self.width, self.height, mixing=True)
        if element.tag == "stack":
            for each in _shown(element):
                self.count(each, depth + 1)

    def page(self, element: ElementTree.Element) -> Image.Image:
        """A layer or group alone."""
        opacity = _opacity(element)
        if element.tag == "layer" and opacity == 1:
            whole = Image.new("RGBA", (self.width, self.height), (0, 0, 0, 0))
            whole.paste(self.picture(element), _corner(element))
            return whole
        self.layers.clear()
        made = np.zeros((self.height, self.width, 4), dtype=np.uint8)
        high = max(1, BAND // self.width)
        for top in range(0, self.height, high):
            bottom = min(self.height, top + high)
            clear = np.zeros((bottom - top, self.width, 4), dtype=np.float32)
            band = mixed(clear, self.drawn(element, 0, 0, top, bottom), opacity)
            made[top:bottom] = np.round(band * 255)
        self.layers.clear()
        return Image.fromarray(made, "RGBA")

    def drawn(self, element: ElementTree.Element, x: int, y: int, top: int, bottom: int) -> Floats:
        """The rows from `top` to before `bottom` of a layer or group, before its own opacity; x, y
        is where what it is in lies."""
        made = np.zeros((bottom - top, self.width, 4), dtype=np.float32)
        left, upper = _corner(element)
        x, y = x + left, y + upper
        if element.tag == "layer":
            self.lay(element, x, y - top, made)
            return made
        for each in reversed(list(_shown(element))):
            over = self.drawn(each, x, y, top, bottom)
            made = mixed(made, over, _opacity(each), each.get("composite-op", "svg:src-over"))
        return made

    def lay(self, element: ElementTree.Element, x: int, y: int, onto: Floats) -> None:
        """Put the part of a layer's picture that lies there onto clear rows."""
        if element not in self.layers:
            self.layers[element] = np.asarray(self.picture(element))
        picture = self.layers[element]
        left, top = max(0, x), max(0, y)
        right, bottom = min(onto.shape[1], x + picture.shape[1]), min(
            onto.shape[0], y + picture.shape[0])
        if left < right and top < bottom:
            piece = picture[top - y: bottom - y, left - x: right - x]
            onto[top:bottom, left:right] = piece.astype(np.float32) / np.float32(255)

    def picture(self, element: ElementTree.Element) -> Image.Image:
        """What a layer's own file holds."""
        most = self.width * self.height * 8 + LARGEST_LIST
        content = _member(self.path, self.archive, element.get("src", ""), most)
        picture = decoded_still(self.path, content, Budget(min(self.budget.most, HARDEST_PIXELS)))
        self.budget.work(self.path, picture.width, picture.height)
        return picture


def _corner(element: ElementTree.Element) -> tuple[int, int]:
    return int(element.get("x", "0")), int(element.get("y", "0"))


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
