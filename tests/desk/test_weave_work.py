"""Whole pieces of work in the weave, by mouse and keyboard, with the gestures they take."""

from __future__ import annotations

import csv
from unittest import mock

from msgspec.structs import replace
from PyQt6.QtCore import QMimeData, QPoint, QPointF, QRect, QRectF, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QWidget

from bench.large import large_puppet
from tests.desk.case import DeskCase
from yarn_puppet.core.model.edits import graph as edits
from yarn_puppet.core.model.edits.entries import changed
from yarn_puppet.core.model.graph import State
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.rules.clashes import clashes
from yarn_puppet.core.rules.copying import pasted
from yarn_puppet.core.rules.parcels import parcel_of
from yarn_puppet.core.snags.check import check
from yarn_puppet.core.snags.crossings import Crossings
from yarn_puppet.core.takes.run import Record
from yarn_puppet.demo.make.grown import crowd, grown_puppet
from yarn_puppet.desk.weave.tables.crossings_drawing import SIDE
from yarn_puppet.desk.widgets import theme
from yarn_puppet.desk.widgets.caption import Caption


class Work(DeskCase):
    def setUp(self) -> None:
        super().setUp()
        self.page = self.go("Weave")
        self.view, self.sentence = self.page.view, self.page.sentence

    def show(self, puppet: Puppet) -> None:
        """Work on another puppet in the same folder."""
        self.window.document.edit("make", puppet)
        self.hand.wait()
        self.hand.gestures = 0

    def card(self, id: str) -> QRectF:
        return QRectF(*self.view.layout_now.cards[id].box)

    def chip(self, id: str) -> QRectF:
        """A clip's chip on the shelf."""
        return self.page.shelf.chip([each.id for each in self.page.shelf.shelf].index(id))

    def with_modifier(self, key: Qt.KeyboardModifier, at: QRectF, widget: object) -> None:
        self.hand.gestures += 1
        QTest.mouseClick(widget, Qt.MouseButton.LeftButton, key,
                         at.center().toPoint())  # type: ignore[call-overload]
        self.hand.wait()


