"""From files of art to a character one plays, with the gestures counted: what clips are called
wires them."""

from __future__ import annotations

from math import ceil
from pathlib import Path
from unittest import mock

from msgspec.structs import replace
from PIL import Image
from PyQt6.QtCore import QMimeData, QPointF, QRectF, Qt, QUrl
from PyQt6.QtGui import QDropEvent, QImage, QPainter
from PyQt6.QtWidgets import QWidget

from tests.desk.case import DeskCase
from yarn_puppet.core.formats.puppet_file import load_puppet
from yarn_puppet.core.model.edits.entries import changed
from yarn_puppet.core.model.edits.graph import transition_added
from yarn_puppet.core.model.graph import Leave
from yarn_puppet.core.model.starter import MORE_SENSES
from yarn_puppet.core.pose.figure import figure
from yarn_puppet.core.pose.ruled import Tint
from yarn_puppet.core.snags.check import check
from yarn_puppet.demo import DEMO_FOLDER
from yarn_puppet.desk.booth import figure as figure_drawing
from yarn_puppet.desk.booth.figure import draw_figure
from yarn_puppet.desk.booth.fitting import seen_height

FIRST, WORLD = "lamplighter.png", "lamplighter_world.png"
USUAL = {"idle": (FIRST, 0, 6), "walk": (FIRST, 1, 8), "jump": (FIRST, 2, 3),
         "fall": (FIRST, 3, 3), "attack": (FIRST, 4, 7), "guard": (FIRST, 6, 3),
         "crouch": (FIRST, 7, 4), "hang": (WORLD, 0, 4), "pull_up": (WORLD, 2, 5)}
"""The usual set, by the sheet and row that our own art has it in, and its frames."""


class FirstDay(DeskCase):
    file = None

    def strip(self, name: str, sheet: str, row: int, count: int) -> Path:
        """A strip of some cells of our art."""
        path = self.folder / f"hero_{name}.png"
        with Image.open(DEMO_FOLDER / sheet) as picture:
            picture.crop((0, row * 64, count * 96, row * 64 + 64)).save(path)
        return path

    def drop(self, onto: QWidget, *paths: Path) -> None:
        """Drop files, and wait till they are in."""
        data = QMimeData()
        data.setUrls([QUrl.fromLocalFile(str(path)) for path in paths])
        onto.dropEvent(QDropEvent(QPointF(50, 50), Qt.DropAction.CopyAction, data,
                                  Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier))
        self.hand.gestures += 1
        bringing = self.window.page("Clips").bringing
        self.hand.until(lambda: not bringing.busy, "the files to be read")
        self.hand.wait()

    def begin(self, *names: str) -> None:
        """A new puppet, and strips of these names dropped on its weave."""
        self.hand.gestures = 0
        self.hand.key(self.window, Qt.Key.Key_N, Qt.KeyboardModifier.ControlModifier)
        self.weave = self.window.page("Weave")
        self.assertEqual(self.window.current_page, "Weave")
        self.drop(self.weave, *(self.strip(name, *USUAL[name]) for name in names))

    def play(self) -> None:
        """Click the booth, from the first tick."""
        self.settle()
        self.hand.click(self.window.booth)
        self.window.player.restart()
        self.window.player.pause()
        self.steps(10)


