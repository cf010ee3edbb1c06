"""The weave's layout and routing: what holds for every graph."""

from __future__ import annotations

from itertools import combinations, pairwise

from hypothesis import given
from hypothesis import strategies as some

from tests import strategies
from tests.helpers import Case, demo_puppet
from yarn_puppet.core.model.edits import graph as edits
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.desk.weave.layout import Box, Layout, columns, lay_out
from yarn_puppet.desk.weave.routing import Thread, distance_to, route


def overlap(one: Box, other: Box) -> bool:
    """Whether two boxes share more than an edge."""
    return one.x < other.right and other.x < one.right and one.y < other.bottom and other.y < one.bottom


def inside(one: Box, other: Box) -> bool:
    """Whether a box lies in another."""
    return one.x >= other.x - 0.01 and one.y >= other.y - 0.01 and one.right <= other.right + 0.01 \
        and one.bottom <= other.bottom + 0.01


class Layouts(Case):
    @given(strategies.puppets(), some.floats(200, 1500))
    def test_cards_never_overlap_and_lie_in_their_bands(self, puppet: Puppet, width: float) -> None:
        layout = lay_out(puppet, width)
        self.assertEqual(set(layout.cards), {state.id for state in puppet.states})
        for one, other in combinations(layout.cards.values(), 2):
            self.assertFalse(overlap(one.box, other.box))
        for state in puppet.states:
            band = layout.band_of(state.group)
            assert band is not None
            self.assertTrue(inside(layout.cards[state.id].box, band.box), state.id)

    @given(strategies.puppets())
    def test_inner_bands_lie_in_outer_ones_and_others_do_not_meet(self, puppet: Puppet) -> None:
        layout = lay_out(puppet, 700)
        for one, other in combinations(layout.bands, 2):
            around = {group.id for group in puppet.groups_around(puppet.group(other.group))} if other.group else set()
            back = {group.id for group in puppet.groups_around(puppet.group(one.group))} if one.group else set()
            if one.group in around:
                self.assertTrue(inside(other.box, one.box))
            elif other.group not in back:
                self.assertFalse(overlap(one.box, other.box))
        self.assertFalse(any(overlap(layout.spare, band.box) for band in layout.bands))

    @given(strategies.puppets())
    def test_a_place_in_a_band_is_found_again_where_it_is_drawn(self, puppet: Puppet) -> None:
        layout = lay_out(puppet, 900)
        for card in layout.cards.values():
            middle = (card.box.x + card.box.width / 2, card.box.y + card.box.height / 2)
            self.assertEqual(layout.card_at(*middle), card)
            band = layout.band_at(*middle)
            assert band is not None
            self.assertEqual((band.row, layout.place_at(band, middle[0])), (card.row, card.column))
            self.assertEqual(layout.slot(band, card.column), card.box)

    def test_places_leave_gaps_and_states_without_one_fill_them(self) -> None:
        puppet = demo_puppet()
        states = tuple(edits.state_changed(puppet, "walk_state", place=None).states)
        ground = tuple(state for state in states if state.group == "ground")
        self.assertEqual(columns(ground), {"idle_state": 0, "crouch_state": 2, "walk_state": 1})


class Threads(Case):
    def crossed(self, layout: Layout, thread: Thread, ends: set[str]) -> list[str]:
        """Cards that a thread runs through, other than those at its ends."""
        found = []
        for card in layout.cards.values():
            if card.state in ends:
                continue
            box = card.box
            for (ax, ay), (bx, by) in pairwise(thread.points):
                stretch = Box(min(ax, bx), min(ay, by), abs(ax - bx), abs(ay - by))
                if stretch.x < box.right - 1 and box.x + 1 < stretch.right + 0.01 and \
                        stretch.y < box.bottom - 1 and box.y + 1 < stretch.bottom + 0.01:
                    found.append(card.state)
                    break
        return found

    @given(strategies.puppets())
    def test_threads_run_level_or_upright_and_around_other_cards(self, puppet: Puppet) -> None:
        layout = lay_out(puppet, 900)
        by_id = {each.id: each for each in puppet.transitions}
        for thread in route(puppet, layout):
            each = by_id[thread.transition]
            for (ax, ay), (bx, by) in pairwise(thread.points):
                self.assertTrue(abs(ax - bx) < 0.6 or abs(ay - by) < 0.6, thread.points)
            self.assertEqual(self.crossed(layout, thread, {each.source, each.target}), [], thread.points)

    def test_the_demos_threads_have_ends_of_their_own(self) -> None:
        layout = lay_out(demo_puppet(), 740)
        ends = [thread.points[place] for thread in route(demo_puppet(), layout) for place in (0, -1)]
        self.assertEqual(len(ends), len(set(ends)))

    def test_routing_is_the_same_every_time(self) -> None:
        layout = lay_out(demo_puppet(), 740)
        self.assertEqual(route(demo_puppet(), layout), route(demo_puppet(), layout))

    def test_how_far_a_point_is_from_a_thread(self) -> None:
        thread = Thread("t", ((0, 0), (0, 10), (20, 10)), (10, 10))
        for point, expected in (((0, 5), 0), ((3, 5), 3), ((10, 14), 4), ((24, 10), 4)):
            self.assertAlmostEqual(distance_to(thread, *point), expected)
