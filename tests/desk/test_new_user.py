"""From New puppet to a puppet that idles, walks facing its way and hits Old Thatch, by mouse and
keyboard alone."""

from __future__ import annotations

import shutil

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtTest import QTest

from tests.desk.case import DeskCase
from yarn_puppet.core.formats.puppet_file import load_puppet
from yarn_puppet.core.snags.check import check
from yarn_puppet.demo import DEMO_FOLDER


class NewUser(DeskCase):
    file = None

    def test_from_a_sheet_to_a_hit_that_old_thatch_feels(self) -> None:
        sheet = self.folder / "lamplighter.png"
        shutil.copy(DEMO_FOLDER / "lamplighter.png", sheet)
        hand, window = self.hand, self.window
        hand.key(window, Qt.Key.Key_N, Qt.KeyboardModifier.ControlModifier)
        self.bring_in(sheet)
        self.time_the_swing()
        self.weave()
        print(f"\n  a new user's path took {hand.gestures} gestures")
        self.assertEqual(check(self.puppet), ())
        self.play()
        self.save_and_open()

    def bring_in(self, sheet) -> None:  # type: ignore[no-untyped-def]
        """The sheet, cut as it was guessed, and three of its rows named."""
        page = self.window.page("Clips")
        self.hand.click(page.heading.bring_in)
        self.answer_file(sheet)
        self.hand.until(lambda: page.upper.currentIndex() == 1, "the sheet to be read")
        self.assertEqual((page.cut.grid.cell_width, page.cut.grid.cell_height), (96, 64))
        for row, name in ((0, "idle"), (1, "walk"), (4, "swing")):
            self.hand.click(page.cut, page.cut.head_rect(row))
            self.hand.type(name)
        self.hand.token(page.cut_sentence, "done")
        self.assertEqual([(clip.name, len(clip.frames)) for clip in self.puppet.clips],
                         [("idle", 6), ("walk", 8), ("swing", 7)])

    def time_the_swing(self) -> None:
        """A hit window over its forward frames, and a box that goes through all of them."""
        page, hand = self.window.page("Clips"), self.hand
        hand.click(page.ribbons, page.ribbons.thumb(2, 2))
        hand.token(page.clip_sentence, "all durations")
        hand.type("60")
        lane = page.lanes.lane_rect(0)
        hand.drag(page.lanes, QPointF(page.lanes.x_of(122), lane.center().y()),
                  QPointF(page.lanes.x_of(238), lane.center().y()))
        view = page.frame_view
        hand.drag(view, view.to_view(54, 12), view.to_view(90, 44))
        swing = self.puppet.clips[2]
        self.assertEqual([(window.kind, window.start, window.end) for window in swing.windows],
                         [("hit", 120, 240)])
        boxes = [[box.name for box in frame.boxes if box.kind == "hit"] for frame in swing.frames]
        self.assertEqual(boxes, [[], [], ["hit"], ["hit"], [], [], []])

    def weave(self) -> None:
        """Three states from one drag; there and back, and a swing on a tap, each one edit with its
        conditions."""
        page, hand = self.go("Weave"), self.hand
        view, shelf, sentence = page.view, page.shelf, page.sentence
        # What is offered by name is left: this is the way by hand.
        hand.token(sentence, "not now")
        hand.drag(shelf, shelf.all_chip, QRectF(*view.layout_now.spare), onto=view)
        self.assertEqual([state.name for state in self.puppet.states], ["Idle", "Walk", "Swing"])
        hand.click(view, QRectF(*view.layout_now.cards[self.puppet.states[0].id].box))
        hand.token(sentence, "there and back")
        hand.pick("Walk, on move_x != 0")
        hand.click(view, QRectF(*view.layout_now.cards[self.puppet.states[2].id].box))
        hand.token(sentence, "on a press")
        hand.pick("press_attack, from Ground")
        names = {node.id: node.name for node in self.puppet.nodes}
        made = [(names[transition.source], names[transition.target], transition.when,
                 transition.leave.kind)
                for transition in self.puppet.transitions]
        self.assertEqual(made, [
            ("Idle", "Walk", "move_x != 0", "any time"),
            ("Walk", "Idle", "move_x == 0", "any time"),
            ("Ground", "Swing", "press_attack", "any time"), ("Swing", "Idle", "", "at the end")])
        self.assertEqual(self.puppet.clips[2].mode, "once", "what leaves at its end does not loop")
        self.assertLessEqual(hand.gestures, 25)

    def play(self) -> None:
        """It idles, walks the way it faces, swings, and Old Thatch is hit; then everything once
        more."""
        window = self.window
        self.settle()
        self.hand.click(window.booth)
        window.player.restart()
        window.player.pause()
        self.steps(10)
        self.assertEqual(self.shown_state(), "Idle")
        self.hold(Qt.Key.Key_Left, 12)
        self.assertEqual((self.shown_state(), self.records[-1].report.facing), ("Walk", "left"))
        self.hold(Qt.Key.Key_D, 120)
        self.assertEqual((self.shown_state(), self.records[-1].report.facing), ("Walk", "right"))
        self.steps(15)
        self.assertEqual(self.shown_state(), "Idle")
        for times in (1, 2):
            self.hold(Qt.Key.Key_J, 4)
            self.steps(1)
            self.assertEqual(self.shown_state(), "Swing")
            self.steps(45)
            self.assertEqual(self.shown_state(), "Idle")
            booth = self.records[-1].after.booth
            assert booth is not None
            self.assertEqual(booth.dummies[0].hits, times)

    def save_and_open(self) -> None:
        """Saved under a name, and opened again as it was."""
        path = self.folder / "mine.puppet.json"
        QTest.keyClick(self.window, Qt.Key.Key_S, Qt.KeyboardModifier.ControlModifier)
        self.hand.wait()
        self.answer_file(path)
        self.assertFalse(self.window.document.unsaved)
        saved = load_puppet(path)
        self.assertEqual(saved, self.puppet)
        self.assertEqual((saved.name, saved.sheets[0].path), ("mine", "lamplighter.png"))
