"""Promises: kept, broken and where; and the check of all of them for a build."""

from __future__ import annotations

import tempfile
from pathlib import Path
from xml.etree import ElementTree

from hypothesis import given
from hypothesis import strategies as some
from msgspec.structs import replace

from tests.core.test_commands import typed
from tests.core.test_comparing import slower
from tests.core.test_demo_promises import presses
from tests.helpers import Case, Press, demo_puppet, demo_setup, run, state_of
from yarn_puppet.core.formats.puppet_file import save_puppet
from yarn_puppet.core.formats.take_file import load_take, save_take
from yarn_puppet.core.model.promise import Happening, Promise
from yarn_puppet.core.takes.promising.promises import Verdict, judged, promise_words, stretches
from yarn_puppet.demo import DEMO_FOLDER, DEMO_TAKE

TAP, SWING = Happening("intent", "tap_attack"), Happening("state", "light_swing_state")
GUARD, WALK, STRIKE = (Happening("state", id) for id in ("guard_state", "walk_state", "strike"))


class Promises(Case):
    def verdict(self, promise: Promise, hands: list[Press], ticks: int = 200) -> Verdict:
        return judged(promise, run(demo_setup(), hands, ticks))

    def test_whenever_then_within(self) -> None:
        promise = Promise("then", TAP, SWING, ticks=4)
        self.assertEqual(self.verdict(promise, [(10, 13, "attack")])[:3], (True, 13, "worst 0 ticks, at 13"))
        # A second tap finds the first swing still going: the promise is about Light swing being so, and it is.
        self.assertTrue(self.verdict(promise, [(10, 13, "attack"), (20, 22, "attack")]).kept)
        broken = self.verdict(Promise("then", WALK, GUARD, ticks=5), [(10, 60, "right"), (40, 60, "guard")])
        self.assertEqual((broken.kept, broken.tick, broken.words), (False, 10, "Guard came 30 ticks later"))

    def test_what_the_take_is_too_short_to_show_is_not_broken(self) -> None:
        promise = Promise("then", WALK, GUARD, ticks=50)
        self.assertTrue(self.verdict(promise, [(10, 60, "right")], 40).kept)
        self.assertFalse(self.verdict(promise, [(10, 60, "right")], 70).kept)

    def test_never_while(self) -> None:
        window = Happening("window", "hit")
        self.assertFalse(self.verdict(Promise("never", window, STRIKE), [(10, 13, "attack")]).kept)
        kept = self.verdict(Promise("never", window, WALK), [(10, 13, "attack")])
        self.assertEqual(kept[:3], (True, None, "never in 200 ticks"))

    def test_hits_so_many_times(self) -> None:
        hands: list[Press] = [(20, 128, "right"), (132, 137, "attack"), (170, 175, "attack")]
        for times, kept in ((1, False), (2, True), (3, False)):
            found = self.verdict(Promise("hits", STRIKE, target="Old Thatch", times=times), hands, 240)
            self.assertEqual(found.kept, kept, found)
        self.assertFalse(self.verdict(Promise("hits", WALK, target="Old Thatch", times=2), hands, 240).kept)

    def test_after_it_a_value_is_back(self) -> None:
        promise = Promise("after", GUARD, value="move_speed", to=1, ticks=0)
        self.assertTrue(self.verdict(promise, [(10, 60, "guard")]).kept)
        broken = self.verdict(Promise("after", GUARD, value="speed", to=90, ticks=10), [(10, 60, "guard")])
        self.assertEqual((broken.kept, broken.words), (False, "still 0 after 10"))

    def test_lasts_at_most(self) -> None:
        found = self.verdict(Promise("lasts", SWING, ticks=20), [(10, 13, "attack")])
        self.assertEqual((found.kept, found.tick, found.words), (False, 33, "lasted 26 ticks, from 13"))
        self.assertTrue(self.verdict(Promise("lasts", SWING, ticks=26), [(10, 13, "attack")]).kept)

    def test_about_what_is_not_there_it_is_broken_and_says_so(self) -> None:
        gone = Happening("state", "gone")
        for promise, words in (
            (Promise("lasts", gone, ticks=5), "the puppet has no state gone"),
            (Promise("then", TAP), "the puppet has no second half of this promise"),
            (Promise("hits", STRIKE, target="Nobody"), "the puppet has no dummy Nobody in its booth"),
            (Promise("after", GUARD, value="mood"), "the puppet has no value mood"),
            (Promise("after", GUARD, value="safe"), "the puppet has no value for safe to have"),
        ):
            self.assertEqual(self.verdict(promise, [(10, 13, "attack")], 20)[:3], (False, None, words))

    def test_as_sentences(self) -> None:
        puppet = demo_puppet()
        self.assertEqual(promise_words(Promise("then", TAP, SWING, ticks=4), puppet),
                         "whenever tap attack then Light swing within 4 ticks")
        self.assertEqual(promise_words(Promise("after", GUARD, value="move_speed", to=1, ticks=10), puppet),
                         "after Guard move speed is 1 within 10 ticks")

    @given(presses(), some.sampled_from(["idle_state", "walk_state", "guard_state", "light_swing_state"]))
    def test_stretches_are_the_ticks_in_which_it_is_so(self, hands: list[Press], state: str) -> None:
        records = run(demo_setup(), hands, 150)
        found = stretches(Happening("state", state), records)
        ticks = [number for each in found for number in range(each.first, each.last + 1)]
        self.assertEqual(ticks, [record.report.tick for record in records if state_of(record) == state])
        longest = max((each.last - each.first + 1 for each in found), default=0)
        self.assertTrue(judged(Promise("lasts", Happening("state", state), ticks=longest), records).kept)
        if longest:
            self.assertFalse(judged(Promise("lasts", Happening("state", state), ticks=longest - 1), records).kept)


