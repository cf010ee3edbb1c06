"""Names of bones and clips as files have them."""

from __future__ import annotations

from collections.abc import Sequence

from ...model.basics.base import LONGEST_NAME


def each_once(names: Sequence[str]) -> tuple[str, ...]:
    """The same names, none of them twice: equal ones get a number, and none is too long."""
    taken: set[str] = set()
    counts: dict[str, int] = {}
    found: list[str] = []
    for name in names:
        short = name[:LONGEST_NAME - 8]
        shown, number = short, counts.get(short, 1)
        while shown in taken:
            number += 1
            shown = f"{short} {number}"
        counts[short] = number
        taken.add(shown)
        found.append(shown)
    return tuple(found)
