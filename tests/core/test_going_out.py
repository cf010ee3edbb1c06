"""Clips going out: GIF, APNG, packed sheets."""

from __future__ import annotations

import json
import tempfile
from pathlib import Path

import numpy as np
from hypothesis import given
from hypothesis import strategies as some
from numpy.typing import NDArray
from PIL import Image, ImageSequence

from tests.helpers import Case, demo_puppet
from yarn_puppet.core.formats.errors import FileProblem
from yarn_puppet.core.formats.pictures.clip_pictures import Shown, common_canvas, save_clip_picture
from yarn_puppet.core.formats.pictures.packed_sheet import packed, save_packed_sheet, trimmed
from yarn_puppet.core.formats.pictures.reading import read_pages
from yarn_puppet.core.model.clips import Clip
from yarn_puppet.demo import DEMO_FOLDER


def frames_of(clip: Clip) -> list[NDArray[np.uint8]]:
    sheet = np.asarray(Image.open(DEMO_FOLDER / "lamplighter.png").convert("RGBA"))
    return [sheet[each.y: each.y + each.height, each.x: each.x + each.width]
            for each in (frame.cell for frame in clip.frames)]


def hard_frames() -> list[Shown]:
    """What is easily got wrong: a full frame before an empty one, shades next to each other, frames
    that look alike."""
    full, dot, near = (np.zeros((12, 12, 4), dtype=np.uint8) for _ in range(3))
    full[:] = (200, 30, 40, 255)
    dot[2:6, 2:6] = (10, 20, 30, 255)
    for number in range(16):
        near[number // 4, number % 4] = (100 + number, 100, 101, 255)
    return [Shown(each, 6, 12, 30)
            for each in (full, dot, dot, near, full, full, np.zeros_like(full), dot)]


class GoingOut(Case):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        clip = demo_puppet().clip("light_swing")
        assert clip is not None
        self.clip, self.frames = clip, frames_of(clip)

    def shown(self) -> list[Shown]:
        return [Shown(pixels, 44, 60, frame.duration)
                for pixels, frame in zip(self.frames, self.clip.frames, strict=True)]


class Moving(GoingOut):
    def test_an_apng_read_again_has_the_same_frames_and_times(self) -> None:
        path = self.folder / "swing.apng"
        save_clip_picture(path, self.shown(), False)
        pages = read_pages(path)
        self.assertEqual([page.duration for page in pages],
                         [frame.duration for frame in self.clip.frames])
        for page, pixels in zip(pages, self.frames, strict=True):
            again = np.frombuffer(page.pixels, dtype=np.uint8).reshape(page.height, page.width, 4)
            seen = pixels[..., 3] > 0
            self.assertTrue((again[seen] == pixels[seen]).all())
            self.assertTrue((again[~seen, 3] == 0).all())

    def test_a_gif_keeps_the_time_and_what_is_seen(self) -> None:
        path = self.folder / "swing.gif"
        save_clip_picture(path, self.shown(), True)
        pages = read_pages(path)
        self.assertEqual([page.duration for page in pages], [80, 60, 40, 40, 60, 70, 70])
        again = np.frombuffer(pages[3].pixels, dtype=np.uint8).reshape(64, 96, 4)
        self.assertTrue(((again[..., 3] > 0) == (self.frames[3][..., 3] >= 128)).all())

    def test_frames_stand_on_one_pivot_whatever_their_sizes(self) -> None:
        shown = [Shown(self.frames[0], 44, 60, 50), Shown(self.frames[0][10:, 20:], 24, 50, 50),
                 Shown(self.frames[1], 44, 60, 50)]
        save_clip_picture(self.folder / "it.apng", shown, True)
        pages = read_pages(self.folder / "it.apng")
        self.assertEqual({(page.width, page.height) for page in pages}, {(96, 64)})
        one, other = (np.frombuffer(page.pixels, dtype=np.uint8).reshape(64, 96, 4)
                      for page in pages[:2])
        self.assertTrue((one[10:, 20:] == other[10:, 20:]).all())

    def test_short_frames_are_carried_over_in_a_gif(self) -> None:
        shown = [Shown(self.frames[index], 44, 60, 16.0) for index in range(6)]
        save_clip_picture(self.folder / "it.gif", shown, True)
        self.assertEqual(sum(page.duration or 0 for page in read_pages(self.folder / "it.gif")),
                         100)

    def test_every_frame_is_what_is_shown(self) -> None:
        shown = hard_frames()
        for name in ("it.gif", "it.apng"):
            save_clip_picture(self.folder / name, shown, True)
            ours = [np.frombuffer(page.pixels, dtype=np.uint8).reshape(page.height, page.width, 4)
                    for page in read_pages(self.folder / name)]
            with Image.open(self.folder / name) as image:
                plain = [np.asarray(each.convert("RGBA")) for each in ImageSequence.Iterator(image)]
            for again in (ours, plain):
                self.assertEqual(len(again), len(shown), "none is joined with one that looks alike")
                for frame, seen in zip(shown, again, strict=True):
                    drawn = frame.pixels[..., 3] > 0
                    self.assertTrue(((seen[..., 3] > 0) == drawn).all())
                    self.assertTrue((seen[drawn] == frame.pixels[drawn]).all(), name)

    def test_more_colours_than_a_gif_holds_come_near(self) -> None:
        dice = np.random.default_rng(3)
        pixels = np.full((32, 32, 4), 255, dtype=np.uint8)
        pixels[..., :3] = dice.integers(0, 256, (32, 32, 3))
        pixels[:4, :4] = 0
        save_clip_picture(self.folder / "it.gif", [Shown(pixels, 0, 0, 100)], True)
        (page,) = read_pages(self.folder / "it.gif")
        again = np.frombuffer(page.pixels, dtype=np.uint8).reshape(32, 32, 4).astype(int)
        self.assertEqual(int((again[..., 3] == 0).sum()), 16)
        away = np.abs(again[..., :3] - pixels[..., :3])[pixels[..., 3] > 0]
        self.assertLess(float(away.mean()), 16)

    @given(some.lists(some.floats(1, 400), min_size=1, max_size=12))
    def test_hundredths_keep_the_sum(self, durations: list[float]) -> None:
        whole = round(sum(durations) / 10)
        shown = [Shown(np.full((2, 2, 4), 255, dtype=np.uint8), 0, 0, duration)
                 for duration in durations]
        save_clip_picture(self.folder / "it.gif", shown, True)
        found = [round((page.duration or 0) / 10) for page in read_pages(self.folder / "it.gif")]
        if len(durations) > 1:
            self.assertEqual(sum(found), max(whole, len(durations)))
            self.assertGreaterEqual(min(found), 2 if whole >= 2 * len(durations) else 1)

    def test_halves_of_a_pixel_do_not_make_it_jitter(self) -> None:
        pixels = np.zeros((8, 8, 4), dtype=np.uint8)
        pixels[3, 3] = 255
        shown = []
        for number in range(6):
            # The same dot, further right in its cell by a pixel each, and its pivot with it.
            shown.append(Shown(np.roll(pixels, number - 3, axis=1), 4.5 + number - 3, 7.5, 50))
        places = [np.argwhere(each[..., 3]).tolist() for each in common_canvas(shown)]
        self.assertEqual(places, places[:1] * 6)

    def test_frames_too_far_apart_for_a_picture_are_said(self) -> None:
        shown = [Shown(self.frames[0], 0, 0, 50), Shown(self.frames[0], 1e8, 0, 50)]
        with self.assertRaisesRegex(FileProblem, "lie within"):
            save_clip_picture(self.folder / "it.gif", shown, True)

    def test_what_cannot_be_written_is_said(self) -> None:
        for path, frames in ((self.folder / "it.bmp", self.shown()), (self.folder / "it.gif", []),
                             (self.folder / "none" / "it.gif", self.shown())):
            with self.subTest(path.name), self.assertRaises(FileProblem):
                save_clip_picture(path, frames, True)


class Packed(GoingOut):
    def test_every_frame_is_in_the_sheet_where_the_description_says(self) -> None:
        clips = [clip for clip in demo_puppet().clips if clip.id in ("light_swing", "idle")]
        path = self.folder / "pell.png"
        save_packed_sheet(path, [(clip, frames_of(clip)) for clip in clips], 60)
        sheet = np.asarray(Image.open(path))
        described = json.loads((self.folder / "pell.sheet.json").read_text())
        self.assertEqual((described["format"], described["picture"], described["rate"]),
                         (1, "pell.png", 60))
        self.assertEqual((described["height"], described["width"]), sheet.shape[:2])
        for clip, row in zip(clips, described["clips"], strict=True):
            self.assertEqual((row["name"], row["mode"]), (clip.name, clip.mode))
            for pixels, frame in zip(frames_of(clip), row["frames"], strict=True):
                piece = sheet[frame["y"]: frame["y"] + frame["height"],
                              frame["x"]: frame["x"] + frame["width"]]
                left, top = round(44 - frame["pivot_x"]), round(60 - frame["pivot_y"])
                whole = np.zeros((64, 96, 4), dtype=np.uint8)
                whole[top: top + frame["height"], left: left + frame["width"]] = piece
                self.assertTrue((whole[..., 3] == pixels[..., 3]).all())
                self.assertTrue((whole[pixels[..., 3] > 0] == pixels[pixels[..., 3] > 0]).all())
        self.assertEqual(described["clips"][1]["windows"][0],
                         {"start": 140.0, "end": 220.0, "kind": "hit", "name": "pole"})

    def test_frames_that_look_alike_are_packed_once(self) -> None:
        save_packed_sheet(self.folder / "it.png", [(self.clip, [self.frames[0]] * 7)], 60)
        row = json.loads((self.folder / "it.sheet.json").read_text())
        self.assertEqual(len({(frame["x"], frame["y"]) for frame in row["clips"][0]["frames"]}), 1)

    @given(some.lists(some.tuples(some.integers(1, 40), some.integers(1, 40)), min_size=1,
                      max_size=14))
    def test_pieces_never_overlap(self, sizes: list[tuple[int, int]]) -> None:
        pieces = [trimmed(np.full((high, wide, 4), 255, dtype=np.uint8)) for wide, high in sizes]
        sheet, places = packed(pieces)
        covered = np.zeros(sheet.shape[:2], dtype=int)
        for (x, y), (wide, high) in zip(places, sizes, strict=True):
            covered[y: y + high, x: x + wide] += 1
        self.assertEqual(covered.max(), 1)
        self.assertEqual(int(covered.sum()), sum(wide * high for wide, high in sizes))

    def test_what_cannot_be_written_is_said(self) -> None:
        for path, frames in ((self.folder / "it.gif", self.frames), (self.folder / "it.png", [])):
            with self.subTest(path.name), self.assertRaises(FileProblem):
                save_packed_sheet(path, [(self.clip, frames)], 60)
