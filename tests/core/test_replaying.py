"""A dummy that replays a take is the puppet once more: it goes where that goes, and hits and guards
as it does."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from unittest import mock

from hypothesis import given, settings
from msgspec.structs import replace

from tests.core.test_demo_promises import presses
from tests.core.test_moments import SWING, beside, striker
from tests.depth import examples
from tests.helpers import Case, Press, controls, demo_puppet, demo_world, run, run_controls
from yarn_puppet.core.formats.puppet_file import load_puppet
from yarn_puppet.core.model.events import Moment
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.model.world import Dummy, Opponent, World
from yarn_puppet.core.takes.again.touched import first_touched
from yarn_puppet.core.takes.recording import run_again, take_of
from yarn_puppet.core.takes.run import Record, Setup, advance, set_up
from yarn_puppet.demo import DEMO_PUPPET

PELL = load_puppet(DEMO_PUPPET)
WIDE = World("wide", ("." * 90, "." * 90, "." * 90, "." * 90, "." * 90, "#" * 90), 400.0, 80.0)
GROUND = 80.0


def replaying(pressed: list[Press], ticks: int, x: float, rate: int = 60, **more: object) -> Dummy:
    """A dummy under these hands."""
    take = take_of(controls(pressed, ticks), None, rate)
    return Dummy("twin", x, GROUND, 16.0, 44.0, does="replays", plays="a take", hands=take.controls,
                 long=ticks,
                 hands_rate=rate, **more)  # type: ignore[arg-type]


def with_twin(dummy: Dummy, puppet: Puppet = PELL) -> Setup:
    """Pell at x 400 on flat ground, and the dummy."""
    return set_up(puppet, replace(WIDE, dummies=(dummy,)))


def health_of(record: Record) -> int:
    """What is left of the puppet's health."""
    assert record.after.booth is not None
    return record.after.booth.health


