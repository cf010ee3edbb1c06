"""A file of bones as its puppet says it is meant: its unit, which way is up, and where it looks."""

from __future__ import annotations

from collections import OrderedDict
from math import radians

import numpy as np

from ...model.bones import BoneArt, Skeleton
from ...model.motions import BoneSetting
from .turns import matrices, product, turned_by

UPRIGHT = {"y": (0.0, 0.0, 0.0), "z": (-90.0, 0.0, 0.0), "x": (0.0, 0.0, 90.0)}
"""By the axis that is up in a file, the turn that makes it y: about which axes, in degrees."""
MOST_KEPT = 16
_kept: OrderedDict[tuple[int, BoneSetting], tuple[BoneArt, BoneArt]] = OrderedDict()
"""By the identity of what was read, which is held with it."""


def set_right(art: BoneArt, setting: BoneSetting) -> BoneArt:
    """The same art, larger and turned as a whole; the same value where nothing is set."""
    if (setting.scale, setting.up, setting.turned) == (1.0, "y", 0.0):
        return art
    known = _kept.get((id(art), setting))
    if known is None or known[0] is not art:
        known = _kept[id(art), setting] = art, art._replace(skeleton=_turned(art, setting))
        while len(_kept) > MOST_KEPT:
            _kept.popitem(last=False)
    return known[1]


def _turned(art: BoneArt, setting: BoneSetting) -> Skeleton:
    upright = turned_by(np.radians(np.array(UPRIGHT[setting.up])))
    round_up = turned_by(np.array((0.0, radians(setting.turned), 0.0)))
    turn = product(round_up, upright)
    whole = np.eye(4)
    whole[:3, :3] = matrices(turn) * setting.scale
    skeleton = art.skeleton
    top = np.array(skeleton.parents) < 0
    bases, turns = skeleton.bases.copy(), skeleton.base_turns.copy()
    bases[top] = whole @ bases[top]
    turns[top] = product(turn, turns[top])
    return skeleton._replace(bases=bases, base_turns=turns)
