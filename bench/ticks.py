"""Ticks a second of Pell's puppet beside the hand-written chain of ifs: `python -m bench.ticks`.

Both are given the same inputs, those of the demo's takes, and must see the same in every tick before they are
timed. They are timed in turns, and the ratio of the medians is the figure.
"""

from __future__ import annotations

from statistics import median
from time import perf_counter

from bench.chain import Chain, Seen
from yarn_puppet.core.engine.state import Inputs, Report
from yarn_puppet.core.engine.tick import initial_state, tick
from yarn_puppet.core.formats.booth_file import load_booth
from yarn_puppet.core.formats.puppet_file import load_puppet
from yarn_puppet.core.formats.take_file import load_take
from yarn_puppet.core.takes.run import Setup, replay, set_up
from yarn_puppet.demo import DEMO_BOOTH, DEMO_FOLDER, DEMO_PUPPET

ROUNDS = 25


def inputs_of_takes(setup: Setup) -> list[list[Inputs]]:
    """The engine's inputs in every tick of the demo's takes."""
    return [
        [record.inputs for record in replay(setup, load_take(path))] for path in sorted(DEMO_FOLDER.glob("*.take.json"))
    ]


def seen(report: Report) -> Seen:
    """A report in the chain's terms."""
    layer = report.layers[0]
    return Seen(
        layer.clip or "", layer.frame, report.facing, report.move_speed, report.lock_movement,
        tuple(fired.moment.name for fired in report.moments), tuple(each.window.name for each in report.windows),
    )


Named = tuple[dict[str, bool], dict[str, object], bool, bool]


def named(setup: Setup, inputs: Inputs) -> Named:
    """Inputs as the chain takes them."""
    program = setup.program
    down = dict(zip(program.actions, inputs.down, strict=True))
    senses = {sense.id: value for sense, value in zip(program.senses, inputs.senses, strict=True)}
    return down, senses, bool(inputs.landed), inputs.stopped


def run_engine(setup: Setup, takes: list[list[Inputs]]) -> list[Seen]:
    """Every tick of every take through the engine."""
    found = []
    for take in takes:
        state = initial_state(setup.program)
        for inputs in take:
            state, report = tick(setup.program, state, inputs)
            found.append(report)
    return found  # type: ignore[return-value]


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
    setup = set_up(load_puppet(DEMO_PUPPET), load_booth(DEMO_FOLDER / DEMO_BOOTH))
    takes = inputs_of_takes(setup)
    by_name = [[named(setup, inputs) for inputs in take] for take in takes]
    engine = [seen(report) for report in run_engine(setup, takes)]  # type: ignore[arg-type]
    chain = run_chain(by_name)
    for number, (one, other) in enumerate(zip(engine, chain, strict=True)):
        if one != other:
            raise SystemExit(f"tick {number}: the engine sees {one}, the chain {other}")
    count = len(engine)
    times: dict[str, list[float]] = {"engine": [], "chain": []}
    for _ in range(ROUNDS):
        for name, work in (("engine", lambda: run_engine(setup, takes)), ("chain", lambda: run_chain(by_name))):
            start = perf_counter()
            work()
            times[name].append(perf_counter() - start)
    middle = {name: median(each) for name, each in times.items()}
    print(f"{count} ticks, the same in both; medians of {ROUNDS} rounds in turns")
    for name, seconds in middle.items():
        spread = f"{min(times[name]):.4f} to {max(times[name]):.4f} s a round"
        print(f"{name:>7}: {count / seconds:9.0f} ticks/s  ({spread})")
    print(f"  ratio: the engine takes {middle['engine'] / middle['chain']:.2f} times as long as the chain")


if __name__ == "__main__":
    main()
