"""The weave's layout and routing: what holds for every graph."""

from __future__ import annotations

from itertools import combinations, pairwise

from hypothesis import given
from hypothesis import strategies as some

from tests import strategies
from tests.helpers import Case, demo_puppet
from tests.random_puppets import Shaker
from yarn_puppet.core.model.edits import graph as edits
from yarn_puppet.core.model.graph import Group, State
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.desk.weave.placing.ends import Ends
from yarn_puppet.desk.weave.placing.layout import Box, Layout, lay_out
from yarn_puppet.desk.weave.placing.routing import Thread, distance_to, neighbours, route
from yarn_puppet.desk.weave.placing.sizes import CARDS, CHIPS, DOTS, SIZES

SIZE = some.sampled_from(SIZES)


def inside(one: Box, other: Box) -> bool:
    """Whether a box lies in another."""
    return one.x >= other.x - 0.01 and one.y >= other.y - 0.01 and one.right <= other.right + 0.01 \
        and one.bottom <= other.bottom + 0.01


def all_threads(puppet: Puppet, layout: Layout) -> tuple[Thread, ...]:
    """Every thread that can be grown."""
    ends = Ends(puppet, layout)
    return route(ends, ends.all_tails([*layout.cards,
                                       *(band.group for band in layout.bands if band.group)]))


class Layouts(Case):
    @given(strategies.puppets(), some.floats(330, 1500), SIZE)
    def test_cards_never_overlap_and_lie_in_their_bands_and_on_the_page(
        self, puppet: Puppet, width: float, size: object
    ) -> None:
        layout = lay_out(puppet, width, size=size)  # type: ignore[arg-type]
        self.assertEqual(set(layout.cards),
                         {state.id for state in puppet.states if state.layer == "body"})
        for one, other in combinations(layout.cards.values(), 2):
            self.assertFalse(one.box.meets(other.box))
        for state in puppet.states:
            for group in puppet.groups_around(state):
                band = layout.band_of(group.id)
                assert band is not None
                self.assertEqual(inside(layout.cards[state.id].box, band.box), not band.around,
                                 state.id)
            self.assertLessEqual(layout.cards[state.id].box.right, width)

    @given(strategies.puppets(), SIZE, some.booleans())
    def test_frames_lie_in_their_bands_and_bands_that_are_apart_do_not_meet(
        self, puppet: Puppet, size: object, low: bool
    ) -> None:
        layout = lay_out(puppet, 700, 100 if low else 5000, size)  # type: ignore[arg-type]
        for one, other in combinations(layout.bands, 2):
            around = (
                {group.id for group in puppet.groups_around(puppet.group(other.group))}
                if other.group
                else set()
            )
            back = (
                {group.id for group in puppet.groups_around(puppet.group(one.group))}
                if one.group
                else set()
            )
            if one.group in around and not one.around:
                self.assertTrue(inside(other.box, one.box))
            elif other.group not in back:
                self.assertFalse(one.box.meets(other.box), (one, other))
        self.assertFalse(any(layout.spare.meets(band.box) for band in layout.bands))

    @given(strategies.puppets(), SIZE)
    def test_a_place_in_a_band_is_found_again_where_it_is_drawn(
        self, puppet: Puppet, size: object
    ) -> None:
        layout = lay_out(puppet, 900, size=size)  # type: ignore[arg-type]
        for card in layout.cards.values():
            middle = (card.box.middle, card.box.y + card.box.height / 2)
            self.assertEqual(layout.card_at(*middle), card)
            band = layout.band_of(card.group)
            assert band is not None
            self.assertEqual(layout.place_at(band, middle[0], middle[1], card.state), card.order)
            self.assertEqual(layout.slot(band, card.order), card.box)

    @given(some.integers(0, 5000))
    def test_a_state_put_into_a_place_stands_there_and_the_others_keep_their_order(
        self, seed: int
    ) -> None:
        puppet = Shaker(seed).puppet()
        shaker = Shaker(seed + 1)
        if not puppet.states:
            return
        state = shaker.pick(puppet.states)
        group = shaker.pick([None,
                             *(group.id for group in puppet.groups if group.layer == state.layer)])
        seam = puppet.anywhere(state.layer)
        # What is said to be in the seam of its layer is in no band.
        home = None if seam is not None and group == seam.id else group
        band = [each.state for each in sorted(
            (card for card in lay_out(puppet, 800, layer=state.layer).cards.values()
             if card.group == home and card.state != state.id), key=lambda card: card.order)]
        order = shaker.random.randint(0, len(band))
        after = edits.state_ordered(puppet, state.id, group, order)
        cards = lay_out(after, 800, layer=state.layer).cards
        if state.id not in cards:
            return
        found = [each.state for each in sorted(cards.values(), key=lambda card: card.order)
                 if each.group == cards[state.id].group]
        self.assertEqual(found, [*band[:order], state.id, *band[order:]])

    def test_small_bands_stand_side_by_side_only_where_that_makes_all_of_it_seen(self) -> None:
        groups = tuple(Group(f"g{number}", f"G{number}") for number in range(4))
        states = tuple(State(f"s{number}", f"S{number}", group=f"g{number // 2}")
                       for number in range(8))
        puppet = Puppet(groups=groups, states=states)
        for height, size, beside in ((2000, CARDS, False), (450, CARDS, False), (300, CARDS, True),
                                     (220, CHIPS, True)):
            layout = lay_out(puppet, 762, height)
            self.assertEqual(layout.size, size, height)
            tops = [band.box.y for band in layout.bands if band.depth == 0]
            self.assertEqual(len(set(tops)) < len(tops), beside, height)

    def test_a_folded_band_is_one_line_and_its_states_are_not_shown(self) -> None:
        layout = lay_out(demo_puppet(), 762, folded=frozenset({"ground"}))
        band = layout.band_of("ground")
        assert band is not None
        self.assertTrue(band.folded)
        self.assertNotIn("idle_state", layout.cards)
        self.assertEqual(Ends(demo_puppet(), layout).shown("idle_state"), band)

    @given(some.integers(0, 3000))
    def test_what_did_not_change_does_not_move(self, seed: int) -> None:
        """A state added at the end of a band moves nothing in the rows above it, nor in its own."""
        puppet = Shaker(seed).puppet()
        before = lay_out(puppet, 900, size=DOTS)
        group = puppet.groups[-1].id if puppet.groups else None
        after = lay_out(edits.state_added(puppet, "New", None, group)[0], 900, size=DOTS)
        for card in before.cards.values():
            if card.group == group:
                self.assertEqual(after.cards[card.state].order, card.order)


