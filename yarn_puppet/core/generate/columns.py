"""What stands in each column of the flat tables: the same in every language that holds them."""

from __future__ import annotations

from collections.abc import Sequence
from functools import cache
from typing import Any

from ..model.kinds.while_rules import FACTORS, SWITCHES

SUMS = " ".join([*(f"d:{factor}" for factor in FACTORS), *(f"b:{switch}" for switch in SWITCHES)])
"""What the while-rules of a state and its groups come to."""
ROWS: dict[str, tuple[str, str]] = {
    "states": (
        "state_row",
        "i:layer i:group i:clip i:spread i:spread_count i:axis_count i2:along d2:spans d:hold "
        "d:speed l:advance i:speed_of d:low d:high d:slow d:fast i:rules i:rule_count i:entering "
        "i:entering_count i:leaving i:leaving_count i:overriding i:overriding_count i:plain "
        "i:plain_count "
        f"i:forced i:forced_count {SUMS} i:chances i:chance_count b:repeats i:picked i:deaf "
        "i:deaf_count",
    ),
    "groups": (
        "group_row",
        "i:group i:start i:memory i:rules i:rule_count i:overriding i:overriding_count i:plain "
        "i:plain_count",
    ),
    "transitions": (
        "transition_row",
        "i:target i:condition i:leave l:after i:window b:reenters l:blend i:easing b:frozen",
    ),
    "layers": ("layer_row", "i:start i:first d:weight i:shown_when l:rise l:fall"),
    "clips": (
        "clip_row",
        "l:cycle b:loops i:parts i:part_count i:moments i:moment_count i:windows i:window_count",
    ),
    "parts": ("part_row", "l:end i:frame l:local b:backwards"),
    "moments": (
        "moment_row",
        "l:at b:only_on_hit i:key i:deeds i:deed_count i:chances i:chance_count b:repeats i:picked "
        "l:volume l:volume_spread l:pitch l:pitch_spread",
    ),
    "windows": (
        "window_row",
        "l:start l:end i:frame b:held i:name i:also i:into i:into_count i:rules i:rule_count "
        "b:safe",
    ),
    "placed": ("placed_row", "i:clip d2:place"),
    "rules": (
        "rule_row",
        "i:kind d:value i:number l:rise l:fall i:place i:owner b:of_window d:to d:whole i:when",
    ),
    "deeds": ("deed_row", "i:kind i:place i:value i:value_type"),
    "actions": ("action_row", "i:intents i:intent_count"),
    "intents": (
        "intent_row",
        "i:action i:gesture l:threshold l:life b:family b:even_if_used i:touches i:touch_count "
        "i:steps i:step_count i:sequence",
    ),
    "senses": ("sense_row", "i:type d:start i:choices i:choice_count b:event l:wraps l:life"),
    "memos": ("memo_row", "i:type d:start i:choices i:choice_count b:event l:wraps l:life"),
    "thresholds": ("threshold_row", "i:kind i:place d:on d:off"),
}
"""The struct of a table's rows, and its fields: i an int32_t, l an int64_t, d a double, b a bool;
2: two of them."""
PLAIN = ("into", "intents_of", "touches", "steps", "choices", "deaf", "forced", "worn",
         "rule_conditions", "chances")
"""Tables of one number a row."""


@cache
def column_at(table: str, column: str) -> int:
    """Where in a row of a table a column begins."""
    at = 0
    for field in ROWS[table][1].split():
        kind, _, name = field.partition(":")
        if name == column:
            return at
        at += len(kind)
    raise KeyError(column)


def cell(table: str, row: Sequence[Any], column: str) -> Any:
    """What stands in a column of a row."""
    return row[column_at(table, column)]


def span(table: str, row: Sequence[Any], column: str) -> tuple[int, int]:
    """The place of the first row of another table that belongs to this one, and how many do: a
    column, and the one behind it."""
    at = column_at(table, column)
    return row[at], row[at + 1]
