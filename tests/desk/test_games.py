"""Games on the live wire and the real window: watched, compared, kept as takes, driven through an
edit."""

from __future__ import annotations

import os
import shutil
import subprocess
import unittest
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from threading import Event, Thread
from typing import Any, TypeVar
from unittest import mock

from msgspec.structs import replace
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from tests.browser import browser
from tests.browser_page import opened, served
from tests.depth import EVERY_CASE
from tests.desk.case import DeskCase, without_takes
from tests.helpers import demo_puppet, demo_world
from tests.wire import PATIENT_C, ROOT, begun, patient
from yarn_puppet.core.handoff.files import hand_off
from yarn_puppet.core.languages.python.client.yarn_wire import Wire
from yarn_puppet.core.model.edits.graph import state_changed
from yarn_puppet.core.takes.run import replay, set_up
from yarn_puppet.core.wire.key import address_path
from yarn_puppet.demo import DEMO_FOLDER, DEMO_PUPPET, FIRST_STEPS
from yarn_puppet.desk.handoff.games_view import row_words
from yarn_puppet.desk.handoff.wire_desk import MOST_ENDS
from yarn_puppet.game.puppets import OwnCode, Runner, imported
from yarn_puppet.game.rooftop import rooftop, senses_of, stepped
from yarn_puppet.game.window import GameWindow

SMALL = (300, 200)
"""A browser's window in which little is painted."""
UNHURRIED = [*PATIENT_C, "-O0"]
"""Compiled sooner."""
Found = TypeVar("Found")


class WireCase(DeskCase):
    """The window with its wire switched on."""

    def setUp(self) -> None:
        super().setUp()
        patient(self)
        self.page = self.go("Hand-off")
        self.wire = self.window.wire
        self.hand.token(self.page.wire_line, "wire")
        self.hand.until(lambda: bool(self.wire.address), "the wire")

    def in_thread(self, does: Callable[..., Found], *arguments: object) -> Found:
        """Do something that waits for the window, while the window goes on."""
        with ThreadPoolExecutor(1) as pool:
            task = pool.submit(does, *arguments)
            done = Event()
            task.add_done_callback(lambda _: done.set())
            while not done.is_set():
                QTest.qWait(2)
            return task.result()

    def follow(self, ticks: int, spoils: int = -1, name: str = "skyline") -> None:
        """A game that runs its own code and tells of it, `spoils` one tick, and leaves."""
        module = imported(hand_off(self.puppet, ("python",), "it").files["it.py"])

        def play() -> None:
            game = Wire(name, "follow", "Python", module.MADE_OF, self.wire.address, self.wire.key)
            assert begun(game), game.trouble
            state = module.START
            for tick in range(ticks):
                down = ["attack"] if tick % 40 in (10, 11) else []
                senses = {"grounded": True, "speed": 45.0 * (tick % 60 > 30)}
                state, report = module.step(state, down, senses)
                digests = module.digests(report)
                digests[3] ^= tick == spoils
                game.follow(module.told(down, senses), digests, (tick * 1.5, 0.0))
            game.close()

        self.in_thread(play)

    def watched(self, name: str, ticks: int) -> None:
        """Click a game's row, and wait until all of it was heard."""
        self.hand.until(lambda: any(row.name == name and row.ticks >= ticks
                                    for row in self.wire.rows), "the game")
        number = next(index for index, row in enumerate(self.wire.rows) if row.name == name)
        self.hand.click(self.page.games, self.page.games.row(number))
        self.hand.until(lambda: self.window.player.recording.ticks >= ticks, "its ticks")


