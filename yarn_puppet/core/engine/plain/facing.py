"""Step 7 of docs/semantics.md: which way the puppet faces."""

from __future__ import annotations

from typing import Any

from ..program import Program

DIAGONAL = 0.41421356237309503
"""The tangent of 22.5 degrees: from there on a direction is nearer to one that lies between two of
the four."""


def turned(program: Program, facing: str, senses: tuple[Any, ...]) -> str:
    """The facing after a tick: where the senses it follows point, or as it is where they point
    nowhere."""
    across = senses[program.facing_sense]
    up = senses[program.facing_up] if program.facing_up >= 0 else 0
    if not across and not up:
        return facing
    side = "right" if across > 0 else "left" if across < 0 else facing
    if not up:
        return side
    height = "up" if up > 0 else "down"
    less, more = sorted((float(abs(across)), float(abs(up))))
    if program.facing_kind == "eight" and less > DIAGONAL * more:
        return f"{height} {side}"
    if abs(across) == abs(up):
        return facing if facing in (side, height) else side
    return side if abs(across) > abs(up) else height
