"""Dummies that answer: puppets that are played beside ours, and are told of what happens to them.
docs/world.md, section 6."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from ...engine.state import MachineState, Report
from ...model.puppet import Puppet
from ...model.world import Dummy, World
from ..body import Body
from ..move_input import MoveInput
from .dummies import DummyState

if TYPE_CHECKING:
    from ..booth import BoothState
    from .blows import Blow


class Answerer(NamedTuple):
    """A dummy that answers, after a tick: its machine, where it is, as in a world in which it
    stands alone, and what it reported, None before its first tick."""

    machine: MachineState
    booth: BoothState
    report: Report | None


class AnsweringTick(NamedTuple):
    """The same in the middle of a tick: the puppet that it is and its world, where it was, its
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
