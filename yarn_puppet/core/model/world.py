"""The small playable world, as it is stored."""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta

from .basics.base import Fraction, Identifier, Name, Number, Positive, Value
from .basics.values import ticks_of
from .mover import Speed
from .puppet import Puppet

TILE = 16
"""The width and height of a tile in pixels, where a booth does not say otherwise."""
LARGEST_TILE = 512
MOST_COLUMNS = 4096
MOST_ROWS = 1024
AIR, BRICK, PLANK, LADDER, WATER = ".", "#", "=", "H", "~"
STEEP_UP, STEEP_DOWN = "r", "f"
"""Slopes that rise, or fall, to the right."""
GENTLE_UP, GENTLE_DOWN = "ab", "cd"
"""The two tiles of a gentle slope, from the left."""
SLOPES = STEEP_UP + STEEP_DOWN + GENTLE_UP + GENTLE_DOWN

Does = Literal["stands", "walks", "guards", "strikes", "replays", "answers"]
LONGEST_REPLAY = 3600
"""Ticks that a dummy can replay."""
Picture = Annotated[str, Meta(pattern=r"^[^/\\\x00-\x1f\x7f]*$", max_length=200)]
"""The file name of a PNG beside the booth, without folders, or empty."""
MOST_CELLS = 1024
"""Cells of a picture of tiles in a row, and one under the other, that can be told."""
CellNumber = Annotated[int, Meta(ge=0, lt=MOST_CELLS)]


class Dummy(Value, frozen=True):
    """Something to hit, and to be hit by, standing with its feet at x, y; pixels, y downwards.

    A blow leaves it reeling for `reels` ticks, and for `reels_guarding` one that it guards; 0 says
    nothing of it. `health` of zero is not counted. What it `does` stands in docs/world.md: one
    that walks goes `span` pixels to either side at `speed`; one that strikes does so every `every`
    seconds, as far as `reach` pixels. One that replays is the puppet once more, under the controls
    of a take called `plays`: `hands` (tick, action id, 1 or 0) over `long` ticks at `hands_rate`
    ticks a second, round and round; `cast` is the file of another puppet, or of a skin, that it is
    instead, and lies beside the booth. One that answers is played under the same hands beside the
    puppet, and is told of what happens to it. `mix` are the intents of hands that are one after the
    other by dice, by id. What is counted in ticks may be given in seconds instead,
    over zero: then it is as long at any rate.
    """

    name: Name
    x: Number
    y: Number
    width: Positive = 18.0
    height: Positive = 40.0
    picture: Picture = ""
    reels: Annotated[int, Meta(ge=0, le=1000)] = 0
    reels_guarding: Annotated[int, Meta(ge=0, le=1000)] = 0
    does: Does = "stands"
    health: Annotated[int, Meta(ge=0, le=1_000_000)] = 0
    span: Fraction = 32.0
    speed: Speed = 30.0
    every: Annotated[float, Meta(ge=0.05, le=1000)] = 2.0
    reach: Annotated[float, Meta(ge=0, le=1000)] = 26.0
    damage: Annotated[int, Meta(ge=0, le=1_000_000)] = 1
    push: Annotated[float, Meta(ge=-1000, le=1000)] = 12.0
    hit_stop: Annotated[int, Meta(ge=0, le=1000)] = 3
    plays: Annotated[str, Meta(max_length=200)] = ""
    cast: Picture = ""
    hands: tuple[tuple[Annotated[int, Meta(ge=0, le=LONGEST_REPLAY)], str, Literal[0, 1]], ...] = ()
    long: Annotated[int, Meta(ge=0, le=LONGEST_REPLAY)] = 0
    hands_rate: Annotated[int, Meta(ge=1, le=1000)] = 60
    mix: tuple[Identifier, ...] = ()
    hit_stop_seconds: Annotated[float, Meta(ge=0, le=10)] = 0.0
    reels_seconds: Annotated[float, Meta(ge=0, le=10)] = 0.0
    reels_guarding_seconds: Annotated[float, Meta(ge=0, le=10)] = 0.0

    def ticks(self, of: Literal["hit_stop", "reels", "reels_guarding"], rate: int) -> int:
        """How many ticks of a rate one of these is."""
        counted: int = getattr(self, of)
        return ticks_of(counted, getattr(self, f"{of}_seconds"), rate)


