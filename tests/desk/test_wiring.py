"""The Wiring page: keys, gestures, live values, firing and forcing."""

from __future__ import annotations

from unittest import mock

from msgspec.structs import replace
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from tests.desk.case import DeskCase
from yarn_puppet.core.model.edits.entries import changed
from yarn_puppet.core.model.edits.graph import state_changed
from yarn_puppet.core.model.wiring import Action, Axis
from yarn_puppet.desk.wiring.capture import KeyCapture
from yarn_puppet.desk.wiring.meters import Lamp, Strip


class Wiring(DeskCase):
    def setUp(self) -> None:
        super().setUp()
        self.page = self.go("Wiring")

    def entry(self, field: str, id: str):  # type: ignore[no-untyped-def]
        return next(each for each in getattr(self.puppet, field) if each.id == id)

    def lamp(self, name: str) -> Lamp:
        return next(each for each in self.page.findChildren(Lamp) if each.objectName() == name)

    def capture(self) -> KeyCapture:
        return next(toplevelwidget for toplevelwidget in QApplication.topLevelWidgets()
                    if isinstance(toplevelwidget, KeyCapture) and toplevelwidget.isVisible())

    def test_rows_stay_what_they_are_while_others_change(self) -> None:
        before = {name: id(row) for name, row in self.page.rows.items()}
        self.window.document.edit("rename",
                                  lambda now: state_changed(now, "idle_state", name="Rest"))
        self.hand.token(self.page.rows["add memo"], "add memo")
        self.hand.type("count")
        after = {name: id(row) for name, row in self.page.rows.items()}
        self.assertEqual({name: after[name] for name in before}, before)
        self.assertEqual(set(after) - set(before), {self.puppet.memos[-1].id})

    def test_hidden_it_does_nothing_and_shown_it_is_right(self) -> None:
        self.go("Weave")
        with mock.patch("yarn_puppet.core.rules.uses.Uses.of", side_effect=AssertionError):
            self.window.document.edit("other",
                                      lambda now: changed(
                                          now, "intents", "tap_attack", name="tap_it"))
            self.hand.wait()
        self.go("Wiring")
        self.assertEqual(self.page.rows["tap_attack"].token("name").text(), "tap_it")

    def test_a_key_is_set_by_pressing_it_and_taken_from_its_old_action(self) -> None:
        self.hand.token(self.page.rows["action jump"], "add key")
        QTest.keyClick(self.capture(), Qt.Key.Key_J)
        self.assertEqual(self.entry("actions", "jump").keys, ("key:Space", "key:J"))
        self.assertEqual(self.entry("actions", "attack").keys, ("mouse:left",))
        self.hand.token(self.page.rows["action jump"], "key:Space")
        self.assertEqual(self.entry("actions", "jump").keys, ("key:J",))
        self.hand.click(self.window.booth)
        self.window.player.pause()
        self.hold(Qt.Key.Key_J, 3)
        self.assertEqual(self.shown_state(), "Rise")

    def test_a_mouse_button_too_and_escape_leaves_all_as_it_was(self) -> None:
        self.hand.token(self.page.rows["action down"], "add key")
        QTest.mouseClick(self.capture(), Qt.MouseButton.MiddleButton)
        self.assertIn("mouse:middle", self.entry("actions", "down").keys)
        before = self.puppet
        self.hand.token(self.page.rows["action down"], "add key")
        QTest.keyClick(self.capture(), Qt.Key.Key_Escape)
        self.assertIs(self.puppet, before)

    def test_an_intent_is_added_and_edited_as_a_sentence(self) -> None:
        self.hand.token(self.page.rows["add intent"], "add intent")
        self.hand.pick("attack")
        made = self.puppet.intents[-1]
        self.assertEqual((made.action, made.gesture, made.name),
                         ("attack", "press", "press_attack"))
        for token, answer, typed in (("gesture", "double tap", False), ("seconds", "0.4", True),
                                     ("buffer", "0.3", True), ("name", "flurry", True)):
            self.hand.token(self.page.rows[made.id], token)
            self.hand.type(answer) if typed else self.hand.pick(answer)
        made = self.puppet.intents[-1]
        self.assertEqual((made.gesture, made.seconds, made.buffer, made.name),
                         ("double tap", 0.4, 0.3, "flurry"))

    def test_a_click_on_an_intents_disc_makes_its_gesture_and_is_recorded(self) -> None:
        for intent, state in (("tap_attack", "Light swing"), ("hold_attack", "Heavy slam"),
                              ("press_jump", "Rise")):
            with self.subTest(intent):
                self.window.player.restart()
                self.window.player.pause()
                self.hand.click(self.lamp(f"fire {intent}"))
                self.assertIn(state, {self.puppet.state(record.report.layers[0].state).name
                                      for record in self.records})
                self.assertTrue(self.window.player.recording.take().controls)

    def test_a_lamp_is_lit_while_its_intent_is_armed(self) -> None:
        self.hold(Qt.Key.Key_K, 3)
        self.assertTrue(self.lamp("fire held_guard").lit())
        self.steps(2)
        self.assertFalse(self.lamp("fire held_guard").lit())

    def test_a_sense_is_forced_by_hand_visibly_and_let_go(self) -> None:
        self.hand.token(self.page.rows["grounded"], "force")
        self.hand.pick("false")
        self.assertEqual(self.page.rows["grounded"].token("force").text(), "forced: false ×")
        self.steps(3)
        self.assertEqual(self.shown_state(), "Fall")
        strip = next(each for each in self.page.findChildren(Strip) if each.key == "sense:grounded")
        self.assertIs(strip.value(), False)
        self.hand.token(self.page.rows["grounded"], "force")
        self.steps(3)
        self.assertEqual(self.shown_state(), "Idle")

    def test_a_rename_shows_everywhere_at_once(self) -> None:
        self.hand.token(self.page.rows["tap_attack"], "name")
        self.hand.type("poke")
        self.steps(1)
        named = [term.text for each in self.window.ways_out.exits() for term in each.terms]
        self.assertIn("poke", named)
        self.assertNotIn("tap attack", named)

    def test_a_name_that_conditions_use_already_is_refused_in_place(self) -> None:
        self.hand.token(self.page.rows["tap_attack"], "name")
        self.hand.type("done")
        self.assertEqual(self.hand.popup().note.text(),
                         "done is a word of conditions already; done_2 is free")
        self.hand.popup().close()

    def test_memos_and_senses_are_added_typed_and_removed(self) -> None:
        self.hand.token(self.page.rows["add memo"], "add memo")
        self.hand.type("combo step")
        memo = self.puppet.memos[-1]
        self.assertEqual((memo.name, memo.type), ("combo_step", "int"))
        self.hand.token(self.page.rows[memo.id], "start")
        self.hand.type("2")
        self.assertEqual(self.puppet.memos[-1].start, 2)
        self.hand.token(self.page.rows[memo.id], "type")
        self.hand.pick("yes or no")
        self.assertEqual((self.puppet.memos[-1].type, self.puppet.memos[-1].start), ("bool", False))
        self.hand.token(self.page.rows["add sense"], "add sense")
        self.hand.type("in water")
        self.assertEqual(self.puppet.senses[-1].name, "in_water")
        self.hand.token(self.page.rows["in_water"], "remove")
        self.assertNotIn("in_water", {sense.id for sense in self.puppet.senses})

    def test_a_sense_reports_an_event_and_an_intent_arms_from_a_used_press_where_one_says_so(
        self,
    ) -> None:
        self.hand.token(self.page.rows["add sense"], "add sense")
        self.hand.type("速さ bell")
        bell = self.puppet.senses[-1]
        self.assertEqual((bell.name, bell.event), ("速さ_bell", False))
        self.hand.token(self.page.rows[bell.id], "event")
        self.assertTrue(self.puppet.senses[-1].event)
        for picked, even in ((True, True), (False, False)):
            if picked:
                self.hand.token(self.page.rows["hold_attack"], "gesture")
                self.hand.pick("hold, even if the press was used")
            else:
                self.hand.token(self.page.rows["hold_attack"], "even if used")
            held = next(intent for intent in self.puppet.intents if intent.id == "hold_attack")
            self.assertEqual((held.gesture, held.even_if_used), ("hold", even))
        self.hand.token(self.page.rows["held_guard"], "gesture")
        self.assertNotIn("held, even if the press was used", [
            self.hand.popup().list.item(row).text()
            for row in range(self.hand.popup().list.count())])
        self.hand.popup().close()

    def test_a_name_is_held_to_its_length_while_it_is_typed(self) -> None:
        self.hand.token(self.page.rows["action jump"], "name")
        self.hand.type("j" * 300)
        self.assertEqual(len(next(action.name
                                  for action in self.puppet.actions if action.id == "jump")), 200)