class Watching(WireCase):
    def test_a_game_that_is_followed_is_seen_as_a_run(self) -> None:
        self.follow(120)
        self.watched("skyline", 120)
        player = self.window.player
        self.assertEqual((player.game, player.recording.ticks, player.playing),
                         ("skyline", 120, False))
        self.assertEqual(self.shown_state(), "Idle")
        record = player.records[12]
        self.assertEqual(record.report.layers[0].state, "light_swing_state")
        assert record.controls.game is not None
        self.assertEqual(record.controls.game.at, (18.0, 0.0))
        self.assertIn("followed: skyline, 60 Hz · 120 ticks, all equal",
                      self.window.booth.game_note)
        self.hand.key(self.window, Qt.Key.Key_F9)
        self.assertEqual(player.tick, 118)
        self.hand.key(self.window, Qt.Key.Key_F10)
        self.hand.key(self.window, Qt.Key.Key_F10)
        self.assertEqual(player.recording.ticks, 120, "no tick is run here meanwhile")

    def test_the_first_tick_that_differs_is_marked(self) -> None:
        self.follow(120, spoils=70)
        self.watched("skyline", 120)
        self.hand.until(lambda: self.wire.rows[0].differs >= 0, "the difference")
        verdict = self.window.trace.shown.verdicts()[0]
        self.assertEqual((verdict.tick, verdict.kept), (70, False))
        self.assertEqual([(mark.first, mark.last) for mark in verdict.marks], [(70, 70)])
        self.assertIn("differs from tick 70 on, in moments", row_words(self.wire.rows[0]))
        at = self.page.games.row(0).center().toPoint()
        QTest.mouseMove(self.page.games, at)
        self.assertIn("differs from tick 70", self.page.games.toolTip())
        self.assertIn("promises", [lane.kind for lane in self.window.trace.lanes()])

    def test_a_run_of_ones_own_takes_its_place_again(self) -> None:
        self.follow(60)
        self.watched("skyline", 60)
        self.hand.click(self.window.header.record)
        player = self.window.player
        self.assertEqual((player.game, self.wire.watched), ("", 0))
        self.assertIsNotNone(player.recording.setup.world, "in the booth")
        player.pause()
        self.watched("skyline", 60)
        self.window.files.load(FIRST_STEPS)
        self.assertEqual((player.game, self.wire.watched), ("", 0))

    def test_its_last_minute_becomes_a_take_that_runs_again_after_an_edit(self) -> None:
        self.follow(200)
        self.watched("skyline", 200)
        reports = [record.report for record in self.window.player.records]
        self.hand.token(self.page.deeds, "keep last minute")
        self.hand.until(lambda: bool(self.window.kept.takes), "the take")
        file, take = next(iter(self.window.kept.takes.items()))
        self.assertEqual((file, take.ticks), ("skyline_last_minute.first_steps.take.json", 200))
        self.assertEqual([record.report for record in replay(set_up(self.puppet, None), take)],
                         reports)
        self.hand.until(lambda: file in self.window.kept.outcomes, "it run")
        self.window.document.edit("slower",
                                  lambda now: state_changed(now, "light_swing_state", speed=0.5))
        self.hand.until(lambda: bool((found := self.window.kept.outcomes.get(file))
                                     and found.since_edit),
                        "what the edit changed")

    def test_an_edit_meanwhile_leaves_the_run_of_a_followed_game_as_it_was(self) -> None:
        self.follow(90)
        self.watched("skyline", 90)
        before = [record.report for record in self.window.player.records]
        self.window.document.edit("slower",
                                  lambda now: state_changed(now, "light_swing_state", speed=0.5))
        QTest.qWait(50)
        self.assertEqual([record.report for record in self.window.player.records], before)

    def test_one_that_went_away_is_said_to_have_and_can_be_dismissed(self) -> None:
        self.follow(30)
        self.hand.until(lambda: bool(self.wire.rows) and not self.wire.rows[0].here, "its going")
        self.assertIn("went away · ", row_words(self.wire.rows[0]))
        self.assertNotIn("too long to be kept", row_words(self.wire.rows[0]))
        self.assertIn("too long to be kept", row_words(replace(self.wire.rows[0], full=True)))
        self.hand.click(self.page.games, self.page.games.dismissing(0))
        self.hand.until(lambda: not self.wire.rows, "its row gone")

    def test_a_game_that_is_not_let_in_is_said_of(self) -> None:
        game = Wire("stranger", "drive", address=self.wire.address, key="wrong")
        self.assertFalse(self.in_thread(begun, game))
        self.hand.until(lambda: bool(self.wire.refused), "the refusal")
        self.assertIn("stranger was not let in",
                      " ".join(part.text for part in self.page.wire_line.parts))

    def test_a_wire_that_breaks_is_said_and_comes_up_again_where_it_was(self) -> None:
        self.follow(30)
        self.watched("skyline", 30)
        address = self.wire.address
        for _ in range(2):
            process = self.wire.process.process
            assert process is not None
            process.kill()
            self.hand.until(lambda old=process: self.wire.process.process is not old
                            and bool(self.wire.address),
                            "the wire again")
            self.assertIn("the wire broke", self.wire.trouble)
            self.assertIn("it was started again", self.wire.trouble)
            self.assertEqual((self.wire.address, self.window.player.game), (address, ""))
            self.assertEqual(address_path().read_text(), address)
        self.follow(30)
        self.watched("skyline", 30)
        self.hand.token(self.page.wire_line, "wire")
        self.assertFalse(address_path().exists(), "where nobody listens nobody looks")

    def test_a_wire_that_breaks_again_and_again_is_left(self) -> None:
        for _ in range(MOST_ENDS + 1):
            self.assertTrue(self.wire.on)
            process = self.wire.process.process
            assert process is not None
            process.kill()
            self.hand.until(lambda old=process: self.wire.process.process is not old and (
                bool(self.wire.address) or not self.wire.on), "the wire again, or its end")
        self.assertFalse(self.wire.on)


