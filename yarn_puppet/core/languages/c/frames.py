"""C of what hangs on frames: tables of pictures, boxes and anchors, and what moments and windows
are."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence

from ...generate.flat import Flat
from ...generate.frame_rows import RuleOutput, frame_rows
from ...generate.geometry import Geometry, MomentOutput, WindowOutput
from ...generate.trees import number
from .parts import part

STRUCTS = """typedef struct {
    int32_t sheet, page, x, y, width, height;
    double left, top;
    bool flipped;
    int32_t boxes, box_count, anchors, anchor_count;
    double until, scale;
} frame_row;

typedef struct {
    double length;
    bool turns, holds;
} time_row;

typedef struct {
    bool body;
    int32_t name;
    double x, y, width, height;
} box_row;

typedef struct {
    int32_t anchor;
    double x, y;
} anchor_row;
"""
PLAIN = frozenset(
    " !#$%&'()*+,-./0123456789:;<=>@ABCDEFGHIJKLMNOPQRSTUVWXYZ[]^_`abcdefghijklmnopqrstuvwxyz{|}~"
)
"""What stands for itself in a text of C: no quote, no backslash, and no question mark, of which two
begin another letter."""


def text(value: str) -> str:
    """A text as C: whatever it holds, nothing of it ends it."""
    return '"' + "".join(chr(each) if chr(each) in PLAIN else f"\\{each:03o}"
                         for each in value.encode()) + '"'


def frames_code(made: Flat, geometry: Geometry) -> str:
    """The tables, the infos and the functions."""
    rows = frame_rows(made, geometry)
    moments = [each for clip in geometry.moments for each in clip]
    windows = [each for clip in geometry.windows for each in clip]
    times = [(fact.length, fact.turns, fact.holds) for fact in geometry.clip_facts]
    clips = {each.id: index for index, each in enumerate(geometry.clip_facts)}
    return "\n".join((
        STRUCTS, _table("frame_row", "FRAMES", rows.frames, 15),
        _table("box_row", "BOXES", rows.boxes, 6),
        _table("anchor_row", "ANCHOR_POINTS", rows.anchors, 3),
        _table("time_row", "CLIP_TIMES", times, 3),
        _numbers("FIRST_FRAMES", rows.first_frames),
        _numbers("FACES_LEFT", [fact.faces_left for fact in geometry.clip_facts], "bool"),
        _numbers("PINNED_TO", [layer.pinned_to for layer in geometry.layers]),
        _numbers("UNDER", [layer.under for layer in geometry.layers], "bool"),
        _numbers("TINTS", rows.tints),
        _numbers("WINDOW_BOXES", rows.window_boxes), _numbers("RULE_BOXES", rows.rule_boxes),
        _arguments(moments), _sounds(moments), _moments(moments, clips), _windows(windows),
        _rules(rows.rules),
        "const char *const @_sheet_files[] = {\n    "
        + (",\n    ".join(map(text, geometry.sheets)) or '""') + "\n};\n",
        part("frames.c"), part("figure.c")))


def _arguments(moments: Iterable[MomentOutput]) -> str:
    rows = []
    for moment in moments:
        for name, value in moment.arguments:
            kind = (
                "b"
                if isinstance(value, bool)
                else "i"
                if isinstance(value, int)
                else "t"
                if isinstance(value, str)
                else "f"
            )
            said = text(value) if isinstance(value, str) else '""'
            rows.append(
                f"    {{{text(name)}, '{kind}', {number(0 if kind == 't' else value)}, {said}}}"
            )
    body = ",\n".join(rows) or '    {"", \'t\', 0.0, ""}'
    return f"static const @_argument ARGUMENTS[] = {{\n{body}\n}};\n"


def _sounds(moments: Iterable[MomentOutput]) -> str:
    names = [text(file) for moment in moments for file in moment.sounds] or ['""']
    body = ",\n".join(f"    {name}" for name in names)
    return f"static const char *const SOUNDS[] = {{\n{body}\n}};\n"


def _moments(moments: Iterable[MomentOutput], clips: Mapping[str, int]) -> str:
    rows, at, heard = [], 0, 0
    for moment in moments:
        rows.append(
            f"    {{@UPPER@_{moment.kind.upper()}, {text(moment.name)}, {text(moment.file)}, "
            f"{moment.anchor}, "
            f"{_bool(moment.follow)}, {_bool(moment.mirrors)}, "
            + ", ".join(map(number, (moment.strength, moment.seconds, moment.speed, moment.angle)))
            + f", {clips.get(moment.clip, -1)}, {_bool(moment.round)}, {_bool(moment.under)}, "
            + f"{len(moment.arguments)}, "
            + f"&ARGUMENTS[{at if moment.arguments else 0}], {len(moment.sounds)}, "
            + f"&SOUNDS[{heard if moment.sounds else 0}]}}"
        )
        at += len(moment.arguments)
        heard += len(moment.sounds)
    body = ",\n".join(rows) or (
        '    {@UPPER@_CALL, "", "", -1, false, false, 0.0, 0.0, 0.0, 0.0, -1, false, false, 0, '
        '&ARGUMENTS[0], 0, &SOUNDS[0]}')
    return f"const @_moment_info @_moment_infos[] = {{\n{body}\n}};\n"


def _windows(windows: Iterable[WindowOutput]) -> str:
    rows = [
        f"    {{@UPPER@_{window.kind.upper()}, {text(window.name)}, {window.damage}, "
        f"{number(window.push)}, {window.hit_stop}}}"
        for window in windows
    ]
    body = ",\n".join(rows) or '    {@UPPER@_NAMED, "", 0, 0.0, 0}'
    return f"const @_window_info @_window_infos[] = {{\n{body}\n}};\n"


def _rules(rules: Iterable[RuleOutput]) -> str:
    rows = [
        f"    {{@UPPER@_RULE_{rule.kind.upper()}, {number(rule.value)}, {text(rule.text)}, "
        f"{rule.anchor}, "
        f"{text(rule.shows)}, {rule.clip}, {_bool(rule.round)}, {_bool(rule.under)}}}"
        for rule in rules
    ]
    body = ",\n".join(rows) or '    {@UPPER@_RULE_SAFE, 0.0, "", -1, "", -1, false, false}'
    return f"const @_rule_info @_rule_infos[] = {{\n{body}\n}};\n"


def _table(kind: str, name: str, rows: Sequence[tuple[float, ...]], width: int) -> str:
    body = ",\n".join(f"    {{{', '.join(map(_cell, row))}}}" for row in rows or [(0,) * width])
    return f"static const {kind} {name}[] = {{\n{body}\n}};\n"


def _cell(value: float) -> str:
    return (
        _bool(value)
        if isinstance(value, bool)
        else str(value)
        if isinstance(value, int)
        else number(value)
    )


def _numbers(name: str, values: Sequence[int], kind: str = "int32_t") -> str:
    words = [_bool(bool(value)) if kind == "bool" else str(value) for value in values] or ["0"]
    lines = ",\n    ".join(", ".join(words[at: at + 16])
                           for at in range(0, len(words), 16))
    return f"static const {kind} {name}[] = {{\n    {lines}\n}};\n"


def _bool(value: bool) -> str:
    return "true" if value else "false"
