"""JavaScript of a program: `NAME.js`, an ES module, and `NAME.d.ts`. Tables of the puppet, and the
rules of a tick."""

from __future__ import annotations

import json
from typing import Any, NamedTuple

from ...engine.program import Program
from ...generate.choosing import choosing
from ...generate.columns import PLAIN, ROWS, cell
from ...generate.features import events, flags, lasting
from ...generate.flat import FACING_TEXTS, NONE, Flat, flat
from ...generate.geometry import Geometry, clip_ids
from ...generate.names import Identifiers, RenamedForCode
from ...generate.shape import shape_of
from ...generate.trees import ReadFormats, Writer, uses_intents
from ...rules.bind import Tree
from .choosing import CHOOSING
from .frames import frames_code, frames_types
from .parts import KIND_WORDS, part, rules_of_a_tick

WORDS = frozenset(
    [
        each
        for line in (
            "await break case catch class const continue debugger default delete do else enum "
            "export extends false finally for",
            "function if implements import in instanceof interface let new null package private "
            "protected public return static",
            "super switch this throw true try typeof var void while with yield eval arguments "
            "undefined landed stopped edges",
        )
        for each in line.split()
    ]
)
"""Words of JavaScript, and what an input holds beside the puppet's own."""
JS_NAMES = ReadFormats(
    "senses[{}]", "memoRead(p, {})", "p.thresholds[{}]", "(p.lives[{}] >= 0)", "p.down[{}]",
    "windowOpen(p, {})", "stateActive(p, {})",
    {"done": "doneOf(p, l)", "elapsed": "elapsedOf(p, l)", "clip_time": "clipTimeOf(p, l)",
     "loops": "p.layers[l].loops", "facing": "p.facing"},
    {"/": "divided({}, {})", "abs": "Math.abs({})", "sign": "signOf({})", "min": "leastOf({}, {})",
     "max": "mostOf({}, {})"},
    "{} === {}", "{} !== {}", "true", "false")
BITS = 30
"""Actions told by one number: as many as engines hold without making anything."""
SENSED = {
    "bool": 'typeof inputs.{name} === "boolean" ? inputs.{name} ? 1 : 0 : sensed(SENSES[{place}], '
            'inputs.{name})',
    "float": 'typeof inputs.{name} === "number" && Math.abs(inputs.{name}) <= LARGEST ? '
             'inputs.{name} + 0 : '
    "sensed(SENSES[{place}], inputs.{name})",
    "int": 'typeof inputs.{name} === "number" && (inputs.{name} | 0) === inputs.{name} ? '
           'inputs.{name} + 0 : '
    "sensed(SENSES[{place}], inputs.{name})",
    "choice": "sensed(SENSES[{place}], inputs.{name})",
}
"""How a sense is read, by its type: what it mostly is without a call."""


class JavaScriptSource(NamedTuple):
    """A module and its types, and the names that had to change."""

    module: str
    types: str
    renames: tuple[RenamedForCode, ...]


def javascript_source(
    program: Program, geometry: Geometry | None = None, made_of: str = ""
) -> JavaScriptSource:
    """The JavaScript of a program; with what hangs on its frames, where that is given. `made_of`
    says of which puppet it is."""
    return _JavaScript(flat(program), geometry, made_of).source()


def input_names(program: Program) -> tuple[list[str], list[str]]:
    """What the inputs call the actions and the senses of a program."""
    return Identifiers(WORDS).inputs(program)