class Wiring(FirstDay):
    def test_from_strips_to_walking_turning_and_hitting(self) -> None:
        self.begin("idle", "walk", "attack")
        self.assertTrue(self.weave.offer.open, "it is offered in place")
        self.assertEqual(self.puppet.states, (), "and nothing is changed yet")
        self.hand.token(self.weave.sentence, "wire them")
        self.play()
        print(f"\n  art to walking, turning, hitting took {self.hand.gestures} gestures")
        self.assertLessEqual(self.hand.gestures, 10)
        self.hold(Qt.Key.Key_Left, 12)
        self.assertEqual((self.shown_state(), self.records[-1].report.facing), ("Walk", "left"))
        self.hold(Qt.Key.Key_D, 120)
        self.assertEqual((self.shown_state(), self.records[-1].report.facing), ("Walk", "right"))
        self.steps(15)
        self.hold(Qt.Key.Key_J, 4)
        self.steps(1)
        self.assertEqual(self.shown_state(), "Light 1")
        self.steps(60)
        booth = self.records[-1].after.booth
        self.assertEqual((self.shown_state(), booth.dummies[0].hits), ("Idle", 1))

    def test_a_long_press_is_not_nothing_where_there_is_no_heavy_strike(self) -> None:
        self.begin("idle", "walk", "attack")
        self.hand.token(self.weave.sentence, "wire them")
        self.play()
        self.hold(Qt.Key.Key_J, 30)
        self.assertEqual(self.shown_state(), "Light 1")

    def test_the_usual_set_is_playable_and_has_windows(self) -> None:
        self.begin(*USUAL)
        self.hand.token(self.weave.sentence, "wire them")
        self.play()
        print(f"\n  the usual set, playable, with windows, took {self.hand.gestures} gestures")
        self.assertLessEqual(self.hand.gestures, 15)
        self.assertEqual([snag for snag in check(self.puppet) if snag.severity != "note"], [])
        windows = {clip.name: sorted(window.kind for window in clip.windows)
                   for clip in self.puppet.clips if clip.windows}
        self.assertEqual(windows, {"attack": ["cancel", "hit"], "guard": ["guard"]})
        seen = self.go_about()
        for state in ("Walk", "Rise", "Fall", "Light 1", "Guard", "Crouch", "Hang", "Pull up"):
            self.assertIn(state, seen)
        self.assertFalse(seen & {state.name for state in self.puppet.states if state.waits})

    def go_about(self) -> set[str]:
        """The states of three runs: on the ground, up and down again, and up to the gutter and over
        its edge."""
        seen = set[str]()
        for presses in (
            ((Qt.Key.Key_D, 20, 20), (Qt.Key.Key_J, 4, 60), (Qt.Key.Key_K, 30, 10),
             (Qt.Key.Key_S, 20, 10)), ((Qt.Key.Key_Space, 4, 80),),
            ((Qt.Key.Key_D, 34, 18), (Qt.Key.Key_Space, 28, 42), (Qt.Key.Key_A, 20, 20),
             (Qt.Key.Key_W, 6, 80)),
        ):
            self.window.player.restart()
            self.window.player.pause()
            self.steps(8)
            for key, ticks, rest in presses:
                self.hold(key, ticks)
                self.steps(rest)
            names = {state.id: state.name for state in self.puppet.states}
            seen |= {names[layer.state] for record in self.records
                     for layer in record.report.layers}
        return seen


