"""C99 of a program: `NAME.h` and `NAME.c`. Tables of the puppet, and the rules of a tick over them.

No text of the puppet reaches the source but as an identifier that was made of it, see `names`, and in comments, where
nothing but letters, digits and spaces is left of it.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from functools import cache
from pathlib import Path
from typing import Any, NamedTuple

from ..engine.program import Program
from ..rules.bind import Tree
from .flat import FACING_TEXTS, NONE, TYPES, Flat, Row, flat
from .names import Identifiers, Mended, identifier
from .trees import Names, Writer, number, uses_intents

RUNTIME = Path(__file__).parent / "runtime"
WORDS = frozenset((
    "auto break case char const continue default do double else enum extern float for goto if inline int long register "
    "restrict return short signed sizeof static struct switch typedef union unsigned void volatile while bool true false "
    "asm class catch delete export friend mutable namespace new operator private protected public template this throw "
    "try typename using virtual explicit and or not xor bitand bitor compl not_eq and_eq or_eq xor_eq constexpr decltype "
    "noexcept nullptr thread_local alignas alignof static_assert wchar_t char16_t char32_t const_cast dynamic_cast "
    "reinterpret_cast static_cast typeid linux unix main stopped landed landed_count null"
).split())
"""Words of C and of C++, and what an input holds beside the puppet's own."""

ROWS: dict[str, tuple[str, str]] = {
    "states": ("state_row", "i:layer i:group i:clip i:spread i:spread_count i:axis_count i2:along d2:spans d:hold d:speed "
               "i:speed_of d:low d:high d:slow d:fast i:rules i:rule_count i:entering i:entering_count i:leaving "
               "i:leaving_count i:overriding i:overriding_count i:plain i:plain_count i:deaf i:deaf_count"),
    "groups": ("group_row", "i:group i:start i:memory i:rules i:rule_count i:overriding i:overriding_count i:plain "
               "i:plain_count"),
    "transitions": ("transition_row", "i:target i:condition i:leave l:after i:window b:reenters l:blend i:easing b:frozen"),
    "layers": ("layer_row", "i:start i:first d:weight i:shown_when l:rise l:fall"),
    "clips": ("clip_row", "l:cycle b:loops i:parts i:part_count i:moments i:moment_count i:windows i:window_count"),
    "parts": ("part_row", "l:end i:frame l:local b:backwards"),
    "moments": ("moment_row", "l:at b:only_on_hit i:key i:deeds i:deed_count"),
    "windows": ("window_row", "l:start l:end i:frame b:held i:name i:also i:into i:into_count i:rules i:rule_count b:safe"),
    "placed": ("placed_row", "i:clip d2:place"),
    "rules": ("rule_row", "i:kind d:value i:number l:rise l:fall i:place i:owner b:of_window d:to"),
    "deeds": ("deed_row", "i:kind i:place i:value i:value_type"),
    "actions": ("action_row", "i:intents i:intent_count"),
    "intents": ("intent_row", "i:action i:gesture l:threshold l:life b:family b:even_if_used i:touches i:touch_count i:steps "
                "i:step_count i:sequence"),
    "senses": ("sense_row", "i:type d:start i:choices i:choice_count b:event l:wraps l:life"),
    "memos": ("memo_row", "i:type d:start i:choices i:choice_count b:event l:wraps l:life"),
    "thresholds": ("threshold_row", "i:kind i:place d:on d:off"),
}
"""The struct of a table's rows, and its fields: i an int32_t, l an int64_t, d a double, b a bool; a 2 for two of them."""
PLAIN = ("into", "intents_of", "touches", "steps", "choices", "deaf")
"""Tables of one number a row."""
KINDS = {"i": "int32_t", "l": "int64_t", "d": "double", "b": "bool"}
C_NAMES = Names(
    "w->senses[{}]", "memo_read(w, {})", "w->p->thresholds[{}]", "(w->p->lives[{}] >= 0)", "w->p->actions[{}].down",
    "window_open(w, {})", "state_active(w, {})",
    {"done": "done_of(w, l)", "elapsed": "elapsed_of(w, l)", "clip_time": "clip_time_of(w, l)",
     "loops": "(double)w->p->layers[l].loops", "facing": "(double)w->p->facing"},
    {"/": "divided({}, {})", "abs": "fabs({})", "sign": "sign_of({})", "min": "least_of({}, {})",
     "max": "most_of({}, {})"},
    "{} == {}", "{} != {}", "true", "false")


