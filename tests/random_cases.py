"""Puppets under random input, with what our own engine reports of each tick: what generated code is
compared with."""

from __future__ import annotations

from random import Random

from tests.c_engine import Case
from tests.helpers import clip, puppet_of
from tests.random_puppets import Shaker
from yarn_puppet.core.engine.compiling.puppets import compile_puppet
from yarn_puppet.core.engine.plain.beginning import initial_state
from yarn_puppet.core.engine.plain.tick import tick
from yarn_puppet.core.engine.program import Program
from yarn_puppet.core.engine.state import Inputs, Landed
from yarn_puppet.core.formats.puppet_file import load_puppet
from yarn_puppet.core.handoff.random_take import random_take
from yarn_puppet.core.model.graph import State, Transition
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.model.wiring import Action, Intent
from yarn_puppet.core.takes.run import replay, set_up
from yarn_puppet.core.takes.sampling import Sampler
from yarn_puppet.demo import DEMO_FOLDER


def random_case(seed: int, ticks: int = 60) -> Case:
    """A random puppet and random input, hits and hit stops among it."""
    shaker = Shaker(seed)
    return random_run(shaker.puppet(), shaker, ticks)


def random_run(puppet: Puppet, shaker: Shaker, ticks: int) -> Case:
    """A puppet of a shaker under random input."""
    return random_run_of(compile_puppet(puppet), shaker, ticks)


def random_run_of(program: Program, shaker: Shaker, ticks: int) -> Case:
    """A program of a shaker's puppet under random input."""
    sampler, state = Sampler(program), initial_state(program)
    places = {layer.id: index for index, layer in enumerate(program.layers)}
    down, news, stop, inputs, reports = dict.fromkeys("abc", False), list[Landed](), 0, [], []
    for _ in range(ticks):
        down = {action: held != shaker.chance(3) for action, held in down.items()}
        stop = max(0, stop - 1) if stop else 3 * shaker.chance(1)
        senses = sampler.alone(tuple(shaker.senses().items()))
        inputs.append(Inputs(tuple(down.values()), senses, tuple(news), stop > 0, shaker.edges()))
        state, report = tick(program, state, inputs[-1])
        reports.append(report)
        layers = {layer.layer: layer for layer in report.layers}
        news = [Landed(places[window.layer], layers[window.layer].visit,
                       layers[window.layer].cycle - window.late)
                for window in report.windows if shaker.chance(5)]
        if shaker.chance(1):
            news.append(Landed(shaker.pick([-1, 0, 5]), shaker.pick([0, 1]), shaker.pick([0, 1])))
    return Case(program, inputs, reports)


def crowded_case(actions: int = 70, ticks: int = 300) -> Case:
    """A puppet of more actions than a number has bits, each pressed now and then, each a way
    between two states."""
    keys = [f"a{number}" for number in range(actions)]
    states = [State(f"s{number}", f"State {number}", clip="c") for number in range(2)]
    program = compile_puppet(puppet_of(
        [clip("c", [50, 70])], states,
        [Transition(f"t{number}", f"s{number % 2}", f"s{1 - number % 2}", f"i{number}")
         for number in range(actions)],
        actions=tuple(Action(key, key) for key in keys),
        intents=tuple(Intent(f"i{number}", f"press_{key}", key,
                             "release" if number % 3 else "press")
                      for number, key in enumerate(keys))))
    sampler, state, dice = Sampler(program), initial_state(program), Random(1)
    down, inputs, reports = [False] * actions, [], []
    for _ in range(ticks):
        down = [held != (dice.random() < 0.01) for held in down]
        inputs.append(Inputs(tuple(down), sampler.alone(()), (), False))
        state, report = tick(program, state, inputs[-1])
        reports.append(report)
    return Case(program, inputs, reports)


def restless_case(ticks: int = 600) -> Case:
    """All of the demo's puppet, under hands and senses that never rest."""
    puppet = load_puppet(DEMO_FOLDER / "lamplighter.puppet.json")
    setup = set_up(puppet, None)
    state, inputs, reports = initial_state(setup.program), [], []
    for record in replay(setup, random_take(puppet, ticks, 1)):
        state, report = tick(setup.program, state, record.inputs)
        inputs.append(record.inputs)
        reports.append(report)
    return Case(setup.program, inputs, reports)
