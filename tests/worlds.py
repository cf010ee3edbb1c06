"""Random worlds of every kind of tile, and hands that move a body through them."""

from __future__ import annotations

from random import Random

from hypothesis import strategies as some

from yarn_puppet.core.booth.body import Body, Moving, Wish
from yarn_puppet.core.booth.mover import at_start, move
from yarn_puppet.core.model.mover import Mover
from yarn_puppet.core.model.world import TILE, World

COLUMNS, ROWS = 18, 12
START = (9, 6)
"""The column of the start, and the row in which it stands; three tiles over it are free."""

WorldInput = tuple[Wish, Moving]

movers = some.builds(
    Mover, width=some.sampled_from([6.0, 14.0, 16.0, 22.0]),
    height=some.sampled_from([12.0, 30.0, 44.0]),
    walk_speed=some.sampled_from([90.0, 500.0, 4000.0]),
    acceleration=some.sampled_from([60.0, 600.0, 90000.0]),
    deceleration=some.sampled_from([0.0, 100.0, 900.0]),
    gravity=some.sampled_from([200.0, 900.0, 9000.0]),
    jump_speed=some.sampled_from([100.0, 300.0, 2000.0]),
    fall_speed=some.sampled_from([100.0, 420.0, 9000.0]),
    carry=some.sampled_from([0.0, 0.2]), grace=some.sampled_from([0.0, 0.1]),
    corner=some.sampled_from([0.0, 4.0]),
    steepest=some.sampled_from([20.0, 30.0, 46.0]),
    hands_y=some.sampled_from([10.0, 42.0]), reach=some.sampled_from([2.0, 6.0]),
)

wishes = some.builds(
    Wish, across=some.sampled_from([-1.0, -0.5, 0.0, 0.0, 1.0]),
    up=some.sampled_from([-1.0, 0.0, 0.0, 1.0]),
    held=some.booleans(), jump=some.sampled_from([False, False, False, True]),
    drop=some.sampled_from([False, False, False, False, True]),
    pull_up=some.sampled_from([False, False, False, True]), side=some.sampled_from([-1, 1]),
)

askings = some.builds(
    Moving, speed=some.sampled_from([0.0, 1.0, 2.0]),
    gravity=some.sampled_from([0.0, 0.5, 1.0, 1.0]),
    locked=some.sampled_from([False, False, True]),
    mode=some.sampled_from(["", "", "ladder", "ledge", "water"]),
    height=some.sampled_from([1.0, 1.0, 0.6]),
    jump_height=some.sampled_from([1.0, 1.0, 0.0, 0.5, 2.0]),
)

pressed = some.lists(some.tuples(some.tuples(wishes, askings), some.integers(1, 12)), min_size=3,
                   max_size=14)
"""What is asked for, and for how many ticks."""


@some.composite
def worlds(draw: some.DrawFn, tiles: str = "......####==HHrfabcd") -> World:
    """A room of any tiles, walled in, with room to start in on solid ground; slopes come whole or
    broken."""
    # One number a world: letter by letter it would take longer to make smaller than to run.
    return room(draw(some.integers(0, 1 << 30)), tiles)


def room(seed: int, tiles: str = "......####==HHrfabcd") -> World:
    """The room of one seed."""
    dice = Random(seed)
    rows = [[dice.choice(tiles) for _ in range(COLUMNS)] for _ in range(ROWS)]
    for row in range(ROWS):
        # Whole slopes are as likely as single tiles of them.
        for column in range(1, COLUMNS - 3):
            whole = dice.choice(("", "", "", "", "ab", "cd", "r#", "#f")) if "r" in tiles else ""
            for number, each in enumerate(whole):
                rows[row][column + number] = each
    column, row = START
    for up in range(4):
        for aside in (-1, 0, 1):
            rows[row - up][column + aside] = "."
    for aside in (-1, 0, 1):
        rows[row + 1][column + aside] = "#"
    for line in rows:
        line[0] = line[-1] = "#"
    wet = tuple(
        "".join(dice.choice("~.") for _ in range(COLUMNS)) if dice.random() < 0.5 else "~" * COLUMNS
        for _ in range(ROWS)
    ) if dice.random() < 0.5 else ()
    return World("Room", (*map("".join, rows), "#" * COLUMNS), (column + 0.5) * TILE,
                 (row + 1.0) * TILE, wet=wet)


def bodies(
    world: World, mover: Mover, asked: list[tuple[WorldInput, int]], rate: int
) -> list[tuple[Body, Wish, Moving]]:
    """The body after each tick, with what was asked for in it."""
    body, found = at_start(world, mover), []
    for (wish, moving), ticks in asked:
        for number in range(ticks):
            once = wish if number == 0 else wish._replace(jump=False, drop=False, pull_up=False)
            body = move(world, mover, body, once, moving, 1 / rate)
            found.append((body, once, moving))
    return found
