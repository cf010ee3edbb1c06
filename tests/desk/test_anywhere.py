"""From anywhere in a layer, in the real window: pulled out of the layer's pill, then off its
seam."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt

from tests.desk.case import DeskCase, without_takes
from yarn_puppet.demo import DEMO_PUPPET
from yarn_puppet.desk.weave.placing.ends import around_line
from yarn_puppet.desk.weave.placing.layout import lay_out


class FromAnywhere(DeskCase):
    def setUp(self) -> None:
        super().setUp()
        self.page = self.go("Weave")
        self.view, self.sentence, self.pill = (
            self.page.view, self.page.sentence, self.page.strip.layers[0])
        self.hand.gestures = 0

    def card(self, id: str) -> QRectF:
        return QRectF(*self.view.layout_now.cards[id].box)

    @property
    def words(self) -> str:
        return " ".join(part.text for part in self.sentence.parts)

    def pull(self, id: str) -> None:
        self.hand.drag(self.pill, QPointF(20, 12), self.card(id), onto=self.view)

    def test_from_the_pill_onto_a_card_in_one_gesture_and_undone_in_one(self) -> None:
        before = self.puppet
        self.pull("walk_state")
        self.assertEqual(self.hand.gestures, 1)
        self.assertTrue(self.words.startswith("Anywhere → Walk when"), self.words)
        seam = self.puppet.anywhere("body")
        assert seam is not None
        self.assertEqual([each.target for each in self.puppet.transitions_of(seam.id)],
                         ["walk_state"])
        self.window.document.undo()
        self.assertEqual(self.puppet, before)

    def test_let_go_beside_every_card_or_outside_it_makes_nothing(self) -> None:
        before = self.puppet
        spare = QRectF(*self.view.layout_now.spare)
        self.hand.drag(self.pill, QPointF(20, 12), spare, onto=self.view)
        self.hand.drag(self.pill, QPointF(20, 12), QPointF(20, 30), onto=self.page.shelf)
        self.assertEqual(self.puppet, before)
        self.hand.click(self.pill)
        self.assertEqual(self.window.document.selection, ("layer", "body"))

    def test_the_seam_lies_over_all_bands_and_is_clicked_and_pulled_from(self) -> None:
        self.pull("walk_state")
        layout = self.view.layout_now
        band = layout.bands[0]
        self.assertTrue(band.around)
        self.assertTrue(all(other.box.y >= band.box.bottom for other in layout.bands[1:]))
        at = QPointF(band.box.right - 40, around_line(band))
        self.hand.click(self.view, at)
        self.assertIn("around all of body", self.words)
        self.hand.drag(self.view, at, self.card("crouch_state"))
        self.assertEqual([each.target for each in self.puppet.transitions_of(band.group)],
                         ["walk_state", "crouch_state"])
        tails = self.view.picture.ends(self.view.layout_now).tails(band.group)
        self.assertEqual(len({tail.start for tail in tails}), 2)

    def test_a_card_stays_in_no_band_when_it_is_dropped_on_the_seam(self) -> None:
        self.pull("walk_state")
        band, before = self.view.layout_now.bands[0], self.puppet
        self.hand.drag(self.view, self.card("walk_state"),
                       QPointF(band.box.right - 40, around_line(band)))
        added = [each for each in self.puppet.transitions if each not in before.transitions]
        self.assertEqual([(each.source, each.target) for each in added],
                         [("walk_state", band.group)])
        self.assertEqual(self.puppet.states, before.states)

    def test_it_is_taken_while_the_booth_is_played(self) -> None:
        self.pull("guard_state")
        self.hand.token(self.sentence, "add term")
        self.hand.pick("grounded")
        self.window.player.restart()
        self.steps(2)
        self.assertEqual([each.source for record in self.records for each in record.report.taken],
                         ["idle_state", "guard_state"], "in, and out again: guard is not held")

    def test_by_keyboard_from_the_layer_to_a_card(self) -> None:
        self.hand.click(self.pill)
        self.view.setFocus()
        self.hand.key(self.view, Qt.Key.Key_T)
        self.window.document.select("state", "crouch_state")
        self.hand.key(self.view, Qt.Key.Key_Return)
        self.assertTrue(self.words.startswith("Anywhere → Crouch when"), self.words)

    def test_the_sentences_of_a_layer_and_of_a_state_offer_it(self) -> None:
        self.hand.click(self.pill)
        self.hand.token(self.sentence, "from anywhere")
        self.hand.type("Guard, on press_jump")
        self.assertEqual([(each.target, each.when) for each in self.puppet.transitions[-1:]],
                         [("guard_state", "press_jump")])
        self.window.document.undo()
        swing = next(each.id for each in self.puppet.states if each.name == "Light swing")
        self.hand.click(self.view, self.card(swing))
        self.hand.token(self.sentence, "on a press")
        self.hand.pick("press_jump, from anywhere in body")
        seam = self.puppet.anywhere("body")
        assert seam is not None
        way = self.puppet.transitions_of(seam.id)[0]
        self.assertEqual((way.target, way.when), (swing, "press_jump"))


class OfLayers(DeskCase):
    file = without_takes(DEMO_PUPPET)

    def test_each_layer_has_its_own_and_a_pull_shows_the_layer_it_is_of(self) -> None:
        page = self.go("Weave")
        arms = page.strip.layers[1]
        cards = lay_out(self.puppet, float(page.view.width()), layer=arms.layer.id).cards
        target = next(card for card in cards.values())
        self.hand.drag(arms, QPointF(20, 12), QRectF(*target.box), onto=page.view)
        self.assertEqual(page.showing.layer, arms.layer.id)
        seam = self.puppet.anywhere(arms.layer.id)
        assert seam is not None
        self.assertEqual([self.puppet.state(each.target).layer
                          for each in self.puppet.transitions_of(seam.id)], [arms.layer.id])
        self.assertIsNone(self.puppet.anywhere("body"))
