"""Edits of what stands on bones: boxes that hit and are hit, and anchors."""

from __future__ import annotations

from typing import Any, Literal

from msgspec.structs import replace

from ..basics.ids import all_ids, free_name, new_id
from ..clips import Anchor
from ..motions import BoneBox, BonePlace, BoxShape, Vector
from ..puppet import Puppet, find
from .entries import added, changed, removed, tidy, with_entries

LEAST = 0.01
"""Metres that a box is wide."""


def bone_box_added(
    puppet: Puppet, kind: Literal["body", "hit"], bone: str, shape: BoxShape, place: Vector,
    turn: Vector, size: Vector, name: str = "",
) -> tuple[Puppet, str]:
    """With a box on a bone; also its id."""
    id = new_id(f"{kind} box", all_ids(puppet), "box")
    made = BoneBox(id, kind, bone, shape, _fine(place), _fine(turn), _sized(size), name)
    return added(puppet, "bone_boxes", made), id


def bone_box_changed(puppet: Puppet, id: str, **values: Any) -> Puppet:
    """With other values in a box."""
    if "size" in values:
        values["size"] = _sized(values["size"])
    return with_entries(puppet, "bone_boxes", tuple(
        [replace(each, **values) if each.id == id else each for each in puppet.bone_boxes]))


def bone_box_removed(puppet: Puppet, id: str) -> Puppet:
    """Without a box."""
    return removed(puppet, "bone_boxes", id)


def bone_anchor_added(puppet: Puppet, bone: str) -> tuple[Puppet, str]:
    """With an anchor at a bone's own place; also its id."""
    name = free_name(bone, {anchor.name for anchor in puppet.anchors})
    id = new_id(name, all_ids(puppet), "anchor")
    return added(puppet, "anchors", Anchor(id, name, BonePlace(bone))), id


def anchor_placed(puppet: Puppet, id: str, place: BonePlace) -> Puppet:
    """With an anchor at a place on a bone."""
    found = find(puppet.anchors, id)
    if found is None:
        return puppet
    return changed(puppet, "anchors", id, on_bone=BonePlace(
        place.bone, _fine(place.place), _fine(place.turn), place.size))


def _fine(vector: Vector) -> Vector:
    """Tenths of a millimetre, or of a thousandth of a degree, are fine enough."""
    return round(vector[0], 4) + 0.0, round(vector[1], 4) + 0.0, round(vector[2], 4) + 0.0


def _sized(size: Vector) -> Vector:
    return (max(LEAST, tidy(size[0])), max(LEAST, tidy(size[1])), max(LEAST, tidy(size[2])))
