"""The Takes page with mouse and keys: takes run again after each edit, promises, pieces cut out,
played on."""

from __future__ import annotations

import shutil
import unittest
from itertools import pairwise
from pathlib import Path

from PIL import Image
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QPushButton

from tests.depth import EVERY_CASE
from tests.desk.case import DeskCase
from yarn_puppet.core.formats.take_file import load_take, takes_of
from yarn_puppet.core.model.edits.graph import state_changed
from yarn_puppet.core.model.promise import Happening, Promise
from yarn_puppet.core.takes.controls import controls_of
from yarn_puppet.core.takes.recording import run_again
from yarn_puppet.core.takes.run import set_up
from yarn_puppet.demo import DEMO_FOLDER

SHIFT = Qt.KeyboardModifier.ShiftModifier
FALL, CLIMB, THREE = "guarded_fall.take.json", "gutter_climb.take.json", "three_in_a_row.take.json"


class TakesCase(DeskCase):
    """Pell and some of its takes, copied to a folder where they can be saved."""

    takes: tuple[str, ...] = (FALL, CLIMB, THREE)
    waits = True
    """Whether what is asked needs them to have been run again."""

    def own_file(self) -> Path:
        self.home = self.folder / "lantern"
        shutil.copytree(DEMO_FOLDER, self.home,
                        ignore=shutil.ignore_patterns("make", "*.py", "__pycache__"))
        for path in self.home.glob("*.take.json"):
            if path.name not in self.takes:
                path.unlink()
        return self.home / "lamplighter.puppet.json"

    def setUp(self) -> None:
        super().setUp()
        self.kept, self.player = self.window.kept, self.window.player
        self.page = self.go("Takes")
        self.view = self.page.view
        if self.waits:
            self.ran()

    def ran(self) -> None:
        """Wait until every take was run again."""
        self.hand.until(lambda: not self.kept.busy and not self.kept._settle.isActive(),
                        "the kept takes")

    def choose(self, file: str) -> None:
        """Click a take's row, at its name."""
        row = self.view.row(self.view.rows().index(file))
        self.hand.click(self.view, QPointF(40, row.center().y()))
        self.settle()

    def slow_guard(self) -> None:
        """An edit that one of the takes comes across: guarding slows nothing any more."""
        self.window.document.edit("guard freely", lambda now: state_changed(
            state_changed(now, "guard_state", rules=()), "guard_walk_state", rules=()))
        self.settle()
        self.ran()

    def said(self, sentence: object) -> str:
        """A sentence as text."""
        return " ".join(part.text for part in sentence.parts)  # type: ignore[attr-defined]


