"""What a game in C poses bones by: the tables of `NAME.bones.json` as a header of their own."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from ...generate.parts import template, with_words
from ...generate.trees import number
from .source import text_for_people


def bone_header(name: str, table: Mapping[str, Any]) -> str:
    """The header of a puppet's bones; `table` is what is handed off as JSON."""
    keys, motions = list[str](), list[str]()
    for clip in table["clips"]:
        first = len(keys)
        for bone in clip["keys"] if clip is not None else ():
            keys += [f"{bone['bone']}, {number(at)}, {_row(turn)}"
                     for at, turn in zip(bone["times"], bone["turns"], strict=True)]
        motions.append("0, 0.0, 0.0, 1.0, 0, 0" if clip is None else ", ".join([
            _text(clip["animation"]), number(clip["start"]), number(clip["end"]),
            number(clip["speed"]), str(first), str(len(keys) - first)]))
    arrays = [
        _array("@_bone", "bones", [_bone(bone) for bone in table["bones"]]),
        _array("@_bone_key", "bone_keys", keys or ["-1, 0.0, {0.0, 0.0, 0.0, 1.0}"]),
        _array("@_motion", "motions", motions, "by @_clip"),
        _array("@_bone_layer", "bone_layers", [_layer(layer) for layer in table["layers"]],
               "by @_layer"),
        _array("double", "momentum", _momentum(table), "by transition: the seconds in which the "
               "old pose's offset and speed die away; 0 for a cut, -1 for a crossfade", False),
        _array("@_bone_anchor", "bone_anchors", [_anchor(each) for each in table["anchors"]] or [
            _anchor(None)], "by @_anchor"),
        _array("@_bone_box", "bone_boxes", [_box(each) for each in table["boxes"]] or [
            'false, "", @UPPER@_BOX, -1, {0.0, 0.0, 0.0}, {0.0, 0.0, 0.0, 1.0}, '
            "{0.0, 0.0, 0.0}"]),
    ]
    text = with_words(template("c", "bones.h"), {
        "@COUNT@": str(len(table["bones"])), "@BOXES@": str(len(table["boxes"])),
        "@TABLES@": "\n".join(arrays)})
    return text.replace("@UPPER@", name.upper()).replace("@", name)


def _bone(bone: Mapping[str, Any]) -> str:
    base = bone.get("base")
    return (f"{_text(bone['name'])}, {bone['parent']}, {bone['node']}, "
            f"{'true' if base else 'false'}, {_row(base or [0.0])}")


def _layer(layer: Mapping[str, Any]) -> str:
    reference = layer["reference"]
    return (f"{_row(layer['mask'])}, {'true' if layer['adds'] else 'false'}, "
            f"{reference['clip'] if reference else -1}, "
            f"{number(reference['at'] if reference else 0.0)}")


def _momentum(table: Mapping[str, Any]) -> list[str]:
    every = table["momentum"] or [0.0 for _ in table["transition_ids"]]
    return [number(-1.0 if each is None else each) for each in every] or ["0.0"]


def _anchor(anchor: Mapping[str, Any] | None) -> str:
    if anchor is None:
        return "-1, {0.0, 0.0, 0.0}, {0.0, 0.0, 0.0, 1.0}, 1.0"
    return (f"{anchor['bone']}, {_row(anchor['place'])}, {_row(anchor['turn'])}, "
            f"{number(anchor['size'])}")


def _box(box: Mapping[str, Any]) -> str:
    return (f"{'true' if box['kind'] == 'hit' else 'false'}, {_text(box['name'])}, "
            f"@UPPER@_{box['shape'].upper()}, {box['bone']}, {_row(box['place'])}, "
            f"{_row(box['turn'])}, {_row(box['size'])}")


def _text(text: str | None) -> str:
    # What stands for the puppet's name elsewhere is no part of a bone's.
    return "0" if text is None else text_for_people(text)


def _row(values: Iterable[float]) -> str:
    return f"{{{', '.join([number(value) for value in values])}}}"


def _array(kind: str, name: str, rows: Sequence[str], words: str = "", braces: bool = True) -> str:
    body = ",\n".join([f"    {{{row}}}" if braces else f"    {row}" for row in rows])
    said = f"/* {words} */\n" if words else ""
    return f"{said}static const {kind} @_{name}[] = {{\n{body}\n}};\n"
