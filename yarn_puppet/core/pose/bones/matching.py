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


class TakingOver:
    """Takes poses of their skeleton over on ours, which may rest otherwise and have other
    proportions; `bones` gives by a bone of theirs the one of ours.

    Each bone that is matched turns in the world from how it rests as theirs turns from how that
    rests. The topmost one of ours that is matched moves from where it rests as theirs does, by the
    ratio of how high both stand. All else is as ours rests.
    """

    def __init__(self, theirs: Skeleton, ours: Skeleton, bones: Mapping[int, int]) -> None:
        self._theirs, self._ours = theirs, ours
        source = {our: their for their, our in bones.items()}
        self._own = np.array(sorted(source), np.int64)
        self._their = np.array([source[our] for our in sorted(source)], np.int64)
        self._rest, self._own_rest = (in_world(each, rest_pose(each)) for each in (theirs, ours))
        self._from_rest = inverse(self._rest.turns[:, self._their])
        self._alone = [bone for bone in range(len(ours.names)) if bone not in source]

    def on_ours(self, pose: LocalPose) -> LocalPose:
        """A pose (times, their bones, …) as one of ours."""
        ours, times = self._ours, len(pose.places)
        world, made = in_world(self._theirs, pose), rest_pose(ours, times)
        if not len(self._own):
            return made
        turns = np.empty((times, len(ours.names), 4))
        gone = product(world.turns[:, self._their], self._from_rest)
        turns[:, self._own] = product(gone, self._own_rest.turns[:, self._own])
        for bone in self._alone:
            parent = ours.parents[bone]
            above = ours.base_turns[bone] if parent < 0 else turns[:, parent]
            turns[:, bone] = product(above, made.turns[:, bone])
        parents = np.array(ours.parents)[self._own]
        above = np.where((parents < 0)[:, None], ours.base_turns[self._own], turns[:, parents])
        made.turns[:, self._own] = product(inverse(above), turns[:, self._own])
        root, their = int(self._own[0]), int(self._their[0])
        moved = world.places[:, their] - self._rest.places[:, their]
        made.places[:, root] += _into_parent(
            moved * _ratio(self._rest, their, self._own_rest, root), ours, self._own_rest, root)
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
