"""The quickest way to make a gesture: what is down in which tick."""

from __future__ import annotations

from typing import NamedTuple

from ...engine.program import ProgramIntent
from ...engine.program_clips import TICK
from ...model.kinds.gestures import GESTURES


class Gesture(NamedTuple):
    """What the quickest hand does: (tick, action, down) from tick 0 on, and the tick in which the
    intent arms."""

    edges: tuple[tuple[int, int, bool], ...]
    arms: int


def gesture_of(intent: ProgramIntent) -> Gesture:
    """The quickest making of an intent. An action goes down or up once a tick at most."""
    kind = GESTURES[intent.gesture]
    if kind.others == "some":
        return _one_after_the_other(intent)
    # As long as a press must be, nothing comes up.
    waits = -(-intent.threshold // TICK) if kind.must_last else 0
    edges = tuple([(at if down else max(at, waits), action, down)
                   for at, down in enumerate(kind.quickest) for action in intent.touches])
    return Gesture(edges, max(len(kind.quickest) - 1, waits))


def _one_after_the_other(intent: ProgramIntent) -> Gesture:
    edges, pressed, at = list[tuple[int, int, bool]](), dict[int, int](), 0
    for step in intent.steps:
        # Presses of one tick are in order, but the same action has to come up in between.
        at = max(at, pressed[step] + 2 if step in pressed else 0)
        if step in pressed:
            edges.append((at - 1, step, False))
        edges.append((at, step, True))
        pressed[step] = at
    return Gesture(tuple(edges), at)
