"""State Chart XML as a language of the hand-off: not code, but what other tools read of a graph."""

from __future__ import annotations

from ...engine.program import Program
from ...generate.geometry import Geometry
from ...generate.language import HandedCode, Language
from .writing import state_chart


def _write(program: Program, name: str, frames: Geometry, made_of: str) -> HandedCode:
    chart = state_chart(program)
    return HandedCode({f"{name}.scxml": chart.content.decode()}, chart.renames, chart.unsaid)


LANGUAGE = Language("state chart", _write)
