"""Document, player and art by themselves: what views rely on."""

from __future__ import annotations

import shutil
import struct
import sys
import tempfile
import zlib
from pathlib import Path
from unittest.mock import patch

from PyQt6.QtCore import QObject
from PyQt6.QtGui import QColor
from PyQt6.QtTest import QTest

from tests.desk.case import APPLICATION
from tests.helpers import Case, demo_puppet, demo_world
from yarn_puppet.core.formats.errors import FileProblem
from yarn_puppet.core.formats.puppet_file import load_puppet
from yarn_puppet.core.model.clips import Cell, Frame
from yarn_puppet.core.model.edits import graph as edits
from yarn_puppet.demo import DEMO_BOOTH, DEMO_FOLDER, FIRST_STEPS
from yarn_puppet.desk.pictures.art import Art
from yarn_puppet.desk.pictures.decoding import read_pictures
from yarn_puppet.desk.session.document import Document
from yarn_puppet.desk.session.run.player import Player
from yarn_puppet.desk.session.settings import (
    Settings,
    load_settings,
    save_settings,
    settings_and_problem,
    settings_path,
)
from yarn_puppet.desk.session.work.job import Job
from yarn_puppet.desk.tour.hand import Hand
from yarn_puppet.desk.widgets.keys import key_name, said_key


def png_header(width: int, height: int) -> bytes:
    """A PNG that claims a size and holds nothing of it."""
    def chunk(kind: bytes, data: bytes) -> bytes:
        return struct.pack(">I", len(data)) + kind + data + struct.pack(
            ">I", zlib.crc32(kind + data))

    return b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR",
                                        struct.pack(">IIBBBBB", width, height, 8, 6, 0, 0, 0)) \
        + chunk(b"IDAT", zlib.compress(b"")) + chunk(b"IEND", b"")


class FolderCase(Case):
    def setUp(self) -> None:
        self.assertIsNotNone(APPLICATION)
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)


class Documents(FolderCase):
    def setUp(self) -> None:
        super().setUp()
        self.document = Document()
        self.heard: list[str] = []
        self.document.puppet_changed.connect(lambda: self.heard.append("changed"))
        self.document.selection_changed.connect(lambda: self.heard.append("selected"))

    def test_an_edit_that_changes_nothing_is_silent(self) -> None:
        self.document.edit("nothing", lambda now: now)
        self.assertEqual((self.heard, self.document.unsaved), ([], False))

    def test_undone_to_what_was_saved_it_is_saved(self) -> None:
        self.document.edit("add band", lambda now: edits.group_added(now, "Ground")[0])
        self.assertTrue(self.document.unsaved)
        self.document.undo()
        self.assertFalse(self.document.unsaved)

    def test_a_file_that_cannot_be_opened_changes_nothing(self) -> None:
        before = self.document.puppet
        with self.assertRaises(FileProblem):
            self.document.open(self.folder / "none.puppet.json")
        self.assertIs(self.document.puppet, before)
        self.assertEqual(self.heard, [])

    def test_saving_keeps_the_undo_history_and_rebases_the_art(self) -> None:
        self.document.open(FIRST_STEPS)
        self.document.edit("remove state", lambda now: edits.state_removed(now, "crouch_state"))
        (self.folder / "deep").mkdir()
        target = self.folder / "deep" / "it.puppet.json"
        self.document.save(target)
        self.assertTrue((target.parent / self.document.puppet.sheets[0].path).resolve().samefile(
            DEMO_FOLDER / "lamplighter.png"))
        self.assertEqual(load_puppet(target), self.document.puppet)
        self.document.undo()
        self.assertIsNotNone(self.document.puppet.state("crouch_state"))

    def test_selecting_the_same_thing_again_is_silent(self) -> None:
        self.document.select("state", "a")
        self.document.select("state", "a")
        self.document.deselect()
        self.document.deselect()
        self.assertEqual(self.heard, ["selected", "selected"])


