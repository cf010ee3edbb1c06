"""From an empty puppet to one that hangs from a gutter and climbs a ladder, by mouse and keyboard
alone."""

from __future__ import annotations

import shutil

from PyQt6.QtCore import QRectF, Qt

from tests.desk.case import DeskCase
from yarn_puppet.core.snags.check import check
from yarn_puppet.demo import DEMO_FOLDER


class Climbing(DeskCase):
    file = None

    def test_from_a_sheet_to_a_puppet_that_hangs_and_climbs(self) -> None:
        sheet = self.folder / "lamplighter.png"
        shutil.copy(DEMO_FOLDER / "lamplighter.png", sheet)
        hand, window = self.hand, self.window
        hand.key(window, Qt.Key.Key_N, Qt.KeyboardModifier.ControlModifier)
        page = window.page("Clips")
        hand.click(page.heading.bring_in)
        self.answer_file(sheet)
        hand.until(lambda: page.upper.currentIndex() == 1, "the sheet to be read")
        for row, name in ((0, "stand"), (2, "hang"), (1, "climb")):
            hand.click(page.cut, page.cut.head_rect(row))
            hand.type(name)
        hand.token(page.cut_sentence, "done")
        self.weave()
        print(f"\n  hanging and climbing took {hand.gestures} gestures")
        self.assertLessEqual(hand.gestures, 25)
        self.assertEqual([snag for snag in check(self.puppet) if snag.severity == "error"], [])
        self.paint_and_play()

    def weave(self) -> None:
        """Two states beside the first, each with what it may do, reached and left on what the world
        says."""
        page, hand = self.go("Weave"), self.hand
        view, sentence = page.view, page.sentence
        page.offer.leave()
        hand.drag(page.shelf, page.shelf.all_chip, QRectF(*view.layout_now.spare), onto=view)
        states = {state.name: state.id for state in self.puppet.states}
        for name, may in (("Hang", "hangs at ledges"), ("Climb", "holds ladders")):
            hand.click(view, QRectF(*view.layout_now.cards[states[name]].box))
            hand.token(sentence, "add while-rule")
            hand.pick(may)
        for way in ("Hang, on at_ledge", "Climb, on on_ladder"):
            hand.click(view, QRectF(*view.layout_now.cards[states["Stand"]].box))
            hand.token(sentence, "there and back")
            hand.pick(way)

    def paint_and_play(self) -> None:
        """Under a plank at the right height it hangs; at a painted ladder it climbs to the top."""
        page = self.go("Booth")
        column, row = int(page.booths.world.start_x // 16), int(page.booths.world.start_y // 16)
        page.booths.edit("x", lambda now: self.painted(now, column, row))
        self.settle()
        self.hand.click(self.window.booth)
        self.window.player.restart()
        self.window.player.pause()
        self.hold(Qt.Key.Key_Right, 44)
        self.hold(Qt.Key.Key_Up, 4)
        self.assertEqual(self.shown_state(), "Climb")
        self.hold(Qt.Key.Key_Up, 110)
        booth = self.records[-1].after.booth
        assert booth is not None
        self.assertEqual(booth.body.y, (row - 5) * 16)
        self.hold(Qt.Key.Key_Right, 60)
        self.steps(40)
        self.assertEqual(self.shown_state(), "Hang")

    def painted(self, world, column: int, row: int):  # type: ignore[no-untyped-def]
        """A ladder to the right of the start, and a gutter that a fall from its top passes."""
        from yarn_puppet.core.model.edits.worlds import painted

        world = painted(world, [(column + 4, each) for each in range(row - 5, row)], "H")
        return painted(world, [(column + each, row - 7) for each in (6, 7, 8)], "=")
