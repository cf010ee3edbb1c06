"""Art that was redrawn: every frame is found again with all that hangs on it."""

from __future__ import annotations

import numpy as np
from hypothesis import given
from hypothesis import strategies as some
from msgspec.structs import replace
from numpy.typing import NDArray

from tests.helpers import Case, puppet_of
from yarn_puppet.core.art.marks import mark_of, marks_of
from yarn_puppet.core.model.clips import AnchorPoint, Box, Cell, Clip, Frame, Mark, Point
from yarn_puppet.core.model.edits.following.lattice import Extent, carried_on
from yarn_puppet.core.model.edits.following.matching import Drawing
from yarn_puppet.core.model.edits.following.recutting import (
    FrameAt,
    Recut,
    cell_taken_in,
    home_of,
    marked,
    recut,
    recut_too,
)
from yarn_puppet.core.model.edits.frames.frames import frames_removed
from yarn_puppet.core.model.events import Moment, Window
from yarn_puppet.core.model.puppet import Puppet

SIDE = 20
Sheet = NDArray[np.uint8]


def figure(number: int, dx: int = 0) -> Sheet:
    """A cell with a figure of its own, moved across by some pixels."""
    cell = np.zeros((SIDE, SIDE, 4), dtype=np.uint8)
    cell[4:14, 5 + dx: 11 + dx] = (number, 255 - number, 7, 255)
    return cell


def sheet_of(*figures: Sheet) -> Sheet:
    """One row of cells."""
    return np.concatenate(figures, axis=1)


def cells(count: int, side: int = SIDE) -> list[Cell]:
    return [Cell("sheet", index * side, 0, side, side) for index in range(count)]


def read(sheet: Sheet, wanted: list[Cell]) -> dict[Cell, Mark]:
    return marks_of(lambda cell: sheet[cell.y: cell.y + cell.height, cell.x: cell.x + cell.width],
                    wanted)


def puppet_on(sheet: Sheet, count: int) -> Puppet:
    """A clip of the first cells, each with a box, an anchor and a moment of its own."""
    marks = read(sheet, cells(count))
    frames = tuple(
        Frame(cell, 50.0, boxes=(Box("hit", 5, 4, 6, 10, "b"),),
              anchors=(AnchorPoint("a", 8, index),),
              mark=marks.get(cell))
        for index, cell in enumerate(cells(count))
    )
    moments = tuple(Moment(f"m{index}", index * 50.0 + 10, "effect", "x") for index in range(count))
    return puppet_of([Clip("c", "c", frames, pivot=Point(10, 18), moments=moments,
                           windows=(Window("w", 50, 150, "hit", "b"),))], [])


def follow(
    puppet: Puppet, sheet: str, cut: list[Cell], marks: dict[Cell, Mark], fit: bool = False
) -> Recut:
    """Follow a sheet that is cut into these cells now."""
    own = [frame.cell for clip in puppet.clips for frame in clip.frames]
    return recut(puppet, Drawing(sheet, tuple(cut), (), marks, fit=own if fit else ()))


class Marks(Case):
    def test_the_same_figure_has_the_same_mark_wherever_it_stands(self) -> None:
        one, other = mark_of(figure(40)), mark_of(figure(40, 3))
        assert one and other
        self.assertEqual((one.digest, one.x + 3), (other.digest, other.x))
        self.assertNotEqual(one.digest, mark_of(figure(41)).digest)  # type: ignore[union-attr]
        self.assertIsNone(mark_of(np.zeros((5, 5, 4), dtype=np.uint8)))

    def test_how_programs_round_half_clear_colours_does_not_matter(self) -> None:
        one, other = figure(40), figure(40)
        one[4, 5], other[4, 5] = (100, 50, 20, 90), (99, 51, 20, 90)
        self.assertEqual(mark_of(one), mark_of(other))
        other[4, 5, 3] = 91
        self.assertNotEqual(mark_of(one), mark_of(other))


