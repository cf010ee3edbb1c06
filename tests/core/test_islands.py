"""Cutting along what is drawn, and grids with margins, gaps and counts."""

from __future__ import annotations

import numpy as np
from hypothesis import given
from hypothesis import strategies as some
from PIL import Image

from tests.helpers import Case
from yarn_puppet.core.art.cutting import counted_grid, filled_rows, grid_size, guess_grid
from yarn_puppet.core.art.islands import islands
from yarn_puppet.core.model.clips import Grid
from yarn_puppet.demo import DEMO_FOLDER


def boxes(rows: tuple) -> list[list[tuple[int, int, int, int]]]:  # type: ignore[type-arg]
    return [[(cell.x, cell.y, cell.width, cell.height) for cell in row] for row in rows]


class Islands(Case):
    def test_in_reading_order_though_they_do_not_stand_on_one_line(self) -> None:
        alpha = np.zeros((60, 90), dtype=np.uint8)
        for left, top, wide, high in ((60, 2, 10, 20), (30, 6, 12, 18), (4, 0, 10, 22),
                                      (40, 34, 9, 20), (5, 40, 9, 9)):
            alpha[top: top + high, left: left + wide] = 255
        self.assertEqual(boxes(islands("s", alpha, 0)),
                         [[(4, 0, 10, 22), (30, 6, 12, 18), (60, 2, 10, 20)],
                          [(5, 40, 9, 9), (40, 34, 9, 20)]])

    def test_near_pieces_are_one_figure(self) -> None:
        alpha = np.zeros((30, 60), dtype=np.uint8)
        alpha[5:20, 5:12] = 255
        alpha[2:4, 14:16] = 255  # a spark two pixels off
        alpha[5:20, 40:50] = 255
        self.assertEqual(sum(len(row) for row in islands("s", alpha, 0)), 3)
        self.assertEqual(boxes(islands("s", alpha, 2)), [[(5, 2, 11, 18), (40, 5, 10, 15)]])

    @given(some.lists(some.tuples(some.integers(0, 90), some.integers(0, 70), some.integers(1, 9),
                                  some.integers(1, 9)), max_size=12), some.integers(0, 8))
    def test_every_drawn_pixel_is_in_one_island_and_islands_stand_apart(
        self, figures: list[tuple[int, int, int, int]], join: int
    ) -> None:
        alpha = np.zeros((80, 100), dtype=np.uint8)
        for left, top, wide, high in figures:
            alpha[top: top + high, left: left + wide] = 255
        covered = np.zeros(alpha.shape, dtype=int)
        found = [cell for row in islands("s", alpha, join) for cell in row]
        for cell in found:
            covered[cell.y: cell.y + cell.height, cell.x: cell.x + cell.width] += 1
        self.assertTrue((covered[alpha > 0] == 1).all())
        for number, one in enumerate(found):
            for other in found[number + 1:]:
                across = max(one.x, other.x) - min(one.x + one.width, other.x + other.width)
                down = max(one.y, other.y) - min(one.y + one.height, other.y + other.height)
                self.assertGreater(max(across, down), join)

    def test_bryonys_sheet_has_as_many_figures_as_steps(self) -> None:
        alpha = np.asarray(Image.open(DEMO_FOLDER / "bryony_walk.png").getchannel("A"))
        self.assertEqual([len(row) for row in islands("s", alpha, 1)], [4, 4, 4, 4])

    def test_noise_is_refused_with_what_to_do(self) -> None:
        alpha = np.zeros((400, 400), dtype=np.uint8)
        alpha[::2, ::2] = 255
        with self.assertRaisesRegex(ValueError, "40000 pieces.*cut it by a grid"):
            islands("s", alpha, 0)


class Grids(Case):
    @given(some.integers(2, 5), some.integers(2, 4), some.integers(17, 40), some.integers(17, 40),
           some.integers(0, 6), some.integers(1, 6))
    def test_filled_cells_apart_are_guessed_with_margin_and_gap(
        self, columns: int, rows: int, width: int, height: int, margin: int, gap: int
    ) -> None:
        if gap == 2 * margin:
            return
        size = (2 * margin + rows * height + (rows - 1) * gap,
                2 * margin + columns * width + (columns - 1) * gap)
        alpha = np.zeros(size, dtype=np.uint8)
        for row in range(rows):
            for column in range(columns):
                y, x = margin + row * (height + gap), margin + column * (width + gap)
                alpha[y: y + height, x: x + width] = 255
        self.assertEqual(guess_grid(alpha), Grid(width, height, margin, gap))

    @given(some.integers(1, 12), some.integers(1, 9), some.integers(0, 4), some.integers(0, 4))
    def test_a_grid_of_so_many_has_so_many(
        self, columns: int, rows: int, margin: int, gap: int
    ) -> None:
        grid = counted_grid(300, 200, columns, rows, Grid(1, 1, margin, gap))
        self.assertEqual(grid_size(300, 200, grid), (columns, rows))

    def test_rows_leave_out_what_is_empty(self) -> None:
        alpha = np.zeros((60, 60), dtype=np.uint8)
        alpha[25, 45] = alpha[50, 5] = 255
        self.assertEqual(boxes(filled_rows("s", alpha, Grid(20, 20))),
                         [[(40, 20, 20, 20)], [(0, 40, 20, 20)]])
