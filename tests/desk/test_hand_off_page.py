"""The Hand-off page with mouse and keys: what is written, where and when, and whether it is the
same in all."""

from __future__ import annotations

import itertools
import json
import shutil
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication

from tests.desk.case import DeskCase
from yarn_puppet.core.handoff.files import hand_off
from yarn_puppet.core.model.edits.graph import state_changed
from yarn_puppet.demo import FIRST_STEPS
from yarn_puppet.desk.handoff.code_view import COMMENT, WORD
from yarn_puppet.desk.handoff.sentence import address_problem, ago, shortened
from yarn_puppet.desk.shell.window import Window


class HandOffCase(DeskCase):
    """A puppet of one's own, and a game's folder."""


    def own_file(self) -> Path:
        self.home = self.folder / "own"
        self.home.mkdir()
        for name in (FIRST_STEPS.name, "lamplighter.png", "sounds"):
            source = FIRST_STEPS.parent / name
            (shutil.copytree if source.is_dir() else shutil.copy)(source, self.home / name)
        return self.home / FIRST_STEPS.name

    def setUp(self) -> None:
        super().setUp()
        self.game = self.folder / "game" / "anim"
        self.game.mkdir(parents=True)
        self.page = self.go("Hand-off")
        self.desk = self.window.hand_off
        self.made()

    def made(self) -> None:
        """Wait until it is made."""
        self.hand.until(lambda: not self.desk.busy and not self.desk._settle.isActive()
                        and self.desk.made is not None,
                        "the hand-off")

    def into(self, folder: Path) -> None:
        """Choose where it goes."""
        self.hand.token(self.page.what, "into")
        self.answer_file(folder)
        self.hand.until(lambda: bool(self.desk.choice.folder), "the folder")
        self.made()

    def said(self) -> str:
        """The line under the sentence."""
        return " ".join(part.text for part in self.page.what.parts)

    def statuses(self) -> dict[str, bool]:
        """Of each file whether it is another."""
        assert self.desk.made is not None
        return {file.name: file.changed for file in self.desk.made.files}


