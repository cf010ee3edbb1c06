"""The demo's art, redrawn by its own scripts: every event stays where it was, and what hangs on
a picture on it."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from tests.helpers import Case
from yarn_puppet.core.art.drawings import SheetPicture, cells_of, drawing_of
from yarn_puppet.core.art.marks import marks_of
from yarn_puppet.core.formats.puppet_file import load_puppet
from yarn_puppet.core.model.clips import Cell, Clip, Grid
from yarn_puppet.core.model.edits.following.recutting import Recut, recut, shown_of
from yarn_puppet.core.model.puppet import Puppet, find
from yarn_puppet.demo import DEMO_FOLDER
from yarn_puppet.demo.make.redrawn import GROWN, SHIFT, WAYS, drawn_cells, laid_out

SHEET = "lamplighter"


def picture_of(image: Image.Image) -> SheetPicture:
    """A sheet as the core looks at it."""
    pixels: NDArray[np.uint8] = np.asarray(image)

    def look(cell: Cell) -> NDArray[np.uint8]:
        piece = np.zeros((cell.height, cell.width, 4), dtype=np.uint8)
        here = pixels[cell.y: cell.y + cell.height, cell.x: cell.x + cell.width]
        piece[: here.shape[0], : here.shape[1]] = here
        return piece

    return SheetPicture((image.size,), lambda: pixels[..., 3], look)


def look_of(clip: Clip, index: int, image: Image.Image) -> NDArray[np.uint8]:
    """A frame as it stands on its pivot, on a ground large enough for all."""
    frame, pivot = clip.frames[index], clip.pivot_of(index)
    cell = frame.cell
    piece = image.crop((cell.x, cell.y, cell.x + cell.width, cell.y + cell.height))
    ground = Image.new("RGBA", (256, 256))
    ground.paste(piece, (128 - int(pivot.x), 200 - int(pivot.y)))
    return np.asarray(ground)


class Redrawn(Case):
    before = laid_out(drawn_cells())

    def setUp(self) -> None:
        self.puppet = load_puppet(DEMO_FOLDER / "lamplighter.puppet.json")
        sheet = find(self.puppet.sheets, SHEET)
        assert sheet is not None
        self.sheet = sheet

    def follow(self, way: Callable[[], Image.Image]) -> tuple[Recut, Grid | None, Image.Image]:
        """What becomes of Pell."""
        image = way()
        shown = shown_of(self.puppet, SHEET)
        drawing, grid = drawing_of(self.sheet, picture_of(image), shown, self.before.size)
        was = marks_of(picture_of(self.before).look,
                       {cell for cell, _ in shown} | {
                           *cells_of(self.sheet, picture_of(self.before))})
        return recut(self.puppet, drawing._replace(before=was)), grid, image

    def test_every_event_stays_where_it_was(self) -> None:
        for name, way in WAYS.items():
            with self.subTest(name):
                found, _, _ = self.follow(way)
                for clip, after in zip(self.puppet.clips, found.puppet.clips, strict=True):
                    self.assertEqual((after.moments, after.windows), (clip.moments, clip.windows))
                    self.assertEqual([frame.duration for frame in after.frames],
                                     [frame.duration for frame in clip.frames])

    def test_what_hangs_on_a_picture_is_where_it_was_on_it(self) -> None:
        for name in ("shifted", "one added", "one removed", "two identical", "one blank", "grown"):
            with self.subTest(name):
                found, _, image = self.follow(WAYS[name])
                self.check(found.puppet, image,
                           {(at.clip, at.frame) for at in (*found.lost, *found.redrawn)})

    def check(self, puppet: Puppet, image: Image.Image, other: set[tuple[str, int]]) -> None:
        """All frames but those look as they did, and their boxes and anchors are where they were
        beside the pivot."""
        for clip, after in zip(self.puppet.clips, puppet.clips, strict=True):
            for index, frame in enumerate(clip.frames):
                if frame.cell.sheet != SHEET or (clip.id, index) in other:
                    continue
                self.assertTrue((look_of(clip, index, self.before) == look_of(
                    after, index, image)).all(), clip.id)
                old, new = clip.pivot_of(index), after.pivot_of(index)
                pairs = zip((*frame.boxes, *frame.anchors),
                            (*after.frames[index].boxes, *after.frames[index].anchors),
                           strict=True)
                for one, two in pairs:
                    self.assertAlmostEqual(two.x - new.x, one.x - old.x, 3)
                    self.assertAlmostEqual(two.y - new.y, one.y - old.y, 3)

    def test_what_is_said_of_each(self) -> None:
        frames = sum(frame.cell.sheet == SHEET for clip in self.puppet.clips
                     for frame in clip.frames)
        glowing = len(self.puppet.clip("lantern").frames)  # type: ignore[union-attr]
        counts = {}
        for name, way in WAYS.items():
            found, grid, _ = self.follow(way)
            counts[name] = (len(found.moved), len(found.redrawn), len(found.lost), len(found.fresh))
            self.assertEqual(grid, Grid(*GROWN) if name == "grown" else None)
        self.assertEqual(counts, {
            "shifted": (0, 0, 0, 0), "one added": (5, 0, 0, 1), "one removed": (4, 0, 1, 0),
            # A glow is half clear all over, and the colours of that are in no mark.
            "two identical": (0, 1, 0, 0), "one blank": (0, 0, 1, 0),
            "all repainted": (0, frames - glowing, 0, 0),
            "grown": (frames, 0, 0, 0),
        })

    def test_a_shifted_figure_takes_its_pivot_along(self) -> None:
        found, _, _ = self.follow(WAYS["shifted"])
        swing, after = self.puppet.clip("light_swing"), found.puppet.clip("light_swing")
        assert swing and after
        self.assertEqual(after.pivot_of(0).x - swing.pivot_of(0).x, SHIFT[0])
