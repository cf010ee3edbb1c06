"""Opponents: dummies that are another puppet, or a skin, with hands of their own."""

from __future__ import annotations

import tempfile
from itertools import groupby
from pathlib import Path

from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from tests.core.test_replaying import GROUND, PELL, WIDE, health_of, replaying, with_twin
from tests.depth import examples
from tests.helpers import Case, Press, run
from yarn_puppet.commands.worlds import world_for
from yarn_puppet.core.formats.booth_file import booth_bytes, booth_from, load_booth, save_booth
from yarn_puppet.core.formats.errors import FileProblem
from yarn_puppet.core.formats.puppet_file import save_puppet
from yarn_puppet.core.formats.skin_file import load_skin, save_skin
from yarn_puppet.core.model.edits.movers import mover_sized
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.model.world import Dummy, Opponent
from yarn_puppet.core.skins.dressing import dressed
from yarn_puppet.core.skins.opponents import opponents_beside
from yarn_puppet.core.takes.opponent_hands import held, mixed
from yarn_puppet.core.takes.run import set_up
from yarn_puppet.demo import DEMO_FOLDER

SKIN = load_skin(DEMO_FOLDER / "tamsin.skin.json")
SWING: list[Press] = [(0, 3, "right"), (10, 13, "attack")]
INTENTS = [intent.id for intent in PELL.intents]


def reaching(puppet: Puppet, by: float) -> Puppet:
    """The puppet with hit boxes so much longer."""
    clips = [replace(clip, frames=tuple([
        replace(frame, boxes=tuple([replace(box, width=box.width + by) if box.kind == "hit" else box
                                    for box in frame.boxes])) for frame in clip.frames]))
             for clip in puppet.clips]
    return replace(puppet, clips=tuple(clips))


def against(opponent: Puppet, dummy: Dummy, ticks: int = 80) -> list:  # type: ignore[type-arg]
    """Pell, who stands there, beside an opponent."""
    world = replace(WIDE, dummies=(replace(dummy, cast="other.puppet.json"),),
                    opponents=(Opponent("other.puppet.json", opponent),))
    return run(set_up(PELL, world), [], ticks)


class Cast(Case):
    def test_it_hits_with_its_own_boxes(self) -> None:
        far = 400.0 - 60
        short = against(PELL, replaying(SWING, 80, far))
        long = against(reaching(PELL, 40), replaying(SWING, 80, far))
        self.assertEqual(health_of(short[-1]), health_of(short[0]), "Pell does not reach so far")
        self.assertLess(health_of(long[-1]), health_of(long[0]))
        # And in the tick in which it would hit straw that stands where Pell does.
        straw = Dummy("straw", 400.0, GROUND, PELL.mover.width, PELL.mover.height)
        there = replace(WIDE, dummies=(straw,), start_x=far)
        own = [tick for tick, record in enumerate(run(set_up(reaching(PELL, 40), there), SWING, 80))
               if record.after.booth and record.after.booth.hits]
        hurt = [tick for tick, record in enumerate(long)
                if record.after.booth and record.after.booth.blows]
        self.assertEqual(hurt, own)

    def test_one_that_is_cast_as_the_same_puppet_does_what_the_puppet_itself_does(self) -> None:
        twin = replaying(SWING, 80, 400.0 - 34)
        one, other = run(with_twin(twin), [], 80), against(PELL, twin)
        self.assertEqual([record.after for record in one], [record.after for record in other])

    def test_it_runs_as_long_at_our_rate_as_at_its_own(self) -> None:
        slow = replace(PELL, rate=30)
        dummy = replace(replaying([(0, 3, "right"), (5, 7, "attack")], 40, 400.0 - 34, 30))
        records = against(slow, dummy, 80)
        track = records[0].setup.tracks[0]
        self.assertEqual(len(track), 80, "40 ticks of 30 a second")
        states = [state for state, _ in groupby(each.report.layers[0].state for each in track)]
        alone = run(set_up(slow, replace(WIDE, start_x=400.0 - 34)),
                    [(0, 3, "right"), (5, 7, "attack")], 40)
        self.assertEqual(states, [state for state, _ in groupby(
            record.report.layers[0].state for record in alone)])

    def test_it_moves_as_its_own_mover_does(self) -> None:
        walk = replaying([(0, 60, "right")], 60, 500.0)
        far = [against(puppet, walk, 59)[-1].after.booth.dummies[0].moved
               for puppet in (PELL, replace(PELL, mover=mover_sized(PELL.mover, 2)))]
        self.assertGreater(far[1], 1.5 * far[0])

    def test_one_that_is_not_there_is_the_puppet_itself(self) -> None:
        twin = replace(replaying(SWING, 80, 400.0 - 34), cast="gone.puppet.json")
        self.assertEqual([record.after.booth for record in run(with_twin(twin), [], 80)],
                         [record.after.booth for record in run(with_twin(
                             replace(twin, cast="")), [], 80)])


