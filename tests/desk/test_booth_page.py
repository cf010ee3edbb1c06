"""The Booth page by mouse and keyboard: painting, putting, choosing, the mover's numbers, and
several booths."""

from __future__ import annotations

import shutil
from pathlib import Path

from msgspec.structs import replace
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtTest import QTest

from tests.desk.case import DeskCase
from yarn_puppet.core.booth.meaning import carried_height, jump_height
from yarn_puppet.core.formats.booth_file import load_booth
from yarn_puppet.core.model.promise import Happening, Promise
from yarn_puppet.core.model.world import TILE, World
from yarn_puppet.demo import DEMO_FOLDER, FIRST_STEPS


class BoothCase(DeskCase):
    def setUp(self) -> None:
        super().setUp()
        self.page = self.go("Booth")
        self.view = self.page.view

    def home_with(self, *starts: str) -> Path:
        """A folder of one's own with the files of the demo that begin so, and its pictures."""
        home = self.folder / "home"
        home.mkdir()
        for path in DEMO_FOLDER.iterdir():
            if path.name.startswith(starts) or path.suffix == ".png":
                shutil.copy(path, home)
        return home

    def open_at_home(self, path: Path) -> None:
        """Open a puppet, paused at its first tick."""
        self.window.files.load(path)
        self.hand.wait()
        self.window.player.restart()
        self.window.player.pause()

    @property
    def world(self) -> World:
        """The booth shown."""
        return self.window.booths.world

    @property
    def body(self):  # type: ignore[no-untyped-def]
        """Where the puppet is at the present."""
        return self.window.player.recording.state.booth.body

    def at(self, column: float, row: float) -> QPointF:
        """The middle of a tile, in the view."""
        return self.view.to_view((column + 0.5) * TILE, (row + 0.5) * TILE)

    def brush(self, name: str) -> None:
        """Choose a brush by its token."""
        self.hand.token(self.page.brushes, f"brush {name}")

    def stroke(self, start: tuple[float, float], end: tuple[float, float]) -> None:
        """Drag from one tile to another."""
        self.hand.drag(self.view, self.at(*start), self.at(*end))

    def undo(self) -> None:
        """Undo by key."""
        QTest.keyClick(self.window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)


