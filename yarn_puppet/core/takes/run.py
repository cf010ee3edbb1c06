"""Runs a puppet tick by tick, in a booth or alone, and reads takes back into ticks."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Any, NamedTuple

from ..booth.booth import BoothState, booth_senses, initial_booth, landed_layers, step, wanted_direction
from ..engine.compiling import compile_puppet
from ..engine.program import Program
from ..engine.state import Inputs, MachineState, Report
from ..engine.tick import initial_state, tick
from ..model.base import Scalar
from ..model.puppet import Puppet
from ..model.world import Take, World


class Setup(NamedTuple):
    """What a run needs: the puppet, its program, and the world or None."""

    puppet: Puppet
    program: Program
    world: World | None


class RunState(NamedTuple):
    """All that a run carries from tick to tick."""

    machine: MachineState
    booth: BoothState | None


class Controls(NamedTuple):
    """One tick's controls: the actions that are down, and the senses forced by hand, as (sense id, value)."""

    down: frozenset[str]
    forced: tuple[tuple[str, Scalar], ...] = ()


class Record(NamedTuple):
    """One tick of a run: what was before, what went in, and what came out."""

    setup: Setup
    before: RunState
    inputs: Inputs
    controls: Controls
    report: Report
    after: RunState


NO_CONTROLS = Controls(frozenset())


def set_up(puppet: Puppet, world: World | None) -> Setup:
    """Compile a puppet for a world."""
    return Setup(puppet, compile_puppet(puppet), world)


def start(setup: Setup) -> RunState:
    """The state before tick 0."""
    return RunState(initial_state(setup.program), initial_booth(setup.world) if setup.world else None)


def inputs_of(setup: Setup, state: RunState, controls: Controls) -> Inputs:
    """The engine's inputs: what is down, and each sense as forced, as the booth has it, or as it starts."""
    program = setup.program
    values: dict[str, Any] = {}
    if state.booth is not None:
        values = booth_senses(state.booth, wanted_direction(setup.puppet, controls.down))
    values |= dict(controls.forced)
    landed: tuple[int, ...] = ()
    if state.booth is not None and state.booth.hits:
        layers = landed_layers(state.booth)
        landed = tuple(number for number, layer in enumerate(program.layers) if layer.id in layers)
    return Inputs(
        tuple(action in controls.down for action in program.actions),
        tuple(
            COERCE[sense.type](values.get(sense.id, sense.start), sense.start) for sense in program.senses
        ),
        landed, state.booth is not None and state.booth.stop > 0,
    )


def advance(setup: Setup, state: RunState, controls: Controls) -> Record:
    """One tick of the puppet and of the world around it."""
    inputs = inputs_of(setup, state, controls)
    machine, report = tick(setup.program, state.machine, inputs)
    booth = state.booth
    if setup.world is not None and booth is not None:
        booth = step(setup.world, setup.puppet, booth, report, wanted_direction(setup.puppet, controls.down))
    return Record(setup, state, inputs, controls, report, RunState(machine, booth))


def controls_of(take: Take) -> Iterator[Controls]:
    """The controls of each tick of a take."""
    down: frozenset[str] = frozenset()
    forced: dict[str, Scalar] = {}
    controls = sorted(take.controls, key=lambda change: change[0])
    senses = sorted(take.senses, key=lambda change: change[0])
    next_control = next_sense = 0
    for number in range(take.ticks):
        while next_control < len(controls) and controls[next_control][0] <= number:
            _, action, state = controls[next_control]
            down = down | {action} if state else down - {action}
            next_control += 1
        while next_sense < len(senses) and senses[next_sense][0] <= number:
            _, sense, value = senses[next_sense]
            if value is None:
                forced.pop(sense, None)
            else:
                forced[sense] = value
            next_sense += 1
        yield Controls(down, tuple(forced.items()))


def replay(setup: Setup, take: Take) -> Iterator[Record]:
    """Run a take from its start, one record a tick."""
    state = start(setup)
    for controls in controls_of(take):
        record = advance(setup, state, controls)
        state = record.after
        yield record


def _number(value: Any, otherwise: Any) -> float:
    return float(value) if isinstance(value, int | float) else float(otherwise or 0)


def _whole(value: Any, otherwise: Any) -> int:
    return round(_number(value, otherwise))


COERCE: dict[str, Callable[[Any, Any], Any]] = {
    "bool": lambda value, otherwise: bool(value),
    "int": _whole,
    "float": _number,
    "choice": lambda value, otherwise: value if isinstance(value, str) else str(otherwise),
}
"""A reported value as the type the sense declares: takes and games are not trusted to keep to it."""
