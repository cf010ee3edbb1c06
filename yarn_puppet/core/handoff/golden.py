"""Golden traces: what goes into each tick of the kept takes and digests of what comes out.

A game's own build runs them, and so proves that it runs what was shown. `NAME.golden.txt` is read
by all runners.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence

from ..engine.program import Program
from ..engine.state import Inputs, Report
from ..generate.flat import Flat, flat
from ..generate.report_numbers import ReportNumbers

HEAD = "yarn-puppet golden 2"
Ticks = Sequence[tuple[Inputs, Report]]


def golden_text(program: Program, takes: Iterable[tuple[str, int, int, Ticks]]) -> str:
    """The file: a line a take with its ticks counted and the number of the skin it is played in
    and the seed of its dice, then a line a tick.

    In it stand the actions, 1 where one is down, and 2 more for each edge where there were more
    than that tells; the senses, whether it is stopped, how many hits landed and each of them, and a
    digest of each part of the report, in hexadecimal.
    """
    made = flat(program)
    numbers = ReportNumbers(made)
    lines = [HEAD]
    for name, skin, seed, ticks in takes:
        lines.append(f"take {len(ticks)} {skin} {seed} {' '.join(name.split())}")
        lines += [" ".join((*_inputs(made, inputs),
                            *(f"{digest:08x}" for digest in numbers.digests(report))))
                  for inputs, report in ticks]
    return "\n".join([*lines, ""])


def _inputs(made: Flat, inputs: Inputs) -> Iterator[str]:
    for index, held in enumerate(inputs.down):
        yield str(int(held) + 2 * (min(255, inputs.edges[index]) if inputs.edges else 0))
    for sense, value in zip(made.program.senses, inputs.senses, strict=True):
        if isinstance(value, str):
            yield str(made.texts.index(value))
        else:
            yield repr(float(value)) if sense.type == "float" else str(int(value))
    yield str(int(inputs.stopped))
    yield str(len(inputs.landed))
    for news in inputs.landed:
        yield f"{news.layer} {news.visit} {news.cycle}"
