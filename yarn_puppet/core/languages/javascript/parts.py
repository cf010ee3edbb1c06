"""The files of the runtime of JavaScript, with what they say of every kind: constants, and the
fields of a report."""

from __future__ import annotations

import json

from ...generate.constants import CONSTANTS
from ...generate.parts import RULES, template, with_words
from ...model.kinds.moments import MOMENTS
from ...model.kinds.while_rules import FACTORS, SWITCHES, WHILE_RULES
from ...model.kinds.windows import WINDOWS


def camel(kind: str) -> str:
    """`move_speed` as JavaScript writes it."""
    first, *others = kind.split("_")
    return first + "".join(word.capitalize() for word in others)


def _each(line: str, kinds: tuple[str, ...], between: str = "\n") -> str:
    return between.join(
        line.replace("?", camel(kind)).replace("!", kind.upper()).replace("~", kind)
        for kind in kinds)


def _one_of(kinds: tuple[str, ...]) -> str:
    return " | ".join(map(json.dumps, kinds))


KIND_WORDS = {
    "@CONSTANTS@": "\n".join(
        f"const {', '.join(f'{word} = {index}' for index, word in enumerate(words))};"
        for words in CONSTANTS),
    "@MOMENT_KINDS@": _one_of(tuple(MOMENTS)),
    "@WINDOW_KINDS@": _one_of(tuple(WINDOWS)),
    "@RULE_KINDS@": _one_of(tuple(WHILE_RULES)),
    "@SUM_UP@": "  " + _each("if (kind === !) out.? = bound(out.? * by);", FACTORS, "\n  else ")
    + "\n  else if (share >= HALF) {\n"
    + _each("    out.? = out.? || kind === !;", SWITCHES) + "\n  }",
    "@SUMS_OF_STATE@": _each("    out.? = state.~;", FACTORS + SWITCHES),
    "@NOTHING_SUMMED@": "  " + _each("out.?", FACTORS, " = ") + " = 1;\n  "
    + _each("out.?", SWITCHES, " = ")
    + " = false;",
    "@AT_REST@": _each("?: 1", FACTORS, ", ") + ", " + _each("?: false", SWITCHES, ", "),
    "@SUM_TYPES@": _each("?: number;", FACTORS, " ") + " " + _each("?: boolean;", SWITCHES, " "),
    "@SUM_TYPES_BY_ID@": _each("~: number;", FACTORS, " ") + " "
    + _each("~: boolean;", SWITCHES, " "),
    "@MIX_SUMS@": f"    d.real({_each('out.?', FACTORS, ', ')});\n"
                  f"    d.whole({_each('out.?', SWITCHES, ', ')}, out.stuck);",
}
"""What stands for each word in the runtime's files."""


def part(name: str) -> str:
    """One file of the runtime, with what it says of every kind."""
    return with_words(template("javascript", name), KIND_WORDS)


def rules_of_a_tick() -> str:
    """All that a tick does."""
    return "".join(part(f"{name}.js") for name in RULES)
