"""Runs the C of puppets: many in one program, which prints what they report as numbers, beside our
own reports."""

from __future__ import annotations

import subprocess
from collections.abc import Sequence
from pathlib import Path
from typing import NamedTuple

from yarn_puppet.core.engine.program import Program
from yarn_puppet.core.engine.state import Inputs, Report
from yarn_puppet.core.generate.flat import Flat, flat
from yarn_puppet.core.generate.report_numbers import ReportNumbers
from yarn_puppet.core.languages.c.source import c_source, input_names
from yarn_puppet.core.model.kinds.while_rules import FACTORS, SWITCHES

FLAGS = ("-std=c99", "-Wall", "-Wextra", "-Wpedantic", "-Wconversion", "-Werror")
DRIVER = """#include "@.h"
#include <stdio.h>
#include <string.h>

static void whole(long long value) { printf("%lld ", value); }
static void real(double value) {
    long long bits;
    memcpy(&bits, &value, sizeof bits);
    printf("%lld ", bits);
}

void @_run(FILE *from);
void @_run(FILE *from) {
    static @ p;
    static @_report out;
    static @_landed landed[64];
    int ticks, tick, at, l;
    @_start(&p);
    if (fscanf(from, "%d", &ticks) != 1) return;
    for (tick = 0; tick < ticks; tick++) {
        @_inputs in;
        int number, stopped;
        long long wide, wider;
        double value;
        (void)value; (void)wide;
        @_nothing(&in);
@READ@
        for (at = 0; at < @UPPER@_ACTIONS; at++) {
            if (fscanf(from, "%d", &number) != 1) return;
            in.edges[at] = (uint8_t)number;
        }
        if (fscanf(from, "%d %d", &stopped, &number) != 2) return;
        in.stopped = stopped != 0;
        in.landed = landed;
        in.landed_count = number;
        for (at = 0; at < number; at++) {
            int layer;
            if (fscanf(from, "%d %lld %lld", &layer, &wide, &wider) != 3) return;
            landed[at].layer = layer;
            landed[at].visit = wide;
            landed[at].pass = wider;
        }
        @_tick(&p, &in, &out);
        whole(out.tick);
        for (l = 0; l < @UPPER@_LAYERS; l++) {
            const @_layer_report *layer = &out.layers[l];
            whole(layer->state);
            if (layer->state < 0) continue;
            whole(layer->clip); whole(layer->frame); real(layer->clip_time); real(layer->elapsed);
            whole(layer->pass); whole(layer->visit); whole(layer->done); real(layer->blend); real(layer->weight);
            whole(layer->fading_count);
            for (at = 0; at < layer->fading_count; at++) {
                whole(layer->fading[at].clip); whole(layer->fading[at].frame);
                real(layer->fading[at].clip_time); real(layer->fading[at].weight);
            }
        }
        whole(out.facing);
        for (at = 0; at < @UPPER@_SENSES; at++) real(out.senses[at]);
        for (at = 0; at < @UPPER@_MEMOS; at++) real(out.memos[at]);
        for (at = 0; at < @UPPER@_THRESHOLDS; at++) whole(out.thresholds[at]);
        for (at = 0; at < @UPPER@_INTENTS; at++) whole(out.armed[at]);
        whole(out.used_count);
        for (at = 0; at < out.used_count; at++) whole(out.used[at]);
        whole(out.moment_count);
        for (at = 0; at < out.moment_count; at++) {
            whole(out.moments[at].layer); whole(out.moments[at].clip); whole(out.moments[at].frame);
            whole(out.moments[at].visit); whole(out.moments[at].moment);
            whole(out.moments[at].sound); real(out.moments[at].volume); real(out.moments[at].pitch);
        }
        whole(out.window_count);
        for (at = 0; at < out.window_count; at++) {
            whole(out.windows[at].layer); whole(out.windows[at].clip); whole(out.windows[at].frame);
            whole(out.windows[at].late); whole(out.windows[at].window);
        }
        whole(out.rule_count);
        for (at = 0; at < out.rule_count; at++) {
            whole(out.rules[at].layer); whole(out.rules[at].rule); real(out.rules[at].share);
        }
        whole(out.taken_count);
        for (at = 0; at < out.taken_count; at++) {
            whole(out.taken[at].layer); whole(out.taken[at].transition); whole(out.taken[at].left);
            whole(out.taken[at].entered);
        }
        COME_TO
        whole(out.stuck);
        puts("");
    }
}
""".replace("COME_TO", " ".join(  # noqa: E501
    [f"real(out.{kind});" for kind in FACTORS] + [f"whole(out.{kind});" for kind in SWITCHES]))
