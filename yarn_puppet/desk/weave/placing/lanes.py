"""Lanes: the level stretches of threads in one channel, so put that no two lie on each other."""

from __future__ import annotations

from heapq import heappop, heappush
from typing import NamedTuple

MOST_SORTED = 60
"""Level stretches of one channel up to which the short ones are put first."""


class Run(NamedTuple):
    """A level stretch in a channel, before it has a lane."""

    channel: int
    left: float
    right: float
    target: str


def packed(runs: list[Run]) -> list[list[Run]]:
    """Level stretches in lanes, those of a lane from the left with room between; what leads to one
    card lies together."""
    lanes: list[list[Run]] = []
    # Short stretches lie nearest to the cards they come from, so that fewer threads cross.
    if len(runs) <= MOST_SORTED:
        for run in sorted(runs, key=lambda each: (each.right - each.left, each)):
            lane = next((lane for lane in lanes if all(_apart(run, each) for each in lane)), None)
            if lane is None:
                lanes.append([run])
            else:
                lane.append(run)
        return lanes
    # Of very many, from the left, each in the lane that was free first.
    ends: list[tuple[float, int]] = []
    for run in sorted(runs, key=lambda each: (each.left, each)):
        if ends and ends[0][0] < run.left - 3:
            number = heappop(ends)[1]
            lanes[number].append(run)
        else:
            number = len(lanes)
            lanes.append([run])
        heappush(ends, (run.right, number))
    return lanes


def _apart(one: Run, other: Run) -> bool:
    return one.target == other.target or one.right < other.left - 3 or other.right < one.left - 3
