"""Python as a language of the hand-off."""

from __future__ import annotations

import sys
from pathlib import Path

from ...engine.program import Program
from ...generate.building import done
from ...generate.geometry import Geometry
from ...generate.language import GOLDEN, HandedCode, Language
from ...generate.parts import bones, client, template
from ...generate.report_numbers import PARTS
from .source import python_module


def _write(program: Program, name: str, frames: Geometry, made_of: str) -> HandedCode:
    return HandedCode({f"{name}.py": python_module(program, made_of, frames)})


def _runner(program: Program, name: str) -> dict[str, str]:
    """`NAME_test.py`."""
    text = template("python", "runner.py.txt")
    return {f"{name}_test.py": text.replace("@PARTS@", repr(list(PARTS))).replace("@NAME@", name)}


def _run(folder: Path, name: str) -> str:
    return done(sys.executable, f"{name}_test.py", f"{name}.{GOLDEN}", "--time", folder=folder)[1]


LANGUAGE = Language("Python", _write, _runner, _run,
                    lambda: {"yarn_wire.py": client("python", "yarn_wire.py")},
                    lambda: {"yarn_bones.py": bones("python", "yarn_bones.py")})
