"""Dummies that replay a take of their own: they are the puppet once more, and hit, guard and are
safe as it is.

What such a dummy does is run alone in the booth, as far as the run has come; while a blow keeps it
reeling it stands still in it.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from threading import Lock
from typing import NamedTuple, overload

from ...engine.state import Report


class ReplayedTick(NamedTuple):
    """A tick of what a dummy replays: how far it is from its place, in pixels, y downwards, and its
    report."""

    across: float
    down: float
    report: Report

    @property
    def side(self) -> int:
        """The side it faces, -1 or 1."""
        return -1 if self.report.facing.endswith("left") else 1


class Track(Sequence[ReplayedTick]):
    """All ticks of what a dummy replays; none for one that does not.

    A value like a tuple, of which each tick is run when one as late as it is first asked for: a
    take of minutes that a dummy replays would otherwise be run whole at every edit. Threads that
    run the same setup may ask at once.
    """

    def __init__(self, long: int, ticks: Iterator[ReplayedTick]) -> None:
        """`ticks` gives `long` ticks."""
        self._long, self._ticks = long, ticks
        self._known: list[ReplayedTick] = []
        self._running = Lock()

    def __len__(self) -> int:
        return self._long

    @overload
    def __getitem__(self, index: int) -> ReplayedTick: ...
    @overload
    def __getitem__(self, index: slice) -> list[ReplayedTick]: ...
    def __getitem__(self, index: int | slice) -> ReplayedTick | list[ReplayedTick]:
        if isinstance(index, slice):
            return [self[each] for each in range(*index.indices(self._long))]
        at = range(self._long)[index]
        if at >= len(self._known):
            with self._running:
                while at >= len(self._known):
                    self._known.append(next(self._ticks))
        return self._known[at]


NO_TRACK = Track(0, iter(()))
NO_TRACKS: tuple[Track, ...] = ()


Met = tuple[int, str, int, int, str, int]
"""(round, layer, visit, pass, window's name and number) of a blow that met: a window strikes once
in a pass."""
NOTHING_MET: frozenset[Met] = frozenset()


def played_at(tracks: tuple[Track, ...], index: int, clock: int) -> ReplayedTick | None:
    """What a dummy replays after so many ticks, round and round; None for one that replays
    nothing."""
    track = tracks[index] if index < len(tracks) else NO_TRACK
    return track[clock % len(track)] if track else None


def defence(played: ReplayedTick | None, side: int) -> str:
    """How a replaying dummy takes a hit that comes from a side: "safe", "guarded" or "hurt"."""
    if played is None:
        return "hurt"
    if played.report.safe:
        return "safe"
    guards = any(window.window.kind == "guard" for window in played.report.windows)
    return "guarded" if guards and played.side == -side else "hurt"


def still_met(met: frozenset[Met], played: ReplayedTick, clock: int, long: int) -> frozenset[Met]:
    """Of the blows that met those that could still be struck again: of this round, the present
    visits, and of them the present pass and the one before."""
    if not met:
        return met
    layers = {layer.layer: layer for layer in played.report.layers}
    left = [
        each for each in met
        if each[0] == clock // max(1, long) and each[1] in layers
        and each[2] == layers[each[1]].visit
        and each[3] >= layers[each[1]].cycle - 1
    ]
    return met if len(left) == len(met) else frozenset(left)

