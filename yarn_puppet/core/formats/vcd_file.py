"""A trace as a value change dump (IEEE 1364), for the waveform viewers that read it.

The format knows bits and reals but no words. So a choice is a bit for each of what it can be: each
state of a layer, each window, each intent that is armed is a wire of its own in a scope; numbers
are reals; moments and transitions are events. One unit of time is a microsecond.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from typing import Any, TextIO

from ..model.kinds.while_rules import AT_REST, REPORTED
from .vcd_names import VcdIdentifiers

MICROSECONDS = 1_000_000
SIGNS = [chr(code) for code in range(33, 127)]
WITHOUT_RULES: dict[str, Any] = dict(zip(REPORTED, AT_REST, strict=True))
"""What while-rules come to in a tick in which none is in force: a trace line says nothing of it
then."""


def write_vcd(lines: Callable[[], Iterable[dict[str, Any]]], rate: int, out: TextIO) -> None:
    """Trace lines of a run with so many ticks a second. They are asked for twice: first for what
    there is at all, which stands in front; then they are written as they come, however many there
    are."""
    kinds: dict[Key, str] = {}
    ticks = sum(1 for _ in _changes(lines(), kinds, None))
    changes = list[tuple[Key, Any]]()
    marks = {key: _sign(number) for number, key in enumerate(kinds)}
    out.write("$comment A trace of Yarn Puppet $end\n$timescale 1 us $end\n")
    modules = VcdIdentifiers()
    for scope in dict.fromkeys(scope for scope, _ in kinds):
        out.write(f"$scope module {modules.of(_called(scope))} $end\n")
        variables = VcdIdentifiers()
        for (within, name), kind in kinds.items():
            if within == scope:
                width = 64 if kind == "real" else 1
                out.write(f"$var {kind} {width} {marks[within, name]} {variables.of(name)} $end\n")
        out.write("$upscope $end\n")
    out.write("$enddefinitions $end\n#0\n$dumpvars\n")
    for number in _changes(lines(), kinds, changes):
        tick = number - 1
        if tick == 0:
            begun = {key for key, _ in changes}
            changes[:0] = [(key, 0) for key, kind in kinds.items()
                           if key not in begun and kind != "event"]
        elif changes:
            out.write(f"#{tick * MICROSECONDS // rate}\n")
        for key, value in changes:
            out.write(_change(kinds[key], marks[key], value))
        if tick == 0:
            out.write("$end\n")
        changes.clear()
    out.write("$end\n" if ticks == 0 else "")
    out.write(f"#{ticks * MICROSECONDS // rate}\n")


Scope = tuple[str, ...]
"""What a scope is of, and whose: a layer may be called "senses"."""
Key = tuple[Scope, str]


def _changes(
    lines: Iterable[dict[str, Any]], kinds: dict[Key, str], found: list[tuple[Key, Any]] | None
) -> Iterator[int]:
    """Goes through a run, and gives after each tick how many there were. `kinds` come to say of
    which kind everything is; into `found`, where it is given, comes what changes in the tick."""
    before: dict[Key, Any] = {}
    for number, line in enumerate(lines, 1):
        row = _flat(line)
        for key, value in row.items():
            kind = "event" if value is EVENT else "wire" if isinstance(value, bool) else "real"
            # What was a bit and is a number elsewhere is a number.
            kinds[key] = "real" if "real" in (kinds.get(key), kind) else kind
            if found is not None and (value is EVENT or before.get(key) != value):
                found.append((key, value))
                before[key] = value
        for key in [key for key, value in before.items() if key not in row and value]:
            if found is not None and before[key] is not EVENT:
                found.append((key, 0))
            before[key] = 0
        yield number


def _change(kind: str, mark: str, value: Any) -> str:
    if kind == "event":
        return f"1{mark}\n"
    return f"r{float(value):.16g} {mark}\n" if kind == "real" else f"{int(value)}{mark}\n"


EVENT = object()
"""Something that happens in a tick, and is over."""


def _flat(line: dict[str, Any]) -> dict[Key, Any]:
    """What a tick tells, as (scope, name): value."""
    found: dict[Key, Any] = {}
    for layer, layer_line in line["layers"].items():
        found[("layer", layer), layer_line["state"]] = True
        found[("clip", layer), "clip_time"] = float(layer_line["clip_time"])
        found[("clip", layer), "frame"] = float(layer_line["frame"])
    valued = {**line, "rules": WITHOUT_RULES | line["rules"]}
    for scope in ("senses", "memos", "thresholds", "rules"):
        for name, value in valued.get(scope, {}).items():
            if isinstance(value, str):
                found[(scope,), f"{name} {value or 'none'}"] = True
            else:
                found[(scope,), name] = value if isinstance(value, bool) else float(value)
    found[("facing",), line["facing"]] = True
    for scope in ("armed", "windows"):
        found |= {((scope,), name): True for name in line[scope]}
    found |= {(("used",), name): EVENT for name in line["used"]}
    found |= {(("moments",), moment["name"]): EVENT for moment in line["moments"]}
    found |= {(("taken",), f"{each['from']} to {each['to']}"): EVENT for each in line["taken"]}
    booth = line.get("booth")
    if booth is not None:
        found[("booth",), "x"], found[("booth",), "y"] = float(booth["x"]), float(booth["y"])
        found |= {(("hits",), f"{hit['target']} by {hit['window']}"): EVENT
                  for hit in booth["hits"]}
    return found


def _called(scope: Scope) -> str:
    kind, *whose = scope
    return whose[0] if kind == "layer" else f"{whose[0]} clip" if kind == "clip" else kind


def _sign(number: int) -> str:
    """The short mark by which changes tell what they are of."""
    sign = SIGNS[number % len(SIGNS)]
    while number >= len(SIGNS):
        number = number // len(SIGNS) - 1
        sign += SIGNS[number % len(SIGNS)]
    return sign
