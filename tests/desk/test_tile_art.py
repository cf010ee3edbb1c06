"""A booth drawn with its own pictures, by mouse and keyboard: tiles, what lies behind, and cells
laid over places."""

from __future__ import annotations

import shutil
from pathlib import Path

from PIL import Image
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QImage, QPixmap
from PyQt6.QtTest import QTest

from tests.desk.test_booth_page import BoothCase
from yarn_puppet.core.formats.booth_file import load_booth
from yarn_puppet.core.model.world import TileLook, World
from yarn_puppet.demo import FIRST_STEPS
from yarn_puppet.desk.booth.scenery import FROM_FAR, draw_tiles
from yarn_puppet.desk.widgets.painting import painting

GROUND, BLOOM, SKY = (30, 200, 60), (250, 0, 250), (10, 20, 240)


def tiles(path: Path, ground: tuple[int, int, int]) -> None:
    """A picture of 2 × 1 cells of 16 pixels: ground, and something that blooms on it."""
    picture = Image.new("RGBA", (32, 16), (*BLOOM, 255))
    picture.paste((*ground, 255), (0, 0, 16, 16))
    picture.save(path)


class OwnPictures(BoothCase):
    file = None

    def setUp(self) -> None:
        super().setUp()
        self.home = self.home_with("lamplighter")
        shutil.copy(FIRST_STEPS, self.home / "mine.puppet.json")
        tiles(self.home / "my tiles.png", GROUND)
        Image.new("RGB", (40, 240), SKY).save(self.home / "sky.png")
        self.open_at_home(self.home / "mine.puppet.json")
        self.window.booth.show_bare(True)

    def arrive(self) -> None:
        """Wait until the pictures are there."""
        self.hand.until(lambda: not self.window.art.busy, "the pictures")
        self.hand.wait(3)

    def pick(self, sentence, token: str, choice: str) -> None:  # type: ignore[no-untyped-def]
        """Choose in a token."""
        self.hand.token(sentence, token)
        self.hand.pick(choice)
        self.hand.wait()

    def colors(self, page: bool = False) -> set[tuple[int, int, int]]:
        """The colours in the booth, or on the page, by every other pixel, with all edits in it."""
        self.hand.until(lambda: self.window.player.recording.is_compiled, "the edits")
        image = self.hand.picture(self.view if page else self.window.booth).toImage()
        return {QColor(image.pixel(x, y)).getRgb()[:3]
                for x in range(0, image.width(), 2) for y in range(0, image.height(), 2)}

    def take_tiles(self) -> None:
        """Draw brick with the first cell."""
        self.pick(self.page.booth, "tiles", "my tiles.png")
        self.arrive()
        self.hand.click(self.page.tiles, self.page.tiles.rect_of(0, 0).center())
        self.pick(self.page.thing, "look", "brick")

    def test_brick_is_drawn_as_a_cell_of_a_picture_in_four_choices(self) -> None:
        self.assertTrue(self.page.tiles.isHidden())
        self.assertNotIn(GROUND, self.colors())
        before, gestures = self.world, self.hand.gestures
        self.take_tiles()
        self.assertLessEqual(self.hand.gestures - gestures, 5)
        self.assertEqual(self.world.looks, (TileLook("#", 0, 0),))
        self.assertIn(GROUND, self.colors())
        self.assertIn(GROUND, self.colors(page=True))
        self.undo()
        self.assertEqual(self.world.looks, ())
        self.undo()
        self.assertEqual(self.world, before)
        self.assertNotIn(GROUND, self.colors())
        self.assertTrue(self.page.tiles.isHidden(), "and another brush is in hand")
        self.assertEqual(self.view.brush, "brick")

    def test_edges_are_a_choice_and_a_look_is_taken_away(self) -> None:
        self.take_tiles()
        self.pick(self.page.thing, "edges brick", "with edges: 3 × 3 cells")
        self.assertEqual(self.world.looks, (TileLook("#", 0, 0, "outside"),))
        self.hand.token(self.page.thing, "no look brick")
        self.assertEqual(self.world.looks, ())
        self.assertNotIn(GROUND, self.colors())

    def test_a_cell_is_laid_by_a_drag_lifted_by_the_right_button_and_takes_no_tile(self) -> None:
        self.pick(self.page.booth, "tiles", "my tiles.png")
        self.arrive()
        QTest.keyClick(self.page.tiles, Qt.Key.Key_Right)
        self.assertEqual(self.page.painting.cell, (1, 0))
        rows = self.world.rows
        self.stroke((8, 9), (12, 9))
        self.assertEqual([cell[:2] for cell in self.world.cells],
                         [(column, 9) for column in range(8, 13)])
        self.assertIn(BLOOM, self.colors())
        self.assertEqual(self.world.rows, rows)
        self.hand.click(self.view, self.at(8, 9), Qt.MouseButton.RightButton)
        self.assertEqual([cell[0] for cell in self.world.cells], [9, 10, 11, 12])
        self.assertEqual(self.world.rows, rows)
        self.brush("plank")
        self.hand.click(self.view, self.at(9, 9))
        self.assertEqual([cell[0] for cell in self.world.cells], [10, 11, 12])
        self.hand.click(self.view, self.at(8, 1))
        QTest.keyClick(self.view, Qt.Key.Key_T)
        self.assertEqual(self.view.brush, "cell")

    def test_a_picture_lies_behind_all(self) -> None:
        self.assertNotIn(SKY, self.colors())
        self.pick(self.page.booth, "background", "sky.png")
        self.arrive()
        self.assertIn(SKY, self.colors())

    def test_one_that_is_redrawn_is_shown_and_one_that_goes_is_said(self) -> None:
        self.take_tiles()
        redrawn = (200, 100, 0)
        tiles(self.home / "next.png", redrawn)
        (self.home / "next.png").rename(self.home / "my tiles.png")
        self.hand.until(lambda: redrawn in self.colors(), "the picture read again")
        self.assertNotIn(GROUND, self.colors())
        (self.home / "my tiles.png").unlink()
        self.hand.until(lambda: redrawn not in self.colors(), "ours again")
        self.brush("brick")
        self.hand.click(self.view, self.at(8, 1))
        words = " ".join(part.text for part in self.page.booth.parts)
        self.assertIn("my tiles.png (not there)", words)

    def test_a_booth_takes_its_pictures_to_another_folder(self) -> None:
        self.take_tiles()
        away = self.folder / "away"
        away.mkdir()
        self.window.files._write(away / "mine.puppet.json")
        self.hand.wait()
        booth = load_booth(away / self.window.booths.file)
        self.assertEqual(booth.tiles, "my tiles.png")
        self.assertEqual((away / "my tiles.png").read_bytes(),
                         (self.home / "my tiles.png").read_bytes())
        self.assertFalse((away / "sky.png").exists(), "which it does not name")

    def test_a_prop_is_drawn_with_a_picture_that_lies_beside_the_puppet(self) -> None:
        self.brush("prop")
        self.hand.click(self.view, QPointF(self.view.to_view(self.world.start_x + 30,
                                                             self.world.start_y - 4)))
        self.pick(self.page.thing, "picture", "sky.png")
        self.arrive()
        self.assertIn(SKY, self.colors())


