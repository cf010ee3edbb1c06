"""What the world costs beside the puppet's own tick, and how fast takes run again: `python -m
bench.world`.

Pell under random hands in each booth that ships. Tick and step are timed in turns over the same
records; their ratio is the figure, since machines differ.
"""

from __future__ import annotations

from random import Random
from statistics import median
from time import perf_counter

from yarn_puppet.core.booth.booth import step
from yarn_puppet.core.booth.move_input import move_input_of
from yarn_puppet.core.formats.booth_file import load_booth
from yarn_puppet.core.formats.puppet_file import load_puppet
from yarn_puppet.core.takes.controls import Controls
from yarn_puppet.core.takes.run import Record, Setup, advance, set_up, start
from yarn_puppet.demo import DEMO_FOLDER, DEMO_PUPPET

ROUNDS, TICKS = 11, 1800
KEYS = ("left", "right", "up", "down", "jump", "attack", "guard", "run", "roll")


def random_hands(seed: int) -> list[Controls]:
    """Keys held and let go at random, about one change in a third of a second."""
    dice, down, found = Random(seed), set[str](), []
    for _ in range(TICKS):
        if dice.random() < 0.05:
            down ^= {dice.choice(KEYS)}
        found.append(Controls(frozenset(down)))
    return found


def played(setup: Setup, controls: list[Controls]) -> list[Record]:
    """A run."""
    state, records = start(setup), []
    for control in controls:
        record = advance(setup, state, control)
        state = record.after
        records.append(record)
    return records


def seconds(work: object) -> float:
    """How long a call takes."""
    begun = perf_counter()
    work()  # type: ignore[operator]
    return perf_counter() - begun


def main() -> None:
    """Each booth: tick and step in microseconds, their ratio, and how many times faster than real
    time a run is."""
    puppet = load_puppet(DEMO_PUPPET)
    for path in sorted(DEMO_FOLDER.glob("*.booth.json")):
        world = load_booth(path)
        setup = set_up(puppet, world)
        controls = random_hands(7)
        records = played(setup, controls)
        pressed = [move_input_of(puppet, record.controls.down, record.controls.axes)
                 for record in records]

        def ticks() -> None:
            for record in records:  # noqa: B023
                setup.tick(record.before.machine, record.inputs)  # noqa: B023

        def steps() -> None:
            for record, hand in zip(records, pressed, strict=True):  # noqa: B023
                if record.before.booth is not None:
                    step(world, puppet, record.before.booth, record.report, hand)  # noqa: B023

        found = [(seconds(ticks), seconds(steps),
                  seconds(lambda: played(setup, controls)))  # noqa: B023
                 for _ in range(ROUNDS)]
        tick, world_step, whole = (median(each) for each in zip(*found, strict=True))
        print(
            f"{world.name:>14}: tick {tick / TICKS * 1e6:6.1f} µs   step "
            f"{world_step / TICKS * 1e6:6.1f} µs   "
            f"{world_step / tick:5.2f} × the tick   run again {TICKS / 60 / whole:6.0f} × real time"
        )


if __name__ == "__main__":
    main()
