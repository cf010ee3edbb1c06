"""When the frames of a clip begin and end, added up once for the clip as it is."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Iterable
from itertools import accumulate
from typing import Protocol

from .basics.base import tidy


class Lasting(Protocol):
    """A frame, of which only how long it lasts matters here, in milliseconds."""

    @property
    def duration(self) -> float:
        """How long it lasts."""


FEW = 16
"""Frames that are added up faster than they are looked up."""
MOST_KEPT = 64
_kept: OrderedDict[int, tuple[tuple[Lasting, ...], tuple[float, ...]]] = OrderedDict()
"""By the identity of the frames, which are held with them so that no others can take their
place."""


def borders_of(frames: tuple[Lasting, ...]) -> tuple[float, ...]:
    """When each frame starts, in milliseconds, and when the last one ends. In thousandths, as times
    of events are: the noise of a sum puts no event into another frame."""
    if len(frames) <= FEW:
        return _added(frames)
    found = _kept.get(id(frames))
    if found is not None and found[0] is frames:
        return found[1]
    added = _added(frames)
    _kept[id(frames)] = (frames, added)
    while len(_kept) > MOST_KEPT:
        _kept.popitem(last=False)
    return added


def _added(frames: Iterable[Lasting]) -> tuple[float, ...]:
    return tuple(map(tidy, accumulate((frame.duration for frame in frames), initial=0.0)))
