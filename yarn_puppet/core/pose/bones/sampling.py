"""The local transforms of all bones at times of a clip. docs/poses.md 4."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

import numpy as np

from ...model.bones import NUMBERS_OF, BoneClip, Channel, Skeleton, TransformPart
from .turns import slerp, unit

if TYPE_CHECKING:
    from ...model.bones import Floats, Indices


class LocalPose(NamedTuple):
    """Transforms relative to the parents, at some times: `places` and `sizes` (times, bones, 3),
    `turns` (times, bones, 4)."""

    places: Floats
    turns: Floats
    sizes: Floats


def rest_pose(skeleton: Skeleton, times: int = 1) -> LocalPose:
    """The rest pose, as often as there are times."""
    return LocalPose(*[np.repeat(each[None], times, axis=0)
                       for each in (skeleton.places, skeleton.turns, skeleton.sizes)])


class _Group(NamedTuple):
    """Channels of one part with the same times and interpolation: they are sampled together, since
    files have a hundred channels and mostly one row of times."""

    part: TransformPart
    interpolation: str
    times: Floats
    bones: Indices
    values: Floats


class ClipSampler:
    """A clip of one skeleton, made ready to be looked at often."""

    def __init__(self, skeleton: Skeleton, clip: BoneClip) -> None:
        self.skeleton, self.clip = skeleton, clip
        self._groups = tuple(_grouped(clip.channels))

    def at(self, times: Floats) -> LocalPose:
        """The pose at each of these times, in seconds."""
        pose = rest_pose(self.skeleton, len(times))
        into = {"place": pose.places, "turn": pose.turns, "size": pose.sizes}
        for group in self._groups:
            into[group.part][:, group.bones] = _sampled(group, times)
        return pose


def _grouped(channels: tuple[Channel, ...]) -> list[_Group]:
    found: dict[tuple[str, str, bytes], list[Channel]] = {}
    for each in channels:
        key = (each.part, each.interpolation, each.times.tobytes())
        found.setdefault(key, []).append(each)
    return [_Group(same[0].part, same[0].interpolation, same[0].times,
                   np.array([each.bone for each in same]),
                   np.stack([each.values for each in same], axis=1))
            for same in found.values()]


def _sampled(group: _Group, times: Floats) -> Floats:
    """Values (times, bones of the group, numbers)."""
    keys = group.times
    at = np.clip(times, keys[0], keys[-1])
    # The last key at or before each time, and the one after it: itself, from the last one on.
    before = np.clip(np.searchsorted(keys, at, side="right") - 1, 0, len(keys) - 1)
    after = np.minimum(before + 1, len(keys) - 1)
    span = keys[after] - keys[before]
    share = np.divide(at - keys[before], span, out=np.zeros_like(at), where=span > 0)[:, None, None]
    turns = group.part == "turn"
    if group.interpolation == "CUBICSPLINE":
        return _spline(group, before, after, span[:, None, None], share)
    values = group.values
    if group.interpolation == "STEP":
        return values[before]
    if turns:
        return slerp(values[before], values[after], share)
    mixed: Floats = values[before] * (1 - share) + values[after] * share
    return mixed


def _spline(group: _Group, before: Indices, after: Indices, span: Floats, s: Floats) -> Floats:
    """A cubic Hermite spline; tangents are values a second."""
    # (keys, bones, which of the three, numbers)
    into, value, out = (group.values[:, :, number] for number in range(3))
    start = value[before]
    found: Floats = (
        (2 * s**3 - 3 * s**2 + 1) * start + span * (s**3 - 2 * s**2 + s) * out[before]
        + (-2 * s**3 + 3 * s**2) * value[after] + span * (s**3 - s**2) * into[after])
    assert found.shape[-1] == NUMBERS_OF[group.part]
    return unit(found, start) if group.part == "turn" else found
