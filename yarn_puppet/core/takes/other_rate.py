"""A take as the same hands play it at another rate. docs/takes.md."""

from __future__ import annotations

from collections.abc import Iterable
from math import ceil
from typing import Any

from msgspec.structs import replace

from ..model.take import Take


def at_rate(take: Take, rate: int) -> Take:
    """A take at another rate: what changed at a time changes in the first tick from then on.

    No press is lost, however short: each change of an action is a tick at least after the one
    before it, so that a press is down for one whole tick, and between two presses one tick is up.
    The take is longer where that goes past its end. The same holds for a stop that a game told.
    """
    if rate == take.rate:
        return take

    def moved(tick: int) -> int:
        return ceil(tick * rate / take.rate)

    controls = _apart(take.controls, moved)
    stopped = [(tick, value)
               for tick, _, value in _apart(((tick, "", value) for tick, value in take.stopped),
                                            moved)]
    last = max([*[tick for tick, _, _ in controls], *[tick for tick, _ in stopped]], default=-1)
    ticks = max(moved(take.ticks), last + 1)
    return replace(
        take, rate=rate, ticks=ticks, first=moved(take.first), controls=tuple(controls),
        senses=tuple([(moved(tick), *rest) for tick, *rest in take.senses]),
        axes=tuple([(moved(tick), *rest) for tick, *rest in take.axes]),
        landed=tuple([(moved(tick), *rest) for tick, *rest in take.landed]), stopped=tuple(stopped),
        places=tuple([(moved(tick), *rest) for tick, *rest in take.places]),
    )


def _apart(changes: Iterable[tuple[int, str, Any]], moved: Any) -> list[tuple[int, str, Any]]:
    """Changes of levels at another rate, those of one thing each in a tick of its own and in their
    order."""
    last: dict[str, int] = {}
    level: dict[str, Any] = {}
    found = []
    for tick, id, value in sorted(changes, key=lambda change: change[0]):
        if level.get(id, 0) == value:
            continue
        at = max(moved(tick), last.get(id, -1) + 1)
        last[id], level[id] = at, value
        found.append((at, id, value))
    return sorted(found, key=lambda change: change[0])
