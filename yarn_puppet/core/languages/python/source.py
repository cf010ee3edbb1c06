"""A program as one Python module that needs only the standard library: our own engine's files, and
the program.

The engine is the plain one and the fast one as they are here, put one after the other; the program
is written out as the values that it is made of. What two parts of it share is written once.
"""

from __future__ import annotations

import ast
import re
from functools import cache
from pathlib import Path
from typing import Any

from ...engine.program import Program
from ...generate.flat import flat
from ...generate.geometry import Geometry
from ...generate.parts import template
from ...generate.shape import shape_of

CORE = Path(__file__).parents[2]
FILES = (
    "model/kinds/gestures.py", "model/kinds/while_rules.py", "model/kinds/windows.py",
    "rules/numbers.py", "rules/tree.py", "rules/bind.py", "rules/evaluate.py",
    "engine/program_clips.py",
    "engine/program.py", "engine/worn.py", "engine/state.py",
    *(f"engine/plain/{name}.py" for name in (
        "sequences", "play", "dice", "blending", "controls", "while_rules", "choose", "facing",
        "beginning",
        "layers", "tick")),
)
"""What a tick needs, each after what it needs itself."""
HEAD = '''"""Made by Yarn Puppet. What is written here by hand is gone when it is made again.
It is yours, without conditions. SPDX-License-Identifier: MIT-0

`START` is a character before its first tick; `step(state, down, senses)` gives the next and what
happened. A state is a value: keep it to save the game, or to roll back.
"""

from __future__ import annotations

'''
TAIL = '''

SHAPE = @SHAPE@
"""The number of the puppet's shape: a state goes on only in code of the shape that began it."""
State = namedtuple("State", (*MachineState._fields, "shape", "skin"), defaults=(SHAPE, 0))
Told = namedtuple("Told", (*Report._fields, "skin"))
SKINS = ("own", *[skin.name for skin in PROGRAM.skins])
PROGRAMS = tuple([worn(PROGRAM, skin) for skin in range(len(SKINS))])
"""The puppet as it is, and in each of its skins."""
ACTIONS = PROGRAM.actions
SENSES = {sense.name: place for place, sense in enumerate(PROGRAM.senses)}
START = State(*initial_state(PROGRAM))


def start(skin=0, seed=1):
    """A character before its first tick, in a skin by its place in SKINS, which it keeps for good,
    with dice that begin with a seed.

    An IndexError says that there is no such skin.
    """
    if not 0 <= skin < len(PROGRAMS):
        raise IndexError(f"expected a skin of 0 to {len(PROGRAMS) - 1}, found {skin}")
    return State(*initial_state(PROGRAMS[skin], seed), SHAPE, skin)


def step(state, down=(), senses=None, landed=(), stopped=False, edges=None):
    """One tick of 1 / PROGRAM.rate seconds: the next state, and the report.

    `down` are the ids of the actions that are down, `senses` values by name, the others being as
    they start; `landed` are the hits of the tick before; `stopped`: a hit stop holds everything but
    the controls. `edges` gives by id how often an action went down or up since the last tick, where
    that is more than its level tells. A KeyError names what there is not; a ValueError says that a
    state is of another shape, as one that older code saved: begin again.
    """
    if getattr(state, "shape", None) != SHAPE:
        found = getattr(state, "shape", "none")
        raise ValueError(f"expected a state of shape {SHAPE}, found {found}")
    held = set(down)
    often = dict(edges or {})
    unknown = (held | set(often)) - set(ACTIONS)
    if unknown:
        raise KeyError(sorted(unknown)[0])
    values = [sense.start for sense in PROGRAM.senses]
    for name, value in (senses or {}).items():
        place = SENSES[name]
        sense = PROGRAM.senses[place]
        values[place] = fitted(value, sense.type, sense.choices, sense.start)
    down_now = tuple([each in held for each in ACTIONS])
    edges_now = tuple([often.get(each, 0) for each in ACTIONS]) if often else ()
    inputs = Inputs(down_now, tuple(values), tuple(landed), stopped, edges_now)
    machine, report = tick(PROGRAMS[state.skin], MachineState(*state[:-2]), inputs)
    return State(*machine, SHAPE, state.skin), Told(*report, state.skin)


def clip_worn(skin, clip):
    """The id of the clip that a skin has in the place of one of the puppet's."""
    return PROGRAM.skins[skin - 1].clips.get(clip, clip) if skin else clip
'''


