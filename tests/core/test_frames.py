"""Frames, boxes and events of clips: what hangs on a frame stays with it."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as some

from tests.helpers import Case, clip, demo_puppet, puppet_of
from yarn_puppet.core.model.clips import AnchorPoint, Box, Cell, Clip, Frame, Point
from yarn_puppet.core.model.edits import clips as clip_edits
from yarn_puppet.core.model.edits import joining
from yarn_puppet.core.model.edits.frames import boxes as box_edits
from yarn_puppet.core.model.edits.frames import events as event_edits
from yarn_puppet.core.model.edits.frames import frames as edits
from yarn_puppet.core.model.events import Moment, Window
from yarn_puppet.core.model.ids import all_ids
from yarn_puppet.core.model.puppet import Puppet

LENGTHS = some.lists(some.integers(10, 200), min_size=2, max_size=6)


def hung(lengths: list[int]) -> Puppet:
    """A clip with a moment in the middle of each of its frames, and a window over each."""
    made = clip("c", lengths)
    starts = [made.start_of(index) for index in range(len(lengths))]
    moments = [Moment(f"m{index}", starts[index] + lengths[index] / 2, "effect", "x") for index in range(len(lengths))]
    windows = [Window(f"w{index}", starts[index], starts[index] + lengths[index], "guard", "x")
               for index in range(len(lengths))]
    frames = [Frame(Cell("sheet", index, 0, 9, 9), float(length)) for index, length in enumerate(lengths)]
    return puppet_of([Clip("c", "c", tuple(frames), moments=tuple(moments), windows=tuple(windows))], [])


def clip_of(puppet: Puppet) -> Clip:
    found = puppet.clip("c")
    assert found is not None
    return found


class StayingWithTheirFrames(Case):
    def check(self, after: Clip) -> None:
        """Each frame that is left has its own moment in its middle and its window over it."""
        for index, frame in enumerate(after.frames):
            own, start = frame.cell.x, after.start_of(index)
            moment = next(each for each in after.moments if each.id == f"m{own}")
            window = next(each for each in after.windows if each.id == f"w{own}")
            self.assertAlmostEqual(moment.at, start + frame.duration / 2, delta=0.01)
            self.assertAlmostEqual(window.start, start, delta=0.01)
            self.assertAlmostEqual(window.end, start + frame.duration, delta=0.01)

    @given(LENGTHS, some.integers(0, 5), some.floats(1, 500))
    def test_when_a_frame_lasts_longer_or_shorter(self, lengths: list[int], index: int, duration: float) -> None:
        puppet = edits.frame_changed(hung(lengths), "c", index % len(lengths), duration=duration)
        self.check(clip_of(puppet))

    @given(LENGTHS, some.sets(some.integers(0, 5), min_size=1), some.integers(0, 6))
    def test_when_frames_are_moved(self, lengths: list[int], indices: set[int], to: int) -> None:
        after = clip_of(edits.frames_moved(hung(lengths), "c", indices, min(to, len(lengths))))
        self.assertCountEqual([frame.cell.x for frame in after.frames], range(len(lengths)))
        self.check(after)

    @given(LENGTHS, some.sets(some.integers(0, 5), max_size=4))
    def test_when_frames_are_removed(self, lengths: list[int], indices: set[int]) -> None:
        after = clip_of(edits.frames_removed(hung(lengths), "c", indices))
        self.assertTrue(after.frames)
        self.check(after)
        self.assertEqual(len(after.moments), len(lengths), "what was on a frame that is gone is not lost")
        self.assertTrue(all(0 <= each.at <= after.length + 0.01 for each in after.moments))

    @given(LENGTHS, some.integers(0, 6), some.integers(1, 3))
    def test_when_frames_come_between(self, lengths: list[int], at: int, count: int) -> None:
        fresh = [Frame(Cell("sheet", 99, 0, 9, 9), 50.0)] * count
        after = clip_of(edits.frames_inserted(hung(lengths), "c", fresh, at))
        self.assertEqual(len(after.frames), len(lengths) + count)
        # With the new frames taken out again everything must be where it was.
        new = [index for index, frame in enumerate(after.frames) if frame.cell.x == 99]
        self.assertEqual(clip_of(edits.frames_removed(puppet_of([after], []), "c", new)), clip_of(hung(lengths)))

    @given(LENGTHS, some.floats(20, 3000))
    def test_when_the_whole_is_set(self, lengths: list[int], whole: float) -> None:
        after = clip_of(edits.length_set(hung(lengths), "c", whole))
        self.check(after)
        if min(lengths) / sum(lengths) * whole >= 1:
            self.assertAlmostEqual(after.length, whole, delta=0.01)

    def test_reversed_twice_it_is_as_it_was(self) -> None:
        puppet = hung([80, 40, 120])
        once = edits.frames_reversed(puppet, "c")
        self.check(clip_of(once))
        self.assertEqual([frame.cell.x for frame in clip_of(once).frames], [2, 1, 0])
        self.assertEqual(edits.frames_reversed(once, "c"), puppet)

    def test_the_last_frame_of_a_clip_stays(self) -> None:
        puppet = hung([80, 40])
        self.assertEqual(edits.frames_removed(puppet, "c", (0, 1)), puppet)

    def test_other_values_of_a_frame_move_nothing(self) -> None:
        puppet = puppet_of([clip("c", [33.3334, 10], moments=[Moment("m", 20.123456, "effect", "x")])], [])
        after = clip_of(edits.frames_changed(puppet, "c", mirrored=True))
        self.assertEqual(after.moments, clip_of(puppet).moments)


class WholeClips(Case):
    def test_split_and_merged_again_it_shows_and_says_the_same(self) -> None:
        puppet = demo_puppet()
        whole = puppet.clip("light_swing")
        assert whole is not None
        puppet, rest = joining.clip_split(puppet, "light_swing", 3)
        first, second = puppet.clip("light_swing"), puppet.clip(rest)
        assert first and second
        self.assertEqual(first.frames + second.frames, whole.frames)
        self.assertEqual([(each.name, each.start, each.end) for each in first.windows], [("pole", 140.0, 180.0)])
        self.assertEqual([(each.name, each.start, each.end) for each in second.windows],
                         [("pole", 0.0, 40.0), ("cancel", 40.0, 240.0)])
        merged = joining.clips_merged(puppet, ["light_swing", rest]).clip("light_swing")
        assert merged is not None
        self.assertEqual(merged.frames, whole.frames)
        self.assertEqual([each.at for each in merged.moments], [each.at for each in whole.moments])

    def test_merged_frames_stand_as_they_stood(self) -> None:
        puppet = clip_edits.clip_changed(demo_puppet(), "walk", pivot=Point(40, 58))
        merged = joining.clips_merged(puppet, ["idle", "walk"]).clip("idle")
        assert merged is not None
        self.assertEqual([merged.pivot_of(index) for index in (0, 5, 6, 13)],
                         [Point(44, 60), Point(44, 60), Point(40, 58), Point(40, 58)])

    def test_states_follow_a_clip_that_was_merged_away(self) -> None:
        puppet = joining.clips_merged(demo_puppet(), ["idle", "walk"])
        state = puppet.state("walk_state")
        assert state is not None
        self.assertEqual(state.clip, "idle")

    def test_a_copy_stands_beside_it_with_ids_of_its_own(self) -> None:
        puppet, id = clip_edits.clip_duplicated(demo_puppet(), "walk")
        self.assertEqual([each.id for each in puppet.clips][:3], ["idle", "walk", id])
        self.assertEqual(len(all_ids(puppet)), len(all_ids(demo_puppet())) + 3)


class Events(Case):
    @given(some.floats(-500, 900))
    def test_moved_together_they_keep_their_distances_and_stay_inside(self, by: float) -> None:
        ids = {"swing_hit", "spark", "swing_cancel"}
        puppet = event_edits.events_moved(demo_puppet(), "light_swing", ids, by)
        before, after = demo_puppet().clip("light_swing"), puppet.clip("light_swing")
        assert before and after
        starts = [(one.start - other.start, one.end - other.end)
                  for one, other in zip(after.windows, before.windows, strict=True)]
        self.assertEqual(len({round(each, 2) for pair in starts for each in pair}), 1)
        self.assertTrue(all(0 <= each.start <= each.end <= after.length for each in after.windows))
        self.assertEqual(after.moments[0], before.moments[0], "what is not selected stays")

    def test_copied_into_another_clip_they_keep_their_times_up_to_its_end(self) -> None:
        puppet, ids = event_edits.events_copied(demo_puppet(), "light_swing", {"swing_cancel", "spark"}, "rise")
        rise = puppet.clip("rise")
        assert rise is not None
        copies = {each.id: each for each in rise.events if each.id in ids}
        self.assertEqual({(each.name, getattr(each, "at", None) or getattr(each, "end", None))
                          for each in copies.values()}, {("spark", 140.0), ("cancel", 210.0)})


class OnFrames(Case):
    def test_boxes_are_many_and_each_is_changed_alone(self) -> None:
        puppet = demo_puppet()
        for box in (Box("hit", 1, 1, 5, 5, "pole"), Box("hit", 9, 9, 5, 5, "pole")):
            puppet = box_edits.box_added(puppet, "walk", 0, box)
        puppet = box_edits.box_changed(puppet, "walk", 0, 1, Box("hit", 2, 2, 5, 5, "pole"))
        walk = puppet.clip("walk")
        assert walk is not None
        self.assertEqual([box.x for box in walk.frames[0].boxes], [34, 2, 9])
        puppet = box_edits.box_removed(puppet, "walk", 0, 1)
        self.assertEqual([box.x for box in puppet.clip("walk").frames[0].boxes], [34, 9])  # type: ignore[union-attr]

    def test_boxes_copied_on_keep_their_distance_from_the_pivot(self) -> None:
        puppet = box_edits.pivot_set(demo_puppet(), "walk", 2, Point(54, 62))
        puppet = box_edits.boxes_copied(puppet, "walk", 0, "body", range(1, 8))
        walk = puppet.clip("walk")
        assert walk is not None
        self.assertEqual([(walk.frames[index].boxes[0].x, walk.frames[index].boxes[0].y) for index in (1, 2)],
                         [(34, 10), (44, 12)])

    def test_an_anchor_lies_between_those_of_its_neighbours(self) -> None:
        frames = tuple(Frame(Cell("s", 0, 0, 20, 20), duration, pivot=Point(10, bottom), anchors=anchors)
                       for duration, bottom, anchors in (
                           (100.0, 20.0, (AnchorPoint("a", 2, 4),)), (50.0, 20.0, ()), (50.0, 16.0, ()),
                           (100.0, 20.0, (AnchorPoint("a", 10, 12),))))
        made = Clip("c", "c", frames)
        self.assertEqual([made.anchor_at(index, "a") for index in range(4)],
                         [Point(2, 4), Point(4.667, 6.667), Point(7.333, 5.333), Point(10, 12)])
        self.assertIsNone(made.anchor_at(1, "b"))
        puppet = box_edits.anchor_cleared(puppet_of([made], []), "c", 3, "a")
        self.assertEqual([puppet.clips[0].anchor_at(index, "a") for index in range(4)],
                         [Point(2, 4), None, None, None])
