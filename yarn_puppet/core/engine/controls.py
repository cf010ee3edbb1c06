"""Step 1 of a tick: edges of the controls arm, age and expire intents. Section 6.1 of docs/semantics.md."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import NamedTuple

from .program import TICK, Program, ProgramIntent
from .state import ActionState


class Hand(NamedTuple):
    """One action in one tick. `age` is how many ticks ago its last press began; `first` that of a first press, or
    -1."""

    begins: bool
    ends: bool
    down: bool
    age: int
    first: int


def advance_controls(
    program: Program, tick: int, actions: Sequence[ActionState], armed: Sequence[int], down: Sequence[bool], stopped:
    bool ) -> tuple[list[ActionState], list[int]]:
    """The actions and the lives of the intents of this tick, from those of the last and what is down now."""
    lives = [life - 1 if life >= 0 and not stopped else life for life in armed]
    after = [
        action_advanced(program, tick, place, before, lives, down[place]) for place, before in enumerate(actions)
    ]
    return after, lives


def action_advanced(
    program: Program, tick: int, place: int, before: ActionState, lives: list[int], down: bool
) -> ActionState:
    """An action after this tick; the lives of the intents it arms and disarms are changed in place."""
    begins, ends = down and not before.down, before.down and not down
    if not down and not ends:
        return before
    since = tick if begins else before.since
    hand = Hand(begins, ends, not ends, tick - since, tick - before.first if before.first >= 0 else -1)
    spent, owns = (False, False) if begins else (before.spent, before.owns)
    arming, double = [], False
    for each in program.intents_of[place]:
        intent = program.intents[each]
        if not COMPLETED[intent.gesture](intent, hand):
            continue
        if not intent.family:
            lives[each] = intent.life
            continue
        used = before.spent if intent.gesture == "double tap" else spent
        if not used or intent.even_if_used:
            arming.append(each)
            double = double or intent.gesture == "double tap"
    first = before.first
    if begins:
        first = -1 if double else tick
    if arming:
        # A newer gesture of the press replaces an armed one.
        for each in program.intents_of[place]:
            if program.intents[each].family:
                lives[each] = program.intents[each].life if each in arming else -1
        owns = True
    return ActionState(not ends, since, first, spent, owns)


def _held_long(intent: ProgramIntent, hand: Hand) -> bool:
    # Let go in the very tick in which the time is up is a hold too: it is no tap any more.
    return hand.age * TICK >= intent.threshold > (hand.age - 1) * TICK


COMPLETED: dict[str, Callable[[ProgramIntent, Hand], bool]] = {
    "press": lambda intent, hand: hand.begins,
    "release": lambda intent, hand: hand.ends,
    "tap": lambda intent, hand: hand.ends and hand.age * TICK < intent.threshold,
    "hold": _held_long,
    "double tap": lambda intent, hand: hand.begins and 0 <= hand.first * TICK <= intent.threshold,
    "held": lambda intent, hand: False,
}
"""Whether a gesture is completed in a tick. "held" is a level, read off the action itself."""


def readable(program: Program, actions: Sequence[ActionState], lives: Sequence[int]) -> list[bool]:
    """What a condition reads of each intent: armed, or for "held" whether the action is down."""
    return [
        intent.action >= 0 and actions[intent.action].down if intent.gesture == "held" else lives[place] >= 0
        for place, intent in enumerate(program.intents)
    ]


def use_up(program: Program, used: Sequence[int], actions: list[ActionState], lives: list[int]) -> list[int]:
    """Spend the presses behind the intents that were used up, in place; the intents that were armed, in order."""
    found = []
    for place in used:
        if lives[place] < 0:
            continue
        intent = program.intents[place]
        found.append(place)
        lives[place] = -1
        if intent.family:
            for other in program.intents_of[intent.action]:
                if program.intents[other].family and not program.intents[other].even_if_used:
                    lives[other] = -1
            action = actions[intent.action]
            if action.owns:
                actions[intent.action] = action._replace(spent=True)
    return found
