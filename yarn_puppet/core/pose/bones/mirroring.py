"""Left for right: which bone is the other side's, by its name, and how it turns in a mirror."""

from __future__ import annotations

import re
from collections.abc import Collection, Mapping
from typing import TYPE_CHECKING

import numpy as np

from ...model.bones import Skeleton
from ...model.motions import Vector
from .sampling import rest_pose
from .world_pose import in_world

if TYPE_CHECKING:
    from ...model.bones import Floats

SIDES = (("left", "right"), ("Left", "Right"), ("LEFT", "RIGHT"), ("L", "R"), ("l", "r"))
"""The words by which names of bones tell the sides, longer ones first."""
LETTER = r"(?<![^\W\d_]){}(?![^\W\d_])"
"""A letter by itself: no other letter beside it."""


def mirror_name(name: str, names: Collection[str]) -> str:
    """The bone of the other side by its name, where there is one: "hand.L" is "hand.R" there.
    Itself otherwise."""
    for left, right in SIDES:
        for one, other in ((left, right), (right, left)):
            found = re.sub(LETTER.format(one) if len(one) == 1 else one, other, name)
            if found != name and found in names:
                return found
    return name


def mirrored_turns(skeleton: Skeleton, turns: Mapping[str, Vector]) -> dict[str, Vector]:
    """Turns of ours (axis × degrees, in each bone's own axes) as the other side makes them, by the
    bone that makes them then.

    What is mirrored is the turn in the world at rest: on a skeleton that rests the same on both
    sides the pose is then as in a mirror, whichever way its bones' own axes lie.
    """
    names = set(skeleton.names)
    rest = in_world(skeleton, rest_pose(skeleton))
    axes = _unit_columns(rest.matrices[0, :, :3, :3])
    across = _across(skeleton, rest.places[0], names)
    numbers = {name: number for number, name in enumerate(skeleton.names)}
    found: dict[str, Vector] = {}
    for bone, turn in turns.items():
        if bone not in numbers:
            continue
        other = mirror_name(bone, names)
        in_the_world = axes[numbers[bone]] @ np.array(turn)
        # An axis of turning is no arrow: in a mirror what lies across stays, the rest goes round.
        mirrored = 2 * across * (across @ in_the_world) - in_the_world
        x, y, z = [round(float(each), 6) + 0.0
                   for each in axes[numbers[other]].T @ mirrored]
        found[other] = (x, y, z)
    return found


def _across(skeleton: Skeleton, places: Floats, names: set[str]) -> Floats:
    """The direction from one side to the other: that in which bones lie from those of the other
    side; x where there are none."""
    total = np.zeros((3, 3))
    numbers = {name: number for number, name in enumerate(skeleton.names)}
    for name in skeleton.names:
        other = mirror_name(name, names)
        if other != name:
            apart = places[numbers[other]] - places[numbers[name]]
            total += np.outer(apart, apart)
    if not total.any():
        return np.array([1.0, 0.0, 0.0])
    values, vectors = np.linalg.eigh(total)
    found: Floats = vectors[:, int(np.argmax(values))]
    return found


def _unit_columns(matrices: Floats) -> Floats:
    lengths = np.linalg.norm(matrices, axis=1, keepdims=True)
    found: Floats = matrices / np.maximum(lengths, 1e-12)
    return found
