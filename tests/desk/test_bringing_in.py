"""Art of every kind, brought in through the real window; Pell is drawn by our own scripts."""

from __future__ import annotations

import threading
import zipfile
from pathlib import Path
from typing import ClassVar
from unittest import mock

from PIL import Image
from PyQt6.QtCore import QMimeData, QPointF, QRectF, Qt, QUrl
from PyQt6.QtGui import QDropEvent, QGuiApplication, QImage
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QPushButton

from tests.desk.case import DeskCase
from yarn_puppet.core.formats.puppet_file import load_puppet
from yarn_puppet.core.model.edits.clips import clip_removed
from yarn_puppet.demo import DEMO_FOLDER
from yarn_puppet.desk.clips.cutting import cell_reader
from yarn_puppet.desk.clips.incoming import reader
from yarn_puppet.desk.pictures import decoding
from yarn_puppet.desk.pictures.pixels import cell_pixels


class ArtCase(DeskCase):
    file = None

    def setUp(self) -> None:
        super().setUp()
        self.page = self.go("Clips")
        sheet = Image.open(DEMO_FOLDER / "lamplighter.png")
        self.steps_of_walk = [sheet.crop((column * 96, 64, column * 96 + 96, 128))
                              for column in range(8)]

    def moving(self, name: str, **options: object) -> Path:
        """Pell's walk as one file that moves."""
        path = self.folder / name
        first, *rest = self.steps_of_walk
        first.save(path, save_all=True, append_images=rest, duration=80, loop=0, **options)
        return path

    def layered(self) -> Path:
        """Pell's walk as layers."""
        path = self.folder / "walk.ora"
        with zipfile.ZipFile(path, "w") as archive:
            for number, step in enumerate(self.steps_of_walk):
                with archive.open(f"data/{number}.png", "w") as file:
                    step.save(file, "PNG")
            layers = "".join(f'<layer src="data/{number}.png"/>' for number in reversed(range(8)))
            archive.writestr("stack.xml", f'<image w="96" h="64"><stack>{layers}</stack></image>')
        return path

    def numbered(self) -> Path:
        """Pell's walk as a folder."""
        path = self.folder / "walk steps"
        path.mkdir()
        for number, step in enumerate(self.steps_of_walk):
            step.save(path / f"step {number + 1}.png")
        return path

    def drop(self, *paths: Path) -> None:
        """Drop files on the page."""
        data = QMimeData()
        data.setUrls([QUrl.fromLocalFile(str(path)) for path in paths])
        event = QDropEvent(QPointF(50, 50), Qt.DropAction.CopyAction, data,
                           Qt.MouseButton.LeftButton,
                           Qt.KeyboardModifier.NoModifier)
        self.page.dropEvent(event)
        self.read()

    def read(self) -> None:
        self.hand.until(lambda: not self.page.bringing.busy, "the files to be read")


