"""docs/first-character.md, step by step, in the real window; the names are read from the page."""

from __future__ import annotations

import re
import shutil

from PyQt6.QtCore import QMimeData, QPointF, QRectF, Qt, QUrl
from PyQt6.QtGui import QDropEvent

from tests.desk.case import DeskCase
from tests.wire import ROOT
from yarn_puppet.core.snags.check import check
from yarn_puppet.demo import DEMO_FOLDER

FILES = ("lamplighter.png", "lamplighter_world.png")


class FirstCharacter(DeskCase):
    file = None

    def test_the_page_is_so(self) -> None:
        text = (ROOT / "docs" / "first-character.md").read_text()
        names = re.findall(r"```\n(.+?)\n```", text)
        self.assertEqual(len(names), 2)
        for name in FILES:
            self.assertIn(f"yarn_puppet/demo/{name}", text)
            shutil.copy(DEMO_FOLDER / name, self.folder)
        self.begin_and_drop()
        self.name_the_rows(names)
        self.wire()
        self.play()
        self.look_at_a_guess()
        self.save()
        self.hand_off()
        print(f"\n  docs/first-character.md took {self.hand.gestures} gestures, with the file "
              "dialogs")
        self.assertLessEqual(self.hand.gestures, 26)

    def begin_and_drop(self) -> None:
        """Steps 1 and 2."""
        self.hand.key(self.window, Qt.Key.Key_N, Qt.KeyboardModifier.ControlModifier)
        self.assertEqual(self.window.current_page, "Weave")
        data = QMimeData()
        data.setUrls([QUrl.fromLocalFile(str(self.folder / name)) for name in FILES])
        self.window.page("Weave").dropEvent(QDropEvent(
            QPointF(50, 50), Qt.DropAction.CopyAction, data, Qt.MouseButton.LeftButton,
            Qt.KeyboardModifier.NoModifier))
        self.hand.gestures += 1
        clips = self.window.page("Clips")
        self.hand.until(lambda: not clips.bringing.busy, "the files to be read")
        self.hand.wait()
        self.assertEqual(self.window.current_page, "Clips")

    def name_the_rows(self, names: list[str]) -> None:
        """Steps 3 and 4: the second sheet opens by itself."""
        clips = self.window.page("Clips")
        for number, line in enumerate(names):
            self.assertEqual(clips.upper.currentIndex(), 1)
            self.assertEqual(clips.cut.sheet_id, self.puppet.sheets[number].id)
            self.hand.token(clips.cut_sentence, "every row")
            self.hand.type(line)
        self.assertEqual(clips.upper.currentIndex(), 0)
        self.assertEqual(len(self.puppet.clips), 25)

    def wire(self) -> None:
        """Steps 5 and 6."""
        self.hand.click(self.window.header.pages["Weave"])
        weave = self.window.page("Weave")
        self.assertEqual(weave.offer.chosen, ("walker", "climber", "brawler"))
        self.assertEqual(self.puppet.states, ())
        self.hand.token(weave.sentence, "wire them")
        self.assertEqual([snag for snag in check(self.puppet) if snag.severity != "note"], [])

    def play(self) -> None:
        """Step 7, every key of it."""
        self.settle()
        self.hand.click(self.window.booth)
        seen = set[str]()
        for presses in (((Qt.Key.Key_D, 30, 10), (Qt.Key.Key_J, 4, 90), (Qt.Key.Key_K, 30, 20),
                         (Qt.Key.Key_S, 20, 20), (Qt.Key.Key_C, 4, 60)),
                        ((Qt.Key.Key_J, 40, 60),),
                        ((Qt.Key.Key_D, 34, 18), (Qt.Key.Key_Space, 28, 42),
                         (Qt.Key.Key_A, 20, 20), (Qt.Key.Key_W, 6, 80))):
            self.window.player.restart()
            self.window.player.pause()
            self.steps(8)
            for key, ticks, rest in presses:
                self.hold(key, ticks)
                self.steps(rest)
            names = {state.id: state.name for state in self.puppet.states}
            seen |= {names[layer.state] for record in self.records
                     for layer in record.report.layers}
        self.assertLessEqual({"Idle", "Walk", "Rise", "Light 1", "Heavy", "Guard", "Crouch", "Roll",
                              "Hang", "Pull up"}, seen)

    def look_at_a_guess(self) -> None:
        """Step 8."""
        self.hand.click(self.window.header.pages["Clips"])
        clips = self.window.page("Clips")
        number, swing = next((at, clip) for at, clip in enumerate(self.puppet.clips)
                             if clip.name == "light_swing")
        self.hand.click(clips.ribbons, clips.ribbons.thumb(number, 3))
        window = next(each for each in swing.windows if each.kind == "hit")
        lane = clips.lanes.lane_rect(0)
        self.hand.click(clips.lanes, QRectF(
            clips.lanes.x_of(window.start) + 4, lane.center().y() - 2, 4, 4))
        self.hand.token(clips.timing, "guess")
        self.assertFalse(any(each.guess for each in self.puppet.clip(swing.id).windows
                             if each.kind == "hit"))

    def save(self) -> None:
        """Step 9."""
        self.hand.key(self.window, Qt.Key.Key_S, Qt.KeyboardModifier.ControlModifier)
        self.answer_file(self.folder / "mine.puppet.json")
        self.hand.click(self.window.header.pages["Takes"])
        kept = self.window.kept
        self.hand.until(lambda: not kept.busy and len(kept.outcomes) == 3, "the takes to be run")
        self.assertEqual(len(kept.takes), 3)
        verdicts = [verdict for outcome in kept.outcomes.values() for verdict in outcome.verdicts]
        self.assertGreaterEqual(len(verdicts), 9)
        self.assertTrue(all(verdict.kept for verdict in verdicts))

    def hand_off(self) -> None:
        """Step 10."""
        self.hand.click(self.window.header.pages["Hand-off"])
        page = self.window.page("Hand-off")
        game = self.folder / "game"
        game.mkdir()
        self.hand.token(page.what, "into")
        self.answer_file(game)
        self.hand.until(lambda: bool(self.window.hand_off.choice.folder), "the folder")
        self.hand.token(page.what, "write now")
        self.hand.until(lambda: (game / "mine.c").exists(), "the files")
        self.assertTrue((game / "mine.png").exists())
