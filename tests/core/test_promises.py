"""Promises: kept, broken and where; and the check of all of them for a build."""

from __future__ import annotations

import tempfile
from functools import cache
from pathlib import Path
from typing import Any
from unittest.mock import patch
from xml.etree import ElementTree

from hypothesis import given, settings
from hypothesis import strategies as some
from msgspec.structs import replace

from tests.core.test_commands import typed
from tests.core.test_comparing import slower
from tests.core.test_demo_promises import presses
from tests.depth import examples
from tests.helpers import (
    Case,
    Press,
    clip,
    controls,
    demo_puppet,
    demo_setup,
    demo_world,
    puppet_of,
    run,
    state_of,
)
from yarn_puppet.core.formats.junit_file import Case as JunitCase
from yarn_puppet.core.formats.junit_file import junit_bytes
from yarn_puppet.core.formats.puppet_file import save_puppet
from yarn_puppet.core.formats.take_file import load_take, save_take
from yarn_puppet.core.model.clips import Anchor
from yarn_puppet.core.model.events import Window
from yarn_puppet.core.model.graph import State, Transition
from yarn_puppet.core.model.promise import Happening, Promise
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.model.take import Take
from yarn_puppet.core.model.wiring import Action, Intent
from yarn_puppet.core.model.world import World
from yarn_puppet.core.takes.again.kept import KeptRuns
from yarn_puppet.core.takes.controls import controls_of
from yarn_puppet.core.takes.promising.promises import Verdict, judged, promise_words
from yarn_puppet.core.takes.promising.reaching import controls_tried
from yarn_puppet.core.takes.promising.watching import watched_for
from yarn_puppet.core.takes.recording import run_again, take_of
from yarn_puppet.core.takes.records import Records
from yarn_puppet.core.takes.run import Record, advance, set_up
from yarn_puppet.demo import DEMO_FOLDER, DEMO_TAKE

TAP, SWING = Happening("intent", "tap_attack"), Happening("state", "light_swing_state")
GUARD, WALK, STRIKE = (Happening("state", id) for id in ("guard_state", "walk_state", "strike"))


class Promises(Case):
    def verdict(self, promise: Promise, pressed: list[Press], ticks: int = 200) -> Verdict:
        return judged(promise, run(demo_setup(), pressed, ticks))

    def test_whenever_then_within(self) -> None:
        promise = Promise("then", TAP, SWING, ticks=4)
        self.assertEqual(self.verdict(promise, [(10, 13, "attack")])[:3],
                         (True, 13, "worst 0 ticks, at 13"))
        # A second tap finds the first swing still going: the promise is about Light swing being so,
        # and it is.
        self.assertTrue(self.verdict(promise, [(10, 13, "attack"), (20, 22, "attack")]).kept)
        broken = self.verdict(Promise("then", WALK, GUARD, ticks=5),
                              [(10, 60, "right"), (40, 60, "guard")])
        self.assertEqual((broken.kept, broken.tick, broken.words),
                         (False, 10, "Guard came 30 ticks later"))

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
        pressed: list[Press] = [(20, 128, "right"), (132, 137, "attack"), (170, 175, "attack")]
        for times, kept in ((1, False), (2, True), (3, False)):
            found = self.verdict(Promise("hits", STRIKE, target="Old Thatch", times=times), pressed,
                                 240)
            self.assertEqual(found.kept, kept, found)
        self.assertFalse(self.verdict(Promise("hits", WALK, target="Old Thatch", times=2), pressed,
                                      240).kept)

    def test_after_it_a_value_is_back(self) -> None:
        promise = Promise("after", GUARD, value="move_speed", to=1, ticks=0)
        self.assertTrue(self.verdict(promise, [(10, 60, "guard")]).kept)
        broken = self.verdict(Promise("after", GUARD, value="speed", to=90, ticks=10),
                              [(10, 60, "guard")])
        self.assertEqual((broken.kept, broken.words), (False, "still 0 after 10"))

    def test_lasts_at_most(self) -> None:
        found = self.verdict(Promise("lasts", SWING, ticks=20), [(10, 13, "attack")])
        self.assertEqual((found.kept, found.tick, found.words),
                         (False, 33, "lasted 26 ticks, from 13"))
        self.assertTrue(self.verdict(Promise("lasts", SWING, ticks=26), [(10, 13, "attack")]).kept)

    def test_about_what_is_not_there_it_is_broken_and_says_so(self) -> None:
        gone = Happening("state", "gone")
        for promise, words in (
            (Promise("lasts", gone, ticks=5), "the puppet has no state gone"),
            (Promise("then", TAP), "the puppet has no second half of this promise"),
            (Promise("hits", STRIKE, target="Nobody"),
             "the puppet has no dummy Nobody in its booth"),
            (Promise("after", GUARD, value="mood"), "the puppet has no value mood"),
            (Promise("after", GUARD, value="safe"), "the puppet has no value for safe to have"),
        ):
            self.assertEqual(self.verdict(promise, [(10, 13, "attack")], 20)[:3],
                             (False, None, words))

    def test_as_sentences(self) -> None:
        puppet = demo_puppet()
        self.assertEqual(promise_words(Promise("then", TAP, SWING, ticks=4), puppet),
                         "whenever tap attack then Light swing within 4 ticks")
        self.assertEqual(promise_words(Promise("after", GUARD, value="move_speed", to=1, ticks=10),
                                       puppet),
                         "after Guard move speed is 1 within 10 ticks")

    @given(
        presses(),
        some.sampled_from(["idle_state", "walk_state", "guard_state", "light_swing_state"]),
    )
    def test_stretches_are_the_ticks_in_which_it_is_so(
        self, pressed: list[Press], state: str
    ) -> None:
        records = run(demo_setup(), pressed, 150)
        found = watched_for(Happening("state", state), records)
        ticks = [number for each in found for number in range(each.first, each.last + 1)]
        self.assertEqual(ticks, [record.report.tick
                                 for record in records if state_of(record) == state])
        longest = max((each.last - each.first + 1 for each in found), default=0)
        self.assertTrue(judged(Promise("lasts", Happening("state", state), ticks=longest),
                               records).kept)
        if longest:
            self.assertFalse(judged(Promise("lasts", Happening("state", state), ticks=longest - 1),
                                    records).kept)


