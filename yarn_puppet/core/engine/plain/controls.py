"""Step 1 of a tick: edges of the controls arm, age and expire intents. Section 6.1 of
docs/semantics.md."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import NamedTuple

from ...model.kinds.gestures import GESTURES, Gesture
from ..program import Program, ProgramIntent
from ..program_clips import TICK
from ..state import ActionState
from .sequences import Reached, sequences_advanced


class ActionEdge(NamedTuple):
    """One action in one tick. `age` is how many ticks ago its last press began; `first` that of a
    first press, or -1; `used` whether the press before this one was, which a double tap begins
    with."""

    begins: bool
    ends: bool
    down: bool
    age: int
    first: int
    used: bool


MOST_WAITING = 3
"""Edges of an action that wait at most; of more a press and its release are let go of."""


def one_edge_a_tick(
    actions: Sequence[ActionState],
    waiting: Sequence[int],
    down: Sequence[bool],
    edges: Sequence[int],
) -> tuple[tuple[bool, ...], tuple[int, ...]]:
    """What is down in this tick, and the edges that wait: an action goes down or up at most once in
    a tick, so that a press between two ticks is down for one and not lost. Only where an action had
    more edges than its level tells, or some wait still, is it otherwise than `down`."""
    held, left = [], []
    for index, action in enumerate(actions):
        wait = waiting[index] if waiting else 0
        # What the game last said was down, with all edges done.
        said = action.down != bool(wait & 1)
        count = max(0, edges[index]) if edges else 0
        wait += count + ((count & 1) != (down[index] != said))
        held.append(action.down != (wait > 0))
        wait = max(0, wait - 1)
        left.append(wait if wait <= MOST_WAITING else 2 + (wait & 1))
    return tuple(held), tuple(left) if any(left) else ()


def older(lives: Sequence[int]) -> list[int]:
    """The lives of intents a tick later."""
    return [life - 1 if life >= 0 else life for life in lives]


def advance_controls(
    program: Program,
    tick: int,
    actions: Sequence[ActionState],
    lives: list[int],
    sequences: tuple[Reached, ...],
    down: Sequence[bool],
    stopped: bool = False,
) -> tuple[list[ActionState], tuple[Reached, ...]]:
    """The actions and sequences of this tick, from those of the last and what is down now; what
    arms and disarms is changed in `lives`, those of this tick, in place. What a stopped tick arms
    lives for a tick more, so that it is as old in the first tick that chooses as if it had been
    armed in that."""
    after, now = list(actions), []
    for index, (before, held) in enumerate(zip(actions, down, strict=True)):
        begins, ends = held and not before.down, before.down and not held
        if begins:
            after[index] = ActionState(True, tick, before.first, False, False)
        elif ends:
            after[index] = before._replace(down=False)
        now.append(ActionEdge(
            begins, ends, held, tick - after[index].since,
            tick - before.first if before.first >= 0 else -1,
            before.spent,
        ))
    begun = frozenset([index for index, edge in enumerate(now) if edge.begins])
    sequences, completed = sequences_advanced(program, tick, sequences, begun)
    arming: list[int] = []
    double: set[int] = set()
    for index, intent in enumerate(program.intents):
        if not intent.touches or not (index in completed or _completed(intent, now)):
            continue
        if not intent.family:
            lives[index] = intent.life + stopped
            continue
        twice = GESTURES[intent.gesture].is_second_press
        used = any([now[touch].used if twice else after[touch].spent for touch in intent.touches])
        if not used or intent.even_if_used:
            arming.append(index)
            if twice:
                double.add(intent.action)
    for place in begun:
        after[place] = after[place]._replace(first=-1 if place in double else tick)
    for place in {action for each in arming for action in program.intents[each].touches}:
        # A newer gesture of the press replaces an armed one.
        forget_family(program, place, lives)
        after[place] = after[place]._replace(owns=True)
    for place in arming:
        lives[place] = program.intents[place].life + stopped
    return after, sequences


def _completed(intent: ProgramIntent, now: Sequence[ActionEdge]) -> bool:
    of_several = COMPLETED_BY_SEVERAL.get(intent.gesture)
    if of_several is not None:
        return of_several(intent, [now[touch] for touch in intent.touches])
    edge = now[intent.action]
    return (edge.down or edge.ends) and COMPLETED[intent.gesture](intent, edge)


def _close_together(intent: ProgramIntent, pair: Sequence[ActionEdge]) -> bool:
    return all([each.down and each.age * TICK <= intent.threshold for each in pair]) and any(
        [each.begins for each in pair])


def _held_long(intent: ProgramIntent, edge: ActionEdge) -> bool:
    # Let go in the very tick in which the time is up is a hold too: it is no tap any more.
    return edge.age * TICK >= intent.threshold > (edge.age - 1) * TICK


def _once_more(intent: ProgramIntent, edge: ActionEdge) -> bool:
    often = max(intent.threshold, TICK)
    return edge.down and (edge.begins or edge.age * TICK // often > (edge.age - 1) * TICK // often)


COMPLETED: dict[Gesture, Callable[[ProgramIntent, ActionEdge], bool]] = {
    "press": lambda intent, edge: edge.begins,
    "release": lambda intent, edge: edge.ends,
    "tap": lambda intent, edge: edge.ends and edge.age * TICK < intent.threshold,
    "hold": _held_long,
    "double tap": lambda intent, edge: edge.begins and 0 <= edge.first * TICK <= intent.threshold,
    "repeat": _once_more,
}
"""Whether a gesture of one action is completed in a tick. A level is read off the action itself,
and a sequence is followed on its own."""
COMPLETED_BY_SEVERAL: dict[Gesture, Callable[[ProgramIntent, Sequence[ActionEdge]], bool]] = {
    "both": _close_together,
    # Never by what is down alone: `sequences.py` follows its steps.
    "sequence": lambda intent, now: False,
    "held": lambda intent, now: False,
}
"""The same of gestures that look at several actions, or at none."""


def readable(program: Program, actions: Sequence[ActionState], lives: Sequence[int]) -> list[bool]:
    """What a condition reads of each intent: armed, or for a level whether the action is down."""
    return [
        intent.action >= 0 and actions[intent.action].down
        if GESTURES[intent.gesture].is_level else lives[index] >= 0
        for index, intent in enumerate(program.intents)
    ]


def forget_family(program: Program, action: int, lives: list[int], all_of_it: bool = True) -> None:
    """Disarm the intents of the press that touch an action, in place; only those not armed even if
    it was used, or all."""
    for place in program.intents_of[action]:
        intent = program.intents[place]
        if intent.family and (all_of_it or not intent.even_if_used):
            lives[place] = -1


def use_up(
    program: Program, used: Sequence[int], actions: list[ActionState], lives: list[int]
) -> list[int]:
    """Spend the presses behind the intents that were used up, in place; the intents that were
    armed, in order."""
    found = []
    for place in used:
        if lives[place] < 0:
            continue
        intent = program.intents[place]
        found.append(place)
        lives[place] = -1
        for touch in intent.touches if intent.family else ():
            forget_family(program, touch, lives, all_of_it=False)
            if actions[touch].owns:
                actions[touch] = actions[touch]._replace(spent=True)
    return found


def arm(
    program: Program,
    place: int,
    actions: list[ActionState],
    lives: list[int],
    stopped: bool = False,
) -> None:
    """Arm an intent without its gesture, in place: no press is behind it, and so none is spent by
    using it."""
    intent = program.intents[place]
    if not intent.touches:
        return
    for touch in intent.touches if intent.family else ():
        forget_family(program, touch, lives)
        actions[touch] = actions[touch]._replace(owns=False)
    lives[place] = intent.life + stopped