class CSource(NamedTuple):
    """A header and its code, and the names that had to be mended."""

    name: str
    header: str
    code: str
    mended: tuple[Mended, ...]


def c_source(program: Program, name: str | None = None) -> CSource:
    """The C of a program under a name, the puppet's own where none is given."""
    return _C(flat(program), identifier(name or program.name)).source()


class _C:
    def __init__(self, made: Flat, name: str) -> None:
        self.made, self.program = made, made.program
        self.name = f"{name}_" if name in WORDS else name
        self.identifiers = Identifiers(WORDS)
        program, of = self.program, self.identifiers.of
        self.actions = of("action", program.actions)
        self.senses = of("sense", [each.name for each in program.senses], self.actions)
        self.states = of("state", [each.name for each in program.states])
        self.groups = of("group", [each.name for each in program.groups])
        self.clips = of("clip", [each.id for each in made.clips])
        self.layers = of("layer", [each.name for each in program.layers])
        self.intents = of("intent", [each.name for each in program.intents])
        self.memos = of("memo", [each.name for each in program.memos])
        self.thresholds = of("threshold", [each.name for each in program.thresholds])
        self.moments = of("moment", [f"{clip.id} {each.name}" for clip in made.clips for each in clip.moments])
        self.windows = of("window", [f"{clip.id} {each.name}" for clip in made.clips for each in clip.windows])
        self.texts = of("choice", made.texts)

    def source(self) -> CSource:
        """Both files."""
        return CSource(self.name, self._in(self.header()), self._in(self.code()), tuple(self.identifiers.mended))

    def _in(self, text: str) -> str:
        """A template under the puppet's name."""
        return re.sub("@([A-Z]+@)?", lambda found: found[0] if found[1] else self.name, text)

    # The header -------------------------------------------------------------------------------------------------

    def header(self) -> str:
        """What a game includes."""
        sizes, program = self.made.sizes, self.program
        counts = {
            "LAYERS": len(program.layers), "ACTIONS": len(program.actions), "INTENTS": len(program.intents),
            "SENSES": len(program.senses), "MEMOS": len(program.memos), "THRESHOLDS": len(program.thresholds),
            "MEMORIES": len(program.remembering), "SEQUENCES": sum(bool(each.steps) for each in program.intents),
            "STEPS": sizes.steps, "WAITING": sizes.waiting, "OPEN_WORDS": sizes.open_words, "SHARES": sizes.shares,
            "TAKEN": 9 * len(program.layers), "USED": 9 * len(program.layers) * sizes.used, "FIRED": sizes.moments,
            "OPEN": sizes.windows, "RULES": sizes.bringing + sizes.shares,
        }
        upper = self.name.upper()
        rooms = "\n".join(f"#define {upper}_{key} {value}" for key, value in counts.items())
        return (RUNTIME / "header.h").read_text(encoding="utf-8").replace("@UPPER@", upper).replace(
            "@ROOMS@", rooms).replace("@ENUMS@", self._enums()).replace("@INPUTS@", self._inputs())

    def _enums(self) -> str:
        enums = []
        for kind, names in (
            ("state", self.states), ("group", self.groups), ("clip", self.clips), ("layer", self.layers),
            ("action", self.actions), ("sense", self.senses), ("intent", self.intents), ("memo", self.memos),
            ("threshold", self.thresholds), ("moment", self.moments), ("window", self.windows), ("choice", self.texts),
        ):
            entries = [f"@_{kind}_{name}".replace("@", self.name).upper() + f" = {place}" for place, name in enumerate(names)]
            if entries:
                body = ",\n    ".join(entries)
                enums.append(f"typedef enum {{\n    {body}\n}} @_{kind};\n")
        return "\n".join(enums)

    def _inputs(self) -> str:
        lines = [f"    bool {each};" for each in self.actions]
        kinds = {"bool": "bool", "int": "int64_t", "float": "double", "choice": "@_choice"}
        lines += [f"    {kinds[each.type]} {name};" for each, name in zip(self.program.senses, self.senses, strict=True)]
        return "\n".join(lines)

    # The code ---------------------------------------------------------------------------------------------------

    def code(self) -> str:
        """The tables, the conditions and the rules."""
        runtime = (RUNTIME / "tick.c").read_text(encoding="utf-8").replace("@CONDITIONS@", self._conditions())
        return "\n".join((
            (RUNTIME / "head.c").read_text(encoding="utf-8"), self._defines(), self._structs(), self._tables(), runtime,
            self._entry()))

    def _defines(self) -> str:
        program, sizes, made = self.program, self.made.sizes, self.made
        room = {"ACTION": len(program.actions), "INTENT": len(program.intents), "MEMO": len(program.memos),
                "SENSE": len(program.senses)}
        values = {
            "RATE": program.rate, "LAYER_COUNT": len(program.layers), "ACTION_COUNT": len(program.actions),
            "INTENT_COUNT": len(program.intents), "SENSE_COUNT": len(program.senses), "MEMO_COUNT": len(program.memos),
            "THRESHOLD_COUNT": len(program.thresholds), "MEMORY_COUNT": len(program.remembering),
            "SEQUENCE_COUNT": sum(bool(each.steps) for each in program.intents), "RULE_COUNT": len(made.rules),
            "PLAYBACK_RULES": int("playback" in program.special),
            **{f"{key}_SPACE": max(1, value) for key, value in room.items()},
            "SHARE_SPACE": sizes.shares, "BRING_SPACE": max(1, sizes.bringing), "WAIT_SPACE": sizes.waiting,
            "USED_SPACE": sizes.used, "MOST_STEPS": sizes.steps, "MOST_DEEP": sizes.deep, "OPEN_WORDS": sizes.open_words,
            "MOST_MOMENTS": sizes.moments, "MOST_USED": 9 * len(program.layers) * sizes.used, "MOST_OLD": 4,
            "FACING_SENSE": program.facing_sense, "FACING_UP": program.facing_up,
            "FACING_START": made.texts.index(program.facing_start),
            "FACING_KIND": ("mirror", "four", "eight").index(program.facing_kind),
        }
        return "\n".join(f"#define {key} {value if value >= 0 else f'({value})'}" for key, value in values.items()) + "\n"

    def _structs(self) -> str:
        made = []
        for name, fields in ROWS.values():
            lines = []
            for field in fields.split():
                kind, _, each = field.partition(":")
                lines.append(f"    {KINDS[kind[0]]} {each}{'[2]' if kind[1:] else ''};")
            made.append("typedef struct {\n" + "\n".join(lines) + f"\n}} {name};\n")
        return "\n".join(made)

    def _tables(self) -> str:
        made = []
        for table, (struct, fields) in ROWS.items():
            kinds = [field.partition(":")[0] for field in fields.split()]
            rows = [f"    {{{self._row(row, kinds)}}}" for row in self.made.tables[table]]
            made.append(_array(struct, table.upper(), rows or [f"    {{{self._row((0,) * 64, kinds)}}}"]))
        for table in PLAIN:
            rows = [f"    {_whole(row[0])}" for row in self.made.tables[table]]
            made.append(_array("int32_t", table.upper(), rows or ["    0"]))
        firsts = [f"    {row[1]}" for row in self.made.tables["layers"]]
        made.append(_array("int32_t", "FIRST_STATES", firsts or ["    0"]))
        degrees = [f"    {_DEGREES.get(text, 0.0)!r}" for text in FACING_TEXTS]
        made.append(_array("double", "DEGREES", degrees))
        return "\n".join(made)

    def _row(self, row: Row, kinds: Sequence[str]) -> str:
        cells, at = [], 0
        for kind in kinds:
            if kind[1:]:
                cells.append(f"{{{_cell(row[at], kind[0])}, {_cell(row[at + 1], kind[0])}}}")
                at += 2
            else:
                cells.append(_cell(row[at], kind[0]))
                at += 1
        return ", ".join(cells)

    def _conditions(self) -> str:
        writer = Writer(self.made, C_NAMES)
        made = []
        for place, tree in enumerate(self.made.conditions):
            made.append(f"static bool condition_{place}(const work *w, int l, int16_t *u, int *n) {{\n"
                        + _condition(writer, tree) + "}\n")
        for place, tree in enumerate(self.made.expressions):
            text = writer.value(tree)
            text = f"({text}) ? 1.0 : 0.0" if tree.type == "bool" else text
            made.append(f"static double expression_{place}(const work *w, int l) {{\n    (void)w; (void)l;\n"
                        f"    return {text};\n}}\n")
        for table, trees, result, arguments in (
            ("condition", self.made.conditions, "bool", "const work *w, int l, int16_t *u, int *n"),
            ("expression", self.made.expressions, "double", "const work *w, int l"),
        ):
            names = ",\n    ".join(f"{table}_{place}" for place in range(len(trees))) or "NULL"
            made.append(f"static {result} (*const {table.upper()}S[])({arguments}) = {{\n    {names}\n}};\n")
        return "\n".join(made)

    def _entry(self) -> str:
        """What a game calls, with its inputs brought to the types that the puppet says."""
        lines = [f"    down[{place}] = in->{name};" for place, name in enumerate(self.actions)]
        for place, (sense, name) in enumerate(zip(self.program.senses, self.senses, strict=True)):
            value = {
                "bool": f"in->{name} ? 1.0 : 0.0", "int": f"whole_in(in->{name})",
                "float": f"in->{name} == in->{name} ? bound(in->{name}) : {number(self._start(place))}",
                "choice": f"choice_in({place}, (int32_t)in->{name})",
            }[sense.type]
            lines.append(f"    senses[{place}] = {value};")
        body = "\n".join(lines)
        defaults = "\n".join(
            f"    in->{name} = {self._typed(place)};"
            for place, name in enumerate(self.senses))
        return (RUNTIME / "entry.c").read_text(encoding="utf-8").replace("@BODY@", body).replace("@DEFAULTS@", defaults)

    def _start(self, sense: int) -> float:
        return float(self.made.tables["senses"][sense][1])

    def _typed(self, sense: int) -> str:
        start, kind = self._start(sense), self.program.senses[sense].type
        return {"bool": "true" if start else "false", "int": str(int(start)), "float": number(start),
                "choice": f"(@_choice){int(start)}"}[kind]


