"""Renaming by pattern, with the places known before it happens."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as some

from tests import strategies
from tests.helpers import Case, demo_puppet
from yarn_puppet.core.formats.puppet_file import checked
from yarn_puppet.core.model.edits.clips import clip_duplicated
from yarn_puppet.core.model.edits.naming import MOMENTS, names_of, planned_renames, renamed
from yarn_puppet.core.model.puppet import Puppet


class Plans(Case):
    def test_a_star_stands_for_what_it_was(self) -> None:
        planned = planned_renames(demo_puppet(), "clips", "*_s*", "strong s*-*")
        self.assertEqual([(each.old, each.new) for each in planned],
                         [("light_swing", "strong slight-wing"), ("heavy_slam", "strong sheavy-lam")])

    def test_without_a_star_it_is_that_one(self) -> None:
        planned = planned_renames(demo_puppet(), "clips", "walk", "stroll")
        self.assertEqual([(each.old, each.new, each.places) for each in planned],
                         [("walk", "stroll", ("state Walk",))])

    def test_the_places_are_all_it_is_seen_in(self) -> None:
        puppet = demo_puppet()
        pole = planned_renames(puppet, "windows", "pole", "stick")[0]
        self.assertEqual(pole.places, ("window of light_swing", "window of heavy_slam", "5 hit boxes"))
        cancel = planned_renames(puppet, "windows", "cancel", "way out")[0]
        self.assertIn("transition Light swing → Guard", cancel.places)
        tip = planned_renames(puppet, "anchors", "pole tip", "flame")[0]
        self.assertEqual(tip.places[1:], ("effect at 140 ms of light_swing", "effect at 395 ms of heavy_slam"))

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
        self.assertEqual([clip.name for clip in after.clips], [f"pell_{clip.name}" for clip in puppet.clips])
        self.assertEqual([clip.id for clip in after.clips], [clip.id for clip in puppet.clips])
        self.assertEqual((after.states, after.transitions), (puppet.states, puppet.transitions))
        back = renamed(after, "clips", planned_renames(after, "clips", "pell_*", "*"))
        self.assertEqual(back, puppet)

    def test_moments_of_one_kind_are_renamed_wherever_they_are(self) -> None:
        puppet = demo_puppet()
        after = renamed(puppet, "sounds", planned_renames(puppet, "sounds", "cloth_*", "coat_*"))
        self.assertEqual(names_of(after, "sounds"), ("soft_step", "coat_whip", "pole_hit", "coat_heave", "canopy"))
        self.assertEqual(names_of(after, "effects"), names_of(puppet, "effects"))

    def test_two_clips_never_get_one_name(self) -> None:
        puppet, _ = clip_duplicated(demo_puppet(), "walk")
        after = renamed(puppet, "clips", planned_renames(puppet, "clips", "walk*", "go"))
        names = [clip.name for clip in after.clips]
        self.assertEqual(len(names), len(set(names)))
        self.assertIn("go 2", names)

    @given(strategies.puppets(), some.sampled_from(["clips", "anchors", *MOMENTS]),
           some.sampled_from(["*", "a*", "*b*"]), some.sampled_from(["x", "x*", "*y"]))
    def test_no_renaming_breaks_a_puppet(self, puppet: Puppet, kind: str, pattern: str, becomes: str) -> None:
        planned = planned_renames(puppet, kind, pattern, becomes)  # type: ignore[arg-type]
        checked(renamed(puppet, kind, planned), "puppet")  # type: ignore[arg-type]
