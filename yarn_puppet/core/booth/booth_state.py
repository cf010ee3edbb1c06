"""The world after a tick, and in it those dummies that answer, each in a world of its own."""

from __future__ import annotations

from typing import Any, NamedTuple

from ..engine.state import MachineState, Report
from .body import Body
from .hitting.blows import Blow
from .hitting.dummies import DummyState
from .hitting.effects import Effect, Prop, Shake, Shot
from .hitting.hits import Hit, Struck


class BoothState(NamedTuple):
    """The world after a tick. While `stop` is above zero a hit stop holds the puppet and the
    dummies.

    `reported_senses` is what it reports of the puppet, in the order of `SENSES` after the first
    two; `news` whether the puppet was hurt, guarded a blow or landed a hit, which no tick that
    chooses has been told of yet. `health` is what is left of the puppet's, `facing` where it faced.
    """

    body: Body
    dummies: tuple[DummyState, ...]
    effects: tuple[Effect, ...]
    shots: tuple[Shot, ...]
    props: tuple[Prop, ...]
    struck: Struck
    hits: tuple[Hit, ...]
    blows: tuple[Blow, ...]
    news: tuple[bool, bool, bool]
    shake: Shake | None
    stop: int
    health: int
    facing: str
    reported_senses: tuple[Any, ...]
    answerers: tuple[Answerer | None, ...] = ()
    """By dummy those that answer; empty where none does."""


class Answerer(NamedTuple):
    """A dummy that answers, after a tick: its machine, where it is, as in a world in which it
    stands alone, and what it reported, None before its first tick."""

    machine: MachineState
    booth: BoothState
    report: Report | None
