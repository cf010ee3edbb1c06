"""Frames, boxes and events of clips: what hangs on a frame stays with it."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as some

from tests.helpers import Case, clip, demo_puppet, puppet_of
from yarn_puppet.core.engine.compiling.clip_tables import compile_clip
from yarn_puppet.core.engine.counting import counts
from yarn_puppet.core.formats.puppet_file import puppet_bytes, puppet_from
from yarn_puppet.core.model.basics.ids import all_ids
from yarn_puppet.core.model.basics.sharing import shared_out
from yarn_puppet.core.model.clips import AnchorPoint, Box, Cell, Clip, Frame, Point
from yarn_puppet.core.model.edits import clips as clip_edits
from yarn_puppet.core.model.edits import joining
from yarn_puppet.core.model.edits.frames import boxes as box_edits
from yarn_puppet.core.model.edits.frames import events as event_edits
from yarn_puppet.core.model.edits.frames import frames as edits
from yarn_puppet.core.model.edits.spreads import (
    spread_added,
    spread_clip_placed,
    spread_clip_taken_out,
)
from yarn_puppet.core.model.events import Moment, Window
from yarn_puppet.core.model.puppet import Puppet, find
from yarn_puppet.core.pose.place import PlacedFrame
from yarn_puppet.core.snags.check import check

LENGTHS = some.lists(some.integers(10, 200), min_size=2, max_size=6)


def with_events(lengths: list[int]) -> Puppet:
    """A clip with a moment in the middle of each of its frames, and a window over each."""
    made = clip("c", lengths)
    starts = [made.start_of(index) for index in range(len(lengths))]
    moments = [Moment(f"m{index}", starts[index] + lengths[index] / 2, "effect", "x")
               for index in range(len(lengths))]
    windows = [Window(f"w{index}", starts[index], starts[index] + lengths[index], "guard", "x")
               for index in range(len(lengths))]
    frames = [Frame(Cell("sheet", index, 0, 9, 9), float(length))
              for index, length in enumerate(lengths)]
    return puppet_of([Clip("c", "c", tuple(frames), moments=tuple(moments),
                           windows=tuple(windows))], [])


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
    def test_when_a_frame_lasts_longer_or_shorter(
        self, lengths: list[int], index: int, duration: float
    ) -> None:
        puppet = edits.frame_changed(with_events(lengths), "c", index % len(lengths),
                                     duration=duration)
        self.check(clip_of(puppet))

    @given(LENGTHS, some.sets(some.integers(0, 5), min_size=1), some.integers(0, 6))
    def test_when_frames_are_moved(self, lengths: list[int], indices: set[int], to: int) -> None:
        after = clip_of(edits.frames_moved(with_events(lengths), "c", indices,
                                           min(to, len(lengths))))
        self.assertCountEqual([frame.cell.x for frame in after.frames], range(len(lengths)))
        self.check(after)

    @given(LENGTHS, some.sets(some.integers(0, 5), max_size=4))
    def test_when_frames_are_removed(self, lengths: list[int], indices: set[int]) -> None:
        after = clip_of(edits.frames_removed(with_events(lengths), "c", indices))
        self.assertTrue(after.frames)
        self.check(after)
        self.assertEqual(len(after.moments), len(lengths),
                         "what was on a frame that is gone is not lost")
        self.assertTrue(all(0 <= moment.at <= after.length + 0.01 for moment in after.moments))

    @given(LENGTHS, some.integers(0, 6), some.integers(1, 3))
    def test_when_frames_come_between(self, lengths: list[int], at: int, count: int) -> None:
        fresh = [Frame(Cell("sheet", 99, 0, 9, 9), 50.0)] * count
        after = clip_of(edits.frames_inserted(with_events(lengths), "c", fresh, at))
        self.assertEqual(len(after.frames), len(lengths) + count)
        # With the new frames taken out again everything must be where it was.
        new = [index for index, frame in enumerate(after.frames) if frame.cell.x == 99]
        self.assertEqual(clip_of(edits.frames_removed(puppet_of([after], []), "c", new)),
                         clip_of(with_events(lengths)))

    @given(LENGTHS, some.floats(20, 3000))
    def test_when_the_whole_is_set(self, lengths: list[int], whole: float) -> None:
        after = clip_of(edits.length_set(with_events(lengths), "c", whole))
        self.check(after)
        if min(lengths) / sum(lengths) * whole >= 1:
            self.assertAlmostEqual(after.length, whole, delta=0.01)

    def test_reversed_twice_it_is_as_it_was(self) -> None:
        puppet = with_events([80, 40, 120])
        once = edits.frames_reversed(puppet, "c")
        self.check(clip_of(once))
        self.assertEqual([frame.cell.x for frame in clip_of(once).frames], [2, 1, 0])
        self.assertEqual(edits.frames_reversed(once, "c"), puppet)

    def test_a_frame_moved_inside_a_window_leaves_it_over_the_same_frames(self) -> None:
        made = clip("c", [40, 40, 40, 40], windows=[Window("w", 40, 160, "hit", "x")])
        for moved, to, wanted in (((1,), 3, (40, 160)), ((2,), 1, (40, 160)), ((3,), 0, (0, 160)),
                                  ((0,), 2, (0, 160))):
            after = clip_of(edits.frames_moved(puppet_of([made], []), "c", moved, to))
            self.assertEqual((after.windows[0].start, after.windows[0].end), wanted, (moved, to))

    def test_a_window_has_a_length_whatever_becomes_of_its_frames(self) -> None:
        puppet = puppet_of([clip("c", [40, 40, 40], windows=[Window("w", 40, 80, "hit", "x")])], [])
        for gone, wanted in (((1,), (40, 80)), ((1, 2), (0, 40)), ((0, 1), (0, 40))):
            window = clip_of(edits.frames_removed(puppet, "c", gone)).windows[0]
            self.assertEqual((window.start, window.end), wanted,
                             "over the frame that took its place")
        none = puppet_of([clip("c", [40, 40], windows=[Window("w", 40, 40, "hit", "x")])], [])
        after = clip_of(edits.frames_moved(none, "c", (1,), 0))
        self.assertEqual((after.windows[0].start, after.windows[0].end), (0, 0.001))
        self.assertTrue(any("has no length" in snag.why for snag in check(none)))
        changed = clip_of(event_edits.event_changed(puppet, "c", "w", end=40.0))
        self.assertGreater(changed.windows[0].end, changed.windows[0].start)

    def test_a_window_without_length_never_opens(self) -> None:
        for start, end in ((40, 40), (60, 40), (80, 90)):
            made = clip("c", [40, 40], windows=[Window("w", start, end, "hit", "x")])
            self.assertEqual(compile_clip(made, 60).windows, (), (start, end))
            self.assertEqual(counts(compile_clip(made, 60)).active, 0)
        self.assertEqual(len(compile_clip(clip(
            "c", [40], windows=[Window("w", 7, 7.001, "hit", "x")]), 60).windows), 1)

    def test_reversed_a_moment_at_a_frames_start_stays_on_its_picture(self) -> None:
        made = clip("c", [40, 30, 50],
                    moments=[Moment("m", 40, "effect", "x"), Moment("n", 45, "effect", "x")])
        after = clip_of(edits.frames_reversed(puppet_of([made], []), "c"))
        self.assertEqual([moment.at for moment in after.moments], [50, 75])

    def test_the_whole_is_exact_and_what_is_rounded_off_is_spread(self) -> None:
        three = edits.length_set(puppet_of([clip("c", [100] * 3)], []), "c", 100)
        self.assertEqual(clip_of(three).length, 100)
        self.assertEqual(sorted(frame.duration for frame in clip_of(three).frames),
                         [33.333, 33.333, 33.334])

    @given(some.lists(some.integers(1, 10**6), min_size=1, max_size=30), some.integers(1, 10**6),
           some.integers(1, 2000))
    def test_nothing_is_lost_in_sharing_out(self, parts: list[int], whole: int, least: int) -> None:
        found = shared_out(parts, whole, least)
        self.assertEqual(sum(found), max(whole, least * len(parts)))
        self.assertGreaterEqual(min(found), least)

    def test_the_last_frame_of_a_clip_stays(self) -> None:
        puppet = with_events([80, 40])
        self.assertEqual(edits.frames_removed(puppet, "c", (0, 1)), puppet)

    def test_other_values_of_a_frame_move_nothing(self) -> None:
        puppet = puppet_of([clip("c", [33.3334, 10],
                                 moments=[Moment("m", 20.123456, "effect", "x")])], [])
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
        self.assertEqual([(window.name, window.start, window.end) for window in first.windows],
                         [("pole", 140.0, 180.0)])
        self.assertEqual([(window.name, window.start, window.end) for window in second.windows],
                         [("pole", 0.0, 40.0), ("cancel", 40.0, 240.0)])
        merged = joining.clips_merged(puppet, ["light_swing", rest]).clip("light_swing")
        assert merged is not None
        self.assertEqual(merged.frames, whole.frames)
        self.assertEqual([moment.at for moment in merged.moments],
                         [moment.at for moment in whole.moments])

    def test_merged_frames_stand_as_they_stood(self) -> None:
        puppet = clip_edits.clip_changed(demo_puppet(), "walk", pivot=Point(40, 58))
        merged = joining.clips_merged(puppet, ["idle", "walk"]).clip("idle")
        assert merged is not None
        self.assertEqual([merged.pivot_of(index) for index in (0, 5, 6, 13)],
                         [Point(44, 60), Point(44, 60), Point(40, 58), Point(40, 58)])

    def test_merged_clips_that_look_the_other_way_are_turned(self) -> None:
        puppet, mirrored = clip_edits.mirrored_copy(demo_puppet(), "light_swing")
        both = joining.clips_merged(puppet, ["light_swing", mirrored]).clip("light_swing")
        assert both is not None
        self.assertEqual(both.frames[:7], both.frames[7:])
        self.assertEqual(len({event.id for event in both.events}), len(both.events))

    def test_events_of_one_id_in_two_clips_are_two_in_the_merged_one(self) -> None:
        one, two = (Clip(id, id, (Frame(Cell("s", 0, 0, 9, 9), 50.0),),
                         windows=(Window("w", 0, 50, "hit", "x"),))
                    for id in ("one", "two"))
        merged = joining.clips_merged(puppet_of([one, two], []), ["one", "two"])
        self.assertEqual(puppet_from(puppet_bytes(merged)), merged)
        self.assertEqual([window.start for window in merged.clips[0].windows], [0, 50])

    def test_spreads_keep_the_places_of_a_clip_that_was_merged_away(self) -> None:
        puppet, id = spread_added(demo_puppet(), "ways",
                                  [("idle", "right"), ("walk", "left"), ("rise", "up")])
        puppet = joining.clips_merged(puppet, ["idle", "walk"])
        spread = find(puppet.spreads, id)
        assert spread is not None
        self.assertEqual([(each.clip, each.place) for each in spread.clips],
                         [("idle", (0.0,)), ("idle", (180.0,)), ("rise", (90.0,))])
        puppet = spread_clip_placed(puppet, id, "idle", 270.0, number=1)
        puppet = spread_clip_taken_out(puppet, id, "idle", 0)
        self.assertEqual([(each.clip, each.place[0])
                          for each in find(puppet.spreads, id).clips],  # type: ignore[union-attr]
                         [("idle", 270.0), ("rise", 90.0)])

    def test_split_anchors_stay_where_they_lay(self) -> None:
        frames = tuple(Frame(Cell("s", index, 0, 20, 20), 50.0,
                             anchors=(AnchorPoint("a", 2 * index, 5),)
                             if index in (0, 4) else ()) for index in range(5))
        puppet, _ = joining.clip_split(puppet_of([Clip("c", "c", frames)], []), "c", 2)
        found = [each.anchor_at(index, "a") for each in puppet.clips
                 for index in range(len(each.frames))]
        self.assertEqual([point.x for point in found if point], [0, 2, 4, 6, 8])

    def test_split_at_a_window_without_length_it_is_in_one_part(self) -> None:
        made = clip("c", [50, 50], windows=[Window("w", 50, 50, "hit", "x")])
        puppet, _ = joining.clip_split(puppet_of([made], []), "c", 1)
        self.assertEqual([len(each.windows) for each in puppet.clips], [0, 1])

    def test_a_mirrored_copy_turns_each_frame_by_its_own_width(self) -> None:
        frames = (Frame(Cell("s", 0, 0, 20, 20)), Frame(Cell("s", 0, 0, 31, 20)))
        puppet, id = clip_edits.mirrored_copy(puppet_of(
            [Clip("c", "c", frames, pivot=Point(6, 20))], []), "c")
        turned = puppet.clip(id)
        assert turned is not None
        self.assertEqual([turned.pivot_of(index).x for index in (0, 1)], [14, 25])

    def test_copied_into_a_clip_that_faces_the_other_way_frames_look_and_stand_as_they_did(
        self,
    ) -> None:
        puppet = clip_edits.clip_changed(demo_puppet(), "idle", faces="left", pivot=Point(40, 50))
        swing = puppet.clip("light_swing")
        assert swing is not None
        puppet = edits.frames_brought(puppet, "light_swing", (3,), "idle", 1)
        idle = puppet.clip("idle")
        assert idle is not None
        before = PlacedFrame(swing, 3, 0, 0, False)
        after = PlacedFrame(idle, 1, 0, 0, True)
        self.assertEqual(after.picture(), before.picture())
        self.assertEqual([after.box(box) for box in after.frame.boxes],
                         [before.box(box) for box in before.frame.boxes])
        tip = puppet.anchors[0].id
        self.assertIsNotNone(before.anchor(tip))
        self.assertEqual(after.anchor(tip), before.anchor(tip))

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
        self.assertTrue(all(0 <= window.start <= window.end <= after.length
                            for window in after.windows))
        self.assertEqual(after.moments[0], before.moments[0], "what is not selected stays")

    def test_nothing_is_put_past_the_end_of_its_clip(self) -> None:
        puppet = puppet_of([clip("c", [40, 40], moments=[Moment("m", 10, "effect", "x")])], [])
        puppet, _ = event_edits.event_added(puppet, "c", Window("x", 60, 300, "hit", "late"))
        puppet, _ = event_edits.event_added(puppet, "c", Window("x", 200, 300, "hit", "later"))
        puppet = event_edits.event_changed(puppet, "c", "m", at=500.0)
        made = clip_of(puppet)
        self.assertEqual([(window.start, window.end) for window in made.windows],
                         [(60, 80), (79.999, 80)])
        self.assertEqual(made.moments[0].at, 80)

    def test_a_window_copied_to_a_clip_that_ends_before_it_covers_the_last_frame(self) -> None:
        puppet, ids = event_edits.events_copied(demo_puppet(), "heavy_slam", {"slam_hit"}, "rise")
        rise, slam = puppet.clip("rise"), puppet.clip("heavy_slam")
        assert rise and slam
        self.assertGreater(next(window for window in slam.windows if window.id == "slam_hit").start,
                           rise.length)
        copy = next(window for window in rise.windows if window.id in ids)
        self.assertEqual((copy.start, copy.end), (rise.start_of(len(rise.frames) - 1), rise.length))

    def test_copied_into_another_clip_they_keep_their_times_up_to_its_end(self) -> None:
        puppet, ids = event_edits.events_copied(
            demo_puppet(), "light_swing", {"swing_cancel", "spark"}, "rise")
        rise = puppet.clip("rise")
        assert rise is not None
        copies = {event.id: event for event in rise.events if event.id in ids}
        self.assertEqual({(copy.name, getattr(copy, "at", None) or getattr(copy, "end", None))
                          for copy in copies.values()}, {("spark", 140.0), ("cancel", 210.0)})


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
        self.assertEqual([box.x for box in puppet.clip("walk").frames[0].boxes],
                         [34, 9])  # type: ignore[union-attr]

    def test_boxes_copied_on_keep_their_distance_from_the_pivot(self) -> None:
        puppet = box_edits.pivot_set(demo_puppet(), "walk", 2, Point(54, 62))
        puppet = box_edits.boxes_copied(puppet, "walk", 0, "body", range(1, 8))
        walk = puppet.clip("walk")
        assert walk is not None
        self.assertEqual([(walk.frames[index].boxes[0].x, walk.frames[index].boxes[0].y)
                          for index in (1, 2)],
                         [(34, 10), (44, 12)])

    def test_an_anchor_lies_between_those_of_its_neighbours(self) -> None:
        frames = tuple(Frame(Cell("s", 0, 0, 20, 20), duration, pivot=Point(10, bottom),
                             anchors=anchors)
                       for duration, bottom, anchors in (
                           (100.0, 20.0, (AnchorPoint("a", 2, 4),)), (50.0, 20.0, ()),
                           (50.0, 16.0, ()),
                           (100.0, 20.0, (AnchorPoint("a", 10, 12),))))
        made = Clip("c", "c", frames)
        self.assertEqual([made.anchor_at(index, "a") for index in range(4)],
                         [Point(2, 4), Point(4.667, 6.667), Point(7.333, 5.333), Point(10, 12)])
        self.assertIsNone(made.anchor_at(1, "b"))
        puppet = box_edits.anchor_cleared(puppet_of([made], []), "c", 3, "a")
        self.assertEqual([puppet.clips[0].anchor_at(index, "a") for index in range(4)],
                         [Point(2, 4), None, None, None])
