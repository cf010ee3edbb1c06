"""How far the sequences of presses have come. Step 1.3 of section 6 of docs/semantics.md."""

from __future__ import annotations

from collections.abc import Collection

from ..program import Program, ProgramIntent
from ..program_clips import TICK

Reached = tuple[int, ...]
"""For a sequence, the tick in which its first k + 1 steps began, the latest that will do, for each
k; -1 for none."""


def no_steps(program: Program) -> tuple[Reached, ...]:
    """All sequences before any press."""
    return tuple([(-1,) * (len(intent.steps) - 1) for intent in program.intents if intent.steps])


def sequences_advanced(
    program: Program, tick: int, before: tuple[Reached, ...], begun: Collection[int]
) -> tuple[tuple[Reached, ...], frozenset[int]]:
    """How far each has come after the presses that began in this tick, and which intents are
    thereby completed."""
    if not before or not begun:
        return before, frozenset()
    after, completed = [], set()
    for index, intent in enumerate(program.intents):
        if intent.steps:
            reached, whole = _advanced(intent, tick, before[intent.sequence], begun)
            after.append(reached)
            if whole:
                completed.add(index)
    return tuple(after), frozenset(completed)


def _advanced(
    intent: ProgramIntent, tick: int, before: Reached, begun: Collection[int]
) -> tuple[Reached, bool]:
    steps, after = intent.steps, list(before)
    start = -1
    for last in range(len(steps)):
        # Presses of one tick are in order whatever their order, but each is one step only.
        best = before[last] if last < len(before) else -1
        seen: set[int] = set()
        for first in range(last, -1, -1):
            action = steps[first]
            if action not in begun or action in seen:
                break
            seen.add(action)
            best = max(best, tick if first == 0 else before[first - 1])
        if last < len(before):
            after[last] = best
        else:
            start = best
    if start >= 0 and (tick - start) * TICK <= intent.threshold:
        return (-1,) * len(before), True
    return tuple(after), False
