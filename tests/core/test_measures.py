"""What is measured on frames: feet and their drift, and the seam of a loop."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from tests.helpers import Case
from yarn_puppet.core.art.measures import (
    Bounds,
    bounds_of,
    changed_pixels,
    drift,
    feet_of,
    loop_seam,
)
from yarn_puppet.core.model.clips import Point


def standing(x: int, bottom: int = 50, wide: int = 8) -> NDArray[np.uint8]:
    """A cell of 60×60 with a figure whose feet stand around x."""
    cell = np.zeros((60, 60, 4), dtype=np.uint8)
    cell[10:bottom - 4, 10:50] = (60, 70, 80, 255)
    cell[bottom - 4: bottom, x - wide // 2: x + wide // 2] = (90, 40, 30, 255)
    return cell


def ball(x: int) -> NDArray[np.uint8]:
    cell = np.zeros((40, 80, 4), dtype=np.uint8)
    cell[10:20, x: x + 10] = 255
    return cell


class Feet(Case):
    def test_they_are_the_lowest_rows_and_nothing_above_counts(self) -> None:
        self.assertEqual(bounds_of(standing(20)[:, :, 3]), Bounds(10, 10, 50, 50))
        self.assertEqual(feet_of(standing(20)[:, :, 3]), Point(20.0, 50.0))
        self.assertIsNone(feet_of(np.zeros((9, 9), dtype=np.uint8)))

    def test_drift_is_how_far_they_stray_from_the_pivot(self) -> None:
        feet = [feet_of(standing(x, bottom)[:, :, 3])
                for x, bottom in ((20, 50), (26, 50), (23, 48))]
        self.assertEqual(drift(feet, [Point(30, 50)] * 3), (6.0, 2.0))
        self.assertEqual(drift(feet, [foot or Point(0, 0) for foot in feet]), (0.0, 0.0),
                         "pivots by the feet take it away")
        self.assertEqual(drift([None, None], [Point(0, 0)] * 2), (0.0, 0.0))


class Seams(Case):
    def test_pixels_are_compared_about_the_pivots(self) -> None:
        self.assertEqual(changed_pixels(ball(10), ball(20), Point(10, 20), Point(20, 20)), 0)
        self.assertEqual(changed_pixels(ball(10), ball(13), Point(0, 0), Point(0, 0)), 60)

    def test_a_loop_that_closes_with_its_usual_step_is_smooth(self) -> None:
        frames = [ball(x) for x in (10, 14, 18, 14)]
        seam = loop_seam(frames, [Point(0, 0)] * 4)
        assert seam is not None
        self.assertEqual((seam.pixels, seam.usual, seam.verdict), (80, 80.0, "smooth"))

    def test_one_that_leaps_back_jumps(self) -> None:
        seam = loop_seam([ball(x) for x in (10, 11, 12, 40)], [Point(0, 0)] * 4)
        assert seam is not None
        self.assertEqual(seam.verdict, "a jump")
        self.assertEqual(seam.pixels, 200)

    def test_feet_that_hop_at_the_seam_are_a_jump_though_few_pixels_change(self) -> None:
        frames = [standing(x) for x in (20, 22, 24, 26)]
        for frame in frames:
            # So much changes at every step that the feet are lost in it.
            frame[12:30, 12:48] = (int(frame[48, 20:30, 0].sum()) % 200, 3, 3, 255)
        seam = loop_seam(frames, [Point(30, 50)] * 4)
        assert seam is not None
        self.assertEqual((seam.feet, seam.verdict), (4.0, "a jump"))

    def test_two_frames_have_no_usual_step(self) -> None:
        self.assertIsNone(loop_seam([ball(1), ball(2)], [Point(0, 0)] * 2))
