"""Runs the C of many puppets in one program that holds the rules of a tick once: what puppets
differ in, which is their tables, conditions and exits, is compiled for each; what code for a game
has as constants is looked up here.

That a puppet's own file compiles, reads its inputs and is as fast as it can be is for `c_engine` to
try.
"""

from __future__ import annotations

import re
import subprocess
from collections.abc import Sequence
from pathlib import Path

from tests.c_engine import DRIVER, Case, unlike
from yarn_puppet.core.generate.choosing import choosing
from yarn_puppet.core.generate.columns import PLAIN, ROWS
from yarn_puppet.core.generate.features import events, lasting
from yarn_puppet.core.generate.flat import Flat, flat
from yarn_puppet.core.generate.sizes import ROOM, numbers, rooms
from yarn_puppet.core.languages.c.choosing import CHOOSING
from yarn_puppet.core.languages.c.conditions import condition_functions
from yarn_puppet.core.languages.c.parts import part, rules_of_a_tick
from yarn_puppet.core.languages.c.tables import arrays, structs

OWN = re.compile(r"\b(condition_\d+|expression_\d+|CONDITIONS|EXPRESSIONS|first_open)\b")
"""What each puppet has for itself in its code."""
PLACES = ("FIRST_STATES", "LASTING", "EVENTS")
CONDITION, EXPRESSION = "const work *w, int l, int16_t *u, int *n", "const work *w, int l"
INPUTS = """void many_nothing(many_inputs *in) {
    memset(in, 0, sizeof *in);
}

static void hands_in(const many_inputs *in, bool *down) {
    memcpy(down, in->down, sizeof in->down);
}

static void senses_in(const many_inputs *in, double *senses) {
    memcpy(senses, in->senses, sizeof in->senses);
}
"""
READ = """        for (at = 0; at < ACTION_COUNT; at++) {
            if (fscanf(from, "%d", &number) != 1) return;
            in.down[at] = number != 0;
        }
        for (at = 0; at < SENSE_COUNT; at++) {
            if (fscanf(from, "%la", &value) != 1) return;
            in.senses[at] = value;
        }
"""


def differing(
    cases: Sequence[Case], folder: Path, more: Sequence[str] = ("-O0",), compiler: str = "gcc"
) -> list[str]:
    """What of the C of these cases is not as our own engine reports it. Raises CalledProcessError
    where it cannot be compiled."""
    tables = [flat(case.program) for case in cases]
    (folder / "many.h").write_text(_header(tables))
    (folder / "many.c").write_text(_code(tables))
    subprocess.run([compiler, "-std=c99", "-w", *more, "-o", "many", "many.c", "-lm"], cwd=folder,
                   check=True,
                   capture_output=True, text=True)
    lines = [line for case, made in zip(cases, tables, strict=True) for line in _inputs(case, made)]
    done = subprocess.run([folder / "many"], input="\n".join(lines) + "\n", capture_output=True,
                          text=True, check=True)
    return unlike(cases, done.stdout.splitlines())


def _most(found: Sequence[dict[str, int]]) -> dict[str, int]:
    return {key: max(each[key] for each in found) for key in found[0]}


def _named(text: str) -> str:
    """A template under our name."""
    return re.sub("@([A-Z]+@)?", lambda found: found[0] if found[1] else "many", text)


def _header(tables: Sequence[Flat]) -> str:
    room = "\n".join(f"#define MANY_{key} {value}"
                     for key, value in _most([rooms(made) for made in tables]).items())
    text = part("header.h")
    for key, value in (
        ("@ROOMS@", room), ("@ENUMS@", ""), ("@FRAMES@", ""), ("@UPPER@", "MANY"),
        ("@SHAPE@", "1u"),
        ("@INPUTS@", "    bool down[MANY_ACTIONS ? MANY_ACTIONS : 1];\n"
                     "    double senses[MANY_SENSES ? MANY_SENSES : 1];"),
    ):
        text = text.replace(key, value)
    return _named(text)


