"""The tables of a program as C: structs for their rows, and arrays of them."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from ..flat import FACING_TEXTS, NONE, Flat, Row
from ..trees import number

ROWS: dict[str, tuple[str, str]] = {
    "states": ("state_row", "i:layer i:group i:clip i:spread i:spread_count i:axis_count i2:along d2:spans d:hold "
               "d:speed l:advance i:speed_of d:low d:high d:slow d:fast i:rules i:rule_count i:entering "
               "i:entering_count i:leaving i:leaving_count i:overriding i:overriding_count i:plain i:plain_count "
               "i:forced i:forced_count d:move_speed d:gravity d:jump_height b:lock_movement b:lock_facing b:safe "
               "i:deaf i:deaf_count"),
    "groups": ("group_row", "i:group i:start i:memory i:rules i:rule_count i:overriding i:overriding_count i:plain "
               "i:plain_count"),
    "transitions": ("transition_row", "i:target i:condition i:leave l:after i:window b:reenters l:blend i:easing "
                    "b:frozen"),
    "layers": ("layer_row", "i:start i:first d:weight i:shown_when l:rise l:fall"),
    "clips": ("clip_row", "l:cycle b:loops i:parts i:part_count i:moments i:moment_count i:windows i:window_count"),
    "parts": ("part_row", "l:end i:frame l:local b:backwards"),
    "moments": ("moment_row", "l:at b:only_on_hit i:key i:deeds i:deed_count"),
    "windows": ("window_row", "l:start l:end i:frame b:held i:name i:also i:into i:into_count i:rules i:rule_count "
                "b:safe"),
    "placed": ("placed_row", "i:clip d2:place"),
    "rules": ("rule_row", "i:kind d:value i:number l:rise l:fall i:place i:owner b:of_window d:to d:whole"),
    "deeds": ("deed_row", "i:kind i:place i:value i:value_type"),
    "actions": ("action_row", "i:intents i:intent_count"),
    "intents": ("intent_row", "i:action i:gesture l:threshold l:life b:family b:even_if_used i:touches i:touch_count "
                "i:steps i:step_count i:sequence"),
    "senses": ("sense_row", "i:type d:start i:choices i:choice_count b:event l:wraps l:life"),
    "memos": ("memo_row", "i:type d:start i:choices i:choice_count b:event l:wraps l:life"),
    "thresholds": ("threshold_row", "i:kind i:place d:on d:off"),
}
"""The struct of a table's rows, and its fields: i an int32_t, l an int64_t, d a double, b a bool; 2: two of them."""
PLAIN = ("into", "intents_of", "touches", "steps", "choices", "deaf", "forced")
"""Tables of one number a row."""
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
    firsts = [f"    {row[1]}" for row in made.tables["layers"]]
    found.append(_array("int32_t", "FIRST_STATES", firsts or ["    0"]))
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


_DEGREES = dict(zip(FACING_TEXTS, (0.0, 45.0, 90.0, 135.0, 180.0, 225.0, 270.0, 315.0), strict=True))


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
