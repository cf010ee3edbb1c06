"""Art that changes on disk, goes missing or is cut again: the clips follow it, and nothing is
dropped silently."""

from __future__ import annotations

import shutil
from pathlib import Path

from PIL import Image
from PyQt6.QtWidgets import QApplication

from tests.desk.case import DeskCase
from yarn_puppet.core.model.clips import Clip
from yarn_puppet.core.model.edits.entries import changed
from yarn_puppet.demo import DEMO_FOLDER, FIRST_STEPS

ROW = 4
"""The row of the light swing in Pell's sheet."""


class OnDisk(DeskCase):
    """Pell with his art in a folder of its own."""


    def own_file(self) -> Path:
        for name in ("lamplighter.png", "lamplighter_world.png", "lamplighter.puppet.json"):
            shutil.copy(DEMO_FOLDER / name, self.folder / name)
        return self.folder / "lamplighter.puppet.json"

    def setUp(self) -> None:
        super().setUp()
        self.sheet = self.folder / "lamplighter.png"
        self.page = self.go("Clips")
        self.sources = self.window.sources
        self.page.desk.show_clip("light_swing", 2)

    @property
    def swing(self) -> Clip:
        clip = self.puppet.clip("light_swing")
        assert clip is not None
        return clip

    def draw(self, change) -> None:  # type: ignore[no-untyped-def]
        """Change the sheet as an artist's program would: a new file in place of the old one."""
        image = Image.open(self.sheet).convert("RGBA")
        image.load()
        image = change(image) or image
        other = self.folder / "new.png"
        image.save(other)
        other.replace(self.sheet)
        self.assertFalse(self.sources.up_to_date)
        self.hand.until(lambda: self.sources.up_to_date,
                        "the change to be noticed and the sheet to be read again")

    def cell(self, image: Image.Image, column: int, row: int = ROW) -> Image.Image:
        return image.crop((column * 96, row * 64, column * 96 + 96, row * 64 + 64))

    def news(self) -> str:
        return " ".join(part.text for part in self.page.news_sentence.parts)


