"""Strips and sheets as strangers draw them: figures of several kinds in cells of any size, with
margins, gaps and offsets, and what a reader should find in each.

python -m tests.random_sheets [FIRST [COUNT]] the share that is cut right, by kind of layout
"""

from __future__ import annotations

import sys
from collections import Counter
from collections.abc import Callable
from random import Random
from typing import NamedTuple

import numpy as np
from PIL import Image, ImageDraw

from yarn_puppet.core.art.cutting import grid_size, guess_grid, read
from yarn_puppet.core.art.marks import Pixels
from yarn_puppet.core.art.periods import periods, together
from yarn_puppet.core.art.strips import strip_grids
from yarn_puppet.core.model.clips import Grid

COUNTS = (2, 3, 4, 4, 5, 6, 6, 7, 8, 8, 9, 10, 12, 16)
LAYOUTS = ("even", "margin", "gap", "margin and gap", "offset", "packed", "left over")


class Drawn(NamedTuple):
    """A picture, and how it was put together: where its first cell begins, how far cells are apart,
    across and down, how many there are, and how large a cell is."""

    pixels: Pixels
    start: tuple[int, int]
    step: tuple[int, int]
    count: tuple[int, int]
    size: tuple[int, int]
    layout: str


def random_drop(seed: int) -> list[Drawn]:
    """Three to seven strips of one figure, laid out alike, each of another action and count."""
    lengths = Random(-seed - 1)
    actions = lengths.sample(ACTIONS, lengths.randint(3, 7))
    return [random_sheet(seed, 1, action, lengths.choice(COUNTS)) for action in actions]


