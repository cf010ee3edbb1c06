"""Compares generated code with our own engine over many random puppets, in every field of every
tick.

`python -m tests.many_puppets c,javascript,python 20000 300` does it for so many puppets and ticks,
a batch at a time; a fourth number is the first puppet, so that several processes can share the
work. What is left out is all three, 300 puppets of 300 ticks, from the first. `c` compiles a batch
as one program, `each` every puppet's own C as a game would, which takes a quarter of a second each.
The tests of every run do the same for a few.
"""

from __future__ import annotations

import sys
import tempfile
import types
from collections.abc import Callable, Sequence
from pathlib import Path

from tests import c_engine, c_together, js_engine
from tests.c_engine import Case
from tests.random_cases import random_case
from yarn_puppet.core.engine.fast.tick import fast_tick
from yarn_puppet.core.engine.plain.beginning import initial_state
from yarn_puppet.core.languages.python.source import python_module

BATCH = 100
MOST_SHOWN_DIFFERENCES = 5
"""Puppets that differ, after which no more are looked at."""


def of_python(cases: Sequence[Case], _: Path) -> list[str]:
    """What the generated module, or the fast tick, of these cases does not report as our own
    engine."""
    wrong = []
    for number, case in enumerate(cases):
        made = types.ModuleType(f"case_{number}")
        sys.modules[made.__name__] = made
        exec(compile(python_module(case.program), made.__name__, "exec"), made.__dict__)
        fast, state, fast_state = fast_tick(case.program), made.START, initial_state(case.program)
        for given, report in zip(case.inputs, case.reports, strict=True):
            landed = tuple(made.Landed(*news) for news in given.landed)
            state, report_there = made.tick(
                made.PROGRAM, state, made.Inputs(
                    given.down, given.senses, landed, given.stopped, given.edges))
            fast_state, of_fast = fast(fast_state, given)
            # Reports are tuples of tuples, so that those of the module's own classes are equal to
            # ours where all is.
            if of_fast != report or report_there != report:
                wrong.append(f"case {number}, tick {report.tick}: {report}")
                break
        del sys.modules[made.__name__]
    return wrong


LANGUAGES: dict[str, Callable[[Sequence[Case], Path], list[str]]] = {
    "c": c_together.differing,
    "each": lambda cases, folder: c_engine.differing(cases, folder, "-O0"),
    "javascript": js_engine.differing, "python": of_python}


def main(arguments: Sequence[str]) -> int:
    """Compare, and tell how many were the same; 1 where some were not. Raises CalledProcessError
    where a compiler takes none."""
    languages = (arguments[0] if arguments else "c,javascript,python").split(",")
    puppets, ticks, first = [*map(int, arguments[1:]), *(300, 300, 0)[len(arguments[1:]):]]
    wrong = dict.fromkeys(languages, 0)
    for begin in range(first, first + puppets, BATCH):
        seeds = range(begin, min(begin + BATCH, first + puppets))
        cases = [random_case(seed, ticks) for seed in seeds]
        for language in languages:
            with tempfile.TemporaryDirectory() as folder:
                found = LANGUAGES[language](cases, Path(folder))
            for each in found:
                print(f"{language}, puppets from {begin}: {each}", flush=True)
            wrong[language] += len(found)
        differ = ", ".join(f"{number} differ in {language}" for language, number in wrong.items())
        if (
            sum(wrong.values()) >= MOST_SHOWN_DIFFERENCES
            or begin % (10 * BATCH) == 0
            or seeds.stop == first + puppets
        ):
            print(f"{seeds.stop - first} puppets of {ticks} ticks: {differ}", flush=True)
        if sum(wrong.values()) >= MOST_SHOWN_DIFFERENCES:
            break
    return int(any(wrong.values()))


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