class Files(Case):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        save_puppet(PELL, self.folder / "lamplighter.puppet.json")
        save_skin(SKIN, self.folder / "tamsin.skin.json")
        self.booth = replace(WIDE, dummies=(
            replace(replaying(SWING, 80, 300.0), cast="tamsin.skin.json"),))
        save_booth(self.booth, self.folder / "w.booth.json")

    def test_a_skin_is_read_with_its_puppet_and_a_puppet_by_itself(self) -> None:
        world = world_for("w.booth.json", self.folder)
        assert world is not None
        self.assertEqual(world.cast_of(world.dummies[0], PELL), dressed(PELL, SKIN))
        other = replace(self.booth, dummies=(
            replace(self.booth.dummies[0], cast="lamplighter.puppet.json"),))
        self.assertEqual(opponents_beside(other, self.folder).opponents[0].puppet, PELL)

    def test_a_booths_file_holds_no_opponents(self) -> None:
        world = opponents_beside(self.booth, self.folder)
        self.assertEqual(len(world.opponents), 1)
        self.assertEqual(booth_bytes(world), booth_bytes(self.booth))
        self.assertEqual(load_booth(self.folder / "w.booth.json"), self.booth)
        bad = booth_bytes(self.booth).replace(
            b'"name"', b'"opponents": [{"file": "a", "puppet": {}}], "name"', 1)
        with self.assertRaisesRegex(FileProblem, "opponents"):
            booth_from(bad)

    def test_what_cannot_be_read_is_said(self) -> None:
        for broken in (b"", b"{", b'{"format": 99}',
                       b'{"puppet": "../x.puppet.json", "format": 1}'):
            (self.folder / "tamsin.skin.json").write_bytes(broken)
            with self.subTest(broken), self.assertRaisesRegex(FileProblem, "tamsin"):
                world_for("w.booth.json", self.folder)
        (self.folder / "tamsin.skin.json").unlink()
        with self.assertRaisesRegex(FileProblem, "tamsin.skin.json"):
            opponents_beside(self.booth, self.folder)

    def test_no_cast_leads_out_of_the_folder(self) -> None:
        for name in ("../a.puppet.json", "/etc/passwd", "a\\\\b"):
            with self.subTest(name), self.assertRaises(FileProblem):
                booth_from(booth_bytes(self.booth).replace(b"tamsin.skin.json", name.encode()))


class Hands(Case):
    @settings(max_examples=examples(60))
    @given(st.lists(st.sampled_from(INTENTS), min_size=1, unique=True), st.floats(0.05, 3),
           st.integers(0, 2**31), st.floats(0.1, 80))
    def test_actions_of_a_mix_go_down_and_up_in_turns(
        self, intents: list[str], every: float, seed: int, seconds: float
    ) -> None:
        hands, long = mixed(PELL, intents, every, seed, seconds)
        self.assertLessEqual(long, 3600)
        self.assertEqual([row[0] for row in hands], sorted(row[0] for row in hands))
        self.assertTrue(all(0 <= tick < long for tick, _, _ in hands))
        for action in {action for _, action, _ in hands}:
            turns = [goes for _, each, goes in hands if each == action]
            self.assertEqual(turns, [1 - number % 2 for number in range(len(turns))])
        self.assertEqual((hands, long), mixed(PELL, intents, every, seed, seconds))

    def test_every_intent_of_a_mix_comes_and_other_dice_give_another_order(self) -> None:
        mixes = [mixed(PELL, INTENTS, 0.5, seed, 60)[0] for seed in range(1, 9)]
        self.assertEqual(len(set(mixes)), 8)
        wanted = {action for intent in PELL.intents
                  for _, action, _ in held(PELL, intent.id)[0]}
        self.assertEqual({action for _, action, _ in mixes[0]}, wanted)

    def test_what_is_kept_down_stays_down(self) -> None:
        hands, long = held(PELL, "held_guard")
        records = against(PELL, Dummy("twin", 300.0, GROUND, does="replays", hands=hands,
                                      long=long), 90)
        guarding = [any(window.window.kind == "guard" for window in each.report.windows)
                    for each in records[0].setup.tracks[0][60:900]]
        self.assertTrue(all(guarding))
        self.assertEqual(held(PELL, "no such intent"), ((), 0))
        self.assertEqual(mixed(PELL, [], 1, 1, 10), ((), 0))