class Checking(Case):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.file = self.folder / "pell.puppet.json"
        save_puppet(demo_puppet(), self.file)
        self.take = replace(load_take(DEMO_TAKE), puppet="", promises=(
            Promise("then", TAP, SWING, ticks=4), Promise("after", GUARD, value="move_speed", to=1, ticks=3),
            Promise("hits", STRIKE, target="Old Thatch", times=3)))
        save_take(self.take, self.folder / "chase.take.json")

    def test_a_take_with_promises_is_read_as_it_was_saved(self) -> None:
        self.assertEqual(load_take(self.folder / "chase.take.json"), self.take)

    def test_kept_and_broken_with_the_tick_and_the_reason(self) -> None:
        self.assertEqual(typed("check", str(self.file)), (0, "0 errors, 0 warnings, 3 promises kept, 0 broken\n", ""))
        save_puppet(slower(demo_puppet()), self.file)
        code, out, _ = typed("check", str(self.file))
        self.assertEqual(code, 1)
        self.assertIn("broken: chase: Strike hits Old Thatch 3 times:", out)
        self.assertIn("2 promises kept, 1 broken", out)

    def test_for_a_build(self) -> None:
        save_puppet(slower(replace(demo_puppet(), name="<&\x01>")), self.file)
        out = self.folder / "out.xml"
        self.assertEqual(typed("check", str(self.file), "--junit", str(out))[0], 1)
        root = ElementTree.parse(out).getroot()
        self.assertEqual((root.get("tests"), root.get("failures")), ("4", "1"))
        failure = root.find("testsuite[@name='chase']/testcase/failure")
        assert failure is not None
        self.assertIn("times", failure.get("message") or "")

    def test_a_take_for_another_puppet_is_left_alone_and_a_broken_one_is_said(self) -> None:
        save_take(replace(self.take, puppet="other.puppet.json", rate=30), self.folder / "other.take.json")
        self.assertEqual(typed("check", str(self.file))[0], 0)
        (self.folder / "bad.take.json").write_text(
            '{"booth": null, "rate": 60, "ticks": 5, "promises": [{"kind": "x"}]}')
        code, _, err = typed("check", str(self.file))
        self.assertEqual((code, err.count("\n")), (2, 1))
        self.assertIn("promises[0]", err)


class Shipped(Case):
    def test_the_demos_eight_takes_keep_all_they_promise(self) -> None:
        counts = []
        for name in ("lamplighter.puppet.json", "gardener.puppet.json"):
            code, out, _ = typed("check", str(DEMO_FOLDER / name))
            self.assertEqual(code, 0, out)
            counts.append(int(out.split(" promise")[0].rsplit(" ", 1)[1]))
            self.assertIn(" 0 broken", out)
        self.assertEqual(counts, [20, 2])
        self.assertEqual(len(list(DEMO_FOLDER.glob("*.take.json"))), 8)
