"""A booth's own pictures: which cells are drawn where, and what edits keep of them."""

from __future__ import annotations

import unittest
from pathlib import Path
from tempfile import TemporaryDirectory

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from tests.depth import examples
from yarn_puppet.core.booth.tiles.tile_art import TileArt
from yarn_puppet.core.formats.booth_file import booth_bytes, booth_from, load_booth, save_booth
from yarn_puppet.core.formats.errors import FileProblem
from yarn_puppet.core.model.edits import worlds as edits
from yarn_puppet.core.model.edits.tile_art import laid, lifted, looking, looking_usual
from yarn_puppet.core.model.world import TileLook, World

ROWS = st.lists(st.text("#.", min_size=4, max_size=4), min_size=1, max_size=5)
INSIDE, EDGE = 1, 2


def block(size: int, corners: bool) -> np.ndarray:
    """A picture of a block of ground with an edge of one pixel; with its four inner corners."""
    sheet = np.full((3 * size, 5 * size), INSIDE)
    ground = sheet[:, :3 * size]
    ground[0] = ground[-1] = EDGE
    ground[:, 0] = ground[:, -1] = EDGE
    if corners:
        # The hole in the middle of a square of four cells has one of its corners in each.
        for row in (size - 1, size):
            for column in (4 * size - 1, 4 * size):
                sheet[row, column] = EDGE
    return sheet


def drawn(world: World, sheet: np.ndarray) -> np.ndarray:
    """All of a world, drawn piece by piece."""
    size, art = world.tile_size, TileArt(world)
    whole = np.zeros((len(world.rows) * size, world.columns * size), int)
    for row in range(len(world.rows)):
        for column in range(world.columns):
            for piece in art.tile(column, row):
                top, left = row * size + piece.down, column * size + piece.across
                whole[top:top + piece.height, left:left + piece.width] = sheet[
                    piece.y:piece.y + piece.height, piece.x:piece.x + piece.width]
    return whole


class Edges(unittest.TestCase):
    @settings(max_examples=examples(150), deadline=None)
    @given(ROWS, st.integers(2, 7), st.booleans())
    def test_ground_has_an_edge_where_a_pixel_beside_it_is_not_ground(
        self, rows: list[str], size: int, corners: bool
    ) -> None:
        world = World("w", tuple(rows), 0, 0, tile_size=size, tiles="t.png",
                      looks=(TileLook("#", 0, 0, "all" if corners else "outside"),))
        picture = drawn(world, block(size, corners))
        ground = np.kron([[letter == "#" for letter in row] for row in rows],
                         np.ones((size, size), int)).astype(bool)
        # What lies past the world: brick at its sides, air over it, and the lowest row goes on.
        around = np.pad(ground, ((0, 1), (0, 0)), mode="edge")
        around = np.pad(around, ((1, 0), (0, 0)), constant_values=False)
        around = np.pad(around, ((0, 0), (1, 1)), constant_values=True)
        high, wide = ground.shape
        near = [(0, 1), (1, 0), (1, 2), (2, 1)]
        near += [(0, 0), (0, 2), (2, 0), (2, 2)] if corners else []
        open_beside = np.zeros_like(ground)
        for down, across in near:
            open_beside |= ~around[down:down + high, across:across + wide]
        wanted = np.where(ground, np.where(open_beside, EDGE, INSIDE), 0)
        np.testing.assert_array_equal(picture, wanted)

    @settings(max_examples=examples(60), deadline=None)
    @given(ROWS, st.integers(1, 9))
    def test_pieces_cover_a_tile_once_whatever_its_size(self, rows: list[str], size: int) -> None:
        world = World("w", tuple(rows), 0, 0, tile_size=size, tiles="t.png",
                      looks=(TileLook("#", 2, 1, "all"),))
        art = TileArt(world)
        for row, line in enumerate(rows):
            for column, letter in enumerate(line):
                covered = np.zeros((size, size), int)
                for piece in art.tile(column, row):
                    self.assertLessEqual(2 * size, piece.x)
                    self.assertLess(piece.x + piece.width, 7 * size + 1)
                    covered[piece.down:piece.down + piece.height,
                            piece.across:piece.across + piece.width] += 1
                self.assertTrue((covered == (letter == "#")).all())


