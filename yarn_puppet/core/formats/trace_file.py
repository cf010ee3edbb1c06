"""Traces as JSON lines, as a CSV table, or as a value change dump."""

from __future__ import annotations

import csv
import json
from collections.abc import Callable, Iterable, Iterator
from pathlib import Path
from typing import Any, NamedTuple, TextIO

from .errors import FileProblem
from .replacing import written_safely
from .vcd_file import write_vcd


def write_json_lines(lines: Iterable[dict[str, Any]], out: TextIO) -> None:
    """One JSON object a line."""
    for line in lines:
        out.write(json.dumps(line, ensure_ascii=False) + "\n")


Lines = Callable[[], Iterable[dict[str, Any]]]
"""Gives the lines of a trace, as often as they are asked for: however many there are, none is
kept."""


def write_table(lines: Lines, out: TextIO) -> None:
    """A table with a header row; `lines` are flat. A column that a line lacks is left empty."""
    columns: dict[str, None] = {}
    for row in lines():
        columns |= dict.fromkeys(row)
    writer = csv.DictWriter(out, list(columns))
    writer.writeheader()
    writer.writerows(lines())


def flat_lines(lines: Iterable[dict[str, Any]]) -> Iterator[dict[str, Any]]:
    """Trace lines for a table: nested values get dotted column names, lists are joined by
    spaces."""
    for line in lines:
        yield dict(_flat("", line))


def _flat(prefix: str, value: Any) -> Iterator[tuple[str, Any]]:
    if isinstance(value, dict):
        for key, inner in value.items():
            yield from _flat(f"{prefix}.{key}" if prefix else str(key), inner)
    elif isinstance(value, list):
        # One cell a list, so that every line of the table has the same columns.
        yield prefix, " ".join(
            str(each.get("name") or each.get("to") or each.get("target"))
            if isinstance(each, dict) else str(each)
            for each in value
        )
    else:
        yield prefix, value


class TraceFormat(NamedTuple):
    """A format of traces: what it is called, how a file of it begins, and how it is written: of the
    lines of a run with so many ticks a second."""

    words: str
    begins: Callable[[bytes], bool]
    write: Callable[[Lines, int, TextIO], None]


TRACES: dict[str, TraceFormat] = {
    ".jsonl": TraceFormat("trace of JSON lines", lambda head: head.startswith(b'{"tick"'),
                          lambda lines, rate, out: write_json_lines(lines(), out)),
    ".csv": TraceFormat("trace as a table", lambda head: head.startswith(b"tick,"),
                        lambda lines, rate, out: write_table(lambda: flat_lines(lines()), out)),
    ".vcd": TraceFormat("value change dump", lambda head: head.lstrip().startswith(b"$"),
                        write_vcd),
}
"""By the suffix of a file."""


def save_trace(lines: Lines, rate: int, path: Path) -> None:
    """Write a trace of a run with so many ticks a second as the file's name says, safely. Raises
    FileProblem."""
    kind = TRACES.get(path.suffix)
    if kind is None:
        raise FileProblem(path, "", f"expected a name that ends in {', '.join(TRACES)}")
    with written_safely(path) as file:
        kind.write(lines, rate, file)
