"""Tiles of any size: a world, and a body in it, that are so many times as large move alike."""

from __future__ import annotations

from hypothesis import given, settings
from hypothesis import strategies as some
from msgspec.structs import replace

from tests.depth import examples
from tests.helpers import Case, demo_puppet
from tests.worlds import WorldInput, bodies, movers, pressed, worlds
from yarn_puppet.core.booth.body import Moving, Wish
from yarn_puppet.core.booth.mover import at_start, move
from yarn_puppet.core.formats.booth_file import booth_bytes, booth_from, load_booth
from yarn_puppet.core.formats.puppet_file import puppet_bytes, puppet_from
from yarn_puppet.core.model.edits.movers import (
    as_drawn,
    is_unlike_drawn,
    mover_sized,
    standing_clip,
)
from yarn_puppet.core.model.edits.worlds import resized, tile_sized
from yarn_puppet.core.model.mover import Mover
from yarn_puppet.core.model.world import TILE, World
from yarn_puppet.core.snags.check import check
from yarn_puppet.demo import DEMO_FOLDER

WISHES = (Wish(1.0), Wish(0.0), Wish(-1.0, held=True, jump=True), Wish(0.0, up=1.0), Wish(1.0))
MOVING = Moving()
CLOSE = 0.05
"""Pixels of a usual tile by which two runs may differ: what touches does so by the same thousandth
of a pixel at any size."""


class AlikeAtAnySize(Case):
    @given(worlds(), movers, pressed, some.sampled_from((8, 24, 32, 64, 512)))
    @settings(max_examples=examples(60))
    def test_twice_as_large_it_goes_twice_as_far(
        self, world: World, mover: Mover, hands: list[tuple[WorldInput, int]], size: int
    ) -> None:
        by = size / TILE
        large, sized = tile_sized(world, size), mover_sized(mover, by)
        runs = bodies(world, mover, hands, 60), bodies(large, sized, hands, 60)
        for number, ((one, _, _), (other, _, _)) in enumerate(zip(*runs, strict=True)):
            apart = max(abs(one.x * by - other.x), abs(one.y * by - other.y)) / by
            if apart > CLOSE or one.mode != other.mode:
                # What the rules decide within a pixel may go either way; from there on the two are
                # two runs.
                self.assertLess(apart, 1.0, f"tick {number}")
                return

    def test_by_a_power_of_two_the_demo_s_worlds_are_walked_alike(self) -> None:
        for name in ("rooftop", "canal_steps", "roof_gardens"):
            world = load_booth(DEMO_FOLDER / f"{name}.booth.json")
            for size in (32, 64, 256):
                by = size / TILE
                large, mover = tile_sized(world, size), Mover()
                one, other = at_start(world, mover), at_start(large, mover_sized(mover, by))
                for number in range(300):
                    wish = WISHES[number // 30 % len(WISHES)]
                    one = move(world, mover, one, wish, MOVING, 1 / 60)
                    other = move(large, mover_sized(mover, by), other, wish, MOVING, 1 / 60)
                    self.assertLess(abs(one.x * by - other.x) / by, CLOSE, (name, size, number))
                    self.assertLess(abs(one.y * by - other.y) / by, CLOSE, (name, size, number))


class Sizes(Case):
    @given(some.integers(-5, 4000), some.integers(1, 512))
    def test_a_size_is_within_bounds_and_back_again_is_the_same_world(
        self, size: int, first: int
    ) -> None:
        world = tile_sized(load_booth(DEMO_FOLDER / "rooftop.booth.json"), first)
        made = tile_sized(world, size)
        self.assertTrue(1 <= made.tile_size <= 512)
        self.assertEqual(booth_from(booth_bytes(made)), made)
        back = tile_sized(made, first)
        self.assertAlmostEqual(back.start_x, world.start_x, 6)
        self.assertEqual(resized(made, made.columns, len(made.rows)), made)


class AsDrawn(Case):
    def test_the_body_is_as_large_as_its_box_and_jumps_as_many_of_its_heights(self) -> None:
        puppet = demo_puppet()
        self.assertEqual(is_unlike_drawn(puppet), "")
        large = replace(puppet, clips=tuple(replace(each, pivot=None, frames=tuple(
            replace(frame, cell=replace(frame.cell, width=384, height=256), boxes=tuple(
                replace(box, x=box.x * 4, y=box.y * 4, width=box.width * 4, height=box.height * 4)
                for box in frame.boxes)) for frame in each.frames)) for each in puppet.clips))
        self.assertIn("the drawn body is 80 × 200 px, the mover's 16 × 44", is_unlike_drawn(large))
        self.assertIn("mover", [snag.kind for snag in check(large)])
        made = as_drawn(large)
        _, box = standing_clip(large)
        self.assertEqual(made.mover.height, box.height)
        self.assertEqual(is_unlike_drawn(made), "")
        self.assertAlmostEqual(made.mover.jump_speed ** 2 / made.mover.gravity / made.mover.height,
                               Mover().jump_speed ** 2 / Mover().gravity / Mover().height,
                               1)

    def test_a_body_of_any_size_makes_a_mover_that_can_be_saved(self) -> None:
        puppet = demo_puppet()
        for by in (1e4, 1e6):
            vast = replace(puppet, clips=tuple(replace(each, frames=tuple(
                replace(frame, boxes=tuple(
                    replace(box, y=box.y - box.height * by, height=box.height * by)
                    for box in frame.boxes)) for frame in each.frames)) for each in puppet.clips))
            for made in (as_drawn(vast), replace(vast, mover=mover_sized(vast.mover, by))):
                self.assertEqual(puppet_from(puppet_bytes(made), "here").mover, made.mover)
            self.assertEqual(as_drawn(vast).mover.reach, 2048.0)

    def test_what_somebody_set_stays_and_without_a_body_box_nothing_changes(self) -> None:
        puppet = replace(demo_puppet(), mover=Mover(walk_speed=123.0))
        self.assertEqual(as_drawn(puppet).mover.walk_speed, 123.0)
        bare = replace(puppet, clips=tuple(replace(each, frames=tuple(
            replace(frame, boxes=()) for frame in each.frames)) for each in puppet.clips))
        self.assertIs(as_drawn(bare), bare)
