"""Clips of one skeleton on another: which bone is which, and what becomes of a pose.
docs/poses.md 10."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Mapping, Sequence
from typing import TYPE_CHECKING, NamedTuple

import numpy as np

from ...model.bones import Skeleton
from .sampling import LocalPose, rest_pose
from .turns import inverse, product
from .world_pose import WorldPose, in_world

if TYPE_CHECKING:
    from ...model.bones import Floats

LEAST_HEIGHT = 1e-6
"""Metres: a root that is lower than this says nothing about how tall a skeleton is."""
SAME = re.compile(r"[\W_]+")
"""What is neither letter nor digit, in any script."""


class BoneMatch(NamedTuple):
    """Which bone of ours each of theirs is, by their places, and the names of theirs that are none
    of ours. `prefix` is what stood before theirs."""

    ours: dict[int, int]
    lost: tuple[str, ...]
    prefix: str


def matched(
    theirs: Sequence[str], ours: Sequence[str], by_hand: Mapping[str, str | None] | None = None
) -> BoneMatch:
    """Match bones by name. What was mapped by hand, their name to ours, goes first, and is left out
    where it was mapped to none; then names that are the same; then those that are the same but for
    a prefix, casing, and what is neither letter nor digit. A name that could be two of ours is
    none."""
    by_hand, prefix = by_hand or {}, _prefix(theirs, ours)
    place = {name: number for number, name in enumerate(ours)}
    plain = Counter(_plain(name) for name in ours)
    by_plain = {_plain(name): number for number, name in enumerate(ours)
                if plain[_plain(name)] == 1}
    found: dict[int, int] = {}
    taken: set[int] = set()
    # One way after the other for all names: none takes by a weaker one what is another's.
    for at_of in (lambda name: place.get(by_hand.get(name) or ""), place.get,
                  lambda name: place.get(name.removeprefix(prefix)),
                  lambda name: by_plain.get(_plain(name.removeprefix(prefix)))):
        for number, name in enumerate(theirs):
            left_out = by_hand.get(name, name) is None
            at = at_of(name) if number not in found and not left_out else None
            if at is not None and at not in taken:
                found[number] = at
                taken.add(at)
    lost = tuple([name for number, name in enumerate(theirs) if number not in found])
    return BoneMatch(found, lost, prefix)


def _plain(name: str) -> str:
    return SAME.sub("", name.casefold()) or name


def _prefix(theirs: Sequence[str], ours: Sequence[str]) -> str:
    """What most of their names begin with, up to a colon, bar or underline, and few of ours."""
    starts = Counter(found[0] for name in theirs if (found := re.match(r".*?[:|_]", name)))
    best = max(starts, key=lambda start: starts[start], default="")
    usual = sum(name.startswith(best) for name in ours)
    return best if best and 2 * starts[best] > len(theirs) and 2 * usual < len(ours) else ""


def taken_over(
    pose: LocalPose, theirs: Skeleton, ours: Skeleton, bones: Mapping[int, int]
) -> LocalPose:
    """A pose of their skeleton on ours, which may rest otherwise and have other proportions.

    Each bone that is matched turns in the world from how it rests as theirs turns from how that
    rests. The topmost one of ours that is matched moves from where it rests as theirs does, by the
    ratio of how high both stand. All else is as ours rests.
    """
    times = len(pose.places)
    world, rest = in_world(theirs, pose), in_world(theirs, rest_pose(theirs))
    own_rest = in_world(ours, rest_pose(ours))
    made = rest_pose(ours, times)
    turns = np.empty((times, len(ours.names), 4))
    source = {our: their for their, our in bones.items()}
    root = min(source, default=-1)
    for bone, parent in enumerate(ours.parents):
        above = (np.broadcast_to(ours.base_turns[bone], (times, 4)) if parent < 0
                 else turns[:, parent])
        if bone in source:
            their = source[bone]
            gone = product(world.turns[:, their], inverse(rest.turns[:, their]))
            turns[:, bone] = product(gone, own_rest.turns[:, bone])
            made.turns[:, bone] = product(inverse(above), turns[:, bone])
        else:
            turns[:, bone] = product(above, made.turns[:, bone])
        if bone == root:
            moved = world.places[:, source[bone]] - rest.places[:, source[bone]]
            made.places[:, bone] += _into_parent(
                moved * _ratio(rest, source[bone], own_rest, bone), ours, own_rest, bone)
    return made


def _ratio(rest: WorldPose, their: int, own_rest: WorldPose, our: int) -> float:
    """How much higher our root stands than theirs."""
    low = abs(float(rest.places[0, their, 1]))
    return abs(float(own_rest.places[0, our, 1])) / low if low > LEAST_HEIGHT else 1.0


def _into_parent(moved: Floats, ours: Skeleton, own_rest: WorldPose, bone: int) -> Floats:
    """A way in the world as one relative to the parent of our topmost bone, at rest."""
    parent = ours.parents[bone]
    above = ours.bases[bone] if parent < 0 else own_rest.matrices[0, parent]
    found: Floats = moved @ np.linalg.pinv(above[:3, :3]).T
    return found
