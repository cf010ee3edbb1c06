"""The small playable world, as it is stored, and the recorded controls of one run."""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta

from .base import Name, Number, Positive, Scalar, Value
from .wiring import Rate

TILE = 16
"""The width and height of a tile in pixels."""


class Dummy(Value, frozen=True):
    """Something to hit, standing with its feet at x, y; pixels, y downwards. `picture` is a PNG beside the booth.

    A blow leaves it reeling for `reels` ticks, and for `reels_guarding` one that it guards; 0 says nothing of it.
    """

    name: Name
    x: Number
    y: Number
    width: Positive = 18.0
    height: Positive = 40.0
    picture: Annotated[str, Meta(pattern=r"^[A-Za-z0-9_-]*(\.png)?$")] = ""
    reels: Annotated[int, Meta(ge=0, le=1000)] = 0
    reels_guarding: Annotated[int, Meta(ge=0, le=1000)] = 0


class World(Value, frozen=True):
    """A booth. Each of `rows` is a line of tiles from the top: `#` is solid, `.` is air, `~` is water to look at."""

    name: Name
    rows: tuple[Annotated[str, Meta(pattern=r"^[#.~]*$", max_length=4096)], ...]
    start_x: Number
    start_y: Number
    format: Literal[1] = 1
    dummies: tuple[Dummy, ...] = ()

    @property
    def columns(self) -> int:
        """The length of the longest row, in tiles."""
        return max((len(row) for row in self.rows), default=0)

    def tile(self, column: int, row: int) -> str:
        """The tile at a place. Past either end of its row is a wall; above and below the rows is air."""
        last = len(self.rows) - 1
        line = self.rows[0 if row < 0 else last if row > last else row] if self.rows else ""
        if column < 0 or column >= len(line):
            return "#"
        return line[column] if 0 <= row <= last else "."


Tick = Annotated[int, Meta(ge=0, le=100_000_000)]


class Take(Value, frozen=True):
    """The recorded controls of one run.

    `controls` holds (tick, action id, 1 or 0) at each change. With no booth, `senses` (tick, sense id, value) are
    all that changes; with a booth they are those forced by hand, and a value of None lets one go again. `axes` holds
    (tick, axis id, step) at each change of a stick, in whole steps of a hundredth.
    """

    booth: str | None
    rate: Rate
    ticks: Annotated[int, Meta(ge=0, le=1_000_000)]
    controls: tuple[tuple[Tick, str, Literal[0, 1]], ...] = ()
    senses: tuple[tuple[Tick, str, Scalar | None], ...] = ()
    format: Literal[1] = 1
    axes: tuple[tuple[Tick, str, Annotated[int, Meta(ge=-100, le=100)]], ...] = ()