class Changing(FirstDay):
    def test_a_card_is_given_another_clip_and_a_pattern_is_left_out(self) -> None:
        self.begin("idle", "walk", "attack", "guard")
        offer, sentence = self.weave.offer, self.weave.sentence
        strike = next(state for state in offer.preview.puppet.states if state.name == "Light 1")
        view = self.weave.preview
        self.hand.click(view, QRectF(*view.layout_now.cards[strike.id].box))
        self.hand.token(sentence, "clip of card")
        self.hand.pick("walk")
        self.assertIn("Walk", offer.wired.waiting, "each clip has one card")
        self.hand.token(sentence, "pattern walker")
        self.assertNotIn("Turn", [state.name for state in offer.preview.puppet.states])
        self.hand.token(sentence, "wire them")
        clips = {clip.id: clip.name for clip in self.puppet.clips}
        self.assertEqual({state.name: clips[state.clip] for state in self.puppet.states
                          if state.clip}["Light 1"], "walk")

    def test_a_clip_is_dropped_on_a_waiting_card_here_and_after_it_was_taken(self) -> None:
        self.begin("idle", "walk")
        view, shelf = self.weave.preview, self.weave.shelf
        waiting = next(state for state in self.weave.offer.preview.puppet.states
                       if state.name == "Run")
        self.hand.drag(shelf, shelf.chip(1), QRectF(*view.layout_now.cards[waiting.id].box),
                       onto=view)
        self.assertEqual(self.weave.offer.cards["Run"], self.puppet.clips[1].id)
        self.hand.token(self.weave.sentence, "wire them")
        made = next(state for state in self.puppet.states if state.name == "Walk")
        self.assertTrue(made.waits)
        self.drop(self.weave, self.strip("fall", *USUAL["fall"]))
        view = self.weave.view
        self.hand.drag(shelf, shelf.chip(2), QRectF(*view.layout_now.cards[made.id].box),
                       onto=view)
        self.assertFalse(next(state for state in self.puppet.states if state.id == made.id).waits)

    def test_one_undo_takes_it_back_and_not_now_is_remembered(self) -> None:
        self.begin("idle", "walk")
        before = self.puppet
        self.hand.token(self.weave.sentence, "wire them")
        self.window.document.undo()
        self.assertEqual(self.puppet, before)
        self.assertTrue(self.weave.offer.open)
        self.hand.token(self.weave.sentence, "not now")
        self.assertFalse(self.weave.offer.open)
        self.drop(self.weave, self.strip("guard", *USUAL["guard"]))
        self.assertTrue(self.weave.offer.open, "other clips came in")

    def test_only_the_cards(self) -> None:
        self.begin("idle", "walk")
        wiring = self.puppet.intents, self.puppet.actions
        self.hand.token(self.weave.sentence, "only the cards")
        self.assertEqual(self.puppet.transitions, ())
        self.assertEqual((self.puppet.intents, self.puppet.actions), wiring)
        self.assertIn("Walk", [state.name for state in self.puppet.states])

    def test_a_new_puppet_may_begin_with_a_pattern_alone_or_with_nothing(self) -> None:
        self.begin()
        self.hand.token(self.weave.sentence, "pattern brawler")
        names = [state.name for state in self.weave.offer.preview.puppet.states]
        self.assertIn("Thrown", names, "all of it, since it was asked for")
        self.hand.token(self.weave.sentence, "wire them")
        self.assertTrue(all(state.waits for state in self.puppet.states))
        self.assertEqual([snag.severity for snag in check(self.puppet)],
                         ["note"] * len(self.puppet.states))
        self.window.document.save(self.folder / "mine.puppet.json")
        self.assertEqual(load_puppet(self.folder / "mine.puppet.json"), self.puppet)

    def test_beside_states_it_is_offered_on_the_shelf(self) -> None:
        self.begin("idle", "walk")
        self.hand.token(self.weave.sentence, "wire them")
        self.drop(self.weave, self.strip("guard", *USUAL["guard"]))
        self.assertFalse(self.weave.offer.open)
        self.hand.click(self.weave.shelf, self.weave.shelf.wire_chip)
        self.assertTrue(self.weave.offer.open)
        before = self.puppet.states
        self.hand.token(self.weave.sentence, "wire them")
        self.assertEqual(self.puppet.states[:len(before)], before)
        self.assertIn("Guard", [state.name for state in self.puppet.states])

    def test_a_guess_is_one_until_it_is_touched(self) -> None:
        self.begin("idle", "attack")
        self.hand.token(self.weave.sentence, "wire them")
        clips = self.go("Clips")
        attack = next(clip for clip in self.puppet.clips if clip.name == "attack")
        hit = next(window for window in attack.windows if window.kind == "hit")
        self.assertTrue(hit.guess)
        clips.desk.show_clip(attack.id)
        clips.desk.select_event(hit.id)
        clips.refresh()
        self.hand.token(clips.timing, "guess")
        self.assertFalse(next(window for window in self.puppet.clip(attack.id).windows
                              if window.id == hit.id).guess)

    def test_before_it_is_wired_the_trace_shows_what_it_would_do(self) -> None:
        traces = self.window.traces
        self.begin("idle", "walk", "jump", "attack")
        player = self.weave.preview.player
        self.hand.until(lambda: traces.offered is not None and len(player.records) > 100
                        and not player.busy, "the take of the pattern")
        self.assertIs(traces.currentWidget(), traces.offered)
        self.assertEqual(traces.offered.caption, "the walker's take")
        self.assertEqual(len(self.records), 0, "nothing of its own has run")
        offered = self.weave.offer.puppet
        names = [offered.state(record.report.layers[0].state).name for record in player.records]
        self.assertEqual(names[0], "Idle")
        self.assertIn("Walk", names)
        self.assertGreaterEqual(traces.offered.width(), traces.offered.x_of(len(player.records)),
                                "all of it is seen")
        self.hand.token(self.weave.sentence, "wire them")
        self.assertIs(traces.currentWidget(), traces.trace)
        self.window.document.undo()
        self.hand.until(lambda: traces.currentWidget() is traces.offered, "the offer again")
        self.play()
        self.steps(3)
        self.hand.until(lambda: traces.currentWidget() is traces.trace, "its own run")

    def test_a_band_is_kept_as_a_pattern_and_offered_from_then_on(self) -> None:
        self.begin("idle", "walk", "attack")
        self.hand.token(self.weave.sentence, "wire them")
        band = next(group for group in self.puppet.groups if group.name == "Strike")
        self.window.document.select("group", band.id)
        self.hand.token(self.weave.sentence, "copy")
        self.hand.pick("keep as a pattern, without its art")
        self.assertIn("kept as the pattern “strike”: 2 cards", self.weave.note.text())
        kept = load_puppet(self.folder / "data/yarn-puppet/patterns/strike.puppet.json")
        self.assertEqual([state.waits_for for state in kept.states], ["light 1", "heavy"])
        self.assertIn("strike", self.weave.offer.patterns)
        self.window.document.deselect()
        self.hand.token(self.weave.sentence, "keep pattern")
        self.assertIn("kept as the pattern “new puppet”", self.weave.note.text())


