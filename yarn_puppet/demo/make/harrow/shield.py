"""Harrow's shield, a round board of brass and wool: a file of bones by itself, of one rigid
part."""

from __future__ import annotations

from math import cos, sin, tau
from typing import TYPE_CHECKING

import numpy as np

from ....core.model.bones import BoneArt, Mesh, Skeleton

if TYPE_CHECKING:
    from ....core.model.bones import Floats

RADIUS, RIM, DEEP, AROUND = 0.27, 0.035, 0.07, 24
BRASS, WOOL = (0.570, 0.319, 0.070), (0.386, 0.034, 0.042)
"""Colours in linear light."""


def shield() -> BoneArt:
    """Its middle is at the origin, its front looks along z."""
    skeleton = Skeleton(
        ("shield",), (-1,), np.zeros((1, 3)), np.array([[0.0, 0.0, 0.0, 1.0]]), np.ones((1, 3)),
        np.eye(4)[None], np.array([[0.0, 0.0, 0.0, 1.0]]), {})
    board = _disc(((RADIUS - RIM, 0.01), (RADIUS * 0.55, DEEP * 0.6), (0.07, DEEP * 0.85)), WOOL,
                  "board")
    rim = _disc(((RADIUS, -0.01), (RADIUS, 0.012), (RADIUS - RIM, 0.018)), BRASS, "rim", False)
    boss = _disc(((0.075, DEEP * 0.82), (0.05, DEEP * 1.1), (0.02, DEEP * 1.25)), BRASS, "boss")
    return BoneArt(skeleton, (), (board, rim, boss), ())


def _disc(
    rings: tuple[tuple[float, float], ...], color: tuple[float, float, float], name: str,
    closed: bool = True,
) -> Mesh:
    """Rings of (radius, z), joined; the innermost closed by a fan."""
    places: list[tuple[float, float, float]] = []
    for radius, z in rings:
        places += [(radius * cos(tau * at / AROUND), radius * sin(tau * at / AROUND), z)
                   for at in range(AROUND)]
    faces: list[tuple[int, int, int]] = []
    for ring in range(len(rings) - 1):
        for at in range(AROUND):
            one, other = ring * AROUND + at, ring * AROUND + (at + 1) % AROUND
            faces += [(one, other, one + AROUND), (other, other + AROUND, one + AROUND)]
    if closed:
        middle = len(places)
        places.append((0.0, 0.0, rings[-1][1] + 0.004))
        first = (len(rings) - 1) * AROUND
        faces += [(first + at, first + (at + 1) % AROUND, middle) for at in range(AROUND)]
    made: Floats = np.array(places)
    return Mesh(name, made, np.array(faces, dtype=np.int64), (*color, 1.0), None, None, 0, (), None,
                None, None)