class Writing(HandOffCase):
    def test_from_nothing_to_files_in_the_game(self) -> None:
        self.assertIn("choose a folder first; until then nothing is written", self.said())
        self.assertEqual(list(self.game.iterdir()), [])
        self.hand.gestures = 0
        self.into(self.game)
        self.assertIn("files differ from the folder", self.said())
        self.hand.token(self.page.what, "write now")
        self.made()
        self.assertLessEqual(self.hand.gestures, 5)
        self.assertIn("last written just now: 13 of 13 files changed", self.said())
        expected = hand_off(self.puppet, ("c", "javascript", "python"), art=self.home).files
        found = {path.relative_to(self.game).as_posix(): path.read_bytes()
                 for path in self.game.rglob("*") if path.is_file()}
        self.assertEqual(found, expected)
        self.hand.token(self.page.what, "write now")
        self.made()
        self.assertIn("all 13 files were the same", self.said())

    def test_what_an_edit_changes_is_seen_before_it_is_written(self) -> None:
        self.into(self.game)
        self.hand.token(self.page.what, "write now")
        self.made()
        self.window.document.edit("rename",
                                  lambda now: state_changed(now, "idle_state", name="Rest"))
        self.made()
        others = {name for name, changed in self.statuses().items() if changed}
        self.assertIn("first_steps.h", others)
        self.assertNotIn("first_steps.png", others)
        self.assertIn("FIRST_STEPS_STATE_REST", self.page.code.text.toPlainText())
        self.assertNotIn("REST", (self.game / "first_steps.h").read_text())

    def test_names_that_code_cannot_have_and_what_a_chart_cannot_say_are_said(self) -> None:
        def notices() -> list[str]:
            rows = self.page.notices_view.rows
            for (_, above), (_, below) in itertools.pairwise(rows):
                self.assertLessEqual(above.position().y() + above.boundingRect().height(),
                                     below.position().y())
            self.assertTrue(not rows
                            or self.page.notices_view.height() > rows[-1][1].position().y())
            self.assertTrue(all(text.boundingRect().width() <= self.page.notices_view.width()
                                for _, text in rows))
            return [each.text for each, _ in rows]

        before = notices()
        self.assertFalse(any("chart" in each for each in before))
        self.window.document.edit("rename",
                                  lambda now: state_changed(now, "idle_state", name="switch" * 12))
        self.window.document.edit("rename",
                                  lambda now: state_changed(
                                      now, "walk_state", name="默认"))
        self.hand.token(self.page.what, "in state chart")
        self.made()
        self.assertIn("the state 默认 is called u9ed8u8ba4", notices())
        self.assertIn(f"the state {'switch' * 12} is called {'switch' * 10}", notices())
        assert self.desk.made is not None and self.desk.made.handed is not None
        unsaid = self.desk.made.handed.unsaid
        self.assertTrue(unsaid)
        self.assertEqual(notices()[-len(unsaid):], list(unsaid))
        self.hand.token(self.page.what, "in state chart")
        self.made()
        self.assertFalse(any("chart" in notice for notice in notices()))

    def test_on_every_save_it_is_written_without_asking(self) -> None:
        self.into(self.game)
        self.hand.token(self.page.what, "when")
        self.hand.pick("on every save")
        self.window.document.edit("rename",
                                  lambda now: state_changed(now, "idle_state", name="Rest"))
        self.hand.key(self.window, Qt.Key.Key_S, Qt.KeyboardModifier.ControlModifier)
        self.hand.until(lambda: self.desk.written is not None, "the hand-off written")
        self.assertIn("STATE_REST", (self.game / "first_steps.h").read_text())

    def test_saved_under_another_name_it_is_handed_off_as_before(self) -> None:
        self.into(self.game)
        self.hand.token(self.page.what, "when")
        self.hand.pick("on every save")
        self.hand.key(self.window, Qt.Key.Key_S,
                      Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
        self.answer_file(self.home / "other.puppet.json")
        self.hand.until(lambda: self.desk.written is not None, "the hand-off written")
        self.assertEqual(self.desk.choice.folder, str(self.game))

    def test_languages_and_what_goes_along_are_chosen_and_remembered_for_the_puppet(self) -> None:
        self.hand.token(self.page.what, "in Python")
        self.hand.token(self.page.what, "in JavaScript")
        self.hand.token(self.page.what, "with art")
        self.hand.token(self.page.what, "with wire")
        self.made()
        self.assertEqual(set(self.statuses()),
                         {"first_steps.c", "first_steps.h", "first_steps.hand-off.json",
                                                "yarn_wire.h"})
        self.hand.token(self.page.what, "in C")
        self.assertEqual(self.desk.choice.languages, ("c",), "one language stays")
        self.into(self.game)
        self.window.close()
        again = self.open_window()
        self.assertIsInstance(again, Window)
        again.files.load(self.home / FIRST_STEPS.name)
        self.assertIn("hand_off", again.__dict__,
                      "it is there before the page is, for the next save")
        choice = again.hand_off.choice
        self.assertEqual((choice.languages, choice.folder, choice.art, choice.wire),
                         (("c",), str(self.game), False, True))

    def test_what_cannot_be_written_is_said_and_nothing_is_lost(self) -> None:
        self.into(self.game)
        shutil.rmtree(self.game)
        self.game.write_text("a file stands here")
        self.hand.token(self.page.what, "write now")
        self.hand.until(lambda: bool(self.desk.problem), "the problem")
        self.assertIn("cannot be made", self.said())
        self.assertEqual(self.game.read_text(), "a file stands here")
        self.game.unlink()
        self.hand.token(self.page.what, "write now")
        self.hand.until(lambda: self.desk.written is not None, "the hand-off written")
        self.assertEqual(self.desk.problem, "")

    def test_art_that_is_missing_is_said(self) -> None:
        (self.home / "lamplighter.png").unlink()
        self.desk.make()
        self.hand.until(lambda: bool(self.desk.problem), "the problem")
        self.assertIn("lamplighter.png", self.said())

    def test_files_are_picked_by_mouse_and_keys_and_can_only_be_read(self) -> None:
        self.assertEqual(self.page.files.current, "first_steps.h")
        names = [file.name for file in self.page.files.files()]
        self.hand.click(self.page.files, self.page.files.row(names.index("first_steps.py")))
        self.assertIn("def step(", self.page.code.text.toPlainText())
        self.hand.key(self.page.files, Qt.Key.Key_Down)
        self.assertEqual(self.page.files.current, names[names.index("first_steps.py") + 1])
        self.hand.click(self.page.files, self.page.files.row(names.index("first_steps.png")))
        self.assertRegex(self.page.code.text.toPlainText(), r"^[\d,]+ bytes that are no text$")
        self.assertTrue(self.page.code.text.isReadOnly())

    def test_code_is_coloured_wherever_it_is_scrolled_to(self) -> None:
        lines = ("/* a comment */", "typedef enum", "neither")
        colours = ([COMMENT], [WORD, WORD], [])
        code = self.page.code
        code.show_file("long.c", "\n".join(lines[row % 3] for row in range(3000)).encode())
        bar, text = code.text.verticalScrollBar(), code.text
        for top in (0, 7, 40, 2000, 1990, bar.maximum()):
            bar.setValue(top)
            self.hand.wait()
            seen = text.viewport().height() // text.cursorRect().height()
            for row in range(bar.value(), min(bar.value() + seen, 3000)):
                line = text.document().findBlockByNumber(row).layout()
                with self.subTest(top=top, row=row):
                    self.assertEqual([each.format.foreground().color() for each in line.formats()],
                                     colours[row % 3])

    def test_the_games_own_tests_go_along_and_pass(self) -> None:
        self.window.player.restart()
        self.window.player.pause()
        self.hold(Qt.Key.Key_J, 30)
        self.window.kept.keep(self.window.player.recording.take(), "swing")
        self.hand.token(self.page.what, "with tests")
        self.made()
        assert self.desk.made is not None and self.desk.made.handed is not None
        golden = self.desk.made.handed.files["first_steps.golden.txt"].decode()
        self.assertIn("take 30 0 1 swing", golden)


class Comparing(HandOffCase):
    def test_every_language_is_built_and_run_and_what_it_costs_is_said(self) -> None:
        self.window.player.restart()
        self.window.player.pause()
        self.hold(Qt.Key.Key_J, 20)
        self.window.kept.keep(self.window.player.recording.take(), "swing")
        self.desk.random_ticks = 60
        self.hand.token(self.page.same, "compare")
        self.hand.until(lambda: not self.desk.comparing, "the comparison")
        self.assertEqual(self.desk.problem, "")
        self.assertEqual(list(self.desk.found), ["desk", "c", "javascript", "python"])
        for found in self.desk.found.values():
            self.assertEqual((found.words, found.takes, found.ticks, found.random_ticks),
                             ("", 1, 20, 60))
        lines = self.page.found.lines()
        self.assertEqual([line[0] for line in lines[:4]], ["yes"] * 4)
        self.assertEqual(lines[1][2], "20 + 60 ticks, equal")
        self.assertGreater(self.desk.found["c"].size, 100)
        self.assertFalse(self.desk.found_is_old)
        self.window.document.edit("rename",
                                  lambda now: state_changed(now, "idle_state", name="Rest"))
        self.assertTrue(self.desk.found_is_old)
        self.hand.token(self.page.same, "compare")
        self.hand.token(self.page.same, "stop comparing")
        self.assertFalse(self.desk.comparing)


class Words(DeskCase):
    def test_addresses(self) -> None:
        for good in ("127.0.0.1:47800", "[::1]:5000", "0.0.0.0:2000", "my-host", "a.b-c.local:5000",
                     "fe80::1%eth0"):
            self.assertIsNone(address_problem(good), good)
        for bad in ("127.0.0.1:80", "a b:5000", "127.0.0.1:99999", "http://a:5000", "", "#fff",
                    "a..b:5000", "x" * 64,
                    "window(1)", ":5000"):
            self.assertIsNotNone(address_problem(bad), bad)

    def test_times_and_paths(self) -> None:
        self.assertEqual([ago(each) for each in (0, 12, 240, 20_000)],
                         ["just now", "12 s ago", "4 min ago", "6 h ago"])
        self.assertEqual(shortened("/home/someone/games/skyline/anim"), "…/skyline/anim")
        self.assertEqual(shortened("/a/b"), "/a/b")


class Manifest(HandOffCase):
    def test_it_tells_the_puppet_that_the_wire_knows(self) -> None:
        self.into(self.game)
        self.hand.token(self.page.what, "write now")
        self.made()
        manifest = json.loads((self.game / "first_steps.hand-off.json").read_text())
        self.assertIn(manifest["made_of"], (self.game / "first_steps.js").read_text())
        self.assertIn(manifest["made_of"], (self.game / "first_steps.c").read_text())

    def test_the_key_is_put_where_it_can_be_pasted(self) -> None:
        self.hand.token(self.page.wire_line, "wire")
        self.hand.until(lambda: bool(self.window.wire.address), "the wire")
        self.hand.token(self.page.wire_line, "wire key")
        self.hand.pick(f"{self.window.wire.key}  · copy it")
        self.assertEqual(QApplication.clipboard().text(), self.window.wire.key)
        before = self.window.wire.key
        self.hand.token(self.page.wire_line, "wire key")
        self.hand.pick("make another key")
        self.assertNotEqual(self.window.wire.key, before)
        self.hand.token(self.page.wire_line, "wire")
        self.assertFalse(self.window.wire.on)
