"""Golden traces: what goes into each tick of the kept takes and digests of what comes out, and a runner a language.

A game's own build runs them, and so proves that it runs what was shown. `NAME.golden.txt` is read by all runners.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from pathlib import Path

from ..engine.program import Program
from ..engine.state import Inputs, Report
from ..generate.c.source import input_names as c_inputs
from ..generate.flat import Flat, flat
from ..generate.javascript.source import input_names as javascript_inputs
from .report_numbers import PARTS, ReportNumbers

RUNTIME = Path(__file__).parent / "runners"
HEAD = "yarn-puppet golden 1"
Ticks = Sequence[tuple[Inputs, Report]]


def golden_text(program: Program, takes: Iterable[tuple[str, Ticks]]) -> str:
    """The file: a line a take with its ticks counted, then a line a tick.

    In it stand the actions, 1 where one is down, and 2 more for each edge where there were more than that tells; the
    senses, whether it is stopped, how many hits landed and each of them, and
    a digest of each part of the report, in hexadecimal.
    """
    made = flat(program)
    numbers = ReportNumbers(made)
    lines = [HEAD]
    for name, ticks in takes:
        lines.append(f"take {len(ticks)} {' '.join(name.split())}")
        lines += [" ".join((*_told(made, inputs), *(f"{each:08x}" for each in numbers.digests(report))))
                  for inputs, report in ticks]
    return "\n".join([*lines, ""])


def _told(made: Flat, inputs: Inputs) -> Iterator[str]:
    for place, held in enumerate(inputs.down):
        yield str(int(held) + 2 * (min(255, inputs.edges[place]) if inputs.edges else 0))
    for sense, value in zip(made.program.senses, inputs.senses, strict=True):
        if isinstance(value, str):
            yield str(made.texts.index(value))
        else:
            yield repr(float(value)) if sense.type == "float" else str(int(value))
    yield str(int(inputs.stopped))
    yield str(len(inputs.landed))
    for news in inputs.landed:
        yield f"{news.layer} {news.visit} {news.loops}"


def c_runner(program: Program, name: str) -> dict[str, str]:
    """`NAME_test.c`."""
    actions, senses = c_inputs(program)
    reads = [f'    if (fscanf(from, "%d", &number) != 1) return broken(take);\n    in.{each} = (number & 1) != 0;\n'
             f"    in.edges[{place}] = (uint8_t)(number >> 1);" for place, each in enumerate(actions)]
    for sense, each in zip(program.senses, senses, strict=True):
        form, variable, value = {
            "bool": ("%d", "number", "number != 0"), "int": ("%lld", "wide", "wide"),
            "float": ("%lf", "value", "value"), "choice": ("%d", "number", f"({name}_choice)number"),
        }[sense.type]
        reads.append(f'    if (fscanf(from, "{form}", &{variable}) != 1) return broken(take);\n'
                     f"    in.{each} = {value};")
    text = (RUNTIME / "test.c").read_text(encoding="utf-8").replace("@READ@", "\n".join(reads))
    return {f"{name}_test.c": text.replace("@UPPER@", name.upper()).replace("@", name)}


def javascript_runner(program: Program, name: str) -> dict[str, str]:
    """`NAME_test.mjs`."""
    actions, senses = javascript_inputs(program)
    kinds = [sense.type for sense in program.senses]
    text = (RUNTIME / "test.mjs").read_text(encoding="utf-8")
    return {f"{name}_test.mjs": text.replace("@ACTIONS@", repr(actions)).replace("@SENSES@", repr(senses)).replace(
        "@KINDS@", repr(kinds)).replace("@PARTS@", repr(list(PARTS))).replace("@NAME@", name)}


def python_runner(program: Program, name: str) -> dict[str, str]:
    """`NAME_test.py`."""
    text = (RUNTIME / "test.py.txt").read_text(encoding="utf-8")
    return {f"{name}_test.py": text.replace("@PARTS@", repr(list(PARTS))).replace("@NAME@", name)}


RUNNERS = {"c": c_runner, "javascript": javascript_runner, "python": python_runner}
"""By language what runs the traces, by file name."""
