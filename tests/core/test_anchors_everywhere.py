"""An anchor put into all clips at once."""

from __future__ import annotations

from typing import Literal

from hypothesis import given
from hypothesis import strategies as some
from msgspec.structs import replace

from tests.helpers import Case, demo_puppet
from yarn_puppet.core.formats.puppet_file import puppet_bytes, puppet_from
from yarn_puppet.core.model.clips import Anchor, AnchorPoint, Box, Cell, Clip, Frame, Point
from yarn_puppet.core.model.edits.frames.anchors_everywhere import Beside, anchor_everywhere
from yarn_puppet.core.model.edits.frames.boxes import anchor_set
from yarn_puppet.core.model.puppet import Puppet

ways = some.sampled_from(["the body box", "the nearest frame"])


def clip(id: str, boxes: list[Box | None], faces: Literal["right", "left"] = "right") -> Clip:
    """A clip with these body boxes, its pivot at 20, 40."""
    return Clip(id, id, tuple(Frame(Cell("s", 40 * at, 0, 40, 40), boxes=(box,) if box else ())
                              for at, box in enumerate(boxes)), faces=faces, pivot=Point(20, 40))


class Everywhere(Case):
    def made(self, *clips: Clip) -> Puppet:
        """Clips, the first frame of the first with the anchor at 25, 10."""
        puppet = Puppet(anchors=(Anchor("hand", "hand"),), clips=clips)
        return anchor_set(puppet, clips[0].id, 0, "hand", 25, 10)

    def test_beside_the_body_box_it_keeps_its_shares_of_it(self) -> None:
        puppet = self.made(clip("a", [Box("body", 10, 0, 20, 40)]),
                           clip("b", [Box("body", 0, 20, 40, 20)]),
                           clip("c", [Box("body", 10, 0, 20, 40)], "left"), clip("d", [None]))
        made = anchor_everywhere(puppet, "hand", "a", 0, "the body box")
        points = {each.id: each.frames[0].anchor("hand") for each in made.clips}
        self.assertEqual(points, {"a": Point(25, 10), "b": Point(30, 25), "c": Point(15, 10),
                                  "d": Point(25, 10)})
        guesses = {each.id: each.frames[0].anchors[0].guess for each in made.clips}
        self.assertEqual(guesses, {"a": False, "b": True, "c": True, "d": True})
        touched = anchor_set(made, "b", 0, "hand", 30, 25)
        self.assertFalse(touched.clip("b").frames[0].anchors[0].guess)

    def test_from_the_nearest_frame_that_has_it(self) -> None:
        puppet = self.made(clip("a", [None] * 4))
        puppet = anchor_set(puppet, "a", 2, "hand", 5, 5)
        made = anchor_everywhere(puppet, "hand", "a", 0, "the nearest frame").clip("a")
        self.assertEqual(made.frames[3].anchor("hand"), Point(5, 5))
        self.assertIsNone(made.frames[1].anchor("hand"), "it lies between its neighbours already")

    @given(some.integers(0, 7), some.integers(0, 20), ways)
    def test_no_point_that_was_there_moves_and_all_frames_have_it(
        self, number: int, index: int, by: Beside
    ) -> None:
        puppet = demo_puppet()
        source = puppet.clips[number]
        index %= len(source.frames)
        if source.anchor_at(index, "pole_tip") is None:
            self.assertIs(anchor_everywhere(puppet, "pole_tip", source.id, index, by), puppet)
            return
        made = anchor_everywhere(puppet, "pole_tip", source.id, index, by)
        self.assertEqual(puppet_from(puppet_bytes(made)), made)
        for before, after in zip(puppet.clips, made.clips, strict=True):
            for at in range(len(before.frames)):
                was = before.anchor_at(at, "pole_tip")
                self.assertIsNotNone(after.anchor_at(at, "pole_tip"))
                if was is not None:
                    self.assertEqual(after.anchor_at(at, "pole_tip"), was)
        self.assertIs(anchor_everywhere(made, "pole_tip", source.id, index, by), made)

    def test_of_an_anchor_that_is_nowhere_nothing_is_guessed(self) -> None:
        puppet = Puppet(clips=(clip("a", [None]),))
        self.assertIs(anchor_everywhere(puppet, "hand", "a", 0, "the body box"), puppet)
        other = replace(puppet, clips=(replace(puppet.clips[0], frames=(replace(
            puppet.clips[0].frames[0], anchors=(AnchorPoint("foot", 1, 1),)),)),))
        self.assertIs(anchor_everywhere(other, "hand", "a", 0, "the body box"), other)
