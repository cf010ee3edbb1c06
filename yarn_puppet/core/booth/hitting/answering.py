"""Dummies that answer: puppets that are played beside ours, and are told of what happens to them.
docs/world.md, section 6."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

from ...engine.state import MachineState, Report
from ...model.puppet import Puppet
from ...model.world import Dummy, World
from ..body import Body
from ..booth_state import BoothState
from ..move_input import MoveInput
from .areas import body_areas, dummy_area
from .blows import Blow
from .dummies import DummyState
from .hits import Target, is_safe
from .replaying import Track


class AnsweringTick(NamedTuple):
    """One of them in the middle of a tick: the puppet that it is and its world, where it was, its
    machine and report of this tick, and what its hands ask of its mover."""

    puppet: Puppet
    world: World
    before: BoothState
    machine: MachineState
    report: Report
    moving_input: MoveInput


Everyone = tuple[AnsweringTick | None, ...]
"""By dummy; None for one that does not answer. Empty where none does."""
NOBODY: Everyone = ()


def answered(
    dummy: Dummy, state: DummyState, playing: AnsweringTick, body: Body, met: tuple[Blow, ...],
    health: int,
) -> DummyState:
    """What is to be seen of one that answers, as of every other dummy, after a tick in which these
    blows met it."""
    report = playing.report
    heading = -1 if report.facing.endswith("left") else 1
    state = state._replace(
        moved=body.x - dummy.x, down=body.y - dummy.y, heading=heading, clock=state.clock + 1,
        health=health)
    if not met:
        return state
    return state._replace(
        hits=state.hits + len(met), last=report.tick, side=1 if met[-1].push >= 0 else -1,
        guarded=all(blow.how == "guarded" for blow in met))


def targets_of(
    world: World, dummies: tuple[DummyState, ...], tracks: tuple[Track, ...],
    everyone: Everyone = NOBODY, bodies: Sequence[Body | None] = (),
) -> list[Target]:
    """The dummies of a world as what can be hit: those that answer by their own body boxes,
    `bodies` being where they went."""
    found = []
    for index, each in enumerate(dummies):
        playing = everyone[index] if everyone else None
        at = bodies[index] if playing is not None else None
        if playing is not None and at is not None:
            areas = tuple(body_areas(playing.puppet, playing.report, at, world.from_above))
            found.append(Target(index, areas, playing.report.safe))
        else:
            safe = bool(tracks) and is_safe(tracks, index, each)
            found.append(Target(index, (dummy_area(world, index, each),), safe))
    return found
