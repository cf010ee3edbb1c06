"""Renaming by pattern, with the places known before it happens."""

from __future__ import annotations

import re

from hypothesis import given
from hypothesis import strategies as some
from msgspec.structs import replace

from tests import strategies
from tests.helpers import Case, demo_puppet, puppet_of
from yarn_puppet.core.formats.puppet_file import checked, puppet_bytes, puppet_from
from yarn_puppet.core.model.clips import Cell, Clip, Frame
from yarn_puppet.core.model.edits.clips import clip_duplicated, clip_of_frames
from yarn_puppet.core.model.edits.entries import changed
from yarn_puppet.core.model.edits.frames.boxes import anchor_added
from yarn_puppet.core.model.edits.naming import (
    NAMED_MOMENTS,
    clashes,
    names_of,
    planned_renames,
    renamed,
    stars,
)
from yarn_puppet.core.model.events import Window
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.rules.renames import windows_renamed
from yarn_puppet.core.snags.check import check


class Plans(Case):
    def test_a_star_stands_for_what_it_was(self) -> None:
        planned = planned_renames(demo_puppet(), "clips", "*_s*", "strong s*-*")
        self.assertEqual([(each.old, each.new) for each in planned],
                         [("light_swing", "strong slight-wing"),
                          ("heavy_slam", "strong sheavy-lam")])

    def test_without_a_star_it_is_that_one(self) -> None:
        planned = planned_renames(demo_puppet(), "clips", "walk", "stroll")
        self.assertEqual([(each.old, each.new, each.places) for each in planned],
                         [("walk", "stroll", ("state Walk",))])

    def test_the_places_are_all_it_is_seen_in(self) -> None:
        puppet = demo_puppet()
        pole = planned_renames(puppet, "windows", "pole", "stick")[0]
        self.assertEqual(pole.places,
                         ("window of light_swing", "window of heavy_slam", "5 hit boxes"))
        puppet = windows_renamed(puppet, {"cancel": "way out"})
        guard = next(transition for transition in puppet.transitions
                     if transition.leave.window == "cancel")
        puppet = changed(puppet, "transitions", guard.id,
                         leave=replace(guard.leave, window="way out"))
        way_out = planned_renames(puppet, "windows", "way out", "gap")[0]
        self.assertIn("transition Light swing → Guard", way_out.places)
        tip = planned_renames(puppet, "anchors", "pole tip", "flame")[0]
        self.assertEqual(tip.places[1:],
                         ("effect at 140 ms of light_swing", "effect at 395 ms of heavy_slam"))

    def test_what_cannot_be(self) -> None:
        for pattern, becomes in (("walk", "*"), ("walk", "  "), ("*", "**")):
            with self.subTest(becomes), self.assertRaisesRegex(ValueError, "expected"):
                planned_renames(demo_puppet(), "clips", pattern, becomes)
        self.assertEqual(planned_renames(demo_puppet(), "clips", "nobody", "x"), ())
        self.assertEqual(planned_renames(demo_puppet(), "clips", "*", "*"), ())