class Replaying(Case):
    @settings(max_examples=examples(25))
    @given(presses())
    def test_it_goes_where_the_puppet_goes_and_round_and_round(self, pressed: list[Press]) -> None:
        puppet, world = demo_puppet(), replace(demo_world(), dummies=())
        alone = run_controls(set_up(puppet, world), controls(pressed, 90))
        take = take_of(controls(pressed, 90), None, 60)
        twin = Dummy("twin", world.start_x, world.start_y, does="replays", hands=take.controls,
                     long=90)
        # The puppet itself is kept away from it.
        there = replace(world, dummies=(twin,), start_x=world.start_x + 200)
        for tick, record in enumerate(run_controls(set_up(puppet, there), controls([], 200))):
            booth, then = record.after.booth, alone[tick % 90].after.booth
            assert booth is not None and then is not None
            state = booth.dummies[0]
            if not state.shoved and state.last < 0:
                self.assertAlmostEqual(twin.x + state.moved, then.body.x, places=9)
                self.assertAlmostEqual(twin.y + state.down, then.body.y, places=9)

    def test_its_swing_hurts_in_the_tick_in_which_it_would_hit(self) -> None:
        swing: list[Press] = [(10, 13, "attack")]
        face: list[Press] = [(0, 3, "left"), *swing]
        # Where would Pell's own swing hit a straw dummy that stands as far away?
        straw = Dummy("straw", 400.0 - 34, GROUND, 16.0, 44.0)
        own = [tick for tick, record in enumerate(run(with_twin(straw), face, 80))
               if record.after.booth and record.after.booth.hits]
        twin = replaying([(0, 3, "right"), *swing], 80, 400.0 - 34)
        records = run(with_twin(twin), [], 80)
        hurt = [tick for tick, record in enumerate(records)
                if record.after.booth and record.after.booth.blows]
        self.assertEqual(len(own), 1)
        self.assertEqual(hurt, own)
        blow = records[hurt[0]].after.booth.blows[0]  # type: ignore[union-attr]
        self.assertEqual(blow.how, "hurt")
        self.assertLess(health_of(records[-1]), health_of(records[0]))

    def test_every_window_of_every_layer_strikes_once_in_a_pass_as_the_puppets_own_do(self) -> None:
        swing = PELL.clip("light_swing")
        assert swing is not None
        hit = replace(swing.windows[0], push=0.0, hit_stop=0)
        # Two windows over each other, and another layer that swings round and round with windows of
        # the same numbers.
        two = replace(swing, windows=(hit,
                                      replace(hit, id="wider", start=hit.start - 40.0,
                                              end=hit.end + 40.0)))
        puppet = replace(
            PELL, clips=(*[two if clip is swing else clip for clip in PELL.clips],
                         replace(two, id="round", name="round", mode="loop", moments=())),
            states=tuple(replace(state, clip="round") if state.id == "arms_free" else state
                         for state in PELL.states))
        pressed: list[Press] = [(10, 13, "attack"), (50, 53, "attack")]
        straw = Dummy("straw", 400.0 + 34, GROUND, 20.0, 50.0)
        own = [len(record.after.booth.hits)  # type: ignore[union-attr]
               for record in run(with_twin(straw, puppet), [(0, 3, "right"), *pressed], 200)]
        twin = replaying([(0, 3, "right"), *pressed], 200, 400.0 - 34)
        blows = [len(record.after.booth.blows)  # type: ignore[union-attr]
                 for record in run(with_twin(twin, puppet), [], 200)]
        self.assertEqual(sum(own), 2 * 2 + 2 * (200 // 26 + 1))
        self.assertEqual(sum(blows), sum(own))
        self.assertEqual({blow for blow in blows if blow}, {2},
                         "both of a clip, in the tick in which they meet")

    def test_it_is_guarded_and_safe_as_from_any_other(self) -> None:
        twin = replaying([(0, 3, "right"), (30, 33, "attack")], 120, 400.0 - 34)
        guarded = run(with_twin(twin), [(0, 3, "left"), (12, 90, "guard")], 90)
        hows = [blow.how for record in guarded
                for blow in record.after.booth.blows]  # type: ignore[union-attr]
        self.assertEqual(hows, ["guarded"])
        self.assertEqual(health_of(guarded[-1]), health_of(guarded[0]))
        safe = run(with_twin(twin), [(0, 3, "left"), (34, 38, "roll")], 90)
        self.assertNotIn("hurt",
                         [blow.how for record in safe
                          for blow in record.after.booth.blows])  # type: ignore[union-attr]

    def test_it_guards_with_its_guard_window_and_only_towards_the_blow(self) -> None:
        for side, guards in (("left", True), ("right", False)):
            with self.subTest(side):
                twin = replaying([(0, 3, side), (12, 118, "guard")], 120, 400.0 + 34, health=20)
                records = run(with_twin(twin), [(40, 43, "attack")], 100)
                states = [record.after.booth.dummies[0] for record in records if record.after.booth]
                self.assertGreater(states[-1].hits, 0)
                self.assertEqual((states[-1].guarded, states[-1].health == 20), (guards, guards))

    def test_while_it_reels_it_stands_still_in_its_take(self) -> None:
        twin = replaying([(0, 110, "left")], 120, 400.0 + 60, reels=20)
        records = run(with_twin(twin), [(8, 11, "attack")], 100)
        clocks = [record.after.booth.dummies[0].clock for record in records if record.after.booth]
        hit = next(tick for tick, record in enumerate(records)
                   if record.after.booth and record.after.booth.hits)
        self.assertEqual(clocks[hit + 1:hit + 16], [clocks[hit]] * 15)
        self.assertGreater(clocks[-1], clocks[hit])

    def test_at_another_rate_it_plays_as_long(self) -> None:
        twin = replaying([(0, 60, "right")], 60, 700.0)
        for rate in (30, 60, 120, 240):
            setup = with_twin(twin, replace(PELL, rate=rate))
            self.assertEqual(len(setup.tracks[0]), rate)
            self.assertAlmostEqual(setup.tracks[0][-1].across, 84, delta=5)

    def test_nothing_of_it_is_run_before_the_run_comes_there(self) -> None:
        """Minutes that a dummy replays cost an edit nothing, and a run no more than its length."""
        asked = mock.Mock(side_effect=advance)
        with mock.patch("yarn_puppet.core.takes.run.advance", asked):
            setup = with_twin(replaying([], 3600, 420))
            self.assertEqual((asked.call_count, len(setup.tracks[0])), (0, 3600))
            run_controls(setup, controls([], 10))
            self.assertLessEqual(asked.call_count, 10 + 11)
            self.assertEqual(setup.tracks[0][3599], setup.tracks[0][-1])
            self.assertLessEqual(asked.call_count, 3600 + 11)
        with self.assertRaises(IndexError):
            setup.tracks[0][3600]

    def test_threads_that_ask_at_once_see_the_same_ticks(self) -> None:
        hands: list[Press] = [(3, 40, "right"), (50, 52, "attack")]
        one = list(with_twin(replaying(hands, 300, 420)).tracks[0])
        for _ in range(5):
            other = with_twin(replaying(hands, 300, 420)).tracks[0]
            with ThreadPoolExecutor(4) as pool:
                found = list(pool.map(lambda _, other=other: list(other), range(4)))
            self.assertEqual(found, [one] * 4)

    def test_an_edit_of_another_puppet_leaves_it_as_it_is(self) -> None:
        for cast in ("", "other.puppet.json"):
            twin = replace(replaying([], 60, 420), cast=cast)
            world = replace(WIDE, dummies=(twin,), opponents=(Opponent("other.puppet.json", PELL),))
            before = set_up(striker(), world)
            after = set_up(replace(before.puppet, name="edited"), world)
            self.assertEqual(after.tracks[0] is before.tracks[0], bool(cast))
            again = set_up(before.puppet, replace(world, rows=("." * 90, *world.rows[1:])))
            self.assertIsNot(again.tracks[0], before.tracks[0], "it is another world")

    def test_an_edit_touches_what_it_replays(self) -> None:
        # Nobody but the dummy swings: what is edited of the swing is first felt there.
        twin = replaying([(0, 3, "right"), (30, 33, "attack")], 120, 400.0 - 34)
        pressed = controls([], 140)
        before = with_twin(twin)
        slower = replace(PELL, states=tuple(
            replace(state, speed=0.5) if state.id == "light_swing_state" else state
            for state in PELL.states))
        after = with_twin(twin, slower)
        *_, old = run_again(before, pressed)
        touched = first_touched(before, after, old.first_seen, len(old))
        self.assertTrue(20 < touched < 45, touched)
        *_, part = run_again(after, pressed, old.up_to(touched))
        *_, whole = run_again(after, pressed)
        self.assertEqual([record.after.booth for record in part],
                         [record.after.booth for record in whole])
        self.assertNotEqual([record.after.booth for record in old],
                            [record.after.booth for record in whole])

    def test_one_with_no_take_only_stands_there(self) -> None:
        records = run(with_twin(Dummy("twin", 430.0, GROUND, does="replays")), [], 30)
        self.assertEqual(records[-1].after.booth.dummies[0].moved, 0.0)  # type: ignore[union-attr]


class ClipsShown(Case):
    """Effects, props and projectiles that are clips of the puppet."""

    def effects(self, moment: Moment, ticks: int = 80) -> list[int]:
        """In how many ticks an effect is there."""
        records = run(beside(striker(moment)), SWING, ticks)
        return [record.report.tick
                for record in records if record.after.booth and record.after.booth.effects]

    def test_played_once_it_lasts_as_long_as_its_clip(self) -> None:
        # The idle clip is one frame of 50 ms: three ticks.
        self.assertEqual(len(self.effects(Moment("m", 0, "effect", "puff", clip="idle"))), 3)
        self.assertEqual(len(self.effects(Moment("m", 0, "effect", "puff", clip="strike"))), 12)

    def test_played_round_it_lasts_as_long_as_the_visit(self) -> None:
        records = run(beside(striker(Moment("m", 0, "effect", "puff", clip="idle", round=True))),
                      SWING, 80)
        there = [record.report.tick
                 for record in records if record.after.booth and record.after.booth.effects]
        striking = [record.report.tick
                    for record in records if record.report.layers[0].state == "s"]
        self.assertEqual(there, striking)

    def test_a_clip_that_is_gone_is_shown_as_before_and_is_a_snag(self) -> None:
        self.assertEqual(len(self.effects(Moment("m", 0, "effect", "puff", clip="gone"))), 24)
        from yarn_puppet.core.snags.check import check

        self.assertIn("a moment shows the clip gone, which is not there", [
            snag.why for snag in check(striker(Moment("m", 0, "effect", "puff", clip="gone")))])

    def test_a_projectile_hits_where_its_clips_hit_boxes_are(self) -> None:
        # A box from 10 to 30 right of the left edge, the pivot at 10: 0 to 20 before it.
        plain = Moment("m", 0, "launch", "dart", speed=300.0)
        wide = replace(plain, clip="strike")
        ticks = []
        for moment in (plain, wide):
            records = run(beside(striker(moment), 520.0), SWING, 80)
            ticks.append(next(tick for tick, record in enumerate(records)
                              if record.after.booth and any(
                                  hit.layer == "" for hit in record.after.booth.hits)))
        # 16 pixels further ahead, at 5 a tick.
        self.assertEqual(ticks[0] - ticks[1], 3)

    def test_with_its_clip_removed_it_shows_none(self) -> None:
        from yarn_puppet.core.model.edits.clips import clip_removed

        puppet = striker(Moment("m", 0, "effect", "puff", clip="idle"))
        left = clip_removed(puppet, "idle")
        self.assertIsNone(left.clips[0].moments[0].clip)
