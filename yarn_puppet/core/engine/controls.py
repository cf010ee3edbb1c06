"""Step 1 of a tick: edges of the controls arm, age and expire intents."""

from __future__ import annotations

from .program import TICK, Program, ProgramIntent
from .state import ActionState


def advance_controls(
    program: Program, tick: int, actions: tuple[ActionState, ...], armed: tuple[int, ...], down: tuple[bool, ...]
) -> tuple[tuple[ActionState, ...], list[int]]:
    """The actions and the armed intents of this tick, from those of the last and what is down now.

    An intent armed at tick n with a buffer of b units can be used in every tick up to n + b / TICK.
    """
    if True not in down and max(armed, default=-1) < 0 and not any([action.down for action in actions]):
        return actions, list(armed)
    after = tuple([
        before if now == before.down
        else ActionState(True, tick, before.pressed) if now else ActionState(False, before.pressed, before.previous)
        for before, now in zip(actions, down, strict=True)
    ])
    result = list(armed)
    arming: list[int] = []
    for place, intent in enumerate(program.intents):
        if result[place] >= 0 and (tick - result[place]) * TICK > intent.buffer:
            result[place] = -1
        action = intent.action
        if action >= 0 and GESTURES[intent.gesture](intent, tick, actions[action], after[action]):
            arming.append(place)
    for place in arming:
        # A newer gesture of the same action replaces an armed one.
        for rival in program.intents[place].rivals:
            if rival not in arming:
                result[rival] = -1
    for place in arming:
        result[place] = tick
    return after, result


def _pressed(intent: ProgramIntent, tick: int, before: ActionState, now: ActionState) -> bool:
    return now.down and not before.down


def _released(intent: ProgramIntent, tick: int, before: ActionState, now: ActionState) -> bool:
    return before.down and not now.down


def _tapped(intent: ProgramIntent, tick: int, before: ActionState, now: ActionState) -> bool:
    return before.down and not now.down and (tick - before.pressed) * TICK < intent.threshold


def _held_long(intent: ProgramIntent, tick: int, before: ActionState, now: ActionState) -> bool:
    # Let go in the very tick in which the time is up is a hold too: it is no tap any more.
    age = (tick - before.pressed) * TICK
    return before.down and age >= intent.threshold > age - TICK


def _tapped_twice(intent: ProgramIntent, tick: int, before: ActionState, now: ActionState) -> bool:
    pressed = now.down and not before.down
    return pressed and now.previous >= 0 and (tick - now.previous) * TICK <= intent.threshold


def _never(intent: ProgramIntent, tick: int, before: ActionState, now: ActionState) -> bool:
    return False


GESTURES = {
    "press": _pressed,
    "release": _released,
    "tap": _tapped,
    "hold": _held_long,
    "double tap": _tapped_twice,
    "held": _never,
}
"""Whether a gesture is completed in a tick. "held" is a level, read off the action itself."""


def readable(program: Program, actions: tuple[ActionState, ...], armed: list[int]) -> list[bool]:
    """What a condition reads of each intent: armed, or for "held" whether the action is down."""
    return [
        actions[intent.action].down if intent.gesture == "held" and intent.action >= 0 else armed[place] >= 0
        for place, intent in enumerate(program.intents)
    ]
