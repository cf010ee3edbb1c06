"""What grows with the puppet and with the run, and what must not: `python -m bench.growth`.

Each figure is a ratio of two medians taken in turns in one run, or a percentile.
"""

from __future__ import annotations

import gc
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from statistics import median
from time import perf_counter

from msgspec.structs import replace

from bench.large import large_puppet
from yarn_puppet.core.engine.compiling.puppets import compile_puppet
from yarn_puppet.core.engine.fast.tick import fast_tick
from yarn_puppet.core.engine.plain.beginning import initial_state
from yarn_puppet.core.engine.state import Inputs
from yarn_puppet.core.formats.booth_file import load_booth
from yarn_puppet.core.formats.puppet_file import load_puppet, save_puppet
from yarn_puppet.core.model.edits import graph as edits
from yarn_puppet.core.model.edits.frames import frames as frame_edits
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.snags.check import check
from yarn_puppet.core.takes.controls import Controls
from yarn_puppet.core.takes.recording import Recording, run_again
from yarn_puppet.core.takes.run import set_up
from yarn_puppet.core.takes.sampling import Sampler
from yarn_puppet.demo import DEMO_BOOTH, DEMO_FOLDER, FIRST_STEPS

ROUNDS = 7
BAR = 1.3
"""How many times as long as among 1,000 one state of a larger puppet may take to check."""
CYCLE = ("right", "right", "", "attack", "", "jump", "guard", "", "left", "left")


def timed(work: Callable[[], object]) -> float:
    """Seconds a piece of work takes."""
    start = perf_counter()
    work()
    return perf_counter() - start