class Painting(BoothCase):
    def test_a_stroke_paints_all_tiles_on_its_way_and_is_one_undo(self) -> None:
        before = self.world
        self.brush("plank")
        self.stroke((5, 4), (12, 4))
        self.assertEqual({self.world.tile(column, 4) for column in range(5, 13)}, {"="})
        self.stroke((5, 2), (5, 3))
        self.undo()
        self.assertEqual((self.world.tile(5, 2), self.world.tile(12, 4)), (".", "="))
        self.undo()
        self.assertEqual(self.world, before)
        QTest.keyClick(self.window, Qt.Key.Key_Z,
                       Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
        self.assertEqual(self.world.tile(8, 4), "=")

    def test_the_running_puppet_stands_on_what_is_painted_and_falls_when_it_is_erased(self) -> None:
        self.brush("brick")
        column = self.body.x / TILE
        self.stroke((column - 2.5, 10), (column + 2.5, 10))
        self.assertEqual(self.body.y, 10 * TILE)
        QTest.mouseClick(self.view, Qt.MouseButton.RightButton,
                         pos=self.at(column - 0.5, 10).toPoint())
        for step in (-2, -1, 1):
            QTest.mouseClick(self.view, Qt.MouseButton.RightButton,
                             pos=self.at(column + step, 10).toPoint())
        self.hand.until(lambda: not self.window.player.busy, "the take run again")
        self.window.player.step(1)
        self.steps(30)
        self.assertEqual(self.body.y, 11 * TILE)

    def test_shift_fills_and_water_lies_over_air_only(self) -> None:
        self.brush("water")
        QTest.mouseClick(self.view, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.ShiftModifier,
                         self.at(30, 3).toPoint())
        self.assertTrue(self.world.is_wet(2, 0) and self.world.is_wet(60, 3))
        self.assertEqual(self.world.tile(10, 12), "#")
        self.undo()
        self.assertFalse(self.world.is_wet(2, 0))

    def test_a_gentle_slope_takes_turns_of_its_halves(self) -> None:
        self.hand.token(self.page.brushes, "slope")
        self.hand.pick("gentle up")
        self.stroke((8, 10), (11, 10))
        self.assertEqual("".join(self.world.tile(column, 10) for column in range(8, 12)), "abab")

    def test_by_keys_alone(self) -> None:
        self.view.setFocus()
        self.hand.key(self.view, Qt.Key.Key_L)
        self.assertEqual(self.view.brush, "ladder")
        self.hand.key(self.view, Qt.Key.Key_Right)
        cell = self.view.cell
        self.hand.key(self.view, Qt.Key.Key_Return)
        QTest.keyClick(self.view, Qt.Key.Key_Up, Qt.KeyboardModifier.ShiftModifier)
        self.assertEqual((self.world.tile(*cell), self.world.tile(cell[0], cell[1] - 1)),
                         ("H", "H"))
        self.hand.key(self.view, Qt.Key.Key_Delete)
        self.assertEqual(self.world.tile(cell[0], cell[1] - 1), ".")
        self.assertIn("ladder" if self.view.brush == "ladder" else "",
                      self.page.place.text().lower())

    def test_the_world_grows_at_the_right_and_at_the_top_and_nothing_else_moves(self) -> None:
        start = self.world.start_y - len(self.world.rows) * TILE
        self.hand.token(self.page.booth, "rows")
        self.hand.type("20")
        self.hand.token(self.page.booth, "columns")
        self.hand.type("80")
        self.assertEqual((self.world.columns, len(self.world.rows)), (80, 20))
        self.assertEqual(self.world.start_y - 20 * TILE, start)
        self.assertEqual(self.world.tile(2, 16), "#")


class Things(BoothCase):
    def test_a_dummy_is_put_on_the_ground_made_to_strike_dragged_and_removed(self) -> None:
        count = len(self.world.dummies)
        self.brush("dummy")
        self.hand.click(self.view, self.at(14, 9))
        made = self.world.dummies[count]
        self.assertEqual((made.y, made.name), (11 * TILE, "straw"))
        for token, answer in (("does", "strikes"),):
            self.hand.token(self.page.thing, token)
            self.hand.pick(answer)
        for token, answer in (("every", "1.5"), ("health", "7"), ("thing", "Straw Tom")):
            self.hand.token(self.page.thing, token)
            self.hand.type(answer)
        made = self.world.dummies[count]
        self.assertEqual((made.does, made.every, made.health, made.name),
                         ("strikes", 1.5, 7, "Straw Tom"))
        self.hand.drag(self.view, self.view.to_view(made.x, made.y - 20), self.at(18, 9))
        self.assertGreater(self.world.dummies[count].x, made.x + 2 * TILE)
        self.view.setFocus()
        self.hand.key(self.view, Qt.Key.Key_Delete)
        self.assertEqual(len(self.world.dummies), count)

    def test_a_dummy_replays_a_kept_take(self) -> None:
        self.hold(Qt.Key.Key_Right, 40)
        kept = self.window.kept
        kept.keep(self.window.player.piece(0, 39), "walk on")
        self.brush("dummy")
        self.hand.click(self.view, self.at(14, 9))
        for token, answer in (("does", "replays"), ("plays", "walk on")):
            self.hand.token(self.page.thing, token)
            self.hand.pick(answer)
        made = self.world.dummies[-1]
        self.assertEqual((made.does, made.plays, made.long), ("replays", "walk on", 40))
        self.settle()
        self.window.player.restart()
        self.window.player.pause()
        self.steps(30)
        state = self.window.player.recording.state.booth.dummies[-1]
        self.assertGreater(state.moved, 20)
        self.assertEqual(state.heading, 1)
        self.assertFalse(self.window.booth.grab().toImage().isNull())

    def test_a_dummy_that_is_renamed_keeps_what_was_promised_of_it(self) -> None:
        kept = self.window.kept
        self.steps(3)
        file = kept.keep(self.window.player.piece(0, 2), "hit it")
        name = self.world.dummies[0].name
        kept.set_promises(file, (Promise("hits", Happening("state", "strike"), target=name,
                                         times=0),))
        self.page.view.chosen = ("dummies", 0)
        self.page.refresh()
        self.hand.token(self.page.thing, "thing")
        self.hand.type("Straw Aunt")
        self.assertEqual((self.world.dummies[0].name, kept.takes[file].promises[0].target),
                         ("Straw Aunt",) * 2)
        self.undo()
        self.assertEqual((self.world.dummies[0].name, kept.takes[file].promises[0].target),
                         (name,) * 2)

    def test_shown_again_it_tells_what_is_reported_now(self) -> None:
        def reported() -> list[str]:
            return [part.text for part in self.page.reports.parts]

        before = reported()
        self.assertTrue(any("speed 0" in text for text in before), before)
        self.go("Weave")
        self.hold(Qt.Key.Key_Right, 20)
        QTest.keyPress(self.window.booth, Qt.Key.Key_Right)
        self.steps(5)
        self.assertEqual(reported(), before, "nobody looks")
        self.go("Booth")
        self.assertFalse(any(text == "speed 0" for text in reported()), reported())

    def test_a_zone_is_drawn_named_and_said(self) -> None:
        self.brush("zone")
        self.stroke((5, 6), (10, 11))
        zone = self.world.zones[-1]
        self.assertEqual((zone.x, zone.y, zone.width, zone.height), (5, 6, 6, 6))
        self.hand.token(self.page.thing, "thing")
        self.hand.type("cosy corner")
        self.hand.token(self.page.reports, "more senses")
        self.hand.pick("zone")
        sense = next(each for each in self.puppet.senses if each.id == "zone")
        self.assertIn("cosy corner", sense.choices)
        self.steps(2)
        senses = dict(zip([each.id for each in self.records[-1].setup.program.senses],
                        self.records[-1].report.senses, strict=True))
        self.assertEqual(senses["zone"], "cosy corner")
        self.window.document.edit("x", lambda now: replace(now, transitions=(
            replace(now.transitions[0], when='zone == "cosy corner"'), *now.transitions[1:])))
        self.hand.token(self.page.thing, "thing")
        self.hand.type("cold corner")
        self.assertEqual(self.puppet.transitions[0].when, 'zone == "cold corner"')
        self.assertNotIn("cosy corner",
                         next(each for each in self.puppet.senses if each.id == "zone").choices)

    def test_the_start_is_moved_and_the_take_begins_there(self) -> None:
        self.steps(3)
        self.brush("start")
        self.hand.click(self.view, self.at(20, 8))
        self.assertEqual((self.world.start_x // TILE, self.world.start_y), (20, 11 * TILE))
        self.hand.until(lambda: not self.window.player.busy, "the take run again")
        self.assertEqual(self.records[0].before.booth and self.records[0].before.booth.body.x,
                         self.world.start_x)

    def test_a_ledge_is_barred_by_a_click_and_grabbed_again_by_another(self) -> None:
        self.brush("ledges")
        corner = self.view.to_view(36 * TILE - 1, 10 * TILE + 1)
        self.hand.click(self.view, corner)
        self.assertEqual(len(self.world.barred), 1)
        self.hand.click(self.view, corner)
        self.assertEqual(self.world.barred, ())

    def test_a_prop_is_put_before_the_puppet(self) -> None:
        self.brush("prop")
        self.hand.click(self.view, self.at(16, 9))
        self.hand.token(self.page.thing, "before")
        self.hand.token(self.page.thing, "picture")
        self.hand.pick("thatch.png")
        prop = self.world.props[-1]
        self.assertEqual((prop.before, prop.picture), (True, "thatch.png"))


class Numbers(BoothCase):
    def test_a_jump_of_four_tiles_is_four_tiles_high(self) -> None:
        self.hand.token(self.page.sentences[1], "jump height")
        self.hand.type("4")
        self.assertAlmostEqual(jump_height(self.puppet.mover), 4 * TILE)
        self.hand.token(self.page.sentences[1], "carried height")
        self.hand.type("5.5")
        self.assertAlmostEqual(carried_height(self.puppet.mover), 5.5 * TILE)
        self.hand.click(self.window.booth)
        self.window.player.pause()
        low = self.body.y
        self.hold(Qt.Key.Key_Space, 40)
        highest = min(record.after.booth.body.y for record in self.records if record.after.booth)
        self.assertAlmostEqual(low - highest, 5.5 * TILE, delta=0.3)

    def test_a_jump_pressed_before_landing_is_the_buffer_of_its_intent(self) -> None:
        self.hand.token(self.page.sentences[2], "jump buffer")
        self.hand.type("12")
        intent = next(each for each in self.puppet.intents if each.id == "press_jump")
        self.assertAlmostEqual(intent.buffer, 0.2)

    def test_a_speed_is_given_in_tiles_or_in_body_heights_too(self) -> None:
        for typed, speed in (("5 tiles", 80.0), ("2 heights/s", 88.0), ("1 tile", 16.0),
                             ("120 px/s", 120.0), ("95,5", 95.5)):
            self.hand.token(self.page.sentences[0], "walk speed")
            self.hand.type(typed)
            self.assertEqual(self.puppet.mover.walk_speed, speed, typed)
        self.hand.token(self.page.sentences[0], "walk speed")
        for wrong in ("fast", "5 miles", "-1 tiles", "nan", "1e9"):
            self.assertIsNotNone(self.hand.popup().field.check(wrong), wrong)
        self.hand.key(self.window, Qt.Key.Key_Escape)

    def test_every_number_takes_effect_and_can_be_undone(self) -> None:
        before = self.puppet.mover
        for line, name, answer, field, expected in (
            (0, "walk speed", "120", "walk_speed", 120.0),
            (0, "full speed in", "0.5", "acceleration", 240.0),
            (0, "air control", "60", "air_control", 0.6), (2, "grace", "6", "grace", 0.1),
            (3, "swim speed", "55", "swim_speed", 55.0), (4, "reach", "9", "reach", 9.0),
        ):
            self.hand.token(self.page.sentences[line], name)
            self.hand.type(answer)
            self.assertAlmostEqual(getattr(self.puppet.mover, field), expected, msg=name)
        for _ in range(6):
            self.undo()
        self.assertEqual(self.puppet.mover, before)


class Several(BoothCase):
    def own_file(self) -> Path:
        shutil.copy(DEMO_FOLDER / "lamplighter.png", self.folder / "lamplighter.png")
        return Path(shutil.copy(FIRST_STEPS, self.folder / "mine.puppet.json"))

    def choose(self, answer: str) -> None:
        """Pick from the booths there are."""
        self.hand.token(self.page.booth, "booths")
        self.hand.pick(answer)

    def test_another_is_chosen_and_undo_leads_back(self) -> None:
        self.choose("Canal steps")
        self.assertEqual((self.puppet.booth, self.world.name),
                         ("canal_steps.booth.json", "Canal steps"))
        self.assertEqual(self.window.player.recording.booth, "canal_steps.booth.json")
        self.undo()
        self.assertEqual(self.world.name, "Rooftop")

    def test_a_copy_is_painted_saved_beside_the_puppet_and_there_again(self) -> None:
        self.choose("copy of Rooftop")
        self.hand.token(self.page.booth, "booth name")
        self.hand.type("My roof")
        self.brush("brick")
        self.stroke((5, 4), (9, 4))
        self.assertTrue(self.window.document.unsaved)
        QTest.keyClick(self.window, Qt.Key.Key_S, Qt.KeyboardModifier.ControlModifier)
        self.assertFalse(self.window.document.unsaved)
        saved = load_booth(self.folder / "rooftop_copy.booth.json")
        self.assertEqual((saved.name, saved.tile(7, 4)), ("My roof", "#"))
        self.window.files.load(FIRST_STEPS)
        self.window.files.load(self.folder / "mine.puppet.json")
        self.assertEqual(self.world, saved)

    def test_one_that_ships_is_painted_on_as_a_file_of_ones_own(self) -> None:
        before = load_booth(DEMO_FOLDER / "rooftop.booth.json")
        self.stroke((5, 4), (9, 4))
        QTest.keyClick(self.window, Qt.Key.Key_S, Qt.KeyboardModifier.ControlModifier)
        self.assertEqual(load_booth(DEMO_FOLDER / "rooftop.booth.json"), before)
        self.assertEqual(load_booth(self.folder / "rooftop.booth.json").tile(6, 4), "#")

    def test_saved_elsewhere_it_writes_over_nobody_elses_booth(self) -> None:
        other = self.folder / "other"
        other.mkdir()
        shutil.copy(DEMO_FOLDER / "canal_steps.booth.json", other / "rooftop.booth.json")
        before = (other / "rooftop.booth.json").read_bytes()
        self.stroke((5, 4), (9, 4))
        self.window.files._write(other / "mine.puppet.json")
        self.assertEqual((other / "rooftop.booth.json").read_bytes(), before)
        self.assertFalse((other / "mine.puppet.json").exists())
        self.assertTrue(self.window.document.unsaved)

    def test_from_above_only_what_counts_there_is_painted(self) -> None:
        self.choose("new booth, from above")
        names = [token.objectName() for token in self.page.brushes.tokens()]
        self.assertNotIn("brush ladder", names)
        self.assertIn("goes", [token.objectName() for token in self.page.sentences[1].tokens()])

    def test_a_booth_that_is_missing_or_broken_is_said_and_nothing_is_lost(self) -> None:
        (self.folder / "broken.booth.json").write_text("{")
        for file in ("gone.booth.json", "broken.booth.json", "../../etc/passwd"):
            self.window.document.edit("choose booth", replace(self.puppet, booth=file))
            self.assertEqual(self.world.name, "Rooftop")
            self.assertIn("stands in for it", self.page.place.text())
            self.assertEqual(self.puppet.booth, file)
        self.choose("Canal steps")
        self.assertNotIn("stands in", self.page.place.text())


class OverThePuppet(BoothCase):
    def test_each_is_switched_and_remembered(self) -> None:
        switches = self.window.booth.switches.switches
        before = self.hand.picture(self.window.booth).toImage()
        for name in ("sensors", "anchors", "state"):
            self.hand.click(switches[name])
        self.assertNotEqual(self.hand.picture(self.window.booth).toImage(), before)
        self.assertEqual(set(self.window.settings.over),
                         {"velocity", "boxes", "ghosts", "sensors", "anchors"})

    def test_the_booth_fills_the_window_and_gives_the_room_back(self) -> None:
        wide = self.window.booth.width()
        QTest.keyClick(self.window, Qt.Key.Key_F11)
        self.hand.wait()
        self.assertGreater(self.window.booth.width(), self.window.width() * 0.9)
        QTest.keyClick(self.window, Qt.Key.Key_F11)
        self.hand.wait()
        self.assertEqual(self.window.booth.width(), wide)
        QTest.keyClick(self.window, Qt.Key.Key_F11)
        self.hand.click(self.window.header.pages["Weave"])
        self.assertTrue(self.window.stack.isVisible())
