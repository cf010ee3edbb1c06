"""A dummy that answers: two puppets in one booth, and neither is more than the other."""

from __future__ import annotations

from hypothesis import given, settings
from hypothesis import strategies as some
from msgspec.structs import replace

from tests.core.test_demo_promises import presses
from tests.depth import examples
from tests.helpers import Case, Press, controls, run, run_controls
from yarn_puppet.core.booth.booth_state import BoothState
from yarn_puppet.core.engine.state import Report
from yarn_puppet.core.formats.booth_file import booth_bytes, booth_from
from yarn_puppet.core.formats.puppet_file import load_puppet
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.model.world import Dummy, Opponent, World
from yarn_puppet.core.takes.recording import carried, run_again, take_of
from yarn_puppet.core.takes.run import Record, Setup, set_up
from yarn_puppet.demo import DEMO_PUPPET

PELL = load_puppet(DEMO_PUPPET)
WIDE = World("wide", ("." * 90, "." * 90, "." * 90, "." * 90, "." * 90, "#" * 90), 400.0, 80.0)
GROUND, HERE, THERE = 80.0, 400.0, 434.0


def answering(
    pressed: list[Press], ticks: int, x: float, rate: int = 60, **more: object
) -> Dummy:
    """A dummy that answers, under these hands."""
    take = take_of(controls(pressed, ticks), None, rate)
    return Dummy("twin", x, GROUND, 16.0, 44.0, does="answers", plays="a take", hands=take.controls,
                 long=ticks, hands_rate=rate, **more)  # type: ignore[arg-type]


def facing(own: float, dummy: Dummy, puppet: Puppet = PELL, world: World = WIDE) -> Setup:
    """A puppet at an x on flat ground, and the dummy."""
    return set_up(puppet, replace(world, start_x=own, dummies=(dummy,)))


def own(record: Record) -> tuple[Report, BoothState]:
    """What is told of the puppet."""
    assert record.after.booth is not None
    return record.report, record.after.booth


def twin(record: Record) -> tuple[Report, BoothState]:
    """What is told of who answers."""
    assert record.after.booth is not None
    answerer = record.after.booth.answerers[0]
    assert answerer is not None and answerer.report is not None
    return answerer.report, answerer.booth


def seen(told: tuple[Report, BoothState]) -> tuple[object, ...]:
    """All of one of two that does not depend on which of the two it is."""
    report, booth = told
    return (report, booth.body, booth.effects, booth.shots, booth.props, booth.shake, booth.stop,
            booth.health, booth.facing, booth.reported_senses, booth.news,
            [(hit.window, hit.damage, hit.push, hit.visit, hit.cycle) for hit in booth.hits],
            [(blow.damage, blow.push, blow.how) for blow in booth.blows])


FIGHTS: list[list[Press]] = [
    [(5, 8, "attack"), (60, 63, "attack"), (120, 160, "guard")],
    [(0, 2, "left"), (4, 7, "attack"), (50, 120, "guard"), (150, 153, "attack")],
    [(3, 40, "attack"), (80, 83, "attack"), (90, 93, "attack"), (100, 103, "attack")],
]


class BothAlike(Case):
    def swapped(self, mine: list[Press], its: list[Press], ticks: int = 200) -> int:
        """Run it from both sides: who was the puppet answers, and who answered is the puppet."""
        one = run_controls(facing(HERE, answering(its, ticks, THERE)), controls(mine, ticks))
        other = run_controls(facing(THERE, answering(mine, ticks, HERE)), controls(its, ticks))
        hits = 0
        for tick, (here, there) in enumerate(zip(one, other, strict=True)):
            self.assertEqual(seen(own(here)), seen(twin(there)), tick)
            self.assertEqual(seen(twin(here)), seen(own(there)), tick)
            hits += len(own(here)[1].hits) + len(own(here)[1].blows)
        return hits

    def test_whoever_is_ours_each_tick_of_a_fight_is_the_same_with_the_two_exchanged(self) -> None:
        happened = sum(self.swapped(mine, [(0, 3, "left"), *its])
                       for mine in FIGHTS for its in FIGHTS)
        self.assertGreater(happened, 12)

    @settings(max_examples=examples(20))
    @given(presses(), presses())
    def test_under_any_hands(self, mine: list[Press], its: list[Press]) -> None:
        self.swapped(mine, its, 90)