class Large(FirstDay):
    """Art that is four times as large as ours."""

    def strip(self, name: str, sheet: str, row: int, count: int) -> Path:
        path = super().strip(name, sheet, row, count)
        with Image.open(path) as picture:
            large = picture.resize((picture.width * 4, picture.height * 4),
                                   Image.Resampling.NEAREST)
        large.save(path)
        return path

    def test_one_click_takes_the_body_as_drawn_in_a_booth_of_such_tiles(self) -> None:
        self.begin("idle", "walk", "attack", "jump", "fall")
        self.hand.token(self.weave.sentence, "wire them")
        self.settle()
        booth = self.window.booth
        self.assertIn("the drawn body is", booth.as_drawn.words)
        self.hand.click(booth.as_drawn.button)
        self.assertEqual(booth.as_drawn.words, "")
        self.assertTrue(booth.as_drawn.isHidden())
        self.assertGreater(self.window.booths.world.tile_size, 48)
        self.play()
        self.hold(Qt.Key.Key_Left, 12)
        self.hold(Qt.Key.Key_D, 120)
        self.steps(15)
        self.hold(Qt.Key.Key_J, 4)
        self.steps(60)
        state = self.records[-1].after.booth
        self.assertEqual(state.dummies[0].hits, 1, "it reaches Old Thatch as ours does")
        self.window.document.undo()
        self.assertEqual(self.window.booths.world.tile_size, 16, "one undo takes it back")

    def test_its_art_is_drawn_to_fit_the_mover_instead_and_stays_crisp(self) -> None:
        self.begin("idle", "walk")
        self.hand.token(self.weave.sentence, "wire them")
        self.go("Booth")
        page, booth = self.window.page("Booth"), self.window.booth
        high, body = seen_height(self.puppet), self.puppet.mover.height
        line = next(each for each in page.sentences
                    if any(part.text == "to fit" for part in each.parts))
        self.hand.token(line, "to fit")
        self.assertEqual(self.puppet.mover.height, body)
        self.assertAlmostEqual(seen_height(self.puppet), body, delta=0.2)
        self.assertLess(self.puppet.mover.art_scale, 0.5)
        self.assertGreater(high, 3 * body)
        grain = booth._scale() * booth.devicePixelRatioF() * self.puppet.mover.scale
        whole = grain if grain >= 1 else 1 / grain
        self.assertAlmostEqual(whole, round(whole), 6, "whole pixels of art, one way or the other")
        line = next(each for each in page.sentences
                    if any(part.text.startswith("×") for part in each.parts))
        self.hand.token(line, "art scale")
        self.hand.type("0.5")
        self.assertEqual(self.puppet.mover.art_scale, 0.5)

    def test_it_is_seen_whole_before_and_after(self) -> None:
        self.begin("idle", "walk")
        self.hand.token(self.weave.sentence, "wire them")
        booth = self.window.booth
        for _ in range(2):
            high = seen_height(self.puppet)
            self.assertGreater(high, 150, "as it is drawn, whatever its mover is")
            self.assertLessEqual(high * booth._scale(), 0.8 * booth.height())
            self.assertGreater(booth.as_drawn.y(), booth.height() / 2,
                               "what is said of it lies under its feet")
            self.hand.click(booth.as_drawn.button) if booth.as_drawn.words else None
            grain = booth._scale() * booth.devicePixelRatioF()
            whole = grain if grain >= 1 else 1 / grain
            self.assertAlmostEqual(whole, round(whole), 6, "whole pixels, one way or the other")


