"""What the hands of an opponent do: an intent held, or one intent after the other as dice have it.
Both are controls like those of a take."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

from ..engine.compiling.puppets import compile_puppet
from ..engine.plain.dice import seeded, thrown
from ..engine.program import Program, ProgramIntent
from ..model.basics.values import ticks_of
from ..model.puppet import Puppet
from ..model.world import LONGEST_REPLAY
from ..pose.frame_data.quickest import gesture_of

Hands = tuple[tuple[int, str, Literal[0, 1]], ...]
"""(tick, action id, 1 or 0), in the order of the ticks."""


def held(puppet: Puppet, intent: str) -> tuple[Hands, int]:
    """The hands that make an intent and keep down what it ends with, and for how many ticks: as
    long as an opponent can replay. Nothing for an intent that is not there."""
    program = compile_puppet(puppet)
    found = _intents(program, [intent])
    if not found:
        return (), 0
    down = _kept(found[0])
    rows = [(at, action, int(goes)) for at, action, goes in gesture_of(found[0]).edges
            if goes or action not in down]
    return _named(program, rows), LONGEST_REPLAY


def mixed(
    puppet: Puppet, intents: Sequence[str], every: float, seed: int, seconds: float
) -> tuple[Hands, int]:
    """The hands that make one of some intents every so many seconds, as dice of a seed have it, and
    for how many ticks. What an intent ends with is kept down for half the time to the next."""
    program = compile_puppet(puppet)
    found = _intents(program, intents)
    long = min(LONGEST_REPLAY, ticks_of(1, seconds, puppet.rate))
    if not found:
        return (), 0
    beat, dice, rows = max(2, ticks_of(1, every, puppet.rate)), seeded(seed), list[
        tuple[int, int, int]]()
    free = 0
    for start in range(0, long, beat):
        dice = thrown(dice)
        gesture = gesture_of(found[dice % len(found)])
        start = max(start, free)
        down: set[int] = set()
        for at, action, goes in gesture.edges:
            rows.append((start + at, action, int(goes)))
            down = down | {action} if goes else down - {action}
        # A gesture that takes longer than a beat is let end.
        up = start + max(max((at for at, _, _ in gesture.edges), default=0) + 1, gesture.arms + 1,
                         beat // 2)
        rows += [(up, action, 0) for action in sorted(down)]
        free = up + 1
    return _named(program, [row for row in rows if row[0] < long]), long


def _intents(program: Program, ids: Sequence[str]) -> list[ProgramIntent]:
    return [intent for intent in program.intents if intent.id in ids]


def _kept(intent: ProgramIntent) -> set[int]:
    """The actions that are down when an intent is made, or that made it."""
    down: set[int] = set()
    for _, action, goes in gesture_of(intent).edges:
        down = down | {action} if goes else down - {action}
    return down or set(intent.touches)


def _named(program: Program, rows: list[tuple[int, int, int]]) -> Hands:
    return tuple([(at, program.actions[action], 1 if goes else 0) for at, action, goes in sorted(
        rows, key=lambda row: row[0])])