class Turning(DeskCase):
    def test_four_sides_need_a_sense_for_up_and_get_one(self) -> None:
        page = self.go("Wiring")
        self.hand.token(page.rows["facing"], "facing kind")
        self.hand.pick("four sides")
        self.assertEqual((self.puppet.facing.kind, self.puppet.senses[-1].name), ("four", "move_y"))
        self.hand.token(page.rows["facing"], "facing start")
        self.hand.pick("up")
        self.assertEqual(self.puppet.facing.start, "up")
        self.hand.token(page.rows["facing"], "facing kind")
        self.hand.pick("left and right")
        self.assertEqual((self.puppet.facing.kind, self.puppet.facing.start), ("mirror", "right"))

    def test_forced_by_hand_it_turns_up(self) -> None:
        page = self.go("Wiring")
        self.hand.token(page.rows["facing"], "facing kind")
        self.hand.pick("four sides")
        self.hand.token(page.rows["move_y"], "force")
        self.hand.type("1")
        self.steps(2)
        self.assertEqual(self.records[-1].report.facing, "up")


class SameIds(DeskCase):
    """A hand-made file may call an action, an axis and a sense alike: each has its own row, and its
    own uses."""

    def setUp(self) -> None:
        super().setUp()
        edited = self.puppet
        self.window.document.edit("alike", replace(
            edited, actions=(*edited.actions, Action("grounded", "step", ("key:Q",))),
            axes=(Axis("grounded", "lean", less="grounded", more="right"),)))
        self.page = self.go("Wiring")

    def test_each_has_a_row_and_uses_of_its_own(self) -> None:
        said = {name: self.page.rows[name].token("uses").text()
                for name in ("action grounded", "axis grounded", "grounded")}
        self.assertEqual(said["action grounded"], "1")
        self.assertEqual(said["axis grounded"], "unused")
        self.assertGreater(int(said["grounded"]), 1)
        self.hand.token(self.page.rows["action grounded"], "remove")
        self.assertNotIn("grounded", [action.id for action in self.puppet.actions])
        self.assertEqual([axis.name for axis in self.puppet.axes], ["lean"])
        self.assertIn("grounded", [sense.id for sense in self.puppet.senses])
