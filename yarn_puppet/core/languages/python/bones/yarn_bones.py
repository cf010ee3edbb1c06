"""Poses of a puppet of bones, as Yarn Puppet makes them: from its reports, its tables and its .glb.

It needs nothing but Python. It is yours, without conditions. SPDX-License-Identifier: MIT-0
"""

from __future__ import annotations

import json
import struct
from bisect import bisect_right
from collections.abc import Callable, Sequence
from math import asin, atan2, cos, hypot, inf, pi, sin, sqrt
from typing import Any, NamedTuple

TINY = 1e-12
Row = Sequence[float]
Matrix = list[list[float]]
IDENTITY: Matrix = [[1.0 if row == column else 0.0 for column in range(4)] for row in range(4)]


class Pose(NamedTuple):
    """Bones relative to their parents: places, turns as x, y, z, w, and sizes."""

    places: list[Row]
    turns: list[Row]
    sizes: list[Row]


# Turns --------------------------------------------------------------------------------------------


def product(a: Row, b: Row) -> Row:
    """The turn that is b and then a."""
    return (a[3] * b[0] + a[0] * b[3] + a[1] * b[2] - a[2] * b[1],
            a[3] * b[1] - a[0] * b[2] + a[1] * b[3] + a[2] * b[0],
            a[3] * b[2] + a[0] * b[1] - a[1] * b[0] + a[2] * b[3],
            a[3] * b[3] - a[0] * b[0] - a[1] * b[1] - a[2] * b[2])


def inverse(turn: Row) -> Row:
    """The turn back."""
    return -turn[0], -turn[1], -turn[2], turn[3]


def slerp(one: Row, other: Row, share: float) -> Row:
    """The turn that is this share of the short way from one to another."""
    if share <= 0:
        return one
    if sum(a * b for a, b in zip(one, other)) < 0:
        other = [-part for part in other]
    if share >= 1:
        return other
    gap = sqrt(sum((a - b) ** 2 for a, b in zip(one, other)))
    angle = 2 * asin(min(1.0, gap / 2))
    if angle < 1e-6:
        left, right = 1 - share, share
    else:
        left, right = sin((1 - share) * angle) / sin(angle), sin(share * angle) / sin(angle)
    return [left * a + right * b for a, b in zip(one, other)]


def vector_of(turn: Row) -> Row:
    """A turn as its axis times its angle, at most half a turn."""
    q = [-part for part in turn] if turn[3] < 0 else turn
    sine = hypot(q[0], q[1], q[2])
    angle = 2 * atan2(sine, q[3])
    return [part / sine * angle for part in q[:3]] if sine > TINY else [0.0, 0.0, 0.0]


def turn_of(vector: Row) -> Row:
    """The other way round."""
    angle = hypot(*vector)
    half = sin(angle / 2) / angle if angle > TINY else 0.5
    return [*(part * half for part in vector), cos(angle / 2)]


# The .glb -----------------------------------------------------------------------------------------

NUMBERS = {"SCALAR": 1, "VEC2": 2, "VEC3": 3, "VEC4": 4, "MAT4": 16}
KINDS = {5120: "b", 5121: "B", 5122: "h", 5123: "H", 5125: "I", 5126: "f"}


class Glb:
    """What a .glb holds. Raises ValueError where it is none."""

    def __init__(self, content: bytes) -> None:
        if content[:4] != b"glTF":
            raise ValueError("no .glb file")
        at, end = 12, struct.unpack_from("<I", content, 8)[0]
        self.bytes = b""
        while at < end:
            length, kind = struct.unpack_from("<II", content, at)
            part = content[at + 8:at + 8 + length]
            if kind == 0x4E4F534A:
                self.json: dict[str, Any] = json.loads(part)
            elif kind == 0x004E4942:
                self.bytes = part
            at += 8 + length

    def numbers(self, index: int) -> list[Row]:
        """The rows of an accessor."""
        accessor = self.json["accessors"][index]
        view = self.json["bufferViews"][accessor["bufferView"]]
        row = struct.Struct(f'<{NUMBERS[accessor["type"]]}{KINDS[accessor["componentType"]]}')
        start = view.get("byteOffset", 0) + accessor.get("byteOffset", 0)
        stride = view.get("byteStride", row.size)
        return [row.unpack_from(self.bytes, start + number * stride)
                for number in range(accessor["count"])]


# Clips --------------------------------------------------------------------------------------------

PARTS = {"translation": 0, "rotation": 1, "scale": 2}


