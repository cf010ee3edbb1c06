"""Art that comes and goes on disk, as a branch switch or another program makes it: nothing is lost,
nothing made up."""

from __future__ import annotations

import shutil

from PIL import Image
from PyQt6.QtWidgets import QApplication

from tests.depth import some_of
from tests.desk.test_following import ROW, OnDisk
from yarn_puppet.core.model.edits.entries import changed
from yarn_puppet.core.model.edits.frames.frames import frame_changed
from yarn_puppet.demo import DEMO_FOLDER
from yarn_puppet.demo.make.redrawn import WAYS


class FollowingOn(OnDisk):
    def setUp(self) -> None:
        super().setUp()
        art = self.folder / "art"
        art.mkdir()
        self.sheet.rename(art / "lamplighter.png")
        self.sheet = art / "lamplighter.png"
        self.window.document.edit("moved", lambda now: changed(
            now, "sheets", "lamplighter", path="art/lamplighter.png"))
        self.hand.until(lambda: self.sources.up_to_date, "the sheet")
        self.assertEqual(self.sources.news, {})

    def swap(self, image: Image.Image) -> None:
        """Another picture in place of the sheet."""
        image.save(self.folder / "new.png")
        (self.folder / "new.png").replace(self.sheet)

    def painted(self) -> Image.Image:
        image = Image.open(DEMO_FOLDER / "lamplighter.png").convert("RGBA")
        image.paste((10, 200, 10, 255), (2 * 96 + 40, ROW * 64 + 30, 2 * 96 + 50, ROW * 64 + 40))
        return image

    def gone(self) -> None:
        self.hand.until(lambda: "lamplighter.png is missing" in self.news(), "the news")
        self.assertFalse(self.sources.up_to_date, "what is missing is not up to date")

    def back(self) -> None:
        self.hand.until(lambda: self.sources.up_to_date, "the sheet to be there again")