class FromFar(BoothCase):
    """Tiles of less than three pixels are one each, from a map."""

    def pixels(self, world: World, picture: QPixmap | None = None) -> list[list[QColor]]:
        """A world of which a tile is a pixel."""
        size = world.tile_size
        image = QImage(world.columns, len(world.rows), QImage.Format.Format_ARGB32)
        image.fill(0)
        with painting(image) as painter:
            painter.scale(1 / size, 1 / size)
            draw_tiles(painter, world, QRectF(0, 0, world.columns * size, len(world.rows) * size),
                       0, lambda name: picture if name else None)
        return [[image.pixelColor(x, y) for x in range(image.width())]
                for y in range(image.height())]

    def test_each_is_in_its_colour(self) -> None:
        for size in (1, 16, 512):
            world = World("w", ("..=H", "rfab", "#"), 1, 1, wet=("~~~~~~", "", "~"), tile_size=size)
            shown = [[FROM_FAR[letter].getRgb() for letter in row]
                     for row in ("~~=H", "####", "####")]
            self.assertEqual([[color.getRgb() for color in row] for row in self.pixels(world)],
                             shown)

    def test_what_looks_otherwise_is_in_the_colour_of_its_cell(self) -> None:
        picture = QPixmap(32, 16)
        picture.fill(QColor(*GROUND))
        world = World("w", (".#", "##"), 1, 1, tiles="t.png", looks=(TileLook("#", 1, 0),))
        colors = [[color.getRgb()[:3] for color in row] for row in self.pixels(world, picture)]
        self.assertEqual(colors[1], [GROUND, GROUND])
        self.assertNotEqual(colors[0][0], GROUND)
