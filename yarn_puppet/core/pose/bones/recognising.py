"""How another file of bones rests otherwise than ours: another axis is up, it looks another way, or
its limbs point otherwise. docs/poses.md 10."""

from __future__ import annotations

from itertools import product as every
from typing import TYPE_CHECKING, NamedTuple

import numpy as np
from msgspec.structs import replace

from ...model.bones import BoneArt, Skeleton
from ...model.motions import BoneSetting
from .limb_ways import limb_ways
from .matching import BoneMatch
from .sampling import rest_pose
from .set_right import UPRIGHT, set_right
from .world_pose import in_world

if TYPE_CHECKING:
    from ...model.bones import Floats

OTHERWISE = 20.0
"""Degrees by which a limb rests otherwise that is told of."""
BETTER = 0.3
"""How much nearer limbs must point on average, as cosines, for another way up or round to be told
of."""
FLAT = 0.35
"""A body is taken to lie that is less high than this share of how long it is along z."""


class RestsOtherwise(NamedTuple):
    """How a file rests otherwise: what would set it right as a whole, and by how many degrees limbs
    differ after that, by the names of their bones, most first."""

    setting: BoneSetting
    limbs: dict[str, float]


def unlike(art: BoneArt, setting: BoneSetting, ours: Skeleton, match: BoneMatch) -> RestsOtherwise:
    """How a file whose bones are matched so rests otherwise than ours; `setting` is how it is
    meant now, and the one found where nothing else is better."""
    ways = {each: _ways(art, each, ours, match) for each in (
        setting, *[replace(setting, up=up, turned=turned)
                   for up, turned in every(UPRIGHT, (0.0, 90.0, 180.0, 270.0))])}
    best = max(ways, key=lambda each: _likeness(ways[each]))
    if _likeness(ways[best]) < _likeness(ways[setting]) + BETTER:
        best = setting
    degrees = {ours.names[our]: float(np.degrees(np.arccos(np.clip(there @ here, -1, 1))))
               for our, (there, here) in ways[best].items()}
    return RestsOtherwise(best, {bone: degrees[bone] for bone in sorted(degrees, key=lambda each:
                                                                -degrees[each])
                         if degrees[bone] > OTHERWISE})


def _ways(
    art: BoneArt, setting: BoneSetting, ours: Skeleton, match: BoneMatch
) -> dict[int, tuple[Floats, Floats]]:
    """Of each limb which way it points at rest, theirs and ours, as units."""
    theirs = set_right(art, setting).skeleton
    rest, own_rest = (in_world(each, rest_pose(each)) for each in (theirs, ours))
    found = {}
    for bone, pair in limb_ways(rest, own_rest, theirs, ours, match.ours).items():
        lengths = [float(np.linalg.norm(way)) for way in pair]
        if min(lengths) > 0:
            found[bone] = pair[0] / lengths[0], pair[1] / lengths[1]
    return found


def _likeness(ways: dict[int, tuple[Floats, Floats]]) -> float:
    return float(np.mean([there @ here for there, here in ways.values()])) if ways else 0.0


def up_at_rest(art: BoneArt) -> BoneSetting:
    """Which axis of a file that does not say is up: z where it would lie flat otherwise."""
    skeleton = art.skeleton
    wide, high, long = np.ptp(in_world(skeleton, rest_pose(skeleton)).places[0], axis=0)
    return BoneSetting(up="z") if high < FLAT * long and wide <= 2 * long else BoneSetting()