class BoneChannel(NamedTuple):
    """The keys of one part of one bone."""

    bone: int
    part: int
    interpolation: str
    times: list[float]
    values: list[Row]

    def at(self, time: float) -> Row:
        """The value at a time in seconds."""
        times, spline, turns = self.times, self.interpolation == "CUBICSPLINE", self.part == 1

        def value(key: int) -> Row:
            return self.values[3 * key + 1] if spline else self.values[key]

        if time <= times[0]:
            return value(0)
        if time >= times[-1]:
            return value(len(times) - 1)
        low = bisect_right(times, time) - 1
        if self.interpolation == "STEP":
            return value(low)
        span = times[low + 1] - times[low]
        s = (time - times[low]) / span
        one, other = value(low), value(low + 1)
        if not spline:
            return slerp(one, other, s) if turns else [
                a * (1 - s) + b * s for a, b in zip(one, other)]
        out, into = self.values[3 * low + 2], self.values[3 * low + 3]
        found = [(2 * s**3 - 3 * s**2 + 1) * a + span * (s**3 - 2 * s**2 + s) * o
                 + (-2 * s**3 + 3 * s**2) * b + span * (s**3 - s**2) * i
                 for a, o, b, i in zip(one, out, other, into)]
        length = sqrt(sum(part * part for part in found))
        return found if not turns else [part / length for part in found] if length > TINY else one


class Bones:
    """The bones of a puppet, from its NAME.bones.json, read, and the bytes of NAME.bones.glb."""

    def __init__(self, table: dict[str, Any], content: bytes) -> None:
        self.table, self.glb = table, Glb(content)
        self.names = [bone["name"] for bone in table["bones"]]
        self.parents = [bone["parent"] for bone in table["bones"]]
        self.bases = [_rows(bone["base"]) if bone.get("base") else IDENTITY
                      for bone in table["bones"]]
        self.base_turns = [bone.get("base_turn", (0.0, 0.0, 0.0, 1.0)) for bone in table["bones"]]
        nodes = [self.glb.json["nodes"][bone["node"]] for bone in table["bones"]]
        self.rest = Pose([node.get("translation", (0.0, 0.0, 0.0)) for node in nodes],
                         [node.get("rotation", (0.0, 0.0, 0.0, 1.0)) for node in nodes],
                         [node.get("scale", (1.0, 1.0, 1.0)) for node in nodes])
        numbers = {bone["node"]: number for number, bone in enumerate(table["bones"])}
        self.animations: dict[str, list[BoneChannel]] = {}
        for animation in self.glb.json.get("animations", ()):
            samplers = animation["samplers"]
            self.animations[animation["name"]] = [
                BoneChannel(numbers[each["target"]["node"]], PARTS[each["target"]["path"]],
                        samplers[each["sampler"]].get("interpolation", "LINEAR"),
                        [row[0] for row in self.glb.numbers(samplers[each["sampler"]]["input"])],
                        self.glb.numbers(samplers[each["sampler"]]["output"]))
                for each in animation["channels"]]

    def rest_pose(self) -> Pose:
        """The pose at rest."""
        return Pose(*(list(part) for part in self.rest))

    def clip_pose(self, clip: int, seconds: float) -> Pose:
        """A clip of the puppet, by its place in CLIP_NAMES, at a time of it."""
        pose, row = self.rest_pose(), self.table["clips"][clip]
        if row is None:
            return pose
        within = max(0.0, min(seconds, (row["end"] - row["start"]) / row["speed"]))
        for channel in self.animations.get(row["animation"], ()):
            pose[channel.part][channel.bone] = channel.at(row["start"] + within * row["speed"])
        for each in row["keys"]:
            key = BoneChannel(each["bone"], 1, "LINEAR", each["times"], each["turns"])
            pose.turns[key.bone] = product(pose.turns[key.bone], key.at(seconds))
        return pose

    def world(self, pose: Pose) -> list[Matrix]:
        """Where bones are: a matrix each, whose last column is the place."""
        found: list[Matrix] = []
        for bone, parent in enumerate(self.parents):
            own = _matrix(pose.places[bone], pose.turns[bone], pose.sizes[bone])
            found.append(_times(found[parent] if parent >= 0 else self.bases[bone], own))
        return found

    def world_turns(self, pose: Pose) -> list[Row]:
        """How bones are turned in the world, whatever their sizes: x, y, z, w."""
        found: list[Row] = []
        for bone, parent in enumerate(self.parents):
            above = found[parent] if parent >= 0 else self.base_turns[bone]
            found.append(product(above, pose.turns[bone]))
        return found


def _rows(numbers: Row) -> Matrix:
    return [list(numbers[4 * row:4 * row + 4]) for row in range(4)]