class Following(OnDisk):
    def test_what_is_painted_over_is_seen_at_once_and_keeps_everything(self) -> None:
        before = self.swing
        seen = self.page.frame_view.grab().toImage()

        def paint(image: Image.Image) -> None:
            image.paste((10, 200, 10, 255),
                        (2 * 96 + 40, ROW * 64 + 30, 2 * 96 + 50, ROW * 64 + 40))

        self.draw(paint)
        self.assertNotEqual(self.page.frame_view.grab().toImage(), seen)
        self.assertIn("lamplighter.png has changed: 1 redrawn", self.news())
        after = self.swing
        self.assertEqual([frame.cell for frame in after.frames],
                         [frame.cell for frame in before.frames])
        self.assertEqual((after.moments, after.windows), (before.moments, before.windows))
        self.hand.token(self.page.news_sentence, "fine lamplighter")
        self.assertFalse(self.page.news_sentence.isVisible())

    def test_new_art_the_same_events(self) -> None:
        before = self.swing

        def insert(image: Image.Image) -> None:
            """A frame more after the first, the sixth gone, all between moved on by a cell."""
            cells = [self.cell(image, column) for column in range(7)]
            extra = cells[1].copy()
            extra.paste((200, 30, 30, 255), (40, 20, 48, 30))
            for column, cell in enumerate((cells[0], extra, *cells[1:5], cells[6])):
                image.paste(cell, (column * 96, ROW * 64))

        self.draw(insert)
        self.assertEqual([frame.cell.x // 96 for frame in self.swing.frames], [0, 2, 3, 4, 5, 5, 6])
        self.assertEqual([frame.boxes for frame in self.swing.frames],
                         [frame.boxes for frame in before.frames])
        self.assertEqual([frame.anchors for frame in self.swing.frames],
                         [frame.anchors for frame in before.frames])
        self.assertEqual((self.swing.moments, self.swing.windows), (before.moments, before.windows))
        self.assertEqual(self.window.document.history.undo_name, "follow lamplighter.png")
        self.assertIn("4 moved, 1 gone, 1 new", self.news())
        gone = self.window.art.pixmap(self.swing.frames[5]).toImage()
        shown = self.window.art.pixmap(self.swing.frames[4]).toImage()
        self.assertNotEqual(gone, shown, "a frame that is gone is marked, not shown as another")
        self.hand.token(self.page.news_sentence, "look lamplighter")
        news = next(toplevelwidget
                    for toplevelwidget in QApplication.topLevelWidgets()
                    if toplevelwidget.objectName() == "news")
        rows = [" ".join(part.text for part in sentence.parts) for sentence in news.sentences]
        self.assertTrue(rows[0].startswith("light_swing frame 6 is no longer in the sheet"), rows)
        self.hand.until(lambda: news.sentences[0].y() > 0, "the dialog laid out")
        top = news.sentences[0].y()
        self.hand.token(news.sentences[0], "remove light_swing 5")
        self.hand.wait()
        self.assertEqual(news.sentences[0].y(), top, "what is left to settle moves up")
        self.hand.token(news.sentences[0], "take 96 256")
        self.assertEqual([frame.cell.x // 96 for frame in self.swing.frames], [0, 1, 2, 3, 4, 5, 6])
        hit = next(window for window in self.swing.windows if window.id == "swing_hit")
        self.assertEqual((self.swing.frame_at(hit.start), self.swing.frame_at(hit.end - 0.1)),
                         (3, 4),
                         "the hit stays on the frames it was drawn over")
        spark = next(moment for moment in self.swing.moments if moment.id == "spark")
        self.assertEqual(self.swing.frame_at(spark.at), 3)
        news.close()

    def test_what_was_new_stays_said_when_the_art_changes_once_more(self) -> None:
        self.draw(lambda image: image.paste(self.cell(image, 0, 5), (9 * 96, ROW * 64))
                  or image.paste(
            (1, 2, 200, 255), (9 * 96 + 30, ROW * 64 + 10, 9 * 96 + 40, ROW * 64 + 20)))
        self.assertIn("1 new", self.news())
        self.draw(lambda image: image.paste((1, 200, 1, 255),
                                            (40, ROW * 64 + 30, 44, ROW * 64 + 34)))
        self.assertIn("1 redrawn, 1 new", self.news())

    def test_a_picture_in_a_folder_of_numbered_ones_is_followed(self) -> None:
        folder = self.folder / "steps"
        folder.mkdir()
        sheet = Image.open(self.sheet).convert("RGBA")
        for number in range(4):
            self.cell(sheet, number, 1).save(folder / f"{number}.png")
        self.page.bringing.bring_in([folder])
        self.hand.until(lambda: self.puppet.clips[-1].name == "steps", "the folder")
        before = self.window.art.pixmap(self.puppet.clips[-1].frames[2]).toImage()
        self.cell(sheet, 0, 5).save(folder / "2.png")
        self.hand.until(lambda: self.sources.up_to_date and "1 redrawn" in self.news(),
                        "the change to be noticed")
        self.assertNotEqual(self.window.art.pixmap(self.puppet.clips[-1].frames[2]).toImage(),
                            before)

    def test_undone_the_frames_are_where_they_were(self) -> None:
        before = self.puppet
        self.draw(lambda image: image.paste(self.cell(image, 0), (7 * 96, ROW * 64)) or image.paste(
            (0, 0, 0, 0), (0, ROW * 64, 96, ROW * 64 + 64)))
        self.assertEqual(self.swing.frames[0].cell.x, 7 * 96)
        self.window.document.undo()
        self.assertEqual(self.puppet, before)

    def test_it_is_noticed_that_art_changed_while_the_puppet_was_closed(self) -> None:
        image = Image.open(self.sheet).convert("RGBA")
        first = self.cell(image, 0)
        image.paste(self.cell(image, 6), (0, ROW * 64))
        image.paste(first, (6 * 96, ROW * 64))
        image.save(self.sheet)
        self.window.files.load(self.folder / "lamplighter.puppet.json")
        self.window.player.pause()
        self.hand.until(lambda: self.swing.frames[0].cell.x == 6 * 96, "the change to be noticed")
        self.assertEqual(self.swing.frames[6].cell.x, 0)

    def test_half_a_file_is_said_and_the_old_picture_stays(self) -> None:
        shown = self.window.art.pixmap(self.swing.frames[0]).toImage()
        self.sheet.write_bytes(self.sheet.read_bytes()[:3000])
        self.hand.until(lambda: "cannot be read now" in self.news(), "the news")
        self.assertEqual(self.window.art.pixmap(self.swing.frames[0]).toImage(), shown)

    def test_a_missing_file_is_marked_and_found_again_in_one_action(self) -> None:
        moved = self.folder / "art"
        moved.mkdir()
        self.sheet.rename(moved / "lamplighter.png")
        self.hand.until(lambda: "lamplighter.png is missing" in self.news(), "the news")
        self.hand.until(lambda: not self.window.art.pages("lamplighter"),
                        "the picture to be let go")
        self.hand.token(self.page.news_sentence, "find lamplighter")
        self.answer_file(moved / "lamplighter.png")
        self.hand.until(lambda: self.sources.up_to_date, "the sheet")
        self.assertEqual(self.puppet.sheets[0].path, "art/lamplighter.png")
        self.assertEqual(len(self.window.art.pages("lamplighter")), 1)
        self.assertNotIn("missing", self.news())

    def test_a_puppet_whose_art_is_not_there_still_opens(self) -> None:
        self.sheet.unlink()
        self.window.files.load(self.folder / "lamplighter.puppet.json")
        self.hand.wait()
        self.assertEqual(len(self.puppet.clips), 27)
        self.assertIn("lamplighter.png is missing", self.news())

    def test_cut_again_the_clips_are_fitted_with_all_that_hangs_on_them(self) -> None:
        before = self.swing
        self.hand.click(self.page.heading.recut)
        self.hand.token(self.page.cut_sentence, "cut by")
        self.hand.pick("islands of what is drawn")
        self.hand.token(self.page.cut_sentence, "join")
        self.hand.type("0")
        self.hand.token(self.page.cut_sentence, "refit")
        self.hand.until(lambda: self.sources.up_to_date, "the frames to be found again")
        self.assertEqual(self.puppet.sheets[0].islands.join, 0)
        found = [frame for frame, old in zip(self.swing.frames, before.frames, strict=True)
                 if frame.cell != old.cell]
        self.assertGreater(len(found), 4)
        for index, frame in enumerate(self.swing.frames):
            old, pivot = before.frames[index], self.swing.pivot_of(index)
            box, was = frame.boxes[0], old.boxes[0]
            self.assertEqual((box.x - pivot.x, box.y - pivot.y), (was.x - 44, was.y - 60))
        self.assertEqual((self.swing.moments, self.swing.windows), (before.moments, before.windows))

    def test_saved_elsewhere_the_watch_goes_on(self) -> None:
        (self.folder / "deep").mkdir()
        self.window.document.save(self.folder / "deep" / "it.puppet.json")
        self.assertEqual(self.puppet.sheets[0].path, "../lamplighter.png")
        self.draw(lambda image: image.paste((1, 200, 1, 255),
                                            (130, ROW * 64 + 20, 140, ROW * 64 + 30)))
        self.assertIn("1 redrawn", self.news())

    def test_the_demo_itself_has_no_news(self) -> None:
        self.window.files.load(FIRST_STEPS)
        self.window.player.pause()
        before = self.puppet
        self.sources._check()
        self.hand.until(lambda: not self.sources.busy, "the check")
        self.assertIs(self.puppet, before)
        self.assertEqual(self.sources.news, {})
        self.window.document.edit("x", lambda now: changed(now, "clips", "walk", name="stroll"))
        self.assertFalse(self.page.news_sentence.isVisible())