class BringingIn(ArtCase):
    def test_what_moves_or_has_layers_is_a_clip_at_once(self) -> None:
        for path in (self.moving("walk.gif", disposal=2), self.moving("walk.apng", format="PNG"),
                     self.moving("walk.webp", lossless=True), self.layered(), self.numbered()):
            with self.subTest(path.name):
                self.drop(path)
                clip = self.puppet.clips[-1]
                self.assertEqual(len(clip.frames), 8)
                self.assertEqual([frame.cell.page for frame in clip.frames], list(range(8)))
                usual = 100.0 if path.suffix in (".ora", "") else 80.0
                self.assertEqual({frame.duration for frame in clip.frames}, {usual})
                self.assertEqual(self.page.desk.clip_id, clip.id)
                picture = self.window.art.pixmap(clip.frames[3]).toImage()
                own = self.steps_of_walk[3].getpixel((44, 30))
                seen = picture.pixelColor(44, 30)
                self.assertLess(abs(seen.red() - own[0]) + abs(seen.blue() - own[2]), 60)

    def test_several_at_once_and_the_bad_one_does_not_keep_the_others_out(self) -> None:
        bad = self.folder / "bad.gif"
        bad.write_bytes(b"GIF89a but no more")
        self.drop(self.moving("walk.gif"), bad, DEMO_FOLDER / "lamplighter.png")
        self.assertIn("bad.gif: cannot be read as a picture", self.complaint())
        self.assertEqual([sheet.name for sheet in self.puppet.sheets],
                         ["walk.gif", "lamplighter.png"])
        self.assertEqual(self.page.upper.currentIndex(), 1, "the still is to be cut")
        self.assertEqual(self.window.document.history.undo_name, "bring in art")

    def test_files_are_pasted(self) -> None:
        data = QMimeData()
        data.setUrls([QUrl.fromLocalFile(str(self.moving("walk.gif")))])
        QGuiApplication.clipboard().setMimeData(data)
        self.page.ribbons.setFocus()
        QTest.keyClick(self.page.ribbons, Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier)
        self.read()
        self.assertEqual([clip.name for clip in self.puppet.clips], ["walk"])

    def test_reading_can_be_stopped_and_changes_nothing_then(self) -> None:
        before = self.puppet
        self.page.bringing.bring_in([self.moving(f"walk{number}.gif") for number in range(4)])
        self.assertIn("reading 1 of 4", self.page.heading.source.text())
        QTest.keyClick(self.page, Qt.Key.Key_Escape)
        self.quiet()
        self.assertIs(self.puppet, before)

    def test_the_same_file_twice_is_one_sheet(self) -> None:
        path = self.moving("walk.gif")
        self.drop(path)
        self.drop(path)
        self.assertEqual(len(self.puppet.sheets), 1)

    def test_saved_and_opened_again_the_frames_are_found(self) -> None:
        self.drop(self.moving("walk.gif", disposal=2))
        self.window.document.save(self.folder / "it.puppet.json")
        self.assertEqual(load_puppet(self.folder / "it.puppet.json").clips[0].frames[5].cell.page,
                         5)
        self.window.art._sheets.clear()
        self.window.art._frames.clear()
        self.window.files.load(self.folder / "it.puppet.json")
        self.hand.wait()
        self.assertIsNotNone(self.window.art.sheet(self.puppet.sheets[0].id, 5))
        self.assertIsNone(self.window.art.sheet(self.puppet.sheets[0].id, 99))

    def test_a_file_that_comes_back_is_shown_again(self) -> None:
        path = self.moving("walk.gif")
        self.drop(path)
        kept = path.read_bytes()
        path.unlink()
        self.window.art._sheets.clear()
        self.assertIsNone(self.window.art.sheet(self.puppet.sheets[0].id))
        self.hand.wait()
        self.assertFalse(self.window.art.awaited(self.puppet.sheets[0].id),
                         "it is known to be gone")
        path.write_bytes(kept)
        self.window.art.show(self.puppet, self.window.document.folder)
        self.hand.wait()
        self.assertIsNotNone(self.window.art.sheet(self.puppet.sheets[0].id))


    def test_a_picture_beside_it_that_was_spoilt_is_read_again_once_it_is_whole(self) -> None:
        art, path = self.window.art, self.folder / "spark.png"
        path.write_bytes(b"no picture")
        self.assertIsNone(art.picture(str(path)))
        self.hand.wait()
        self.assertIsNone(art.picture(str(path)))
        path.write_bytes((DEMO_FOLDER / "thatch.png").read_bytes())
        art.show(self.puppet, self.window.document.folder)
        self.assertIsNone(art.picture(str(path)))
        self.hand.wait()
        found = art.picture(str(path))
        assert found is not None
        self.assertEqual(found.width(), 48)


