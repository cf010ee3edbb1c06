"""Art of every kind, brought in through the real window; Pell is drawn by our own scripts."""

from __future__ import annotations

import zipfile
from pathlib import Path

from PIL import Image
from PyQt6.QtCore import QMimeData, QPointF, Qt, QUrl
from PyQt6.QtGui import QDropEvent, QGuiApplication
from PyQt6.QtTest import QTest

from tests.desk.case import DeskCase
from yarn_puppet.core.formats.puppet_file import load_puppet
from yarn_puppet.demo import DEMO_FOLDER


class BringingIn(DeskCase):
    file = None

    def setUp(self) -> None:
        super().setUp()
        self.page = self.go("Clips")
        sheet = Image.open(DEMO_FOLDER / "lamplighter.png")
        self.steps_of_walk = [sheet.crop((column * 96, 64, column * 96 + 96, 128)) for column in range(8)]

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
        event = QDropEvent(QPointF(50, 50), Qt.DropAction.CopyAction, data, Qt.MouseButton.LeftButton,
                           Qt.KeyboardModifier.NoModifier)
        self.page.dropEvent(event)
        self.read()

    def read(self) -> None:
        self.hand.until(lambda: not self.page.bringing.busy, "the files to be read")

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
        self.assertEqual([sheet.name for sheet in self.puppet.sheets], ["walk.gif", "lamplighter.png"])
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
        self.assertIn("reading 1 of 4", self.page.source.text())
        QTest.keyClick(self.page, Qt.Key.Key_Escape)
        self.hand.wait(300)
        self.assertIs(self.puppet, before)

    def test_the_same_file_twice_is_one_sheet(self) -> None:
        path = self.moving("walk.gif")
        self.drop(path)
        self.drop(path)
        self.assertEqual(len(self.puppet.sheets), 1)

    def test_saved_and_opened_again_the_frames_are_found(self) -> None:
        self.drop(self.moving("walk.gif", disposal=2))
        self.window.document.save(self.folder / "it.puppet.json")
        self.assertEqual(load_puppet(self.folder / "it.puppet.json").clips[0].frames[5].cell.page, 5)
        self.window.art._sheets.clear()
        self.window.art._frames.clear()
        self.window.files.load(self.folder / "it.puppet.json")
        self.assertIsNotNone(self.window.art.sheet(self.puppet.sheets[0].id, 5))
        self.assertIsNone(self.window.art.sheet(self.puppet.sheets[0].id, 99))

    def test_a_file_that_comes_back_is_shown_again(self) -> None:
        path = self.moving("walk.gif")
        self.drop(path)
        kept = path.read_bytes()
        path.unlink()
        self.window.art._sheets.clear()
        self.assertIsNone(self.window.art.sheet(self.puppet.sheets[0].id))
        path.write_bytes(kept)
        self.window.art.show(self.puppet, self.window.document.folder)
        self.assertIsNotNone(self.window.art.sheet(self.puppet.sheets[0].id))