def python_module(
    program: Program, made_of: str = "", geometry: Geometry | None = None
) -> str:
    """The source of the module. The same program gives the same text; `made_of` says of which
    puppet it is. With what hangs on its frames, where that is given."""
    writer, made = _Values(), flat(program)
    whole = writer.text(program._replace(kept=None, problems=()))
    values = "".join(f"{line}\n" for line in writer.lines)
    tail = TAIL.replace("@SHAPE@", str(shape_of(made)))
    telling = template("python", "telling.py.txt").replace("@MADE_OF@", repr(made_of)).replace(
        "@TEXTS@", repr(made.texts))
    return f"{HEAD}{_engine()}\n\n{values}PROGRAM = {whole}\n{tail}{telling}{_frames(geometry)}"


def _frames(geometry: Geometry | None) -> str:
    """The tables of frames and what looks into them; nothing where nothing is known of frames."""
    if geometry is None:
        return ""
    lines = []
    for clip, frames in zip(geometry.clip_facts, geometry.clips, strict=True):
        rows = "".join(
            f"\n        ({frame.sheet}, {frame.page}, {frame.cell!r}, {frame.corner!r}, "
            f"{frame.flipped}, "
            f"{tuple(map(tuple, frame.boxes))!r}, "
            f"{ {geometry.anchor_ids[anchor.anchor]: (anchor.x, anchor.y) for anchor in frame.anchors}!r}, {frame.scale!r}),"  # noqa: E501
            for frame in frames
        )
        lines.append(f"\n    {clip.id!r}: ({rows}\n    ),")
    times = {clip.id: (clip.length, clip.turns, clip.holds, tuple([each.until for each in frames]))
             for clip, frames in zip(geometry.clip_facts, geometry.clips, strict=True)}
    pinned = [(geometry.anchor_ids[layer.pinned_to] if layer.pinned_to >= 0 else None, layer.under)
              for layer in geometry.layers]
    tables = {
        "@SHEETS@": repr(geometry.sheets),
        "@ANCHORS@": repr(dict(zip(geometry.anchors, geometry.anchor_ids, strict=True))),
        "@FACES_LEFT@": repr(tuple([fact.id for fact in geometry.clip_facts if fact.faces_left])),
        "@FRAMES@": f"{{{''.join(lines)}\n}}", "@CLIP_TIMES@": repr(times),
        "@LAYERS@": repr(tuple(pinned)),
    }
    text = template("python", "frames.py.txt") + template("python", "figure.py.txt")
    # In one pass: no table is looked through for another's word.
    return re.sub("|".join(tables), lambda found: tables[found[0]], text)


@cache
def _engine() -> str:
    """The engine's files as one: imports of the standard library once, those of each other left
    out."""
    imports: dict[str, None] = dict.fromkeys((
        "from collections import namedtuple", "from functools import lru_cache",
        "from struct import pack"))
    bodies = []
    for name in FILES:
        source = (CORE / name).read_text(encoding="utf-8")
        lines = source.splitlines()
        drop: set[int] = set()
        for node in ast.parse(source).body:
            if isinstance(node, ast.Import | ast.ImportFrom):
                drop |= set(range(node.lineno - 1, node.end_lineno or node.lineno))
                if isinstance(node, ast.Import) or (not node.level and node.module != "__future__"):
                    imports[ast.unparse(node)] = None
            elif isinstance(node, ast.If) and ast.unparse(node.test) == "TYPE_CHECKING":
                drop |= set(range(node.lineno - 1, node.end_lineno or node.lineno))
            elif isinstance(node, ast.Expr) and node.lineno == 1:
                drop |= set(range(node.end_lineno or 1))
        bodies.append("\n".join(line
                                for number, line in enumerate(lines) if number not in drop).strip())
    return "\n".join(sorted(imports)) + "\n\n\n" + "\n\n\n".join(bodies) + "\n"


class _Values:
    """Writes values as Python. One that is met again is a name: `V0`, `V1` and so on."""

    def __init__(self) -> None:
        self.lines: list[str] = []
        self.known: dict[int, tuple[Any, str]] = {}

    def text(self, value: Any) -> str:
        """An expression for a value."""
        if isinstance(value, dict):
            items = ", ".join(f"{self.text(key)}: {self.text(each)}" for key, each in value.items())
            return f"{{{items}}}"
        if isinstance(value, frozenset):
            return f"frozenset(({''.join(f'{each!r}, ' for each in sorted(value))}))"
        if isinstance(value, tuple):
            return self._named(value) if hasattr(value, "_fields") else self._tuple(value)
        return repr(value)

    def _tuple(self, value: tuple[Any, ...]) -> str:
        return f"({''.join(f'{self.text(each)}, ' for each in value)})"

    def _named(self, value: Any) -> str:
        if id(value) not in self.known:
            fields = ", ".join(self.text(each) for each in value)
            name = f"V{len(self.lines)}"
            self.lines.append(f"{name} = {type(value).__name__}({fields})")
            self.known[id(value)] = (value, name)
        return self.known[id(value)][1]
