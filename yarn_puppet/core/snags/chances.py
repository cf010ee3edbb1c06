"""Clips at random that are not: weights by which nothing can be picked."""

from __future__ import annotations

from ..engine.program import Program
from ..model.puppet import Puppet
from .snag import Snag


def weights_that_pick_nothing(puppet: Puppet, program: Program) -> list[Snag]:
    """Spreads at random in which at most one clip can ever come."""
    found = []
    for spread in puppet.spreads:
        if not spread.random or len(spread.clips) < 2:
            continue
        heavy = [each for each in spread.clips if each.place and each.place[0] * 1000 >= 0.5]
        if not heavy:
            found.append(Snag(
                "warning", "spread", spread.id, spread.name,
                "all of its clips weigh 0: the first one is always played",
                "give those that are to come a weight above 0"))
        elif len(heavy) == 1:
            found.append(Snag(
                "warning", "spread", spread.id, spread.name,
                "only one of its clips weighs more than 0: no other ever comes",
                "give those that are to come a weight above 0, or take them out"))
    return found