class Checking(Case):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.file = self.folder / "pell.puppet.json"
        save_puppet(demo_puppet(), self.file)
        self.take = replace(load_take(DEMO_TAKE), puppet="", promises=(
            Promise("then", TAP, SWING, ticks=4),
            Promise("after", GUARD, value="move_speed", to=1, ticks=3),
            Promise("hits", STRIKE, target="Old Thatch", times=3)))
        save_take(self.take, self.folder / "chase.take.json")

    def test_a_take_with_promises_is_read_as_it_was_saved(self) -> None:
        self.assertEqual(load_take(self.folder / "chase.take.json"), self.take)

    def test_kept_and_broken_with_the_tick_and_the_reason(self) -> None:
        self.assertEqual(typed("check", str(self.file)),
                         (0, "0 errors, 0 warnings, 3 promises kept, 0 broken\n", ""))
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
        save_take(replace(self.take, puppet="other.puppet.json", rate=30),
                  self.folder / "other.take.json")
        self.assertEqual(typed("check", str(self.file))[0], 0)
        (self.folder / "bad.take.json").write_text(
            '{"booth": null, "rate": 60, "ticks": 5, "promises": [{"kind": "x"}]}')
        out = self.folder / "out.xml"
        code, said, err = typed("check", str(self.file), "--junit", str(out))
        self.assertEqual((code, err), (2, ""))
        self.assertIn("cannot be judged: bad: ", said)
        self.assertIn("promises[0]", said)
        # The others are judged all the same.
        self.assertIn("3 promises kept, 0 broken, 1 take not judged", said)
        root = ElementTree.parse(out).getroot()
        self.assertEqual((root.get("tests"), root.get("failures"), root.get("errors")),
                         ("5", "0", "1"))

    def test_one_of_another_rate_is_said_and_the_others_are_judged(self) -> None:
        save_take(replace(self.take, rate=30), self.folder / "slow.take.json")
        code, said, _ = typed("check", str(self.file))
        self.assertEqual(code, 2)
        self.assertIn("cannot be judged: slow: ", said)
        self.assertIn("3 promises kept", said)

    def test_it_judges_as_the_desk_does_from_where_a_piece_begins(self) -> None:
        """A hit of the lead-up does not count in the piece."""
        hits = [tick for tick, _ in self.records().columns.hits]
        piece = replace(self.take, first=hits[0] + 1, promises=(
            Promise("hits", STRIKE, target="Old Thatch", times=len(hits) - 1),))
        save_take(piece, self.folder / "chase.take.json")
        code, said, _ = typed("check", str(self.file))
        self.assertEqual((code, said), (0, "0 errors, 0 warnings, 1 promise kept, 0 broken\n"))
        outcome = next(each for each in KeptRuns().run(demo_puppet(), {"it": piece}, {
            str(piece.booth): demo_world()}) if each is not None)
        self.assertEqual([verdict.kept for verdict in outcome.verdicts], [True])

    def records(self) -> Records:
        *_, run = run_again(set_up(demo_puppet(), demo_world()), list(controls_of(self.take)))
        return run

    def test_whatever_is_in_a_name_the_document_is_well_formed(self) -> None:
        names = ["<&\"'>", "\x00\x1f", "\ud800", "\ufffe\uffff", "]]>", "\r\n\t", "光", "\U0001f56f"]  # noqa: E501
        cases = [JunitCase(name, name, name, bool(index % 2)) for index, name in enumerate(names)]
        root = ElementTree.fromstring(junit_bytes(cases))
        self.assertEqual(len(root.findall(".//testcase")), len(names))
        self.assertEqual((len(root.findall(".//failure")), len(root.findall(".//error"))), (4, 4))


