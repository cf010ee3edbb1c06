"""The numbers of a tick: bounded, never NaN, never infinite; and how a value of one type becomes
one of another."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

LARGEST = 1 << 53
"""Whole numbers and floats are held within plus and minus this: in it, every whole number is a
float exactly."""
LARGEST_FLOAT = float(LARGEST)
NOUGHTS: dict[str, bool | int | float | str] = {"bool": False, "int": 0, "float": 0.0, "choice": ""}


def whole(value: int) -> int:
    """A whole number within the bounds."""
    return -LARGEST if value < -LARGEST else LARGEST if value > LARGEST else value


def real(value: float) -> float:
    """A float within the bounds. Zero has no sign."""
    if -LARGEST_FLOAT <= value <= LARGEST_FLOAT:
        return value + 0.0
    return LARGEST_FLOAT if value > 0 else -LARGEST_FLOAT if value < 0 else 0.0


def divided(left: float, right: float) -> float:
    """left / right; zero where `right` is: a game must not stop because a sense is zero for one
    tick."""
    return real(left / right) if right else 0.0


def sign(value: float) -> int:
    """-1, 0 or 1."""
    return (value > 0) - (value < 0)


def fitted(value: Any, type: str, choices: Sequence[str], otherwise: Any) -> Any:
    """A value as one of `type`, or `otherwise` where it cannot be read as one. Never raises."""
    if type == "choice":
        return value if isinstance(value, str) and value in choices else otherwise
    if not isinstance(value, bool | int | float) or value != value:
        return otherwise
    if type == "bool":
        return bool(value)
    if type == "int":
        return whole(round(real(value)) if isinstance(value, float) else int(value))
    return real(float(whole(value)) if isinstance(value, int) else value)


def fitted_start(value: Any, type: str, choices: Sequence[str]) -> Any:
    """A start value as one of its type; `false`, zero or the first choice where it cannot be read
    as one."""
    return fitted(value, type, choices,
                  choices[0] if type == "choice" and choices else NOUGHTS[type])
