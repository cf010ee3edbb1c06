"""The booths beside the rooftop: the canal with its steps, and the roof gardens seen from above."""

from __future__ import annotations

from msgspec.structs import replace

from ...core.model.edits import worlds as edits
from ...core.model.world import AIR, BRICK, TILE, WATER, Dummy, World, WorldProp, Zone

CANAL, GARDENS = "canal_steps.booth.json", "roof_gardens.booth.json"


def canal_steps() -> World:
    """Down slopes and steps to the water: a jetty, a deep basin, a low tunnel, ladders and a wall
    to hang from."""
    wide, high, street = 76, 22, 9
    rows = [[AIR] * wide for _ in range(high)]

    def put(kind: str, columns: range, lines: range) -> None:
        for row in lines:
            for column in columns:
                rows[row][column] = kind

    put(BRICK, range(16), range(street, high))
    put(BRICK, range(16, 40), range(13, high))
    put(AIR, range(28, 40), range(13, 20))
    put(BRICK, range(40, 56), range(11, high))
    put(BRICK, range(56, wide), range(street, high))
    # From the street down to the quay: two steep slopes, and a gentle one.
    for step, kinds in enumerate(("f", "f")):
        put(kinds, range(16 + step, 17 + step), range(street + step, street + step + 1))
        put(BRICK, range(16, 17 + step), range(street + step + 1, street + step + 2))
    put("c", range(18, 19), range(11, 12))
    put("d", range(19, 20), range(11, 12))
    put(BRICK, range(16, 20), range(12, 13))
    put("f", range(20, 21), range(12, 13))
    # A jetty, a ladder out of the basin, and a low tunnel through the far bank.
    put("=", range(24, 32), range(13, 14))
    put("H", range(39, 40), range(11, 20))
    put(AIR, range(46, 52), range(9, 11))
    put(BRICK, range(44, 54), range(6, 9))
    # A tall house with a gutter, and its ladder.
    put(BRICK, range(64, wide), range(2, street))
    put("=", range(58, 64), range(4, 5))
    put("H", range(63, 64), range(5, street))
    world = World("Canal steps", tuple("".join(row) for row in rows), 7.5 * TILE, street * 16.0)
    world = edits.painted(world, [(x, y) for y in range(14, 20) for x in range(28, 40)], WATER)
    return replace(
        world, zones=(Zone("canal", 28, 14, 12, 6), Zone("tunnel", 44, 9, 10, 2)),
        dummies=(Dummy("Cross Thatch", 40.0, 144.0, 18.0, 48.0, "thatch.png", 24, 14, "strikes", 12,
                       every=1.5),
                 Dummy("Wet Thatch", 57.5 * TILE, 144.0, 18.0, 48.0, "thatch.png", 24, 14,
                       "strikes", 12),),
        props=(WorldProp("crate", 4 * 16.0, 144.0),
               WorldProp("barrel", 42 * 16.0, 176.0, before=True)),
    )


def roof_gardens() -> World:
    """Beds and hedges between gravel paths, a basin in the middle, all seen from above."""
    wide, high = 30, 20
    rows = [[AIR] * wide for _ in range(high)]
    for row in range(high):
        for column in range(wide):
            if row in (0, high - 1) or column in (0, wide - 1):
                rows[row][column] = BRICK
    for left, top in ((3, 3), (3, 12), (21, 3), (21, 12)):
        for row in range(top, top + 5):
            for column in range(left, left + 6):
                if row in (top, top + 4) or column in (left, left + 5):
                    rows[row][column] = BRICK
        # Each bed has a gate to its path.
        rows[top + (4 if top < 10 else 0)][left + 2] = AIR
    wet = [(x, y) for y in range(8, 12) for x in range(12, 18)]
    world = World("Roof gardens", tuple("".join(row) for row in rows), 10.5 * TILE, 10.0 * TILE,
                  seen="from above",
                  zones=(Zone("herb bed", 4, 4, 4, 3), Zone("rose bed", 22, 4, 4, 3),
                         Zone("bean bed", 4, 13, 4, 3),
                         Zone("lavender bed", 22, 13, 4, 3)),
                  props=(WorldProp("crate", 15.5 * TILE, 6.0 * TILE),))
    return edits.painted(world, wet, WATER)