class Asking(ArtCase):
    def test_a_copied_picture_is_pasted_once_it_has_a_file(self) -> None:
        QGuiApplication.clipboard().setImage(QImage(str(DEMO_FOLDER / "bryony_walk.png")))
        self.page.ribbons.setFocus()
        QTest.keyClick(self.page.ribbons, Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier)
        self.hand.wait()
        self.answer_file(self.folder / "kept.png")
        self.hand.until(lambda: self.page.upper.currentIndex() == 1, "the picture to be cut")
        self.assertEqual([sheet.name for sheet in self.puppet.sheets], ["kept.png"])
        self.assertEqual((self.page.cut.grid.cell_width, self.page.cut.grid.cell_height), (48, 56))

    def test_what_another_program_copied_is_kept_unread_or_refused(self) -> None:
        gif = self.moving("moves.gif").read_bytes()
        data = QMimeData()
        data.setData("image/bmp", b"BM" + bytes(100))
        data.setData("image/gif", gif)
        with mock.patch.object(QMimeData, "imageData", side_effect=AssertionError("unpacked")):
            self.assertTrue(self.page.bringing.paste(data))
            self.answer_file(self.folder / "kept.gif")
            self.read()
            self.hand.wait()
            self.assertEqual((self.folder / "kept.gif").read_bytes(), gif)
            self.assertEqual(len(self.puppet.sheets), 1)
            data = QMimeData()
            data.setData("image/bmp", b"BM" + bytes(100))
            self.assertTrue(self.page.bringing.paste(data))
        box = self.dialog("complaint")
        self.assertIn("It is image/bmp; expected PNG, WebP or GIF", box.informativeText())
        self.assertEqual(len(self.puppet.sheets), 1)

    def test_a_very_large_picture_is_asked_about_and_the_others_come_in_meanwhile(self) -> None:
        large = self.folder / "large.png"
        Image.new("RGBA", (300, 300), (9, 9, 9, 255)).save(large)
        for answer, count in (("Leave it", 1), ("Bring it in", 2)):
            with mock.patch.object(decoding, "MOST_PIXELS", 50_000), mock.patch.object(
                reader, "MOST_PIXELS", 50_000):
                self.drop(large, self.moving("small.gif") if answer == "Leave it" else large)
            box = self.dialog("large")
            self.assertIn("its 90000 pixels make more than", box.informativeText())
            self.hand.click(next(each
                                 for each in box.findChildren(QPushButton)
                                 if each.text() == answer))
            self.read()
            self.hand.wait()
            self.assertEqual(len(self.puppet.sheets), count)

    def test_a_folder_is_chosen(self) -> None:
        folder = self.numbered()
        self.hand.token(self.page.heading.more, "page more")
        self.hand.pick("bring in a folder of numbered pictures…")
        self.answer_file(folder)
        self.hand.wait()
        self.read()
        self.assertEqual([len(clip.frames) for clip in self.puppet.clips], [8])


class Directions(ArtCase):
    def test_from_a_four_by_four_sheet_to_eight_looping_clips_and_a_state_in_few_gestures(
        self,
    ) -> None:
        before = self.hand.gestures
        self.hand.click(self.page.heading.bring_in)
        self.answer_file(DEMO_FOLDER / "bryony_walk.png")
        self.hand.until(lambda: self.page.upper.currentIndex() == 1, "the sheet")
        self.hand.token(self.page.cut_sentence, "directions")
        self.hand.pick("walk_{down,left,right,up}")
        print(
            f"\n  eight clips from a 4×4 sheet took {self.hand.gestures - before} gestures, with "
            "the file dialog"
        )
        self.assertEqual([(clip.name, len(clip.frames), clip.mode) for clip in self.puppet.clips], [
            *((f"walk_{side}", 4, "loop") for side in ("down", "left", "right", "up")),
            *((f"idle_{side}", 1, "loop") for side in ("down", "left", "right", "up"))])
        self.assertLessEqual(self.hand.gestures - before, 5)
        self.assertTrue(all(frame.mark and frame.boxes for clip in self.puppet.clips
                            for frame in clip.frames))
        self.hand.token(self.page.news_sentence, "spread walk")
        weave = self.go("Weave")
        weave.offer.leave()
        spare = QRectF(*weave.view.layout_now.spare)
        self.hand.drag(weave.shelf, weave.shelf.chip(0), spare, onto=weave.view)
        state, spread = self.puppet.states[0], self.puppet.spreads[0]
        self.assertEqual((state.name, state.spread), ("Walk", spread.id))
        self.hold(Qt.Key.Key_Left, 12)
        layer = self.records[-1].report.layers[0]
        self.assertEqual((layer.clip, self.records[-1].report.facing), ("walk_left", "left"))

    def test_a_pattern_that_does_not_fit_says_so(self) -> None:
        self.drop(DEMO_FOLDER / "bryony_walk.png")
        self.hand.token(self.page.cut_sentence, "directions")
        self.hand.type("walk_{a,b}")
        self.assertEqual(self.hand.popup().note.text(), "expected 4 names, found 2")
        self.hand.popup().close()
        self.assertEqual(self.puppet.clips, ())

    def test_of_a_sheet_cut_otherwise_since_they_were_offered_it_says_so(self) -> None:
        self.drop(DEMO_FOLDER / "bryony_walk.png")
        self.hand.token(self.page.cut_sentence, "rows")
        self.hand.type("2")
        self.hand.token(self.page.cut_sentence, "directions")
        offered = self.hand.popup()
        self.window.document.undo()
        self.hand.wait()
        offered._take("walk_{right,left}")
        self.assertEqual(self.complaint(), "expected 4 names, found 2")
        self.assertEqual(self.puppet.clips, ())

    def test_columns_can_be_the_directions(self) -> None:
        self.drop(DEMO_FOLDER / "bryony_walk.png")
        self.hand.token(self.page.cut_sentence, "directions")
        self.hand.type("a column each: turn_{down,left,right,up}")
        self.assertEqual([frame.cell.x for frame in self.puppet.clips[1].frames], [48] * 4)