class Driving(WireCase):
    def test_an_edit_takes_effect_in_the_running_game_and_the_desk_sees_the_very_same(self) -> None:
        seen: list[Any] = []
        edited, go_on = Event(), Event()

        def play() -> None:
            game = Wire("driven", "drive", address=self.wire.address, key=self.wire.key)
            assert begun(game), game.trouble
            for tick in range(160):
                if tick == 80:
                    go_on.set()
                    edited.wait(20)
                    while game.edited is None:
                        game._read(0.05)
                down = ["attack"] if tick % 40 in (10, 11) else []
                report = game.drive({"down": down, "senses": {"grounded": True}})
                assert report is not None, game.trouble
                seen.append((report["layers"][0]["state"], report["layers"][0]["clip_time"]))
            game.close()

        thread = Thread(target=play)
        thread.start()
        self.hand.until(go_on.is_set, "half of it")
        self.watched("driven", 80)
        self.window.document.edit("slower",
                                  lambda now: state_changed(now, "light_swing_state", speed=0.5))
        edited.set()
        self.in_thread(thread.join)
        self.hand.until(lambda: self.window.player.recording.ticks >= 160, "all of it")
        names = {state.id: state.name for state in self.puppet.states}
        here = [(names[record.report.layers[0].state], record.report.layers[0].clip_time)
                for record in self.window.player.records]
        self.assertEqual(here, seen)
        self.assertNotEqual([each[1] for each in seen[90:110]], [each[1] for each in seen[10:30]])


