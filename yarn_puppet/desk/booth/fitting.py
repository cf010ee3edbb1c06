"""How large the booth is drawn: whole pixels of the screen to a pixel of art, so that it keeps its
grain, and room for the puppet and some of what is around it."""

from __future__ import annotations

from math import ceil, floor

from PyQt6.QtCore import QPointF

from ...core.model.edits.movers import standing_body
from ...core.model.puppet import Puppet

TILES_HIGH = 8.4375
"""Tiles that are seen one above the other, where the puppet leaves room for them."""
BODY_SHARE, MOST_SHARE = 0.5, 0.8
"""How much of the view's height the body takes where the puppet is large, and at most."""
STANDS = 2.625
"""Tiles by which what is in the middle of the view is above the feet."""


def seen_height(puppet: Puppet) -> float:
    """How high the puppet is in the booth, in pixels of the world: its mover's body or what is
    drawn above its feet as it stands, whichever is higher. The two differ until the mover is taken
    as drawn."""
    found = standing_body(puppet)
    return puppet.mover.height if found is None else max(puppet.mover.height, found[2])


def fitting_scale(height: float, ratio: float, tile: int, body: float, art: float = 1.0) -> float:
    """Pixels of the view to one of the world, for a view so high on a screen with `ratio` device
    pixels to a pixel, and a puppet `body` pixels of the world high, a pixel of whose art is `art`
    of the world: whole device pixels to one of art, or, where less is wanted, one device pixel to a
    whole number of them."""
    wanted = min(height / (TILES_HIGH * tile), BODY_SHARE * height / body) * ratio * art
    if wanted < 1:
        return 1 / ceil(1 / max(wanted, 1e-6)) / ratio / art
    whole = round(wanted)
    most = MOST_SHARE * height * ratio * art / body
    return max(1, whole if whole <= most else floor(most)) / ratio / art


def middle_over_feet(tile: int, body: float) -> float:
    """How far above the feet of a puppet `body` pixels high the middle of the view is, in pixels of
    the world."""
    return max(STANDS * tile, 0.55 * body)


def on_whole_pixels(at: QPointF, grain: float) -> QPointF:
    """A place of the world, moved to the nearest one that begins a device pixel; `grain` is how
    many there are to a pixel of the world."""
    if grain <= 0:
        return at
    # Halves go up, as in what games draw (docs/hand-off.md), and not to even.
    return QPointF(floor(at.x() * grain + 0.5) / grain, floor(at.y() * grain + 0.5) / grain)
