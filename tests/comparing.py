"""Runs one random puppet through the plain engine, the fast one and the simple one, tick by tick.

`python -m tests.comparing FIRST COUNT` compares that many seeds; the test of the same compares a
few hundred.
"""

from __future__ import annotations

import sys
from typing import Any

from tests.random_puppets import Shaker
from tests.simple_engine import SimpleEngine, plain_report
from yarn_puppet.core.engine.compiling.puppets import compile_puppet
from yarn_puppet.core.engine.fast.tick import fast_tick
from yarn_puppet.core.engine.plain.beginning import initial_state
from yarn_puppet.core.engine.plain.tick import tick
from yarn_puppet.core.engine.state import Inputs, Landed
from yarn_puppet.core.takes.sampling import Sampler


def compared(seed: int, ticks: int = 24) -> str | None:
    """What differs in a run, or None."""
    shaker = Shaker(seed)
    puppet = shaker.puppet()
    program = compile_puppet(puppet)
    fast, sampler, simple = fast_tick(program), Sampler(program), SimpleEngine(puppet)
    plain_state = fast_state = initial_state(program)
    down = {"a": False, "b": False, "c": False}
    news: list[Landed] = []
    stop = 0
    for number in range(ticks):
        down = {action: held != shaker.chance(3) for action, held in down.items()}
        senses: dict[str, Any] = shaker.senses()
        stop = max(0, stop - 1) if stop else 3 * shaker.chance(1)
        inputs = Inputs(tuple(down.values()), sampler.alone(tuple(senses.items())), tuple(news),
                        stop > 0,
                        shaker.edges())
        plain_state, report = tick(program, plain_state, inputs)
        fast_state, fast_report = fast(fast_state, inputs)
        if report != fast_report:
            return f"seed {seed}, tick {number}: plain {report} fast {fast_report}"
        if plain_state != fast_state:
            return f"seed {seed}, tick {number}: after plain {plain_state} fast {fast_state}"
        edges = dict(zip(down, inputs.edges, strict=True)) if inputs.edges else {}
        expected = simple.tick(
            dict(down), senses, [tuple(each) for each in news], stop > 0,
            edges)  # type: ignore[misc]
        found = plain_report(program, report)
        if any(repr(expected[key]) != repr(found[key]) for key in expected):
            return f"seed {seed}, tick {number}:\n" + "\n".join(
                f"  {key}: simple {expected[key]!r}\n  {' ' * len(key)}  engine {found[key]!r}"
                for key in expected if repr(expected[key]) != repr(found[key])
            )
        places = {layer.id: index for index, layer in enumerate(program.layers)}
        layers = {layer.layer: layer for layer in report.layers}
        news = [
            Landed(places[window.layer], layers[window.layer].visit,
                   layers[window.layer].cycle - window.late)
            for window in report.windows if shaker.chance(5)
        ]
        if shaker.chance(1):
            news.append(Landed(shaker.pick([-1, 0, 5]), shaker.pick([0, 1]), shaker.pick([0, 1])))
    return None


def main(arguments: list[str]) -> int:
    """Compare many; returns the exit code."""
    first, count = int(arguments[0]), int(arguments[1])
    differing = 0
    for seed in range(first, first + count):
        found = compared(seed)
        if found is not None:
            differing += 1
            print(found, flush=True)
            if differing >= 5:
                break
    print(f"{count} puppets, {differing} differ")
    return 1 if differing else 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
