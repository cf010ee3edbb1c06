"""Dummies that replay a take of their own: they are the puppet once more, and hit, guard and are
safe as it is.

What such a dummy does was run beforehand, alone in the booth; while a blow keeps it reeling it
stands still in it.
"""

from __future__ import annotations

from typing import NamedTuple

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


Track = tuple[ReplayedTick, ...]
"""All ticks of what a dummy replays; empty for one that does not."""
NO_TRACKS: tuple[Track, ...] = ()


Met = tuple[int, str, int, int, str, int]
"""(round, layer, visit, pass, window's name and number) of a blow that met: a window strikes once
in a pass."""
NOTHING_MET: frozenset[Met] = frozenset()


def played_at(tracks: tuple[Track, ...], index: int, clock: int) -> ReplayedTick | None:
    """What a dummy replays after so many ticks, round and round; None for one that replays
    nothing."""
    track = tracks[index] if index < len(tracks) else ()
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

