"""Traces as JSON lines, as a CSV table, or as a value change dump."""

from __future__ import annotations

import csv
import json
from collections.abc import Callable, Iterable, Iterator
from pathlib import Path
from typing import Any, TextIO

from .errors import FileProblem
from .replacing import written_safely
from .vcd_file import write_vcd


def write_json_lines(lines: Iterable[dict[str, Any]], out: TextIO) -> None:
    """One JSON object a line."""
    for line in lines:
        out.write(json.dumps(line, ensure_ascii=False) + "\n")


Lines = Callable[[], Iterable[dict[str, Any]]]
"""Gives the lines of a trace, as often as they are asked for: however many there are, none is kept."""


def write_table(lines: Lines, out: TextIO) -> None:
    """A table with a header row; `lines` are flat. A column that a line lacks is left empty."""
    columns: dict[str, None] = {}
    for row in lines():
        columns |= dict.fromkeys(row)
    writer = csv.DictWriter(out, list(columns))
    writer.writeheader()
    writer.writerows(lines())


def flat_lines(lines: Iterable[dict[str, Any]]) -> Iterator[dict[str, Any]]:
    """Trace lines for a table: nested values get dotted column names, lists are joined by spaces."""
    for line in lines:
        yield dict(_flat("", line))


def _flat(prefix: str, value: Any) -> Iterator[tuple[str, Any]]:
    if isinstance(value, dict):
        for key, inner in value.items():
            yield from _flat(f"{prefix}.{key}" if prefix else str(key), inner)
    elif isinstance(value, list):
        # One cell a list, so that every line of the table has the same columns.
        yield prefix, " ".join(
            str(each.get("name") or each.get("to") or each.get("target")) if isinstance(each, dict) else str(each)
            for each in value
        )
    else:
        yield prefix, value


TRACES: dict[str, Callable[[Lines, int, TextIO], None]] = {
    ".jsonl": lambda lines, rate, out: write_json_lines(lines(), out),
    ".csv": lambda lines, rate, out: write_table(lambda: flat_lines(lines()), out),
    ".vcd": write_vcd,
}
"""How a trace is written, by the suffix of its file."""


def save_trace(lines: Lines, rate: int, path: Path) -> None:
    """Write a trace of a run with so many ticks a second as the file's name says, safely. Raises FileProblem."""
    write = TRACES.get(path.suffix)
    if write is None:
        raise FileProblem(path, "", f"expected a name that ends in {', '.join(TRACES)}")
    with written_safely(path) as file:
        write(lines, rate, file)
