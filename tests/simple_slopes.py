"""A second model of walking over slopes, by another thought: no boxes and no sweeps, but the hill
as a line.

The world is made of heights: from column to column the ground stays, or goes up or down by a slope.
On such a hill nothing stands in a walker's way, however wide, so docs/world.md leaves it nothing to
do but what it would do on the flat, its feet on the line; and a wall it meets by its edge, since no
slope is within a width of it.
"""

from __future__ import annotations

from math import copysign, sqrt
from random import Random
from typing import NamedTuple

from yarn_puppet.core.model.mover import Mover
from yarn_puppet.core.model.world import TILE, World

PIECES = {"r": (1,), "f": (-1,), "ab": (0.5, 0.5), "cd": (-0.5, -0.5), ".": (0,), "..": (0, 0)}
"""What a piece of the line rises by in each of its columns, in tiles."""


class Hill(NamedTuple):
    """A world, and the corners of its line: (x, y) pixels, y downwards. Its walls are at both ends
    of the line."""

    world: World
    corners: list[tuple[float, float]]

    def line(self, x: float) -> float:
        """How high the ground is at x."""
        for (left, high), (right, low) in zip(self.corners, self.corners[1:], strict=False):
            if left <= x <= right:
                return high + (low - high) * (x - left) / (right - left)
        raise ValueError(f"{x} is not on the line")


def hill_of(random: Random, pieces: int = 10, flat: int = 4) -> Hill:
    """A hill at random between two walls, with so many columns of flat ground before each."""
    letters: list[tuple[str, float]] = [(".", 0.0)] * flat
    for _ in range(pieces):
        name = random.choice(list(PIECES))
        letters += list(zip(name, PIECES[name], strict=True))
    letters += [(".", 0.0)] * flat
    height, heights = 0.0, [0.0]
    for _, rise in letters:
        height += rise
        heights.append(height)
    highest, lowest = max(heights), min(heights)
    # Room for the head above the highest, and ground under the lowest.
    base = int(highest) + 8
    count = base - int(lowest) + 2
    rows = [["."] * (len(letters) + 2) for _ in range(count)]
    for column, (letter, rise) in enumerate(letters, 1):
        before, after = heights[column - 1], heights[column]
        # The tile that the line passes through, or the one under it.
        row = base - int(min(before, after) // 1) - 1
        if rise:
            rows[row][column] = letter
        for under in range(row + 1, count):
            rows[under][column] = "#"
    for row in rows:
        row[0] = row[-1] = "#"
    corners = [(TILE * (1.0 + column), TILE * (base - each)) for column, each in enumerate(heights)]
    x, y = corners[flat // 2]
    world = World(name="hill", rows=tuple(["".join(row) for row in rows]), start_x=x, start_y=y)
    return Hill(world, corners)


class Walker:
    """Walks along the line as on the flat."""

    def __init__(self, hill: Hill, mover: Mover, rate: int) -> None:
        self.hill, self.mover, self.dt = hill, mover, 1 / rate
        self.x, self.vx = hill.world.start_x, 0.0
        self.left, self.right = hill.corners[0][0] + mover.width / 2, hill.corners[-1][
            0] - mover.width / 2

    def tick(self, across: float) -> tuple[float, float, float]:
        """One tick: x, y and the speed after it."""
        target = across * self.mover.walk_speed
        gains = abs(target) > abs(self.vx) and target * self.vx >= 0
        most = (self.mover.acceleration if gains else self.mover.deceleration) * self.dt
        after = max(self.vx - most, min(self.vx + most, target))
        to = self.x + (self.vx + after) / 2 * self.dt
        stops = to != self.x and not self.left < to < self.right
        to = max(self.left, min(self.right, to))
        rise = self.hill.line(self.x) - self.hill.line(to)
        if stops:
            self.x, self.vx = to, 0.0
        elif across * after <= 0 and rise > 0:
            # Nobody pushes it up: it pays for what it rises, or stays.
            left = after * after - 2 * self.mover.gravity * rise
            self.x, self.vx = (to, copysign(sqrt(left), after)) if left >= 0 else (self.x, 0.0)
        else:
            self.x, self.vx = to, after
        return self.x, self.hill.line(self.x), self.vx
