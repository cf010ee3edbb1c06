"""The sentence of what stands on the chosen bone: its boxes and anchors, each token the field
itself."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Literal, get_args

import numpy as np

from ....core.model.clips import Anchor
from ....core.model.edits import bone_boxes as edits
from ....core.model.edits.entries import changed, removed
from ....core.model.motions import BoneBox, BonePlace, BoxShape, Vector
from ....core.pose.bones.in_hand import with_vector
from ....core.pose.bones.limbs import Limbs
from ...pictures.bones import Bones
from ...session.document import Document
from ...widgets import theme
from ...widgets.parts import Part, Token, Word, choice_field, name_field, number_field
from ..clip_desk import ClipDesk

Change = Callable[..., None]
ANY = "any hit window"
SIZES = {"box": ("wide", "high", "deep"), "ball": ("wide",), "capsule": ("wide", "long")}
"""What of a shape can be measured."""


def standing_sentence(document: Document, desk: ClipDesk, bones: Bones) -> list[Part]:
    """The boxes and anchors of the chosen bone, the chosen one whole; and more of them."""
    bone, puppet = desk.bone, document.puppet
    if bone is None or bones.poses is None or bones.poses.bone(bone) is None:
        return []
    boxes = [box for box in puppet.bone_boxes if box.bone == bone]
    anchors = [each for each in puppet.anchors
               if each.on_bone is not None and each.on_bone.bone == bone]
    ids = [*[box.id for box in boxes], *[anchor.id for anchor in anchors]]
    chosen = desk.on_bone if desk.on_bone in ids else (ids[0] if ids else None)
    parts: list[Part] = []
    for box in boxes:
        parts += _box(document, box) if box.id == chosen else [_other(desk, box.id, f"{box.kind} "
                                                                      f"box {box.name}".strip())]
    for anchor in anchors:
        parts += _anchor(document, anchor) if anchor.id == chosen else [
            _other(desk, anchor.id, anchor.name)]
    kinds: tuple[Literal["body", "hit"], ...] = ("hit", "body")
    for kind in kinds:
        parts.append(Token(f"+ {kind} box", theme.MADDER if kind == "hit" else theme.MOSS,
                           quiet=True, name=f"add {kind} box",
                           action=_adding(document, desk, bones, kind, bone)))
    parts.append(Token("+ anchor", theme.PLUM, quiet=True, name="add anchor",
                       action=_adding_anchor(document, desk, bone)))
    return parts


def _other(desk: ClipDesk, id: str, words: str) -> Token:
    return Token(words, theme.QUIET, quiet=True, name=f"show {id}",
                 action=lambda: desk.set(on_bone=id))


def _adding(
    document: Document, desk: ClipDesk, bones: Bones, kind: Literal["body", "hit"], bone: str
) -> Callable[[], None]:
    def add() -> None:
        place, turn, size = as_limb(bones, bone)
        puppet, id = edits.bone_box_added(document.puppet, kind, bone, "capsule", place, turn, size)
        document.edit(f"{kind} box on {bone}", puppet)
        desk.set(on_bone=id)

    return add


def _adding_anchor(document: Document, desk: ClipDesk, bone: str) -> Callable[[], None]:
    def add() -> None:
        puppet, id = edits.bone_anchor_added(document.puppet, bone)
        document.edit(f"anchor on {bone}", puppet)
        desk.set(on_bone=id)

    return add


def as_limb(bones: Bones, bone: str) -> tuple[Vector, Vector, Vector]:
    """The place, turn and size of a capsule that is as a bone's limb; a small one where it has
    none."""
    limbs: Limbs | None = bones.limbs
    number = bones.poses.bone(bone) if bones.poses is not None else None
    found = np.flatnonzero(limbs.bones == number) if limbs is not None else np.zeros(0, dtype=int)
    if limbs is None or not len(found):
        return (0.0, 0.0, 0.0), (0.0, 0.0, 0.0), (0.1, 0.1, 0.1)
    start, end = limbs.starts[found[0]], limbs.ends[found[0]]
    wide = 2 * float(limbs.radii[found[0]].max())
    middle, way = (start + end) / 2, end - start
    length = float(np.linalg.norm(way))
    return _vector(middle), _turn_of_y(way / length) if length > 1e-6 else (0.0, 0.0, 0.0), (
        wide, length + wide, wide)


def _vector(numbers: Any) -> Vector:
    return float(numbers[0]), float(numbers[1]), float(numbers[2])


def _turn_of_y(way: Any) -> Vector:
    """The turn, axis × degrees, that takes y to a direction."""
    axis = np.cross((0.0, 1.0, 0.0), way)
    sine = float(np.linalg.norm(axis))
    angle = float(np.degrees(np.arctan2(sine, way[1])))
    if sine < 1e-6:
        # Straight down it may turn about any axis across.
        return (angle, 0.0, 0.0)
    return _vector(axis / sine * angle)


def _box(document: Document, box: BoneBox) -> list[Part]:
    def change(name: str, /, **values: object) -> None:
        document.edit(name, lambda now: edits.bone_box_changed(now, box.id, **values))

    color = theme.MADDER if box.kind == "hit" else theme.MOSS
    kinds = [("hit", "hit"), ("body", "body")]
    parts: list[Part] = [
        Token(f"{box.kind} box", color, name="box kind", filled=True,
              field=choice_field(box.kind, kinds, lambda kind: change("kind of box", kind=kind))),
        Token(box.shape, color, name="box shape",
              field=choice_field(box.shape, [(each, each) for each in get_args(BoxShape)],
                                 lambda shape: change("shape of box", shape=shape))),
    ]
    if box.kind == "hit":
        names = dict.fromkeys(window.name for clip in document.puppet.clips
                              for window in clip.windows if window.kind == "hit")
        parts += [Word("for"), Token(box.name or ANY, theme.MADDER, name="box window", field=(
            choice_field(box.name, [(ANY, ""), *[(name, name) for name in names]],
                         lambda name: change("window of box", name=name))))]
    else:
        parts.append(Token(box.name or "always", theme.MOSS, name="box name", field=name_field(
            box.name, lambda text: change("name box", name=text),
            "a while-rule can ask for it; empty for always"), quiet=not box.name))
    for axis, words in enumerate(SIZES[box.shape]):
        parts.append(Token(f"{words} {box.size[axis] * 100:.3g} cm", color, name=f"box {words}",
                           field=number_field(box.size[axis] * 100, _sizing(box, axis, change), 1,
                                              10_000, 1)))
    parts.append(Word("at"))
    for axis, name in enumerate("xyz"):
        parts.append(Token(f"{name} {box.place[axis] * 100:.3g}", theme.INDIGO, name=f"box {name}",
                           tip="Centimetres from the bone's joint, along its own axes",
                           field=number_field(box.place[axis] * 100, _placing(box, axis, change),
                                              -10_000, 10_000, 1)))
    parts.append(Token("×", theme.MADDER, quiet=True, name="remove box", tip="Remove this box",
                       action=lambda: document.edit(
                           "remove box", lambda now: edits.bone_box_removed(now, box.id))))
    return parts


def _sizing(box: BoneBox, axis: int, change: Change) -> Callable[[float], None]:
    def put(value: float) -> None:
        numbers = list(box.size)
        numbers[axis] = value / 100
        change("size of box", size=tuple(numbers))

    return put


def _placing(box: BoneBox, axis: int, change: Change) -> Callable[[float], None]:
    def put(value: float) -> None:
        numbers = list(box.place)
        numbers[axis] = value / 100
        change("place of box", place=tuple(numbers))

    return put


def _anchor(document: Document, anchor: Anchor) -> list[Part]:
    place = anchor.on_bone
    assert place is not None

    def put(made: BonePlace) -> None:
        document.edit("place anchor", lambda now: edits.anchor_placed(now, anchor.id, made))

    parts: list[Part] = [
        Word("anchor"),
        Token(anchor.name, theme.PLUM, name="anchor name", filled=True,
              field=name_field(anchor.name, lambda text: document.edit(
                  "rename anchor", lambda now: changed(now, "anchors", anchor.id, name=text)))),
        Word("at"),
    ]
    for axis, name in enumerate("xyz"):
        parts.append(Token(f"{name} {place.place[axis] * 100:.3g}", theme.INDIGO,
                           name=f"anchor {name}",
                           tip="Centimetres from the bone's joint; or drag it on the view",
                           field=number_field(place.place[axis] * 100, _moving(
                               place, "place", axis, 100, put), -10_000, 10_000, 1)))
    parts.append(Word("turned"))
    for axis, name in enumerate("xyz"):
        parts.append(Token(f"{name} {place.turn[axis]:.4g}°", theme.INDIGO,
                           name=f"anchor turn {name}",
                           field=number_field(place.turn[axis], _moving(
                               place, "turn", axis, 1, put), -360, 360, 5)))
    parts += [
        Token(f"× {place.size:g}", theme.INDIGO, name="anchor size", tip="How large what hangs "
              "there is", field=number_field(place.size, lambda value: put(BonePlace(
                  place.bone, place.place, place.turn, value)), 0.01, 100, 0.1)),
        Token("×", theme.MADDER, quiet=True, name="remove anchor", tip="Remove this anchor",
              action=lambda: document.edit("remove anchor",
                                           lambda now: removed(now, "anchors", anchor.id))),
    ]
    return parts


def _moving(
    place: BonePlace, field: str, axis: int, scale: float, put: Callable[[BonePlace], None]
) -> Callable[[float], None]:
    return lambda value: put(with_vector(place, field, axis, value / scale))