class _JavaScript:
    def __init__(self, made: Flat, geometry: Geometry | None, made_of: str) -> None:
        self.made, self.program, self.made_of = made, made.program, made_of
        self.geometry = geometry
        self.clip_ids = clip_ids(made, geometry)
        self.identifiers = Identifiers(WORDS)
        of = self.identifiers.of
        self.actions, self.senses = self.identifiers.inputs(self.program)
        program, clips = self.program, made.clips
        self.places = {
            "State": of("state", [state.name for state in program.states]),
            "Clip": of("clip", self.clip_ids),
            "Layer": of("layer", [layer.name for layer in program.layers]),
            "Sense": of("sense", [sense.name for sense in program.senses]),
            "Memo": of("memo", [memo.name for memo in program.memos]),
            "Intent": of("intent", [intent.name for intent in program.intents]),
            "Threshold": of("threshold", [threshold.name for threshold in program.thresholds]),
            "Moment": of("moment", [f"{clip.id} {moment.name}" for clip in clips
                                    for moment in clip.moments]),
            "Window": of("window", [f"{clip.id} {window.name}" for clip in clips
                                    for window in clip.windows]),
            "Choice": of("choice", made.texts),
            "Skin": of("skin", ["own", *[skin.name for skin in program.skins]]),
            "Anchor": of("anchor", geometry.anchors if geometry is not None else ()),
        }

    def source(self) -> JavaScriptSource:
        """Both files."""
        runtime = rules_of_a_tick().replace("@CONDITIONS@", self._conditions())
        runtime = runtime.replace("@CHOOSING@", choosing(self.made, CHOOSING))
        runtime = runtime.replace("@INPUTS@", self._inputs()).replace("@PACES@", self._paces())
        runtime = runtime.replace("@KEYS@",
                                  "".join(f"keys{word}: 0, "
                                          for word in self._key_words()).rstrip())
        module = "\n".join((
            "// Made by Yarn Puppet. What is written here by hand is gone when it is made again.",
            "// It is yours, without conditions. SPDX-License-Identifier: MIT-0", "", self._words(),
            self._tables(), self._names(), self._places(), runtime,
            part("telling.js"),
            frames_code(self.made, self.geometry) if self.geometry is not None else ""))
        types = self._types() + (frames_types() if self.geometry is not None else "")
        return JavaScriptSource(module, types, tuple(self.identifiers.renames))

    def _inputs(self) -> str:
        """Inputs read by their own names, which engines look up faster than names out of a list."""
        down = "".join(f"  down[{index}] = inputs.{name} ? true : false;\n"
                       for index, name in enumerate(self.actions))
        senses = "".join(
            f"  senses[{index}] = {SENSED[sense.type].format(place=index, name=name)};\n"
            for index, (sense, name) in enumerate(
                zip(self.program.senses, self.senses, strict=True)))
        lasts = " || ".join(f"(p.down[{intent.action}] && reaches(p, {place}))"
                            for place, intent in (
            (place, self.program.intents[place]) for place in lasting(self.program))
            if intent.action >= 0)
        return (
            f"const lastsLong = p => {lasts or 'false'};\nfunction handsOf(inputs, down) "
            f"{{\n{down}}}\n"
            f"{self._same_hands()}\nfunction sense(inputs, senses) {{\n{senses}}}"
        )

    def _key_words(self) -> range:
        return range(-(-len(self.actions) // BITS))

    def _same_hands(self) -> str:
        """Whether all is held that was, and nothing else: thirty actions at once, as bits of a
        number."""
        lines = []
        for word in self._key_words():
            bits = " | ".join(f"(inputs.{name} ? {1 << index} : 0)"
                              for index, name in enumerate(
                                  self.actions[word * BITS:(word + 1) * BITS]))
            lines.append(f"  const keys{word} = {bits};")
        same = " && ".join(f"keys{word} === p.keys{word}" for word in self._key_words()) or "true"
        kept = "".join(f"  p.keys{word} = keys{word};\n" for word in self._key_words())
        return "\n".join(["function sameHands(p, inputs) {", *lines, f"  if ({same}) return true;",
                          f"{kept}  return false;", "}"])

    def _paces(self) -> str:
        """How far the clip of each state plays in a tick, where that follows a value: a whole
        number, which engines hand on without making anything."""
        paces = []
        for row in self.made.tables["states"]:
            value, *ends = (cell("states", row, column)
                            for column in ("speed_of", "low", "high", "slow", "fast"))
            paces.append(
                "null"
                if value < 0
                else "(p, senses, l) => "
                     f"rounded(paced({self._expression(self.made.expressions[value])}, "
                f"{', '.join(json.dumps(float(end)) for end in ends)}) * TICK)"
            )
        return f"const PACES = [\n  {f',{chr(10)}  '.join(paces)}\n];"

    def _places(self) -> str:
        """Words for the numbers of a report: with its types beside it, one that is misspelt does
        not compile."""
        lines = []
        for kind, names in self.places.items():
            entries = ", ".join(f"{json.dumps(name.upper())}: {index}"
                                for index, name in enumerate(names))
            lines.append(f"export const {kind} = Object.freeze({{{entries}}});")
        return "\n".join([*lines, ""])

    def _words(self) -> str:
        program = self.program
        lines = [KIND_WORDS["@CONSTANTS@"]]
        values = {
            "NOWHERE": NONE, "RATE": program.rate, "SHAPE": shape_of(self.made),
            "MEMORY_COUNT": len(program.remembering),
            "PICKED_COUNT": program.picked_count,
            "LAYER_COUNT": len(program.layers), "MEMO_COUNT": len(program.memos),
            "THRESHOLD_COUNT": len(program.thresholds), "EVENT_COUNT": len(events(program)),
            **flags(self.made),
            "FACING_SENSE": program.facing_sense,
            "FACING_UP": program.facing_up,
            "FACING_START": self.made.texts.index(program.facing_start),
            "FACING_KIND": ("mirror", "four", "eight").index(program.facing_kind),
        }
        return "\n".join([*lines,
                          *(f"const {key} = {json.dumps(value)};" for key, value in values.items()),
                          ""])

    def _tables(self) -> str:
        lines = []
        for table, (_, fields) in ROWS.items():
            split = [field.partition(":") for field in fields.split()]
            kinds = [kind for kind, _, _ in split]
            body = ",\n  ".join(_row(row, kinds) for row in self.made.tables[table])
            # Objects of one shape, which engines look up fastest. No field has a word of the
            # language for its name.
            names = ", ".join(name for _, _, name in split)
            lines.append(
                f"const {table.upper()} = [\n  {body}\n].map(([{names}]) => ({{{names}}}));"
            )
        lines += [
            f"const {table.upper()} = {json.dumps([row[0] for row in self.made.tables[table]])};"
            for table in PLAIN
        ]
        lines.append(f"const EVENTS = {json.dumps(events(self.program))};")
        degrees = [45 * place for place in range(len(FACING_TEXTS))]
        return "\n".join([*lines, f"const DEGREES = {json.dumps(degrees)};", ""])

    def _names(self) -> str:
        program = self.program
        names: dict[str, Any] = {
            "ACTION_NAMES": self.actions, "SENSE_NAMES": self.senses, "TEXTS": self.made.texts,
            "STATE_NAMES": [state.name for state in program.states], "CLIP_NAMES": self.clip_ids,
            "LAYER_NAMES": [layer.name for layer in program.layers],
            "SKIN_NAMES": ["own", *[skin.name for skin in program.skins]],
            "MEMO_NAMES": [memo.name for memo in program.memos],
            "INTENT_NAMES": [intent.name for intent in program.intents],
            "MOMENT_NAMES": [moment.name for clip in self.made.clips for moment in clip.moments],
            "WINDOW_NAMES": [window.name for clip in self.made.clips for window in clip.windows],
        }
        ids = {"ACTION_IDS": program.actions, "SENSE_IDS": [sense.id for sense in program.senses]}
        names["MADE_OF"] = self.made_of
        return "\n".join([*(f"const {key} = {json.dumps(value)};" for key, value in ids.items()),
                          *(f"export const {key} = {json.dumps(value)};"
                            for key, value in names.items()),
                          "export {RATE, SHAPE};", ""])

    def _conditions(self) -> str:
        writer = Writer(self.made, JS_NAMES)
        conditions = "\n".join(
            f"const CONDITION_{index} = (p, senses, l, u) => {_condition(writer, tree)};"
            for index, tree in enumerate(self.made.conditions)
        )
        listed = ", ".join(f"CONDITION_{place}" for place in range(len(self.made.conditions)))
        expressions = ",\n  ".join(f"(p, senses, l) => {self._expression(tree)}"
                                   for tree in self.made.expressions)
        uses = json.dumps([uses_intents(tree) for tree in self.made.conditions])
        return (f"{conditions}\nconst USES_INTENTS = {uses};\nconst CONDITIONS = [{listed}];\n"
                f"const EXPRESSIONS = [\n  {expressions}\n];")

    def _expression(self, tree: Tree) -> str:
        value = Writer(self.made, JS_NAMES).value(tree)
        return f"{value} ? 1 : 0" if tree.type == "bool" else value

    def _types(self) -> str:
        kinds = {"bool": "boolean", "int": "number", "float": "number"}
        inputs = [f"  {name}?: boolean;" for name in self.actions]
        for sense, name in zip(self.program.senses, self.senses, strict=True):
            choices = " | ".join(json.dumps(choice) for choice in sense.choices) or "string"
            inputs.append(f"  {name}?: {kinds.get(sense.type, choices)};")
        places = "\n".join(
            f"export const {kind}: {{\n"
            + "".join(f"  readonly {json.dumps(name.upper())}: {index};\n"
                      for index, name in enumerate(names)) + "};"
            for kind, names in self.places.items())
        return part("types.d.ts").replace(
            "@INPUTS@", "\n".join(inputs)).replace("@PLACES@", places)


def _row(row: tuple[Any, ...], kinds: list[str]) -> str:
    cells: list[Any] = []
    at = 0
    for kind in kinds:
        cells.append([row[at], row[at + 1]] if kind[1:] else bool(row[at])
                     if kind == "b" else row[at])
        at += len(kind)
    return json.dumps(cells)


def _condition(writer: Writer, tree: Tree) -> str:
    """An expression for whether a condition holds, which adds to `u` what it uses up; where it does
    not hold, that is not looked at."""
    if not uses_intents(tree):
        return writer.value(tree)
    if tree.operator == "intent":
        return f"({writer.value(tree)} && u.push({tree.value}) > 0)"
    if tree.operator == "and":
        return "(" + " && ".join(_condition(writer, operand) for operand in tree.operands) + ")"
    # What an operand added that does not hold after all is taken away again.
    return "(" + " || ".join(
        f"either(u, () => {_condition(writer, operand)})" for operand in tree.operands) + ")"