class Answering(Case):
    def test_who_is_hit_flinches_loses_health_and_is_pushed_and_both_are_held(self) -> None:
        records = run(facing(HERE, answering([], 200, THERE)), [(5, 8, "attack")], 120)
        hit = next(tick for tick, record in enumerate(records) if own(record)[1].hits)
        self.assertEqual(twin(records[hit])[1].blows[0].how, "hurt")
        stop = own(records[hit])[1].stop
        self.assertGreater(stop, 0)
        self.assertEqual(twin(records[hit])[1].stop, stop)
        states = [PELL.state(twin(record)[0].layers[0].state).name  # type: ignore[union-attr]
                  for record in records[hit + stop:]]
        self.assertIn("Flinch", states)
        self.assertLess(twin(records[-1])[1].health, PELL.mover.health)
        self.assertGreater(twin(records[-1])[1].body.x, THERE + 2)
        self.assertIn("Idle", states[states.index("Flinch"):], "and it comes to itself again")

    def test_its_guard_faces_the_blow_or_does_not(self) -> None:
        for turned, how in ((True, "guarded"), (False, "hurt")):
            hands: list[Press] = [(0, 3, "left")] if turned else []
            held: list[Press] = [*hands, (8, 190, "guard")]
            records = run(facing(HERE, answering(held, 200, THERE + 6)), [(30, 33, "attack")], 120)
            met = [blow.how for record in records for blow in twin(record)[1].blows]
            self.assertEqual(met, [how])

    def test_our_hit_is_news_to_us_and_its_hit_to_it(self) -> None:
        attack: list[Press] = [(5, 8, "attack")]
        landed = next(index for index, sense in enumerate(PELL.senses) if sense.id == "hit_landed")
        ours = run(facing(HERE, answering([], 100, THERE)), attack, 60)
        self.assertTrue(any(record.report.senses[landed] for record in ours))
        self.assertFalse(any(twin(record)[0].senses[landed] for record in ours))
        turned: list[Press] = [(0, 3, "left"), (8, 11, "attack")]
        its = run(facing(HERE, answering(turned, 100, THERE)), [], 60)
        self.assertTrue(any(twin(record)[0].senses[landed] for record in its))
        self.assertIn("Flinch", [PELL.state(record.report.layers[0].state).name  # type: ignore[union-attr]
                                 for record in its])

    def test_it_does_as_its_hands_do_round_and_round_till_something_happens(self) -> None:
        walk: list[Press] = [(0, 30, "right")]
        records = run(facing(60.0, answering(walk, 60, THERE)), [], 180)
        starts = [twin(records[tick])[1].body.x for tick in (59, 119, 179)]
        self.assertGreater(starts[1] - starts[0], 30)
        self.assertAlmostEqual(starts[1] - starts[0], starts[2] - starts[1], 6)

    def test_with_no_hands_it_stands_and_a_file_keeps_what_it_is(self) -> None:
        dummy = Dummy("twin", THERE, GROUND, does="answers", mix=("press_attack",))
        records = run(facing(HERE, dummy), [], 30)
        self.assertEqual(twin(records[-1])[1].body.x, THERE)
        world = replace(WIDE, dummies=(dummy,))
        self.assertEqual(booth_from(booth_bytes(world)), world)


class Edited(Case):
    def test_an_edit_of_the_puppet_leaves_who_answers_where_it_was(self) -> None:
        setup = facing(HERE, answering([(0, 40, "right")], 60, THERE))
        records = run(setup, [], 50)
        changed = replace(PELL, mover=replace(PELL.mover, walk_speed=PELL.mover.walk_speed + 10))
        after = set_up(changed, setup.world)
        state = carried(setup, after, records[-1].after, records[-1])
        assert state.booth is not None
        one, other = twin(records[-1])[1], state.booth.answerers[0]
        assert other is not None
        self.assertEqual(other.booth.body.x, one.body.x)
        self.assertEqual(other.machine.tick, records[-1].after.machine.tick)

    @settings(max_examples=examples(15))
    @given(some.integers(1, 80))
    def test_run_again_from_any_tick_it_is_the_same(self, tick: int) -> None:
        setup = facing(HERE, answering([(0, 3, "left"), (20, 23, "attack")], 100, THERE))
        hands = controls([(5, 8, "attack")], 100)
        whole = run_controls(setup, hands)
        *_, again = run_again(setup, hands)
        self.assertEqual(again[tick].after, whole[tick].after)

    def test_another_puppet_answers_as_itself(self) -> None:
        slow = replace(PELL, mover=replace(PELL.mover, walk_speed=30.0))
        world = replace(WIDE, opponents=(Opponent("slow.puppet.json", slow),))
        gone = []
        for cast in ("", "slow.puppet.json"):
            dummy = answering([(0, 60, "right")], 60, THERE, cast=cast)
            records = run(facing(HERE, dummy, world=world), [], 60)
            gone.append(twin(records[-1])[1].body.x - THERE)
        self.assertGreater(gone[0], 2 * gone[1])
        self.assertGreater(gone[1], 10)
