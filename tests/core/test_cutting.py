"""Cutting sheets: the guess, the cells that hold anything, their bounds."""

from __future__ import annotations

from random import Random

import numpy as np
from hypothesis import given
from hypothesis import strategies as some
from PIL import Image

from tests.helpers import Case
from yarn_puppet.core.art.cutting import cell_at, filled_cells, grid_size, guess_grid
from yarn_puppet.core.art.measures import bounds_of
from yarn_puppet.core.model.clips import Grid
from yarn_puppet.demo import DEMO_FOLDER


class Cutting(Case):
    def test_pells_sheet_is_guessed(self) -> None:
        alpha = np.asarray(Image.open(DEMO_FOLDER / "lamplighter.png").getchannel("A"))
        grid = guess_grid(alpha)
        self.assertEqual((grid.cell_width, grid.cell_height), (96, 64))
        filled = filled_cells(alpha, grid)
        self.assertEqual([sum(row == number for _, row in filled) for number in range(8)],
                         [6, 8, 3, 3, 7, 10, 3, 4])

    @given(some.integers(2, 6), some.integers(2, 5), some.integers(17, 48), some.integers(17, 48))
    def test_figures_that_fill_the_middle_of_their_cells_are_guessed(
        self, columns: int, rows: int, width: int, height: int
    ) -> None:
        alpha = np.zeros((rows * height, columns * width), dtype=np.uint8)
        for row in range(rows):
            for column in range(columns):
                alpha[row * height + 2: (row + 1) * height - 2,
                      column * width + 2: (column + 1) * width - 2] = 255
        self.assertEqual(guess_grid(alpha), Grid(width, height))

    @given(some.integers(2, 7), some.sampled_from([16, 24, 32, 48]), some.integers(1, 8),
           some.booleans(),
           some.booleans(), some.randoms(use_true_random=False))
    def test_one_row_of_figures_with_gaps_between_is_guessed(
        self, count: int, side: int, gap: int, margin: bool, down: bool, dice: Random
    ) -> None:
        around = gap if margin else 0
        alpha = np.zeros((side + 2 * around, count * side + (count - 1) * gap + 2 * around),
                         dtype=np.uint8)
        for number in range(count):
            left = around + number * (side + gap)
            # They fill the width of their cells, and are as high as it comes.
            alpha[around + dice.randint(0, side // 2): around + side, left: left + side] = 255
            alpha[around: around + side, left + side // 2] = 255
        grid = Grid(side, side, around, gap)
        self.assertEqual(guess_grid(alpha.T if down else alpha), grid)

    def test_figures_of_their_own_widths_in_one_row_are_guessed(self) -> None:
        alpha = np.zeros((32, 5 * 32 + 4 * 2), dtype=np.uint8)
        for number, (left, wide) in enumerate(((3, 20), (0, 32), (5, 18), (9, 14), (1, 30))):
            alpha[4:30, number * 34 + left: number * 34 + left + wide] = 255
        self.assertEqual(guess_grid(alpha), Grid(32, 32, 0, 2))

    def test_an_empty_and_a_full_picture_are_one_cell(self) -> None:
        for value in (0, 255):
            alpha = np.full((60, 80), value, dtype=np.uint8)
            self.assertEqual(guess_grid(alpha), Grid(80, 60))

    @given(some.integers(1, 40), some.integers(1, 40), some.integers(0, 5), some.integers(0, 5))
    def test_cells_lie_inside_the_picture_and_do_not_overlap(
        self, width: int, height: int, margin: int, gap: int
    ) -> None:
        grid = Grid(width, height, margin, gap)
        columns, rows = grid_size(100, 80, grid)
        cells = [cell_at("s", grid, column, row) for column in range(columns)
                 for row in range(rows)]
        covered = np.zeros((80, 100), dtype=int)
        for cell in cells:
            self.assertLessEqual(cell.x + cell.width, 100)
            self.assertLessEqual(cell.y + cell.height, 80)
            covered[cell.y: cell.y + cell.height, cell.x: cell.x + cell.width] += 1
        self.assertLessEqual(covered.max(initial=0), 1)

    def test_bounds_of_what_is_drawn(self) -> None:
        alpha = np.zeros((20, 40), dtype=np.uint8)
        alpha[5:12, 3:9] = 255
        alpha[8:18, 26:30] = 255
        self.assertEqual(bounds_of(alpha), (3, 5, 30, 18))
        self.assertEqual(bounds_of(alpha[:, 20:]), (6, 8, 10, 18))
        self.assertIsNone(bounds_of(alpha[:2]))
