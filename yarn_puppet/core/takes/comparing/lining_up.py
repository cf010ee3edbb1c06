"""What happened in two runs lined up: states entered and hits landed, which came earlier, later, or
in one run only."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Sequence
from itertools import zip_longest
from typing import NamedTuple

from ..columns import Columns
from ..records import Records
from ..run import Record, Setup
from .matching import Matching

Occurrence = tuple[str, str]
"""What happened: its kind ("state" or "hit"), and what it is called."""


class Moved(NamedTuple):
    """Something that happens in a run: when it did, and when it does now; None where it does
    not."""

    what: Occurrence
    before: int | None
    after: int | None

    @property
    def words(self) -> str:
        """It, as a sentence."""
        kind, name = self.what
        does = f"{name} is entered" if kind == "state" else f"hit on {name}"
        if self.before is None:
            return (
                f"{name} is entered now, at {self.after}"
                if kind == "state"
                else f"{does} gained, at {self.after}"
            )
        if self.after is None:
            lost = f"{name} is no longer entered" if kind == "state" else f"{does} lost"
            return f"{lost}, it was at {self.before}"
        by = self.after - self.before
        ticks = f"{abs(by)} tick{'s' * (abs(by) != 1)}"
        return f"{does} {ticks} {'later' if by > 0 else 'earlier'}, at {self.after}"


def occurrences(
    run: Sequence[Record], matching: Matching | None = None
) -> list[tuple[Occurrence, int]]:
    """States entered, but for the one each layer starts in, and hits landed, each with its tick.

    With a matching states are called as the other puppet calls them, so that one that was renamed
    is the same. Those of upper layers are told with their layer's name.
    """
    if not run:
        return []
    if isinstance(run, Records):
        columns = run.columns
    else:
        columns = Columns()
        for record in run:
            columns.append(record)
    setup = run[-1].setup
    names = _called(setup, matching)
    found: list[tuple[Occurrence, int]] = [(("hit", name), tick) for tick, name in columns.hits]
    for layer in setup.program.layers:
        found += [(("state", names.get(state.key, state.key)), state.first)
                  for state in columns.states.get(layer.id, [])[1:]]
    return sorted(found, key=lambda each: each[1])


def _called(setup: Setup, matching: Matching | None) -> dict[str, str]:
    """What each state is called, by its id: no two of one puppet alike."""
    program = setup.program
    own = {state.id: (state.name, state.layer) for state in program.states}
    layers = [layer.name for layer in program.layers]
    if matching is not None:
        other = matching.after.program
        theirs = {state.id: (state.name, state.layer) for state in other.states}
        own = {id: theirs.get(matching.id("node", id), called) for id, called in own.items()}
        layers = [layer.name for layer in other.layers] or layers
    found = {id: f"{layers[layer]} · {name}" if 0 < layer < len(layers) else name
             for id, (name, layer) in own.items()}
    alike = Counter(found.values())
    return {id: name if alike[name] == 1
            else f"{name} ({matching.id('node', id) if matching else id})"
            for id, name in found.items()}


def moved(
    before: list[tuple[Occurrence, int]], after: list[tuple[Occurrence, int]]
) -> Iterator[Moved]:
    """What happens earlier, later, no more or for the first time; what stayed is left out.

    The first of a kind is compared with the first, and so on; of more on one side, those nearest in
    time are paired, in order, with the least sum of moves (a lined-up pair list, by dynamic
    programming).
    """
    kinds = dict.fromkeys([what for what, _ in [*before, *after]])
    found: list[Moved] = []
    for kind in kinds:
        one = [tick for what, tick in before if what == kind]
        other = [tick for what, tick in after if what == kind]
        found += [Moved(kind, *pair) for pair in paired(one, other) if pair[0] != pair[1]]
    return iter(sorted(found,
                       key=lambda each: each.after if each.after is not None else each.before or 0))


MOST_LINED_UP = 400
"""Occurrences of one thing that are lined up at the least cost; of more the first is paired with
the first."""


def paired(one: list[int], other: list[int]) -> list[tuple[int | None, int | None]]:
    """Two rising lists of ticks lined up: every tick of the shorter has a partner, in order, with
    the least sum of distances."""
    if len(one) > len(other):
        return [(old, new) for new, old in paired(other, one)]
    if len(one) == len(other) or len(other) > MOST_LINED_UP:
        return list(zip_longest(one, other))
    # cost[j] is the least for those of `one` so far, the last of them paired among the first j of
    # `other`.
    rows: list[list[float]] = [[0.0] * (len(other) + 1)]
    for number, tick in enumerate(one):
        row = [float("inf")] * (len(other) + 1)
        for place in range(number + 1, len(other) + 1):
            row[place] = min(row[place - 1], rows[-1][place - 1] + abs(tick - other[place - 1]))
        rows.append(row)
    pairs: list[tuple[int | None, int | None]] = []
    left = len(one)
    for place in range(len(other), 0, -1):
        if left and rows[left][place] != rows[left][place - 1]:
            left -= 1
            pairs.append((one[left], other[place - 1]))
        else:
            pairs.append((None, other[place - 1]))
    return pairs[::-1]
