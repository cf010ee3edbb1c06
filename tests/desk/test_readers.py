"""What a screen reader finds on each page: everything has a name, and what is drawn is there, where
it is drawn."""

from __future__ import annotations

import unittest

from PyQt6.QtCore import QItemSelectionModel, QRect

from tests.accessible import KNOWN, Accessible, tree
from tests.desk.case import DeskCase, without_takes
from yarn_puppet.core.model.edits.graph import state_changed
from yarn_puppet.demo import DEMO_PUPPET
from yarn_puppet.desk.shell.pages import PAGES
from yarn_puppet.desk.widgets.things import ThingList
from yarn_puppet.desk.widgets.view import DrawnView

NAMED = ("button", "check box", "edit", "combo box", "list", "list item")


@unittest.skipUnless(KNOWN, "how C++ is called is known here on x86-64 only")
class Readers(DeskCase):
    file = without_takes(DEMO_PUPPET)

    def walked(self) -> list[Accessible]:
        """All of the window that is shown."""
        self.hand.wait()
        return [each for each in tree(self.window) if not each.invisible]

    def items(self) -> list[Accessible]:
        """What is drawn, by name."""
        return [each for each in self.walked() if each.role == "list item"]

    def test_on_every_page_whatever_can_be_used_has_a_name_and_a_place_in_the_window(self) -> None:
        for page in PAGES:
            self.go(page)
            found = self.walked()
            self.assertGreater(len(found), 60, page)
            for each in found:
                if each.role in NAMED:
                    self.assertNotEqual(each.name.strip(), "", (page, each))
            drawn = [view for view in self.window.findChildren(DrawnView) if view.isVisible()]
            for view in drawn:
                self.assertNotEqual(view.accessibleName(), "", (page, view))

    def test_cards_bands_and_threads_of_the_weave(self) -> None:
        view = self.go("Weave").view
        self.steps(3)
        found = {each.name: each for each in self.items()}
        body = [state for state in self.puppet.states if state.layer == self.puppet.layers[0].id]
        for state in body:
            self.assertIn(f"state {state.name}", found)
        names = {node.id: node.name for node in self.puppet.nodes}
        threads = [each for each in self.items() if each.name.startswith("thread from ")]
        wanted = [f"thread from {names[transition.source]} to {names[transition.target]}"
                  for transition in self.puppet.transitions
                  if transition.source in view.layout_now.cards
                  or transition.source in view.layout_now.by_group]
        self.assertEqual(sorted(thread.name for thread in threads), sorted(wanted))
        walk = next(each for each in self.items() if each.name == "thread from Idle to Walk")
        self.assertEqual(walk.description, "when move x is not 0")
        card = found["state Idle"]
        box = view.layout_now.cards["idle_state"].box
        corner = view.mapToGlobal(view.rect().topLeft())
        self.assertEqual(card.rect,
                         QRect(corner.x() + int(box.x), corner.y() + int(box.y), card.rect.width(),
                                          card.rect.height()))
        self.assertIn("active", found[f"state {self.shown_state()}"].description)

    def test_what_is_said_is_so_after_an_edit(self) -> None:
        self.go("Weave")
        self.items()
        self.window.document.edit("rename",
                                  state_changed(self.puppet, "idle_state", name="Resting"))
        self.hand.wait()
        names = [each.name for each in self.items()]
        self.assertIn("state Resting", names)
        self.assertNotIn("state Idle", names)
        self.window.document.undo()

    def test_a_reader_selects_what_it_finds(self) -> None:
        view = self.go("Weave").view
        things = view.findChild(ThingList)
        place = next(row for row in range(things.items.rowCount())
                     if things.items.at(things.items.index(row)).name == "state Walk")
        things.selectionModel().select(things.items.index(place),
                                       QItemSelectionModel.SelectionFlag.ClearAndSelect)
        self.assertEqual(self.window.document.selection, ("state", "walk_state"))

    def test_lanes_frames_and_events_of_clips_and_the_lanes_of_the_trace(self) -> None:
        page = self.go("Clips")
        page.desk.show_clip("heavy_slam")
        self.hand.wait()
        clip = self.puppet.clip("heavy_slam")
        found = {each.name: each.description for each in self.items()}
        self.assertEqual(sum(name.startswith("frame ") for name in found), len(clip.frames))
        self.assertEqual(sum(name.startswith("clip ") for name in found), len(self.puppet.clips))
        self.assertEqual(found["lane hit window"], "1 on it")
        hit = next(window for window in clip.windows if window.kind == "hit")
        self.assertIn(f"from {hit.start:g} to {hit.end:g} ms",
                      [words for name, words in found.items() if name.startswith("hit ")])
        self.assertTrue(any(name.startswith("anchor ") for name in found))
        self.go("Weave")
        self.steps(3)
        found = {each.name: each.description for each in self.items()}
        self.assertEqual(found["lane state"],
                         f"{self.shown_state()} at tick {self.window.player.tick}")
        self.assertTrue([name for name in found if name.startswith("to ")], "the ways out")

    def test_takes_snags_files_and_tables(self) -> None:
        self.window.files.load(DEMO_PUPPET)
        self.window.player.pause()
        self.go("Takes")
        names = [each.name for each in self.items()]
        self.assertEqual(sum(name.startswith("take ") for name in names),
                         len(self.window.kept.takes))
        page = self.go("Weave")
        for kind, first in (("crossings", "from Rise"), ("frame data", "Light 1")):
            page.showing.show_kind(kind)
            self.hand.wait()
            self.hand.until(lambda kind=kind: kind == "crossings" or page.frame_data.is_measured,
                            "the frame data")
            self.assertIn(first, [each.name for each in self.items()])
        self.go("Hand-off")
        self.hand.until(lambda: self.window.hand_off.made is not None, "the files")
        self.assertIn("lamplighter.h", [each.name for each in self.items()])

    def test_tokens_are_heard_by_their_value_and_what_it_is(self) -> None:
        self.go("Wiring")
        names = [each.name for each in self.walked() if each.role == "button"]
        self.assertIn("name: attack", names)
        self.assertIn("remove", names, "a sign by what it does")
        self.assertIn("puppet: lamplighter", names)
