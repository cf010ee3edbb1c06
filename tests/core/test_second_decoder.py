"""Pictures beside what a browser makes of them: what goes out, what comes in, and how layers are
mixed."""

from __future__ import annotations

import io
import struct
import tempfile
import unittest
import zlib
from pathlib import Path
from random import Random

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from tests.browser import Seen, browser, frames_seen, mixes_seen
from tests.core.test_going_out import hard_frames
from tests.core.test_pictures import deep
from tests.helpers import Case
from yarn_puppet.core.formats.pictures.clip_pictures import save_clip_picture
from yarn_puppet.core.formats.pictures.mixing import MIXES, SHARES, mixed
from yarn_puppet.core.formats.pictures.pages import Page
from yarn_puppet.core.formats.pictures.reading import read_pages

WORDS = {"svg:src-over": "source-over", "svg:plus": "lighter", "svg:dst-in": "destination-in",
         "svg:dst-out": "destination-out", "svg:src-atop": "source-atop",
         "svg:dst-atop": "destination-atop"}
"""Where a canvas's word is not OpenRaster's own."""


def away(ours: NDArray[np.uint8], theirs: NDArray[np.uint8]) -> float:
    """By how much two pictures differ at the most, colours by as much as they are seen."""
    one, other = ours.astype(float), theirs.astype(float)
    seen = np.abs(one[..., :3] * one[..., 3:] - other[..., :3] * other[..., 3:]) / 255
    return float(max(seen.max(), np.abs(one[..., 3] - other[..., 3]).max()))


def pixels_of(page: Page) -> NDArray[np.uint8]:
    return np.frombuffer(page.pixels, dtype=np.uint8).reshape(page.height, page.width, 4)


def random_apng(dice: Random, beside: bool) -> bytes:
    """An animation of frames of all sizes and places, half clear, mixed or not, kept, cleared or
    taken back."""
    side, count, number = 16, dice.randint(2, 6), 0

    def chunk(name: bytes, data: bytes) -> bytes:
        return struct.pack(">I", len(data)) + name + data + struct.pack(
            ">I", zlib.crc32(name + data))

    def packed(wide: int, high: int) -> bytes:
        return zlib.compress(b"".join(b"\0" + bytes(
            each for _ in range(wide)
            for each in (*dice.randbytes(3), dice.choice((0, 90, 128, 255))))
            for _ in range(high)))

    made = [b"\x89PNG\r\n\x1a\n",
            chunk(b"IHDR", struct.pack(">IIBBBBB", side, side, 8, 6, 0, 0, 0)),
            chunk(b"acTL", struct.pack(">II", count, 0))]
    if beside:
        made.append(chunk(b"IDAT", packed(side, side)))
    for index in range(count):
        wide, high = (dice.randint(1, side), dice.randint(1, side)) if index else (side, side)
        x, y = dice.randint(0, side - wide), dice.randint(0, side - high)
        made.append(chunk(b"fcTL",
                          struct.pack(">IIIIIHHBB", number, wide, high, x, y, dice.randint(2, 50),
                                      100,
                                               dice.randint(0, 2), dice.randint(0, 1))))
        number += 1
        if index or beside:
            made.append(chunk(b"fdAT", struct.pack(">I", number) + packed(wide, high)))
            number += 1
        else:
            made.append(chunk(b"IDAT", packed(wide, high)))
    return b"".join([*made, chunk(b"IEND", b"")])


def random_gif(dice: Random) -> bytes:
    """An animation as other programs write it: only what changed, with every way to dispose of a
    frame."""
    images, out = squares(dice), io.BytesIO()
    images[0].save(out, "GIF", save_all=True, append_images=images[1:],
                   duration=[40, 50, 60, 70, 80],
                   disposal=[dice.randint(0, 3) for _ in images], loop=0)
    return out.getvalue()


def random_webp(dice: Random) -> bytes:
    """The same as WebP, without loss."""
    images, out = squares(dice), io.BytesIO()
    images[0].save(out, "WEBP", save_all=True, append_images=images[1:],
                   duration=[40, 50, 60, 70, 80], lossless=True)
    return out.getvalue()


def squares(dice: Random) -> list[Image.Image]:
    """Five frames of three squares each."""
    images = []
    for _ in range(5):
        image = Image.new("RGBA", (16, 16), (0, 0, 0, 0))
        for _ in range(3):
            x, y = dice.randrange(12), dice.randrange(12)
            image.paste((*dice.randbytes(3), 255), (x, y, x + 5, y + 5))
        images.append(image)
    return images


@unittest.skipUnless(browser(), "no browser is installed")
class BesideABrowser(Case):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def check(self, ours: tuple[Page, ...], theirs: list[Seen]) -> None:
        self.assertEqual(len(ours), len(theirs))
        for page, seen in zip(ours, theirs, strict=True):
            self.assertLess(away(pixels_of(page), seen.pixels), 2.5)
            if page.duration is not None and seen.duration is not None:
                self.assertAlmostEqual(page.duration, seen.duration, delta=0.6)

    def test_what_moves_comes_in_as_it_is_shown(self) -> None:
        dice = Random(5)
        files = [("image/png", random_apng(dice, bool(number % 2))) for number in range(24)]
        files += [("image/gif", random_gif(dice)) for _ in range(12)]
        files += [("image/webp", random_webp(dice)) for _ in range(4)]
        files += [("image/png", deep(0, (0, 1000, 20000, 40000, 65535), (20000,))),
                  ("image/png", deep(2, (0, 257, 65535, 20000, 30000, 40000),
                                     (20000, 30000, 40000)))]
        for number, (theirs, (_, content)) in enumerate(
            zip(frames_seen(*files), files, strict=True)):
            with self.subTest(number):
                (self.folder / "it").write_bytes(content)
                self.check(read_pages(self.folder / "it"), theirs)

    def test_what_goes_out_is_shown_frame_for_frame(self) -> None:
        shown = hard_frames()
        for name in ("it.gif", "it.apng"):
            save_clip_picture(self.folder / name, shown, True)
        seen = frames_seen(("image/gif", (self.folder / "it.gif").read_bytes()),
                           ("image/png", (self.folder / "it.apng").read_bytes()))
        for frames in seen:
            self.assertEqual([each.duration for each in frames], [30] * len(shown))
            for frame, theirs in zip(shown, frames, strict=True):
                self.assertEqual(away(frame.pixels, theirs.pixels), 0)

    def test_layers_are_mixed_as_a_browser_mixes_them(self) -> None:
        dice = np.random.default_rng(2)
        under, over = (dice.integers(0, 256, (24, 24, 4)).astype(np.uint8) for _ in range(2))
        # Colours that are hardly seen are hardly known in eight bits.
        for each in (under, over):
            each[..., 3] = np.where(each[..., 3] < 120, 0, each[..., 3])
        ways = [*MIXES, *SHARES]
        found = mixes_seen(under, over,
                           [(WORDS.get(way, way.removeprefix("svg:")), 0.6) for way in ways])
        for way, theirs in zip(ways, found, strict=True):
            with self.subTest(way):
                ours = mixed(under.astype(np.float32) / 255, over.astype(np.float32) / 255, 0.6,
                             way)
                self.assertLess(away(np.round(ours * 255).astype(np.uint8), theirs), 4)
