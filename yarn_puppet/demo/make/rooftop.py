"""The rooftop booth."""

from __future__ import annotations

from ...core.model.edits import worlds as edits
from ...core.model.world import Dummy, World, Zone

BOOTH = "rooftop.booth.json"


def rooftop() -> World:
    """Rooftops over a canal, with a low wall, a gap to jump and Old Thatch."""
    rows = [
        "..............................................................",
        "..............................................................",
        "..............................................................",
        "..............................................................",
        "..............................................................",
        "..............................................................",
        "...............................................##.............",
        "..........................................................####",
        "###...............................................###.....####",
        "####............................................#####.....####",
        "#####..........................#####.......##########.....####",
        "########################..######################.........#####",
        "########################~~######################~~~~~~~~~#####",
        "########################~~######################~~~~~~~~~#####",
        "########################~~######################~~~~~~~~~#####",
    ]
    ground = 11 * 16.0
    world = World(
        "Rooftop", tuple(rows), 120.0, ground,
        dummies=(Dummy("Old Thatch", 310.0, ground, 18.0, 48.0, "thatch.png", 24, 14),
                 Dummy("Young Thatch", 470.0, ground, 18.0, 48.0, "thatch.png", 24, 14)),
        zones=(Zone("warm chimney", 47, 3, 5, 3),),
    )
    world = edits.painted(world, [(x, y) for y in (12, 13, 14) for x in (24, 25, *range(48, 57))],
                          "~")
    # A gutter over the first roof, a ladder up the tower, and a slope beside the low wall.
    world = edits.painted(world, [(x, 5) for x in range(9, 13)], "=")
    world = edits.painted(world, [(57, y) for y in range(7, 11)], "H")
    return edits.painted(world, [(30, 10)], "r")
