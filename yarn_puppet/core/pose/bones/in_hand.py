"""What hangs on bones: anchors with a place, a turn and a size, and the props that while-rules hold
there. Rule 14 of docs/poses.md."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

import numpy as np

from ...engine.state import Report
from ...model.clips import Clip
from ...model.motions import BonePlace, Vector
from ...model.puppet import Puppet
from ..strongest import HALF, by_strength
from .clip_poses import ClipPoses, vector_of
from .turns import inverse, matrices, turn_about, turned_by
from .world_pose import WorldPose

if TYPE_CHECKING:
    from ...model.bones import Floats


class InHand(NamedTuple):
    """A prop that hangs on a bone: its picture or file of bones `shows`, or its `clip`, and the
    matrix (4, 4) that takes it from its own axes to the pose's, in metres."""

    anchor: str
    shows: str
    clip: str | None
    matrix: Floats
    under: bool


def anchor_matrix(
    poses: ClipPoses, pose: WorldPose, place: BonePlace, time: int = 0
) -> Floats | None:
    """Where an anchor is in a pose: (4, 4), its axes as long as what hangs there is larger; None
    where its bone is gone. A bone's own size is no part of it."""
    number = poses.bone(place.bone)
    if number is None:
        return None
    found = np.eye(4)
    axes = axes_of(pose, number, time)
    found[:3, :3] = axes @ matrices(turned_by(np.radians(np.array(place.turn)))) * place.size
    found[:3, 3] = pose.matrices[time, number, :3, 3] + axes @ np.array(place.place)
    return found


def place_from(
    poses: ClipPoses, pose: WorldPose, place: BonePlace, at: Floats, time: int = 0
) -> BonePlace:
    """An anchor put to a place of the pose's world (3,), on the same bone."""
    number = poses.bone(place.bone)
    if number is None:
        return place
    moved = axes_of(pose, number, time).T @ (at - pose.places[time, number])
    return BonePlace(place.bone, vector_of(np.round(moved, 4)), place.turn, place.size)


def turned_as_in_its_file(
    poses: ClipPoses, pose: WorldPose, place: BonePlace, time: int = 0
) -> BonePlace:
    """An anchor turned so that what hangs there stands in this pose as it does in its own file,
    whichever way the bone's axes look."""
    number = poses.bone(place.bone)
    if number is None:
        return place
    axes, angles = turn_about(inverse(pose.turns[time, number])[None])
    turn = vector_of(np.round(np.degrees(axes[0] * angles[0]), 3))
    return BonePlace(place.bone, place.place, turn, place.size)


def axes_of(pose: WorldPose, bone: int, time: int = 0) -> Floats:
    """A bone's axes in the world (3, 3), as it is turned, whatever sizes it and those above it
    have."""
    found: Floats = matrices(pose.turns[time, bone])
    return found


def in_hand(poses: ClipPoses, pose: WorldPose, report: Report) -> tuple[InHand, ...]:
    """The props that are held in a tick, one an anchor: that of the strongest while-rule."""
    puppet, held = poses.puppet, dict[str, InHand]()
    for each in by_strength(report, "prop"):
        anchor, rule = each.rule.text, each.rule
        if each.share < HALF or anchor in held:
            continue
        attached = attached_at(poses, pose, puppet, anchor, rule.shows, rule.clip, rule.under)
        if attached is not None:
            held[anchor] = attached
    return tuple(held.values())


def held_with(poses: ClipPoses, pose: WorldPose, clip: Clip, at: float) -> tuple[InHand, ...]:
    """The props that belong to a clip at a time of it, in milliseconds, by whatever plays it: those
    of its windows that are open, of the first state that plays it, and of the bands around that.
    One an anchor."""
    puppet, held = poses.puppet, dict[str, InHand]()
    rules = [rule for window in clip.windows if window.start <= at < window.end
             for rule in window.rules]
    state = next((state for state in puppet.states if state.clip == clip.id), None)
    if state is not None:
        rules += state.rules
        rules += [rule for group in puppet.groups_around(state) for rule in group.rules]
    for rule in rules:
        if rule.kind == "prop" and rule.anchor not in held:
            attached = attached_at(poses, pose, puppet, rule.anchor, rule.shows, rule.clip,
                                   rule.under)
            if attached is not None:
                held[attached.anchor] = attached
    return tuple(held.values())


def attached_at(
    poses: ClipPoses, pose: WorldPose, puppet: Puppet, anchor: str | None, shows: str,
    clip: str | None, under: bool,
) -> InHand | None:
    """Something at an anchor; None where the puppet has none of this id on a bone."""
    found = next((each for each in puppet.anchors if each.id == anchor), None)
    if found is None or found.on_bone is None:
        return None
    matrix = anchor_matrix(poses, pose, found.on_bone)
    return InHand(found.id, shows, clip, matrix, under) if matrix is not None else None


def with_vector(place: BonePlace, field: str, axis: int, value: float) -> BonePlace:
    """A place with one number of its place or turn another."""
    old: Vector = getattr(place, field)
    numbers = list(old)
    numbers[axis] = value
    made: Vector = (numbers[0], numbers[1], numbers[2])
    return (BonePlace(place.bone, made, place.turn, place.size) if field == "place"
            else BonePlace(place.bone, place.place, made, place.size))
