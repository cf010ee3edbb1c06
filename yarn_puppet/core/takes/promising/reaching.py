"""Whether one can get somewhere: plays on from a tick with many controls until something is so.

From each place that was reached, a stretch of play is tried with nothing down, with each action
down, and with each direction and one other action down. The places reached first are gone on from
first (breadth first search); places that are as good as the same are visited once. A way that is
found is a way. That none is found is no proof, so it is said how much was tried.
"""

from __future__ import annotations

from collections import deque
from collections.abc import Callable
from typing import NamedTuple

from ...model.kinds.gestures import GESTURES
from ..controls import Controls
from ..run import Record, RunState, Setup, advance

STRETCH = 8
"""Ticks for which controls are held before others are tried."""
MOST_TRIED = 800
"""Stretches that are tried."""
MOST_ACTIONS = 10
"""Actions that are tried in pairs with a direction; of more only the first."""


class Route(NamedTuple):
    """A way to where something is so: how many ticks it took, and the actions that were down,
    stretch by stretch."""

    ticks: int
    controls: tuple[frozenset[str], ...]


def way_to(
    record: Record, so: Callable[[Record], bool], most_ticks: int
) -> tuple[Route | None, int]:
    """A shortest way of those tried from the end of a record's tick, None where none was found; and
    how many stretches were tried."""
    if so(record):
        return Route(0, ()), 0
    setup = record.setup
    combinations = controls_tried(setup)
    letting_go = _timed_actions(setup)
    # A game that told of a hit in this tick does not tell of it in all that follow, nor hold
    # everything for ever.
    game = record.controls.game
    controls = record.controls._replace(game=game._replace(landed=(), stopped=False)
                                        if game is not None else None)
    waiting: deque[tuple[RunState, int, tuple[frozenset[str], ...], Controls]] = deque(
        [(record.after, 0, (), controls)])
    known = {_place(record.after, letting_go)}
    tried = 0
    while waiting:
        state, ticks, before, controls = waiting.popleft()
        for down in combinations:
            # Breadth first: what is left to go on from took as long, or longer.
            if ticks >= most_ticks or tried >= MOST_TRIED:
                return None, tried
            tried += 1
            now, at = state, ticks
            held = controls._replace(down=down)
            for _ in range(min(STRETCH, most_ticks - ticks)):
                again = advance(setup, now, held)
                now, at = again.after, at + 1
                if so(again):
                    return Route(at, (*before, down)), tried
            place = _place(now, letting_go)
            if place not in known:
                known.add(place)
                waiting.append((now, at, (*before, down), held))
    return None, tried


def controls_tried(setup: Setup) -> tuple[frozenset[str], ...]:
    """The combinations of actions that are tried, the fewest first."""
    actions = setup.program.actions
    mover = setup.puppet.mover
    ways = [each for each in (mover.left, mover.right, mover.up, mover.down) if each in actions]
    others = [action for action in actions if action not in ways][:MOST_ACTIONS]
    pairs = [frozenset((way, other)) for way in ways for other in others]
    return (frozenset(), *(frozenset((each,)) for each in (*ways, *others)), *pairs)


def _timed_actions(setup: Setup) -> tuple[int, ...]:
    """The places of actions of which it counts how long they were down."""
    places = {action: index for index, action in enumerate(setup.program.actions)}
    return tuple(sorted({places[intent.action] for intent in setup.puppet.intents
                         if not GESTURES[intent.gesture].is_instant and intent.action in places}))


def _place(state: RunState, letting_go: tuple[int, ...]) -> tuple[object, ...]:
    """What two places have in common that are as good as the same."""
    down = tuple([state.machine.actions[place].down for place in letting_go])
    layers = tuple([(layer.state, layer.time // 60_000) for layer in state.machine.layers])
    booth = state.booth
    if booth is None:
        return (layers, down, state.machine.memos, state.machine.armed)
    body = booth.body
    return (layers, down, state.machine.memos, round(body.x / 6), round(body.y / 6),
            round(body.vx / 30),
            round(body.vy / 60), body.mode)

