"""Traces as JSON lines or as a CSV table."""

from __future__ import annotations

import csv
import json
from collections.abc import Iterable
from typing import Any, TextIO

SUFFIXES = (".jsonl", ".csv")


def write_json_lines(lines: Iterable[dict[str, Any]], out: TextIO) -> None:
    """One JSON object a line."""
    for line in lines:
        out.write(json.dumps(line, ensure_ascii=False) + "\n")


def write_table(lines: Iterable[dict[str, Any]], out: TextIO) -> None:
    """A table with a header row; `lines` are flat. A column that a line lacks is left empty."""
    rows = list(lines)
    columns = list(dict.fromkeys(column for row in rows for column in row))
    writer = csv.DictWriter(out, columns)
    writer.writeheader()
    writer.writerows(rows)
