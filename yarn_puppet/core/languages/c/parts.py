"""The files of the runtime of C, with what they say of every kind: constants, and the fields of a
report."""

from __future__ import annotations

from textwrap import fill

from ...generate.constants import CONSTANTS
from ...generate.parts import RULES, template, with_words
from ...model.kinds.moments import MOMENTS
from ...model.kinds.while_rules import FACTORS, SWITCHES, WHILE_RULES
from ...model.kinds.windows import WINDOWS

WIDTH = 120


def _enum(words: tuple[str, ...]) -> str:
    listed = ", ".join(words)
    line = f"enum {{ {listed} }};"
    if len(line) <= WIDTH:
        return line
    return f"enum {{\n{fill(listed, WIDTH, initial_indent='    ', subsequent_indent='    ')}\n}};"


def _each(line: str, kinds: tuple[str, ...]) -> str:
    return "\n".join(line.replace("?", kind).replace("!", kind.upper()) for kind in kinds)


KIND_WORDS = {
    "@CONSTANTS@": "\n".join(map(_enum, CONSTANTS)),
    "@MOMENT_KINDS@": ", ".join(f"@UPPER@_{kind.upper()}" for kind in MOMENTS),
    "@WINDOW_KINDS@": ", ".join(f"@UPPER@_{kind.upper()}" for kind in WINDOWS),
    "@RULE_KINDS@": ", ".join(f"@UPPER@_RULE_{kind.upper()}" for kind in WHILE_RULES),
    "@FACTORS@": ", ".join(FACTORS),
    "@SWITCHES@": ", ".join(SWITCHES),
    "@SUM_UP@": "\n".join((
        _each("        case !: out->? = bound(out->? * by); break;", FACTORS),
        _each("        case !: out->? = out->? || share >= HALF; break;", SWITCHES))),
    "@SUMS_OF_STATE@": _each("        out->? = state->?;", FACTORS + SWITCHES),
    "@NOTHING_SUMMED@": " = ".join([f"out->{kind}" for kind in SWITCHES] + ["false;\n        "])
    + " = ".join([f"out->{kind}" for kind in FACTORS] + ["1.0;"]),
    "@MIX_SUMS@": "\n".join((
        _each("    mixed_real(&digests[7], out->?);", FACTORS),
        _each("    mixed(&digests[7], out->?);", SWITCHES))),
}
"""What stands for each word in the runtime's files."""


def part(name: str) -> str:
    """One file of the runtime, with what it says of every kind."""
    return with_words(template("c", name), KIND_WORDS)


def rules_of_a_tick() -> str:
    """All that a tick does."""
    return "".join(part(f"{name}.c") for name in RULES)