class StandIn(WireCase):
    file = without_takes(DEMO_PUPPET)

    def test_it_walks_hits_and_is_compared_or_driven(self) -> None:
        os.environ["YARN_PUPPET_KEY"] = self.wire.key
        self.addCleanup(os.environ.pop, "YARN_PUPPET_KEY", None)
        for mode in ("follow", "drive"):
            runner = Runner(self.puppet, mode, self.wire.address, f"stand-in {mode}")
            assert runner.wire is not None
            # The desk is there before the first tick, so that all of them are its.
            self.assertTrue(self.in_thread(begun, runner.wire))
            game = GameWindow(self.puppet, DEMO_FOLDER, demo_world(), DEMO_FOLDER, runner)
            game._timer.stop()
            # It ticks in another thread here, while the desk goes on in this one: no place to make
            # sounds.
            game.sounds.play = mock.Mock()
            game.show()
            QTest.keyPress(game, Qt.Key.Key_Right)
            near = game.world.dummies[0].x - 44
            self.in_thread(lambda game=game, near=near: [
                game.tick() for _ in range(300) if game.state.body.x < near])
            QTest.keyRelease(game, Qt.Key.Key_Right)
            QTest.keyClick(game, Qt.Key.Key_J)
            self.in_thread(lambda game=game: [game.tick() for _ in range(40)])
            self.assertGreater(sum(dummy.hits for dummy in game.state.dummies), 0, mode)
            picture = game.grab().toImage()
            self.assertGreater(len({picture.pixel(x, y) for x in range(0, 760, 9)
                                    for y in range(0, 420, 9)}), 40)
            self.hand.until(lambda mode=mode, game=game: any(
                row.name == f"stand-in {mode}" and row.ticks == game.ticks
                for row in self.wire.rows), "its row")
            row = next(row for row in self.wire.rows if row.name == f"stand-in {mode}")
            self.assertEqual((row.mode, row.differs, row.trouble), (mode, -1, ""))
            assert runner.wire is not None
            self.in_thread(runner.wire.close)
            game.close()

    def test_it_is_started_from_the_page_and_ends_with_the_desk(self) -> None:
        self.hand.token(self.page.deeds, "stand-in")
        self.hand.pick("it runs its own code, and is compared")
        self.hand.until(lambda: any(row.name == "stand-in" and row.ticks > 5
                                    for row in self.wire.rows), "the game")
        process = self.wire._stand_ins[0]
        self.wire.close()
        self.assertEqual(process.state(), process.ProcessState.NotRunning)

    def test_without_a_desk_it_plays_on(self) -> None:
        puppet, world = demo_puppet(), demo_world()
        runner = Runner(puppet, "drive", "127.0.0.1:1", "lonely")
        state = rooftop(world, puppet)
        for tick in range(60):
            down = frozenset(("right",)) if tick < 40 else frozenset()
            report = runner.tick(down, senses_of(world, puppet, state, down), state.landed,
                                 state.stop > 0, (0.0, 0.0))
            state = stepped(world, puppet, state, report, down)
        self.assertGreater(state.body.x, world.start_x + 30)
        self.assertIn("no desk", runner.words())
        self.assertEqual(OwnCode(puppet).layers["body"], 0)


