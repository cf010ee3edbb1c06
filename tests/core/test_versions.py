"""Versions of puppets: told apart in words, and made into one, by the commands and by git
itself."""

from __future__ import annotations

import shlex
import shutil
import subprocess
import sys
import tempfile
import unittest
from collections.abc import Sequence
from itertools import permutations
from pathlib import Path
from typing import Any

from hypothesis import given
from hypothesis import strategies as some
from msgspec.structs import replace

from tests.core.test_commands import typed
from tests.core.test_running_again import mutated
from tests.depth import some_of
from tests.helpers import Case, demo_puppet
from tests.random_puppets import Shaker
from yarn_puppet.core.formats.errors import FileProblem
from yarn_puppet.core.formats.puppet_file import checked, load_puppet, save_puppet
from yarn_puppet.core.formats.skin_file import load_skin, save_skin
from yarn_puppet.core.formats.take_file import load_take, save_take
from yarn_puppet.core.model.edits import graph as edits
from yarn_puppet.core.model.promise import Happening, Promise
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.model.skin import MoverNumber
from yarn_puppet.core.model.wiring import Sense
from yarn_puppet.core.versions.differing import puppets_differ, skins_differ
from yarn_puppet.core.versions.merging import merged
from yarn_puppet.demo import DEMO_FOLDER, DEMO_PUPPET, DEMO_TAKE

ROOT = Path(__file__).parents[2]


def shaken(seed: int) -> tuple[Puppet, Puppet, Puppet]:
    """A puppet, and two that it was made into."""
    shaker = Shaker(seed)
    base = demo_puppet() if shaker.chance(2) else shaker.puppet()

    def edited(number: int) -> Puppet:
        puppet = base
        for each in range(number):
            other = mutated(shaker, puppet, Shaker(seed * 7 + each).puppet())
            try:
                puppet = checked(other, "it")
            except FileProblem:
                continue
        return puppet

    return base, edited(3), edited(2)


