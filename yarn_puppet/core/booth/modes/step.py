"""What every way of moving is given for one tick."""

from __future__ import annotations

from typing import NamedTuple

from ...model.mover import Mover
from ..body import Body, Moving, Wish
from ..tiles.stepping import MovedBox
from ..tiles.terrain import Terrain


class MoverStep(NamedTuple):
    """One tick of one body: `box` is its box, `dt` the seconds of a tick."""

    terrain: Terrain
    mover: Mover
    body: Body
    box: MovedBox
    wish: Wish
    moving: Moving
    dt: float
