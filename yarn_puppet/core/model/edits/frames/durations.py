"""How long frames last: one, some, or all of a clip as a share of its length."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import accumulate, pairwise

from .hung import LEAST_DURATION, STEPS, steps


def shared_out(durations: Sequence[float], length: float) -> list[float]:
    """Durations, milliseconds, that keep their shares and add up to a length to the step.

    None is under a millisecond: those that would be have one, and the others share the rest. Where the length has not
    room for that, each has a millisecond.
    """
    if not durations:
        return []
    least = steps(LEAST_DURATION)
    old, left = [steps(each) for each in durations], max(steps(length), least * len(durations))
    found = [least] * len(old)
    order, rest = sorted(range(len(old)), key=lambda index: old[index]), sum(old)
    short = 0
    while short < len(order) and old[order[short]] * left < least * rest:
        # The shortest of all that are left would be too short: it has its millisecond, and counts no more.
        rest -= old[order[short]]
        left -= least
        short += 1
    free = sorted(order[short:])
    # Borders are rounded, not durations, so that what is rounded off is spread and the sum stays. Rounded down: the
    # difference of two is then never below a millisecond.
    borders = [whole * left // rest for whole in accumulate((old[index] for index in free), initial=0)]
    for index, (start, end) in zip(free, pairwise(borders), strict=True):
        found[index] = end - start
    return [each / STEPS for each in found]
