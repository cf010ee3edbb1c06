"""What an edit did to a take, in words: where it parts, what moved, what was gained and lost, and
where it ends."""

from __future__ import annotations

import subprocess
import tempfile
from functools import cache
from pathlib import Path
from typing import Any

from hypothesis import given, settings
from hypothesis import strategies as some
from msgspec.structs import replace

from tests.core.test_commands import typed
from tests.depth import examples
from tests.helpers import Case, Press, demo_puppet, demo_world, run
from yarn_puppet.core.formats.booth_file import load_booth, save_booth
from yarn_puppet.core.formats.puppet_file import load_puppet, save_puppet
from yarn_puppet.core.formats.take_file import load_take, save_take
from yarn_puppet.core.model.edits.graph import state_changed
from yarn_puppet.core.model.events import Rule
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.model.wiring import Memo
from yarn_puppet.core.takes.comparing.difference import Difference, difference
from yarn_puppet.core.takes.comparing.lining_up import paired
from yarn_puppet.core.takes.run import Record, replay, set_up
from yarn_puppet.demo import DEMO_FOLDER, DEMO_PUPPET, DEMO_TAKE, FIRST_STEPS

PRESSED: list[Press] = [(20, 128, "right"), (132, 137, "attack")]
TICKS = some.lists(some.integers(0, 200), max_size=7).map(sorted)


def slower(puppet: Puppet) -> Puppet:
    """Pell walks at half speed."""
    return state_changed(puppet, "walk_state", rules=(Rule("move_speed", 0.5),))


class Differences(Case):
    def of(
        self, after: Puppet, pressed: list[Press] = PRESSED, ticks: int = 200
    ) -> Difference | None:
        world = demo_world()
        return difference(run(set_up(demo_puppet(), world), pressed, ticks),
                          run(set_up(after, world), pressed, ticks))

    def test_the_same_is_no_difference_whatever_else_the_puppet_has(self) -> None:
        self.assertIsNone(self.of(demo_puppet()))
        self.assertIsNone(self.of(replace(demo_puppet(), name="another")))
        self.assertIsNone(self.of(state_changed(
            demo_puppet(), "guard_state", rules=(Rule("move_speed", 0.1),))))

    def test_where_it_parts_and_in_what(self) -> None:
        found = self.of(slower(demo_puppet()))
        assert found is not None
        self.assertEqual(found.parting.tick, 20)
        self.assertIn("move speed 1 → 0.5", found.words[0])
        # The rule itself, which was not there before, and nothing that is nothing in both.
        self.assertIn("while-rule move speed of Walk not in force → in force", found.words[0])
        self.assertNotIn("nothing → nothing", " ".join(found.words))

    def test_a_hit_that_is_missed_now_is_lost_and_the_end_stands_elsewhere(self) -> None:
        found = self.of(slower(demo_puppet()))
        assert found is not None
        self.assertIn(("hit", "Old Thatch"),
                      [each.what for each in found.moved if each.after is None])
        assert found.end is not None
        self.assertLess(found.end[0], -50)
        self.assertRegex(found.words[-1], r"the end stands \d+ px further left")
        back = difference(run(set_up(slower(demo_puppet()), demo_world()), PRESSED, 200),
                          run(set_up(demo_puppet(), demo_world()), PRESSED, 200))
        assert back is not None
        self.assertIn(("hit", "Old Thatch"),
                      [each.what for each in back.moved if each.before is None])

    def test_a_longer_crouch_moves_what_follows_and_says_by_how_much(self) -> None:
        puppet = demo_puppet()
        later = replace(puppet, transitions=tuple(
            replace(transition, when="move_x != 0 and elapsed > 0.5")
            if transition.id == "idle_to_walk" else transition
            for transition in puppet.transitions))
        found = self.of(later)
        assert found is not None
        words = [each.words for each in found.moved]
        self.assertIn("Walk is entered 11 ticks later, at 31", words)

    def test_states_are_known_by_name_so_that_other_ids_do_not_matter(self) -> None:
        puppet = demo_puppet()
        renamed = replace(
            puppet, states=tuple(replace(state, id="guarding")
                                 if state.id == "guard_state" else state
                                 for state in puppet.states),
            transitions=tuple(replace(transition,
                                      source=transition.source.replace("guard_state", "guarding"),
                                      target=transition.target.replace("guard_state", "guarding"))
                              for transition in puppet.transitions))
        self.assertIsNone(self.of(renamed, [(10, 40, "guard")], 60))


RUNS = {"rooftop_chase": 500, "three_in_a_row": 300, "a_blow_guarded": 250, "gutter_climb": 250}


@cache
def shipped(take: str) -> list[Record]:
    """A run of Pell in full, with his layers, effects, blows and props."""
    read = load_take(DEMO_FOLDER / f"{take}.take.json")
    assert read.booth is not None
    setup = set_up(load_puppet(DEMO_PUPPET), load_booth(DEMO_FOLDER / read.booth))
    return list(replay(setup, replace(read, ticks=min(read.ticks, RUNS[take]))))


