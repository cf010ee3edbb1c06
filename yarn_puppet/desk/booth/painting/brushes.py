"""What a hand can paint with, and what each of it does, in a sentence."""

from __future__ import annotations

from typing import NamedTuple

from PyQt6.QtGui import QColor

from ....core.model.world import (
    AIR,
    BRICK,
    GENTLE_DOWN,
    GENTLE_UP,
    LADDER,
    PLANK,
    STEEP_DOWN,
    STEEP_UP,
    WATER,
)
from ...widgets import theme


class Brush(NamedTuple):
    """A brush: `tile` is the letter it paints, empty for one that puts things; `key` chooses it."""

    name: str
    tile: str
    says: str
    key: str = ""


LAY, LIFT = "lay", "lift"
"""What is done with a cell of the booth's picture where other brushes paint a tile."""
BRUSHES = {
    brush.name: brush
    for brush in (
        Brush(
            "brick",
            BRICK,
            "Brick is solid. Drag paints, the right button erases, Shift fills.",
            "B",
        ),
        Brush(
            "plank",
            PLANK,
            "A plank is stood on from above and passed from below; down and jump drop through it.",
            "P",
        ),
        Brush(
            "steep up",
            STEEP_UP,
            "A steep slope that rises to the right: one tile up in one tile.",
            "R",
        ),
        Brush("steep down", STEEP_DOWN, "A steep slope that falls to the right.", "F"),
        Brush(
            "gentle up",
            GENTLE_UP[0],
            "A gentle slope that rises to the right: one tile up in two.",
            "G",
        ),
        Brush("gentle down", GENTLE_DOWN[0], "A gentle slope that falls to the right.", "H"),
        Brush(
            "ladder",
            LADDER,
            "A ladder is climbed by what has the while-rule “on a ladder”; its top is stood on.",
            "L",
        ),
        Brush(
            "water",
            WATER,
            "Water lies over what stands there; what has the while-rule “in water” swims in it.",
            "W",
        ),
        Brush(
            "cell",
            LAY,
            "A cell of the picture lies over what stands there, to look at. Shift lays it over all "
            "that is like it; the right button lifts it.",
            "T",
        ),
        Brush("zone", "", "Drag a zone: a named area that the sense zone tells.", "Z"),
        Brush(
            "dummy", "", "Click to put a dummy; click one to choose it, drag it to move it.", "D"
        ),
        Brush(
            "prop",
            "",
            "Click to put a prop to look at; click one to choose it, drag it to move it.",
            "O",
        ),
        Brush("start", "", "Click where the puppet begins.", "S"),
        Brush(
            "ledges", "", "Click a ledge that must not be grabbed; click it again and it may.", "E"
        ),
        Brush("erase", AIR, "Drag takes tiles and water away; click a thing to take it away.", "X"),
    )
}
SLOPE_BRUSHES = ("steep up", "steep down", "gentle up", "gentle down")
FROM_ABOVE = ("brick", "water", "cell", "zone", "dummy", "prop", "start", "erase")
"""What makes a difference in a world that is seen from above."""
COLORS = {
    "water": "INDIGO", "zone": "PLUM", "prop": "PLUM", "dummy": "WELD", "start": "WELD",
    "ledges": "WELD",
    "erase": "INK",
}


def color_of(brush: str) -> QColor:
    """The thread colour of a brush."""
    color: QColor = getattr(theme, COLORS.get(brush, "CLAY"))
    return color


def tile_word(tile: str) -> str:
    """What a tile is called that is looked at: of a gentle slope each half, and what lies behind
    all where there is none."""
    halves = {"a": "gentle up, lower", "b": "gentle up, upper", "c": "gentle down, upper",
              "d": "gentle down, lower", AIR: "what lies behind"}
    return halves.get(tile) or word_of(tile)


def word_of(tile: str) -> str:
    """What a tile is called."""
    names = {brush.tile: brush.name for brush in BRUSHES.values() if brush.tile}
    names |= {"b": names["a"], "d": names["c"], AIR: "air", BRICK: "brick"}
    return names.get(tile, tile)