class Crisp(DeskCase):
    def test_a_pixel_of_art_is_a_square_of_one_colour_wherever_the_puppet_stands(self) -> None:
        booth = self.window.booth
        self.window.settings.over = []
        booth.show_bare(True)
        for ticks in (7, 9, 12):
            self.hold(Qt.Key.Key_D, ticks)
            record, grain = self.records[-1], int(booth._scale())
            self.assertGreater(grain, 1)
            body = record.after.booth.body
            shown = figure(self.puppet, record.report, body.x, body.y)[0].pieces[0].placed
            area, flipped = shown.picture()
            picture = booth.grab().toImage()
            art = self.window.art.pixmap(shown.frame, flipped).toImage()
            solid = [(x, y) for x in range(art.width()) for y in range(art.height())
                     if art.pixelColor(x, y).alpha() == 255]
            # The body's middle is in the middle of the view, give or take a pixel.
            near = (booth.width() / 2 + (area.x - body.x) * grain,
                    booth.height() / 2 + (area.y - body.y + 42) * grain)
            best = max(self.squares(picture, art, solid, round(near[0]) + across,
                                    round(near[1]) + down, grain)
                       for across in range(-grain, grain + 1) for down in range(-grain, grain + 1))
            self.assertGreater(best / len(solid), 0.97)

    def squares(self, picture, art, solid, left, top, grain):  # type: ignore[no-untyped-def]
        """How many pixels of art are squares of their colour in the picture."""
        return sum(
            all(picture.pixel(left + x * grain + across, top + y * grain + down) == art.pixel(x, y)
                for across in range(grain) for down in range(grain)) for x, y in solid)


class Between(DeskCase):
    """Sizes at which a pixel of art is no whole number of the screen's."""

    def test_edges_stay_sharp_each_pixel_of_art_keeps_its_colour_and_none_is_lost(self) -> None:
        self.steps(1)
        record = self.records[-1]
        for times, scale in ((2.5, 1.0), (1.5, 1.0), (3.0, 1.25)):
            puppet = replace(self.puppet, mover=replace(self.puppet.mover, art_scale=scale))
            shown = figure(puppet, record.report, 0.0, 0.0)
            placed = shown[0].pieces[0].placed
            area, flipped = placed.picture()
            grain = times * scale
            image = QImage(600, 600, QImage.Format.Format_ARGB32_Premultiplied)
            image.fill(0)
            painter = QPainter(image)
            painter.scale(times, times)
            painter.translate(-area.x, -area.y)
            draw_figure(painter, self.window.art, shown)
            painter.end()
            art = self.window.art.pixmap(placed.frame, flipped).toImage()
            solid = [(x, y) for x in range(art.width()) for y in range(art.height())
                     if art.pixelColor(x, y).alpha() == 255]
            self.assertGreater(len(solid), 400)
            for x, y in solid:
                # One screen pixel at least lies within it as a whole.
                at = image.pixelColor(ceil(x * grain - 1e-9), ceil(y * grain - 1e-9))
                wanted = art.pixelColor(x, y)
                self.assertLessEqual(max(abs(one - other) for one, other in zip(
                    at.getRgb(), wanted.getRgb(), strict=True)), 2, (x, y, grain))