def _matrix(place: Row, turn: Row, size: Row) -> Matrix:
    x, y, z, w = turn
    a, b, c = size
    return [
        [(1 - 2 * (y * y + z * z)) * a, 2 * (x * y - z * w) * b, 2 * (x * z + y * w) * c, place[0]],
        [2 * (x * y + z * w) * a, (1 - 2 * (x * x + z * z)) * b, 2 * (y * z - x * w) * c, place[1]],
        [2 * (x * z - y * w) * a, 2 * (y * z + x * w) * b, (1 - 2 * (x * x + y * y)) * c, place[2]],
        [0.0, 0.0, 0.0, 1.0]]


def _times(first: Matrix, second: Matrix) -> Matrix:
    return [[sum(first[row][at] * second[at][column] for at in range(4)) for column in range(4)]
            for row in range(4)]


# From reports to poses ----------------------------------------------------------------------------

Shares = Callable[[int], float]


def _between(first: Pose, second: Pose, shares: Shares) -> Pose:
    def mixed(bone: int, one: Row, other: Row) -> Row:
        share = shares(bone)
        if share <= 0:
            return one
        return other if share >= 1 else [a * (1 - share) + b * share for a, b in zip(one, other)]

    count = range(len(first.places))
    return Pose([mixed(bone, first.places[bone], second.places[bone]) for bone in count],
                [slerp(first.turns[bone], second.turns[bone], shares(bone)) for bone in count],
                [mixed(bone, first.sizes[bone], second.sizes[bone]) for bone in count])


def _added(below: Pose, above: Pose, reference: Pose, shares: Shares) -> Pose:
    count = range(len(below.places))
    still = (0.0, 0.0, 0.0, 1.0)
    return Pose(
        [[a + shares(bone) * (b - c) for a, b, c in zip(
            below.places[bone], above.places[bone], reference.places[bone])] for bone in count],
        [product(below.turns[bone], slerp(still, product(
            inverse(reference.turns[bone]), above.turns[bone]), shares(bone)))
         if shares(bone) > 0 else below.turns[bone] for bone in count],
        [[a * (1 + shares(bone) * (b / c - 1)) if abs(c) > 1e-9 else a for a, b, c in zip(
            below.sizes[bone], above.sizes[bone], reference.sizes[bone])] for bone in count])


def _dying(offset: float, speed: float, seconds: float, time: float) -> float:
    """What is left of an offset after some seconds: docs/poses.md, 9."""
    side = (offset > 0) - (offset < 0) or (speed > 0) - (speed < 0)
    length, pace = offset * side, speed * side
    soonest = -5 * length / pace if pace < -TINY else inf
    ends = max(min(seconds, soonest), TINY)
    s = min(1.0, max(0.0, time / ends))
    if s >= 1:
        return 0.0
    pull = pace * ends
    brake = max(0.0, -8 * pull - 20 * length)
    return side * (length + pull * s + brake / 2 * s**2
                   - (3 * brake + 12 * pull + 20 * length) / 2 * s**3
                   + (3 * brake + 16 * pull + 30 * length) / 2 * s**4
                   - (brake + 6 * pull + 12 * length) / 2 * s**5)


def _nearest(turn: Row, to: Row) -> Row:
    angle = hypot(*turn)
    if angle <= TINY:
        return turn
    other = [part / angle * (angle - 2 * pi) for part in turn]
    return other if sum((a - b) ** 2 for a, b in zip(other, to)) < sum(
        (a - b) ** 2 for a, b in zip(turn, to)) else turn


class _FadingOffset:
    """How far what was on show is from what takes its place, and how fast that changes."""

    def __init__(self, now: Pose, before: Pose, new: Pose, tick: float, seconds: float) -> None:
        self.seconds, self.ticks = seconds, 0
        self.places = [([a - b for a, b in zip(one, fresh)],
                        [(a - b) / tick for a, b in zip(one, was)])
                       for one, was, fresh in zip(now.places, before.places, new.places)]
        self.sizes = [([a - b for a, b in zip(one, fresh)],
                       [(a - b) / tick for a, b in zip(one, was)])
                      for one, was, fresh in zip(now.sizes, before.sizes, new.sizes)]
        self.turns = []
        for one, was, fresh in zip(now.turns, before.turns, new.turns):
            gap = vector_of(product(inverse(fresh), one))
            old = _nearest(vector_of(product(inverse(fresh), was)), gap)
            self.turns.append((gap, [(a - b) / tick for a, b in zip(gap, old)]))

    def onto(self, pose: Pose, time: float) -> Pose:
        """A pose with what is left of it."""
        def left(pair: Any) -> Row:
            return [_dying(a, b, self.seconds, time) for a, b in zip(*pair)]

        return Pose(
            [[a + b for a, b in zip(one, left(pair))]
             for one, pair in zip(pose.places, self.places)],
            [product(one, turn_of(left(pair))) for one, pair in zip(pose.turns, self.turns)],
            [[a + b for a, b in zip(one, left(pair))] for one, pair in zip(pose.sizes, self.sizes)])


