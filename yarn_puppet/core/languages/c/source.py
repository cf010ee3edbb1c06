"""C99 of a program: `NAME.h` and `NAME.c`. Tables of the puppet, and the rules of a tick over them.

No text of the puppet reaches the source but as an identifier that was made of it, see `names`, and
in comments, where nothing but letters, digits and spaces is left of it.
"""

from __future__ import annotations

import json
import re
from collections.abc import Sequence
from typing import NamedTuple

from ...engine.program import Program
from ...generate.choosing import choosing
from ...generate.columns import cell
from ...generate.features import events, lasting
from ...generate.flat import Flat, flat
from ...generate.geometry import Geometry, clip_ids
from ...generate.module_name import WORDS, module_name
from ...generate.names import Identifiers, RenamedForCode
from ...generate.shape import shape_of
from ...generate.sizes import numbers, rooms
from ...generate.trees import number
from .choosing import CHOOSING
from .conditions import condition_functions
from .frames import frames_code
from .parts import part, rules_of_a_tick
from .tables import arrays, structs

INPUT_WORDS = WORDS | {"stopped", "landed", "landed_count", "edges", "null"}
"""What nothing in the inputs can be called: words of the language, and what an input holds beside
the puppet's own."""


class CSource(NamedTuple):
    """A header and its code, and the names that had to change."""

    name: str
    header: str
    code: str
    renames: tuple[RenamedForCode, ...]


def c_source(
    program: Program, name: str | None = None, geometry: Geometry | None = None, made_of: str = ""
) -> CSource:
    """The C of a program under a name, see `module_name`; the puppet's own where none is given.
    With what hangs on its frames, where that is given. `made_of` says of which puppet it is."""
    return _C(flat(program), name or module_name(program.name)[0], geometry, made_of).source()


def input_names(program: Program) -> tuple[list[str], list[str]]:
    """What the inputs call the actions and the senses of a program."""
    return Identifiers(INPUT_WORDS).inputs(program)