class Gestures(Work):
    def test_a_three_step_combo_from_three_clips(self) -> None:
        bare = edits.states_removed(self.puppet,
                                    ["light_swing_state", "heavy_slam_state", "guard_state"])
        self.show(bare)
        self.hand.click(self.page.shelf, self.chip("light_swing"))
        self.with_modifier(Qt.KeyboardModifier.ShiftModifier, self.chip("guard"), self.page.shelf)
        band = self.view.layout_now.band_of("strike")
        assert band is not None
        self.hand.drag(self.page.shelf, self.chip("heavy_slam"),
                       QRectF(*self.view.layout_now.slot(band, 0)), onto=self.view)
        self.hand.token(self.sentence, "chain on")
        self.hand.pick("tap_attack")
        self.assertEqual(self.hand.gestures, 5)
        group = next(each for each in self.puppet.groups if each.name == "Combo")
        steps = [state for state in self.puppet.states if state.group == group.id]
        self.assertEqual([state.clip for state in steps], ["light_swing", "heavy_slam", "guard"])
        self.assertEqual((group.group, group.start), ("strike", steps[0].id))
        first, later = ({state.id for state in some} for some in (steps[:2], steps[1:]))
        ways = [(transition.source, transition.target, transition.when, transition.leave.window)
                for transition in self.puppet.transitions
                if transition.source in first and transition.target in later]
        self.assertEqual(ways, [(steps[0].id, steps[1].id, "tap_attack", "cancel"),
                                (steps[1].id, steps[2].id, "tap_attack", "cancel")])
        memo = self.puppet.memos[0]
        self.assertEqual((memo.wraps, memo.returns > 0), (3, True))
        for state in steps[:2]:
            clip = self.puppet.clip(state.clip)
            self.assertTrue(any(window.kind == "cancel" for window in clip.windows))
        self.hand.key(self.window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
        self.assertFalse([each for each in self.puppet.groups if each.name == "Combo"],
                         "one edit, undone as one")

    def test_crouch_while_held_from_every_ground_state_and_back(self) -> None:
        kept = tuple(transition for transition in self.puppet.transitions
                     if "crouch_state" not in (transition.source, transition.target))
        self.show(replace(self.puppet, transitions=kept))
        self.hand.click(self.view, self.card("crouch_state"))
        self.hand.token(self.sentence, "while held")
        self.hand.pick("held_down, from Ground")
        self.assertEqual(self.hand.gestures, 3)
        made = [(transition.source, transition.target, transition.when)
                for transition in self.puppet.transitions[-2:]]
        self.assertEqual(made, [("ground", "crouch_state", "held_down"),
                                ("crouch_state", "ground", "not held_down")])
        self.window.player.restart()
        self.hold(Qt.Key.Key_Right, 30)
        QTest.keyPress(self.window.booth, Qt.Key.Key_Right)
        self.hold(Qt.Key.Key_Down, 10)
        self.assertEqual(self.shown_state(), "Crouch")
        self.steps(2)
        self.assertEqual(self.shown_state(), "Walk", "back where it was, not to the band's start")

    def test_a_card_is_led_to_the_frame_of_a_group_inside_a_band(self) -> None:
        self.show(grown_puppet())
        frame = self.view.layout_now.band_of("combo")
        at = QPointF(frame.seam + 2, frame.box.y + frame.box.height / 2)
        self.hand.drag(self.view, self.card("guard"), at)
        made = self.puppet.transitions[-1]
        self.assertEqual((made.source, made.target), ("guard", "combo"))
        self.hand.drag(self.view, at, self.card("parry"))
        made = self.puppet.transitions[-1]
        self.assertEqual((made.source, made.target), ("combo", "parry"))

    def test_the_place_for_a_new_band_stays_in_sight_while_a_clip_is_held(self) -> None:
        self.show(crowd())
        self.page.offer.leave()
        seen = QRectF(self.view.visibleRegion().boundingRect())
        self.assertGreater(self.view.layout_now.spare.bottom, seen.bottom() + 20)
        edge = next(QPointF(60, seen.bottom() - up) for up in range(2, 26)
                    if self.view.layout_now.band_at(60, seen.bottom() - up) is not None)
        before = {group.id for group in self.puppet.groups}
        states = len(self.puppet.states)
        self.hand.drag(self.page.shelf, self.page.shelf.chip(0), edge, onto=self.view)
        made = [group for group in self.puppet.groups if group.id not in before]
        self.assertEqual(len(made), 1)
        self.assertEqual(self.puppet.states[-1].group, made[0].id)
        # Higher up the clip is put where it is let go.
        seen = QRectF(self.view.visibleRegion().boundingRect())
        middle = next(QPointF(60, seen.top() + down) for down in range(20, 120)
                      if self.view.layout_now.band_at(60, seen.top() + down) is not None)
        self.hand.drag(self.page.shelf, self.page.shelf.chip(1), middle, onto=self.view)
        self.assertEqual(len(self.puppet.groups), len(before) + 1)
        self.assertIsNone(self.view.drops.pinned())
        self.assertIn(len(self.puppet.states), (states + 1, states + 2))

    def test_an_umbrella_over_walking_legs_from_two_clips(self) -> None:
        bare = edits.states_removed(self.puppet, [state.id for state in self.puppet.states])
        for group in self.puppet.groups:
            bare = edits.group_removed(bare, group.id)
        self.show(bare)
        self.page.offer.leave()
        self.hand.drag(self.page.shelf, self.chip("walk"), QRectF(*self.view.layout_now.spare),
                       onto=self.view)
        self.hand.click(self.page.strip.more)
        self.hand.drag(self.page.shelf, self.chip("guard"), QRectF(*self.view.layout_now.spare),
                       onto=self.view)
        self.hand.click(next(pill for pill in self.page.strip.layers if pill.layer.name == "layer"))
        self.hand.token(self.sentence, "pinned to")
        self.hand.pick("pole tip")
        self.hand.token(self.sentence, "shown when")
        self.hand.pick("held_guard")
        self.assertEqual(self.hand.gestures, 8)
        layer = self.puppet.layers[1]
        self.assertEqual((layer.pinned_to, layer.shown_when), ("pole_tip", "held_guard"))
        self.window.player.restart()
        self.hold(Qt.Key.Key_K, 3)
        layers = self.records[-1].report.layers
        self.assertEqual([(each.clip, each.weight) for each in layers],
                         [("walk", 1.0), ("guard", 1.0)])
        self.steps(1)
        self.assertEqual([each.weight for each in self.records[-1].report.layers], [1.0, 0.0])

    def test_a_combo_copied_into_a_second_puppet(self) -> None:
        self.show(grown_puppet())
        other = self.open_window()
        other.document.start_new()
        theirs = other.page("Weave")
        band = self.view.layout_now.band_of("combo")
        assert band is not None
        # By its name.
        self.hand.click(self.view, QPointF(band.box.x + band.box.width - 20, band.box.bottom - 2))
        self.assertEqual(self.window.document.selection, ("group", "combo"))
        self.hand.key(self.view, Qt.Key.Key_C, Qt.KeyboardModifier.ControlModifier)
        theirs.view.setFocus()
        self.hand.key(theirs.view, Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier)
        self.assertEqual(self.hand.gestures, 3)
        made = other.document.puppet
        self.assertEqual([state.name for state in made.states], ["Light 1", "Light 2", "Light 3"])
        self.assertEqual({clip.id for clip in made.clips}, {"light_swing", "heavy_slam"})
        self.assertEqual([memo.name for memo in made.memos], ["combo_step"])
        self.assertEqual([intent.name for intent in made.intents
                          if intent not in other.document.history.past[0].puppet.intents],
                         ["tap_attack"], "a new puppet reads a press")
        self.assertTrue(made.sheets[0].path.endswith("lamplighter.png"))
        self.assertIn("left behind", theirs.note.text())
        self.assertEqual([snag for snag in check(made) if snag.severity == "error"], [])

    def test_several_states_are_edited_as_one_sentence(self) -> None:
        self.hand.click(self.view, self.card("idle_state"))
        self.with_modifier(Qt.KeyboardModifier.ControlModifier, self.card("walk_state"), self.view)
        self.assertEqual(self.sentence.parts[0].text, "2 states")
        self.hand.token(self.sentence, "speed")
        self.hand.type("1.5")
        self.hand.token(self.sentence, "add while-rule")
        self.hand.pick("facing locked")
        for id in ("idle_state", "walk_state"):
            state = self.puppet.state(id)
            self.assertEqual((state.speed, [rule.kind for rule in state.rules]),
                             (1.5, ["lock_facing"]))
        self.hand.key(self.view, Qt.Key.Key_D, Qt.KeyboardModifier.ControlModifier)
        self.assertEqual([state.name for state in self.puppet.states[-2:]], ["Idle 2", "Walk 2"])
        self.assertEqual({state.group for state in self.puppet.states[-2:]}, {"ground"})
        self.hand.key(self.view, Qt.Key.Key_Delete)
        self.assertEqual(len(self.puppet.states), 8)

    def test_a_jump_and_moving_are_made_of_the_cards_that_are_selected(self) -> None:
        names = ("idle", "walk", "jump", "fall")
        clips = [replace(self.puppet.clip("idle"), id=name, name=name) for name in names]
        self.show(replace(
            self.puppet, clips=tuple(clips), transitions=(), groups=(), senses=(),
            states=tuple(State(name, name.title(), clip=name) for name in names),
            layers=(replace(self.puppet.layers[0], start="idle"),)))
        self.hand.click(self.view, self.card("idle"))
        self.with_modifier(Qt.KeyboardModifier.ControlModifier, self.card("walk"), self.view)
        self.hand.token(self.sentence, "while moving")
        self.assertEqual([(each.source, each.target) for each in self.puppet.transitions],
                         [("idle", "walk"), ("walk", "idle")])
        self.hand.click(self.view, self.card("jump"))
        self.with_modifier(Qt.KeyboardModifier.ControlModifier, self.card("fall"), self.view)
        self.hand.token(self.sentence, "a jump")
        self.hand.pick("press_jump, from Idle")
        self.assertEqual([(each.source, each.target) for each in self.puppet.transitions[2:]],
                         [("idle", "jump"), ("jump", "fall"), ("idle", "fall"), ("fall", "idle")])
        self.assertEqual([each.name for each in self.puppet.clip("jump").moments
                          if each.kind == "call"], ["jump"])
        self.window.document.undo()
        self.assertEqual(len(self.puppet.transitions), 2)

    def test_any_of_several_clips_is_picked_at_random_and_runs_again_the_same(self) -> None:
        self.hand.click(self.view, self.card("idle_state"))
        self.hand.token(self.sentence, "or another clip")
        self.hand.pick("crouch")
        self.hand.token(self.sentence, "or another clip")
        self.hand.pick("guard")
        self.hand.token(self.sentence, "weights")
        self.hand.token(self.sentence, "weight of guard")
        self.hand.type("4")
        [spread] = [each for each in self.puppet.spreads if each.random]
        self.assertEqual([(each.clip, each.place[0]) for each in spread.clips],
                         [("idle", 1.0), ("crouch", 1.0), ("guard", 4.0)])
        self.settle()
        self.hand.click(self.window.booth)
        self.window.player.restart()
        self.window.player.pause()
        self.steps(200)
        before = self.clips_played()
        self.assertGreater(len(set(before)), 1)
        takes = self.go("Takes")
        self.hand.token(takes.deeds, "seed")
        self.hand.type("77")
        self.hand.until(lambda: len(self.records) == 200, "the run with other dice")
        self.assertNotEqual(self.clips_played(), before)
        self.hand.token(takes.deeds, "seed")
        self.hand.type("1")
        self.hand.until(lambda: len(self.records) == 200 and not self.window.player.busy, "it")
        self.assertEqual(self.clips_played(), before)

    def clips_played(self) -> list[str]:
        """The clip of each tick."""
        return [record.report.layers[0].clip for record in self.records]

    def test_a_while_rule_is_given_a_condition_in_its_sentence(self) -> None:
        self.hand.click(self.view, self.card("walk_state"))
        self.hand.token(self.sentence, "add while-rule")
        self.hand.pick("facing locked")
        self.hand.token(self.sentence, "condition of lock_facing")
        self.hand.type("speed > 80")
        self.assertEqual(self.puppet.state("walk_state").rules[-1].when, "speed > 80")
        self.assertIn("if speed > 80", [part.text for part in self.sentence.parts])
        self.settle()
        self.hand.click(self.window.booth)
        self.window.player.restart()
        self.window.player.pause()
        self.steps(10)
        locked = [(record.report.senses[self.place("speed")] > 80, record.report.lock_facing)
                  for record in self.steps_of(40)]
        self.assertIn((True, True), locked)
        self.assertTrue(all(fast == held for fast, held in locked))

    def place(self, sense: str) -> int:
        """The place of a sense."""
        return [each.id for each in self.puppet.senses].index(sense)

    def steps_of(self, ticks: int) -> list[Record]:
        """The ticks in Walk of so many in which right is held."""
        before = len(self.records)
        self.hold(Qt.Key.Key_D, ticks)
        return [each for each in list(self.records)[before:]
                if each.report.layers[0].state == "walk_state"]

    def test_cards_are_selected_by_a_frame_drawn_around_them(self) -> None:
        first, last = self.card("idle_state"), self.card("crouch_state")
        self.hand.drag(
            self.view,
            QPointF(self.view.width() - 30, first.y() + 4),
            QPointF(last.center().x() - 130, last.bottom() - 4),
        )
        self.assertEqual(set(self.window.document.selected_states), {"walk_state", "crouch_state"})

    def test_bands_are_ordered_by_their_names(self) -> None:
        bands = self.view.layout_now.bands
        self.hand.drag(self.view, QPointF(bands[2].box.x + 8, bands[2].box.y + 40),
                       QPointF(8, bands[0].box.y + 4))
        self.assertEqual([group.id for group in self.puppet.groups], ["strike", "air", "ground"])


class Tables(Work):
    def test_crossings_go_to_a_transition_fill_a_row_and_say_what_ends_a_state(self) -> None:
        self.hand.click(self.page.strip.kinds["crossings"])
        view = self.page.crossings
        states = view.states
        idle, walk, crouch = (states.index(id)
                              for id in ("idle_state", "walk_state", "crouch_state"))
        self.hand.click(view, view.cell(idle, walk))
        self.assertEqual(self.window.document.selection, ("transition", "idle_to_walk"))
        rise, fall = states.index("rise_state"), states.index("fall_state")
        self.hand.drag(view, view.cell(rise, fall), view.cell(rise, crouch))
        made = [(transition.target, transition.when)
                for transition in self.puppet.transitions if transition.source == "rise_state"]
        like = "vy < 0 and elapsed > 0.05"
        self.assertEqual(made, [(id, like)
                                for id in ("fall_state", "idle_state", "walk_state",
                                           "crouch_state")])
        self.hand.drag(view, view.cell(crouch, rise), view.cell(crouch, fall))
        self.assertEqual(len(self.puppet.transitions_of("crouch_state")), 1,
                         "there it goes already, through its band")
        self.hand.click(view, view.name_area(states.index("light_swing_state")))
        self.assertEqual(self.window.document.selection, ("state", "light_swing_state"))
        order = [way.transition.id for way in view.ways_out("light_swing_state")]
        program = self.window.player.recording.setup.program
        place = program.places["in_state", "light_swing_state"]
        self.assertEqual(order, [candidate.id for candidate in program.candidates(place)])

    def test_of_many_crossings_those_in_sight_are_drawn(self) -> None:
        self.show(large_puppet(400))
        self.assertEqual(self.window.player.recording.setup.program.problems, ())
        self.hand.click(self.page.strip.kinds["crossings"])
        view = self.page.crossings
        with mock.patch.object(view, "_pictures", wraps=view._pictures) as drawn:
            view.update()
            self.hand.wait()
        areas = [QRectF(SIDE + mark.column * size, y, size, size)
                 for _, marks, y, size in [call.args for call in drawn.draw.call_args_list]
                 for mark in marks]
        seen = view.visibleRegion().boundingRect()
        self.assertGreater(len(areas), 0)
        self.assertLess(len(areas) * view.cell_size ** 2,
                        (seen.width() + 60) * (seen.height() + 60))
        self.assertTrue(all(area.intersects(QRectF(seen).adjusted(-1, -1, 1, 1)) for area in areas))

    def test_crossings_draw_every_state_that_a_way_may_end_in(self) -> None:
        self.show(grown_puppet())
        self.settle()
        view = self.page.crossings
        view.showing.show_kind("crossings")
        ways = Crossings(self.window.player.recording.setup.program)
        for id in view.states:
            listed = [(way.transition.id, way.owner, way.ends) for way in view.ways_out(id)]
            self.assertEqual(listed, list(ways.ways(id)), id)
            ends = {end for way in ways.ways(id) for end in way.ends}
            self.assertEqual({end for start, end in view.cells if start == id}, ends, id)

    def test_frame_data_is_sorted_and_written(self) -> None:
        self.hand.click(self.page.strip.kinds["frame data"])
        view = self.page.frame_data
        self.hand.until(lambda: bool(view.rows) and view.is_measured, "the frame data")
        self.assertEqual([(each.name, each.startup, each.active, each.recovery, each.damage,
                           each.from_control)
                          for each in view.rows],
                         [("Light swing", 9, 5, 12, 4, 10), ("Heavy slam", 21, 8, 15, 9, 36)])
        self.assertEqual([(each.on_hit, each.on_guard) for each in view.rows], [(8, -2), (2, -8)])
        self.hand.click(view, view.heading(1))
        self.hand.click(view, view.heading(1))
        self.assertEqual([each.name for each in view.rows], ["Heavy slam", "Light swing"])
        self.hand.click(view, view.row(0))
        self.assertEqual(self.window.document.selection, ("state", "heavy_slam_state"))
        self.hand.click(view, view.csv_button)
        self.answer_file(self.folder / "table.csv")
        with (self.folder / "table.csv").open(newline="") as file:
            rows = list(csv.reader(file))
        self.assertEqual(rows[0][:4], ["state", "startup", "active", "recovery"])
        self.assertEqual([row[0] for row in rows[1:]], ["Heavy slam", "Light swing"])


class Copying(Work):
    def test_pasted_into_its_own_puppet_everything_is_shared_and_names_are_free(self) -> None:
        puppet = grown_puppet()
        parcel = parcel_of(puppet, ["combo", "guard"])
        self.assertIn("Light 1 → Rise", parcel.left)
        self.assertEqual(clashes(puppet, parcel.puppet), ())
        made = pasted(puppet, parcel.puppet, "body")
        for field in ("clips", "sheets", "intents", "memos", "senses", "actions"):
            self.assertEqual(getattr(made.puppet, field), getattr(puppet, field), field)
        names = [state.name for state in made.puppet.states if state.id in made.states]
        self.assertEqual(names, ["Guard 2", "Light 1 2", "Light 2 2", "Light 3 2"])
        new = [transition for transition in made.puppet.transitions
               if transition not in puppet.transitions]
        self.assertTrue(all(each.source in {*made.states, *made.groups} for each in new))

    def test_a_name_that_is_something_else_here_is_asked_about(self) -> None:
        self.show(grown_puppet())
        self.window.document.select("state", "light_1")
        self.hand.key(self.view, Qt.Key.Key_C, Qt.KeyboardModifier.ControlModifier)
        self.window.document.edit("other",
                                  changed(self.puppet, "clips", "light_swing", mode="loop"))
        self.hand.key(self.view, Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier)
        dialog = self.dialog("clashes")
        sentence, = dialog.sentences.values()
        self.assertEqual([tuple(field) for field in dialog.found[0].fields],
                         [("mode", "loop", "once")])
        self.hand.token(sentence, "both light_swing")
        dialog.accept()
        self.hand.wait()
        made = self.puppet.states[-1]
        clip = self.puppet.clip(made.clip)
        self.assertEqual((clip.name, clip.mode), ("light_swing 2", "once"))

    def test_a_clipboard_that_is_not_ours_or_broken_pastes_nothing(self) -> None:
        before = self.puppet
        QApplication.clipboard().setText("hello")
        self.hand.key(self.view, Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier)
        content = QApplication.clipboard().mimeData()
        self.assertIsNotNone(content)
        broken = QMimeData()
        broken.setData("application/x-yarn-puppet-parcel", b'{"format": 1, "states": 7}')
        QApplication.clipboard().setMimeData(broken)
        self.hand.key(self.view, Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier)
        self.assertIn("states", self.complaint())
        self.assertIs(self.puppet, before)


class Layers(Work):
    def test_a_layer_is_shown_ordered_and_removed(self) -> None:
        self.show(grown_puppet())
        strip = self.page.strip
        self.hand.click(strip.layers[1])
        self.assertEqual(set(self.view.layout_now.cards), {"hands_rest", "umbrella_up"})
        self.hand.token(self.sentence, "weight")
        self.hand.type("0.5")
        self.hand.token(self.sentence, "under")
        self.hand.token(self.sentence, "ease_out")
        self.hand.type("0.3")
        layer = self.puppet.layers[1]
        self.assertEqual((layer.weight, layer.under, layer.ease_out), (0.5, True, 0.3))
        self.hand.token(self.sentence, "higher")
        self.assertEqual([each.id for each in self.puppet.layers], ["body", "lantern", "arms"])
        self.hand.token(self.sentence, "remove")
        self.assertEqual([each.id for each in self.puppet.layers], ["body", "lantern"])
        self.assertIsNone(self.puppet.state("umbrella_up"))


class Appearance(Work):
    def test_by_night_everything_is_drawn_in_other_colours_and_back(self) -> None:
        day = self.window.grab().toImage()
        self.addCleanup(lambda: self.window.appearance.choose("day"))
        self.window.appearance.choose("night")
        self.hand.wait()
        night = self.window.grab().toImage()
        for at in ((700, 20), (1000, 500), (300, 600), (640, 70)):
            self.assertGreater(day.pixelColor(*at).lightness(), 180, at)
            self.assertLess(night.pixelColor(*at).lightness(), 80, at)
        self.assertEqual(theme.THREADS["madder"], theme.MADDER)
        self.window.appearance.choose("day")
        self.hand.wait()
        self.assertEqual(self.window.grab().toImage(), day)

    def test_by_night_what_qt_draws_follows_and_nothing_is_laid_out_again(self) -> None:
        search = self.go("Clips").heading.search
        self.addCleanup(lambda: self.window.appearance.choose("day"))
        asked = search.styleSheet()
        words = [each for each in self.window.findChildren(Caption)
                 if each.isVisible() and each.text()]
        self.assertGreater(len(words), 3)
        sizes = [word.size() for word in words]
        self.assertEqual(self.window.styleSheet(), "")
        self.window.appearance.choose("night")
        self.hand.wait()
        self.assertNotEqual(search.styleSheet(), asked)
        for word in words:
            self.assertGreater(max(_lights(word)), 140, word.text())
        self.window.appearance.choose("day")
        self.hand.wait()
        self.assertEqual((search.styleSheet(), [word.size() for word in words]), (asked, sizes))
        for word in words:
            self.assertLess(min(_lights(word)), 140, word.text())

    def test_ink_reads_on_every_ground_by_day_and_by_night(self) -> None:
        def light(color: str) -> float:
            parts = [int(color[place:place + 2], 16) / 255 for place in (1, 3, 5)]
            linear = [part / 12.92 if part <= 0.04045 else ((part + 0.055) / 1.055) ** 2.4
                      for part in parts]
            return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]

        for worn in (theme.DAY, theme.AT_NIGHT):
            for ink in ("INK", "QUIET", "MADDER", "INDIGO", "WOAD", "MOSS", "PLUM", "CLAY"):
                for ground in ("LINEN", "PAPER", "WHITE"):
                    bright, dark = sorted((light(worn[ink]), light(worn[ground])), reverse=True)
                    self.assertGreater((bright + 0.05) / (dark + 0.05), 4.0, (ink, ground))


def _lights(widget: QWidget) -> list[int]:
    """How light each pixel of what is seen of a widget is, from 0 to 255."""
    image = widget.window().grab(QRect(widget.mapTo(widget.window(), QPoint(0, 0)),
                                       widget.size())).toImage()
    return [image.pixelColor(x, y).lightness() for x in range(image.width())
            for y in range(image.height())]
