"""The types of senses and memos, and which values are of them. Standard library only."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

WORDING = {"bool": "true or false", "int": "a whole number", "float": "a number",
           "choice": "one of its choices"}
"""What is expected of a value, by type."""


def is_fit(value: Any, type: str, choices: Sequence[str]) -> bool:
    """Whether a value is of a type as it stands, but for its bounds (a whole number will do for a
    float).

    `false` is zero for a number too, and zero is `false`: they are the start values where a
    file gives none.
    """
    if value is False or (type == "bool" and value == 0 and isinstance(value, int)):
        return type != "choice"
    if type == "bool":
        return isinstance(value, bool)
    if type == "choice":
        return isinstance(value, str) and (value in choices or (not choices and not value))
    if isinstance(value, bool) or not isinstance(value, int | float if type == "float" else int):
        return False
    return value == value


def ticks_of(ticks: int, seconds: float, rate: int) -> int:
    """What is counted in ticks, or with seconds over zero the nearest number of ticks that they
    are, one at least."""
    return max(1, round(seconds * rate)) if seconds > 0 else ticks
