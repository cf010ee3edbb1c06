"""Any of several, at random: by weights, never the same twice running, and the same again for a
seed."""

from __future__ import annotations

import tempfile
from collections import Counter
from itertools import pairwise
from pathlib import Path

from hypothesis import given
from hypothesis import strategies as some
from msgspec.structs import replace

from tests.helpers import Case, clip, controls, puppet_of, run
from yarn_puppet.core.engine.plain.dice import pick, seeded, thrown
from yarn_puppet.core.formats.puppet_file import puppet_bytes, puppet_from
from yarn_puppet.core.formats.take_file import load_take, save_take
from yarn_puppet.core.model.edits import spreads as edits
from yarn_puppet.core.model.events import Moment
from yarn_puppet.core.model.graph import Leave, Placed, Spread, State, Transition
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.snags.check import check
from yarn_puppet.core.takes.recording import take_of
from yarn_puppet.core.takes.run import Setup, replay, set_up


def idler(weights: tuple[float, ...], repeats: bool = False, mode: str = "once") -> Puppet:
    """A state that picks among clips of five ticks, each of which calls as it begins."""
    clips = [clip(f"c{number}", (1000 / 12,), mode, (Moment(f"m{number}", 0.0, "call", "begins"),))
             for number in range(len(weights))]
    spread = Spread("any", "any", tuple(Placed(each.id, (weight,))
                                        for each, weight in zip(clips, weights, strict=True)), (),
                    repeats=repeats)
    return puppet_of(clips, [State("s", "S", spread="any")], spreads=(spread,))


def played(setup: Setup, ticks: int) -> list[str]:
    """The clips that began, in order."""
    return [fired.clip for record in run(setup, [], ticks) for fired in record.report.moments]


class AtRandom(Case):
    @given(some.lists(some.integers(0, 9), min_size=1, max_size=5), some.booleans(),
           some.integers(0, 0xFFFFFFFF), some.sampled_from(("once", "loop", "hold last")))
    def test_each_begins_as_the_one_before_ends_and_none_comes_that_weighs_nothing(
        self, weights: list[int], repeats: bool, seed: int, mode: str
    ) -> None:
        setup = set_up(idler(tuple(map(float, weights)), repeats, mode), None)._replace(seed=seed)
        records = run(setup, [], 61)
        begun = [(record.report.tick, fired.clip) for record in records
                 for fired in record.report.moments]
        ticks = [tick for tick, _ in begun]
        # A clip of five ticks that plays once is on show in them, and ends in the fifth.
        self.assertEqual(ticks, list(range(0, 61, 5)))
        heavy = {f"c{number}" for number, weight in enumerate(weights) if weight} or {"c0"}
        self.assertLessEqual({each for _, each in begun}, heavy)
        if not repeats and len(heavy) > 1:
            self.assertTrue(all(one != other for (_, one), (_, other) in pairwise(begun)))

    def test_they_come_as_often_as_they_weigh(self) -> None:
        setup = set_up(idler((6.0, 3.0, 1.0), repeats=True), None)
        often = Counter(played(setup, 20_000))
        whole = sum(often.values())
        for number, share in enumerate((0.6, 0.3, 0.1)):
            self.assertAlmostEqual(often[f"c{number}"] / whole, share, delta=0.02)

    def test_entered_again_it_is_another_than_the_last_time(self) -> None:
        puppet = idler((1.0, 1.0))
        puppet = replace(
            puppet, clips=(*puppet.clips, clip("rest", (50.0,), "once")),
            states=(*puppet.states, State("rest", "Rest", clip="rest")),
            transitions=(Transition("out", "s", "rest", "", Leave("at the end")),
                         Transition("in", "rest", "s", "", Leave("at the end"))))
        begun = played(set_up(puppet, None), 200)
        self.assertGreater(len(begun), 15)
        self.assertTrue(all(one != other for one, other in pairwise(begun)))

    def test_a_seed_gives_the_same_again_and_another_seed_another(self) -> None:
        setup = set_up(idler((1.0, 1.0, 1.0)), None)
        with tempfile.TemporaryDirectory() as folder:
            takes = []
            for seed in (7, 8):
                path = Path(folder) / f"{seed}.take.json"
                save_take(take_of(controls([], 300), None, 60, seed), path)
                takes.append(load_take(path))
        self.assertEqual([each.seed for each in takes], [7, 8])
        first, again, other = ([each.report.layers[0].clip for each in replay(setup, take)]
                               for take in (takes[0], takes[0], takes[1]))
        self.assertEqual(first, again)
        self.assertNotEqual(first, other)

    @given(some.integers(0, 0xFFFFFFFF))
    def test_dice_are_never_nothing_and_stay_thirty_two_bits(self, seed: int) -> None:
        dice = seeded(seed)
        for _ in range(50):
            self.assertTrue(0 < dice <= 0xFFFFFFFF)
            dice = thrown(dice)

    def test_where_nothing_weighs_the_first_comes_and_the_dice_stay(self) -> None:
        setup = set_up(idler((0.0, 0.0)), None)
        [state] = setup.program.states
        self.assertEqual(pick(state.chances, state.repeats, 99, 1), (0, 99))
        self.assertEqual(set(played(setup, 100)), {"c0"})
        self.assertIn("all of its clips weigh 0", str(check(setup.puppet)))
        self.assertIn("no other ever comes", str(check(idler((1.0, 0.0)))))


class Edits(Case):
    def test_a_clip_is_put_beside_the_one_that_plays(self) -> None:
        puppet = puppet_of([clip("a"), clip("b"), clip("c")], [State("s", "S", clip="a")])
        made = edits.any_of_several(edits.any_of_several(puppet, "s", "b"), "s", "c")
        [spread] = made.spreads
        self.assertEqual([(each.clip, each.place) for each in spread.clips],
                         [("a", (1.0,)), ("b", (1.0,)), ("c", (1.0,))])
        self.assertEqual((spread.along, made.states[0].spread), ((), spread.id))
        self.assertEqual(puppet_from(puppet_bytes(made)), made)
        self.assertEqual(edits.any_of_several(made, "gone", "a"), made)
        self.assertEqual(edits.any_of_several(puppet, "s", "a"), puppet)

    def test_along_a_value_and_back_all_weigh_as_much(self) -> None:
        puppet = idler((6.0, 3.0))
        along = edits.spread_along(puppet, "any", ("facing",))
        self.assertEqual([each.place for each in along.spreads[0].clips], [(0.0,), (0.0,)])
        back = edits.spread_along(along, "any", ())
        self.assertEqual([each.place for each in back.spreads[0].clips], [(1.0,), (1.0,)])
        self.assertEqual(edits.spread_along(puppet, "any", ("a", "b", "c")), puppet)