def _code(tables: Sequence[Flat]) -> str:
    counted = [numbers(made) for made in tables]
    most = _most(counted)
    fixed = {key: value for key, value in most.items() if key.endswith("_SPACE") or key in ROOM}
    own = [key for key in most if key not in fixed]
    looked_up = {each.upper(): struct for each, (struct, _) in ROWS.items()}
    looked_up |= dict.fromkeys([each.upper() for each in PLAIN] + list(PLACES), "int32_t")
    rows = "\n".join([*(f"    const {struct} *{name};" for name, struct in looked_up.items()),
                      *(f"    int32_t {key};" for key in own), "    int32_t number;"])
    puppets, data = [], []
    for index, (made, known) in enumerate(zip(tables, counted, strict=True)):
        lists = "".join(
            f"static const int32_t {name}[] = {{{', '.join(map(str, values)) or '0'}}};\n"
            for name, values in (("LASTING", lasting(made.program)),
                                 ("EVENTS", events(made.program))))
        text = "\n".join(each for each in (arrays(made) + lists).split("static const ")
                         if not each.startswith(
            "double DEGREES"))
        data.append(re.sub(r"^(\w+ )(\w+)\[\]", rf"static const \1p{index}_\2[]", text, flags=re.M))
        fields = [*(f"p{index}_{name}" for name in looked_up), *(str(known[key]) for key in own),
                  str(index)]
        puppets.append(f"    {{{', '.join(fields)}}}")
    degrees = (
        "static const double DEGREES[] = {0.0, 45.0, 90.0, 135.0, 180.0, 225.0, 270.0, 315.0};"
    )
    runtime = rules_of_a_tick().replace("@CONDITIONS@", _conditions(tables)).replace(
        "@CHOOSING@", _exits(tables)).replace("@INPUTS_READ@", INPUTS)
    driver = DRIVER.replace("@READ@", READ).replace('#include "@.h"\n', "")
    for name in ("LAYER", "ACTION", "SENSE", "MEMO", "THRESHOLD", "INTENT"):
        driver = driver.replace(f"@UPPER@_{name}S", f"{name}_COUNT")
    return (
        _named(
            "\n".join(
                (
                    part("head.c"),
                    *(f"#define {key} {value}" for key, value in fixed.items()),
                    structs(),
                    degrees,
                    *data,
                    f"typedef struct {{\n{rows}\n}} puppet_row;",
                    "static const puppet_row PUPPETS[] = {\n" + ",\n".join(puppets) + "\n};",
                    "static const puppet_row *run_now = PUPPETS;",
                    *(f"#define {name} (run_now->{name})" for name in (*looked_up, *own)),
                    runtime,
                    driver,
                    f"int main(void) {{\n    for (; run_now < PUPPETS + {len(tables)}; run_now++) "
                    "many_run(stdin);\n"
                    "    return 0;\n}\n",
                )
            )
        )
        .replace("@UPPER@", "MANY")
        .replace("@SHAPE@", "1u")
    )


def _conditions(tables: Sequence[Flat]) -> str:
    """The functions of all puppets, and where those of the one that is run are found."""
    found = [OWN.sub(rf"p{index}_\1", condition_functions(made))
             for index, made in enumerate(tables)]
    for name, result, arguments in (("CONDITIONS", "bool", CONDITION),
                                    ("EXPRESSIONS", "double", EXPRESSION)):
        each = ", ".join(f"p{place}_{name}" for place in range(len(tables)))
        found.append(f"static {result} (*const *const ALL_{name}[])({arguments}) = {{{each}}};\n"
                     f"#define {name} (ALL_{name}[run_now->number])")
    return "\n".join(found)


def _exits(tables: Sequence[Flat]) -> str:
    found = [OWN.sub(rf"p{index}_\1", choosing(made, CHOOSING))
             for index, made in enumerate(tables)]
    each = ", ".join(f"p{place}_first_open" for place in range(len(tables)))
    found.append(f"static int32_t (*const ALL_FIRST_OPEN[])({CONDITION}) = {{{each}}};\n"
                 f"static int32_t first_open({CONDITION}) {{\n"
                 "    return ALL_FIRST_OPEN[run_now->number](w, l, u, n);\n}\n")
    return "\n".join(found)


def _inputs(case: Case, made: Flat) -> list[str]:
    """A case's inputs as the driver reads them."""
    lines = [str(len(case.inputs))]
    for each in case.inputs:
        texts = [str(int(held)) for held in each.down]
        texts += [float(made.texts.index(value) if isinstance(value, str) else value).hex()
                  for value in each.senses]
        texts += [str(count) for count in each.edges or (0,) * len(each.down)]
        texts += [str(int(each.stopped)), str(len(each.landed))]
        texts += [f"{news.layer} {news.visit} {news.cycle}" for news in each.landed]
        lines.append(" ".join(texts))
    return lines
