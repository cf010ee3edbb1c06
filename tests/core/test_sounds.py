"""Sounds at random: which of several, how loud and how high."""

from __future__ import annotations

import unittest
from collections import Counter
from itertools import pairwise
from typing import Any

from tests.helpers import clip, puppet_of
from yarn_puppet.core.engine.compiling.puppets import compile_puppet
from yarn_puppet.core.formats.errors import FileProblem
from yarn_puppet.core.formats.puppet_file import puppet_bytes, puppet_from
from yarn_puppet.core.model.events import Heard, Moment, Sound
from yarn_puppet.core.model.graph import State
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.model.take import Take
from yarn_puppet.core.snags.check import check
from yarn_puppet.core.takes.comparing.difference import difference
from yarn_puppet.core.takes.migrate import migrate
from yarn_puppet.core.takes.run import replay, set_up

FILES = ("a.wav", "b.wav", "c.wav")


def stepping(heard: Heard = Heard(others=(Sound("b.wav"), Sound("c.wav")))) -> Puppet:  # noqa: B008
    """A walk that sounds every third tick."""
    step = Moment("step", 0, "sound", "step", file="a.wav", heard=heard)
    return puppet_of([clip("walk", (25, 25), "loop", [step])], [State("walk", "Walk", clip="walk")])


def heard_in(puppet: Puppet, ticks: int = 600, seed: int = 1) -> list[Any]:
    """The sounds of a run."""
    take = Take(None, 60, ticks=ticks, seed=seed)
    run = replay(set_up(puppet, None), take)
    return [fired for record in run for fired in record.report.moments]


class Several(unittest.TestCase):
    def test_all_are_heard_none_twice_running_and_another_seed_orders_them_otherwise(self) -> None:
        files = [each.file for each in heard_in(stepping())]
        self.assertEqual(set(files), set(FILES))
        self.assertTrue(all(one != other for one, other in pairwise(files)))
        self.assertEqual(files, [each.file for each in heard_in(stepping())])
        self.assertNotEqual(files, [each.file for each in heard_in(stepping(), seed=2)])

    def test_where_they_repeat_they_come_as_often_as_they_weigh(self) -> None:
        heard = Heard(1.0, (Sound("b.wav", 2.0), Sound("c.wav", 5.0)), repeats=True)
        counts = Counter(each.file for each in heard_in(stepping(heard), 9000))
        whole = counts.total()
        for file, share in (("a.wav", 1 / 8), ("b.wav", 2 / 8), ("c.wav", 5 / 8)):
            self.assertAlmostEqual(counts[file] / whole, share, delta=0.04)

    def test_silence_may_be_one_of_them(self) -> None:
        files = {each.file for each in heard_in(stepping(Heard(others=(Sound(""),))))}
        self.assertEqual(files, {"a.wav", ""})

    def test_volume_and_pitch_keep_within_their_spreads_and_use_them(self) -> None:
        found = heard_in(stepping(Heard(volume=0.5, volume_spread=0.75, pitch=1.2,
                                        pitch_spread=0.1)), 6000)
        volumes, pitches = ([each.volume for each in found], [each.pitch for each in found])
        self.assertEqual((min(volumes), round(max(volumes), 1)), (0.0, 1.2))
        self.assertTrue(all(1.1 <= each <= 1.3 for each in pitches))
        self.assertLess(min(pitches), 1.105)
        self.assertGreater(max(pitches), 1.295)

    def test_a_plain_sound_throws_no_dice(self) -> None:
        found = heard_in(stepping(Heard()))
        self.assertEqual({(each.file, each.volume, each.pitch) for each in found},
                         {("a.wav", 1.0, 1.0)})
        run = list(replay(set_up(stepping(Heard()), None), Take(None, 60, ticks=60)))
        self.assertEqual(run[-1].after.machine.dice, run[0].after.machine.dice)
        self.assertFalse(compile_puppet(stepping(Heard(volume=0.5))).throws_dice)
        self.assertTrue(compile_puppet(stepping(Heard(pitch_spread=0.5))).throws_dice)


class Elsewhere(unittest.TestCase):
    def test_compared_runs_name_the_files_that_were_heard(self) -> None:
        one, other = (list(replay(set_up(stepping(), None), Take(None, 60, ticks=30, seed=seed)))
                      for seed in (1, 2))
        found = difference(one, other)
        assert found is not None
        self.assertIn(".wav", " ".join(found.words))
        told = found.parting.values[0]
        self.assertEqual({told.before, told.after} <= set(FILES), True, told)

    def test_other_weights_that_pick_the_same_are_no_difference(self) -> None:
        weights = Heard(1.0, (Sound("b.wav"), Sound("c.wav")))
        doubled = Heard(2.0, (Sound("b.wav", 2.0), Sound("c.wav", 2.0)))
        one, other = (list(replay(set_up(stepping(each), None), Take(None, 60, ticks=3)))
                      for each in (weights, doubled))
        files = [[fired.file for record in run for fired in record.report.moments]
                 for run in (one, other)]
        if files[0] == files[1]:
            self.assertIsNone(difference(one, other))

    def test_an_edit_of_another_clip_keeps_what_was_heard_last(self) -> None:
        puppet = stepping()
        run = list(replay(set_up(puppet, None), Take(None, 60, ticks=10)))
        state = run[-1].after.machine
        before = Moment("other", 0, "sound", "other", file="x.wav",
                        heard=Heard(others=(Sound("y.wav"),)))
        more = puppet_of([clip("first", (25,), "loop", [before]), *puppet.clips],
                         [State("idle", "Idle", clip="first"), *puppet.states])
        after = migrate(compile_puppet(puppet), compile_puppet(more), state)
        self.assertEqual(after.picked, (-1, *state.picked))
        self.assertGreaterEqual(state.picked[0], 0)

    def test_weights_that_pick_nothing_are_a_snag(self) -> None:
        for weights, said in (((0.0, 0.0), "all sounds of its moment step weigh 0"),
                              ((0.0, 1.0), "only one sound of its moment step weighs"),
                              ((1.0, 1.0), None)):
            puppet = stepping(Heard(weights[0], (Sound("b.wav", weights[1]),)))
            found = [snag.why for snag in check(puppet) if "its moment step" in snag.why]
            self.assertEqual([each for each in found if not each.startswith(said or " ")], [])
            self.assertEqual(len(found), 1 if said else 0)

    def test_a_file_keeps_them_and_says_what_it_cannot_read(self) -> None:
        puppet = stepping(Heard(3.0, (Sound("b.wav", 0.5),), True, 0.5, 0.1, 2.0, 0.3))
        raw = puppet_bytes(puppet)
        self.assertEqual(puppet_from(raw, "here"), puppet)
        for old, new in ((b'"volume":0.5', b'"volume":-1'), (b'"pitch":2.0', b'"pitch":0'),
                         (b'"weight":3.0', b'"weight":1e9')):
            self.assertIn(old, raw)
            with self.assertRaises(FileProblem):
                puppet_from(raw.replace(old, new), "here")