class Examples(WireCase):
    file = without_takes(DEMO_PUPPET)

    def built(self, name: str) -> subprocess.CompletedProcess[str]:
        """An example, built by its one command in a folder with a space."""
        folder = self.folder / "a tree"
        shutil.copytree(ROOT / "examples", folder / "examples",
                        ignore=shutil.ignore_patterns("made", "pell", "roll"))
        for each in ("yarn-puppet", "yarn_puppet"):
            (folder / each).symlink_to(ROOT / each)
        return self.in_thread(lambda: subprocess.run(
            [folder / f"examples/{name}/build"], capture_output=True, text=True,
            env={**os.environ, "CFLAGS": " ".join(PATIENT_C if EVERY_CASE else UNHURRIED)}))

    @unittest.skipUnless(shutil.which("gcc"), "no compiler is installed")
    def test_the_terminal_program_is_built_by_one_command_and_compared_and_driven(self) -> None:
        folder = self.folder / "a tree"
        self.assertEqual(self.built("terminal").returncode, 0)
        keys = "." * 20 + "d" * 30 + "." * 20 + "j" + "." * 60 + " " + "." * 80 + "k" * 20
        printed = {}
        for mode in ((), ("--follow",), ("--drive",)):
            done = self.in_thread(lambda mode=mode: subprocess.run(
                [folder / "examples/terminal/pell", *mode, "--script", keys], capture_output=True,
                text=True,
                env={**os.environ, "YARN_PUPPET_KEY": self.wire.key,
                     "YARN_PUPPET_WIRE": self.wire.address}))
            self.assertEqual((done.returncode, done.stderr), (0, ""), mode)
            printed[mode] = done.stdout.split("\n")
        self.assertEqual(printed[()], printed[("--follow",)])
        self.assertEqual(printed[()], printed[("--drive",)])
        for state in ("Walk", "Light 1", "Rise", "Guard"):
            self.assertIn(state, printed[()])
        self.hand.until(lambda: any(row.mode == "drive" and row.ticks == len(keys)
                                    for row in self.wire.rows), "it")

    @unittest.skipUnless(shutil.which("gcc"), "no compiler is installed")
    def test_the_game_that_rolls_back_is_followed_and_right(self) -> None:
        self.assertEqual(self.built("rollback").returncode, 0)
        ticks = 160
        done = self.in_thread(lambda: subprocess.run(
            [self.folder / "a tree/examples/rollback/roll", "--follow", "--ticks", str(ticks),
             "--rate", "0"],
            capture_output=True, text=True,
            env={**os.environ, "YARN_PUPPET_KEY": self.wire.key,
                 "YARN_PUPPET_WIRE": self.wire.address}))
        self.assertEqual((done.returncode, done.stderr), (0, ""))
        self.assertEqual(
            done.stdout,
            f"{ticks} ticks, and {sum(min(8, tick) for tick in range(ticks))} of them once "
            "more; the desk: all equal\n",
        )
        self.hand.until(lambda: any(row.name == "rollback" and row.ticks == ticks and not row.here
                                    for row in self.wire.rows), "it")
        row = next(row for row in self.wire.rows if row.name == "rollback")
        self.assertEqual((row.compared, row.differs), (ticks, -1))

    @unittest.skipUnless(browser(), "no browser is installed")
    def test_from_the_demo_to_pell_in_the_browser_and_an_edit_seen_there(self) -> None:
        with mock.patch("yarn_puppet.desk.handoff.wire_desk.QDesktopServices.openUrl") as opens:
            self.hand.gestures = 2  # the page was gone to, and the wire switched on
            self.hand.token(self.page.deeds, "stand-in")
            self.hand.pick("Pell on a canvas, in the browser: edits arrive at once")
            self.hand.until(lambda: opens.called, "the browser asked for")
        self.assertLessEqual(self.hand.gestures, 4)
        self.assertEqual(opens.call_args[0][0].toString(), self.wire.page_address)
        here, seen = Event(), []

        def look() -> None:
            with opened(self.wire.page_address, SMALL) as page:
                page.until("globalThis.roof?.wire?.here && roof.seen().state === 'Idle'")
                here.set()
                seen.append(page.until("roof.seen().state === 'Rest' && roof.seen().state"))

        task = ThreadPoolExecutor(1).submit(look)
        self.hand.until(lambda: here.is_set() or task.done(), "Pell")
        weave = self.go("Weave")
        self.window.document.select("state", "idle_state")
        self.hand.token(weave.sentence, "state name")
        self.hand.type("Rest")
        while not task.done():
            QTest.qWait(5)
        task.result()
        self.assertEqual(seen, ["Rest"])
        self.assertLessEqual(self.hand.gestures, 7)

    @unittest.skipUnless(browser(), "no browser is installed")
    def test_the_page_shows_pell_and_an_edit_is_seen_while_it_runs(self) -> None:
        folder = self.folder / "page"
        shutil.copytree(ROOT / "examples" / "browser", folder,
                        ignore=shutil.ignore_patterns("made"))
        for name, content in hand_off(self.puppet, ("javascript",), art=DEMO_FOLDER,
                                      wire=True).files.items():
            (folder / "made" / name).parent.mkdir(parents=True, exist_ok=True)
            (folder / "made" / name).write_bytes(content)

        served_at = self.enterContext(served(folder))
        page = self.enterContext(opened("about:blank", SMALL))
        edited = Event()

        def look(mode: str, says: str) -> None:
            page.go(f"{served_at}/?mode={mode}#key={self.wire.key}&wire={self.wire.address}")
            page.until("globalThis.roof && roof.wire.here && roof.ticks() > 20")
            page.key("ArrowRight", True)
            page.until("roof.world.x > 100")
            page.key("ArrowRight", False)
            page.key("KeyJ", True)
            page.key("KeyJ", False)
            page.until("roof.world.straw.since > 0")
            page.until(f"document.getElementById('who').textContent.includes({says!r})")
            if mode == "drive":
                edited.set()
                page.until("roof.seen().state === 'Rest'")
            self.assertEqual(page.picture()[:4], b"\x89PNG")

        task = ThreadPoolExecutor(1).submit(look, "drive", "the desk drives it")
        self.hand.until(lambda: edited.is_set() or task.done(), "the page")
        self.window.document.edit("rename",
                                  lambda now: state_changed(now, "idle_state", name="Rest"))
        while not task.done():
            QTest.qWait(5)
        task.result()
        self.window.document.undo()
        self.in_thread(look, "follow", "all equal")
        self.hand.until(lambda: any(row.mode == "follow" for row in self.wire.rows), "its row")
        self.assertEqual({row.differs for row in self.wire.rows}, {-1})
