"""Ticks a second of Pell's puppet beside the hand-written chain of ifs: `python -m bench.ticks`.

All are given the same inputs, those of the demo's takes, and must see the same in every tick before
they are timed. They are timed in turns, whole rounds and single ticks; the ratios of the medians,
and of the 99th percentiles, are the figures.
"""

from __future__ import annotations

from collections.abc import Callable
from statistics import median
from time import perf_counter

from bench.chain import Chain, Seen
from yarn_puppet.core.engine.fast.tick import Tick
from yarn_puppet.core.engine.plain.beginning import initial_state
from yarn_puppet.core.engine.plain.tick import tick
from yarn_puppet.core.engine.state import Inputs, Report
from yarn_puppet.core.formats.booth_file import load_booth
from yarn_puppet.core.formats.puppet_file import load_puppet
from yarn_puppet.core.formats.take_file import load_take
from yarn_puppet.core.takes.run import Setup, replay, set_up
from yarn_puppet.demo import DEMO_BOOTH, DEMO_FOLDER, FIRST_STEPS

ROUNDS = 25


def inputs_of_takes(setup: Setup) -> list[list[Inputs]]:
    """The engine's inputs in every tick of the demo's takes."""
    return [
        [record.inputs for record in replay(setup, take)]
        for take in map(load_take, sorted(DEMO_FOLDER.glob("*.take.json")))
        if take.booth == DEMO_BOOTH
    ]


def seen(report: Report) -> Seen:
    """A report in the chain's terms."""
    layer = report.layers[0]
    return Seen(
        layer.clip or "", layer.frame, report.facing, report.move_speed, report.lock_movement,
        tuple(fired.moment.name for fired in report.moments),
        tuple(window.window.name for window in report.windows),
    )


Named = tuple[dict[str, bool], dict[str, object], bool, bool]


def named(setup: Setup, inputs: Inputs) -> Named:
    """Inputs as the chain takes them."""
    program = setup.program
    down = dict(zip(program.actions, inputs.down, strict=True))
    senses = {sense.id: value for sense, value in zip(program.senses, inputs.senses, strict=True)}
    return down, senses, bool(inputs.landed), inputs.stopped


def run_engine(setup: Setup, takes: list[list[Inputs]], step: Tick) -> list[Report]:
    """Every tick of every take through an engine."""
    found = []
    for take in takes:
        state = initial_state(setup.program)
        for inputs in take:
            state, report = step(state, inputs)
            found.append(report)
    return found


def single_ticks(
    setup: Setup, takes: list[list[Inputs]], by_name: list[list[Named]]
) -> dict[str, list[float]]:
    """How long each single tick took, of the fast engine and of the chain, in turns."""
    times: dict[str, list[float]] = {"fast": [], "chain": []}
    for take, names in zip(takes, by_name, strict=True):
        state, chain = initial_state(setup.program), Chain()
        for inputs, name in zip(take, names, strict=True):
            start = perf_counter()
            state, _ = setup.tick(state, inputs)
            middle = perf_counter()
            chain.step(*name)
            times["fast"].append(middle - start)
            times["chain"].append(perf_counter() - middle)
    return times


def run_chain(takes: list[list[Named]]) -> list[Seen]:
    """Every tick of every take through the chain."""
    found = []
    for take in takes:
        chain = Chain()
        for inputs in take:
            found.append(chain.step(*inputs))
    return found


def main() -> None:
    """Check that both see the same, then time them in turns."""
    setup = set_up(load_puppet(FIRST_STEPS), load_booth(DEMO_FOLDER / DEMO_BOOTH))
    takes = inputs_of_takes(setup)
    by_name = [[named(setup, inputs) for inputs in take] for take in takes]
    engines: dict[str, Tick] = {
        "fast": setup.tick, "plain": lambda state, inputs: tick(setup.program, state, inputs),
    }
    chain = run_chain(by_name)
    for name, step in engines.items():
        for number, (one, other) in enumerate(zip(
            run_engine(setup, takes, step), chain, strict=True)):
            if seen(one) != other:
                raise SystemExit(
                    f"tick {number}: the {name} engine sees {seen(one)}, the chain {other}"
                )
    count = len(chain)
    works: dict[str, Callable[[], object]] = {
        name: lambda step=step: run_engine(setup, takes, step)
        for name, step in engines.items()  # type: ignore[misc]
    }
    works["chain"] = lambda: run_chain(by_name)
    times: dict[str, list[float]] = {name: [] for name in works}
    for _ in range(ROUNDS):
        for name, work in works.items():
            start = perf_counter()
            work()
            times[name].append(perf_counter() - start)
    middle = {name: median(each) for name, each in times.items()}
    print(f"{count} ticks, the same in all; medians of {ROUNDS} rounds in turns")
    for name, seconds in middle.items():
        spread = f"{min(times[name]):.4f} to {max(times[name]):.4f} s a round"
        print(
            f"{name:>6}: {count / seconds:9.0f} ticks/s  ({spread})  "
            f"{seconds / middle['chain']:.2f} times the chain"
        )
    singles: dict[str, list[float]] = {"fast": [], "chain": []}
    for _ in range(ROUNDS):
        for name, each in single_ticks(setup, takes, by_name).items():
            singles[name] += each
    late = {name: sorted(each)[len(each) * 99 // 100] * 1e6 for name, each in singles.items()}
    print(
        f"single ticks, 99th percentile: fast {late['fast']:.1f} µs, chain {late['chain']:.1f} µs, "
        f"{late['fast'] / late['chain']:.2f} times"
    )


if __name__ == "__main__":
    main()
