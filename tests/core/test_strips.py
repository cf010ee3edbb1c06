"""Strips: how many frames a picture of one row holds, and what its clip is called."""

from __future__ import annotations

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from tests.helpers import Case
from tests.random_sheets import grids_of, problem
from yarn_puppet.core.art.cutting import Alpha, read
from yarn_puppet.core.art.grain import is_painted
from yarn_puppet.core.art.periods import Period, periods, together
from yarn_puppet.core.art.strips import (
    frames_in,
    is_strip,
    strip_cells,
    strip_grids,
    strip_like,
    ways_of_count,
)
from yarn_puppet.core.model.clips import Grid
from yarn_puppet.core.patterns.clip_names import (
    clip_names,
    named_by_files,
    named_rows,
    rows_problem,
)
from yarn_puppet.demo import DEMO_FOLDER


def strip(figures: list[tuple[int, int, int]], width: int, height: int) -> Alpha:
    """A strip of cells, each with a filled figure: its left edge in the cell, width and height."""
    alpha = np.zeros((height, width * len(figures)), np.uint8)
    for number, (left, wide, tall) in enumerate(figures):
        alpha[height - tall:, number * width + left: number * width + left + wide] = 255
    return alpha


def fits(alpha: Alpha, count: int) -> bool:
    """Whether a strip falls into so many cells, of which the last ones may be empty."""
    return count == 1 or bool(ways_of_count(periods(*read(alpha)), count, alpha.shape[1]))


def counted(alpha: Alpha, name: str = "", like: Period | None = None) -> int:
    """How many frames a strip is found to hold."""
    return frames_in(alpha, strip_grids(alpha, name, like)[0])


