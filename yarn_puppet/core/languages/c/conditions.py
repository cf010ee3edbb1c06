"""Conditions and values of a program as functions of C."""

from __future__ import annotations

from ...generate.flat import Flat
from ...generate.trees import ReadFormats, Writer, uses_intents
from ...rules.bind import Tree

C_NAMES = ReadFormats(
    "w->senses[{}]", "memo_read(w, {})", "w->p->thresholds[{}]", "(w->p->lives[{}] >= 0)",
    "w->p->down[{}]",
    "window_open(w, {})", "state_active(w, {})",
    {"done": "done_of(w, l)", "elapsed": "elapsed_of(w, l)", "clip_time": "clip_time_of(w, l)",
     "loops": "(double)w->p->layers[l].loops", "facing": "(double)w->p->facing"},
    {"/": "divided({}, {})", "abs": "fabs({})", "sign": "sign_of({})", "min": "least_of({}, {})",
     "max": "most_of({}, {})"},
    "{} == {}", "{} != {}", "true", "false")


def condition_functions(made: Flat) -> str:
    """A function for each condition and each value, and a table of both."""
    writer = Writer(made, C_NAMES)
    found = []
    for index, tree in enumerate(made.conditions):
        found.append(f"static bool condition_{index}(const work *w, int l, int16_t *u, int *n) {{\n"
                    + _condition(writer, tree) + "}\n")
    for index, tree in enumerate(made.expressions):
        text = writer.value(tree)
        text = f"({text}) ? 1.0 : 0.0" if tree.type == "bool" else text
        found.append(
            f"static double expression_{index}(const work *w, int l) {{\n    (void)w; (void)l;\n"
            f"    return {text};\n}}\n"
        )
    for table, trees, result, arguments in (
        ("condition", made.conditions, "bool", "const work *w, int l, int16_t *u, int *n"),
        ("expression", made.expressions, "double", "const work *w, int l"),
    ):
        names = ",\n    ".join(f"{table}_{place}" for place in range(len(trees))) or "NULL"
        found.append(
            f"static {result} (*const {table.upper()}S[])({arguments}) = {{\n    {names}\n}};\n"
        )
    return "\n".join(found)



def _condition(writer: Writer, tree: Tree) -> str:
    """The body of a condition's function: whether it holds, and which intents that uses up."""
    if not uses_intents(tree):
        return f"    (void)w; (void)l; (void)u; (void)n;\n    return {writer.value(tree)};\n"
    lines = ["    bool t;", "    (void)w; (void)l; (void)u; (void)n;"]
    _used(writer, tree, lines, 1)
    return "\n".join([*lines, "    return t;", ""])


def _used(writer: Writer, tree: Tree, lines: list[str], depth: int) -> None:
    """Lines that set `t` to whether a tree holds, and add to `u` what that uses up; nothing where
    it does not hold."""
    pad = "    " * depth
    if not uses_intents(tree):
        lines.append(f"{pad}t = {writer.value(tree)};")
    elif tree.operator == "intent":
        lines += [f"{pad}t = {writer.value(tree)};", f"{pad}if (t) {{",
                  f"{pad}    u[(*n)++] = {tree.value};",
                  f"{pad}}}"]
    else:
        both = tree.operator == "and"
        lines += [f"{pad}{{", f"{pad}    const int m = *n;"]
        for index, each in enumerate(tree.operands):
            if index:
                lines.append(f"{pad}    if ({'t' if both else '!t'}) {{")
            _used(writer, each, lines, depth + 1 + bool(index))
            if index:
                lines.append(f"{pad}    }}")
        lines += [f"{pad}    if (!t) {{", f"{pad}        *n = m;", f"{pad}    }}", f"{pad}}}"]
