"""The bones of Harrow: where each begins and ends, how thick its knitted tube is, and its wool.

Metres; y upwards, z to the front, x to his left. At rest no bone is turned, so that a turn about x
swings a limb forwards or back, one about y turns it, one about z lifts it sideways.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from ....core.model.bones import Skeleton

Place = tuple[float, float, float]


class Limb(NamedTuple):
    """A bone, from where to where, how thick its tube is at either end (0 for none), its wool."""

    name: str
    parent: str
    start: Place
    end: Place
    thick: tuple[float, float]
    wool: str


def _both(
    name: str, parent: str, start: Place, end: Place, thick: tuple[float, float], wool: str
) -> list[Limb]:
    """The same limb on his left and his right."""
    made = []
    for side, way in (("L", 1), ("R", -1)):
        held = f"{parent} {side}" if f"{parent} L" in PAIRED else parent
        made.append(Limb(f"{name} {side}", held, (way * start[0], *start[1:]),
                         (way * end[0], *end[1:]), thick, wool))
    return made


PAIRED = {f"{name} L" for name in (
    "collar", "upper arm", "fore arm", "hand", "thigh", "shin", "foot")}

LIMBS: tuple[Limb, ...] = (
    Limb("hips", "", (0, 0.92, 0), (0, 1.0, 0), (0.155, 0.165), "coat"),
    Limb("spine", "hips", (0, 1.0, 0), (0, 1.12, 0), (0.165, 0.17), "coat"),
    Limb("spine 2", "spine", (0, 1.12, 0), (0, 1.25, 0), (0.17, 0.185), "coat"),
    Limb("chest", "spine 2", (0, 1.25, 0), (0, 1.42, 0), (0.185, 0.12), "coat"),
    Limb("neck", "chest", (0, 1.42, 0), (0, 1.5, 0.01), (0.065, 0.06), "skin"),
    Limb("head", "neck", (0, 1.5, 0.01), (0, 1.63, 0.02), (0.1, 0.11), "skin"),
    Limb("hat", "head", (0, 1.7, 0.01), (0, 1.79, -0.03), (0.13, 0.06), "hat"),
    *_both("collar", "chest", (0.04, 1.4, 0), (0.17, 1.39, 0), (0.07, 0.075), "coat"),
    *_both("upper arm", "collar", (0.19, 1.38, 0), (0.23, 1.1, 0), (0.07, 0.058), "coat"),
    *_both("fore arm", "upper arm", (0.23, 1.1, 0), (0.25, 0.86, 0.03), (0.058, 0.048), "cuffs"),
    *_both("hand", "fore arm", (0.25, 0.86, 0.03), (0.255, 0.77, 0.05), (0.048, 0.04), "skin"),
    *_both("fingers", "hand", (0.255, 0.77, 0.05), (0.255, 0.7, 0.06), (0.036, 0.026), "skin"),
    *_both("thumb", "hand", (0.24, 0.81, 0.075), (0.225, 0.76, 0.1), (0.02, 0.016), "skin"),
    *_both("thigh", "hips", (0.09, 0.9, 0), (0.1, 0.5, 0.01), (0.095, 0.075), "trousers"),
    *_both("shin", "thigh", (0.1, 0.5, 0.01), (0.1, 0.1, -0.01), (0.075, 0.055), "trousers"),
    *_both("foot", "shin", (0.1, 0.1, -0.01), (0.1, 0.05, 0.1), (0.06, 0.05), "boots"),
    *_both("toes", "foot", (0.1, 0.05, 0.1), (0.1, 0.045, 0.18), (0.048, 0.04), "boots"),
    Limb("coat front", "hips", (0, 0.95, 0.11), (0, 0.68, 0.16), (0.1, 0.12), "coat"),
    Limb("coat back", "hips", (0, 0.95, -0.1), (0, 0.66, -0.15), (0.11, 0.13), "coat"),
    Limb("coat L", "hips", (0.12, 0.95, 0), (0.18, 0.69, 0), (0.09, 0.1), "coat"),
    Limb("coat R", "hips", (-0.12, 0.95, 0), (-0.18, 0.69, 0), (0.09, 0.1), "coat"),
    Limb("scarf", "chest", (0.03, 1.42, -0.07), (0.05, 1.27, -0.16), (0.05, 0.045), "scarf"),
    Limb("scarf 2", "scarf", (0.05, 1.27, -0.16), (0.06, 1.1, -0.2), (0.045, 0.05), "scarf"),
    Limb("belt", "hips", (0, 0.98, 0.15), (0, 0.98, 0.19), (0.04, 0.035), "brass"),
)
"""Each after its parent."""
SEWN: tuple[Limb, ...] = (
    Limb("", "head", (0.04, 1.595, 0.118), (0.04, 1.605, 0.118), (0.014, 0.014), "ink"),
    Limb("", "head", (-0.04, 1.595, 0.118), (-0.04, 1.605, 0.118), (0.014, 0.014), "ink"),
    Limb("", "head", (0, 1.57, 0.12), (0, 1.555, 0.135), (0.018, 0.016), "skin"),
    *[Limb("", bone, (0.06, y, z), (0.06, y, z + 0.01), (0.014, 0.012), "brass")
      for bone, y, z in (("chest", 1.33, 0.14), ("spine 2", 1.2, 0.165), ("spine", 1.07, 0.16))],
)
"""What is sewn on: no bones of their own, and no name."""
NAMES = tuple(limb.name for limb in LIMBS)


def skeleton(prefix: str = "") -> Skeleton:
    """The bones at rest; with a prefix, as another program would have written the same ones."""
    starts = {limb.name: limb.start for limb in LIMBS}
    places = np.array([np.subtract(limb.start, starts.get(limb.parent, (0, 0, 0)))
                       for limb in LIMBS])
    count = len(LIMBS)
    still = np.tile(np.array((0.0, 0.0, 0.0, 1.0)), (count, 1))
    return Skeleton(
        tuple([f"{prefix}{name}" for name in NAMES]),
        tuple([NAMES.index(limb.parent) if limb.parent else -1 for limb in LIMBS]),
        places.round(6), still, np.ones((count, 3)), np.tile(np.eye(4), (count, 1, 1)),
        still.copy(), {})