class SaidOfThem(Case):
    """What a verdict says is what was counted."""

    def test_hits_of_a_window_are_those_of_this_window_in_its_own_layer(self) -> None:
        records = run(demo_setup(), [(20, 128, "right"), (132, 137, "attack")], 240)
        window = next(hit.window for record in records if record.after.booth
                      for hit in record.after.booth.hits)
        promise = Promise("hits", Happening("window", window), target="Old Thatch", times=0)
        self.assertFalse(judged(promise, records).kept)
        # The same hit by another layer, by another window, or by a projectile.
        for spoilt in ({"layer": "arms"}, {"window": "other"}, {"layer": ""}):
            changed = [record._replace(after=record.after._replace(
                booth=record.after.booth._replace(hits=tuple(
                hit._replace(**spoilt) for hit in record.after.booth.hits))))
                if record.after.booth else record
                for record in records]
            self.assertTrue(judged(promise, changed).kept, spoilt)

    @settings(max_examples=examples(60))
    @given(some.data())
    def test_nothing_is_marked_outside_the_run(self, data: some.DataObject) -> None:
        ticks = data.draw(some.integers(1, 200))
        records = shown()[:ticks]
        kinds = ("then", "never", "after", "lasts", "hits")
        puppet = demo_puppet()
        happenings = [TAP, SWING, WALK, GUARD, STRIKE, Happening("window", "hit"),
                      Happening("sense", "grounded")]
        promise = Promise(
            data.draw(some.sampled_from(kinds)), data.draw(some.sampled_from(happenings)),
            data.draw(some.sampled_from(happenings)), ticks=data.draw(some.integers(0, 400)),
            target="Old Thatch",
            value="move_speed", to=1)
        self.assertTrue(puppet.states)
        verdict = judged(promise, records, data.draw(some.integers(0, ticks - 1)))
        for mark in verdict.marks:
            self.assertLessEqual(0, mark.first)
            self.assertLessEqual(mark.first, mark.last)
            self.assertLess(mark.last, ticks)

    def test_more_ticks_than_are_left_is_not_kept_by_being_longer_than_the_take(self) -> None:
        records = run(demo_setup(), [(10, 12, "attack")], 30)
        verdict = judged(Promise("then", TAP, WALK, ticks=500), records)
        self.assertEqual((verdict.marks, verdict.words), ((), "never asked for"))

    def test_how_much_was_tried_is_counted(self) -> None:
        records = run(demo_setup(), [(10, 12, "attack")], 60)
        verdict = judged(Promise("can", SWING, Happening("window", "no such"), ticks=8), records)
        self.assertFalse(verdict.kept)
        puppet = demo_puppet()
        clips = (*puppet.clips, clip("spare",
                                     windows=(Window("w", 0.0, 50.0, "named", "never open"),)))
        records = run(set_up(replace(puppet, clips=clips), demo_world()), [(10, 12, "attack")], 60)
        verdict = judged(Promise("can", SWING, Happening("window", "never open"), ticks=8), records)
        tried = len(controls_tried(records[0].setup))
        self.assertEqual(verdict.words, f"no way to never open was found in {tried} tries")
        self.assertTrue(all(mark.last < 60 for mark in verdict.marks))