class ManyCells(ArtCase):
    def setUp(self) -> None:
        super().setUp()
        step = self.steps_of_walk[0].resize((24, 16))
        sheet = Image.new("RGBA", (24 * 20, 16 * 15))
        for number in range(300):
            step.putpixel((0, 0), (number % 256, number // 256, 9, 255))
            sheet.paste(step, (number % 20 * 24, number // 20 * 16))
        path = self.folder / "many.png"
        sheet.save(path)
        self.drop(path)
        for name, count in (("columns", "20"), ("rows", "15")):
            self.hand.token(self.page.cut_sentence, name)
            self.hand.type(count)
        # Nothing is looked at before the test lets it.
        self.go_on = threading.Event()
        self.addCleanup(self.go_on.set)

        def waits(pages: object, cell: object) -> object:
            self.go_on.wait()
            return cell_pixels(pages, cell)  # type: ignore[arg-type]

        patched = mock.patch.object(cell_reader, "cell_pixels", waits)
        patched.start()
        self.addCleanup(patched.stop)

    def ask_for_rows(self) -> None:
        self.hand.token(self.page.cut_sentence, "every row")
        self.hand.type(" ".join(f"row{number}" for number in range(15)))

    def test_they_are_looked_at_in_a_thread_and_then_made_into_clips(self) -> None:
        self.ask_for_rows()
        self.assertIn("of 300 · Esc stops it",
                      " ".join(part.text for part in self.page.cut_sentence.parts))
        self.assertEqual(self.puppet.clips, ())
        self.go_on.set()
        self.hand.until(lambda: len(self.puppet.clips) == 15, "the clips")
        self.assertTrue(all(frame.mark for clip in self.puppet.clips for frame in clip.frames))
        self.assertEqual(self.page.upper.currentIndex(), 0)

    def test_stopped_nothing_has_changed(self) -> None:
        self.ask_for_rows()
        self.hand.key(self.page.cut, Qt.Key.Key_Escape)
        self.go_on.set()
        self.quiet()
        self.assertEqual(self.puppet.clips, ())
        self.assertEqual(self.page.upper.currentIndex(), 1)
        self.hand.token(self.page.cut_sentence, "done")


class Strips(ArtCase):
    """Files of one row: a clip each, at once."""

    ROWS: ClassVar = {"idle": (0, 6), "walk": (1, 8), "crouch": (2, 3), "hang": (3, 3),
                      "slam": (5, 10)}

    def setUp(self) -> None:
        super().setUp()
        sheet = Image.open(DEMO_FOLDER / "lamplighter.png")
        self.strips = []
        for name, (row, count) in self.ROWS.items():
            self.strips.append(self.folder / f"Pell_{name}_strip.png")
            sheet.crop((0, row * 64, count * 96, row * 64 + 64)).save(self.strips[-1])

    def frames(self) -> dict[str, int]:
        return {clip.name: len(clip.frames) for clip in self.puppet.clips}

    def test_five_of_them_are_five_named_clips_in_one_gesture(self) -> None:
        gestures = self.hand.gestures
        self.drop(*self.strips)
        self.assertEqual(self.hand.gestures, gestures, "but the drop itself")
        self.assertEqual(self.frames(), {name: count for name, (_, count) in self.ROWS.items()})
        self.assertEqual(len({clip.pivot for clip in self.puppet.clips}), 1,
                         "one figure stands in the same place of every strip")
        self.assertTrue(all(frame.mark and frame.boxes
                            for clip in self.puppet.clips for frame in clip.frames))
        self.window.document.undo()
        self.assertEqual((self.puppet.clips, self.puppet.sheets), ((), ()))
        self.assertFalse(self.page.news_sentence.isVisible(), "there is nothing to be put right")

    def test_a_count_and_a_name_are_put_right_before_done(self) -> None:
        self.drop(*self.strips)
        sentence = self.page.news_sentence
        self.hand.token(sentence, "frames of walk")
        self.hand.type("4")
        self.assertEqual(self.frames()["walk"], 4)
        self.assertEqual({frame.cell.width for frame in self.puppet.clip("walk").frames}, {192})
        self.hand.token(sentence, "frames of walk")
        self.hand.type("8")
        self.assertEqual({frame.cell.width for frame in self.puppet.clip("walk").frames}, {96})
        self.hand.token(sentence, "came in idle")
        self.hand.type("stand")
        self.assertIn("stand", self.frames())
        self.hand.token(sentence, "came in done")
        self.assertFalse(sentence.isVisible())

    def test_a_width_that_is_no_multiple_leaves_pixels_over_and_loses_none_of_the_others(
        self,
    ) -> None:
        odd = self.folder / "odd_strip.png"
        Image.open(self.strips[1]).crop((0, 0, 767, 64)).save(odd)
        self.drop(odd, self.strips[0])
        self.assertEqual(self.frames()["Pell_idle"], 6)
        first = self.puppet.clips[0]
        self.hand.token(self.page.news_sentence, f"frames of {first.id}")
        self.hand.type("5")
        self.assertEqual([frame.cell.x for frame in self.puppet.clips[0].frames],
                         [153 * at for at in range(5)])

    def test_a_cut_put_right_in_one_strip_is_given_to_all_of_them_in_one_gesture(self) -> None:
        self.drop(*self.strips)
        sentence = self.page.news_sentence
        self.hand.token(sentence, "cells of walk")
        self.hand.type("48x64")
        self.assertEqual({frame.cell.width for frame in self.puppet.clip("walk").frames}, {48})
        gestures = self.hand.gestures
        self.hand.token(sentence, "cut all alike")
        self.assertEqual(self.hand.gestures, gestures + 1)
        self.assertEqual({frame.cell.width for clip in self.puppet.clips for frame in clip.frames},
                         {48})
        self.window.document.undo()
        self.assertEqual(len(self.puppet.clip("idle").frames), 6)
        check = next(part for part in self.page.came_in.parts()
                     if getattr(part, "name", "") == "cells of idle").field.check
        self.assertIn("expected a width", check("6 frames") or "")

    def test_dropped_on_the_weave_they_are_put_right_there(self) -> None:
        weave = self.go("Weave")
        data = QMimeData()
        data.setUrls([QUrl.fromLocalFile(str(path)) for path in self.strips])
        weave.art_dropped.emit(data)
        self.read()
        self.assertTrue(weave.came_in_sentence.isVisible())
        self.hand.token(weave.came_in_sentence, "frames of walk")
        self.hand.type("4")
        self.assertEqual(self.frames()["walk"], 4)
        self.hand.token(weave.came_in_sentence, "came in done")
        self.assertFalse(weave.came_in_sentence.isVisible())

    def test_with_a_sheet_of_rows_among_them_that_is_to_be_cut(self) -> None:
        self.drop(*self.strips[:2], DEMO_FOLDER / "lamplighter.png")
        self.assertEqual(self.frames(), {"idle": 6, "walk": 8})
        self.assertEqual(self.page.upper.currentIndex(), 1)

    def test_a_still_is_a_clip_of_one_frame(self) -> None:
        still = self.folder / "hero.png"
        self.steps_of_walk[0].save(still)
        self.drop(still)
        self.assertEqual(self.frames(), {"hero": 1})

    def test_a_sheet_is_cut_again_read_from_another_file_or_taken_out(self) -> None:
        self.drop(*self.strips[:2])
        self.hand.click(self.page.heading.recut)
        self.hand.token(self.page.cut_sentence, "sheet")
        self.hand.pick("cut Pell_walk_strip.png")
        self.assertEqual(self.page.cut.sheet_id, self.puppet.sheets[1].id)
        self.hand.token(self.page.cut_sentence, "sheet")
        with self.assertRaises(LookupError, msg="a clip is cut from it"):
            self.hand.pick("remove it: no clip is cut from it")
        self.hand.key(self.window, Qt.Key.Key_Escape)
        other = self.folder / "elsewhere.png"
        Image.open(self.strips[1]).save(other)
        self.hand.token(self.page.cut_sentence, "sheet")
        self.hand.pick("another file in its place…")
        self.answer_file(other)
        self.quiet()
        self.assertTrue(self.puppet.sheets[1].path.endswith("elsewhere.png"))
        self.assertEqual(self.frames(), {"idle": 6, "walk": 8})
        self.window.document.edit("remove clip", clip_removed(self.puppet, "walk"))
        self.hand.token(self.page.cut_sentence, "sheet")
        self.hand.pick("remove it: no clip is cut from it")
        self.assertEqual(len(self.puppet.sheets), 1)

    def test_how_a_sheet_is_drawn_is_guessed_and_said_otherwise(self) -> None:
        self.drop(self.strips[0])
        self.hand.click(self.page.heading.recut)
        sheet = self.puppet.sheets[0].id
        self.assertFalse(self.window.art.is_painted(sheet))
        self.hand.token(self.page.cut_sentence, "drawn")
        self.hand.pick("painted")
        self.assertEqual(self.puppet.sheets[0].drawn, "painted")
        self.assertTrue(self.window.art.is_painted(sheet))
        self.hand.token(self.page.cut_sentence, "drawn")
        self.hand.pick("as its colours say: as pixels")
        self.assertFalse(self.window.art.is_painted(sheet))

    def test_one_sheet_of_named_rows_takes_three_gestures(self) -> None:
        sheet = self.folder / "hero.png"
        Image.open(DEMO_FOLDER / "lamplighter.png").crop((0, 0, 960, 256)).save(sheet)
        self.drop(sheet)
        gestures = self.hand.gestures
        self.hand.token(self.page.cut_sentence, "every row")
        self.hand.type("idle, walk, -, hang")
        self.assertLessEqual(self.hand.gestures - gestures + 1, 3)
        self.assertEqual(self.frames(), {"idle": 6, "walk": 8, "hang": 3})

    def test_names_that_do_not_fit_the_rows_are_said(self) -> None:
        self.drop(DEMO_FOLDER / "lamplighter.png")
        self.hand.token(self.page.cut_sentence, "every row")
        check = self.hand.popup().field.check
        self.assertEqual(check("idle walk"), "expected 16 names, found 2; - leaves a row out")
        self.assertIn("twice", check(", ".join(["idle"] * 16)))


class CuttingBySize(ArtCase):
    def setUp(self) -> None:
        super().setUp()
        self.drop(DEMO_FOLDER / "bryony_walk.png")
        self.cut = self.page.cut

    def test_by_count_and_by_dragging_a_line(self) -> None:
        self.hand.token(self.page.cut_sentence, "columns")
        self.hand.type("2")
        self.assertEqual(self.cut.grid.cell_width, 96)
        edge = self.cut.cell_rect(0, 0)
        self.hand.drag(self.cut, QPointF(edge.right(), edge.center().y()),
                       QPointF(edge.left() + edge.width() / 2, edge.center().y()))
        self.assertEqual(self.cut.grid.cell_width, 48)
        self.assertEqual(self.puppet.sheets[0].grid.cell_width, 48)
        low = self.cut.cell_rect(1, 1)
        self.hand.drag(self.cut, QPointF(low.center().x(), low.bottom()),
                       QPointF(low.center().x(), low.bottom() - 12))
        self.assertLess(self.cut.grid.cell_height, 56)
        self.window.document.undo()
        self.assertEqual((self.cut.grid.cell_width, self.cut.grid.cell_height), (48, 56))

    def test_every_cut_shows_its_number_and_a_gap_is_dragged_with_alt(self) -> None:
        self.assertEqual(len(self.cut.cells), 16)
        edge = self.cut.cell_rect(0, 0)
        scale = self.cut.scale()
        self.hand.drag(self.cut, QPointF(edge.right(), edge.center().y()),
                       QPointF(edge.right() + 4 * scale, edge.center().y()),
                       modifier=Qt.KeyboardModifier.AltModifier)
        self.assertEqual(self.cut.grid.gap, 4)

    def test_a_grid_too_fine_to_draw_is_said(self) -> None:
        for name in ("cell width", "cell height"):
            self.hand.token(self.page.cut_sentence, name)
            self.hand.type("1")
        self.assertIn("too small", self.cut.problem)
        self.assertEqual(self.cut.cells, ())
