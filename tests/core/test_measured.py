"""What a run comes to in numbers; what just happened, as promises; whether one can get
somewhere."""

from __future__ import annotations

import numpy as np
from hypothesis import given
from hypothesis import strategies as some
from msgspec.structs import replace

from tests.core.test_moments import SWING, beside, striker
from tests.helpers import Case, clip, demo_setup, puppet_of, run
from yarn_puppet.core.art.feet import Feet, feet_in, shifts
from yarn_puppet.core.booth.body import Body
from yarn_puppet.core.formats.puppet_file import load_puppet
from yarn_puppet.core.formats.take_file import load_take
from yarn_puppet.core.model.clips import Clip
from yarn_puppet.core.model.events import Moment, Rule
from yarn_puppet.core.model.graph import State
from yarn_puppet.core.model.promise import Happening, Promise
from yarn_puppet.core.takes.controls import controls_of
from yarn_puppet.core.takes.measured import Sliding as Slid
from yarn_puppet.core.takes.measured import responses, slides, sliding, steps
from yarn_puppet.core.takes.promising.promises import judged
from yarn_puppet.core.takes.promising.reaching import MOST_TRIED, controls_tried, way_to
from yarn_puppet.core.takes.promising.suggesting import promises_from
from yarn_puppet.core.takes.recording import run_again
from yarn_puppet.core.takes.run import Record, replay, set_up
from yarn_puppet.demo import DEMO_PUPPET, DEMO_TAKE
from yarn_puppet.desk.takes.findings import measures


def standing_at(*places: int) -> Feet:
    """Feet of ten pixels that begin at these places beside the pivot."""
    alpha = np.zeros((20, 120), dtype=np.uint8)
    for place in places:
        alpha[14:20, 60 + place:70 + place] = 255
    found = feet_in(alpha, 60)
    assert found is not None
    return found


class Standing(Case):
    def test_what_stands_is_found_and_mirrored_about_the_pivot(self) -> None:
        self.assertEqual(np.flatnonzero(standing_at(-4)).tolist(), list(range(44, 54)))
        alpha = np.zeros((9, 30), dtype=np.uint8)
        alpha[4:9, 20:26] = 255
        right, left = feet_in(alpha, 15.0), feet_in(alpha, 15.0, mirrored=True)
        assert right is not None and left is not None
        self.assertEqual(right.tolist(), [*left.tolist()[-2::-1], False][:len(left)])
        self.assertIsNone(feet_in(np.zeros((5, 5), dtype=np.uint8), 2))

    @given(some.integers(-20, 20), some.integers(-14, 14))
    def test_a_foot_that_moved_is_the_same_foot(self, place: int, by: int) -> None:
        self.assertEqual(shifts(standing_at(place), standing_at(place + by)), (float(by),))

    def test_one_too_far_off_or_of_another_width_is_another(self) -> None:
        self.assertEqual(shifts(standing_at(-20), standing_at(20)), ())
        self.assertEqual(shifts(standing_at(0, 8), standing_at(0)), ())


class Sliding(Case):
    """A clip of two frames of five ticks, on a body that is moved by two pixels a tick."""

    def moved(self, walk: Clip, by: float) -> list[Record]:
        """A run of sixty ticks of a clip, its body moved by so much in each."""
        records = run(set_up(puppet_of([walk], [State("w", "Walk", clip="walk")], []),
                             demo_setup().world), [], 60)
        moved = []
        for tick, record in enumerate(records):
            booth = record.after.booth
            assert booth is not None
            body: Body = booth.body._replace(x=by * tick, mode="ground")
            moved.append(record._replace(after=record.after._replace(
                booth=booth._replace(body=body))))
        return moved

    def slid(self, second: int, by: float = 2.0) -> list[float]:
        """How far feet slid whose second frame stands so far beside the first."""
        walk = clip("walk", [83.4, 83.4])
        moved = self.moved(walk, by)
        feet = {"walk": [standing_at(0), standing_at(second)]}
        return [slide.to_x - slide.from_x for slide in slides(moved, feet)]

    def test_feet_that_stand_on_a_moving_body_slide_as_far_as_it_goes(self) -> None:
        found = self.slid(0)
        self.assertEqual(len(found), 1)
        self.assertAlmostEqual(found[0], 2 * 55, delta=12)

    def test_feet_that_step_do_not(self) -> None:
        # The second foot is another: too far ahead to be the first.
        self.assertEqual(self.slid(40), [])

    def test_feet_that_go_back_as_the_body_goes_on_do_not_but_forward_they_slide_twice_as_far(
        self,
    ) -> None:
        # Two frames go round: every other time the feet go back by ten as the body goes on by ten,
        # and then forward.
        self.assertAlmostEqual(sum(self.slid(-10)), 5 * 20, delta=21)

    def fast(self, feet: list[Feet | None], by: float) -> Slid:
        """Of a clip whose frames last a tick each, the body moved by so much in each."""
        walk = clip("walk", [1000 / 60] * len(feet))
        return sliding(self.moved(walk, by), {"walk": feet})

    def test_within_short_frames_it_is_said_too(self) -> None:
        for by in (0.4, 1.5, -1.5):
            found = self.fast([standing_at(0)] * 6, by)
            self.assertAlmostEqual(sum(slide.to_x - slide.from_x for slide in found.slides),
                                   by * 59, delta=2.5)
            self.assertEqual(found.unmeasured, ())
        # The feet go back by whole pixels as the body goes on: three in two ticks.
        back = [standing_at(20 - int(1.5 * tick) % 40) for tick in range(60)]
        self.assertEqual(self.fast(list(back), 1.5).slides, ())

    def test_where_no_foot_is_one_of_the_frame_before_it_says_that_it_cannot_tell(self) -> None:
        found = self.fast([standing_at(0), standing_at(40)], 1.5)
        self.assertEqual((found.slides, found.unmeasured), ((), (("w", 59),)))
        self.assertEqual(self.fast([standing_at(0), standing_at(40)], 0.0).unmeasured, ())
        rests = [measure.rest for measure in measures((), found, (), 60)]
        self.assertEqual(
            rests, ["in 59 ticks it cannot be measured: the feet are not those of the frame before"]
        )

    def test_nothing_slides_that_stands_still(self) -> None:
        self.assertEqual(self.slid(0, 0.0), [])