class AsItComes(Case):
    """A take is gone through once, whatever is promised of it and whatever it is compared with."""

    def test_a_long_take_with_promises_is_run_once(self) -> None:
        take = replace(load_take(DEMO_TAKE), ticks=examples(3000), promises=(
            Promise("then", TAP, SWING, ticks=4), Promise("never", WALK, GUARD),
            Promise("lasts", SWING, ticks=99),
            Promise("after", GUARD, value="move_speed", to=1, ticks=3)))
        worlds, kept = {str(take.booth): demo_world()}, KeptRuns()
        puppet = demo_puppet()
        # What every tick may read, and none shows.
        faster, fastest = (replace(puppet,
                                   anchors=(*puppet.anchors, Anchor(f"spare {number}", "spare")))
                           for number in (1, 2))
        for shown, most in (
            # The run before is gone through beside the one after an edit that could touch every
            # tick, and so is that which was accepted.
            (puppet, take.ticks), (faster, 2 * take.ticks), (faster, 0), (fastest, 3 * take.ticks),
            (fastest, 0),
        ):
            run = self.counted(kept, shown, take, worlds)
            self.assertLessEqual(run, most)
        self.assertGreaterEqual(self.counted(KeptRuns(), puppet, take, worlds), take.ticks)

    def counted(self, kept: KeptRuns, puppet: Puppet, take: Take, worlds: dict[str, World]) -> int:
        """The ticks that were run, to judge them and besides."""
        ran = 0

        def counting(*given: Any) -> Record:
            nonlocal ran
            ran += 1
            return advance(*given)

        with (patch("yarn_puppet.core.takes.recording.advance", counting),
              patch("yarn_puppet.core.takes.records.advance", counting)):
            (outcome,) = [each for each in kept.run(puppet, {"it": take}, worlds)
                          if each is not None]
        self.assertEqual([verdict.kept for verdict in outcome.verdicts], [True] * 4)
        return ran

    def test_a_way_that_an_edit_closes_is_looked_for_again(self) -> None:
        """Though the run itself never came by there."""
        open_ = puppet_of(
            (clip("stand"),), (State("stand", "stand", clip="stand"),
                               State("low", "low", clip="stand"),
                               State("up", "up", clip="stand")),
            (Transition("t", "stand", "low", "tap"), Transition("u", "low", "up", "rise"),
             Transition("v", "up", "stand", "done")),
            intents=(Intent("tap", "tap", "attack"), Intent("rise", "rise", "jump")), actions=(
                Action("attack", "attack"), Action("jump", "jump")))
        take = replace(take_of(controls([(5, 8, "attack")], 60), None, open_.rate), promises=(
            Promise("can", Happening("state", "low"), Happening("state", "stand"), ticks=90),))
        closed = replace(open_, transitions=open_.transitions[:2])
        kept = KeptRuns()
        verdicts = [next(each for each in kept.run(puppet, {"it": take}, {})
                         if each is not None).verdicts[0].kept
                    for puppet in (open_, closed, open_)]
        self.assertEqual(verdicts, [True, False, True])


@cache
def shown() -> list[Record]:
    """A run of 200 ticks in which much happens."""
    return run(demo_setup(),
               [(5, 60, "right"), (70, 72, "attack"), (80, 110, "guard"), (112, 130, "attack"),
                              (140, 180, "right")], 200)


class Shipped(Case):
    def test_the_demos_takes_keep_all_they_promise(self) -> None:
        counts = []
        for name in ("lamplighter.puppet.json", "gardener.puppet.json",
                     "harrow.puppet.json"):
            code, out, _ = typed("check", str(DEMO_FOLDER / name))
            self.assertEqual(code, 0, out)
            counts.append(int(out.split(" promise")[0].rsplit(" ", 1)[1]))
            self.assertIn(" 0 broken", out)
        self.assertEqual(counts, [20, 2, 9])
        self.assertEqual(len(list(DEMO_FOLDER.glob("*.take.json"))), 11)
