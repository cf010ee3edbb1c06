"""The first start: a small puppet and what to press, gone at the first press and never seen
again."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, Qt

from tests.desk.case import DeskCase
from yarn_puppet.demo import DEMO_PUPPET, FIRST_STEPS
from yarn_puppet.desk.booth.greeting import Greeting
from yarn_puppet.desk.session.settings import load_settings
from yarn_puppet.desk.shell.first_start import start_on_demo
from yarn_puppet.desk.shell.window import Window


class FirstStart(DeskCase):
    file = None

    def begun(self, window: Window) -> Greeting | None:
        """Start it without a file; the greeting, if it is shown."""
        start_on_demo(window)
        self.hand.until(lambda: window.document.path is not None, "the puppet")
        self.hand.wait()
        found = window.booth.findChild(Greeting)
        return found if found is not None and found.isVisible() else None

    def test_it_says_what_to_press_until_something_is_pressed_and_never_again(self) -> None:
        greeting = self.begun(self.window)
        self.assertEqual(self.window.document.path, FIRST_STEPS)
        self.assertIsNotNone(greeting)
        assert greeting is not None
        self.assertTrue(self.window.booth.rect().contains(greeting.geometry()))
        self.hold(Qt.Key.Key_J, 3)
        self.assertFalse(greeting.isVisible())
        self.assertTrue(load_settings().greeted)
        again = self.open_window()
        self.assertIsNone(self.begun(again))
        self.assertEqual(again.document.path, DEMO_PUPPET)

    def test_the_demo_in_full_is_one_click_away(self) -> None:
        greeting = self.begun(self.window)
        assert greeting is not None
        before = self.hand.gestures
        self.hand.click(greeting.demo)
        self.hand.until(lambda: self.window.document.path == DEMO_PUPPET, "the demo")
        self.assertEqual(self.hand.gestures - before, 1)
        self.assertFalse(greeting.isVisible())
        self.assertTrue(load_settings().greeted)

    def test_who_pressed_nothing_is_greeted_again(self) -> None:
        self.assertIsNotNone(self.begun(self.window))
        self.window.close()
        self.assertIsNotNone(self.begun(self.open_window()))

    def test_a_click_on_the_lines_gives_the_puppet_the_keys(self) -> None:
        greeting = self.begun(self.window)
        assert greeting is not None
        self.window.trace.setFocus()
        self.hand.click(greeting, greeting.rect().center().toPointF())
        self.assertTrue(self.window.booth.hasFocus())
        self.assertTrue(greeting.isVisible())


class FiveMinutes(DeskCase):
    """What the README has a newcomer do in the first five minutes."""

    file = FIRST_STEPS

    def test_the_second_press_is_said_to_be_early_and_an_edit_holds_from_the_next_tick(
        self,
    ) -> None:
        hand, window = self.hand, self.window
        self.go("Weave")
        hand.click(window.booth)
        window.player.restart()
        window.player.pause()
        self.steps(10)
        self.hold(Qt.Key.Key_J, 3)
        self.steps(7)
        self.hold(Qt.Key.Key_J, 3)
        self.steps(25)
        trace = window.trace
        hand.drag(trace, QPointF(trace.x_of(47) + 2, 60), QPointF(trace.x_of(40) + 2, 60))
        hand.click(window.ways_out.ask)
        hand.pick("Light swing")
        hand.until(lambda: window.ways_out.why_not.answer() is not None, "the answer")
        words = " ".join(line.words for line in window.ways_out.why_not.answer().lines)
        self.assertIn("too early", words)
        self.assertIn("it works", words)
        window.document.select("transition", "idle_to_walk")
        sentence = window.page("Weave").sentence
        before = len(window.document.history.past)
        hand.token(sentence, "term 1")
        hand.type("move_x > 0")
        self.assertEqual(len(window.document.history.past), before + 1)
        hand.click(window.booth)
        self.hold(Qt.Key.Key_A, 5)
        self.assertEqual(self.shown_state(), "Idle")
        self.hold(Qt.Key.Key_D, 5)
        self.assertEqual(self.shown_state(), "Walk")