class Renaming(Case):
    def test_only_names_change(self) -> None:
        puppet = demo_puppet()
        after = renamed(puppet, "clips", planned_renames(puppet, "clips", "*", "pell_*"))
        self.assertEqual([clip.name for clip in after.clips],
                         [f"pell_{clip.name}" for clip in puppet.clips])
        self.assertEqual([clip.id for clip in after.clips], [clip.id for clip in puppet.clips])
        self.assertEqual((after.states, after.transitions), (puppet.states, puppet.transitions))
        back = renamed(after, "clips", planned_renames(after, "clips", "pell_*", "*"))
        self.assertEqual(back, puppet)

    def test_moments_of_one_kind_are_renamed_wherever_they_are(self) -> None:
        puppet = demo_puppet()
        after = renamed(puppet, "sounds", planned_renames(puppet, "sounds", "cloth_*", "coat_*"))
        self.assertEqual(names_of(after, "sounds"),
                         ("soft_step", "coat_whip", "pole_hit", "coat_heave", "canopy"))
        self.assertEqual(names_of(after, "effects"), names_of(puppet, "effects"))

    def clips(self, *names: str) -> Puppet:
        puppet = Puppet()
        for name in names:
            puppet = clip_of_frames(puppet, name, [Frame(Cell("sheet", 0, 0, 9, 9))])[0]
        return puppet

    def test_all_names_change_at_once(self) -> None:
        puppet = self.clips("a", "aa", "b")
        after = renamed(puppet, "clips", planned_renames(puppet, "clips", "a*", "aa*"))
        self.assertEqual([clip.name for clip in after.clips], ["aa", "aaa", "b"])
        puppet = windows_renamed(self.windows(("pole", "hit"), ("stick", "hit")),
                                 {"pole": "stick", "stick": "pole"})
        self.assertEqual(puppet.window_names(), ("stick", "pole"))

    def test_two_that_would_get_one_name_are_refused_with_their_places(self) -> None:
        puppet, _ = clip_duplicated(demo_puppet(), "walk")
        planned = planned_renames(puppet, "clips", "walk*", "go")
        (words,) = clashes(puppet, "clips", planned)
        self.assertEqual(words, "walk (state Walk) and walk 2 (seen nowhere) would become go")
        with self.assertRaisesRegex(ValueError, "would become go"):
            renamed(puppet, "clips", planned)
        planned = planned_renames(puppet, "clips", "walk", "idle")
        self.assertIn("idle, which already exists (state Idle)",
                      clashes(puppet, "clips", planned)[0])
        self.assertEqual(clashes(puppet, "clips", planned_renames(puppet, "clips", "walk*", "go*")),
                         ())

    def test_a_star_in_a_name_is_a_letter(self) -> None:
        puppet = self.clips("a*_b", "x_y")
        planned = planned_renames(puppet, "clips", "*_*", "*-*")
        self.assertEqual([each.new for each in planned], ["a*-b", "x-y"])

    @given(some.text("ab_*", max_size=9), some.text("ab_*", min_size=1, max_size=6))
    def test_stars_stand_for_what_the_parts_between_leave(self, name: str, pattern: str) -> None:
        found = stars(pattern, name)
        like = re.fullmatch("(.*)".join(map(re.escape, pattern.split("*"))), name)
        self.assertEqual(found, like.groups() if like else None)

    def test_a_pattern_of_many_stars_takes_no_time(self) -> None:
        self.assertIsNone(stars("*a" * 60 + "*b", "a" * 200))

    def windows(self, *windows: tuple[str, str]) -> Puppet:
        made = tuple(Window(f"w{number}", 0, 10, kind, name)  # type: ignore[arg-type]
                     for number, (name, kind) in enumerate(windows))
        return puppet_of([Clip("c", "c", (Frame(Cell("sheet", 0, 0, 9, 9)),), windows=made)], [])

    def test_rules_that_mean_a_kind_mean_it_still(self) -> None:
        puppet = demo_puppet()
        leaving = [transition.leave for transition in puppet.transitions]
        self.assertTrue(any(each.window == "cancel" for each in leaving))
        after = windows_renamed(puppet, {"cancel": "way out"})
        self.assertIn("way out", after.window_names())
        self.assertNotIn("cancel", after.window_names())
        self.assertEqual([transition.leave for transition in after.transitions], leaving)
        self.assertEqual(check(after), check(puppet), "each of them still has its windows")

    def test_the_name_of_another_kind_is_refused(self) -> None:
        puppet = self.windows(("pole", "hit"), ("soft", "cancel"))
        planned = planned_renames(puppet, "windows", "pole", "cancel")
        self.assertIn("take for the kind", clashes(puppet, "windows", planned)[0])
        self.assertEqual(clashes(puppet, "windows",
                                 planned_renames(puppet, "windows", "soft", "cancel")), ())

    def test_names_that_no_file_could_hold(self) -> None:
        puppet = self.clips("a" * 150)
        with self.assertRaisesRegex(ValueError, "at most 200 characters"):
            planned_renames(puppet, "clips", "*", "**"[:1] + "b" * 60)
        with self.assertRaisesRegex(ValueError, "expected text"):
            planned_renames(puppet, "clips", "*", "b\udcff")
        for name in ("a" * 300, "b\udcff", ""):
            made = puppet_from(puppet_bytes(anchor_added(self.clips(name), name)[0]))
            self.assertTrue(0 < len(made.clips[0].name) <= 200
                            and 0 < len(made.anchors[0].name) <= 200)

    @given(
        strategies.puppets(),
        some.sampled_from(["clips", "anchors", *NAMED_MOMENTS]),
        some.sampled_from(["*", "a*", "*b*"]),
        some.sampled_from(["x", "x*", "*y"]),
    )
    def test_no_renaming_breaks_a_puppet(
        self, puppet: Puppet, kind: str, pattern: str, becomes: str
    ) -> None:
        planned = planned_renames(puppet, kind, pattern, becomes)  # type: ignore[arg-type]
        if clashes(puppet, kind, planned):  # type: ignore[arg-type]
            self.assertTrue(len({each.new for each in planned}) < len(planned)
                            or {each.new for each in planned} & {
                                *names_of(puppet, kind)})  # type: ignore[arg-type]
            return
        after = checked(renamed(puppet, kind, planned), "puppet")  # type: ignore[arg-type]
        new = {each.old: each.new for each in planned}
        if kind in ("clips", "anchors"):
            before = [entry.name for entry in getattr(puppet, kind)]
            if len(set(before)) < len(before):
                # Of those that had one name all but the first get a number.
                changed = [entry.name for name, entry in zip(
                    before, getattr(after, kind), strict=True) if name in new]
                self.assertEqual(len(set(changed)), len(changed))
                return
        self.assertEqual(set(names_of(after, kind)),  # type: ignore[arg-type]
                         {new.get(name, name) for name in names_of(
                             puppet, kind)})  # type: ignore[arg-type]
