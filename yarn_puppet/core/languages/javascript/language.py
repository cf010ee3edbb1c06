"""JavaScript as a language of the hand-off."""

from __future__ import annotations

from pathlib import Path
from shutil import which

from ...engine.program import Program
from ...generate.building import done
from ...generate.geometry import Geometry
from ...generate.language import GOLDEN, HandedCode, Language
from ...generate.parts import bones, client, template, with_words
from ...generate.report_numbers import PARTS
from .parts import KIND_WORDS
from .source import input_names, javascript_source


def _write(program: Program, name: str, frames: Geometry, made_of: str) -> HandedCode:
    source = javascript_source(program, frames, made_of)
    return HandedCode({f"{name}.js": source.module, f"{name}.d.ts": source.types}, source.renames)


def _runner(program: Program, name: str) -> dict[str, str]:
    """`NAME_test.mjs`."""
    actions, senses = input_names(program)
    kinds = [sense.type for sense in program.senses]
    text = template("javascript", "runner.mjs")
    return {f"{name}_test.mjs": text.replace("@ACTIONS@", repr(actions)).replace(
        "@SENSES@", repr(senses)).replace(
        "@KINDS@", repr(kinds)).replace("@PARTS@", repr(list(PARTS))).replace("@NAME@", name)}


def _run(folder: Path, name: str) -> str:
    node = which("node") or which("nodejs")
    if node is None:
        return "Node is not on this machine"
    return done(node, f"{name}_test.mjs", f"{name}.{GOLDEN}", "--time", folder=folder)[1]


def _client() -> dict[str, str]:
    return {name: with_words(client("javascript", name), KIND_WORDS)
            for name in ("yarn_wire.js", "yarn_wire.d.ts")}


LANGUAGE = Language("JavaScript", _write, _runner, _run, _client,
                    lambda: {"yarn_bones.js": bones("javascript", "yarn_bones.js")})