class Numbers(Case):
    def test_ticks_to_the_state_the_hit_and_moving_again(self) -> None:
        puppet = striker()
        locked = replace(puppet, states=tuple(
            replace(state, rules=(Rule("lock_movement"),)) if state.id == "s" else state
            for state in puppet.states))
        setup = beside(locked, 420.0)
        records = run(setup, SWING, 60)
        found = responses(records)
        self.assertEqual([each.action for each in found], ["attack"])
        entered = next(tick for tick, record in enumerate(records) if record.report.taken)
        hit = next(tick for tick, record in enumerate(records)
                   if record.after.booth and record.after.booth.hits)
        free = next(tick for tick in range(entered + 1, 60)
                    if not records[tick].report.lock_movement)
        self.assertEqual(found[0][1:], (10, "Strike", entered - 10, hit - 10, free - 10))

    def test_what_a_later_press_of_another_action_leads_to_is_not_of_the_first(self) -> None:
        records = list(replay(set_up(load_puppet(DEMO_PUPPET), demo_setup().world),
                              load_take(DEMO_TAKE)))
        found = {(response.action, response.pressed): response for response in responses(records)}
        jump, attack = found["jump", 352], found["attack", 402]
        self.assertEqual((jump.state, jump.to_hit), ("Rise", None))
        self.assertEqual(attack.to_hit, 13)

    def test_a_press_that_leads_to_nothing_is_not_listed(self) -> None:
        self.assertEqual(responses(run(beside(striker()), [(10, 40, "attack")], 60)), ())

    def test_steps_and_the_way_between_them(self) -> None:
        step = Moment("m", 0, "sound", "soft_step")
        walk = replace(clip("walk", [100, 100]), mode="loop", moments=(step,))
        setup = set_up(puppet_of([walk], [State("w", "Walk", clip="walk")], []), demo_setup().world)
        records = run(setup, [(0, 121, "right")], 121)
        found = steps(records)
        self.assertEqual([(each.name, each.times) for each in found], [("soft_step", 11)])
        self.assertGreater(found[0].pixels, 100)


class Getting(Case):
    def run_of(self, locked: bool) -> list[Record]:
        """Struck once; what leads back may be missing."""
        puppet = striker()
        if locked:
            puppet = replace(puppet,
                             transitions=tuple(
                                 transition for transition in puppet.transitions
                                 if transition.id != "back"))
        return run(beside(puppet), SWING, 40)

    def test_one_can_get_back_or_the_verdict_says_how_much_was_tried(self) -> None:
        promise = Promise("can", Happening("state", "s"), Happening("state", "i"), ticks=60)
        kept = judged(promise, self.run_of(False))
        self.assertTrue(kept.kept)
        self.assertIn("worst", kept.words)
        broken = judged(promise, self.run_of(True))
        self.assertEqual((broken.kept, broken.tick), (False, 10 + 3 - 1))
        self.assertIn("no way to Idle was found", broken.words)

    def test_a_way_that_is_found_is_a_way(self) -> None:
        record = run(beside(striker()), [], 5)[-1]
        way, tried = way_to(record, lambda at: at.report.layers[0].state == "s", 40)
        self.assertGreater(tried, 0)
        assert way is not None
        self.assertEqual(way.controls[0], frozenset({"attack"}))
        self.assertLess(way.ticks, 20)
        none, tried = way_to(record, lambda at: False, 24)
        self.assertIsNone(none)
        # Every pair of stretches that was played, and no more than those.
        self.assertLessEqual(tried, MOST_TRIED)
        self.assertEqual(way_to(record, lambda at: False, 8),
                         (None, len(controls_tried(record.setup))))

    def test_what_just_happened_is_offered_and_kept(self) -> None:
        setup = demo_setup()
        from yarn_puppet.core.formats.take_file import load_take

        *_, whole = run_again(setup, list(controls_of(load_take(DEMO_TAKE))))
        records = list(whole)
        for tick in (0, 40, 140, 200, 260, 499):
            for promise in promises_from(whole, tick):
                self.assertTrue(judged(promise, records).kept, promise)
        kinds = {promise.kind for promise in promises_from(whole, 140)}
        self.assertLessEqual({"then", "hits", "lasts"}, kinds)