class VeryLarge(DeskCase):
    def test_art_of_any_size_dissolves_and_is_tinted_within_what_is_seen(self) -> None:
        self.steps(1)
        record = self.records[-1]
        puppet = replace(self.puppet, mover=replace(self.puppet.mover, art_scale=256.0))
        shown = figure(puppet, record.report, 0.0, 0.0)
        image = QImage(400, 300, QImage.Format.Format_ARGB32_Premultiplied)
        image.fill(0)
        painter = QPainter(image)
        painter.translate(200, 6000)
        with mock.patch.object(figure_drawing, "_empty", wraps=figure_drawing._empty) as made:
            draw_figure(painter, self.window.art, shown, Tint(255, 0, 0, 1.0))
        painter.end()
        self.assertTrue(made.call_args_list)
        for call in made.call_args_list:
            whole = call.args[0]
            self.assertLessEqual(whole.width() * whole.height(), 400 * 300)
        self.assertEqual(image.pixelColor(200, 150).getRgb(), (255, 0, 0, 255))


class OtherClips(FirstDay):
    def test_a_state_with_another_clip_takes_its_windows_over_where_it_says_so(self) -> None:
        self.begin("idle", "walk", "attack", "guard")
        self.hand.token(self.weave.sentence, "wire them")
        strike = next(state for state in self.puppet.states if state.name == "Light 1")
        band = next(group for group in self.puppet.groups if group.name == "Cover")
        puppet, way = transition_added(self.puppet, strike.id, band.id, "held_guard")
        self.window.document.edit("break off", changed(
            puppet, "transitions", way, leave=Leave("in a window", window="cancel")))
        walk = next(clip for clip in self.puppet.clips if clip.name == "walk")
        self.window.document.select("state", strike.id)
        self.hand.token(self.weave.sentence, "clip")
        self.hand.pick("walk")
        self.hand.token(self.weave.sentence, "carry windows")
        self.hand.pick("from attack, by their share of the length")
        self.assertEqual({window.kind for window in self.puppet.clip(walk.id).windows},
                         {"hit", "cancel"})
        self.assertNotIn("carry windows", [token.objectName()
                                           for token in self.weave.sentence.tokens()])

    def test_there_and_back_is_offered_on_numbers_and_choices_too(self) -> None:
        self.begin("idle", "walk")
        self.window.document.edit("more", lambda now: replace(now, senses=(
            *now.senses, *(sense for sense in MORE_SENSES
                           if sense.id in ("health", "ledge_side")))))
        self.hand.token(self.weave.sentence, "only the cards")
        idle, walk = (next(state for state in self.puppet.states if state.name == name)
                      for name in ("Idle", "Walk"))
        for picked, there, back in (
            ("Walk, on health <= 0", "health <= 0", "health > 0"),
            ('Walk, on ledge_side == "left"', 'ledge_side == "left"', 'ledge_side != "left"'),
        ):
            self.window.document.select("state", idle.id)
            self.hand.token(self.weave.sentence, "there and back")
            self.hand.pick(picked)
            ways = [(each.source, each.target, each.when) for each in self.puppet.transitions[-2:]]
            self.assertEqual(ways, [(idle.id, walk.id, there), (walk.id, idle.id, back)])

    def test_a_transition_drawn_back_offers_the_converse_first(self) -> None:
        self.begin("idle", "walk")
        self.hand.token(self.weave.sentence, "only the cards")
        idle, walk = (next(state for state in self.puppet.states if state.name == name)
                      for name in ("Idle", "Walk"))
        puppet, _ = transition_added(self.puppet, idle.id, walk.id, "move_x != 0")
        self.window.document.edit("there", puppet)
        view = self.weave.view
        one, other = (QRectF(*view.layout_now.cards[state.id].box) for state in (idle, walk))
        self.hand.drag(view, other, one)
        self.hand.token(self.weave.sentence, "add term")
        offered = self.hand.popup().field.suggestions[0]
        self.assertEqual((offered.label, offered.remark),
                         ("move_x == 0", "the converse of move_x != 0"))
        self.hand.pick("move_x == 0")
        back = self.puppet.transitions[-1]
        self.assertEqual((back.source, back.target, back.when), (walk.id, idle.id, "move_x == 0"))
