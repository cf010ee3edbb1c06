"""Clips and sounds at random that are not: weights by which nothing can be picked."""

from __future__ import annotations

from ..engine.program import Program
from ..model.kinds.moments import MOMENTS
from ..model.puppet import Puppet
from .snag import Snag


def weights_that_pick_nothing(puppet: Puppet, program: Program) -> list[Snag]:
    """Spreads at random in which at most one clip can ever come, and sounds likewise."""
    found = _sounds(puppet)
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


def _sounds(puppet: Puppet) -> list[Snag]:
    found = []
    for clip in puppet.clips:
        for moment in clip.moments:
            if not MOMENTS[moment.kind].is_heard or not moment.heard.others:
                continue
            weights = (moment.heard.weight, *[each.weight for each in moment.heard.others])
            heavy = sum(weight * 1000 >= 0.5 for weight in weights)
            if heavy < 2:
                found.append(Snag(
                    "warning", "clip", clip.id, clip.name,
                    f"all sounds of its moment {moment.name} weigh 0: the first is always heard"
                    if not heavy else
                    f"only one sound of its moment {moment.name} weighs more than 0: no other is "
                    "ever heard",
                    "give those that are to be heard a weight above 0, or take them out"))
    return found
