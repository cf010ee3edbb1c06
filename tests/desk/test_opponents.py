"""A dummy that is a skin, or another puppet, put and told what to do by mouse, and met."""

from __future__ import annotations

import shutil
from itertools import islice
from pathlib import Path
from unittest.mock import patch

from msgspec.structs import replace
from PIL import Image
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QMessageBox

from tests.desk.test_booth_page import BoothCase
from yarn_puppet.core.formats.booth_file import load_booth
from yarn_puppet.core.formats.puppet_file import load_puppet, save_puppet
from yarn_puppet.core.model.edits.graph import state_changed
from yarn_puppet.core.pose.bones.standing import posed_figure
from yarn_puppet.demo import DEMO_FOLDER


class Opponents(BoothCase):
    def own_file(self) -> Path:
        self.home = self.home_with("lamplighter", "tamsin")
        self.other = self.home / "second.puppet.json"
        shutil.copy(self.home / "lamplighter.puppet.json", self.other)
        return self.home / "lamplighter.puppet.json"

    def setUp(self) -> None:
        super().setUp()
        self.page.refresh()

    def pick(self, token: str, choice: str) -> None:
        """Choose in a token of the dummy's sentence."""
        self.hand.token(self.page.thing, token)
        self.hand.pick(choice)
        self.settle()

    def put(self, cast: str, hands: str, away: int = 3) -> None:
        """Put an opponent on the puppet's right."""
        self.brush("dummy")
        world = self.world
        self.hand.click(self.view, self.view.to_view(world.start_x + away * 16, world.start_y - 6))
        self.pick("does", "replays")
        self.pick("cast", cast)
        self.pick("plays", hands)

    def states(self, ticks: int, seen: int = 0) -> list[str]:
        """What the opponent's states are called, tick by tick, as far as was run, or is `seen`."""
        self.steps(ticks)
        setup = self.records[-1].setup
        opponent = setup.world.cast_of(setup.world.dummies[-1], setup.puppet)
        return [opponent.state(each.report.layers[0].state).name
                for each in islice(setup.tracks[-1], max(len(self.records), seen))]

    def test_a_skin_with_an_intent_kept_down_guards_what_hits_it(self) -> None:
        before, gestures = self.world, self.hand.gestures
        self.put("Tamsin", "held_guard, kept down", away=2)
        self.assertLessEqual(self.hand.gestures - gestures, 8)
        dummy = self.world.dummies[-1]
        self.assertEqual((dummy.cast, dummy.plays, dummy.long),
                         ("tamsin.skin.json", "held_guard, kept down", 3600))
        self.assertEqual((dummy.width, dummy.height),
                         (self.puppet.mover.width, self.puppet.mover.height))
        self.assertIn("Guard", self.states(40))
        self.assertEqual(load_booth(DEMO_FOLDER / "rooftop.booth.json").dummies, before.dummies)
        for _ in range(4):
            self.undo()
        self.assertEqual(self.world, before)

    def test_it_is_drawn_with_its_own_art(self) -> None:
        self.put("Tamsin", "held_guard, kept down")
        self.steps(20)
        booth = self.window.booth
        booth.grab()
        opponent = self.records[-1].setup.world.opponents[0]
        art = booth.cast_art.of(opponent.file, opponent.puppet)
        self.hand.until(lambda: not art.busy, "its pictures")
        self.assertTrue(any(path.name.startswith("tamsin") for path in art._sheets if
                            art.kept(path)))
        mine = self.hand.picture(booth).toImage()
        self.page.painting.change("cast", lambda world: replace(world, dummies=(
            *world.dummies[:-1], replace(world.dummies[-1], cast=""))))
        self.settle()
        self.assertNotEqual(self.hand.picture(booth).toImage(), mine)

    def test_one_of_bones_is_drawn_and_is_hit_where_its_boxes_are(self) -> None:
        for name in ("harrow.puppet.json", "harrow.glb", "harrow_more.glb", "harrow_shield.glb"):
            shutil.copy(DEMO_FOLDER / name, self.home)
        self.put("harrow", "held_guard, kept down", away=4)
        self.steps(20)
        booth = self.window.booth
        self.hand.picture(booth)
        opponent = self.records[-1].setup.world.opponents[0]
        art = booth.cast_art.of(opponent.file, opponent.puppet)
        self.hand.until(lambda: not art.busy, "its bones")
        self.hand.until(lambda: not self.window.player.busy, "the run with its bones")
        with patch.object(booth.cast_art.drawing, "draw", lambda *what, **how: True):
            empty = self.hand.picture(booth).toImage()
        # Its shield is on its arm, and nothing stands for it at the anchor besides.
        with patch("yarn_puppet.desk.booth.effects_drawing._draw_prop") as beside:
            self.hand.picture(booth)
        beside.assert_not_called()
        picture = self.hand.picture(booth).toImage()
        self.assertNotEqual(picture, empty)
        # It is drawn where it is hit.
        setup, after = self.records[-1].setup, self.records[-1].after.booth
        dummy, state = setup.world.dummies[-1], after.dummies[-1]
        report = setup.tracks[-1][19].report
        stands = posed_figure(opponent.puppet, report, dummy.x + state.moved, dummy.y + state.down)
        boxes = [area for _, area in stands.bodies("")]
        self.assertGreater(len(boxes), 3)
        scale, seen = booth._scale(), booth._seen_of(setup.world, after, booth._scale())
        inside = [(box.x + box.width / 2 - seen.left(), box.y + box.height / 2 - seen.top())
                  for box in boxes]
        changed = sum(picture.pixel(round(x * scale), round(y * scale)) !=
                      empty.pixel(round(x * scale), round(y * scale)) for x, y in inside)
        self.assertGreaterEqual(changed, len(inside) - 1)

    def test_its_art_is_shown_as_its_file_is_now(self) -> None:
        self.put("Tamsin", "held_guard, kept down")
        self.steps(20)
        picture = self.hand.picture(self.window.booth).toImage()
        opponent = self.records[-1].setup.world.opponents[0]
        art = self.window.cast_art.of(opponent.file, opponent.puppet)
        self.hand.until(lambda: not art.busy, "its pictures")
        picture = self.hand.picture(self.window.booth).toImage()
        for name in ("tamsin.png", "tamsin_world.png"):
            with Image.open(self.home / name) as sheet:
                red, green, blue, alpha = sheet.convert("RGBA").split()
            Image.merge("RGBA", (blue, red, green, alpha)).save(self.home / "next.png")
            (self.home / "next.png").rename(self.home / name)
        self.hand.until(lambda: self.hand.picture(self.window.booth).toImage() != picture,
                        "it in other colours")

    def test_a_mix_is_the_same_each_time_and_another_when_it_is_chosen_again(self) -> None:
        self.put("second", "any intent each second, by dice")
        first = self.world.dummies[-1]
        self.assertEqual(first.plays, "mix 1")
        self.pick("plays", "by other dice than mix 1")
        self.assertEqual(self.world.dummies[-1].plays, "mix 2")
        self.assertNotEqual(self.world.dummies[-1].hands, first.hands)
        self.assertGreater(len(set(self.states(5, 900))), 4)

    def answerers(self) -> list[str]:
        """What the states of the last dummy are called in each tick."""
        found = []
        for record in self.records:
            booth, world = record.after.booth, record.setup.world
            assert booth is not None and world is not None
            each = booth.answerers[-1] if booth.answerers else None
            if each is not None and each.report is not None:
                opponent = world.cast_of(world.dummies[-1], record.setup.puppet)
                found.append(opponent.state(each.report.layers[0].state).name)
        return found

    def test_one_that_answers_flinches_and_strikes_back(self) -> None:
        self.put("Tamsin", "any intent each second, by dice", away=2)
        self.pick("does", "answers")
        self.assertEqual(self.world.dummies[-1].does, "answers")
        self.window.player.restart()
        self.hold(Qt.Key.Key_J, 3)
        self.steps(40)
        self.assertIn("Flinch", self.answerers())
        booth = self.records[-1].after.booth
        self.assertLess(booth.answerers[-1].booth.health, self.puppet.mover.health)
        self.assertEqual(booth.dummies[-1].health, booth.answerers[-1].booth.health)
        self.window.sounds.heard.clear()
        self.steps(200)
        self.assertTrue(self.window.sounds.heard, "what it does is heard too")
        before = self.hand.picture(self.window.booth).toImage()
        self.steps(1)
        self.assertNotEqual(self.hand.picture(self.window.booth).toImage(), before)

    def test_the_intents_that_its_dice_pick_among_are_chosen(self) -> None:
        self.put("the puppet itself", "any intent each second, by dice")
        self.pick("does", "answers")
        whole = self.world.dummies[-1].hands
        ids = [intent.id for intent in self.puppet.intents]
        for intent in self.puppet.intents[1:]:
            self.pick("mix", f"without {intent.name}")
        dummy = self.world.dummies[-1]
        self.assertEqual((dummy.mix, dummy.plays), ((ids[0],), "mix 1"))
        self.assertNotEqual(dummy.hands, whole)
        pressed = {action for _, action, _ in dummy.hands}
        self.assertEqual(pressed, {self.puppet.intents[0].action})
        self.pick("mix", f"with {self.puppet.intents[1].name}")
        self.assertEqual(self.world.dummies[-1].mix, (ids[0], ids[1]))

    def saved_as(self, path: Path) -> None:
        """Save the puppet under another path, through the dialog."""
        self.window.files.save_as()
        self.answer_file(path)
        self.settle()

    def test_another_puppet_goes_along_to_another_folder_and_nothing_there_is_replaced(
        self,
    ) -> None:
        self.put("second", "press_roll, kept down")
        there = self.home.parent / "elsewhere"
        there.mkdir()
        self.saved_as(there / "lamplighter.puppet.json")
        moved = load_puppet(there / "second.puppet.json")
        self.assertEqual(len(moved.states), len(load_puppet(self.other).states))
        for sheet in moved.sheets:
            self.assertTrue((there / sheet.path).exists(), sheet.path)
        self.assertEqual(self.window.booths.opponents.missing(self.window.booths.world), [])
        self.assertEqual([each.file for each in self.window.booths.world.opponents],
                         ["second.puppet.json"])
        other = self.home.parent / "taken"
        other.mkdir()
        (other / "second.puppet.json").write_text("not a puppet")
        self.saved_as(other / "lamplighter.puppet.json")
        self.assertEqual((other / "second.puppet.json").read_text(), "not a puppet")

    def test_an_edit_while_it_fights_goes_on(self) -> None:
        self.put("the puppet itself", "any intent each second, by dice", away=2)
        self.pick("does", "answers")
        self.steps(60)
        self.window.document.edit("rename", lambda now: state_changed(
            now, now.states[0].id, name="Renamed"))
        self.settle()
        self.steps(30)
        self.assertEqual(len(self.answerers()), len(self.records))

    def test_another_puppets_file_is_followed_when_it_is_saved_elsewhere(self) -> None:
        self.put("second", "press_roll, kept down")
        self.assertIn("Roll", self.states(5))
        changed = load_puppet(self.other)
        roll = next(state for state in changed.states if state.name == "Roll")
        save_puppet(replace(changed, states=tuple([
            replace(each, name="Tumble") if each is roll else each for each in changed.states])),
            self.other)
        self.hand.until(lambda: "Tumble" in self.states(1), "the other puppet read again")
        self.other.unlink()
        self.hand.until(lambda: "Tumble" not in self.states(1), "the puppet itself in its place")
        self.view.cell = None
        self.page.show_place()
        self.assertIn("second.puppet.json cannot be read: the puppet itself stands in",
                      self.page.place.text())
        words = " ".join(part.text for part in self.page.thing.parts)
        self.hand.click(self.view, self.at(8, 1), Qt.MouseButton.RightButton)
        self.assertIn("second.puppet.json", words)

    def test_saved_and_opened_it_is_the_same_opponent(self) -> None:
        self.put("Tamsin", "any intent each second, by dice")
        states = self.states(5)
        history = self.window.document.history
        self.assertEqual([world.opponents for world in history.worlds.values()], [()])
        self.window.files.save()
        self.hand.wait()
        booth = load_booth(self.home / self.window.booths.file)
        self.assertEqual(booth.dummies[-1].cast, "tamsin.skin.json")
        self.assertEqual(booth.opponents, ())
        self.open_at_home(self.home / "lamplighter.puppet.json")
        self.assertEqual(self.states(5), states)
        self.assertFalse(any(box.isVisible() for box in self.window.findChildren(QMessageBox)))

    def test_its_blow_hurts_and_its_graph_is_the_one_on_the_desk(self) -> None:
        self.put("Tamsin", "hold_attack, kept down", away=2)
        names = self.states(100)
        self.assertIn("Heavy slam", names)
        heavy = next(state for state in self.puppet.states if state.name == "Heavy slam")
        self.window.document.edit("rename", lambda now: replace(now, states=tuple([
            replace(each, name="Overhead") if each.id == heavy.id else each
            for each in now.states])))
        self.settle()
        self.assertIn("Overhead", self.states(1), "not saved yet")