READS = {"bool": ("%d", "number", "number != 0"), "int": ("%lld", "wide", "wide"),
         "float": ("%la", "value", "value"),
         "choice": ("%d", "number", "(@_choice)number")}


class Case(NamedTuple):
    """A program, what goes into each tick, and what our own engine reports of each."""

    program: Program
    inputs: Sequence[Inputs]
    reports: Sequence[Report]


def numbers_of(numbers: ReportNumbers, report: Report) -> list[int]:
    """All numbers of a report."""
    return [each for part in numbers.parts(report) for each in part]


def input_lines(case: Case, made: Flat) -> list[str]:
    """A case's inputs as the driver reads them."""
    lines = [str(len(case.inputs))]
    for each in case.inputs:
        values = [int(held) for held in each.down]
        texts = [str(value) for value in values]
        for sense, value in zip(case.program.senses, each.senses, strict=True):
            texts.append(float(value).hex() if sense.type == "float" else str(
                made.texts.index(value) if isinstance(value, str) else int(value)))
        texts += [str(count) for count in each.edges or (0,) * len(each.down)]
        texts += [str(int(each.stopped)), str(len(each.landed))]
        texts += [f"{news.layer} {news.visit} {news.cycle}" for news in each.landed]
        lines.append(" ".join(texts))
    return lines


def differing(
    cases: Sequence[Case], folder: Path, optimise: str = "-O1", more: Sequence[str] = ()
) -> list[str]:
    """What of the C of these cases is not as our own engine reports it. Raises CalledProcessError
    where it cannot be compiled."""
    files, lines, numbers = [], [], dict[str, int]()
    runs = []
    for case in cases:
        lines += input_lines(case, flat(case.program))
        # What is the same code is compiled once.
        code, number = c_source(case.program, "any").code, len(numbers)
        runs.append(numbers.setdefault(code, number))
        if runs[-1] != number:
            continue
        source = c_source(case.program, f"p{number}")
        (folder / f"{source.name}.h").write_text(source.header)
        reads = []
        actions, names = input_names(case.program)
        for action in actions:
            reads.append(
                f'        if (fscanf(from, "%d", &number) != 1) return;\n        in.{action} = '
                'number != 0;'
            )
        for sense, name in zip(case.program.senses, names, strict=True):
            form, variable, text = READS[sense.type]
            reads.append(
                f'        if (fscanf(from, "{form}", &{variable}) != 1) return;\n        in.{name} '
                f'= {text};'
            )
        driver = DRIVER.replace("@READ@", "\n".join(reads)).replace(
            "@UPPER@", source.name.upper()).replace(
            "@", source.name)
        (folder / f"{source.name}.c").write_text(
            source.code + driver.replace(f'#include "{source.name}.h"\n', ""))
        files.append(f"{source.name}.c")
    calls = "\n".join(f"    p{number}_run(stdin);" for number in runs)
    heads = "\n".join(f"void p{number}_run(FILE *from);" for number in numbers.values())
    (folder / "main.c").write_text(
        f"#include <stdio.h>\n{heads}\nint main(void) {{\n{calls}\n    return 0;\n}}\n"
    )
    subprocess.run(["gcc", *FLAGS, optimise, *more, "-o", "all", "main.c", *files, "-lm"],
                   cwd=folder, check=True,
                   capture_output=True, text=True)
    done = subprocess.run([folder / "all"], input="\n".join(lines) + "\n", capture_output=True,
                          text=True, check=True)
    return unlike(cases, done.stdout.splitlines())


def unlike(cases: Sequence[Case], lines: Sequence[str]) -> list[str]:
    """Where the numbers of these lines, one a tick, are not those of our own reports: the first
    tick of each case."""
    wrong, at = [], 0
    for number, case in enumerate(cases):
        numbers = ReportNumbers(flat(case.program))
        for tick, report in enumerate(case.reports):
            found = [int(each) for each in lines[at].split()] if at < len(lines) else []
            wanted = numbers_of(numbers, report)
            if found != wanted and not any(each.startswith(f"case {number},") for each in wrong):
                first = next((index for index, (one, two) in enumerate(
                    zip(found, wanted, strict=False)) if one != two),
                             min(len(found), len(wanted)))
                wrong.append(
                    f"case {number}, tick {tick}: at {first} {found[first : first + 6]} is not "
                    f"{wanted[first : first + 6]}\n  {report}"
                )
            at += 1
    if at != len(lines):
        wrong.append(f"{len(lines)} ticks were told of {at}")
    return wrong