class Looks(unittest.TestCase):
    world = World("w", (".r#", "=H#", "###"), 8, 16, tiles="t.png", wet=("~",))

    def test_what_has_no_look_is_left_to_us(self) -> None:
        art = TileArt(looking(self.world, TileLook("=", 3, 1)))
        self.assertEqual([piece[:2] for piece in art.tile(0, 1)], [(48, 16)])
        self.assertEqual(art.tile(1, 1), ())
        self.assertEqual(art.tile(2, 2), ())
        self.assertEqual(art.water(0, 0), ())
        self.assertEqual(TileArt(replace(self.world, tiles="")).looks, {})

    def test_a_slope_looks_as_the_middle_of_the_brick_it_is_cut_from(self) -> None:
        world = looking(self.world, TileLook("#", 0, 0, "outside"))
        self.assertEqual([piece[:2] for piece in TileArt(world).tile(1, 0)], [(16, 16)])
        own = looking(world, TileLook("r", 5, 0))
        self.assertEqual([piece[:2] for piece in TileArt(own).tile(1, 0)], [(80, 0)])
        self.assertEqual(TileArt(looking_usual(own, "r")).tile(1, 0), TileArt(world).tile(1, 0))

    def test_what_lies_behind_is_behind_all_but_brick(self) -> None:
        art = TileArt(looking(self.world, TileLook(".", 1, 0)))
        behind = [[bool(art.behind(column, row)) for column in range(3)] for row in range(3)]
        self.assertEqual(behind, [[True, True, False], [True, True, False], [False] * 3])

    def test_brick_and_slopes_have_no_edge_between_them(self) -> None:
        world = looking(World("w", ("....", ".r#.", "####"), 8, 16, tiles="t.png"),
                        TileLook("#", 0, 0, "outside"))
        art = TileArt(world)
        self.assertEqual({piece.x // 16 for piece in art.tile(2, 1) if piece.across == 0}, {1})
        self.assertEqual([piece[:2] for piece in art.tile(1, 2)], [(16, 16)])


class Edits(unittest.TestCase):
    world = World("w", ("....", "....", "####"), 8, 32, tiles="t.png")

    def test_a_cell_is_laid_and_lifted_and_goes_when_its_place_is_painted(self) -> None:
        world = laid(self.world, [(0, 1), (1, 1), (9, 1), (0, -1)], (6, 2))
        self.assertEqual(world.cells, ((0, 1, 6, 2), (1, 1, 6, 2)))
        self.assertEqual(laid(world, [(1, 1)], (0, 0)).cells, ((0, 1, 6, 2), (1, 1, 0, 0)))
        self.assertEqual(lifted(world, [(0, 1), (3, 3)]).cells, ((1, 1, 6, 2),))
        self.assertEqual(edits.painted(world, [(0, 1)], "#").cells, ((1, 1, 6, 2),))
        self.assertEqual(lifted(lifted(world, [(0, 1)]), [(1, 1)]), self.world)

    def test_it_stays_over_the_ground_that_it_was_laid_on_as_the_booth_grows(self) -> None:
        world = laid(self.world, [(3, 1)], (6, 2))
        self.assertEqual(edits.resized(world, 4, 5).cells, ((3, 3, 6, 2),))
        self.assertEqual(edits.resized(world, 4, 2).cells, ((3, 0, 6, 2),))
        self.assertEqual(edits.resized(world, 3, 3).cells, ())

    def test_a_file_of_it_reads_back_the_same(self) -> None:
        world = laid(looking(replace(self.world, tiles="my tiles ü.png", background="sky.png"),
                             TileLook("#", 0, 0, "all")), [(3, 1)], (6, 2))
        with TemporaryDirectory() as folder:
            path = Path(folder) / "w.booth.json"
            save_booth(world, path)
            self.assertEqual(load_booth(path), world)

    def test_what_no_booth_can_be_drawn_with_is_said(self) -> None:
        plain = booth_bytes(self.world).decode()
        for bad in ('"tiles": "../t.png"', '"tiles": "a/b.png"', '"background": "a\\\\b.png"',
                    '"looks": [{"tile": "?", "column": 0, "row": 0}]',
                    '"looks": [{"tile": "#", "column": -1, "row": 0}]',
                    '"looks": [{"tile": "#", "column": 0, "row": 5000}]',
                    '"looks": [{"tile": "#", "column": 0, "row": 0, "edges": "some"}]',
                    '"cells": [[0, 0, 0]]', '"cells": [[0, 0, 0, -1]]'):
            with self.subTest(bad), self.assertRaises(FileProblem) as caught:
                booth_from(plain.replace('"tiles": "t.png"', bad).encode())
            self.assertIn(bad.partition('"')[2].partition('"')[0], str(caught.exception))
