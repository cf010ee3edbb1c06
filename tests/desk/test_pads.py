"""Pads and axes: the simulated pad drives the code that a real one does, through to the take."""

from __future__ import annotations

import os
import struct
from pathlib import Path

from hypothesis import given
from hypothesis import strategies as some
from msgspec.structs import replace
from PyQt6.QtWidgets import QApplication

from tests.desk.case import DeskCase
from tests.helpers import Case
from yarn_puppet.core.booth.move_input import axis_value, stick_steps
from yarn_puppet.core.formats.take_file import load_take, save_take
from yarn_puppet.core.model.edits import wiring as edits
from yarn_puppet.core.model.wiring import Axis
from yarn_puppet.core.takes.run import replay
from yarn_puppet.desk.pads.device import INPUT_EVENT, Device, pads_there
from yarn_puppet.desk.pads.names import ABSOLUTE, KEY, Decoder, Event
from yarn_puppet.desk.pads.simulated import SimulatedPad
from yarn_puppet.desk.wiring.capture import KeyCapture

AXIS = Axis("move", "move", "left", "right", "pad:left x", 0.2, 2.0)


class Sticks(Case):
    @given(some.floats(-1.5, 1.5), some.floats(0, 0.9), some.floats(0.2, 5))
    def test_whole_steps_are_odd_and_grow_with_the_push(
        self, raw: float, dead: float, curve: float
    ) -> None:
        axis = Axis("a", "a", dead=dead, curve=curve)
        steps = stick_steps(axis, raw)
        self.assertTrue(-100 <= steps <= 100)
        self.assertEqual(stick_steps(axis, -raw), -steps)
        self.assertEqual(steps == 0, abs(min(1.0, abs(raw))) <= dead)
        self.assertGreaterEqual(abs(stick_steps(axis, raw * 1.1)), abs(steps))
        self.assertEqual(stick_steps(axis, 1.0), 100)

    def test_a_stick_goes_before_two_actions_and_both_of_those_are_neither(self) -> None:
        for down, pushed, expected in (({"left"}, 0, -1.0), ({"left", "right"}, 0, 0.0),
                                       ({"left"}, 30, 0.3)):
            self.assertEqual(axis_value(AXIS, frozenset(down), {"move": pushed}), expected)


class Decoding(Case):
    def test_triggers_and_hats_are_buttons_said_once(self) -> None:
        decoder = Decoder({0x05: (0, 255)})
        pressed = [each for value in (0, 100, 140, 255, 90)
                   for each in decoder.events_of(Event(ABSOLUTE, 0x05, value))]
        self.assertEqual([(each.name, each.value) for each in pressed], [("pad:right trigger", 1.0),
                                                                     ("pad:right trigger", 0.0)])
        hat = [each for value in (-1, 1, 0)
               for each in decoder.events_of(Event(ABSOLUTE, 0x10, value))]
        self.assertEqual([(each.name, each.value) for each in hat], [
            ("pad:left", 1.0), ("pad:left", 0.0), ("pad:right", 1.0), ("pad:right", 0.0)])

    @given(some.integers(0, 65535), some.integers(0, 65535), some.integers(-2**31, 2**31 - 1))
    def test_no_event_of_any_device_breaks_it(self, type: int, code: int, value: int) -> None:
        for pressed in Decoder({}).events_of(Event(type, code, value)):
            self.assertTrue(-1 <= pressed.value <= 1)

    def test_events_are_read_as_the_kernel_lays_them_out(self) -> None:
        near, far = os.pipe()
        os.set_blocking(near, False)
        device = Device.__new__(Device)
        device.file = near
        self.addCleanup(os.close, far)
        self.addCleanup(device.close)
        self.assertEqual(device.read(), [])
        os.write(far, struct.pack("@llHHi", 1, 2, KEY, 0x130, 1) + INPUT_EVENT.pack(
            1, 2, ABSOLUTE, 0, -5))
        self.assertEqual(device.read(), [Event(KEY, 0x130, 1), Event(ABSOLUTE, 0, -5)])

    def test_a_machine_without_pads_has_none(self) -> None:
        self.assertEqual(pads_there(Path("/nowhere at all")), [])