class _Carried:
    def __init__(self) -> None:
        self.last: Pose | None = None
        self.before: Pose | None = None
        self.dying: _FadingOffset | None = None
        self.elapsed: Any = None


def _always(share: float) -> Shares:
    return lambda bone: share


class Poser:
    """Poses a character: give it each report in turn. It keeps what momentum needs; a game that
    rolls back keeps a copy of it (`copy.deepcopy(poser.carried)`) with its own state."""

    def __init__(self, bones: Bones) -> None:
        self.bones = bones
        self.carried = [_Carried() for _ in bones.table["layers"]]
        self._layers = {name: number for number, name in enumerate(bones.table["layer_ids"])}
        self._clips = {name: number for number, name in enumerate(bones.table["clip_ids"])}
        self._transitions = bones.table["transition_ids"]
        self._references = [
            bones.clip_pose(layer["reference"]["clip"], layer["reference"]["at"])
            if layer["reference"] else bones.rest_pose() for layer in bones.table["layers"]]

    def pose(self, report: Any) -> Pose:
        """The pose of the next report."""
        whole = self.bones.rest_pose()
        told = {layer.layer: layer for layer in report.layers}
        for name, number in self._layers.items():
            layer = told.get(name)
            if layer is None:
                continue
            row = self.bones.table["layers"][number]
            pose, share = self._shown(layer)
            taken = [each.transition for each in report.taken if each.layer == name]
            pose = self._carried_on(number, layer, pose, share > 0, taken)
            mask, weight = row["mask"], layer.weight * share

            def shares(bone: int, mask: Row = mask, weight: float = weight) -> float:
                return mask[bone] * weight

            whole = (_added(whole, pose, self._references[number], shares) if row["adds"]
                     else _between(whole, pose, shares))
        return whole

    def anchors(self, pose: Pose) -> list[Matrix | None]:
        """The matrices of the puppet's anchors in a pose, in their order, None for those on no
        bone. A bone's size is no part of it."""
        world, turns = self.bones.world(pose), self.bones.world_turns(pose)
        found: list[Matrix | None] = []
        for each in self.bones.table["anchors"]:
            if each is None:
                found.append(None)
                continue
            place = [row[3] for row in world[each["bone"]][:3]]
            at = _matrix(place, turns[each["bone"]], [1.0] * 3)
            found.append(_times(at, _matrix(each["place"], each["turn"], [each["size"]] * 3)))
        return found

    def _shown(self, layer: Any) -> Any:
        clips = [(each.clip, each.clip_time, each.weight) for each in layer.fading]
        if layer.clip is not None:
            clips.append((layer.clip, layer.clip_time, layer.blend))
        found: Pose | None = None
        total = 0.0
        for clip, time, weight in clips:
            if not weight > 0:
                continue
            total += weight
            pose = self.bones.clip_pose(self._clips[clip], time)
            part = weight / total
            found = pose if found is None else _between(found, pose, _always(part))
        return found or self.bones.rest_pose(), min(1.0, total)

    def _carried_on(
        self, number: int, layer: Any, pose: Pose, shows: bool, taken: list[str]
    ) -> Pose:
        momentum, kept = self.bones.table["momentum"], self.carried[number]
        if momentum is None:
            return pose
        elapsed, tick = (layer.visit, layer.elapsed), 1 / self.bones.table["rate"]
        stopped = kept.elapsed == elapsed and not taken
        kept.elapsed = elapsed
        blend = momentum[self._transitions.index(taken[-1])] if taken else None
        if blend is not None:
            kept.dying = _FadingOffset(kept.last, kept.before or kept.last, pose, tick, blend) \
                if blend > 0 and shows and kept.last is not None else None
        now = pose
        if kept.dying is not None:
            kept.dying.ticks += not stopped
            time = kept.dying.ticks * tick
            if time >= kept.dying.seconds:
                kept.dying = None
            else:
                now = kept.dying.onto(pose, time)
        if not stopped:
            kept.before = kept.last if shows else None
            kept.last = now if shows else None
        return now