def random_sheet(
    seed: int, rows: int = 1, action: Action | None = None, frames: int | None = None
) -> Drawn:
    """A strip, or a sheet of several rows, of one seed; of an action and with so many frames where
    they are given."""
    random = Random(seed)
    width = random.choice((16, 24, 32, 32, 48, 64, 96, random.randint(14, 110)))
    height = random.choice((width, width, random.randint(max(14, width // 2), 2 * width)))
    count = random.choice(COUNTS)
    count = frames or count
    layout = random.choice(LAYOUTS)
    left = top = right = bottom = across = down = 0
    if layout in ("margin", "margin and gap"):
        left = top = right = bottom = random.randint(1, 12)
    if layout in ("gap", "margin and gap"):
        across = down = random.randint(1, 10)
    if layout == "packed":
        # A border of so many pixels around each cell, as packers leave it.
        left = top = right = bottom = random.randint(1, 4)
        across = down = 2 * left
    if layout == "offset":
        left, top, right, bottom = (random.randint(0, 14) for _ in range(4))
        across, down = random.choice(((0, 0), (random.randint(0, 8), random.randint(0, 8))))
    if layout == "left over":
        right = random.randint(1, width - 1)
    sheet = Image.new(
        "RGBA",
        (
            left + count * width + (count - 1) * across + right,
            top + rows * height + (rows - 1) * down + bottom,
        ),
    )
    actions = random.sample(ACTIONS, rows)
    actions = [action] if action else actions
    look = Look.random(random, width, height)
    for row, draw in enumerate(actions):
        for number in range(count):
            cell = Image.new("RGBA", (width, height))
            draw(ImageDraw.Draw(cell), look, number / count, random)
            sheet.paste(cell, (left + number * (width + across), top + row * (height + down)))
    return Drawn(
        np.asarray(sheet),
        (left, top),
        (width + across, height + down),
        (count, rows),
        (width, height),
        layout,
    )


class Look(NamedTuple):
    """What a figure looks like: the size of its cell, its own, where it stands and its colours."""

    width: int
    height: int
    wide: int
    tall: int
    middle: int
    floor: int
    colours: tuple[tuple[int, int, int, int], ...]
    touches: bool

    @classmethod
    def random(cls, random: Random, width: int, height: int) -> Look:
        """One of any build."""
        tall = int(height * random.uniform(0.55, 0.95))
        wide = max(4, int(min(width * 0.55, tall * random.uniform(0.3, 0.7))))
        floor = height - random.randint(0, max(0, min(3, height - tall)))
        colours = tuple(
            (random.randrange(256), random.randrange(256), random.randrange(256), 255)
            for _ in range(5)
        )
        return cls(
            width,
            height,
            wide,
            tall,
            width // 2 + random.randint(-width // 12, width // 12),
            floor,
            colours,
            random.random() < 0.25,
        )


def _body(
    draw: ImageDraw.ImageDraw, look: Look, dx: float, dy: float, swing: float, squash: float = 0.0
) -> None:
    tall = look.tall * (1 - squash)
    x, floor = look.middle + round(dx), look.floor - round(dy)
    top, half = round(floor - tall), look.wide / 2
    head, hips = round(top + tall * 0.3), round(floor - tall * 0.35)
    stride = swing * half * 0.9
    for side in (1, -1):
        draw.line(
            [(x, hips), (x + round(side * stride), floor - 1)],
            look.colours[0],
            width=max(2, look.wide // 5),
        )
    draw.rectangle([round(x - half * 0.55), head, round(x + half * 0.55), hips], look.colours[1])
    draw.ellipse([round(x - half * 0.6), top, round(x + half * 0.6), head + 1], look.colours[2])
    draw.rectangle(
        [
            round(x + half * 0.15),
            top + round(tall * 0.1),
            round(x + half * 0.4),
            top + round(tall * 0.18),
        ],
        look.colours[3],
    )


def idle(draw: ImageDraw.ImageDraw, look: Look, at: float, random: Random) -> None:
    """It breathes."""
    _body(draw, look, 0, 0, 0.4, 0.06 * np.sin(at * 2 * np.pi) ** 2)


def walk(draw: ImageDraw.ImageDraw, look: Look, at: float, random: Random) -> None:
    """Its legs swing."""
    _body(draw, look, 0, look.tall * 0.03 * abs(np.sin(at * 2 * np.pi)), np.cos(at * 2 * np.pi))


def strike(draw: ImageDraw.ImageDraw, look: Look, at: float, random: Random) -> None:
    """It lunges, and a blade goes to the cell's edge at its farthest."""
    lunge = look.wide * 0.25 * np.sin(at * np.pi)
    _body(draw, look, lunge, 0, 0.5)
    angle = -2.2 + 2.8 * at
    reach = look.width - look.middle if look.touches else look.width * 0.4
    y = look.floor - look.tall * 0.5
    end = (
        min(look.width - 1, look.middle + lunge + reach * np.cos(angle)),
        max(0, y + reach * np.sin(angle)),
    )
    draw.line([(look.middle + lunge, y), end], look.colours[4], width=2)


def leap(draw: ImageDraw.ImageDraw, look: Look, at: float, random: Random) -> None:
    """It rises and comes down."""
    _body(draw, look, 0, (look.floor - look.tall) * np.sin(at * np.pi), 0.3 + at * 0.5)


def burst(draw: ImageDraw.ImageDraw, look: Look, at: float, random: Random) -> None:
    """A figure with sparks that fly off it."""
    _body(draw, look, 0, 0, 0.5)
    for _ in range(3):
        x, y = random.randrange(1, look.width - 2), random.randrange(0, max(1, look.height // 2))
        draw.rectangle([x, y, x + 1, y + 1], look.colours[4])


def flap(draw: ImageDraw.ImageDraw, look: Look, at: float, random: Random) -> None:
    """A bat whose wings reach to both of the cell's edges at their widest."""
    spread = (0.6 + 0.4 * abs(np.cos(at * np.pi))) * (look.width / 2 - (0 if look.touches else 2))
    x, y = look.width / 2, look.floor - look.tall * 0.5
    draw.ellipse(
        [x - look.wide * 0.3, y - look.wide * 0.3, x + look.wide * 0.3, y + look.wide * 0.3],
        look.colours[1],
    )
    lift = look.tall * 0.4 * np.cos(at * 2 * np.pi)
    for side in (-1, 1):
        draw.polygon(
            [(x, y - 2), (x + side * (spread - 0.5) - 0.5, y - lift), (x, y + 3)], look.colours[0]
        )


def roll(draw: ImageDraw.ImageDraw, look: Look, at: float, random: Random) -> None:
    """A ball that turns."""
    half = look.tall * 0.4 if look.tall < look.width else look.width * 0.4
    x, y = look.middle, look.floor - half
    draw.ellipse(
        [max(0, x - half), y - half, min(look.width - 1, x + half), y + half - 1], look.colours[1]
    )
    angle = at * 2 * np.pi
    draw.line(
        [(x, y), (x + half * 0.8 * np.cos(angle), y + half * 0.8 * np.sin(angle))],
        look.colours[2],
        width=2,
    )


Action = Callable[[ImageDraw.ImageDraw, Look, float, Random], None]
ACTIONS: tuple[Action, ...] = (idle, walk, strike, leap, burst, flap, roll)


def problem(drawn: Drawn, grid: Grid) -> str:
    """What is wrong with a grid for what was drawn, or nothing: the count, a figure that shakes
    from cell to cell, or one that is cut."""
    height, width = drawn.pixels.shape[:2]
    counts = grid_size(width, height, grid)
    starts, steps = grid.start, grid.step
    sizes = (grid.cell_width, grid.cell_height)
    alpha = drawn.pixels[:, :, 3]
    for axis, words in enumerate(("across", "down")):
        used = (alpha > 24).any(axis=axis)
        full = [
            number
            for number in range(counts[axis])
            if used[
                starts[axis] + number * steps[axis] : starts[axis]
                + number * steps[axis]
                + sizes[axis]
            ].any()
        ]
        if len(full) != drawn.count[axis]:
            return f"{words}: {len(full)} cells for {drawn.count[axis]}"
        if steps[axis] != drawn.step[axis] and drawn.count[axis] > 1:
            return f"{words}: shakes, {steps[axis]} for {drawn.step[axis]}"
        for number in range(drawn.count[axis]):
            begin = drawn.start[axis] + number * drawn.step[axis]
            place = starts[axis] + (full[0] + number) * steps[axis]
            own = np.flatnonzero(used[begin : begin + drawn.size[axis]]) + begin
            if own.size and (own[0] < place or own[-1] >= place + sizes[axis]):
                return f"{words}: cut"
    return ""


def grids_of(kind: str, seed: int) -> list[tuple[Drawn, Grid]]:
    """What a reader finds in a strip, a sheet of four rows, or a drop of strips."""
    if kind == "sheet":
        drawn = random_sheet(seed, 4)
        return [(drawn, guess_grid(drawn.pixels))]
    if kind == "strip":
        drawn = random_sheet(seed)
        return [(drawn, strip_grids(drawn.pixels)[0])]
    drop = random_drop(seed)
    found = [periods(*read(each.pixels)) for each in drop]
    like = together(found)
    return [
        (each, strip_grids(each.pixels, "", like, own)[0])
        for each, own in zip(drop, found, strict=True)
    ]


def main(first: int, count: int) -> None:
    """Print the share that is cut right, and what is not."""
    for kind, every in (("strip", 1), ("drop", 4), ("sheet", 2)):
        right, whole = Counter[str](), Counter[str]()
        for seed in range(first, first + count // every):
            for drawn, grid in grids_of(kind, seed):
                wrong = problem(drawn, grid)
                whole[drawn.layout] += 1
                right[drawn.layout] += not wrong
                if wrong:
                    print(seed, kind, *drawn[1:], drawn.pixels.shape[:2], "->", grid, wrong)
        print(
            f"{kind}: {sum(right.values())} of {sum(whole.values())}; "
            + ", ".join(f"{layout} {right[layout]}/{whole[layout]}" for layout in LAYOUTS)
        )


if __name__ == "__main__":
    main(*[*map(int, sys.argv[1:]), *(0, 200)[len(sys.argv) - 1 :]])