class Following(Case):
    @given(some.permutations(range(6)), some.integers(-3, 3))
    def test_however_the_cells_are_shuffled_each_frame_keeps_what_it_shows(
        self, order: list[int], dx: int
    ) -> None:
        puppet = puppet_on(sheet_of(*[figure(number) for number in range(6)]), 6)
        after = sheet_of(*[figure(number, dx) for number in order])
        found = follow(puppet, "sheet", cells(6), read(after, cells(6)))
        made = found.puppet.clips[0]
        self.assertEqual([frame.cell.x // SIDE for frame in made.frames],
                         [order.index(number) for number in range(6)])
        self.assertEqual((found.lost, found.fresh, found.redrawn), ((), (), ()))
        self.assertEqual([box.x for frame in made.frames for box in frame.boxes], [5 + dx] * 6)
        self.assertEqual([frame.anchors[0].x for frame in made.frames], [8 + dx] * 6)
        self.assertEqual({made.pivot_of(index).x for index in range(6)}, {10 + dx})
        self.assertEqual((made.moments, made.windows),
                         (puppet.clips[0].moments, puppet.clips[0].windows))

    def test_frames_shifted_one_added_and_one_removed(self) -> None:
        before = sheet_of(*[figure(number) for number in range(5)])
        puppet = puppet_on(before, 5)
        # 99 is new after the first, 3 is gone.
        after = sheet_of(*[figure(number) for number in (0, 99, 1, 2, 4)])
        found = follow(puppet, "sheet", cells(5), read(after, cells(5)))
        made = found.puppet.clips[0]
        self.assertEqual([frame.cell.x // SIDE for frame in made.frames], [0, 2, 3, 3, 4])
        self.assertEqual(found.moved, (FrameAt("c", 1), FrameAt("c", 2)))
        self.assertEqual(found.lost, (FrameAt("c", 3),))
        self.assertEqual(found.fresh, (cells(5)[1],))
        self.assertEqual(found.kept, 2)
        self.assertEqual(made.moments, puppet.clips[0].moments, "nothing is lost silently")

    def test_a_new_cell_goes_where_it_stands_in_the_row(self) -> None:
        puppet = puppet_on(sheet_of(*[figure(number) for number in range(4)]), 4)
        after = sheet_of(*[figure(number) for number in (0, 1, 99, 2, 3)])
        marks = read(after, cells(5))
        found = follow(puppet, "sheet", cells(5), marks)
        home = home_of(found.puppet, found.fresh[0])
        self.assertEqual(home, FrameAt("c", 2))
        assert home is not None
        made = cell_taken_in(found.puppet, found.fresh[0], marks[found.fresh[0]], home).clips[0]
        self.assertEqual([frame.cell.x // SIDE for frame in made.frames], [0, 1, 2, 3, 4])
        self.assertEqual([moment.at for moment in made.moments], [10, 60, 160, 210],
                         "events went on with their frames")
        self.assertEqual((made.windows[0].start, made.windows[0].end), (50, 200))

    def test_what_is_painted_over_is_found_by_its_place(self) -> None:
        puppet = puppet_on(sheet_of(*[figure(number) for number in range(3)]), 3)
        after = sheet_of(figure(0), figure(77), figure(2))
        found = follow(puppet, "sheet", cells(3), read(after, cells(3)))
        self.assertEqual(found.redrawn, (FrameAt("c", 1),))
        self.assertEqual((found.lost, found.fresh, found.moved), ((), (), ()))
        self.assertEqual([frame.cell for frame in found.puppet.clips[0].frames], cells(3))
        self.assertEqual(found.puppet.clips[0].frames[1].boxes, puppet.clips[0].frames[1].boxes)
        again = follow(found.puppet, "sheet", cells(3), read(after, cells(3)))
        self.assertEqual((again.kept, again.redrawn, again.lost, again.fresh, again.moved),
                         (3, (), (), (), ()),
                         "it is told once")

    def test_twins_do_not_change_places(self) -> None:
        puppet = puppet_on(sheet_of(figure(1), figure(1), figure(2)), 3)
        after = sheet_of(figure(9), figure(1), figure(1), figure(2))
        found = follow(puppet, "sheet", cells(4), read(after, cells(4)))
        self.assertEqual([frame.cell.x // SIDE for frame in found.puppet.clips[0].frames],
                         [2, 1, 3])

    def test_cells_of_another_size_take_the_boxes_along(self) -> None:
        puppet = puppet_on(sheet_of(figure(0), figure(1)), 2)
        wide = [Cell("sheet", 0, 0, 20, 20), Cell("sheet", 22, 2, 16, 14)]
        found = follow(puppet, "sheet", wide, read(sheet_of(figure(0), figure(1)), wide), True)
        second = found.puppet.clips[0].frames[1]
        self.assertEqual((second.boxes[0].x, second.boxes[0].y), (3, 2))
        self.assertEqual(found.puppet.clips[0].pivot_of(1), Point(8, 16))
        self.assertEqual(found.puppet.clips[0].pivot_of(0), Point(10, 18))

    def test_frames_without_marks_are_found_by_place_and_marked(self) -> None:
        sheet = sheet_of(figure(0), figure(1))
        puppet = puppet_on(sheet, 2)
        plain = replace(puppet, clips=(replace(puppet.clips[0], frames=tuple(
            replace(frame, mark=None) for frame in puppet.clips[0].frames)),))
        self.assertEqual(marked(plain, "sheet", read(sheet, cells(2))), puppet)
        found = follow(plain, "sheet", cells(2), read(sheet, cells(2)))
        self.assertEqual(found.puppet, puppet)

    def test_a_frames_own_cell_is_always_a_candidate(self) -> None:
        before = sheet_of(*[figure(number) for number in range(4)])
        puppet = puppet_on(before, 4)
        after = sheet_of(figure(0), figure(77), figure(2), figure(3))
        large = [Cell("sheet", 0, 0, 40, 20), Cell("sheet", 40, 0, 40, 20)]
        found = follow(puppet, "sheet", large, read(after, [*large, *cells(4)]))
        self.assertEqual([frame.cell for frame in found.puppet.clips[0].frames], cells(4))
        self.assertEqual((found.redrawn, found.lost, found.fresh), ((FrameAt("c", 1),), (), ()))

    def test_cells_of_their_size_are_found_where_no_frame_was(self) -> None:
        puppet = puppet_on(sheet_of(*[figure(number) for number in range(3)], figure(9)), 3)
        after = sheet_of(figure(50), *[figure(number) for number in range(3)])
        large = [Cell("sheet", 0, 0, 80, 20)]
        more = carried_on(cells(3), Extent(80, 20))
        self.assertEqual(list(more), cells(4))
        found = recut(puppet, Drawing("sheet", tuple(large), more, read(after, [*large, *more])))
        self.assertEqual([frame.cell.x // SIDE for frame in found.puppet.clips[0].frames],
                         [1, 2, 3])

    @given(some.integers(3, 9), some.integers(3, 9), some.integers(0, 4), some.integers(0, 3),
           some.sets(some.tuples(some.integers(0, 4), some.integers(0, 4)), min_size=1))
    def test_a_lattice_holds_the_cells_it_carries_on(
        self, width: int, height: int, gap: int, margin: int, places: set[tuple[int, int]]
    ) -> None:
        own = [Cell("s", margin + x * (width + gap), margin + y * (height + gap), width, height)
               for x, y in places]
        more = carried_on(own, Extent(80, 80))
        self.assertLessEqual(set(own), set(more))
        self.assertEqual(len(set(more)), len(more))
        self.assertTrue(all(each.x + each.width <= 80 and each.y + each.height <= 80
                            for each in more))

    def test_what_hangs_on_a_mirrored_frame_moves_to_the_other_side(self) -> None:
        sheet, wanted = figure(0), cells(1)
        mark = read(sheet, wanted)[wanted[0]]
        frame = Frame(wanted[0], 50.0, True, Point(10, 18), (Box("hit", 4, 4, 6, 10),),
                      (AnchorPoint("a", 4, 0),), mark)
        puppet = puppet_of([Clip("c", "c", (frame,))], [])
        (after,) = follow(puppet, "sheet", wanted, read(figure(0, 3), wanted)).puppet.clips[
            0].frames
        self.assertEqual((after.boxes[0].x, after.anchors[0].x), (1, 1))
        self.assertEqual(after.pivot, Point(7, 18))

    def test_blank_and_faint_frames_are_not_gone(self) -> None:
        faint = np.zeros((SIDE, SIDE, 4), dtype=np.uint8)
        faint[4:9, 4:9] = (9, 9, 9, 12)
        blank = np.zeros_like(faint)
        before = sheet_of(figure(0), faint, blank, figure(3))
        puppet = puppet_on(before, 4)
        after = sheet_of(figure(1), faint, blank, figure(3))
        cut = [cells(4)[0], cells(4)[3]]
        found = follow(puppet, "sheet", cut, read(after, cells(4)))
        self.assertEqual((found.lost, found.redrawn, found.kept), ((), (FrameAt("c", 0),), 3))

    def test_a_frame_that_is_blank_now_is_gone_and_comes_back(self) -> None:
        whole = sheet_of(figure(0), figure(1))
        puppet = puppet_on(whole, 2)
        without = sheet_of(figure(0), np.zeros((SIDE, SIDE, 4), dtype=np.uint8))
        found = follow(puppet, "sheet", cells(1), read(without, cells(2)))
        self.assertEqual(found.lost, (FrameAt("c", 1),))
        self.assertEqual(found.puppet, puppet)
        self.assertEqual(follow(found.puppet, "sheet", cells(2), read(whole, cells(2))).kept, 2)

    def test_a_marked_and_an_unmarked_frame_of_one_cell_go_together(self) -> None:
        puppet = puppet_on(sheet_of(figure(0), figure(1)), 2)
        first = puppet.clips[0].frames[0]
        puppet = replace(puppet, clips=(replace(puppet.clips[0], frames=(
            first, replace(first, mark=None), puppet.clips[0].frames[1])),))
        after = sheet_of(figure(1), figure(0))
        found = follow(puppet, "sheet", cells(2), read(after, cells(2)))
        self.assertEqual([frame.cell.x // SIDE for frame in found.puppet.clips[0].frames],
                         [1, 1, 0])
        self.assertEqual(found.lost, ())

    def test_what_was_gone_before_is_not_drawn_over_now(self) -> None:
        puppet = puppet_on(sheet_of(figure(0), figure(1)), 2)
        first, second = puppet.clips[0].frames
        # The first frame's picture went before; its cell shows the second's, moved on, which is now
        # repainted.
        puppet = replace(puppet,
                         clips=(replace(puppet.clips[0],
                                        frames=(first, replace(second, cell=first.cell))),))
        drawing = Drawing("sheet", tuple(cells(1)), (), read(figure(7), cells(1)),
                          read(figure(1), cells(1)))
        found = recut(puppet, drawing)
        self.assertEqual((found.lost, found.redrawn), ((FrameAt("c", 0),), (FrameAt("c", 1),)))

    def test_twins_that_became_one_share_it(self) -> None:
        puppet = puppet_on(sheet_of(figure(0), figure(1), figure(1), figure(2)), 4)
        after = sheet_of(figure(0), figure(1), figure(2))
        found = follow(puppet, "sheet", cells(3), read(after, cells(3)))
        self.assertEqual([frame.cell.x // SIDE for frame in found.puppet.clips[0].frames],
                         [0, 1, 1, 2])
        self.assertEqual((found.lost, found.redrawn), ((), ()))

    @given(some.lists(some.integers(0, 5), min_size=1, max_size=6),
           some.lists(some.integers(0, 7), max_size=8))
    def test_no_two_frames_that_differ_get_one_cell_and_none_is_lost_that_is_there(
        self, before: list[int], after: list[int]
    ) -> None:
        puppet = puppet_on(sheet_of(*map(figure, before)), len(before))
        drawn = (
            sheet_of(*map(figure, after)) if after else np.zeros((SIDE, SIDE, 4), dtype=np.uint8)
        )
        known = {*cells(len(after)), *cells(len(before))}
        marks = {cell: mark for cell in known if cell.x < drawn.shape[1]
                 for mark in read(drawn, [cell]).values()}
        found = follow(puppet, "sheet", cells(len(after)), marks)
        frames = found.puppet.clips[0].frames
        lost = {at.frame for at in found.lost}
        for index, number in enumerate(before):
            if number in after:
                self.assertNotIn(index, lost)
            if index not in lost and frames[index].mark == puppet.clips[0].frames[index].mark:
                self.assertEqual(after[frames[index].cell.x // SIDE], number)
        shown = [(frames[index].cell, before[index])
                 for index in range(len(before)) if index not in lost]
        self.assertEqual(len({cell for cell, _ in shown}), len(dict(shown)))
        self.assertTrue(all(len({number for cell, number in shown if cell == each}) == 1
                            for each, _ in shown))
        self.assertEqual((found.puppet.clips[0].moments, found.puppet.clips[0].windows),
                         (puppet.clips[0].moments, puppet.clips[0].windows))

    def test_steps_of_a_history_are_followed_as_each_alone(self) -> None:
        puppet = puppet_on(sheet_of(*[figure(number) for number in range(4)]), 4)
        later = frames_removed(puppet, "c", (0,))
        after = sheet_of(*[figure(number) for number in (3, 2, 1, 0)])
        drawing = Drawing("sheet", tuple(cells(4)), (), read(after, cells(4)))
        made = recut_too([puppet, later], drawing)
        self.assertEqual(made, (recut(puppet, drawing).puppet, recut(later, drawing).puppet))

    def test_other_sheets_are_left_alone(self) -> None:
        puppet = puppet_on(sheet_of(figure(0), figure(1)), 2)
        self.assertEqual(follow(puppet, "another", [], {}).puppet, puppet)