class Folders(FollowingOn):
    def test_a_folder_deleted_and_made_again_is_followed_on(self) -> None:
        before = self.puppet
        for _ in range(2):
            shutil.rmtree(self.folder / "art")
            self.gone()
            (self.folder / "art").mkdir()
            shutil.copy(DEMO_FOLDER / "lamplighter.png", self.sheet)
            self.back()
            self.assertEqual((self.puppet, self.sources.news), (before, {}),
                             "nothing has changed, and nothing is told")
        self.swap(self.painted())
        self.hand.until(lambda: "1 redrawn" in self.news(), "the change to be noticed")

    def test_a_folder_renamed_away_and_back_is_followed_on(self) -> None:
        (self.folder / "art").rename(self.folder / "elsewhere")
        self.gone()
        (self.folder / "art").mkdir()
        self.painted().save(self.sheet)
        self.hand.until(lambda: "1 redrawn" in self.news(), "the other folder to be read")
        self.back()
        shutil.rmtree(self.folder / "art")
        self.gone()
        (self.folder / "elsewhere").rename(self.folder / "art")
        self.back()

    def test_taken_back_and_made_again_new_art_is_the_one_of_now(self) -> None:
        other = self.folder / "other.png"
        Image.new("RGBA", (64, 32), (200, 10, 10, 255)).save(other)
        self.page.bringing.bring_in([other])
        self.hand.until(lambda: self.puppet.sheets[-1].path == "other.png", "the picture")
        sheet = self.puppet.sheets[-1].id
        self.assertIsNotNone(self.window.art.sheet(sheet))
        self.window.document.undo()
        Image.new("RGBA", (64, 32), (10, 200, 10, 255)).save(self.folder / "new.png")
        (self.folder / "new.png").replace(other)
        self.window.document.redo()
        self.hand.until(lambda: self.sources.up_to_date, "the other picture")
        self.assertEqual(self.window.art.sheet(sheet).pixelColor(3, 3).green(), 200)

    def test_following_leaves_what_was_undone_to_be_made_again(self) -> None:
        document = self.window.document
        document.edit("one", lambda now: frame_changed(now, "light_swing", 0, duration=90.0))
        document.edit("two", lambda now: frame_changed(now, "light_swing", 1, duration=95.0))
        document.undo()
        document.undo()
        self.swap(WAYS["one added"]())
        self.hand.until(lambda: "1 new" in self.news(), "the change to be noticed")
        cells = [frame.cell.x // 96 for frame in self.swing.frames]
        self.assertEqual(cells, [0, 1, 3, 4, 5, 6, 7])
        document.redo()
        document.redo()
        self.assertEqual([frame.duration for frame in self.swing.frames[:2]], [90.0, 95.0])
        self.assertEqual([frame.cell.x // 96 for frame in self.swing.frames], cells,
                         "fitted to the new art as well")
        for _ in range(3):
            document.undo()
        self.assertEqual([frame.cell.x // 96 for frame in self.swing.frames], [0, 1, 2, 3, 4, 5, 6])

    def test_two_missing_files_of_one_name_are_two_files(self) -> None:
        for folder, color in (("hero", (200, 0, 0, 255)), ("foe", (0, 0, 200, 255))):
            (self.folder / "old" / folder).mkdir(parents=True)
            Image.new("RGBA", (40, 20), color).save(self.folder / "old" / folder / "walk.png")
        self.page.bringing.bring_in([self.folder / "old" / each / "walk.png"
                                     for each in ("hero", "foe")])
        self.hand.until(lambda: len(self.puppet.sheets) == 4, "both")
        hero, foe = (sheet.id for sheet in self.puppet.sheets[-2:])
        self.page.finish_cutting()
        (self.folder / "old").rename(self.folder / "new")
        self.hand.until(lambda: len(self.sources.missing) == 2, "the news")
        self.hand.until(lambda: "walk.png is missing" in self.news(), "the strip")
        self.hand.token(self.page.news_sentence, f"find {hero}")
        self.answer_file(self.folder / "new" / "hero" / "walk.png")
        self.hand.until(lambda: self.sources.up_to_date, "both")
        self.assertEqual({sheet.id: sheet.path for sheet in self.puppet.sheets[-2:]},
                         {hero: "new/hero/walk.png", foe: "new/foe/walk.png"})
        self.assertEqual(self.window.art.sheet(foe).pixelColor(3, 3).blue(), 200)

    def test_a_file_that_is_another_sheet_already_is_not_taken(self) -> None:
        self.sheet.unlink()
        self.gone()
        self.hand.token(self.page.news_sentence, "find lamplighter")
        self.answer_file(self.folder / "lamplighter_world.png")
        self.assertIn("is another sheet", self.complaint())
        self.assertEqual(self.puppet.sheets[0].path, "art/lamplighter.png")

    def test_another_grid_that_was_only_tried_moves_no_frame(self) -> None:
        before = self.swing
        self.window.document.edit("cut", lambda now: changed(
            now, "sheets", "lamplighter", grid=type(now.sheets[0].grid)(192, 128)))
        self.swap(self.painted())
        self.hand.until(lambda: "1 redrawn" in self.news(), "the change to be noticed")
        self.assertEqual([frame.cell for frame in self.swing.frames],
                         [frame.cell for frame in before.frames])
        self.assertNotIn("new", self.news().replace("redrawn", ""))


class Redrawn(FollowingOn):
    def test_in_all_ways_every_event_stays_where_it_was(self) -> None:
        before = self.puppet
        events = [(clip.moments, clip.windows, [frame.duration for frame in clip.frames])
                  for clip in before.clips]
        whole = Image.open(DEMO_FOLDER / "lamplighter.png").convert("RGBA")
        for name, way in some_of(tuple(WAYS.items())):
            with self.subTest(name):
                self.swap(way())
                self.back()
                self.assertEqual([(clip.moments, clip.windows,
                                   [frame.duration for frame in clip.frames])
                                  for clip in self.puppet.clips], events)
                self.swap(whole)
                self.back()
                self.assertEqual([[frame.cell for frame in clip.frames]
                                  for clip in self.puppet.clips],
                                 [[frame.cell for frame in clip.frames] for clip in before.clips])
                self.assertEqual(self.puppet.clips, before.clips,
                                 "drawn as it was, all is as it was")
                self.sources.dismiss("lamplighter")

    def test_renamed_it_is_found_again(self) -> None:
        before = self.puppet
        self.sheet.rename(self.sheet.with_name("pell.png"))
        self.gone()
        self.hand.token(self.page.news_sentence, "find lamplighter")
        self.answer_file(self.sheet.with_name("pell.png"))
        self.back()
        self.assertEqual(self.puppet.clips, before.clips)
        self.assertEqual(self.puppet.sheets[0].path, "art/pell.png")
        self.assertFalse([toplevelwidget
                          for toplevelwidget in QApplication.topLevelWidgets()
                          if toplevelwidget.objectName() == "complaint"])