class Threads(Case):
    def crossed(self, layout: Layout, thread: Thread) -> list[str]:
        """Cards that a thread runs through."""
        found = []
        for card in layout.cards.values():
            box = card.box
            for (ax, ay), (bx, by) in pairwise(thread.points):
                if min(ax, bx) < box.right - 1 and box.x + 1 < max(ax, bx) + 0.01 and \
                        min(ay, by) < box.bottom - 1 and box.y + 1 < max(ay, by) + 0.01:
                    found.append(card.state)
                    break
        return found

    @given(some.integers(0, 20000), SIZE, some.floats(330, 1000))
    def test_threads_run_level_or_upright_and_never_through_a_card(
        self, seed: int, size: object, width: float
    ) -> None:
        puppet = Shaker(seed).puppet()
        layout = lay_out(puppet, width, size=size)  # type: ignore[arg-type]
        for thread in all_threads(puppet, layout):
            for (ax, ay), (bx, by) in pairwise(thread.points):
                self.assertTrue(abs(ax - bx) < 0.01 or abs(ay - by) < 0.01, thread.points)
            self.assertEqual(self.crossed(layout, thread), [], thread.points)

    @given(some.integers(0, 20000), SIZE)
    def test_two_threads_share_no_level_stretch_unless_they_lead_to_the_same(
        self, seed: int, size: object
    ) -> None:
        puppet = Shaker(seed).puppet()
        layout = lay_out(puppet, 762, size=size)  # type: ignore[arg-type]
        # What is not shown itself is led to at the band that stands for it.
        shown = Ends(puppet, layout).shown
        level: dict[float, list[tuple[float, float, object]]] = {}
        for thread in all_threads(puppet, layout):
            for (ax, ay), (bx, by) in pairwise(thread.points):
                if ay == by and abs(ax - bx) > 0.01:
                    level.setdefault(round(ay, 3), []).append(
                        (min(ax, bx), max(ax, bx), shown(thread.target)))
        for stretches in level.values():
            for (a, b, one), (c, d, other) in combinations(stretches, 2):
                self.assertTrue(one == other or b <= c or d <= a, stretches)

    @given(some.integers(0, 20000))
    def test_every_thread_begins_at_its_tail_and_ends_at_its_card_or_band(self, seed: int) -> None:
        puppet = Shaker(seed).puppet()
        layout = lay_out(puppet, 762)
        ends = Ends(puppet, layout)
        for thread in all_threads(puppet, layout):
            target = ends.shown(thread.target)
            assert target is not None
            x, y = thread.points[-1]
            self.assertTrue(inside(Box(x, y, 0, 0), target.box), (thread, target))
            source, other = layout.cards.get(thread.source), layout.cards.get(thread.target)
            if source is None or other is None or not neighbours(layout, source, other):
                tail = next(each for each in ends.tails(thread.source)
                            if each.transition == thread.transition)
                self.assertEqual(thread.points[0], tail.start)

    def test_tails_are_one_a_transition_in_order_and_lie_below_their_card(self) -> None:
        puppet = demo_puppet()
        layout = lay_out(puppet, 762)
        ends = Ends(puppet, layout)
        for state in puppet.states:
            tails, box = ends.tails(state.id), layout.cards[state.id].box
            self.assertEqual([tail.transition for tail in tails],
                             [each.id for each in puppet.transitions_of(state.id)])
            xs = [tail.start[0] for tail in tails]
            self.assertEqual(xs, sorted(set(xs)))
            self.assertTrue(all(box.x < x < box.right for x in xs))

    def test_routing_is_the_same_every_time(self) -> None:
        layout = lay_out(demo_puppet(), 740)
        self.assertEqual(all_threads(demo_puppet(), layout), all_threads(demo_puppet(), layout))

    def test_how_far_a_point_is_from_a_thread(self) -> None:
        thread = Thread("t", "a", "b", 1, ((0, 0), (0, 10), (20, 10)))
        for point, expected in (((0, 5), 0), ((3, 5), 3), ((10, 14), 4), ((24, 10), 4)):
            self.assertAlmostEqual(distance_to(thread, *point), expected)
        self.assertEqual(thread.label, (10.0, 10))
