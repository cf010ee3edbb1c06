"""The weave by mouse and keyboard, and what it shows of the run."""

from __future__ import annotations

from unittest import mock

from PyQt6.QtCore import QPoint, QPointF, QRectF, Qt
from PyQt6.QtTest import QTest

from tests.depth import some_of
from tests.desk.case import DeskCase, without_takes
from yarn_puppet.core.model.edits.graph import state_playing
from yarn_puppet.core.model.edits.spreads import spread_added
from yarn_puppet.core.model.graph import Spread
from yarn_puppet.demo import DEMO_PUPPET
from yarn_puppet.desk.weave.drawing.cards import name_area
from yarn_puppet.desk.weave.drawing.highlight import Hints


class Weave(DeskCase):
    def setUp(self) -> None:
        super().setUp()
        self.page = self.go("Weave")
        self.view, self.sentence = self.page.view, self.page.sentence

    def card(self, id: str) -> QRectF:
        return QRectF(*self.view.layout_now.cards[id].box)

    def words(self) -> str:
        return " ".join(part.text for part in self.sentence.parts)

    def click_thread(self, id: str) -> None:
        """Grow a transition's thread out of its card, and click it in the middle of its longest
        stretch."""
        self.hand.click(self.view, self.card(self.puppet.transition(id).source))
        focus = self.view.picture.focus(self.view.layout_now, Hints())
        self.hand.click(self.view,
                        QPointF(*next(thread for thread in focus.threads
                                      if thread.transition == id).label))


class Selecting(Weave):
    def test_a_click_shows_a_state_a_band_or_a_transition_as_a_sentence(self) -> None:
        self.hand.click(self.view, self.card("guard_state"))
        self.assertTrue(self.words().startswith("Guard plays guard or… at 1× speed"), self.words())
        self.assertIn("move speed × 0.5", self.words())
        band = self.view.layout_now.band_of("strike")
        assert band is not None
        self.hand.click(self.view, QPointF(band.box.x + 22, band.box.y + band.box.height - 4))
        self.assertTrue(self.words().startswith("Strike starts in Light swing"), self.words())
        self.click_thread("light_to_guard")
        self.assertTrue(self.words().startswith("Light swing → Guard when held guard and"),
                        self.words())
        self.assertIn("leave cancel window", self.words())
        QTest.keyClick(self.view, Qt.Key.Key_Escape)
        self.assertIn("8 states, 19 transitions", self.words())

    def test_arrows_go_from_card_to_card_and_o_through_the_transitions(self) -> None:
        self.view.setFocus()
        visited = []
        for key in (Qt.Key.Key_Right, Qt.Key.Key_Right, Qt.Key.Key_Down, Qt.Key.Key_Right,
                    Qt.Key.Key_O,
                    Qt.Key.Key_O):
            self.hand.key(self.view, key)
            assert self.window.document.selection is not None
            visited.append(self.window.document.selection[1])
        self.assertEqual(visited[:2], ["rise_state", "fall_state"])
        self.assertEqual(visited[2], "walk_state")
        self.assertEqual(visited[3], "crouch_state")
        self.assertEqual(visited[4:], ["crouch_to_idle", "crouch_to_idle"])


class Still(DeskCase):
    """What stands still, and what lies over what."""

    file = without_takes(DEMO_PUPPET)

    def setUp(self) -> None:
        super().setUp()
        self.page = self.go("Weave")

    def everything(self) -> list[tuple[str, str]]:
        """All that can be selected on the first layer, by kind and id."""
        nodes = {node.id: node for node in self.puppet.nodes if node.layer == "body"}
        return [*[("state" if self.puppet.state(id) else "group", id) for id in nodes],
                *[("transition", transition.id)
                  for transition in self.puppet.transitions if transition.source in nodes]]

    def test_nothing_that_is_clicked_moves_whatever_is_selected_and_said(self) -> None:
        places = set()
        for kind, id in some_of(tuple(self.everything())):
            self.window.document.select(kind, id)
            self.hand.wait()
            if kind == "group":
                self.page.say("Something was done, which takes a line to say.")
                self.hand.wait()
            top = self.page.view.mapTo(self.window, QPoint(0, 0))
            places.add((top.x(), top.y(), self.page.scroller.height(),
                        self.card_of("idle_state").top()))
        self.assertEqual(len(places), 1, places)

    def card_of(self, id: str) -> QRectF:
        return QRectF(*self.page.view.layout_now.cards[id].box)

    def test_no_label_of_a_thread_lies_on_the_name_of_a_band(self) -> None:
        view, drawn = self.page.view, []
        bands = [area for band in view.layout_now.bands
                 if (area := name_area(band, self.puppet.group(band.group))) is not None]
        self.assertGreater(len(bands), 5)
        with mock.patch("yarn_puppet.desk.weave.drawing.threads.draw_label",
                        lambda painter, rect, text, color, pale=False: drawn.append((rect, text))):
            for kind, id in some_of(tuple(self.everything())):
                drawn.clear()
                self.page.go_to(kind, id)
                self.hand.wait()
                view.grab()
                on_names = [text for rect, text in drawn for area in bands if rect.intersects(area)]
                self.assertEqual(on_names, [], (kind, id))


