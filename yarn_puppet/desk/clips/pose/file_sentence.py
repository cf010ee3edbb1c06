"""A file of bones as a sentence: its unit, which axis is up, how it is turned, what was assumed as
it was read, and how its bones and limbs go with ours."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any

from ....core.model.bones import BoneArt
from ....core.model.edits.bone_settings import bone_setting_changed, kept_pairs, paired_as
from ....core.model.motions import BoneFile, BoneSetting
from ....core.model.puppet import find
from ....core.pose.bones.clip_poses import ClipPoses
from ....core.pose.bones.recognising import unlike
from ...pictures.bones import Bones
from ...session.document import Document
from ...widgets import theme
from ...widgets.parts import Field, Part, Suggestion, Token, Word, choice_field
from ..clip_desk import ClipDesk

METRES = {"metres": 1.0, "centimetres": 0.01, "millimetres": 0.001, "inches": 0.0254,
          "feet": 0.3048}
"""In one of each unit."""
TALLEST = 1000.0
"""Metres that a body may be made high."""
AS_READ = {"metres": "metres", "metres (a guess)": "metres",
           "centimetres (a guess)": "centimetres"}
WAYS = {0.0: "as in its file", 90.0: "turned by 90°", 180.0: "turned round",
        270.0: "turned by 270°"}
MOST = 3
"""Remarks that are told one by one."""


def bone_file_parts(
    document: Document, desk: ClipDesk, bones: Bones, pairs: Callable[[str], None]
) -> list[Part]:
    """The sentence of the file that is looked at; nothing where none is, or it is not read."""
    file, poses = find(document.puppet.bone_files, desk.bone_file or ""), bones.poses
    if file is None or poses is None or poses.puppet is not document.puppet:
        return []
    art = poses.arts.get(file.id)
    if art is None:
        return []
    parts: list[Part] = [Word(file.name, strong=True), *_size(document, file, art, bones),
                         *_axes(document, file)]
    parts += [Word(f"· {each}") for each in (*art.assumed, *art.left_out)[:MOST]]
    if file.id != document.puppet.bone_files[0].id:
        parts += _beside_ours(document, file, art, poses, pairs)
    parts.append(Token("done", theme.INK, filled=True, name="bone file done",
                       action=partial(desk.look_at_file, None)))
    return parts


def unit_of(setting: BoneSetting, art: BoneArt) -> str:
    """The unit that one length of a file is, or how many times what it was read as."""
    read = METRES[AS_READ[art.unit]]
    return next((name for name, metres in METRES.items()
                 if abs(metres - setting.scale * read) < 1e-9 * metres), f"{setting.scale:g}×")


def _put(document: Document, file: BoneFile, **fields: Any) -> None:
    document.edit("set a file of bones right",
                  lambda now: bone_setting_changed(now, file.id, **fields))


def _size(document: Document, file: BoneFile, art: BoneArt, bones: Bones) -> list[Part]:
    read = METRES[AS_READ[art.unit]]
    tall = bones.height if file.id == document.puppet.bone_files[0].id else None

    def commit(text: str) -> None:
        if text in METRES:
            _put(document, file, scale=METRES[text] / read)
        elif tall:
            _put(document, file, scale=file.setting.scale * float(text.split()[0]) / tall)

    def check(text: str) -> str | None:
        try:
            metres = float(text.split()[0]) if text.split() else 0.0
        except ValueError:
            metres = 0.0
        if text in METRES or (tall and 0 < metres <= TALLEST):
            return None
        return f"one of {', '.join(METRES)}" + ", or how many metres it is tall" * bool(tall)

    unit = unit_of(file.setting, art)
    guess = " (a guess)" * (art.unit.endswith(")") and file.setting.scale == 1.0)
    parts: list[Part] = [
        Word("· in"),
        Token(f"{unit}{guess}", theme.INDIGO, name="bone unit", tip="The unit of its lengths",
              field=Field(unit, commit, tuple([Suggestion(each, each) for each in METRES]),
                          check=check, free=bool(tall)))]
    if tall:
        parts.append(Word(f"{tall:.2f} m tall"))
    return parts


def _axes(document: Document, file: BoneFile) -> list[Part]:
    setting = file.setting
    return [
        Token(f"{setting.up} is up", theme.INDIGO, name="bone up",
              field=choice_field(setting.up, [(f"{axis} is up", axis) for axis in "yzx"],
                                 lambda axis: _put(document, file, up=axis))),
        Token(WAYS.get(setting.turned, f"turned by {setting.turned:g}°"), theme.INDIGO,
              name="bone turned", tip="About the axis that is up",
              field=choice_field(f"{setting.turned:g}", [(words, f"{turned:g}")
                                                         for turned, words in WAYS.items()],
                                 lambda turned: _put(document, file, turned=float(turned))))]


def _beside_ours(
    document: Document, file: BoneFile, art: BoneArt, poses: ClipPoses,
    pairs: Callable[[str], None],
) -> list[Part]:
    match = poses.source(file.id).match
    parts: list[Part] = [
        Word("·"), Token(f"{len(match.ours)} of {len(art.skeleton.names)} bones are ours…",
                         theme.WOAD, name="bone pairs",
                         tip="Which bone is which, on two figures",
                         action=partial(pairs, file.id))]
    names = frozenset(art.skeleton.names)
    if (like := kept_pairs(document.puppet, file.id, names)) is not None:
        given = {pair.theirs: pair.ours for pair in like.pairs}
        parts.append(Token(f"pair as in {like.name}", theme.WOAD, name="pair as before",
                           action=lambda: document.edit("pair bones as before", lambda now:
                                                        paired_as(now, file.id, given))))
    found = unlike(poses.as_read(file.id), file.setting, poses.skeleton, match)
    if found.setting != file.setting:
        words = " and ".join([
            *[f"{found.setting.up} is up"] * (found.setting.up != file.setting.up),
            *[WAYS[found.setting.turned]] * (found.setting.turned != file.setting.turned)])
        parts += [Word("· it rests otherwise than ours:"),
                  Token(f"set right: {words}", theme.WELD, name="set bones right",
                        action=partial(_put, document, file, up=found.setting.up,
                                       turned=found.setting.turned))]
    elif found.limbs or file.setting.limbs:
        some = ", ".join(f"{bone} by {degrees:.0f}°"
                         for bone, degrees in [*found.limbs.items()][:MOST])
        more = f" and {len(found.limbs) - MOST} more" * (len(found.limbs) > MOST)
        if some:
            parts.append(Word(f"· limbs rest otherwise: {some}{more};"))
        words = "point as theirs do" if file.setting.limbs else "turn from rest as theirs do"
        parts.append(Token(f"they {words}", theme.WELD, name="bone limbs",
                           tip="Whether a limb points as theirs does, or turns from how it rests",
                           action=partial(_put, document, file, limbs=not file.setting.limbs)))
    return parts