@st.composite
def strips(draw: st.DrawFn) -> tuple[Alpha, int]:
    """A strip as they are drawn: figures of about one height, air around each; and its count."""
    width, height = draw(st.sampled_from([(8, 8), (18, 20), (32, 64), (64, 64), (100, 48)]))
    count = draw(st.integers(1, 24))
    # Wider than half of its cell a figure cannot be taken for two.
    figures = draw(st.lists(st.tuples(
        st.integers(1, width // 4), st.integers(width // 2, width * 3 // 4 - 1),
        st.integers(height * 2 // 3, height)), min_size=count, max_size=count))
    return strip(figures, width, height), count


class Counting(Case):
    @given(strips())
    def test_every_figure_is_a_frame(self, drawn: tuple[Alpha, int]) -> None:
        alpha, count = drawn
        self.assertTrue(is_strip(alpha))
        self.assertEqual(counted(alpha), count)
        cells = strip_cells("sheet", alpha, strip_grids(alpha)[0])
        self.assertEqual(len(cells), count)
        self.assertTrue(all(alpha[:, cell.x: cell.x + cell.width].any() for cell in cells))

    @given(strips(), st.integers(1, 40))
    def test_what_a_name_says_is_taken_only_where_it_cuts_nothing(
        self, drawn: tuple[Alpha, int], said: int
    ) -> None:
        alpha, count = drawn
        found = counted(alpha, f"walk strip{said}")
        self.assertEqual(found, said if fits(alpha, said) else count)

    def test_a_spark_that_flew_off_is_no_frame(self) -> None:
        alpha = strip([(6, 8, 40)] * 4, 64, 48)
        alpha[10:13, 50:53] = 255
        alpha[10:13, 64 + 50: 64 + 53] = 255
        self.assertEqual(counted(alpha), 4)

    def test_the_width_that_the_others_have_settles_it(self) -> None:
        # Two figures close together in each cell: alone it reads as eight.
        alpha = strip([(4, 20, 40)] * 8, 32, 48)
        self.assertEqual(counted(alpha), 8)
        self.assertEqual(counted(alpha, like=Period(0, 64)), 4)
        ways = [{4: [Period(4, 64, score=0.8)]}, {3: [Period(3, 64, score=0.5)]},
                {2: [Period(2, 32, score=0.9)]}]
        self.assertEqual(together(ways), Period(0, 64))
        self.assertIsNone(together(ways[1:]), "two that have no step in common")

    def test_empty_cells_at_the_end_are_left_out_and_in_the_middle_speak_against_a_count(
        self,
    ) -> None:
        alpha = np.concatenate([strip([(4, 20, 40)] * 3, 32, 48), np.zeros((48, 32), np.uint8)], 1)
        self.assertEqual(len(strip_cells("sheet", alpha, Grid(32, 48))), 3)
        self.assertTrue(fits(alpha, 4))
        self.assertFalse(fits(strip([(4, 20, 40), (0, 0, 0), (4, 20, 40)], 32, 48), 3))

    def test_one_clear_picture_is_one_frame(self) -> None:
        alpha = np.zeros((16, 64), np.uint8)
        self.assertEqual(counted(alpha), 1)
        self.assertEqual(len(strip_cells("sheet", alpha, Grid(64, 16))), 1)

    def test_rows_are_no_strip(self) -> None:
        row = strip([(10, 40, 50)] * 4, 64, 64)
        self.assertFalse(is_strip(np.concatenate([row] * 3)))
        self.assertTrue(is_strip(row))
        self.assertTrue(is_strip(strip([(6, 20, 60)], 32, 64)), "a still stands upright")


class Strangers(Case):
    """Strips and sheets with margins, gaps and offsets, whose figures touch the borders of cells.
    The shares are those of `docs/bringing-in.md`, of the same pictures."""

    def test_most_are_cut_right(self) -> None:
        for kind, count, least in (("strip", 60, 0.9), ("drop", 12, 0.95), ("sheet", 20, 0.8)):
            with self.subTest(kind):
                cuts = [cut for seed in range(1000, 1000 + count) for cut in grids_of(kind, seed)]
                right = sum(not problem(*cut) for cut in cuts)
                self.assertGreaterEqual(right, least * len(cuts))

    def test_a_strip_of_odd_cells_with_a_margin_and_a_gap(self) -> None:
        alpha = np.zeros((53 + 6, 6 * 37 + 5 * 2 + 6), np.uint8)
        figures = ((0, 20), (4, 33), (8, 20), (3, 21), (0, 37), (5, 20))
        for number, (left, wide) in enumerate(figures):
            begin = 3 + number * 39
            alpha[3:56, begin + left: begin + left + wide] = 255
        self.assertEqual(strip_grids(alpha)[0], Grid(37, 53, 3, 2))
        self.assertEqual(len(strip_cells("sheet", alpha, Grid(37, 53, 3, 2))), 6)

    def test_what_is_put_right_in_one_strip_holds_for_others_of_another_height(self) -> None:
        self.assertEqual(strip_like(80, Grid(37, 53, 3, 2), 59), Grid(37, 74, 3, 2))
        self.assertEqual(strip_like(59, Grid(37, 50, 3, 2), 59), Grid(37, 50, 3, 2))


class Names(Case):
    def test_what_they_share_and_numbers_are_left_out(self) -> None:
        for stems, names in (
            (["Pell_idle_strip8", "Pell_walk_strip6"], ["idle", "walk"]),
            (["01_idle", "02_walk"], ["idle", "walk"]),
            (["PellIdle", "PellRunFast"], ["Idle", "RunFast"]),
            (["idle 64x64", "walk 64x64"], ["idle", "walk"]),
            (["light 1 (copy)", "light 2 (copy)"], ["light 1", "light 2"]),
            (["knight_light_1", "knight_light_2", "knight_heavy"], ["light_1", "light_2", "heavy"]),
            (["walk_right", "walk_left"], ["walk_right", "walk_left"]),
            (["Ήρωας_βάδην", "Ήρωας_στάση"], ["βάδην", "στάση"]),
            (["ペル待機", "ペル歩き"], ["ペル待機", "ペル歩き"]),
            (["8", "12"], ["8", "12"]),
            (["walk_8"], ["walk"]),
        ):
            with self.subTest(stems):
                self.assertEqual(clip_names(stems), names)

    def test_clips_named_alike_in_several_files_are_named_by_files_by_the_files(self) -> None:
        for files, taken, names in (
            ([("hero_run", ["take 1"]), ("hero_jump", ["take 1"])], [], [["run"], ["jump"]]),
            ([("a", ["walk"]), ("b", ["run"])], [], [["walk"], ["run"]]),
            ([("one", ["idle", "walk"]), ("two", ["Idle"])], [], [["one idle", "walk"], ["two"]]),
            ([("hero", ["walk"])], ["walk"], [["hero"]]),
        ):
            with self.subTest(files):
                self.assertEqual(named_by_files(files, taken), names)

    @given(st.lists(st.text(max_size=12), max_size=8, unique=True))
    def test_each_has_one_none_is_empty_and_no_two_that_differed_are_the_same(
        self, stems: list[str]
    ) -> None:
        names = clip_names(stems)
        self.assertEqual(len(names), len(stems))
        self.assertTrue(all(names))
        for stem, name in zip(stems, names, strict=True):
            self.assertTrue(not stem or set(name) <= set(stem))

    @given(st.lists(st.text(st.characters(exclude_characters=", "), min_size=1, max_size=6)
                    .filter(lambda name: name.strip() and name.split() == [name]),
                    min_size=1, max_size=6, unique=True))
    def test_rows_are_named_in_one_line(self, names: list[str]) -> None:
        expected = ["" if name == "-" else name for name in names]
        self.assertEqual(named_rows(" ".join(names)), expected)
        self.assertEqual(rows_problem(" ".join(names), len(names)) is None, any(expected))
        self.assertIsNotNone(rows_problem(" ".join(names), len(names) + 1))


class Grain(Case):
    def test_paint_is_known_from_pixels(self) -> None:
        for name in ("lamplighter", "lamplighter_world", "bryony_walk", "thatch"):
            with Image.open(DEMO_FOLDER / f"{name}.png") as picture:
                sheet = picture.convert("RGBA")
            self.assertFalse(is_painted(np.asarray(sheet)), name)
            for by in (4, 8):
                part = sheet.crop((0, 0, 48, 56))
                size = (48 * by, 56 * by)
                self.assertFalse(is_painted(np.asarray(part.resize(
                    size, Image.Resampling.NEAREST))), name)
                self.assertTrue(is_painted(np.asarray(part.resize(
                    size, Image.Resampling.BICUBIC))), name)

    @given(st.integers(0, 40), st.integers(0, 40))
    def test_whatever_is_given_there_is_an_answer(self, wide: int, high: int) -> None:
        self.assertFalse(is_painted(np.zeros((high, wide, 4), np.uint8)))
        flat = np.full((high, wide, 4), 255, np.uint8)
        self.assertFalse(is_painted(flat), "one colour is no paint")