class _C:
    def __init__(
        self, made: Flat, name: str, geometry: Geometry | None, made_of: str
    ) -> None:
        self.made, self.program, self.made_of = made, made.program, made_of
        self.geometry = geometry
        self.clip_ids = clip_ids(made, geometry)
        self.shape = f"0x{shape_of(made):08X}u"
        self.name = name
        self.identifiers = Identifiers(INPUT_WORDS)
        program, of = self.program, self.identifiers.of
        self.actions, self.senses = self.identifiers.inputs(program)
        self.states = of("state", [state.name for state in program.states])
        self.groups = of("group", [group.name for group in program.groups])
        self.clips = of("clip", self.clip_ids)
        self.layers = of("layer", [layer.name for layer in program.layers])
        self.intents = of("intent", [intent.name for intent in program.intents])
        self.memos = of("memo", [memo.name for memo in program.memos])
        self.thresholds = of("threshold", [threshold.name for threshold in program.thresholds])
        self.moments = of("moment",
                          [f"{clip.id} {moment.name}" for clip in made.clips
                           for moment in clip.moments])
        self.windows = of("window",
                          [f"{clip.id} {window.name}" for clip in made.clips
                           for window in clip.windows])
        self.texts = of("choice", made.texts)
        self.skins = of("skin", ["own", *[skin.name for skin in program.skins]])
        self.anchors = of("anchor", geometry.anchors if geometry is not None else ())

    def source(self) -> CSource:
        """Both files."""
        return CSource(self.name, self._in(self.header()), self._in(self.code()),
                       tuple(self.identifiers.renames))

    def _in(self, text: str) -> str:
        """A template under the puppet's name."""
        return re.sub("@([A-Z]+@)?", lambda found: found[0] if found[1] else self.name, text)

    # The header -----------------------------------------------------------------------------------

    def header(self) -> str:
        """What a game includes."""
        upper = self.name.upper()
        room = "\n".join(f"#define {upper}_{key} {value}"
                         for key, value in rooms(self.made).items())
        frames = part("frames.h") + part("figure.h") if self.geometry is not None else ""
        return part("header.h").replace("@FRAMES@", frames).replace(
            "@UPPER@", upper).replace("@SHAPE@", self.shape).replace("@ROOMS@", room).replace(
            "@ENUMS@", self._enums()).replace("@INPUTS@", self._inputs())

    def _enums(self) -> str:
        enums = []
        for kind, names in (
            ("state", self.states), ("group", self.groups), ("clip", self.clips),
            ("layer", self.layers),
            ("action", self.actions), ("sense", self.senses), ("intent", self.intents),
            ("memo", self.memos),
            ("threshold", self.thresholds), ("moment", self.moments), ("window", self.windows),
            ("choice", self.texts),
            ("anchor", self.anchors), ("skin", self.skins),
        ):
            entries = [f"{self.name}_{kind}_{name}".upper() + f" = {index}"
                       for index, name in enumerate(names)]
            if entries:
                body = ",\n    ".join(entries)
                enums.append(f"typedef enum {{\n    {body}\n}} @_{kind};\n")
        return "\n".join(enums)

    def _inputs(self) -> str:
        lines = [f"    bool {action};" for action in self.actions]
        kinds = {"bool": "bool", "int": "int64_t", "float": "double", "choice": "@_choice"}
        lines += [f"    {kinds[each.type]} {name};"
                  for each, name in zip(self.program.senses, self.senses, strict=True)]
        return "\n".join(lines)

    # The code -------------------------------------------------------------------------------------

    def code(self) -> str:
        """The tables, the conditions and the rules."""
        conditions = condition_functions(self.made)
        runtime = rules_of_a_tick().replace(
            "@CONDITIONS@", conditions).replace(
                "@CHOOSING@", choosing(self.made, CHOOSING)).replace(
            "@INPUTS_READ@", self._entry())
        frames = "" if self.geometry is None else frames_code(self.made, self.geometry)
        return "\n".join((
            part("head.c").replace("@SHAPE@", self.shape), self._defines(), structs(),
            arrays(self.made),
            *(f"static const int32_t {name}[] = {{{', '.join(map(str, places)) or '0'}}};\n"
              for name, places in (("LASTING", lasting(self.program)),
                                   ("EVENTS", events(self.program)))), runtime,
            self._telling(), frames)).replace("@UPPER@", self.name.upper())

    def _defines(self) -> str:
        return "".join(f"#define {key} {value if value >= 0 else f'({value})'}\n"
                       for key, value in numbers(self.made).items()) + "\n"

    def _entry(self) -> str:
        """What a game calls, with its inputs brought to the types that the puppet says."""
        down = "\n".join(f"    down[{index}] = in->{name};"
                         for index, name in enumerate(self.actions))
        lines, within = list[str](), list[str]()
        for index, (sense, name) in enumerate(zip(self.program.senses, self.senses, strict=True)):
            value = {
                "bool": f"in->{name} ? 1.0 : 0.0", "int": f"(double)in->{name}",
                "float": f"in->{name} + 0.0",
                "choice": f"choice_in({index}, (int32_t)in->{name})",
            }[sense.type]
            lines.append(f"    senses[{index}] = {value};")
            if sense.type in ("int", "float"):
                within.append(f"fabs(senses[{index}]) <= LARGEST")
        if within:
            lines += ["    if (!(" + "\n        && ".join(within) + ")) {",
                      "        bring_within(senses);", "    }"]
        body = "\n".join(lines)
        defaults = "\n".join(
            f"    in->{name} = {self._typed(index)};"
            for index, name in enumerate(self.senses))
        return part("entry.c").replace("@BODY@", body).replace(
            "@DEFAULTS@", defaults).replace("@DOWN@", down)

    def _telling(self) -> str:
        """What the live wire is told: digests of reports, and inputs as JSON by their ids."""
        program = self.program
        tables = (
            _texts("TOLD_ACTIONS", program.actions),
            _texts("TOLD_SENSES", [sense.id for sense in program.senses]),
            _texts("TOLD_TEXTS", self.made.texts), *self._names(),
            f"const char *const @_made_of = {_literal(self.made_of)};\n"
            f"const char *const @_made_of_in[] = {{{', '.join(map(_literal, self._looks()))}}};\n")
        return "\n".join((*tables, part("telling.c")))

    def _looks(self) -> list[str]:
        """Of which puppet it was made, in each skin."""
        return [self.made_of, *[f"{self.made_of}-{number}"
                                for number in range(1, 1 + len(self.program.skins))]]

    def _names(self) -> list[str]:
        """The names for people of what a report holds as numbers."""
        program = self.program
        named = {"state": [state.name for state in program.states], "clip": self.clip_ids,
                 "layer": [layer.name for layer in program.layers],
                 "skin": ["own", *[skin.name for skin in program.skins]]}
        texts = {kind: ", ".join(map(text_for_people, names)) for kind, names in named.items()}
        return [f"const char *const @_{kind}_names[] = {{{text or '0'}}};"
                for kind, text in texts.items()]

    def _start(self, sense: int) -> float:
        return float(cell("senses", self.made.tables["senses"][sense], "start"))

    def _typed(self, sense: int) -> str:
        start, kind = self._start(sense), self.program.senses[sense].type
        return {"bool": "true" if start else "false", "int": str(int(start)),
                "float": number(start),
                "choice": f"(@_choice){int(start)}"}[kind]


def _texts(name: str, texts: Sequence[str]) -> str:
    """A table of texts as JSON has them."""
    body = ", ".join(_literal(json.dumps(text)) for text in texts) or "0"
    return f"static const char *const {name}[] = {{{body}}};"


def _literal(text: str) -> str:
    """A text of ASCII as C writes it. Two question marks side by side would be read as another
    sign."""
    return '"' + text.replace("\\", "\\\\").replace('"', '\\"').replace("?", "\\?") + '"'


def text_for_people(text: str) -> str:
    """A text for people as C writes it: UTF-8, what is no plain sign by its number, three digits
    each."""
    return '"' + "".join(
        chr(each) if (chr(each).isalnum() and each < 128) or each in b" _-.,:" else f"\\{each:03o}"
        for each in text.encode("utf-8", errors="replace")) + '"'
