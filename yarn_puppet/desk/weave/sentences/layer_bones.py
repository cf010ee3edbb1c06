"""What a layer of bones rules: its mask, whether it adds, and against which pose."""

from __future__ import annotations

from collections.abc import Callable

from ....core.model.graph import Layer
from ....core.model.motions import MOST_SOFT, BoneWeight, ReferencePose
from ...pictures.bones import Bones
from ...session.document import Document
from ...widgets import theme
from ...widgets.parts import Part, Token, Word, choice_field, number_field

ALL = "all bones"
REST = "the rest pose"


def mask_parts(
    document: Document, layer: Layer, bones: Bones | None, change: Callable[..., None]
) -> list[Part]:
    """On which bones, how softly, and in place of what is below or added to it."""
    poses = bones.poses if bones is not None else None
    names = poses.skeleton.names if poses is not None else layer.mask

    def point(name: str) -> None:
        if name == ALL:
            change("mask: all bones", mask=(), soft=0, weights=())
        else:
            change("mask of bones", mask=(name,))

    def more(name: str) -> None:
        change("mask of bones", mask=(*[each for each in layer.mask if each != name], name))

    first = layer.mask[0] if layer.mask else ALL
    lost = poses is not None and any(poses.bone(name) is None for name in layer.mask)
    parts: list[Part] = [
        Word("· on"),
        Token(first, theme.WELD if lost else theme.PLUM, name="mask",
              tip="The bone from which it rules, with all under it",
              field=choice_field(first, [(ALL, ALL), *[(name, name) for name in names]], point)),
    ]
    for name in layer.mask[1:]:
        parts.append(Token(f"and {name}", theme.PLUM, name=f"mask {name}", tip="Click to take it "
                           "out of the mask", action=_without(layer, name, change)))
    if layer.mask:
        parts += [
            Token("and…", theme.PLUM, quiet=True, name="mask more",
                  field=choice_field("", [(name, name) for name in names
                                          if name not in layer.mask], more)),
            Word("down, soft over"),
            Token(f"{layer.soft} bones", theme.PLUM, name="soft", quiet=not layer.soft,
                  tip="Down each chain it rises over so many bones, so that no joint breaks",
                  field=number_field(layer.soft, lambda value: change(
                      "soften mask", soft=round(value)), 0, MOST_SOFT, 1)),
        ]
    parts += _weights(layer, names, change)
    parts.append(Token(
        "adds to" if layer.adds else "in place of", theme.INDIGO, name="adds",
        tip="Whether its pose takes the place of what is below, or is laid on top of it as far as "
            "it differs from a reference; click to switch",
        action=lambda: change("add or override", adds=not layer.adds)))
    if layer.adds:
        parts += _reference(document, layer, change)
    return parts


def _without(layer: Layer, name: str, change: Callable[..., None]) -> Callable[[], None]:
    return lambda: change("mask of bones",
                          mask=tuple([each for each in layer.mask if each != name]))


def _weights(
    layer: Layer, names: tuple[str, ...], change: Callable[..., None]
) -> list[Part]:
    """Weights of single bones, set by hand."""
    parts: list[Part] = []
    for each in layer.weights:
        def put(value: float, bone: str = each.bone) -> None:
            kept = tuple([one for one in layer.weights if one.bone != bone])
            change("weight of a bone", weights=(*kept, BoneWeight(bone, value / 100)))

        parts.append(Token(f"{each.bone} {each.weight:.0%}", theme.PLUM, name=f"weight {each.bone}",
                           field=number_field(each.weight * 100, put, 0, 100, 10)))
    known = {each.bone for each in layer.weights}

    def begin(bone: str) -> None:
        change("weight of a bone", weights=(*layer.weights, BoneWeight(bone, 0.5)))

    parts.append(Token("a bone's weight…", theme.PLUM, quiet=True, name="bone weight",
                       field=choice_field("", [(name, name) for name in names
                                               if name not in known], begin)))
    return parts


def _reference(
    document: Document, layer: Layer, change: Callable[..., None]
) -> list[Part]:
    puppet, reference = document.puppet, layer.reference
    clip = puppet.clip(reference.clip) if reference is not None else None
    clips = [(REST, "")] + [(each.name, each.id) for each in puppet.clips
                            if each.motion is not None]
    at = reference.at if reference is not None else 0.0
    parts: list[Part] = [
        Word("what is below, as it differs from"),
        Token(clip.name if clip is not None else REST, theme.INDIGO, name="reference",
              field=choice_field(reference.clip if reference is not None else "", clips,
                                 lambda id: change(
                                     "reference of a layer",
                                     reference=ReferencePose(id, at) if id else None))),
    ]
    if clip is not None and reference is not None:
        parts.append(Token(f"at {at:g} ms", theme.INDIGO, name="reference at",
                           field=number_field(at, lambda value: change(
                               "reference of a layer", reference=ReferencePose(clip.id, value)),
                               0, max(1.0, clip.length), 10)))
    return parts
