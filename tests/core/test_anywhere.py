"""The seam of a layer: transitions from anywhere, and all that a group around everything is."""

from __future__ import annotations

import unittest

from msgspec.structs import replace

from tests.random_cases import random_run_of
from tests.random_puppets import Shaker
from yarn_puppet.core.engine.compiling.puppets import compile_puppet
from yarn_puppet.core.formats.puppet_file import puppet_bytes, puppet_from
from yarn_puppet.core.model.edits import graph as edits
from yarn_puppet.core.model.edits.anywhere import anywhere_added, from_anywhere, spelt_out
from yarn_puppet.core.model.edits.layers import layer_added
from yarn_puppet.core.model.graph import Layer
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.model.wiring import Action, Intent
from yarn_puppet.core.rules.copying import pasted
from yarn_puppet.core.rules.parcels import parcel_of
from yarn_puppet.core.snags.check import check


def three() -> Puppet:
    """Two states in a band, one in none, and one on another layer."""
    puppet, band = edits.group_added(Puppet(actions=(Action("hurt", "hurt"),), intents=(
        Intent("press_hurt", "press_hurt", "hurt", "press", 0.1),)), "Ground")
    for name in ("Idle", "Walk"):
        puppet, _ = edits.state_added(puppet, name, None, band)
    puppet, _ = edits.state_added(puppet, "Flinch", None, None)
    puppet, layer = layer_added(puppet, "arms")
    return edits.state_added(puppet, "Hold", None, None, layer=layer)[0]


class FromAnywhere(unittest.TestCase):
    def test_it_leads_out_of_every_state_of_its_layer_bands_or_not_those_added_later_too(
        self,
    ) -> None:
        puppet, way = from_anywhere(three(), "body", "flinch", "press_hurt")
        puppet, _ = edits.state_added(puppet, "Late", None, None)
        program = compile_puppet(puppet)
        leaves = {state.id: [each.id for each in program.candidates(number)]
                  for number, state in enumerate(program.states)}
        self.assertEqual(leaves, {"idle": [way], "walk": [way], "flinch": [way], "late": [way],
                                  "hold": []})

    def test_a_second_from_anywhere_uses_the_seam_that_is_there_and_it_starts_as_the_layer_does(
        self,
    ) -> None:
        puppet, _ = from_anywhere(three(), "body", "flinch")
        puppet, _ = from_anywhere(puppet, "body", "walk")
        seams = [group for group in puppet.groups if group.anywhere]
        self.assertEqual([(group.layer, group.start) for group in seams], [("body", "idle")])
        self.assertEqual(anywhere_added(puppet, "body")[0], puppet)

    def test_it_is_in_no_band_and_a_way_from_within_stays_first(self) -> None:
        puppet, way = from_anywhere(three(), "body", "flinch")
        seam = puppet.transition(way).source
        self.assertEqual(edits.group_nested(puppet, seam, "ground"), puppet)
        puppet, own = edits.transition_added(puppet, "walk", "idle")
        puppet, of_band = edits.transition_added(puppet, "ground", "idle")
        walk = next(number for number, state in enumerate(puppet.states) if state.id == "walk")
        self.assertEqual([each.id for each in compile_puppet(puppet).candidates(walk)],
                         [own, of_band, way])

    def test_the_states_of_a_removed_seam_stay_and_its_ways_go(self) -> None:
        puppet, way = from_anywhere(three(), "body", "flinch")
        gone = edits.group_removed(puppet, puppet.transition(way).source)
        self.assertEqual(gone, three())

    def test_a_file_keeps_it(self) -> None:
        puppet, _ = from_anywhere(three(), "body", "flinch", "press_hurt")
        self.assertEqual(puppet_from(puppet_bytes(puppet), "here"), puppet)

    def test_two_of_one_layer_are_a_snag_of_the_second(self) -> None:
        puppet, way = from_anywhere(three(), "body", "flinch")
        again = replace(puppet.group(puppet.transition(way).source), id="again", name="Again")
        puppet = replace(puppet, groups=(*puppet.groups, again))
        self.assertEqual([(snag.id, snag.why) for snag in check(puppet) if "around" in snag.why],
                         [("again", "it is around all of its layer, and so is Anywhere: only the "
                                    "first is")])


class Copying(unittest.TestCase):
    def test_a_copied_seam_is_a_band_of_what_it_was_around(self) -> None:
        puppet, way = from_anywhere(three(), "body", "flinch", "press_hurt")
        parcel = parcel_of(puppet, [puppet.transition(way).source]).puppet
        here, _ = edits.state_added(Puppet(), "Alone", None, None)
        made = pasted(here, parcel, "body").puppet
        self.assertEqual({state.name: [group.name for group in made.groups_around(state)]
                          for state in made.states},
                         {"Alone": [], "Idle": ["Ground", "Anywhere"],
                          "Walk": ["Ground", "Anywhere"], "Flinch": ["Anywhere"]})
        self.assertFalse(any(group.anywhere for group in made.groups))

    def test_on_a_layer_that_holds_nothing_it_stays_a_seam(self) -> None:
        puppet, way = from_anywhere(three(), "body", "flinch")
        parcel = parcel_of(puppet, [puppet.transition(way).source]).puppet
        made = pasted(Puppet(layers=(Layer("body", "body"),)), parcel, "body").puppet
        self.assertEqual([group.name for group in made.groups if group.anywhere], ["Anywhere"])

    def test_spelt_out_by_name_every_tick_is_as_before(self) -> None:
        seen = 0
        for seed in range(1, 250):
            puppet = Shaker(seed).puppet()
            if not any(group.anywhere for group in puppet.groups):
                continue
            seen += 1
            plain = spelt_out(puppet)
            self.assertFalse(any(group.anywhere for group in plain.groups))
            mine, theirs = (random_run_of(compile_puppet(each), Shaker(seed), 25)
                            for each in (puppet, plain))
            self.assertEqual(mine.reports, theirs.reports, seed)
        self.assertGreater(seen, 60)
