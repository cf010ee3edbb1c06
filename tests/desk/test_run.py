"""Playing, pausing, stepping, looking back: the booth, the ways out and the trace."""

from __future__ import annotations

import weakref
from random import Random
from typing import Any
from unittest import TestCase, mock

from msgspec.structs import replace
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtTest import QTest

from tests.depth import some_of
from tests.desk.case import DeskCase
from yarn_puppet.core.model.edits import graph as edits
from yarn_puppet.core.model.edits import wiring as wiring_edits
from yarn_puppet.core.model.events import Rule
from yarn_puppet.core.model.kinds.gestures import GESTURES
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.model.wiring import Action, Intent
from yarn_puppet.core.pose.frame_data.quickest import gesture_of
from yarn_puppet.core.takes.controls import Controls as HandControls
from yarn_puppet.core.takes.explaining import explain
from yarn_puppet.core.takes.recording import run_again
from yarn_puppet.core.takes.run import set_up
from yarn_puppet.demo import DEMO_TAKE
from yarn_puppet.desk.session.run.holding import Holding
from yarn_puppet.desk.trace.lanes import lanes_of, state_runs, window_runs
from yarn_puppet.desk.widgets.view import DrawnView


class Run(DeskCase):
    def setUp(self) -> None:
        super().setUp()
        self.player, self.trace = self.window.player, self.window.trace

    def press(self, name: str) -> None:
        self.hand.click(getattr(self.window.header, name))

    def load_take(self) -> None:
        self.window.files.load_take(DEMO_TAKE)
        self.settle()


class Controls(Run):
    def test_play_runs_in_time_and_pause_holds(self) -> None:
        self.press("play")
        self.hand.until(lambda: len(self.records) > 12, "ticks to pass")
        self.press("play")
        held = len(self.records)
        self.hand.wait()
        self.assertEqual(len(self.records), held)

    def test_steps_go_both_ways_and_only_the_one_from_the_present_runs(self) -> None:
        self.press("step")
        self.press("step")
        self.assertEqual((len(self.records), self.player.tick), (2, 1))
        self.press("back")
        self.assertEqual((len(self.records), self.player.tick), (2, 0))
        self.press("step")
        self.press("step")
        self.assertEqual((len(self.records), self.player.tick), (3, 2))

    def test_any_speed_can_be_picked_or_typed(self) -> None:
        for text, speed, said in (("2", 2.0, "2×"), ("0.25", 0.25, "¼×"), ("0.3", 0.3, "0.3×"),
                                  ("8", 8.0, "8×")):
            self.hand.click(self.window.header.speed)
            self.hand.type(text)
            self.assertEqual((self.player.speed, self.window.header.speed.text()), (speed, said))
        self.hand.click(self.window.header.speed)
        self.hand.pick("½×")
        self.assertEqual(self.player.speed, 0.5)

    def test_record_begins_a_new_take_from_the_start(self) -> None:
        self.steps(30)
        self.press("record")
        self.player.pause()
        self.assertLess(len(self.records), 20)

    def test_a_key_let_go_at_once_is_still_down_for_a_tick(self) -> None:
        QTest.keyClick(self.window.booth, Qt.Key.Key_Space)
        self.steps(2)
        self.assertEqual(self.shown_state(), "Rise")