class Kept(TakesCase):
    def test_every_take_is_listed_with_its_promises(self) -> None:
        self.assertEqual(self.view.rows(), [FALL, CLIMB, THREE])
        self.assertIn("9 promises kept", self.said(self.page.all))
        self.assertTrue(all(verdict.kept for outcome in self.kept.outcomes.values()
                            for verdict in outcome.verdicts))

    def test_a_click_shows_the_take_everywhere_and_another_goes_to_a_tick(self) -> None:
        self.choose(THREE)
        self.assertEqual((self.player.take_file, len(self.records)), (THREE, 200))
        strip = self.view.strip(2)
        self.hand.click(self.view, QPointF(strip.x() + strip.width() / 2, strip.center().y()))
        self.assertEqual(self.player.tick, 100)
        self.hand.key(self.view, Qt.Key.Key_Up)
        self.settle()
        self.assertEqual(self.player.take_file, CLIMB)

    def test_what_was_played_before_can_be_had_back(self) -> None:
        self.hold(Qt.Key.Key_Right, 30)
        self.choose(THREE)
        self.hand.key(self.window, Qt.Key.Key_F6, SHIFT)
        self.settle()
        self.assertEqual(len(self.records), 30)

    def test_an_edit_runs_them_again_from_where_it_can_be_felt(self) -> None:
        self.choose(FALL)
        self.slow_guard()
        found = self.kept.outcomes
        self.assertEqual((found[FALL].again_from, found[CLIMB].again_from, found[THREE].again_from),
                         (110, 260, 200))
        self.assertIsNone(found[THREE].since_edit)
        said = [f"{line.strong} {line.rest}" for line in self.page.findings.lines]
        self.assertIn("tick 110 is the first that differs: move speed 0.5 → 1", said[0])
        self.assertIn("Fall is entered", " ".join(said))
        self.assertIn("guard freely", self.said(self.page.findings_title))
        # A click on a line goes there.
        self.hand.click(self.page.findings, self.page.findings._places()[0].center())
        self.assertEqual(self.player.tick, 110)

    def test_accepted_it_differs_no_more_and_undone_it_does(self) -> None:
        self.choose(FALL)
        before = self.puppet
        self.slow_guard()
        self.hand.token(self.page.deeds, "accept all")
        self.ran()
        self.assertFalse(self.kept.differs)
        self.hand.key(self.window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
        self.settle()
        self.ran()
        self.assertEqual(self.puppet, before)
        self.assertTrue(self.kept.differs)
        self.hand.token(self.page.deeds, "go back")
        self.settle()
        self.ran()
        self.assertNotEqual(self.puppet, before)
        self.assertFalse(self.kept.differs)

    def test_a_process_that_dies_is_begun_again(self) -> None:
        self.kept.process._lines.process.kill()
        self.hand.until(lambda: not self.kept.process.runs, "its end")
        self.hand.wait()
        self.assertIn("cannot be run", self.said(self.page.all))
        self.hand.token(self.page.all, "run again")
        self.ran()
        self.assertIn("9 promises kept", self.said(self.page.all))

    def test_a_take_that_cannot_be_read_or_run_says_why_and_the_others_run(self) -> None:
        (self.home / "torn.take.json").write_text('{"booth": null, "rate": 60')
        (self.home / "lost.take.json").write_text(
            '{"booth": "gone.booth.json", "rate": 60, "ticks": 5}')
        (self.home / "quick.take.json").write_text('{"booth": null, "rate": 120, "ticks": 5}')
        self.window.files.load(self.home / "lamplighter.puppet.json")
        self.player.pause()
        self.ran()
        self.assertIn("torn.take.json", self.kept.problems["torn.take.json"])
        self.assertIn("gone.booth.json is not there", self.kept.outcomes["lost.take.json"].problem)
        self.assertIn("120 Hz", self.kept.outcomes["quick.take.json"].problem)
        self.assertEqual(len(self.kept.outcomes[THREE].verdicts), 3)
        for file in ("torn.take.json", "lost.take.json", "quick.take.json"):
            self.choose(file)

    def test_the_kept_takes_belong_to_the_puppet_on_show(self) -> None:
        self.window.files.new()
        self.hand.wait()
        self.assertEqual(self.view.rows(), [])


class Pieces(TakesCase):
    waits = False

    def test_a_piece_is_marked_in_the_trace_kept_saved_and_runs_the_same(self) -> None:
        self.hold(Qt.Key.Key_Right, 80)
        self.hold(Qt.Key.Key_Space, 40)
        trace = self.window.trace
        self.player.seek(60)
        trace.first = 0.0
        self.hand.drag(trace, QPointF(trace.x_of(50) + 2, 60), QPointF(trace.x_of(90) + 2, 60),
                       modifier=SHIFT)
        self.assertEqual(self.player.span, (50, 90))
        self.hand.token(self.page.deeds, "keep")
        self.hand.type("over the edge")
        file = "over_the_edge.lamplighter.take.json"
        self.assertIn(file, self.view.rows())
        self.assertEqual((self.kept.takes[file].first, self.kept.takes[file].ticks), (50, 91))
        states = [record.after for record in self.records[:91]]
        self.hand.key(self.window, Qt.Key.Key_S, Qt.KeyboardModifier.ControlModifier)
        saved = load_take(self.home / file)
        self.assertEqual(saved.puppet, "lamplighter.puppet.json")
        *_, again = run_again(set_up(self.puppet, self.window.booths.get(saved.booth)),
                              list(controls_of(saved)))
        self.assertEqual([record.after for record in again], states)
        self.assertFalse(self.window.document.unsaved)

    def test_by_keys_and_by_numbers(self) -> None:
        self.hold(Qt.Key.Key_Right, 60)
        self.window.trace.setFocus()
        self.player.seek(20)
        self.hand.key(self.window.trace, Qt.Key.Key_BracketLeft)
        self.player.seek(40)
        self.hand.key(self.window.trace, Qt.Key.Key_BracketRight)
        self.assertEqual(self.player.span, (20, 40))
        self.hand.token(self.page.deeds, "to tick")
        self.hand.type("30")
        self.assertEqual(self.player.span, (20, 30))
        self.hand.key(self.window.trace, Qt.Key.Key_Escape)
        self.assertEqual(self.player.span, (0, 59))

    def test_renamed_and_removed_and_undone(self) -> None:
        self.choose(THREE)
        self.hand.token(self.page.chosen, "take name")
        self.hand.type("combo")
        self.assertEqual(self.view.rows(), ["combo.lamplighter.take.json", FALL, CLIMB])
        self.assertEqual(self.player.take_name, "combo")
        self.hand.key(self.view, Qt.Key.Key_Delete)
        self.assertEqual(self.view.rows(), [FALL, CLIMB])
        self.hand.key(self.window, Qt.Key.Key_S, Qt.KeyboardModifier.ControlModifier)
        self.assertFalse((self.home / THREE).exists())
        for _ in range(2):
            self.hand.key(self.window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
        self.assertEqual(self.view.rows(), [FALL, CLIMB, THREE])
        self.hand.key(self.window, Qt.Key.Key_S, Qt.KeyboardModifier.ControlModifier)
        self.assertEqual(len(load_take(self.home / THREE).promises), 3)

    def test_saved_elsewhere_the_takes_go_along(self) -> None:
        other = self.folder / "other"
        other.mkdir()
        self.window.files.save_as()
        self.answer_file(other / "hero.puppet.json")
        self.assertEqual(sorted(path.name for path in other.glob("*.take.json")),
                         [FALL, CLIMB, THREE])
        self.assertEqual(load_take(other / FALL).puppet, "hero.puppet.json")
        self.assertEqual(load_take(self.home / FALL).puppet, "lamplighter.puppet.json")

    def test_another_take_of_that_name_is_not_written_over(self) -> None:
        other = self.folder / "other"
        other.mkdir()
        (other / FALL).write_text('{"booth": null, "rate": 60, "ticks": 5}')
        self.window.files.save_as()
        self.answer_file(other / "hero.puppet.json")
        self.assertEqual(load_take(other / FALL).ticks, 5)
        own = FALL.replace(".take", ".hero.take")
        self.assertEqual((load_take(other / own).puppet, self.kept.takes[own].ticks),
                         ("hero.puppet.json", load_take(self.home / FALL).ticks))

    def test_a_copy_beside_it_leaves_the_first_puppet_its_takes(self) -> None:
        before = {path.name: path.read_bytes() for path in self.home.glob("*.take.json")}
        self.choose(FALL)
        self.window.files.save_as()
        self.answer_file(self.home / "hero.puppet.json")
        self.assertEqual({name: (self.home / name).read_bytes() for name in before}, before)
        both = [[path.name for path in takes_of(self.home / f"{name}.puppet.json")]
                for name in ("lamplighter", "hero")]
        self.assertEqual([len(each) for each in both], [3, 3])
        self.assertEqual(set(both[0]) & set(both[1]), set())
        own = FALL.replace(".take", ".hero.take")
        self.assertEqual((self.page.desk.current, self.player.take_file), (own, own))
        # An undo, a change and a save go to the copy, and none of it to the first.
        self.hand.token(self.page.chosen, "remove take")
        self.window.document.undo()
        self.kept.set_promises(own, ())
        self.window.files.save()
        self.assertEqual({name: (self.home / name).read_bytes() for name in before}, before)
        self.assertEqual((load_take(self.home / own).promises, load_take(self.home / own).puppet),
                         ((), "hero.puppet.json"))
        # And back to where its own takes lie.
        self.window.files.save_as()
        self.answer_file(self.home / "lamplighter.puppet.json")
        self.hand.click(next(each for each in self.dialog("replace").findChildren(QPushButton)
                             if each.text() != "Cancel"))
        self.assertEqual([path.name for path in takes_of(self.home / "hero.puppet.json")], both[1])

    def test_keeping_a_take_leaves_another_puppets_of_that_name(self) -> None:
        others = '{"booth": null, "rate": 60, "ticks": 5, "puppet": "g.puppet.json"}'
        (self.home / "left_at_7.take.json").write_text(others)
        take = self.kept.takes[FALL]
        file = self.kept.keep(take, "left at 7")
        self.assertEqual(file, "left_at_7.lamplighter.take.json")
        (self.home / file).write_text("someone else's")
        self.window.files.save()
        self.assertEqual([(self.home / each).read_text() for each in ("left_at_7.take.json", file)],
                         [others, "someone else's"])
        self.assertEqual(load_take(self.home / "left_at_7_2.lamplighter.take.json").ticks,
                         take.ticks)


class Playing(TakesCase):
    takes = (FALL, THREE)
    waits = False

    def test_played_on_from_a_past_tick_the_old_future_is_kept(self) -> None:
        self.choose(FALL)
        before = [record.after for record in self.records]
        self.player.seek(100)
        self.hand.token(self.page.deeds, "play on")
        self.player.pause()
        self.hold(Qt.Key.Key_Left, 20)
        self.assertGreaterEqual(len(self.records), 121)
        self.assertEqual([record.after for record in self.records[:101]], before[:101])
        self.assertNotEqual(self.records[120].after, before[120])
        left = self.kept.takes["left_at_100.lamplighter.take.json"]
        self.assertEqual((left.first, left.ticks), (100, 480))
        self.choose("left_at_100.lamplighter.take.json")
        self.assertEqual([record.after for record in self.records], before)

    def test_what_is_recorded_plays_backwards_and_round_and_round(self) -> None:
        self.choose(THREE)
        self.player.set_speed(16.0)
        self.player.seek(90)
        self.hand.key(self.window, Qt.Key.Key_F7, SHIFT)
        self.assertTrue(self.player.backwards)
        self.hand.until(lambda: not self.player.playing, "the beginning")
        self.assertEqual(self.player.tick, 0)
        self.hand.token(self.page.chosen, "loop")
        seen: list[int] = []
        self.player.moved.connect(lambda: seen.append(self.player.tick))
        self.hand.until(lambda: any(after < before for before, after in pairwise(seen)), "a round")
        self.assertTrue(self.player.playing)
        self.hand.token(self.page.chosen, "loop")
        self.hand.until(lambda: not self.player.playing, "the end")
        self.assertEqual(len(self.records), 200)


class Promises(TakesCase):
    takes = (THREE,)

    def lines(self) -> list[str]:
        """The promises on show."""
        return [self.said(line.sentence) for line in self.page.lines if not line.isHidden()]

    def test_every_token_is_a_field(self) -> None:
        self.choose(THREE)
        self.assertEqual(self.lines()[0], "whenever tap attack then Combo within 24 ticks ×")
        first = self.page.lines[0].sentence
        self.hand.token(first, "ticks")
        self.hand.type("0")
        self.hand.token(self.page.lines[0].sentence, "other")
        self.hand.pick("Guard")
        self.ran()
        self.assertEqual(self.kept.takes[THREE].promises[0], Promise(
            "then", Happening("intent", "tap_attack"), Happening("state", "guard_state"), ticks=0))
        self.assertIn("1 broken", self.said(self.page.all))
        self.assertEqual(self.window.header.pages["Takes"].badge, "1")
        verdict = self.kept.outcomes[THREE].verdicts[0]
        self.assertFalse(verdict.kept)
        self.assertIn("promises", [lane.kind for lane in self.window.trace.lanes()])
        self.hand.token(self.page.lines[0].sentence, "remove")
        self.ran()
        self.assertEqual(len(self.lines()), 2)
        self.assertNotIn("broken", self.said(self.page.all))

    def test_each_kind_can_be_added(self) -> None:
        self.choose(THREE)
        for words in ("whenever A then B", "never A while B", "A hits B", "after A, value",
                      "A lasts", "from A one"):
            self.hand.token(self.page.chosen, "add promise")
            popup = self.hand.popup()
            label = next(each.label for each in popup.offered if each.label.startswith(words))
            self.hand.pick(label)
        self.ran()
        kinds = [promise.kind for promise in self.kept.takes[THREE].promises]
        self.assertEqual(kinds[3:], ["then", "never", "hits", "after", "lasts", "can"])
        self.assertEqual(len(self.kept.outcomes[THREE].verdicts), 9)

    def test_what_just_happened_becomes_a_promise(self) -> None:
        self.choose(THREE)
        self.player.seek(135)
        self.hand.token(self.page.chosen, "make promise")
        offered = [each.label for each in self.hand.popup().offered]
        label = next(each for each in offered if "lasts at most" in each)
        self.hand.pick(label)
        self.ran()
        self.assertEqual(len(self.kept.takes[THREE].promises), 4)
        self.assertTrue(all(verdict.kept for verdict in self.kept.outcomes[THREE].verdicts))

    def test_about_a_state_that_is_removed_it_is_broken_and_lost_is_nothing(self) -> None:
        self.choose(THREE)
        from yarn_puppet.core.model.edits.graph import state_removed

        self.window.document.edit("remove", lambda now: state_removed(now, "light_swing_3_state"))
        self.settle()
        self.ran()
        self.assertIn("the puppet has no state", self.kept.outcomes[THREE].verdicts[2].words)
        self.assertEqual(len(self.kept.takes[THREE].promises), 3)


class QueryKey(TakesCase):
    takes = (FALL, THREE)

    def test_other_rates_stand_side_by_side(self) -> None:
        self.choose(THREE)
        self.hand.token(self.page.chosen, "show rates")
        self.hand.until(lambda: len(self.page.findings.lines) >= 4, "the rates")
        lines = self.page.findings.lines
        # After an edit they are those of the puppet before, and not shown any more.
        self.window.document.edit("slower",
                                  lambda now: state_changed(now, "light_swing_state", speed=0.5))
        self.assertEqual((self.page.kept.rates, self.page.findings.lines), ({}, []))
        self.window.document.undo()
        self.hand.until(lambda: self.page.findings.lines == lines, "the rates again")
        self.assertEqual([line.strong for line in self.page.findings.lines[:4]],
                         ["30 Hz", "60 Hz", "120 Hz", "240 Hz"])
        self.assertEqual([line.ticks for line in self.page.findings.lines[:4]],
                         [100, 200, 400, 800])

    def test_it_is_measured(self) -> None:
        self.choose(THREE)
        self.hand.token(self.page.chosen, "show measured")
        self.hand.until(lambda: self.page.desk.measuring.found is not None, "the measures")
        self.hand.wait()
        said = [f"{line.strong} {line.rest}" for line in self.page.findings.lines]
        self.assertIn("attack at 108 Light 1 in 3 ticks, hits in 12 ticks", said[0])

    def test_why_not_goes_to_where_it_would_have_been(self) -> None:
        self.choose(FALL)
        self.player.seek(262)
        self.hand.click(self.window.ways_out.ask)
        self.hand.pick("Light 2")
        answer = self.window.ways_out.why_not.answer()
        self.assertEqual(answer.title, "Why not Light 2 at 262")
        self.assertEqual(answer.lines[-1].words, "it is taken at 269, 7 ticks later: by this press")
        self.hand.click(self.window.ways_out, QPointF(60, 38 + 22 * 3.5))
        self.assertEqual(self.player.tick, 269)
        self.assertTrue(self.window.ways_out.why_not.answer().so)
        QTest.keyClick(self.window.ways_out, Qt.Key.Key_Escape)
        self.assertIsNone(self.window.ways_out.why_not.answer())

    def test_the_answer_is_worked_out_once_the_head_rests(self) -> None:
        self.choose(FALL)
        ways = self.window.ways_out
        for tick in range(250, 263):
            self.player.seek(tick)
            ways.why("state", "light_swing_2_state")
            ways.grab()
            self.assertFalse(ways.why_not.is_answered())
        self.hand.until(ways.why_not.is_answered, "the answer")
        self.assertEqual(ways.why_not.answer().title, "Why not Light 2 at 262")

    def test_enter_on_a_way_out_asks_about_it(self) -> None:
        self.choose(FALL)
        self.player.seek(262)
        ways = self.window.ways_out
        self.hand.click(ways, QPointF(80, 38 + 27 * 4.5))
        self.hand.key(ways, Qt.Key.Key_Return)
        self.assertEqual(ways.why_not.answer().transition, "light_to_second")


class Out(TakesCase):
    takes = (THREE,)
    waits = False

    def chosen(self, action: str, path: Path) -> None:
        """Pick an entry of the take's menu, and a file."""
        self.window.commands.by_name[action].trigger()
        self.answer_file(path)

    def test_art_that_is_drawn_again_is_measured_again(self) -> None:
        feet = self.window.booth.feet
        before = feet.of(self.puppet)["walk"]
        self.assertIs(feet.of(self.puppet)["walk"], before)
        self.window.update_pictures()
        self.assertIsNot(feet.of(self.puppet)["walk"], before)

    def test_nothing_to_click_is_in_a_picture_that_is_given_away(self) -> None:
        booth = self.window.booth
        before = booth.grab().toImage()
        booth.show_bare(True)
        bare = booth.grab().toImage()
        self.assertNotEqual(bare, before)
        self.assertTrue(booth.switches.isHidden())
        booth.show_bare(False)
        self.assertEqual(booth.grab().toImage(), before)

    def test_the_marked_ticks_as_pictures_that_move(self) -> None:
        self.choose(THREE)
        ticks = 30 if EVERY_CASE else 12
        self.player.mark(100, 99 + ticks)
        self.player.seek(7)
        for name, shown in (("swing.gif", ticks // 2), ("swing.png", ticks)):
            written: list[bool] = []
            self.window.exporting.done.connect(lambda written=written: written.append(True))
            self.chosen("Write the booth as GIF or APNG…", self.folder / name)
            self.hand.until(lambda written=written: bool(written), "the file")
            with Image.open(self.folder / name) as picture:
                self.assertEqual((picture.n_frames, picture.size), (shown, (
                    self.window.booth.width(), self.window.booth.height())))
                lasts = 0.0
                for number in range(shown):
                    picture.seek(number)
                    lasts += picture.info["duration"]
            self.assertAlmostEqual(lasts, ticks / 60 * 1000, delta=1)
            self.assertEqual(self.player.tick, 7)

    def test_the_trace_as_table_lines_and_waves(self) -> None:
        self.choose(THREE)
        self.player.mark(100, 129)
        for name in ("swing.csv", "swing.jsonl", "swing.vcd"):
            written: list[bool] = []
            self.window.exporting.done.connect(lambda written=written: written.append(True))
            self.chosen("Write the trace as…", self.folder / name)
            self.hand.until(lambda written=written: bool(written), "the file")
        lines = (self.folder / "swing.jsonl").read_text().splitlines()
        self.assertEqual((len(lines), '"tick": 100,' in lines[0]), (30, True))
        self.assertEqual(len((self.folder / "swing.csv").read_text().splitlines()), 31)
        self.assertTrue((self.folder / "swing.vcd").read_text().endswith(
            f"#{30 * 1_000_000 // 60}\n"))

    def test_a_place_that_cannot_be_written_is_said(self) -> None:
        self.choose(THREE)
        written: list[bool] = []
        self.window.exporting.done.connect(lambda: written.append(True))
        self.window.exporting.write_trace(self.folder / "nowhere" / "swing.vcd")
        self.hand.until(lambda: bool(written), "the answer")
        self.assertIn("cannot be written", self.dialog("complaint").informativeText())


if __name__ == "__main__":
    unittest.main()
