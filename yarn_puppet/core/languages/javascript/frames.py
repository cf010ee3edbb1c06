"""JavaScript of what hangs on frames: tables of pictures, boxes and anchors; what moments, windows
and rules are."""

from __future__ import annotations

import json
from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from ...generate.flat import Flat
from ...generate.frame_rows import frame_rows
from ...generate.geometry import Geometry, MomentOutput
from .parts import part

FIELDS = {
    "FRAMES": "sheet page x y width height left top flipped boxes box_count anchors anchor_count "
              "until scale",
    "BOXES": "body name x y width height",
    "ANCHOR_POINTS": "anchor x y",
    "CLIP_TIMES": "length turns holds",
}
"""The fields of a table's rows."""


def frames_code(made: Flat, geometry: Geometry) -> str:
    """The tables, the infos and the functions."""
    rows = frame_rows(made, geometry)
    numbers = {"FIRST_FRAMES": rows.first_frames,
               "FACES_LEFT": [fact.faces_left for fact in geometry.clip_facts],
               "WINDOW_BOXES": rows.window_boxes, "RULE_BOXES": rows.rule_boxes,
               "TINTS": rows.tints,
               "PINNED_TO": [layer.pinned_to for layer in geometry.layers],
               "UNDER": [layer.under for layer in geometry.layers]}
    clips = {each.id: index for index, each in enumerate(geometry.clip_facts)}
    infos: dict[str, list[Mapping[str, Any]]] = {
        "MOMENT_INFOS": [_moment(each, clips) for clip in geometry.moments for each in clip],
        "WINDOW_INFOS": [
            {"kind": each.kind, "name": each.name, "damage": each.damage, "push": each.push,
             "hitStop": each.hit_stop}
            for clip in geometry.windows for each in clip],
        "RULE_INFOS": [
            {"kind": rule.kind, "value": rule.value, "text": rule.text, "anchor": rule.anchor,
             "picture": rule.shows,
             "clip": rule.clip, "round": rule.round, "under": rule.under} for rule in rows.rules],
    }
    return "\n".join((
        _table("FRAMES", rows.frames), _table("BOXES", rows.boxes),
        _table("ANCHOR_POINTS", rows.anchors),
        _table("CLIP_TIMES", [(fact.length, fact.turns, fact.holds)
                              for fact in geometry.clip_facts]),
        *(f"const {key} = {json.dumps(value)};" for key, value in numbers.items()),
        *(f"export const {key} = [{_lines(map(json.dumps, value))}];"
          for key, value in infos.items()),
        f"export const SHEET_FILES = {json.dumps(geometry.sheets)};",
        part("frames.js"), part("figure.js")))


def frames_types() -> str:
    """Their types."""
    return part("frames.d.ts") + part("figure.d.ts")


def _moment(each: MomentOutput, clips: Mapping[str, int]) -> Mapping[str, Any]:
    # Arguments are pairs: a name of any kind must not become a property that objects have already.
    said = each._asdict() | {"clip": clips.get(each.clip, -1)}
    return said | {"arguments": [{"name": name, "value": value} for name, value in each.arguments]}


def _table(name: str, rows: Iterable[Sequence[Any]]) -> str:
    names = ", ".join(FIELDS[name].split())
    return f"const {name} = [{_lines(map(json.dumps, rows))}].map(([{names}]) => ({{{names}}}));"


def _lines(rows: Iterable[str]) -> str:
    body = ",\n  ".join(rows)
    return f"\n  {body}\n" if body else ""
