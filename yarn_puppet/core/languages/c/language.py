"""C as a language of the hand-off."""

from __future__ import annotations

from pathlib import Path
from shutil import which

from ...engine.program import Program
from ...generate.building import done
from ...generate.geometry import Geometry
from ...generate.language import GOLDEN, HandedCode, Language
from ...generate.parts import client, template
from .bone_tables import bone_header
from .source import c_source, input_names


def _write(program: Program, name: str, frames: Geometry, made_of: str) -> HandedCode:
    source = c_source(program, name, frames, made_of)
    return HandedCode({f"{name}.h": source.header, f"{name}.c": source.code}, source.renames)


def _runner(program: Program, name: str) -> dict[str, str]:
    """`NAME_test.c`."""
    actions, senses = input_names(program)
    reads = [
        f'    if (fscanf(from, "%d", &number) != 1) return broken(take);\n    in.{each} = (number '
        '& 1) != 0;\n'
        f"    in.edges[{index}] = (uint8_t)(number >> 1);"
        for index, each in enumerate(actions)
    ]
    for sense, each in zip(program.senses, senses, strict=True):
        form, variable, value = {
            "bool": ("%d", "number", "number != 0"), "int": ("%lld", "wide", "wide"),
            "float": ("%lf", "value", "value"),
            "choice": ("%d", "number", f"({name}_choice)number"),
        }[sense.type]
        reads.append(f'    if (fscanf(from, "{form}", &{variable}) != 1) return broken(take);\n'
                     f"    in.{each} = {value};")
    text = template("c", "runner.c").replace("@READ@", "\n".join(reads))
    return {f"{name}_test.c": text.replace("@UPPER@", name.upper()).replace("@", name)}


def _run(folder: Path, name: str) -> str:
    compiler = which("cc") or which("gcc") or which("clang")
    if compiler is None:
        return "no C compiler is on this machine"
    code, said = done(compiler, "-std=c99", "-O2", "-o", "runner", f"{name}_test.c", f"{name}.c",
                      "-lm", folder=folder)
    return f"does not compile: {said[:200]}" if code else done(
        "./runner", f"{name}.{GOLDEN}", "--time", folder=folder)[1]


LANGUAGE = Language("C", _write, _runner, _run, lambda: {"yarn_wire.h": client("c", "yarn_wire.h")},
                    bone_tables=lambda name, table: {
                        f"{name}_bones.h": bone_header(name, table)})