def pressed(ticks: int) -> list[Controls]:
    """Hands that walk, strike, jump and guard."""
    made = {action: Controls(frozenset((action,) if action else ())) for action in set(CYCLE)}
    return [made[CYCLE[number // 20 % len(CYCLE)]] for number in range(ticks)]


def bench_states() -> None:
    """The same tick, the same two states going round, in puppets of more and more states."""
    runs = {}
    for count in (10, 100, 1000, 10_000):
        program = compile_puppet(_two_going_round(large_puppet(count)))
        inputs = Inputs((False,) * len(program.actions), Sampler(program).starts)
        runs[count] = (fast_tick(program), initial_state(program), inputs)
    times: dict[int, list[float]] = {count: [] for count in runs}
    for _ in range(ROUNDS * 3):
        for count, (step, state, inputs) in runs.items():
            start = perf_counter()
            for _ in range(1000):
                state, _ = step(state, inputs)
            times[count].append(perf_counter() - start)
    first = median(times[10])
    for count, each in times.items():
        middle = median(each)
        print(
            f"a tick with {count:>6} states: {middle * 1e3:6.2f} µs, {middle / first:.2f} times "
            "that with 10"
        )


def _two_going_round(puppet: Puppet) -> Puppet:
    quick = replace(puppet.transitions[0], when="elapsed > 0.1")
    there = replace(quick, id="there", source="s0", target="s1")
    back = replace(quick, id="back", source="s1", target="s0")
    others = tuple(transition
                   for transition in puppet.transitions
                   if transition.source not in ("s0", "s1", "g0"))
    return replace(puppet, transitions=(there, back, *others))


def bench_compiling() -> bool:
    """Compiling and checking beside reading the file; of ten times the states beside ten times
    over, in turns."""
    puppets, programs, reads = {}, {}, []
    with tempfile.TemporaryDirectory() as folder:
        for count in (1000, 10_000):
            path = Path(folder) / f"{count}.puppet.json"
            save_puppet(large_puppet(count), path)
            puppets[count] = load_puppet(path)
            programs[count] = compile_puppet(puppets[count])
        small = Path(folder) / "1000.puppet.json"
        works: dict[str, Callable[[int], object]] = {
            "compile": lambda count: compile_puppet(puppets[count]),
            "check": lambda count: check(puppets[count], programs[count]),
        }
        times: dict[tuple[str, int], list[float]] = {
            (name, count): [] for name in works for count in puppets}
        for _ in range(ROUNDS):
            reads.append(timed(lambda: load_puppet(small)))
            for name, work in works.items():
                times[name, 1000].append(timed(
                    lambda work=work: [work(1000) for _ in range(10)]) / 10)
                times[name, 10_000].append(timed(lambda work=work: work(10_000)))
    middle = {key: median(each) for key, each in times.items()}
    for name in works:
        ratio = median([large / few
                        for large, few in zip(times[name, 10_000], times[name, 1000], strict=True)])
        print(
            f"{name} of 1,000 states: {middle[name, 1000] * 1e3:.0f} ms; of 10,000 {ratio:.1f} "
            "times"
        )
    ratio = middle["compile", 1000] / median(reads)
    print(f"compiling 1,000 states takes {ratio:.1f} times as long as reading their file")
    bench_edits(puppets[1000])
    return bench_checking()


def bench_checking() -> bool:
    """A whole check, compiling included, of puppets in which every condition is another; whether
    each state takes as long however many there are, to within `BAR`."""
    puppets = {count: _all_different(large_puppet(count)) for count in (300, 1000, 3000, 10_000)}
    times: dict[int, list[float]] = {count: [] for count in puppets}
    for _ in range(3):
        for count, puppet in puppets.items():
            times[count].append(timed(lambda puppet=puppet: check(puppet)) / count)
    first, kept = times[1000], True
    for count, each in times.items():
        ratio = median([one / other for one, other in zip(each, first, strict=True)])
        print(
            f"check of {count:>6} states, {4 * count:>6} different conditions: "
            f"{median(each) * 1e6:.0f} µs a state, "
            f"{ratio:.2f} times that with 1,000{'   over the bar' * (ratio > BAR)}"
        )
        kept = kept and ratio <= BAR
    return kept


def _all_different(puppet: Puppet) -> Puppet:
    return replace(puppet, transitions=tuple(
        replace(each, when=f"{each.when or 'grounded'} and elapsed > {number}.5")
        for number, each in enumerate(puppet.transitions)))


def bench_edits(puppet: Puppet) -> None:
    """One edit of a large puppet compiled, as the desk does at every edit."""
    program = compile_puppet(puppet)
    kinds = {
        "a condition": edits.transition_changed(
            puppet, puppet.transitions[1000].id, when="speed > 7"),
        "a duration": frame_edits.frame_changed(puppet, "c5", 0, duration=33.0),
        "a state added": edits.state_added(puppet, "New", "c1", "g1")[0],
        "a state removed": edits.state_removed(puppet, "s50"),
        "a state renamed": edits.state_changed(puppet, "s40", name="Other"),
        "a transition added": edits.transition_added(puppet, "s1", "s60", "grounded")[0],
    }
    gc.disable()  # as the desk does: the window's thread collects, by a timer
    for name, edited in kinds.items():
        took = sorted(timed(lambda edited=edited: compile_puppet(edited, program))
                      for _ in range(15))
        print(
            f"{name} in 1,000 states compiled in {median(took) * 1e3:.1f} ms (p95 "
            f"{took[13] * 1e3:.1f})"
        )
    gc.enable()


def bench_running() -> None:
    """Ten minutes run again with the booth; the longest pause while playing; memory a recorded
    minute."""
    puppet, world = load_puppet(FIRST_STEPS), load_booth(DEMO_FOLDER / DEMO_BOOTH)
    gc.collect()
    setup, controls = set_up(puppet, world), pressed(36_000)
    start = perf_counter()
    for _ in run_again(setup, controls):
        pass
    seconds = perf_counter() - start
    print(
        f"36,000 ticks with the booth run again in {seconds:.2f} s: {600 / seconds:.0f} times real "
        "time"
    )
    *_, records = run_again(setup, controls[:6000])
    given = [(record.before.machine, record.inputs) for record in records]
    alone = timed(lambda: [setup.tick(*each) for each in given])
    print(f"of which the tick alone {alone * 6:.2f} s, the booth, senses and records the rest")
    recording, longest = Recording(puppet, world, None), 0.0
    gc.disable()  # as the desk does: the window's thread collects, by a timer
    for number, now in enumerate(pressed(110_000)):
        began = perf_counter()
        recording.step(now)
        if number % 60 == 0:
            gc.collect(1)
        if number > 100_000:
            longest = max(longest, perf_counter() - began)
        if number % 1000 == 0:
            time.sleep(0)
    gc.enable()
    print(f"the longest pause while playing with 100,000 ticks recorded: {longest * 1e3:.1f} ms")
    print(f"they hold about {recording.weight / 2**20:.0f} MB")
    weights = {}
    for count in (10, 1000):
        run = Recording(_two_going_round(large_puppet(count)), world, None)
        for now in pressed(3600):
            run.step(now)
        weights[count] = run.weight
    more = weights[1000] / weights[10]
    print(
        f"a recorded minute: {weights[10] / 2**20:.2f} MB with 10 states, {more:.2f} times that "
        "with 1,000"
    )


def main() -> int:
    """All of them; 1 where a bar is not kept."""
    bench_states()
    kept = bench_compiling()
    bench_running()
    return 0 if kept else 1


if __name__ == "__main__":
    sys.exit(main())