def leaves(value: Any, path: tuple[int | str, ...] = ()) -> list[tuple[int | str, ...]]:
    """Every way to a value in nested tuples, but to the words of terms, and to what might be heard:
    which sound is, is told by its file."""
    if isinstance(value, tuple) and (value or path[-1] not in ("armed", "used", "groups", "into")):
        fields = getattr(value, "_fields", range(len(value)))
        return [leaf for field, each in zip(fields, value, strict=True)
                if field not in ("terms", "heard", "sound")
                for leaf in leaves(each, (*path, field))]
    return [path]


def spoilt(value: Any, path: tuple[int | str, ...]) -> Any:
    """The same with another value at the end of a way."""
    if path:
        first, *rest = path
        if isinstance(first, str):
            return value._replace(**{first: spoilt(getattr(value, first), tuple(rest))})
        changed = [spoilt(each, tuple(rest)) if at == first else each
                   for at, each in enumerate(value)]
        return type(value)(*changed) if hasattr(value, "_fields") else tuple(changed)
    if isinstance(value, bool):
        return not value
    if isinstance(value, (int, float)):
        return value + 1
    if isinstance(value, frozenset):
        return value | {("body", 1, 0, "never", 0, 0)}
    return (f"{value}?" if isinstance(value, str) else ("something",)
            if value == () else "something")


class Spoilt(Case):
    """Whatever is changed by hand in a report or in the world, comparing sees it and has words for
    it."""

    @settings(max_examples=examples(150))
    @given(some.data())
    def test_one_value_anywhere(self, data: some.DataObject) -> None:
        run = shipped(data.draw(some.sampled_from(sorted(RUNS))))
        tick = data.draw(some.integers(0, len(run) - 1))
        record = run[tick]
        part = data.draw(some.sampled_from(("report", "booth")))
        whole = record.report if part == "report" else record.after.booth
        path = data.draw(some.sampled_from(leaves(whole)))
        try:
            other = spoilt(whole, path)
            changed = record._replace(report=other) if part == "report" else record._replace(
                after=record.after._replace(booth=other))
            found = difference(run, [*run[:tick], changed, *run[tick + 1:]])
        except (IndexError, KeyError, TypeError) as fault:
            # A place in a list of the puppet that it does not have is no report.
            self.assertIn(path[-1], ("place", "dummy", "layer", "value", "operator", "kind",
                                     "operands"), repr(fault))
            return
        assert found is not None, path
        self.assertEqual(found.parting.tick, tick)
        self.assertTrue(all(value.what and value.before != value.after
                            for value in found.parting.values), path)


class GraphExport(Case):
    """Damage, push, hit stops, memos that are called as fields of the booth are, and what was
    renamed."""

    def of(self, after: Puppet, before: Puppet | None = None) -> tuple[str, ...]:
        setups = (set_up(each, demo_world()) for each in (before or demo_puppet(), after))
        one, other = (run(setup, PRESSED, 200) for setup in setups)
        found = difference(one, other)
        return found.words if found is not None else ()

    def windowed(self, **changes: Any) -> Puppet:
        puppet = demo_puppet()
        return replace(puppet, clips=tuple(replace(clip, windows=tuple(
            replace(window, **changes) if window.kind == "hit" else window
            for window in clip.windows))
            for clip in puppet.clips))

    def test_what_a_blow_does(self) -> None:
        for changes in ({"damage": 54}, {"push": 90.0}, {"hit_stop": 9}):
            field, = changes
            self.assertIn(f"window pole {field.replace('_', ' ')}",
                          self.of(self.windowed(**changes))[0])

    def test_a_memo_called_as_something_of_the_booth_is(self) -> None:
        for name in ("hits", "x", "windows", "body", "facing"):
            puppet = replace(demo_puppet(), memos=(Memo("m", name, "int", 0),))
            other = replace(puppet, memos=(Memo("m", name, "int", 7),))
            self.assertIn(f"{name} 0 → 7", self.of(other, puppet)[0])

    def test_what_was_renamed_is_the_same(self) -> None:
        puppet = demo_puppet()
        for field in ("states", "senses", "layers", "intents", "clips", "groups", "actions",
                      "anchors"):
            other = replace(puppet, **{field: tuple(
                replace(each, name=f"{each.name} 2") for each in getattr(puppet, field))})
            self.assertEqual(self.of(other), (), field)

    def test_where_a_thing_stands_in_a_list_is_no_difference(self) -> None:
        puppet = demo_puppet()
        for field in ("senses", "states", "intents", "clips", "actions", "anchors"):
            self.assertEqual(self.of(replace(puppet, **{field: getattr(puppet, field)[::-1]})), (),
                             field)

    def test_renamed_and_moved_it_moved(self) -> None:
        puppet = demo_puppet()
        other = replace(slower(puppet), states=tuple(
            replace(state, name=f"{state.name} again") for state in slower(puppet).states))
        words = self.of(other)
        self.assertFalse([word for word in words
                          if "no longer entered" in word and "entered now" in word], words)
        self.assertIn("move speed 1 → 0.5", words[0])