class Zone(Value, frozen=True):
    """A named area, in tiles from the upper left."""

    name: Name
    x: Annotated[int, Meta(ge=0, le=MOST_COLUMNS)]
    y: Annotated[int, Meta(ge=0, le=MOST_ROWS)]
    width: Annotated[int, Meta(ge=1, le=MOST_COLUMNS)] = 1
    height: Annotated[int, Meta(ge=1, le=MOST_ROWS)] = 1


class WorldProp(Value, frozen=True):
    """Something to look at, its lower edge's middle at x, y; behind the puppet, or before it.

    `picture` lies beside the booth; without one it is drawn as a crate.
    """

    name: Name
    x: Number
    y: Number
    picture: Picture = ""
    before: bool = False


class Opponent(Value, frozen=True):
    """The puppet that is in the file that dummies name as their `cast`; of a skin, dressed."""

    file: Name
    puppet: Puppet


class TileLook(Value, frozen=True):
    """How a tile is drawn: as the cell at this column and row of the booth's picture of tiles.

    `tile` is its letter; of air that is what lies behind all but brick. With `edges` "outside" the
    cell is the upper left one of a block of 3 × 3 with edges and corners, with "all" of one of 5 ×
    3, which has the four inner corners too; docs/world.md says where.
    """

    tile: Annotated[str, Meta(pattern=r"^[.#=H~rfabcd]$")]
    column: CellNumber
    row: CellNumber
    edges: Literal["none", "outside", "all"] = "none"


class World(Value, frozen=True):
    """A booth. `rows` are lines of tiles from the top, `wet` lines that say where there is water;
    docs/world.md lists the letters. A tile is `tile_size` pixels wide and high. `barred` are ledges
    that cannot be grabbed: (column, row, side), the side of the tile it is at, 0 for a plank.

    `tiles` is a picture that is cut by the tile size, `background` one that lies behind all.
    `looks` says what of it stands for which tile, `cells` what is laid over one place: (column,
    row, column and row of the cell).

    `opponents` are the puppets that dummies are: read from their own files, and never written with
    the booth.
    """

    name: Name
    rows: tuple[Annotated[str, Meta(pattern=r"^[.#=H~rfabcd]*$", max_length=MOST_COLUMNS)], ...]
    start_x: Number
    start_y: Number
    format: Literal[1] = 1
    dummies: tuple[Dummy, ...] = ()
    wet: tuple[Annotated[str, Meta(pattern=r"^[.~]*$", max_length=MOST_COLUMNS)], ...] = ()
    zones: tuple[Zone, ...] = ()
    props: tuple[WorldProp, ...] = ()
    barred: tuple[tuple[int, int, Literal[-1, 0, 1]], ...] = ()
    seen: Literal["from the side", "from above"] = "from the side"
    tile_size: Annotated[int, Meta(ge=1, le=LARGEST_TILE)] = TILE
    tiles: Picture = ""
    background: Picture = ""
    looks: tuple[TileLook, ...] = ()
    cells: tuple[tuple[Annotated[int, Meta(ge=0, le=MOST_COLUMNS)],
                       Annotated[int, Meta(ge=0, le=MOST_ROWS)], CellNumber, CellNumber], ...] = ()
    opponents: tuple[Opponent, ...] = ()

    def cast_of(self, dummy: Dummy, puppet: Puppet) -> Puppet:
        """The puppet that a dummy is: what it is cast as, where that is there, and else `puppet`
        itself."""
        if dummy.cast:
            for each in self.opponents:
                if each.file == dummy.cast:
                    return each.puppet
        return puppet

    @property
    def from_above(self) -> bool:
        """Whether it is seen from above."""
        return self.seen == "from above"

    @property
    def columns(self) -> int:
        """The length of the longest row, in tiles."""
        return max((len(row) for row in self.rows), default=0)

    def tile(self, column: int, row: int) -> str:
        """What stands at a place. Past either end of its row is brick; above and below the rows is
        air."""
        last = len(self.rows) - 1
        line = self.rows[0 if row < 0 else last if row > last else row] if self.rows else ""
        if column < 0 or column >= len(line):
            return BRICK
        if not 0 <= row <= last:
            return AIR
        return AIR if line[column] == WATER else line[column]

    def is_wet(self, column: int, row: int) -> bool:
        """Whether there is water at a place."""
        if row < 0 or column < 0 or row >= len(self.rows):
            return False
        return self.rows[row][column:column + 1] == WATER or (
            row < len(self.wet) and self.wet[row][column:column + 1] == WATER)
