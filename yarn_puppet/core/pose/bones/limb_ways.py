"""Which way limbs point at rest, on two skeletons of which it is known which bone is which."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING

import numpy as np

from ...model.bones import Skeleton
from .turns import product, rotated, turn_between
from .world_pose import WorldPose

if TYPE_CHECKING:
    from ...model.bones import Floats


def limb_ways(
    rest: WorldPose, own_rest: WorldPose, theirs: Skeleton, ours: Skeleton,
    bones: Mapping[int, int],
) -> dict[int, tuple[Floats, Floats]]:
    """By a bone of ours the way (3,) in which its limb points at rest on theirs, and on ours: to
    the only matched bone under it, or else to its tip. None where limbs fork."""
    source = {our: their for their, our in bones.items()}
    above = {our: matched_above(ours, our, source) for our in source}
    found: dict[int, tuple[Floats, Floats]] = {}
    for our, their in source.items():
        under = [each for each, parent in above.items() if parent == our]
        if len(under) == 1:
            found[our] = (rest.places[0, source[under[0]]] - rest.places[0, their],
                          own_rest.places[0, under[0]] - own_rest.places[0, our])
        elif not under and our in ours.tips and their in theirs.tips:
            found[our] = (rest.matrices[0, their, :3, :3] @ theirs.tips[their],
                          own_rest.matrices[0, our, :3, :3] @ ours.tips[our])
    return found


def matched_above(ours: Skeleton, bone: int, matched: Mapping[int, int]) -> int:
    """The next bone above one that is matched, -1 for none."""
    parent = ours.parents[bone]
    while parent >= 0 and parent not in matched:
        parent = ours.parents[parent]
    return parent


def limb_turns(
    rest: WorldPose, own_rest: WorldPose, theirs: Skeleton, ours: Skeleton,
    bones: Mapping[int, int],
) -> Floats:
    """For each matched bone of ours, in their order, the turn in the world after which its limb
    points as theirs does at rest. Limbs that fork, and ends, go along with what they hang on."""
    ways = limb_ways(rest, own_rest, theirs, ours, bones)
    source = {our: their for their, our in bones.items()}
    found: dict[int, Floats] = {}
    for our in sorted(source):
        along = found.get(matched_above(ours, our, source), np.array((0.0, 0.0, 0.0, 1.0)))
        if our in ways:
            there, here = ways[our]
            along = product(turn_between(rotated(along, here), there), along)
        found[our] = along
    return np.array([found[our] for our in sorted(source)])
