"""Worlds and their mirror images: what runs to the right in one runs to the left in the other, to
the last bit.

python -m tests.mirrored_worlds [FIRST [COUNT]] random worlds, and which differ
"""

from __future__ import annotations

import sys
from random import Random
from typing import NamedTuple

from msgspec.structs import replace

from yarn_puppet.core.booth.body import FREE, Body, Moving, Wish
from yarn_puppet.core.booth.mover import at_start, move
from yarn_puppet.core.model.mover import Mover
from yarn_puppet.core.model.world import World

MIRRORED = str.maketrans("rfabcd", "frdcba")
PIECES = ("#", "=", "H", "r", "f", "ab", "cd", ".", "##", "==", "rr", "r=", "rH", "abH", "ab=",
          "r#", "rf", "abcd", "a", "b", "c", "d")
"""What stands beside each other: each tile with each, and what a ramp leads to."""
COLUMNS = 32
NEARLY = 1e-6


class Trial(NamedTuple):
    """A world, a mover in it, a rate, and what is wished tick by tick."""

    world: World
    mover: Mover
    rate: int
    wishes: tuple[Wish, ...]
    moving: Moving = FREE


def random_trial(seed: int) -> Trial:
    """One whose numbers are parts of powers of two, so that those of its mirror image are the same;
    what is walked over goes up, down and on."""
    random = Random(seed)
    tile = random.choice((8, 16, 32))
    rows = [list("." * COLUMNS) for _ in range(9)]
    rows.append(list("#" * COLUMNS))
    for _ in range(random.randint(1, 6)):
        column, row = random.randint(2, COLUMNS - 9), random.randint(5, 8)
        for number, letter in enumerate(random.choice(PIECES) + random.choice(PIECES)):
            rows[row][column + number] = letter
            # Under a slope there mostly is something.
            if letter in "rfabcd#" and row < 8 and random.random() < 0.7:
                for under in range(row + 1, 9):
                    rows[under][column + number] = "#"
    start = random.randint(0, COLUMNS * 4) * tile / 4
    world = World("hill", tuple("".join(row) for row in rows), start, 9.0 * tile, tile_size=tile)
    mover = Mover(width=random.choice((4, 8, 10, 16, 24, 30)), height=random.choice((12, 24, 40)),
                  walk_speed=random.choice((64.0, 96.0, 128.0, 256.0, 1024.0)),
                  acceleration=random.choice((1 << 20, 1024.0)),
                  deceleration=random.choice((1 << 20, 1024.0)),
                  air_control=random.choice((1.0, 0.5)),
                  gravity=1024.0, jump_speed=256.0, fall_speed=512.0,
                  steepest=random.choice((50.0, 30.0)))
    rate, across = random.choice((16, 32, 64, 128)), random.choice((-1.0, 1.0))
    wishes = list[Wish]()
    while len(wishes) < 2 * rate:
        across = random.choice((across, across, across, -across, 0.0)) or across
        jumps = random.random() < 0.3
        up = random.choice((0.0, 0.0, 1.0, -1.0))
        wishes += [Wish(across=across, up=up, jump=jumps and number == 0)
                   for number in range(random.randint(rate // 8, rate // 2))]
    asked = random.choice(("", "", "ladder", "ledge", "water"))
    if random.random() < 0.3:
        world = replace(world, wet=tuple("." * COLUMNS if row < 7 else "".join(
            random.choice("~~~.") for _ in range(COLUMNS)) for row in range(10)))
    return Trial(world, mover, rate, tuple(wishes), FREE._replace(mode=asked))


def mirrored(trial: Trial) -> Trial:
    """The same, the other way round."""
    world = trial.world
    rows = tuple(row[::-1].translate(MIRRORED) for row in world.rows)
    width = world.tile_size * len(world.rows[0])
    return trial._replace(
        world=replace(world, rows=rows, start_x=width - world.start_x,
                      wet=tuple(row[::-1] for row in world.wet)),
        wishes=tuple(wish._replace(across=-wish.across) for wish in trial.wishes))


def ran(trial: Trial) -> list[Body]:
    """The body after each tick."""
    body = at_start(trial.world, trial.mover)
    found = [body]
    for wish in trial.wishes:
        body = move(trial.world, trial.mover, body, wish, trial.moving, 1 / trial.rate)
        found.append(body)
    return found


def first_difference(trial: Trial) -> str:
    """Where a run and that of the mirror image first differ, or nothing."""
    width = trial.world.tile_size * len(trial.world.rows[0])
    exact = 0.0
    for tick, (one, other) in enumerate(zip(ran(trial), ran(mirrored(trial)), strict=True)):
        here = (one.x, one.y, one.vx, one.vy, one.grounded, one.on_slope)
        there = (width - other.x, other.y, -other.vx, other.vy, other.grounded, other.on_slope)
        # A speed after a slope has a root in it, which a mirror image has not to the last bit.
        exact = exact if (one.vx * 4096).is_integer() else NEARLY
        gaps = [abs(each - its) for each, its in zip(here, there, strict=True)]
        if max(gaps) > exact:
            return f"tick {tick}: {here} and {there}"
    return ""


def main(first: int, count: int) -> None:
    """Print which differ."""
    wrong = 0
    for seed in range(first, first + count):
        if difference := first_difference(random_trial(seed)):
            wrong += 1
            print(seed, difference)
    print(f"{wrong} of {count} differ")


if __name__ == "__main__":
    main(*[*map(int, sys.argv[1:]), *(0, 1000)[len(sys.argv) - 1 :]])