class Editing(Weave):
    def test_card_to_card_makes_a_transition_and_its_condition_is_typed_or_picked(self) -> None:
        self.hand.drag(self.view, self.card("crouch_state"), self.card("walk_state"))
        made = self.puppet.transitions[-1]
        self.assertEqual((made.source, made.target, made.when), ("crouch_state", "walk_state", ""))
        self.hand.token(self.sentence, "add term")
        self.hand.pick("not held_down")
        self.hand.token(self.sentence, "add term")
        self.hand.type("speed > 20 or blocked")
        self.assertEqual(self.puppet.transitions[-1].when,
                         "not held_down and (speed > 20 or blocked)")
        self.hand.token(self.sentence, "term 1")
        self.hand.type("")
        self.assertEqual(self.puppet.transitions[-1].when, "speed > 20 or blocked")

    def test_a_wrong_condition_is_said_in_place_and_nothing_is_lost(self) -> None:
        before = self.puppet
        self.click_thread("light_to_guard")
        self.hand.token(self.sentence, "add term")
        self.hand.type("grunded and speed > 1")
        popup = self.hand.popup()
        self.assertEqual(popup.note.text(),
                         "column 1: expected a known name, found grunded; did you mean grounded?")
        self.assertEqual(popup.line.text(), "grunded and speed > 1")
        QTest.keyClick(popup.line, Qt.Key.Key_Escape)
        self.assertIs(self.puppet, before)

    def test_a_seam_to_a_card_makes_a_transition_of_the_whole_band(self) -> None:
        band = self.view.layout_now.band_of("air")
        assert band is not None
        self.hand.drag(self.view, QPointF(band.box.x + 26, band.box.y + 20),
                       self.card("crouch_state"))
        self.assertEqual((self.puppet.transitions[-1].source, self.puppet.transitions[-1].target),
                         ("air", "crouch_state"))
        self.hand.drag(self.view, self.card("crouch_state"),
                       QPointF(band.box.x + 24, band.box.y + 30))
        self.assertEqual((self.puppet.transitions[-1].source, self.puppet.transitions[-1].target),
                         ("crouch_state", "air"))

    def test_a_card_is_moved_by_giving_it_a_place_in_a_band(self) -> None:
        band = self.view.layout_now.band_of("ground")
        assert band is not None
        self.hand.drag(self.view, self.card("guard_state"),
                       QRectF(*self.view.layout_now.slot(band, 3)))
        state = self.puppet.state("guard_state")
        self.assertEqual((state.group, state.place), ("ground", 3))
        self.hand.key(self.window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
        self.assertEqual(self.puppet.state("guard_state").group, "strike")

    def test_the_pin_is_dragged_to_another_card(self) -> None:
        idle = self.card("idle_state")
        self.hand.drag(self.view, idle.topLeft() + QPointF(10, -7), self.card("walk_state"))
        self.assertEqual(self.puppet.layers[0].start, "walk_state")

    def test_a_clip_dropped_on_a_card_is_what_it_plays(self) -> None:
        number = [clip.id for clip in self.puppet.clips].index("crouch")
        self.hand.drag(self.page.shelf, self.page.shelf.chip(number), self.card("walk_state"),
                       onto=self.view)
        self.assertEqual(self.puppet.state("walk_state").clip, "crouch")

    def test_by_keyboard_alone(self) -> None:
        self.page.shelf.setFocus()
        self.hand.key(self.page.shelf, Qt.Key.Key_Right)
        self.hand.key(self.page.shelf, Qt.Key.Key_Return)
        made = self.puppet.states[-1]
        self.assertEqual((made.name, made.clip, made.group), ("Walk 2", "walk", "air"))
        self.view.setFocus()
        self.hand.key(self.view, Qt.Key.Key_T)
        for _ in range(2):
            self.hand.key(self.view, Qt.Key.Key_Left)
        self.hand.key(self.view, Qt.Key.Key_Return)
        self.assertEqual((self.puppet.transitions[-1].source, self.puppet.transitions[-1].target),
                         (made.id, "rise_state"))
        token = self.sentence.token("add term")
        token.setFocus()
        QTest.keyClick(token, Qt.Key.Key_Return)
        self.hand.type("grounded")
        self.assertEqual(self.puppet.transitions[-1].when, "grounded")
        self.view.setFocus()
        self.hand.key(self.view, Qt.Key.Key_Delete)
        self.assertEqual(len(self.puppet.transitions), 19)

    def test_tokens_edit_what_they_say(self) -> None:
        self.click_thread("light_to_guard")
        self.hand.token(self.sentence, "leave")
        self.hand.pick("in the pole window")
        leave = self.puppet.transition("light_to_guard").leave
        self.assertEqual((leave.kind, leave.window), ("in a window", "pole"))
        for token, answer, typed in (("leave", "after", False), ("leave seconds", "0.3", True),
                                     ("easing", "ease out", False), ("blend", "cut", False),
                                     ("target", "Crouch", False)):
            self.hand.token(self.sentence, token)
            self.hand.type(answer) if typed else self.hand.pick(answer)
        made = self.puppet.transition("light_to_guard")
        self.assertEqual((made.leave.kind, made.leave.seconds, made.blend.kind, made.blend.easing,
                          made.target),
                         ("after", 0.3, "cut", "ease out", "crouch_state"))
        self.hand.click(self.view, self.card("crouch_state"))
        for token, answer, typed in (("state name", "Duck", True), ("clip", "idle", False),
                                     ("speed", "1.5", True),
                                     ("add while-rule", "facing locked", False),
                                     ("band", "Strike", False)):
            self.hand.token(self.sentence, token)
            self.hand.type(answer) if typed else self.hand.pick(answer)
        state = self.puppet.state("crouch_state")
        self.assertEqual((state.name, state.clip, state.speed, state.group,
                          [rule.kind for rule in state.rules]),
                         ("Duck", "idle", 1.5, "strike", ["lock_movement", "lock_facing"]))

    def test_order_and_overriding_are_chosen_in_one_token(self) -> None:
        self.window.document.select("transition", "ground_to_guard")
        self.hand.token(self.sentence, "order")
        self.hand.pick("1")
        self.assertEqual(self.puppet.transitions_of("ground")[0].id, "ground_to_guard")
        self.hand.token(self.sentence, "order")
        self.hand.pick("overrides everything further in")
        self.assertTrue(self.puppet.transition("ground_to_guard").overrides)


class Showing(Weave):
    def test_the_active_card_and_the_transition_just_taken_stand_out(self) -> None:
        quiet = self.view.grab().toImage()
        self.hold(Qt.Key.Key_Right, 6)
        lively = self.view.grab().toImage()
        self.assertEqual(self.shown_state(), "Walk")
        self.assertEqual(set(self.view.picture.just_taken()), {"idle_to_walk"})
        edge = self.card("walk_state").topLeft().toPoint()
        at = self.view.rect().topLeft() + edge
        self.assertNotEqual(quiet.pixelColor(at.x() + 40, at.y()),
                            lively.pixelColor(at.x() + 40, at.y()))

    def test_what_is_selected_grows_its_threads_and_the_rest_steps_back(self) -> None:
        at_rest = self.view.grab().toImage()
        self.hand.click(self.view, self.card("light_swing_state"))
        grown = self.view.grab().toImage()
        focus = self.view.picture.focus(self.view.layout_now, Hints())
        self.assertEqual([(thread.number, thread.target) for thread in focus.threads],
                         [(1, "guard_state"), (2, "rise_state"), (3, "idle_state")])
        self.assertEqual({each.source for each in focus.into}, {"ground"})
        assert focus.near is not None
        self.assertNotIn("fall_state", focus.near)
        far, near = self.card("fall_state").topLeft().toPoint(), self.card(
            "guard_state").topLeft().toPoint()
        self.assertNotEqual(at_rest.pixelColor(far.x() + 30, far.y()),
                            grown.pixelColor(far.x() + 30, far.y()))
        self.assertEqual(at_rest.pixelColor(near.x() + 30, near.y()),
                         grown.pixelColor(near.x() + 30, near.y()))

    def test_a_thread_is_led_elsewhere_by_its_end(self) -> None:
        self.hand.click(self.view, self.card("light_swing_state"))
        focus = self.view.picture.focus(self.view.layout_now, Hints())
        end = next(thread for thread in focus.threads
                   if thread.transition == "light_to_guard").points[-1]
        self.hand.drag(self.view, QPointF(*end), self.card("heavy_slam_state"))
        self.assertEqual(self.puppet.transition("light_to_guard").target, "heavy_slam_state")

    def test_sizes_folding_and_how_far_threads_are_grown(self) -> None:
        self.view.setFocus()
        sizes = []
        for key in (Qt.Key.Key_Plus, Qt.Key.Key_Minus, Qt.Key.Key_Minus, Qt.Key.Key_Minus,
                    Qt.Key.Key_0):
            self.hand.key(self.view, key)
            sizes.append(self.view.layout_now.size.name)
        self.assertEqual(sizes[:4], ["cards", "chips", "dots", "dots"])
        for _ in range(2):
            self.hand.click(self.page.strip.grown)
        layout = self.view.layout_now
        self.assertEqual(self.page.showing.grown, "all")
        whole = QRectF(0, 0, 2000, 2000)
        self.assertEqual(len(self.view.picture.at_rest(layout, "all", whole)),
                         len(self.puppet.transitions))
        self.page.showing.grow("near")
        self.assertIn("walk_to_idle",
                      [each.transition for each in self.view.picture.at_rest(
                          layout, "near", whole)])
        band = layout.band_of("ground")
        assert band is not None
        self.hand.click(self.view, QPointF(band.box.x + 6, band.box.y + 6))
        self.assertNotIn("idle_state", self.view.layout_now.cards)
        self.page.go_to("state", "idle_state")
        self.assertIn("idle_state", self.view.layout_now.cards)

    def test_found_by_typing_and_gone_to(self) -> None:
        for typed, expected in (("heavy s", ("state", "heavy_slam_state")),
                                ("held guard + cancel", (
                "transition", "light_to_guard")), ("strike", ("group", "strike"))):
            self.hand.key(self.page, Qt.Key.Key_F, Qt.KeyboardModifier.ControlModifier)
            popup = self.page.strip.popup
            QTest.keyClicks(popup.line, typed)
            QTest.keyClick(popup.line, Qt.Key.Key_Return)
            self.hand.wait()
            self.assertEqual(self.window.document.selection, expected, typed)


class Spreads(DeskCase):
    def setUp(self) -> None:
        super().setUp()
        self.window.document.edit("make spread", spread_added(
            self.puppet, "gait", [("walk", "right"), ("crouch", "left")])[0])
        self.page = self.window.page("Weave")
        self.hand.click(self.page.shelf, self.page.shelf.chip(0))

    @property
    def spread(self) -> Spread:
        return self.puppet.spreads[0]

    def test_a_click_on_the_shelf_says_what_it_holds(self) -> None:
        self.assertEqual(self.window.document.selection, ("spread", self.spread.id))
        words = " ".join(part.text for part in self.page.sentence.parts)
        self.assertTrue(
            words.startswith("gait spreads along the facing and… : walk right × crouch left ×"),
            words,
        )

    def test_its_clips_are_placed_taken_out_and_put_in(self) -> None:
        self.hand.token(self.page.sentence, "place of crouch")
        self.hand.pick("up")
        self.hand.token(self.page.sentence, "add clip")
        self.hand.pick("idle")
        self.hand.token(self.page.sentence, "take out walk")
        self.assertEqual([(clip.clip, clip.place) for clip in self.spread.clips],
                         [("crouch", (90.0,)), ("idle", (0.0,))])
        self.hand.token(self.page.sentence, "along")
        self.hand.pick("speed")
        self.hand.token(self.page.sentence, "place of idle")
        self.hand.type("45")
        self.assertEqual((self.spread.along, self.spread.clips[1].place), (("speed",), (45.0,)))

    def test_it_is_drawn_along_a_second_value_and_along_one_again(self) -> None:
        self.hand.token(self.page.sentence, "along too")
        self.hand.pick("speed")
        self.hand.token(self.page.sentence, "place of walk too")
        self.hand.type("90")
        self.assertEqual(self.spread.along, ("facing", "speed"))
        self.assertEqual([clip.place for clip in self.spread.clips], [(0.0, 90.0), (180.0, 0.0)])
        self.hand.token(self.page.sentence, "add clip")
        self.hand.pick("idle")
        self.assertEqual(self.spread.clips[-1].place, (0.0, 0.0))
        self.window.document.edit("play it",
                                  state_playing(self.puppet, "idle_state", self.spread.id))
        self.steps(2)
        self.assertEqual(self.records[-1].report.layers[0].clip, "idle")
        self.hand.token(self.page.sentence, "along too")
        self.hand.pick("nothing else")
        self.assertEqual([clip.place for clip in self.spread.clips], [(0.0,), (180.0,), (0.0,)])

    def test_a_state_is_given_it_and_loses_it(self) -> None:
        self.window.document.select("state", "idle_state")
        self.hand.token(self.page.sentence, "clip")
        self.hand.pick("gait (spread)")
        state = self.puppet.state("idle_state")
        self.assertEqual((state.spread, state.clip), (self.spread.id, None))
        self.steps(3)
        self.assertEqual(self.records[-1].report.layers[0].clip, "walk")
        self.hand.click(self.page.shelf, self.page.shelf.chip(0))
        self.hand.token(self.page.sentence, "remove")
        self.assertEqual((self.puppet.spreads, self.puppet.state("idle_state").spread), ((), None))
        self.steps(1)
        self.assertIsNone(self.records[-1].report.layers[0].clip)
