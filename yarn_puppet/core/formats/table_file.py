"""Tables as CSV (RFC 4180, UTF-8), for spreadsheets."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Sequence
from pathlib import Path

from .replacing import write_safely

DANGEROUS = ("=", "+", "-", "@", "\t", "\r")
"""What a spreadsheet takes for the beginning of a formula."""


def save_table(rows: Iterable[Sequence[object]], path: Path) -> None:
    """Write a table. Raises FileProblem."""
    write_safely(path, table_text(rows).encode())


def table_text(rows: Iterable[Sequence[object]]) -> str:
    """A table as text. A cell that a spreadsheet would run as a formula is quoted."""
    text = io.StringIO(newline="")
    csv.writer(text).writerows([[_plain(cell) for cell in row] for row in rows])
    return text.getvalue()


def _plain(cell: object) -> object:
    return f"'{cell}" if isinstance(cell, str) and cell.startswith(DANGEROUS) else cell
