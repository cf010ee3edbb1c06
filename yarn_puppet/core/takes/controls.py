"""The controls of each tick, and those of a take read back into ticks."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any, NamedTuple

from ..model.basics.base import Scalar
from ..model.take import Take


class GameInput(NamedTuple):
    """What a game tells of a tick beside controls and senses.

    `landed` are the hits since the tick before, as (layer id, visit, pass). `stopped`: the game
    holds everything, as in a hit stop. `at` is where the puppet stands, in pixels.
    """

    landed: tuple[tuple[str, int, int], ...] = ()
    stopped: bool = False
    at: tuple[float, float] = (0.0, 0.0)


class Controls(NamedTuple):
    """One tick's controls.

    `down` are the actions that are down. `forced` are senses held by hand, as (sense id, value).
    `axes` are sticks that are pushed, as (axis id, whole steps). `game` is what a game tells
    besides, where the puppet runs in one. `edges` is how often an action went down and up, as
    (action id, edges), where that is more often than `down` tells.
    """

    down: frozenset[str]
    forced: tuple[tuple[str, Scalar], ...] = ()
    axes: tuple[tuple[str, int], ...] = ()
    game: GameInput | None = None
    edges: tuple[tuple[str, int], ...] = ()


NO_CONTROLS = Controls(frozenset())


def controls_of(take: Take) -> Iterator[Controls]:
    """The controls of each tick of a take."""
    down: frozenset[str] = frozenset()
    forced: dict[str, Scalar] = {}
    pushed: dict[str, int] = {}
    game = _game_input_of(take)
    listed: tuple[tuple[str, tuple[tuple[int, str, Any], ...]], ...] = (
        ("control", take.controls), ("sense", take.senses), ("axis", take.axes))
    changes = sorted([(tick, kind, id, value) for kind, rows in listed for tick, id, value in rows],
                     key=lambda change: change[0])
    at = 0
    now = NO_CONTROLS
    for number in range(take.ticks):
        changed = False
        often: dict[str, int] = {}
        while at < len(changes) and changes[at][0] <= number:
            _, kind, id, value = changes[at]
            if kind == "control":
                if (id in down) != bool(value):
                    often[id] = often.get(id, 0) + 1
                down = down | {id} if value else down - {id}
            elif kind == "axis":
                pushed[id] = value
            elif value is None:
                forced.pop(id, None)
            else:
                forced[id] = value
            at += 1
            changed = True
        if changed:
            now = Controls(down, tuple(forced.items()),
                           tuple((id, steps) for id, steps in pushed.items() if steps))
        given = now._replace(game=next(game)) if game is not None else now
        edges = tuple([(id, count) for id, count in often.items() if count > 1])
        yield given._replace(edges=edges) if edges else given


def _game_input_of(take: Take) -> Iterator[GameInput] | None:
    """What a game told in each tick of a take; None where it ran in none."""
    if not (take.landed or take.stopped or take.places):
        return None
    landed: dict[int, list[tuple[str, int, int]]] = {}
    for tick, *hit in take.landed:
        landed.setdefault(tick, []).append(tuple(hit))  # type: ignore[arg-type]
    stops, places = dict(take.stopped), {tick: (x, y) for tick, x, y in take.places}

    def ticks() -> Iterator[GameInput]:
        now = GameInput()
        for number in range(take.ticks):
            now = GameInput(
                tuple(landed.get(number, ())), bool(stops.get(number, now.stopped)),
                places.get(number, now.at))
            yield now

    return ticks()