class Lining(Case):
    @given(TICKS, TICKS)
    def test_every_one_is_said_once_in_order_and_the_fewer_all_have_partners(
        self, one: list[int], other: list[int]
    ) -> None:
        pairs = paired(one, other)
        self.assertEqual([old for old, _ in pairs if old is not None], one)
        self.assertEqual([new for _, new in pairs if new is not None], other)
        self.assertEqual(sum(old is not None and new is not None for old, new in pairs),
                         min(len(one), len(other)))

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
        subprocess.run(["git", "-C", str(self.folder), "-c", "user.name=P", "-c",
                        "user.email=p@example.org", *words],
                       check=True, capture_output=True)

    def test_two_files(self) -> None:
        self.assertEqual(typed("compare", str(FIRST_STEPS), str(self.file), "--take",
                               str(DEMO_TAKE)),
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

    def test_the_booth_of_that_revision_too_and_other_durations(self) -> None:
        booth = self.folder / "roof.booth.json"
        save_booth(demo_world(), booth)
        save_take(replace(load_take(DEMO_TAKE), puppet="", booth=booth.name),
                  self.folder / "chase.take.json")
        self.git("init", "-q")
        self.git("add", "-A")
        self.git("commit", "-qm", "first")
        moved = replace(demo_world(), start_x=demo_world().start_x + 16, rows=tuple(
            row.replace("=", ".") for row in demo_world().rows), dummies=demo_world().dummies[1:])
        save_booth(moved, booth)
        code, out, _ = typed("compare", "--git", "HEAD", str(self.file))
        self.assertEqual(code, 1)
        self.assertIn("the booth roof.booth.json itself differs:", out)
        self.assertIn(f"start x {demo_world().start_x:g}".removesuffix(".0"), out)
        self.assertIn("Old Thatch removed", out)
        self.assertIn("tiles changed", out)
        self.assertIn("tick 0 is the first that differs", out)
        # Where only the booth's name differs the world is the same.
        save_booth(replace(demo_world(), name="another"), booth)
        self.assertEqual(typed("compare", "--git", "HEAD", str(self.file))[0], 0)
        self.git("rm", "-q", "--cached", booth.name)
        self.git("commit", "-qm", "without the booth")
        code, out, _ = typed("compare", "--git", "HEAD", str(self.file))
        self.assertEqual(code, 0)
        self.assertIn("is not in HEAD: both run in the one that is here now", out)
        puppet = demo_puppet()
        save_puppet(replace(puppet, clips=tuple(replace(clip, frames=tuple(
            replace(frame, duration=frame.duration * 2) for frame in clip.frames))
            for clip in puppet.clips)), self.file)
        code, out, _ = typed("compare", "--git", "HEAD", str(self.file))
        self.assertRegex(out, r"clip walk lasts \d+ → \d+ ms")

    def test_each_of_two_folders_has_its_own_booth(self) -> None:
        old, new = self.folder / "old", self.folder / "new"
        for folder, world in ((old, demo_world()), (new, replace(demo_world(), start_x=300.0))):
            folder.mkdir()
            save_puppet(demo_puppet(), folder / "pell.puppet.json")
            save_booth(world, folder / "roof.booth.json")
        save_take(replace(load_take(DEMO_TAKE), booth="roof.booth.json"), new / "chase.take.json")
        code, out, _ = typed("compare", str(old / "pell.puppet.json"),
                             str(new / "pell.puppet.json"),
                             "--take", str(new / "chase.take.json"))
        self.assertEqual(code, 1)
        self.assertIn("itself differs: start x", out)

    def test_what_cannot_be_compared_is_said_in_one_line(self) -> None:
        take = str(DEMO_TAKE)
        for words, expected in (
            (("compare", str(self.file), "--take", take), "expected two files"),
            (("compare", str(self.file), str(self.file)), "expected at least one take"),
            (("compare", "--git", "HEAD", str(self.file), "--take", take),
             "expected a file in a git repository"),
        ):
            code, _, err = typed(*words)
            self.assertEqual((code, err.count("\n")), (2, 1), err)
            self.assertIn(expected, err)
        self.git("init", "-q")
        self.git("commit", "-q", "--allow-empty", "-m", "empty")
        for revision, expected in (("nowhere", "expected a revision"),
                                   ("--output=x", "expected a revision"),
                                   ("HEAD", "expected it to be in the revision HEAD")):
            code, _, err = typed("compare", f"--git={revision}", str(self.file), "--take", take)
            self.assertEqual(code, 2)
            self.assertIn(expected, err)
