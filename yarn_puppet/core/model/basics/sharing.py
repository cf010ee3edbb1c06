"""A whole number shared out by parts, with nothing lost and nobody left with too little."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import accumulate, pairwise


def shared_out(parts: Sequence[int], whole: int, least: int) -> list[int]:
    """Whole numbers that keep the shares of `parts`, all above zero, and add up to `whole`.

    None is under `least`: those that would be have that, and the others share the rest. Where the
    whole has not room for it, each has the least.
    """
    left, rest = max(whole, least * len(parts)), sum(parts)
    found = [least] * len(parts)
    order = sorted(range(len(parts)), key=lambda index: parts[index])
    short = 0
    while short < len(order) and parts[order[short]] * left < least * rest:
        # The smallest of all that are left would have too little: it has the least, and counts no
        # more.
        rest -= parts[order[short]]
        left -= least
        short += 1
    free = sorted(order[short:])
    if free:
        # Borders are rounded, not shares, so that what is rounded off is spread and the sum stays.
        # Rounded down: the difference of two is then never below the least.
        borders = [sum_so_far * left // rest
                   for sum_so_far in accumulate((parts[each] for each in free), initial=0)]
        for index, (start, end) in zip(free, pairwise(borders), strict=True):
            found[index] = end - start
    return found
