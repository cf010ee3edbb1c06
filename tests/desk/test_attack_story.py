"""Why an attack does not come out, the fix, and the proof that nothing else changed: by mouse and
keys alone."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, Qt

from tests.desk.test_takes_page import SHIFT, TakesCase


class Story(TakesCase):
    def test_pressed_too_early_before_landing(self) -> None:
        hand, window = self.hand, self.window
        self.go("Weave")
        hand.gestures = 0
        hand.click(window.booth)
        self.player.restart()
        self.player.pause()
        # A jump, and an attack pressed on the way down: it lands, and nothing comes.
        self.steps(10)
        self.hold(Qt.Key.Key_Space, 4)
        self.steps(30)
        self.hold(Qt.Key.Key_J, 3)
        self.steps(30)
        hand.gestures += 2
        self.assertEqual(self.shown_state(), "Idle")
        trace = window.trace
        hand.drag(trace, QPointF(trace.x_of(70) + 2, 60), QPointF(trace.x_of(59) + 2, 60))
        hand.click(window.ways_out.ask)
        hand.pick("Light 1")
        words = [line.words for line in window.ways_out.why_not.answer().lines]
        self.assertIn("attack was pressed at 44; tap attack was armed until 56, 3 ticks too early",
                      words)
        self.assertIn("with a buffer of 0.217 s, not 0.15 s, it works, at 59: tried", words)
        # The fix, where it is told.
        hand.until(lambda: window.ways_out.why_not.is_answered(), "the answer")
        window.ways_out.grab()
        box, _ = window.ways_out.why_not.fix_boxes[0]
        hand.click(window.ways_out, box.center())
        self.settle()
        self.player.seek(60)
        self.assertEqual(self.shown_state(), "Light 1")
        # The proof: no kept take differs, every promise is kept.
        self.go("Takes")
        self.ran()
        self.assertFalse(self.kept.differs)
        self.assertIn("9 promises kept", self.said(self.page.all))
        # And it is never to break again.
        hand.drag(trace, QPointF(trace.x_of(5) + 2, 60), QPointF(trace.x_of(72) + 2, 60),
                  modifier=SHIFT)
        hand.token(self.page.deeds, "keep")
        hand.type("early press")
        self.choose("early_press.lamplighter.take.json")
        self.player.seek(60)
        hand.token(self.page.chosen, "make promise")
        offered = [each.label for each in hand.popup().offered]
        hand.pick(next(each for each in offered
                       if each.startswith("whenever tap attack then Light 1")))
        self.ran()
        self.assertIn("10 promises kept", self.said(self.page.all))
        print(
            "\n  finding why an attack does not come out, the fix and the proof took "
            f"{hand.gestures} gestures"
        )
        self.assertLessEqual(hand.gestures, 22)