class Jobs(Case):
    def test_a_fault_in_a_thread_is_said_where_faults_are(self) -> None:
        owner = QObject()
        job, faults = Job(owner), list[BaseException]()
        with patch.object(sys, "excepthook", lambda kind, fault, trace: faults.append(fault)):
            job.start([0], lambda each: 1 // each, faults.append)
            while not faults:
                QTest.qWait(1)
        self.assertIsInstance(faults[0], ZeroDivisionError)
        self.assertEqual((job.done, job.total), (0, 0))


class Players(FolderCase):
    def player(self) -> Player:
        return Player(demo_puppet(), demo_world(), DEMO_BOOTH)

    def test_speed_changes_how_often_ticks_come_and_nothing_else(self) -> None:
        for speed in (0.25, 2.0):
            player = self.player()
            player.set_speed(speed)
            player.press("right")
            player.play()
            Hand().until(lambda player=player: len(player.records) >= 30, "thirty ticks")
            player.pause()
            body = player.records[29].after.booth
            assert body is not None
            one_by_one = self.player()
            one_by_one.press("right")
            for _ in range(30):
                one_by_one.step(1)
            self.assertEqual(one_by_one.records[29].after.booth, body)

    def test_after_a_stall_it_does_not_leap(self) -> None:
        player = self.player()
        player.play()
        player.pace._last -= 100.0
        player._on_time()
        player.pause()
        self.assertLess(len(player.records), 20)

    def test_a_gesture_made_for_an_intent_is_that_gesture(self) -> None:
        for intent in demo_puppet().intents:
            if intent.gesture == "held":
                continue
            with self.subTest(intent.id):
                player = self.player()
                player.fire(intent)
                armed = {id for record in player.records
                         for id in (*record.report.armed, *record.report.used)}
                self.assertIn(intent.id, armed)

    def test_a_forced_sense_is_forced_until_let_go(self) -> None:
        player = self.player()
        player.force("grounded", False)
        player.step(1)
        player.force("grounded", None)
        player.step(1)
        grounded = [record.report.senses[0] for record in player.records]
        self.assertEqual(grounded, [False, True])


class Pictures(FolderCase):
    def test_what_cannot_be_read_is_said(self) -> None:
        good = (DEMO_FOLDER / "thatch.png").read_bytes()
        for name, content, said in (
            ("cut.png", good[: len(good) // 3], "cannot be read"),
            ("empty.png", b"", "cannot be read"),
            ("text.png", b"hello", "cannot be read"),
            ("huge.png", png_header(60_000, 60_000), "more than 64 million"),
            ("zero.png", png_header(0, 0), "cannot be read"),
        ):
            path = self.folder / name
            path.write_bytes(content)
            with self.subTest(name), self.assertRaisesRegex(ValueError, said):
                read_pictures(path)
        with self.assertRaisesRegex(ValueError, "no such file"):
            read_pictures(self.folder / "none.png")

    def test_a_mislabelled_picture_is_read_by_what_it_is(self) -> None:
        path = self.folder / "it.jpg"
        shutil.copy(DEMO_FOLDER / "thatch.png", path)
        self.assertEqual(read_pictures(path)[0][0].width(), 48)

    def test_a_mirrored_frame_is_its_picture_flipped(self) -> None:
        art = Art()
        art.show(demo_puppet(), DEMO_FOLDER)
        art.read_now()
        frame = demo_puppet().clips[4].frames[3]
        plain, flipped = art.pixmap(frame).toImage(), art.pixmap(frame, True).toImage()
        self.assertEqual(plain.mirrored(True, False), flipped)
        self.assertNotEqual(plain, flipped)

    def test_a_cell_outside_its_sheet_is_a_placeholder_and_not_a_crash(self) -> None:
        art = Art()
        art.show(demo_puppet(), DEMO_FOLDER)
        art.read_now()
        for cell in (Cell("lamplighter", 90_000, 0, 40, 30), Cell("gone", 0, 0, 40, 30)):
            picture = art.pixmap(Frame(cell)).toImage()
            self.assertEqual((picture.width(), picture.height()), (40, 30))
            self.assertGreater(QColor(picture.pixelColor(0, 0)).alpha(), 0)


class Keys(Case):
    def test_keys_are_named_as_they_are_kept_and_said_as_they_are_seen(self) -> None:
        from PyQt6.QtCore import Qt

        for key, name, said in ((Qt.Key.Key_J, "key:J", "J"), (Qt.Key.Key_Left, "key:Left", "←"),
                                (Qt.Key.Key_Space, "key:Space", "Space"),
                                (Qt.Key.Key_Shift, "key:Shift", "Shift")):
            self.assertEqual((key_name(key), said_key(name)), (name, said))
        self.assertEqual(said_key("mouse:left"), "left button")


class Remembered(FolderCase):
    def test_settings_that_cannot_be_read_are_the_defaults(self) -> None:
        import os
        from unittest import mock

        with mock.patch.dict(os.environ, {"XDG_CONFIG_HOME": str(self.folder)}):
            self.assertEqual(load_settings(), Settings(greeted=False))
            save_settings(Settings(width=1500, splits={"left": [1, 2]}))
            self.assertEqual(load_settings().width, 1500)
            for damaged in (b'{"width": "wide"}', b"{", b"\xff\xfe", b'{"width": 2147483648}',
                            b'{"zoom": -1}',
                            b"[" * 99999,
                            b'{"splits": {"left": [-5, 99999999999]}}',
                            b'{"x": "' + b"x" * (1 << 21) + b'"}'):
                settings_path().write_bytes(damaged)
                found, problem = settings_and_problem()
                self.assertEqual(found, Settings())
                self.assertIn("were reset; the old ones lie in", problem)
                self.assertEqual(settings_path().with_name("desk.json.damaged").read_bytes(),
                                 damaged)
                self.assertEqual(settings_and_problem(), (Settings(greeted=False), ""))
            os.mkfifo(settings_path())
            self.assertIn("expected a file", settings_and_problem()[1])
