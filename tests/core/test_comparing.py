"""What an edit did to a take, in words: where it parts, what moved, what was gained and lost, and where it ends."""

from __future__ import annotations

import subprocess
import tempfile
from pathlib import Path

from hypothesis import given
from hypothesis import strategies as some
from msgspec.structs import replace

from tests.core.test_commands import typed
from tests.helpers import Case, Press, demo_puppet, demo_world, run
from yarn_puppet.core.formats.puppet_file import save_puppet
from yarn_puppet.core.formats.take_file import load_take, save_take
from yarn_puppet.core.model.edits.graph import state_changed
from yarn_puppet.core.model.events import Rule
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.takes.comparing import Difference, difference, paired
from yarn_puppet.core.takes.run import set_up
from yarn_puppet.demo import DEMO_TAKE, FIRST_STEPS

HANDS: list[Press] = [(20, 128, "right"), (132, 137, "attack")]
TICKS = some.lists(some.integers(0, 200), max_size=7).map(sorted)


def slower(puppet: Puppet) -> Puppet:
    """Pell walks at half speed."""
    return state_changed(puppet, "walk_state", rules=(Rule("move_speed", 0.5),))


class Differences(Case):
    def of(self, after: Puppet, hands: list[Press] = HANDS, ticks: int = 200) -> Difference | None:
        world = demo_world()
        return difference(run(set_up(demo_puppet(), world), hands, ticks), run(set_up(after, world), hands, ticks))

    def test_the_same_is_no_difference_whatever_else_the_puppet_has(self) -> None:
        self.assertIsNone(self.of(demo_puppet()))
        self.assertIsNone(self.of(replace(demo_puppet(), name="another")))
        self.assertIsNone(self.of(state_changed(demo_puppet(), "guard_state", rules=(Rule("move_speed", 0.1),))))

    def test_where_it_parts_and_in_what(self) -> None:
        found = self.of(slower(demo_puppet()))
        assert found is not None
        self.assertEqual(found.parting.tick, 20)
        self.assertIn("move speed 1 → 0.5", found.words[0])

    def test_a_hit_that_is_missed_now_is_lost_and_the_end_stands_elsewhere(self) -> None:
        found = self.of(slower(demo_puppet()))
        assert found is not None
        self.assertIn(("hit", "Old Thatch"), [each.what for each in found.moved if each.after is None])
        assert found.end is not None
        self.assertLess(found.end[0], -50)
        self.assertRegex(found.words[-1], r"the end stands \d+ px further left")
        back = difference(run(set_up(slower(demo_puppet()), demo_world()), HANDS, 200),
                          run(set_up(demo_puppet(), demo_world()), HANDS, 200))
        assert back is not None
        self.assertIn(("hit", "Old Thatch"), [each.what for each in back.moved if each.before is None])

    def test_a_longer_crouch_moves_what_follows_and_says_by_how_much(self) -> None:
        puppet = demo_puppet()
        later = replace(puppet, transitions=tuple(
            replace(each, when="move_x != 0 and elapsed > 0.5") if each.id == "idle_to_walk" else each
            for each in puppet.transitions))
        found = self.of(later)
        assert found is not None
        words = [each.words for each in found.moved]
        self.assertIn("Walk is entered 11 ticks later, at 31", words)

    def test_states_are_known_by_name_so_that_other_ids_do_not_matter(self) -> None:
        puppet = demo_puppet()
        renamed = replace(
            puppet, states=tuple(replace(each, id="guarding") if each.id == "guard_state" else each
                                 for each in puppet.states),
            transitions=tuple(replace(each, source=each.source.replace("guard_state", "guarding"),
                                      target=each.target.replace("guard_state", "guarding"))
                              for each in puppet.transitions))
        self.assertIsNone(self.of(renamed, [(10, 40, "guard")], 60))


class Lining(Case):
    @given(TICKS, TICKS)
    def test_every_one_is_told_once_in_order_and_the_fewer_all_have_partners(
        self, one: list[int], other: list[int]
    ) -> None:
        pairs = paired(one, other)
        self.assertEqual([old for old, _ in pairs if old is not None], one)
        self.assertEqual([new for _, new in pairs if new is not None], other)
        self.assertEqual(sum(old is not None and new is not None for old, new in pairs), min(len(one), len(other)))

    def test_what_came_between_is_the_one_that_is_new(self) -> None:
        self.assertEqual(paired([10, 50], [10, 30, 50]), [(10, 10), (None, 30), (50, 50)])
        self.assertEqual(paired([10, 30, 50], [12, 49]), [(10, 12), (30, None), (50, 49)])


class Compare(Case):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.file = self.folder / "pell.puppet.json"
        save_puppet(demo_puppet(), self.file)

    def git(self, *words: str) -> None:
        subprocess.run(["git", "-C", str(self.folder), "-c", "user.name=P", "-c", "user.email=p@example.org", *words],
                       check=True, capture_output=True)

    def test_two_files(self) -> None:
        self.assertEqual(typed("compare", str(FIRST_STEPS), str(self.file), "--take", str(DEMO_TAKE)),
                         (0, "rooftop chase: the same in 500 ticks\n0 of 1 takes differ\n", ""))
        save_puppet(slower(demo_puppet()), self.file)
        code, out, _ = typed("compare", str(FIRST_STEPS), str(self.file), "--take", str(DEMO_TAKE))
        self.assertEqual(code, 1)
        self.assertIn("hit on Old Thatch lost", out)
        self.assertIn("1 of 1 takes differ", out)

    def test_since_a_revision(self) -> None:
        save_take(replace(load_take(DEMO_TAKE), puppet=""), self.folder / "chase.take.json")
        self.git("init", "-q")
        self.git("add", "-A")
        self.git("commit", "-qm", "first")
        self.assertEqual(typed("compare", "--git", "HEAD", str(self.file))[0], 0)
        save_puppet(slower(demo_puppet()), self.file)
        code, out, _ = typed("compare", "--git", "HEAD", str(self.file))
        self.assertEqual(code, 1)
        self.assertIn("chase:\n  tick 20 is the first that differs", out)

    def test_what_cannot_be_compared_is_said_in_one_line(self) -> None:
        take = str(DEMO_TAKE)
        for words, expected in (
            (("compare", str(self.file), "--take", take), "expected two files"),
            (("compare", str(self.file), str(self.file)), "expected at least one take"),
            (("compare", "--git", "HEAD", str(self.file), "--take", take), "expected a file in a git repository"),
        ):
            code, _, err = typed(*words)
            self.assertEqual((code, err.count("\n")), (2, 1), err)
            self.assertIn(expected, err)
        self.git("init", "-q")
        self.git("commit", "-q", "--allow-empty", "-m", "empty")
        for revision, expected in (("nowhere", "expected a revision"), ("--output=x", "expected a revision"),
                                   ("HEAD", "expected it to be in the revision HEAD")):
            code, _, err = typed("compare", f"--git={revision}", str(self.file), "--take", take)
            self.assertEqual(code, 2)
            self.assertIn(expected, err)