_DEGREES = dict(zip(FACING_TEXTS, (0.0, 45.0, 90.0, 135.0, 180.0, 225.0, 270.0, 315.0), strict=True))


@cache
def _whole(value: int) -> str:
    return "NOWHERE" if value == NONE else str(value)


def _cell(value: Any, kind: str) -> str:
    if kind == "b":
        return "true" if value else "false"
    if kind == "d":
        return number(value)
    return f"INT64_C({int(value)})" if kind == "l" else _whole(int(value))


def _array(kind: str, name: str, rows: Sequence[str]) -> str:
    body = ",\n".join(rows)
    return f"static const {kind} {name}[] = {{\n{body}\n}};\n"


def _condition(writer: Writer, tree: Tree) -> str:
    """The body of a condition's function: whether it holds, and which intents that uses up."""
    if not uses_intents(tree):
        return f"    (void)w; (void)l; (void)u; (void)n;\n    return {writer.value(tree)};\n"
    lines = ["    bool t;", "    (void)l;"]
    _used(writer, tree, lines, 1)
    return "\n".join([*lines, "    return t;", ""])


def _used(writer: Writer, tree: Tree, lines: list[str], depth: int) -> None:
    """Lines that set `t` to whether a tree holds, and add to `u` what that uses up; nothing where it does not hold."""
    pad = "    " * depth
    if not uses_intents(tree):
        lines.append(f"{pad}t = {writer.value(tree)};")
    elif tree.operator == "intent":
        lines += [f"{pad}t = {writer.value(tree)};", f"{pad}if (t) {{", f"{pad}    u[(*n)++] = {tree.value};", f"{pad}}}"]
    else:
        both = tree.operator == "and"
        lines += [f"{pad}{{", f"{pad}    const int m = *n;"]
        for place, each in enumerate(tree.operands):
            if place:
                lines.append(f"{pad}    if ({'t' if both else '!t'}) {{")
            _used(writer, each, lines, depth + 1 + bool(place))
            if place:
                lines.append(f"{pad}    }}")
        lines += [f"{pad}    if (!t) {{", f"{pad}        *n = m;", f"{pad}    }}", f"{pad}}}"]
