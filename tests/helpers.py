"""What many tests need: the demo, small puppets, and runs of them."""

from __future__ import annotations

import unittest
from collections.abc import Iterable

from hypothesis import HealthCheck, settings
from msgspec.structs import replace

from tests.depth import examples
from yarn_puppet.core.formats.booth_file import load_booth
from yarn_puppet.core.formats.puppet_file import load_puppet
from yarn_puppet.core.model.clips import Cell, Clip, Frame
from yarn_puppet.core.model.events import Moment, Window
from yarn_puppet.core.model.graph import State, Transition
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.model.starter import new_puppet
from yarn_puppet.core.model.world import World
from yarn_puppet.core.takes.controls import Controls
from yarn_puppet.core.takes.run import Record, Setup, advance, set_up, start
from yarn_puppet.demo import DEMO_BOOTH, DEMO_FOLDER, FIRST_STEPS
from yarn_puppet.demo.make.lamplighter import INTENTS

settings.register_profile(
    "here", max_examples=examples(25), deadline=None, derandomize=True,
    suppress_health_check=[HealthCheck.too_slow, HealthCheck.data_too_large],
)
settings.load_profile("here")

Press = tuple[int, int, str]
"""First tick down, first tick up again, action."""


def demo_puppet() -> Puppet:
    """Pell."""
    return load_puppet(FIRST_STEPS)


def demo_world() -> World:
    """The rooftop."""
    return load_booth(DEMO_FOLDER / DEMO_BOOTH)


def demo_setup() -> Setup:
    """Pell on the rooftop."""
    return set_up(demo_puppet(), demo_world())


def controls(presses: Iterable[Press], ticks: int) -> list[Controls]:
    """The controls of each tick."""
    held = list(presses)
    return [
        Controls(frozenset(action for first, last, action in held if first <= tick < last))
        for tick in range(ticks)
    ]


def run(setup: Setup, presses: Iterable[Press], ticks: int) -> list[Record]:
    """Run some ticks from the start."""
    return run_controls(setup, controls(presses, ticks))


def run_controls(setup: Setup, each_tick: Iterable[Controls]) -> list[Record]:
    """Run these controls from the start."""
    state, records = start(setup), []
    for now in each_tick:
        record = advance(setup, state, now)
        state = record.after
        records.append(record)
    return records


def state_of(record: Record) -> str:
    """The state the first layer is in after a tick."""
    return record.report.layers[0].state


def entered(records: Iterable[Record], state: str) -> list[int]:
    """The ticks in which a state was entered."""
    return [record.report.tick for record in records
            for taken in record.report.taken if taken.target == state]


def clip(
    id: str,
    durations: Iterable[float] = (100.0,),
    mode: str = "loop",
    moments: Iterable[Moment] = (),
    windows: Iterable[Window] = (),
) -> Clip:
    """A clip of blank frames."""
    frames = tuple(Frame(Cell("sheet", 0, 0, 96, 64), duration) for duration in durations)
    return Clip(id, id, frames, mode, moments=tuple(moments),
                windows=tuple(windows))  # type: ignore[arg-type]


def puppet_of(
    clips: Iterable[Clip],
    states: Iterable[State],
    transitions: Iterable[Transition] = (),
    rate: int = 60,
    **values: object,
) -> Puppet:
    """A puppet with the starter's wiring."""
    made = replace(new_puppet("test"), intents=INTENTS, rate=rate, clips=tuple(clips),
                   states=tuple(states), transitions=tuple(transitions))
    return replace(made, **values)


class Case(unittest.TestCase):
    """A test case that shows whole values when they differ."""

    maxDiff = None
