"""Clips of one skeleton on another: which bone is which. docs/poses.md 10."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Mapping, Sequence
from typing import NamedTuple

from ...model.bones import Skeleton
from .kinds import bones_by_kind

SAME = re.compile(r"[\W_]+")
"""What is neither letter nor digit, in any script."""


class BoneMatch(NamedTuple):
    """Which bone of ours each of theirs is, by their places, and the names of theirs that are none
    of ours. `prefix` is what stood before theirs."""

    ours: dict[int, int]
    lost: tuple[str, ...]
    prefix: str


def matched(
    theirs: Skeleton, ours: Skeleton, by_hand: Mapping[str, str | None] | None = None
) -> BoneMatch:
    """Which bone is which: by hand and by their names, and those that are left by their sides and
    kinds (`kinds.py`)."""
    found = by_names(theirs.names, ours.names, by_hand)
    settled, pairs = by_hand or {}, dict(found.ours)
    taken = set(pairs.values())
    own = bones_by_kind(ours)
    for kind, bones in bones_by_kind(theirs).items():
        same = own.get(kind, ())
        named = [their for their in bones if pairs.get(their) in same]
        if max(len(bones), len(same)) > 1 and len(named) < min(len(bones), len(same)):
            # A chest that is the first of two is no chest that is the last: names tell of all of a
            # chain, or of none.
            for their in named:
                if theirs.names[their] not in settled:
                    taken.discard(pairs.pop(their))
        for their, our in _in_order(bones, same):
            if their not in pairs and our not in taken and theirs.names[their] not in settled:
                pairs[their] = our
                taken.add(our)
    lost = tuple([name for number, name in enumerate(theirs.names) if number not in pairs])
    return BoneMatch(pairs, lost, found.prefix)


def _in_order(theirs: Sequence[int], ours: Sequence[int]) -> list[tuple[int, int]]:
    """Bones of one kind down a chain: the first is the first, the last the last, and those between
    are shared out evenly."""
    if not theirs or not ours:
        return []
    if len(theirs) < len(ours):
        return [(their, our) for our, their in _in_order(ours, theirs)]
    steps = max(1, len(ours) - 1)
    return [(theirs[round(number * (len(theirs) - 1) / steps)], our)
            for number, our in enumerate(ours)]


def by_names(
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
