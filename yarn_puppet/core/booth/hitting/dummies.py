"""What dummies do: stand, walk, guard, strike; and how they take a hit. docs/world.md, section
6."""

from __future__ import annotations

from functools import lru_cache
from typing import NamedTuple

from ...model.world import Dummy, World
from ...pose.place import Rectangle
from ...rules.numbers import sign
from ..mover import LEAST_PUSH, PUSH_LEFT
from ..tiles.sweep import TOUCH, across
from ..tiles.terrain import terrain_of
from .replaying import NOTHING_MET, Met, ReplayedTick, defence

RAISES, REACHES = 8, 4
"""Sixtieths of a second for which a striking dummy raises its arm, and then for which its blow
reaches."""
GUARDED_PUSH = 0.5
"""The share of a push that a guarding dummy takes."""


class DummyState(NamedTuple):
    """How often a dummy was hit, in which tick last (-1 never), and from which side (-1 or 1).

    `moved` is how far it is from its place, `push` how far it is pushed still; pixels, right is
    positive. `health` is what is left of it, `heading` the side it faces, `clock` how many ticks it
    has acted, `beat` the number of its last blow that met the puppet, `guarded` whether it guarded
    the last hit. Of one that replays, `shoved` is how far blows have moved it, `down` how far below
    its place it is, `met` which of its blows that may still be struck have met.
    """

    hits: int = 0
    last: int = -1
    side: int = 1
    moved: float = 0.0
    push: float = 0.0
    health: int = 0
    heading: int = -1
    clock: int = 0
    beat: int = -1
    guarded: bool = False
    shoved: float = 0.0
    down: float = 0.0
    met: frozenset[Met] = NOTHING_MET


HEADING = DummyState._fields.index("heading")
"""The place of the heading, which the clock follows."""


def at_first(dummy: Dummy, start_x: float) -> DummyState:
    """A dummy before the first tick."""
    return DummyState(health=dummy.health, heading=1 if start_x >= dummy.x else -1)


def dummy_box(world: World, index: int, state: DummyState) -> Rectangle:
    """The body box of a dummy in the world."""
    dummy = world.dummies[index]
    x = dummy.x + state.moved
    return Rectangle(x - dummy.width / 2, dummy.y + state.down - dummy.height, dummy.width,
                     dummy.height)


def is_reeling(dummy: Dummy, state: DummyState, tick: int, rate: int) -> bool:
    """Whether a hit still keeps it from acting."""
    long = (
        dummy.ticks("reels_guarding" if state.guarded else "reels", rate) if state.last >= 0 else 0
    )
    return state.last >= 0 and tick - state.last < long


def acted(
    world: World, index: int, state: DummyState, tick: int, rate: int, puppet_x: float,
    played: ReplayedTick | None = None,
) -> DummyState:
    """A dummy after a tick of what it does, and of being pushed. `played` is what one that replays
    does next."""
    dummy = world.dummies[index]
    if state.push:
        before = state.moved
        state = _pushed_on(world, index, state, rate)
        state = state._replace(shoved=state.shoved + state.moved - before)
    if is_reeling(dummy, state, tick, rate):
        return state
    if played is not None:
        return state._replace(moved=played.across + state.shoved, down=played.down,
                              heading=played.side,
                              clock=state.clock + 1)
    if dummy.does == "walks":
        return _walked(world, index, state, rate)
    heading = (
        (1 if puppet_x >= dummy.x + state.moved else -1)
        if dummy.does != "stands"
        else state.heading
    )
    clock = state.clock + 1 if dummy.does == "strikes" else state.clock
    if heading == state.heading and clock == state.clock:
        return state
    # As `_replace` would, in a fraction of its time: one that strikes comes here in every tick.
    return DummyState._make((*state[:HEADING], heading, clock, *state[HEADING + 2:]))


def _walked(world: World, index: int, state: DummyState, rate: int) -> DummyState:
    dummy = world.dummies[index]
    by = state.heading * dummy.speed / rate
    moved, stopped = _swept(world, index, state, by)
    heading = state.heading
    if stopped or (abs(moved) >= dummy.span and sign(moved) == heading):
        heading = -heading
    return state._replace(moved=moved, heading=heading, clock=state.clock + 1)


def _swept(world: World, index: int, state: DummyState, by: float) -> tuple[float, bool]:
    """How far from its place a dummy is that moves by `by`, and whether a wall stopped it."""
    box = dummy_box(world, index, state)
    edge = box.x + box.width if by > 0 else box.x
    stop = across(terrain_of(world), edge, box.y, box.y + box.height - TOUCH, by)
    return (state.moved + by, False) if stop is None else (state.moved + stop - edge, True)


def _pushed_on(world: World, index: int, state: DummyState, rate: int) -> DummyState:
    left = PUSH_LEFT ** (60 / rate)
    moved, stopped = _swept(world, index, state, state.push * (1 - left))
    rest = state.push * left
    return state._replace(moved=moved, push=0.0 if stopped or abs(rest) < LEAST_PUSH else rest)


def struck(
    dummy: Dummy, state: DummyState, tick: int, rate: int, damage: int, push: float, from_x: float,
    played: ReplayedTick | None = None,
) -> DummyState:
    """A dummy after a hit that came from `from_x`; `played` is what one that replays was doing."""
    side = 1 if dummy.x + state.moved >= from_x else -1
    open_to_it = is_reeling(dummy, state, tick, rate) and not state.guarded
    guarded = not open_to_it and (
        (dummy.does == "guards" and state.heading == -side) or defence(played, side) == "guarded")
    return state._replace(
        hits=state.hits + 1, last=tick, side=side, guarded=guarded,
        push=state.push + side * push * (GUARDED_PUSH if guarded else 1.0),
        health=state.health if guarded else max(0, state.health - damage) if dummy.health else 0,
    )


class Arm(NamedTuple):
    """The arm of a striking dummy: raised by 0 to 1, whether its blow reaches now, and the number
    of the blow."""

    raised: float
    reaches: bool
    beat: int


@lru_cache(maxsize=64)
def _beat(seconds: float, rate: int) -> tuple[int, int, int]:
    """The ticks of a beat, those for which its blow reaches, and those for which the arm is
    raised."""
    return (max(1, round(seconds * rate)), max(1, round(REACHES * rate / 60)),
            max(1, round(RAISES * rate / 60)))


def beat_of(dummy: Dummy, state: DummyState, rate: int) -> int:
    """The number of the blow of a striking dummy that reaches now; 0 while none does."""
    every, reaching, _ = _beat(dummy.every, rate)
    number, since = divmod(state.clock, every)
    return number if since < reaching else 0


def arm_of(dummy: Dummy, state: DummyState, rate: int) -> Arm | None:
    """Where in its beat a striking dummy is; None for one that does not strike."""
    if dummy.does != "strikes":
        return None
    every, reaching, raising = _beat(dummy.every, rate)
    number, since = divmod(state.clock, every)
    if number > 0 and since < reaching:
        return Arm(1.0, True, number)
    return Arm(max(0.0, 1 - (every - since) / raising), False, number)


def blow_box(world: World, index: int, state: DummyState) -> Rectangle:
    """Where the blow of a dummy reaches: before it, over its whole height."""
    dummy = world.dummies[index]
    box = dummy_box(world, index, state)
    left = box.x + box.width if state.heading > 0 else box.x - dummy.reach
    return Rectangle(left, box.y, dummy.reach, box.height)
