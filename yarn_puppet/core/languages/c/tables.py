"""The tables of a program as C: structs for their rows, and arrays of them."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from ...generate.columns import PLAIN, ROWS, cell
from ...generate.flat import FACING_TEXTS, NONE, Flat, Row
from ...generate.trees import number

KINDS = {"i": "int32_t", "l": "int64_t", "d": "double", "b": "bool"}


def structs() -> str:
    """The structs of all tables' rows."""
    made = []
    for name, fields in ROWS.values():
        lines = []
        for field in fields.split():
            kind, _, each = field.partition(":")
            lines.append(f"    {KINDS[kind[0]]} {each}{'[2]' if kind[1:] else ''};")
        made.append("typedef struct {\n" + "\n".join(lines) + f"\n}} {name};\n")
    return "\n".join(made)


def arrays(made: Flat) -> str:
    """All tables of a program."""
    found = []
    for table, (struct, fields) in ROWS.items():
        kinds = [field.partition(":")[0] for field in fields.split()]
        rows = [f"    {{{_row(row, kinds)}}}" for row in made.tables[table]]
        found.append(_array(struct, table.upper(), rows or [f"    {{{_row((0,) * 64, kinds)}}}"]))
    for table in PLAIN:
        rows = [f"    {_whole(row[0])}" for row in made.tables[table]]
        found.append(_array("int32_t", table.upper(), rows or ["    0"]))
    first_states = [f"    {cell('layers', row, 'first')}" for row in made.tables["layers"]]
    found.append(_array("int32_t", "FIRST_STATES", first_states or ["    0"]))
    degrees = [f"    {_DEGREES.get(text, 0.0)!r}" for text in FACING_TEXTS]
    found.append(_array("double", "DEGREES", degrees))
    return "\n".join(found)


def _row(row: Row, kinds: Sequence[str]) -> str:
    cells, at = [], 0
    for kind in kinds:
        if kind[1:]:
            cells.append(f"{{{_cell(row[at], kind[0])}, {_cell(row[at + 1], kind[0])}}}")
            at += 2
        else:
            cells.append(_cell(row[at], kind[0]))
            at += 1
    return ", ".join(cells)


_DEGREES = dict(zip(FACING_TEXTS, (0.0, 45.0, 90.0, 135.0, 180.0, 225.0, 270.0, 315.0),
                    strict=True))


def _whole(value: int) -> str:
    return "NOWHERE" if value == NONE else str(value)


def _cell(value: Any, kind: str) -> str:
    if kind == "b":
        return "true" if value else "false"
    if kind == "d":
        return number(value)
    return f"INT64_C({int(value)})" if kind == "l" else _whole(int(value))


def _array(kind: str, name: str, rows: Sequence[str]) -> str:
    body = ",\n".join(rows)
    return f"static const {kind} {name}[] = {{\n{body}\n}};\n"