class Playing(DeskCase):
    def setUp(self) -> None:
        super().setUp()
        self.pad = SimulatedPad()
        self.window.pads.add("simulated", self.pad)
        self.page = self.go("Wiring")

    def bind(self) -> None:
        """An axis with a stick, and the attack on a button, bound by using them."""
        self.hand.token(self.page.rows["add axis"], "add axis")
        self.hand.type("move")
        self.hand.token(self.page.rows["axis move"], "stick")
        self.pad.push("left x", 0.9)
        self.window.pads.read()
        self.hand.wait()
        self.pad.push("left x", 0.0)
        self.window.pads.read()
        self.hand.token(self.page.rows["action attack"], "add key")
        self.pad.press("west")
        self.window.pads.read()
        self.hand.wait()
        self.pad.press("west", False)
        self.window.pads.read()

    def test_bound_by_use_it_walks_slowly_by_half_a_stick_and_the_take_says_so(self) -> None:
        self.bind()
        axis = self.puppet.axes[0]
        self.assertEqual((axis.stick, axis.less, axis.more, self.puppet.mover.across),
                         ("pad:left x", "left", "right", "move"))
        self.assertIn("pad:west",
                      next(action.keys for action in self.puppet.actions if action.id == "attack"))
        self.settle()
        self.window.player.restart()
        self.window.player.pause()
        self.pad.push("left x", 0.6)
        self.window.pads.read()
        self.steps(60)
        body = self.records[-1].after.booth.body  # type: ignore[union-attr]
        self.assertAlmostEqual(body.vx, 45.0, delta=0.01)
        self.assertEqual((self.shown_state(), self.records[-1].report.facing), ("Walk", "right"))
        self.pad.push("left x", 0.0)
        self.pad.press("west")
        self.window.pads.read()
        self.steps(3)
        self.pad.press("west", False)
        self.window.pads.read()
        self.steps(2)
        self.assertEqual(self.shown_state(), "Light swing")
        take = self.window.player.recording.take()
        self.assertEqual(take.axes, ((0, "move", 50), (60, "move", 0)))
        path = self.folder / "walk.take.json"
        save_take(take, path)
        again = list(replay(self.window.player.recording.setup, load_take(path)))
        self.assertEqual([each.report for each in again],
                         [record.report for record in self.records])

    def test_esc_leaves_an_axis_as_it_was_and_a_small_push_is_not_meant(self) -> None:
        self.hand.token(self.page.rows["add axis"], "add axis")
        self.hand.type("move")
        self.hand.token(self.page.rows["axis move"], "stick")
        self.pad.push("right y", 0.3)
        self.window.pads.read()
        sheet = next(toplevelwidget
                     for toplevelwidget in QApplication.topLevelWidgets()
                     if isinstance(toplevelwidget, KeyCapture))
        sheet.close()
        self.hand.wait()
        self.assertEqual(self.puppet.axes[0].stick, "")

    def test_a_pad_that_is_pulled_out_lets_go_of_what_was_down(self) -> None:
        self.window.document.edit("bind", lambda now: edits.keys_set(now, "guard", ("pad:east",)))
        self.pad.press("east")
        self.window.pads.read()
        self.steps(1)
        self.assertEqual(self.records[-1].controls.down, frozenset({"guard"}))

        def gone() -> list[Event]:
            raise OSError

        self.pad.read = gone  # type: ignore[method-assign]
        self.window.pads.read()
        self.steps(2)
        self.assertEqual(self.records[-1].controls.down, frozenset())

    def test_a_key_on_two_actions_is_shown(self) -> None:
        actions = tuple(replace(action, keys=("key:J",))
                        if action.id in ("attack", "guard") else action
                        for action in self.puppet.actions)
        self.window.document.edit("clash", replace(self.puppet, actions=actions))
        token = self.page.rows["action attack"].token("key:J")
        self.assertEqual(token.text(), "J !")
        self.assertTrue(token.toolTip().startswith("Also on guard: one press does both."),
                        token.toolTip())

    def test_every_gesture_can_be_made_by_its_disc(self) -> None:
        made, id = edits.intent_added(self.puppet, "left", "press")
        self.window.document.edit("add", made)
        for gesture in ("sequence", "both", "repeat", "press", "release", "tap", "hold",
                        "double tap"):
            self.window.document.edit("gesture",
                                      lambda now, gesture=gesture: edits.gesture_chosen(
                                          now, id, gesture))
            self.settle()
            before = len(self.records)
            intent = next(each for each in self.puppet.intents if each.id == id)
            self.window.player.fire(intent)
            armed = {each for record in self.records[before:] for each in record.report.armed}
            used = {each for record in self.records[before:] for each in record.report.used}
            self.assertIn(id, armed | used, gesture)
            self.steps(40)
