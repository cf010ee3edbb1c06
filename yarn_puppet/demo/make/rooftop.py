"""The rooftop booth, and the two takes played on it."""

from __future__ import annotations

from ...core.model.edits import worlds as edits
from ...core.model.take import Take
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
    world = edits.painted(world, [(x, y) for y in (12, 13, 14) for x in (24, 25, *range(48, 57))], "~")
    # A gutter over the first roof, a ladder up the tower, and a slope beside the low wall.
    world = edits.painted(world, [(x, 5) for x in range(13, 20)], "=")
    world = edits.painted(world, [(57, y) for y in range(7, 11)], "H")
    return edits.painted(world, [(30, 10)], "r")


Press = tuple[int, int, str]
"""First tick down, first tick up again, action."""

CHASE: tuple[Press, ...] = (
    (20, 128, "right"), (132, 137, "attack"), (158, 196, "guard"), (205, 245, "attack"), (300, 345, "left"),
    (350, 400, "right"), (352, 357, "jump"), (402, 406, "attack"), (440, 470, "down"),
)
"""Walk up to Old Thatch, swing, cancel into the guard, slam; away and back with a jump, one more swing, crouch."""

GUARDED_FALL: tuple[Press, ...] = (
    (10, 90, "left"), (30, 34, "jump"), (100, 330, "right"), (110, 190, "guard"), (250, 254, "attack"),
    (262, 266, "attack"), (330, 336, "jump"), (340, 420, "guard"), (380, 440, "right"),
)
"""Guarding while walking at half speed, swings asked for twice, and a guard that a jump keeps waiting."""


def take_from(presses: tuple[Press, ...], ticks: int) -> Take:
    """A take with these presses."""
    changes = [change for first, last, action in presses for change in ((first, action, 1), (last, action, 0))]
    return Take(BOOTH, 60, ticks, tuple(sorted(changes)))  # type: ignore[arg-type]


def takes() -> dict[str, Take]:
    """The demo's takes by file name."""
    return {
        "rooftop_chase.take.json": take_from(CHASE, 500),
        "guarded_fall.take.json": take_from(GUARDED_FALL, 480),
    }