class Differing(Case):
    def test_by_name_and_in_words(self) -> None:
        old = demo_puppet()
        new = edits.state_changed(old, "walk_state", name="Stroll")
        new = edits.state_changed(new, "guard_state", speed=0.5)
        new, _ = edits.state_added(new, "Wade", "walk", "ground")
        new = edits.state_removed(new, "crouch_state")
        new = (
            edits.transition_changed(new, "idle_to_walk", when="speed > 3")
            if new.transition("idle_to_walk")
            else new
        )
        said = [each.words for each in puppets_differ(old, new)]
        for each in ("state Crouch removed", "state Walk renamed: to Stroll", "state Wade added",
                     "state Guard changed: speed 1 → 0.5"):
            self.assertIn(each, said)

    def test_equal_says_nothing_and_different_says_something(self) -> None:
        for seed in some_of(range(40)):
            base, ours, theirs = shaken(seed)
            for one, other in ((base, ours), (ours, theirs), (base, base)):
                self.assertEqual(bool(puppets_differ(one, other)), one != other, seed)

    def test_the_command(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            one, other = Path(name) / "one.puppet.json", Path(name) / "other.puppet.json"
            save_puppet(demo_puppet(), one)
            save_puppet(edits.state_changed(demo_puppet(), "walk_state", name="Stroll"), other)
            self.assertEqual(typed("diff", str(one), str(one)), (0, "", ""))
            self.assertEqual(typed("diff", str(one), str(other)),
                             (1, "state Walk renamed: to Stroll\n", ""))
            code, out, err = typed("diff", str(one), str(DEMO_TAKE))
            self.assertEqual((code, out, err.count("\n")), (2, "", 1))


class Merging(Case):
    def test_what_only_one_changed_is_taken_from_it(self) -> None:
        base = demo_puppet()
        ours, added = edits.state_added(base, "Wade", "walk", "ground")
        ours, _ = edits.transition_added(ours, "walk_state", added, "grounded")
        theirs, other = edits.state_added(edits.state_changed(base, "walk_state", name="Stroll"),
                                          "Limp", "walk",
                                          "ground")
        theirs, _ = edits.transition_added(theirs, "walk_state", other, "not grounded")
        theirs = replace(theirs, transitions=tuple(
            replace(transition, id=f"{transition.id}_b")
            if base.transition(transition.id) is None else transition
            for transition in theirs.transitions))
        if added == other:
            theirs = replace(theirs,
                             states=tuple(replace(state, id="limp") if state.id == other else state
                                                  for state in theirs.states), transitions=tuple(
                replace(transition, target="limp") if transition.target == other else transition
                for transition in theirs.transitions))
        found = merged(base, ours, theirs)
        self.assertEqual(found.conflicts, ())
        names = {state.name for state in found.value.states}
        self.assertLessEqual({"Wade", "Limp", "Stroll"}, names)
        self.assertEqual(len(found.value.transitions), len(base.transitions) + 2)

    @given(some.permutations("abcde"), some.permutations("abcde"))
    def test_of_two_orders_each_pair_stands_as_who_moved_it_says(
        self, ours: list[str], theirs: list[str]
    ) -> None:
        def puppet(order: Sequence[str]) -> Puppet:
            return replace(Puppet(), senses=tuple(Sense(id, id) for id in order))

        def wanted(one: str, other: str) -> bool:
            """Whether one stands before the other, which stood behind it."""
            return not any(each.index(one) > each.index(other) for each in (ours, theirs))

        pairs = [("abcde"[one], "abcde"[other]) for one in range(5) for other in range(one + 1, 5)]
        possible = [order for order in permutations("abcde") if all(
            (order.index(one) < order.index(other)) == wanted(one, other) for one, other in pairs)]
        found = merged(puppet("abcde"), puppet(ours), puppet(theirs))
        if found.value is None:
            self.assertEqual(found.conflicts, ("senses order: one order here, another there",))
        self.assertEqual([tuple(each.id for each in found.value.senses)] if found.value else [],
                         possible if ours != theirs else [tuple(ours)])

    def test_a_promise_that_one_changed_and_the_other_took_away_is_a_conflict(self) -> None:
        promises = tuple(Promise("lasts", Happening("state", name)) for name in ("a", "b", "c"))
        base = replace(load_take(DEMO_TAKE), promises=promises)
        other = Promise("lasts", Happening("state", "d"))
        changed = replace(base, promises=(promises[0], other, promises[2]))
        gone = replace(base, promises=(promises[0], promises[2]))
        more = replace(base, promises=(*promises, Promise("lasts", Happening("state", "e"))))
        self.assertEqual(merged(base, changed, gone).conflicts,
                         ("promises 2: changed here, taken away there",))
        self.assertEqual(merged(base, gone, gone).value, gone)
        self.assertEqual([each.first.id for each in merged(base, changed, more).value.promises],
                         ["a", "d", "c", "e"])
        self.assertEqual([each.first.id for each in merged(base, gone, more).value.promises],
                         ["a", "c", "e"])

    def test_what_both_added_is_one_where_it_is_the_same(self) -> None:
        base = demo_puppet()
        ours = edits.state_changed(base, "walk_state", speed=0.5)
        self.assertEqual(merged(None, base, base).value, base)
        self.assertEqual(merged(None, base, ours).conflicts,
                         ("state Walk: added here, another of this id added there",))
        theirs, _ = edits.state_added(base, "Wade", "walk", "ground")
        self.assertEqual(merged(None, base, theirs).value.states, theirs.states)

    def test_a_conflict_is_named(self) -> None:
        base = demo_puppet()
        slow, quick = (edits.state_changed(base, "walk_state", speed=each) for each in (0.5, 2.0))
        self.assertEqual(merged(base, slow, quick).conflicts,
                         ("state Walk speed: 0.5 here, 2 there",))
        gone = edits.state_removed(base, "walk_state")
        self.assertIn("state Walk: changed here, taken away there",
                      merged(base, slow, gone).conflicts)
        led, _ = edits.transition_added(base, "idle_state", "walk_state", "grounded")
        self.assertTrue(any("walk_state does not exist" in conflict
                            for conflict in merged(base, led, gone).conflicts))

    def test_of_any_three(self) -> None:
        clean = 0
        for seed in some_of(range(60)):
            base, ours, theirs = shaken(seed)
            for one, other, is_ in ((ours, base, ours), (base, theirs, theirs), (ours, ours, ours)):
                self.assertEqual(merged(base, one, other), (is_, ()), seed)
            found, back = merged(base, ours, theirs), merged(base, theirs, ours)
            self.assertEqual(bool(found.conflicts), bool(back.conflicts), seed)
            if found.conflicts:
                continue
            clean += 1
            checked(found.value, "it")
            for field in ("states", "transitions", "clips"):
                both = [{each.id: each for each in getattr(puppet, field)}
                        for puppet in (found.value, back.value)]
                self.assertEqual(both[0], both[1], (seed, field))
        self.assertGreater(clean, 5)

    def test_takes(self) -> None:
        base = load_take(DEMO_TAKE)
        promise = [Promise("lasts", Happening("state", "walk_state"), ticks=each)
                   for each in (5, 6)]
        ours, theirs = (replace(base, promises=(*base.promises, each)) for each in promise)
        self.assertEqual(set(merged(base, ours, theirs).value.promises), {*base.promises, *promise})
        self.assertEqual(merged(base, replace(base, ticks=999), replace(base, ticks=998)).conflicts,
                         ("ticks: 999 here, 998 there",))

    def test_skins(self) -> None:
        base = load_skin(DEMO_FOLDER / "tamsin.skin.json")
        walk, *others = base.clips
        slower = replace(walk, own=("durations",), frames=tuple(
            replace(frame, duration=150.0) for frame in walk.frames))
        ours = replace(base, clips=(slower, *others))
        theirs = replace(base, clips=(replace(walk, faces="left"), *others),
                         numbers=(MoverNumber("walk_speed", 50.0),))
        found = merged(base, ours, theirs)
        self.assertEqual(found.conflicts, ())
        self.assertEqual(found.value, replace(
            theirs, clips=(replace(slower, faces="left"), *others)))
        self.assertEqual([each.words for each in skins_differ(base, theirs)], [
            "clip idle changed: faces right → left",
            "number of the mover walk_speed changed: value 96 → 50"])
        with tempfile.TemporaryDirectory() as folder:
            paths = [Path(folder) / name for name in ("base", "ours", "theirs")]
            for path, skin in zip(paths, (base, ours, theirs), strict=True):
                save_skin(skin, path)
            self.assertEqual(typed("merge", *map(str, paths)), (0, "", ""))
            self.assertEqual(load_skin(paths[1]), found.value)
            code, out, _ = typed("diff", str(paths[0]), str(paths[2]))
            self.assertEqual((code, "walk_speed" in out), (1, True))
            self.assertEqual(typed("format", str(paths[0]))[0], 0)

    def test_where_there_are_conflicts_nothing_is_written(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            files = [Path(name) / f"{each}.puppet.json" for each in ("base", "ours", "theirs")]
            for path, speed in zip(files, (1.0, 0.5, 2.0), strict=True):
                save_puppet(edits.state_changed(demo_puppet(), "walk_state", speed=speed), path)
            before = files[1].read_bytes()
            code, out, err = typed("merge", *map(str, files))
            self.assertEqual((code, out, err),
                             (1, "", "conflict: state Walk speed: 0.5 here, 2 there\n"))
            self.assertEqual(files[1].read_bytes(), before)


class Unreadable(Case):
    def test_what_is_wrong_with_a_file_between_versions_is_said(self) -> None:
        whole = DEMO_PUPPET.read_bytes()
        lines = whole.split(b"\n")
        marked = b"\n".join([*lines[:4], b"<<<<<<< ours", *lines[4:6], b"=======", *lines[4:6],
                             b">>>>>>> theirs", *lines[6:]])
        with tempfile.TemporaryDirectory() as name:
            path = Path(name) / "it.puppet.json"
            for content, said in (
                (
                    b"\xef\xbb\xbf" + whole,
                    "it.puppet.json: begins with a byte order mark; expected UTF-8 without one",
                ),
                (
                    marked,
                    "it.puppet.json: line 5: holds the conflict marks of a merge; settle them "
                    "first",
                ),
                (
                    marked.replace(b"\n", b"\r\n"),
                    "it.puppet.json: line 5: holds the conflict marks of a merge",
                ),
                (
                    whole.replace(b'"format": 1', b'"format": 7, "new": {}', 1),
                    "it.puppet.json: format: is 7; this program reads up to 1, a newer one wrote "
                    "it",
                ),
            ):
                path.write_bytes(content)
                code, out, err = typed("check", str(path))
                self.assertEqual((code, out, err.count("\n")), (2, "", 1))
                self.assertIn(said, err)


class Formatting(Case):
    def test_what_ships_is_so_formatted(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            shipped = list(DEMO_FOLDER.glob("*.json"))
            for path in shipped:
                shutil.copy(path, name)
            copies = sorted(str(path) for path in Path(name).iterdir())
            code, out, _ = typed("format", *copies)
            self.assertEqual((code, out.count("same  ")), (0, len(shipped)))
            other = Path(name) / DEMO_PUPPET.name
            other.write_bytes(other.read_bytes().replace(b"\n", b"\r\n", 9))
            self.assertIn("formatted", typed("format", str(other))[1])
            self.assertEqual(other.read_bytes(), DEMO_PUPPET.read_bytes())


@unittest.skipUnless(shutil.which("git"), "git is not installed")
class ByGit(Case):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.git("init", "-q", "-b", "main")
        command = f"{shlex.quote(sys.executable)} -m yarn_puppet"
        self.git("config", "diff.yarn-puppet.command", f"{command} diff")
        self.git("config", "merge.yarn-puppet.driver", f"{command} merge %O %A %B")
        (self.folder / ".gitattributes").write_text(
            "*.puppet.json diff=yarn-puppet merge=yarn-puppet\n*.take.json diff=yarn-puppet "
            "merge=yarn-puppet\n*.skin.json diff=yarn-puppet merge=yarn-puppet\n"
        )
        self.file = self.folder / "it.puppet.json"

    def git(self, *words: str, code: int = 0) -> str:
        import os

        done = subprocess.run(["git", "-c", "user.name=P", "-c", "user.email=p@example.org",
                               *words], cwd=self.folder,
                              capture_output=True, text=True, check=False,
                              env={**os.environ, "PYTHONPATH": str(ROOT),
                                   "GIT_CONFIG_NOSYSTEM": "1"})
        self.assertEqual(done.returncode, code, done.stdout + done.stderr)
        return done.stdout + done.stderr

    def commit(self, puppet: Any, what: str) -> None:
        save_puppet(puppet, self.file)
        self.git("add", "-A")
        self.git("commit", "-q", "-m", what)

    def test_two_branches_that_each_add_a_state_and_a_transition(self) -> None:
        base = demo_puppet()
        self.commit(base, "base")
        save_take(load_take(DEMO_TAKE), self.folder / "it.take.json")
        for branch, name, clip in (("one", "Wade", "walk"), ("two", "Limp", "idle")):
            self.git("checkout", "-q", "-b", branch, "main")
            puppet, state = edits.state_added(base, name, clip, "ground")
            puppet, _ = edits.transition_added(puppet, "walk_state", state, "grounded")
            self.commit(puppet, branch)
        self.git("merge", "-q", "one", "-m", "both")
        found = load_puppet(self.file)
        self.assertLessEqual({"Wade", "Limp"}, {each.name for each in found.states})
        self.assertEqual(len(found.transitions), len(base.transitions) + 2)
        self.assertIn("state Wade added",
                      self.git("diff", "--ext-diff", "HEAD~1", "HEAD", "--", "it.puppet.json"))

    def test_a_conflict_is_gits_and_the_file_opens(self) -> None:
        base = demo_puppet()
        self.commit(base, "base")
        for branch, speed in (("one", 0.5), ("two", 2.0)):
            self.git("checkout", "-q", "-b", branch, "main")
            self.commit(edits.state_changed(base, "walk_state", speed=speed), branch)
        said = self.git("merge", "one", "-m", "both", code=1)
        self.assertIn("conflict: state Walk speed: 2 here, 0.5 there", said)
        self.assertEqual(load_puppet(self.file).state("walk_state").speed, 2.0)