class Rate(Run):
    def set_rate(self, text: str) -> None:
        self.hand.click(self.window.header.rate)
        self.hand.type(text)
        self.settle()

    def test_the_same_hands_play_at_another_rate_second_for_second_and_undo_gives_them_back(
        self,
    ) -> None:
        self.load_take()
        controls, states = list(self.player.recording.controls), [
            record.report.layers[0].state for record in self.records]
        self.player.seek(300)
        self.set_rate("120")
        self.assertEqual((self.window.header.rate.text(), self.window.document.puppet.rate),
                         ("120 Hz", 120))
        self.assertEqual((len(self.records), self.player.tick), (2 * len(controls), 600))
        now = [record.report.layers[0].state for record in self.records]
        same = sum(now[2 * tick] == state for tick, state in enumerate(states))
        self.assertGreater(same, 0.8 * len(states))
        self.set_rate("50")
        self.assertAlmostEqual(len(self.records), len(controls) * 5 / 6, delta=1)
        self.window.document.undo()
        self.window.document.undo()
        self.settle()
        self.assertEqual((self.player.recording.controls, self.player.tick), (controls, 300))
        self.assertEqual([record.report.layers[0].state for record in self.records], states)
        self.press("step")

    def test_what_is_no_rate_is_said_and_changes_nothing(self) -> None:
        for text in ("0", "59.5", "fast", "1001"):
            self.hand.click(self.window.header.rate)
            self.hand.type(text)
            self.assertEqual(self.window.document.puppet.rate, 60)
            self.hand.key(self.hand.popup().line, Qt.Key.Key_Escape)
        self.hand.click(self.window.header.rate)
        self.hand.pick("240 Hz")
        self.assertEqual(self.window.document.puppet.rate, 240)

    def test_to_cancel_what_is_run_at_another_rate_puts_the_run_aside(self) -> None:
        self.load_take()
        ticks = len(self.records)
        self.window.document.edit("rate", lambda now: replace(now, rate=30))
        self.player.cancel()
        self.assertEqual(len(self.records), 0)
        self.steps(3)
        self.assertEqual(len(self.records), 3)
        self.window.document.edit("rate", lambda now: replace(now, rate=60))
        self.settle()
        self.assertEqual(len(self.records), 6)
        self.assertEqual(ticks, 2 * ((ticks + 1) // 2))


class Booth(Run):
    def test_keys_go_to_the_puppet_only_while_the_booth_has_the_focus_and_esc_gives_them_back(
        self,
    ) -> None:
        self.trace.setFocus()
        self.hand.click(self.window.booth)
        self.player.pause()
        self.hold(Qt.Key.Key_Right, 4)
        self.assertEqual(self.shown_state(), "Walk")
        QTest.keyClick(self.window.booth, Qt.Key.Key_Escape)
        self.assertFalse(self.window.booth.hasFocus())
        self.steps(30)
        view = self.window.page("Weave").view
        view.setFocus()
        QTest.keyPress(view, Qt.Key.Key_Right)
        self.steps(5)
        self.assertEqual(self.shown_state(), "Idle")

    def test_losing_the_focus_lets_every_key_go(self) -> None:
        self.window.booth.setFocus()
        QTest.keyPress(self.window.booth, Qt.Key.Key_Right)
        self.steps(4)
        self.window.trace.setFocus()
        self.steps(30)
        self.assertEqual(self.shown_state(), "Idle")

    def test_a_click_plays_and_the_next_one_is_an_attack(self) -> None:
        self.trace.setFocus()
        self.hand.click(self.window.booth)
        self.assertTrue(self.player.playing)
        self.player.pause()
        self.steps(5)
        self.assertEqual(self.shown_state(), "Idle")
        QTest.mousePress(self.window.booth, Qt.MouseButton.LeftButton)
        self.steps(3)
        QTest.mouseRelease(self.window.booth, Qt.MouseButton.LeftButton)
        self.steps(2)
        self.assertEqual(self.shown_state(), "Light swing")

    def test_every_lane_of_the_window_shows_the_past_when_the_head_is_there(self) -> None:
        self.load_take()
        now = self.window.booth.grab().toImage()
        self.player.seek(145)
        self.assertNotEqual(self.window.booth.grab().toImage(), now)
        self.assertEqual(self.window.header.tick.text(), "tick 0145")


class Conditions(Run):
    def test_they_are_lit_when_a_tick_comes_on_show_and_painting_runs_no_engine(self) -> None:
        self.load_take()
        weave = self.go("Weave")
        self.window.document.select("transition", "light_to_guard")
        painting, painted, begun = [], [], []
        draws, begins = DrawnView.paintEvent, explain.begin

        def paints(view: DrawnView, event: object) -> None:
            painting.append(view)
            draws(view, event)  # type: ignore[arg-type]
            painted.append(painting.pop())

        def counts(*given: Any) -> object:
            begun.append(list(painting))
            return begins(*given)

        with mock.patch.object(DrawnView, "paintEvent", paints), mock.patch.object(
            explain, "begin", counts):
            for tick in (145, 157, 158):
                self.player.seek(tick)
                self.hand.wait()
                lit = {each.transition: each for each in self.window.ways_out.exits()}
                self.assertEqual(lit["light_to_guard"].taken, tick == 158)
        self.assertEqual(begun, [[]] * 3,
                         "once for a tick, and none of them while something was painted")
        self.assertLessEqual({self.window.ways_out, weave.view}, set(painted))


class Trace(Run):
    def test_dragging_the_head_moves_the_whole_desk_and_play_goes_on_from_the_present(self) -> None:
        self.load_take()
        self.player.seek(200)
        y = 100.0
        self.hand.drag(self.trace, QPointF(self.trace.x_of(200.5), y),
                       QPointF(self.trace.x_of(158.5), y))
        self.assertEqual(self.player.tick, 158)
        exits = {each.transition: each for each in self.window.ways_out.exits()}
        self.assertEqual(exits["light_to_guard"].reason, "leaves this tick")
        self.assertEqual(self.shown_state(), "Guard")
        self.press("play")
        self.hand.until(lambda: len(self.records) > 505, "ticks after the take's end")
        self.player.pause()
        self.assertIsNone(self.player.head)

    def test_by_keys(self) -> None:
        self.steps(40)
        self.trace.setFocus()
        plain, shift = Qt.KeyboardModifier.NoModifier, Qt.KeyboardModifier.ShiftModifier
        for key, modifier, tick in (
            (Qt.Key.Key_Left, plain, 38), (Qt.Key.Key_Left, shift, 28),
            (Qt.Key.Key_Right, plain, 29),
            (Qt.Key.Key_Home, plain, 0), (Qt.Key.Key_End, plain, 39),
        ):
            QTest.keyClick(self.trace, key, modifier)
            self.assertEqual(self.player.tick, tick)

    def test_a_replay_plays_the_past_and_stops_at_the_present(self) -> None:
        self.steps(40)
        self.player.seek(20)
        QTest.keyClick(self.window, Qt.Key.Key_F7)
        self.hand.until(lambda: not self.player.playing, "the replay to end")
        self.assertEqual((len(self.records), self.player.head), (40, None))

    def test_lanes_are_the_states_actions_senses_windows_and_moments(self) -> None:
        self.load_take()
        lanes = lanes_of(self.puppet, self.player.recording.setup.program)
        self.assertEqual([lane.label for lane in lanes], [
            "state", "hit: pole", "guard: umbrella", "moments", "up", "down", "jump", "attack",
            "guard", "grounded",
            "speed", "vy", "move x",
        ])
        runs = state_runs(self.records.columns, "body", 130, 200)
        self.assertEqual([(run.first, run.last, run.key) for run in runs][1:4], [
            (134, 136, "idle_state"), (137, 157, "light_swing_state"), (158, 195, "guard_state")])
        runs = window_runs(self.records.columns, "pole", 0, 200)
        self.assertEqual([(run.first, run.last) for run in runs], [(146, 152)],
                         "five ticks, and two of hit stop")
        self.assertEqual(self.records.columns.values("action:guard", 156, 159).tolist(),
                         [0.0, 0.0, 1.0, 1.0])

    def test_what_does_not_change_in_the_piece_on_show_folds_to_one_line_that_names_it(
        self,
    ) -> None:
        self.steps(10)
        names = {lane.kind: lane.key for lane in self.trace.lanes()}
        self.assertEqual([lane.label for lane in self.trace.lanes()], ["state", "unchanged ▸"])
        self.assertEqual(names["folded"],
                         "hit: pole, guard: umbrella, moments, up, down, jump, attack, guard,"
                         " grounded: on, speed 0, vy 0, move x 0")
        self.hold(Qt.Key.Key_Right, 10)
        self.steps(2)
        shown = [lane.label for lane in self.trace.lanes()]
        self.assertEqual(shown, ["state", "moments", "speed", "move x", "unchanged ▸"])
        # As many as there is room for are seen, and a click unfolds them.
        self.hand.click(self.trace, self.trace.fold_area())
        self.assertEqual([lane.label for lane in self.trace.lanes()][-2:],
                         ["move x", "unchanged ▾"])
        self.assertEqual(len(self.trace.lanes()), 14)
        self.hand.click(self.trace, self.trace.fold_area())
        self.assertEqual([lane.label for lane in self.trace.lanes()], shown)
        # Of a piece of a run only what is in it counts.
        self.player.begins = len(self.records)
        self.steps(3)
        self.assertNotIn("move x", [lane.label for lane in self.trace.lanes()])

    def test_a_threshold_that_conditions_read_has_a_lane(self) -> None:
        puppet, id = wiring_edits.threshold_added(self.puppet, "speed", 60.0, 20.0)
        name = puppet.thresholds[0].name
        self.window.document.edit("threshold", edits.transition_changed(
            puppet, "idle_to_walk", when=f"{id} or move_x != 0"))
        self.settle()
        self.hold(Qt.Key.Key_Right, 30)
        lanes = {lane.label for lane in lanes_of(self.puppet, self.player.recording.setup.program)}
        self.assertIn(name.replace("_", " "), lanes)
        values = self.records.columns.values(f"threshold:{id}", 0, 60).tolist()
        speeds = self.records.columns.values("sense:speed", 0, 60).tolist()
        self.assertEqual({on for on, speed in zip(values, speeds, strict=True) if speed < 20},
                         {0.0})
        self.assertEqual({on for on, speed in zip(values, speeds, strict=True) if speed > 60},
                         {1.0})

    def test_a_click_on_an_exit_selects_its_transition(self) -> None:
        self.load_take()
        self.player.seek(158)
        self.hand.click(self.window.ways_out, QPointF(70, 52))
        self.assertEqual(self.window.document.selection, ("transition", "light_to_guard"))


class EditsWhileRunning(Run):
    def test_an_edit_takes_effect_while_playing_and_the_take_is_run_again(self) -> None:
        self.load_take()
        before = [record.report.move_speed for record in self.records]
        self.press("play")
        self.window.document.edit("slow",
                                  lambda now: edits.rule_set(
                                      now, "walk_state", Rule("move_speed", 0.5)))
        self.assertTrue(self.player.playing)
        self.settle()
        self.player.pause()
        self.assertEqual(self.records[100].report.move_speed, 0.5)
        earlier = self.player.recording.earlier
        self.assertEqual([record.report.move_speed for record in earlier[:500]], before)
        self.assertGreaterEqual(len(self.records), 500)

    def test_undo_gives_the_same_run_again(self) -> None:
        self.load_take()
        before = [record.after for record in self.records]
        self.window.document.edit("slow",
                                  lambda now: edits.rule_set(
                                      now, "walk_state", Rule("move_speed", 0.5)))
        self.settle()
        self.assertNotEqual([record.after for record in self.records], before)
        self.hand.click(self.window.header.undo)
        self.settle()
        self.assertEqual([record.after for record in self.records], before)

    def test_the_head_stays_at_its_tick(self) -> None:
        self.load_take()
        self.player.seek(145)
        self.window.document.edit("remove",
                                  lambda now: edits.state_removed(now, "light_swing_state"))
        self.settle()
        self.assertEqual((self.player.tick, self.shown_state()), (145, "Idle"))

    def test_running_again_can_be_stopped_and_changes_nothing_then(self) -> None:
        self.load_take()
        before = self.records
        self.window.document.edit("slow",
                                  lambda now: edits.rule_set(
                                      now, "walk_state", Rule("move_speed", 0.5)))
        self.assertTrue(self.player.busy)
        self.player.cancel()
        self.assertFalse(self.player.busy)
        self.quiet()
        self.assertIs(self.records, before)


class TakesPutAside(Run):
    def test_recording_again_puts_the_take_aside_and_it_can_be_had_back(self) -> None:
        self.hold(Qt.Key.Key_Right, 25)
        before = [record.report for record in self.records]
        self.press("record")
        self.player.pause()
        QTest.keyClick(self.window, Qt.Key.Key_F6, Qt.KeyboardModifier.ShiftModifier)
        self.settle()
        self.assertEqual([record.report for record in self.records], before)

    def test_a_run_as_long_as_it_may_get_holds_and_says_so(self) -> None:
        self.steps(3)
        with mock.patch("yarn_puppet.desk.session.run.run_on_show.MOST_BYTES", 1):
            self.player.play()
            self.hand.until(lambda: not self.player.playing, "the run to hold")
            self.steps(2)
            self.player.state_changed.emit()
            self.assertEqual(len(self.records), 3)
            self.assertIn("full", self.window.header.take.text())


class Hasty(Run):
    def test_a_run_begun_before_the_last_one_was_run_again_is_of_the_edited_puppet_alone(
        self,
    ) -> None:
        document = self.window.document
        self.hold(Qt.Key.Key_Right, 40)
        document.edit("slow", lambda now: edits.rule_set(
            now, "walk_state", Rule("move_speed", 0.5)))
        self.player.restart()
        self.player.pause()
        self.hold(Qt.Key.Key_Right, 20)
        document.undo()
        self.settle()
        *_, again = run_again(self.player.recording.setup, self.player.recording.controls)
        self.assertEqual([record.after for record in self.records],
                         [record.after for record in again])

    def test_random_hands_never_leave_a_run_of_another_puppet(self) -> None:
        """Edits, undo, opened takes, play and looking back in any order, with a thread running
        again all the while."""
        document, shaker = self.window.document, Random(0)
        acts = (
            self.load_take, document.undo, document.redo, self.player.restart, self.player.pause,
            self.player.go_back,
            lambda: self.player.seek(shaker.randrange(300)), self.player.cancel,
            lambda: self.player.step(1),
            self.hand.wait, self.hand.wait, lambda: self.player.rerun.settle.timeout.emit(),
            lambda: document.edit("slow",
                                  lambda now: edits.rule_set(
                                      now, "walk_state", Rule("move_speed", 0.5))),
            lambda: document.edit("remove",
                                  lambda now: edits.state_removed(now, "light_swing_state")),
            lambda: document.edit("drag",
                                  lambda now: edits.state_ordered(now, "idle_state", None, 1)),
            lambda: document.edit("add",
                                  lambda now: edits.state_added(now, "New", "idle", "air")[0]),
        )
        for seed in some_of(range(4)):
            shaker.seed(seed)
            for _ in range(60):
                shaker.choice(acts)()
            self.player.pause()
            self.player.edit(self.puppet)
            self.settle()
            setup = self.player.recording.setup
            self.assertIs(setup.puppet, self.puppet)
            *_, again = run_again(setup, self.player.recording.controls) if self.records else [[]]
            self.assertEqual([record.report for record in self.records],
                             [record.report for record in again])


class Hands(TestCase):
    def test_hands_that_rest_make_one_value_and_what_is_forced_stays_as_it_is(self) -> None:
        holding = Holding()
        resting = [holding.controls(tick) for tick in range(3)]
        self.assertEqual({id(each) for each in resting}, {id(resting[0])})
        holding.press("attack")
        pressed = [holding.controls(tick) for tick in range(3, 6)]
        self.assertEqual({id(each) for each in pressed}, {id(pressed[0])})
        self.assertEqual((resting[0].down, pressed[0].down), (frozenset(), {"attack"}))
        for value in (0.0, -0.0, False, 0):
            holding.force("speed", value)
            self.assertEqual(repr(holding.controls(6).forced), repr((("speed", value),)))

    def test_what_a_hand_makes_and_the_quickest_hand_make_every_gesture(self) -> None:
        for rate in (15, 60, 240):
            for gesture, traits in GESTURES.items():
                others = {"none": (), "one": ("b",), "some": ("b", "a")}[traits.others]
                intent = Intent("it", "it", "a", gesture, seconds=0.3, others=others)
                puppet = Puppet("one", rate=rate, actions=(Action("a", "a"), Action("b", "b")),
                                intents=(intent,))
                setup, holding = set_up(puppet, None), Holding()
                ticks = holding.make(intent, 0, rate) + 2
                quickest = gesture_of(setup.program.intents[0])
                down, by_quickest = set[str](), []
                for tick in range(quickest.arms + 1):
                    for at, action, pressed in quickest.edges:
                        if at == tick:
                            name = setup.program.actions[action]
                            (down.add if pressed else down.discard)(name)
                    by_quickest.append(HandControls(frozenset(down)))
                for how, controls in (("hand", [holding.controls(tick) for tick in range(ticks)]),
                                      ("quickest", by_quickest)):
                    with self.subTest(gesture, rate=rate, how=how):
                        *_, records = run_again(setup, controls)
                        armed = [record.report.tick for record in records if record.report.armed]
                        if traits.is_level:
                            self.assertEqual(armed, [])
                            self.assertTrue(any(each.down for each in controls))
                        elif how == "quickest":
                            self.assertEqual(armed[0], quickest.arms)
                        else:
                            self.assertGreaterEqual(armed[0], quickest.arms)


class Garbage(DeskCase):
    def test_what_nobody_needs_goes_once_play_has_rested_though_it_lived_long(self) -> None:
        class Circle:
            pass

        circle = Circle()
        circle.itself = circle  # type: ignore[attr-defined]
        gone = weakref.ref(circle)
        collector = self.window.collector
        for _ in range(3):
            collector._timer.timeout.emit()
        del circle
        collector._timer.timeout.emit()
        self.window.player.play()
        self.assertFalse(collector._rests.isActive())
        self.window.player.pause()
        self.assertTrue(collector._rests.isActive())
        self.assertIsNotNone(gone())
        collector._rests.timeout.emit()
        self.assertIsNone(gone())

    def test_who_works_on_is_not_held_up_by_it(self) -> None:
        collector, window = self.window.collector, self.window
        for what, work in (
            ("edit", lambda: window.document.edit("name", replace(self.puppet, name="other"))),
            ("select", lambda: window.document.select("state", self.puppet.states[1].id)),
            ("look back", lambda: window.player.seek(0)),
        ):
            with self.subTest(what):
                window.player.play()
                self.steps(3)
                window.player.pause()
                self.assertTrue(collector._rests.isActive())
                with mock.patch.object(collector._rests, "start") as begun:
                    work()
                begun.assert_called()
                # What does not wait is not put off.
                collector._rests.stop()
                work()
                self.assertFalse(collector._rests.isActive())
