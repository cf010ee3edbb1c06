"""Poses of a puppet as a clip of its skeleton, to be written as one: a clip with our keys, or a
take."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from math import ceil
from typing import TYPE_CHECKING

import numpy as np

from ...engine.state import Report
from ...model.bones import BoneArt, BoneClip, Channel, Skeleton
from ...model.clips import Clip
from .clip_poses import ClipPoses
from .figure_poses import FigurePoses
from .sampling import LocalPose

if TYPE_CHECKING:
    from ...model.bones import Floats, TransformPart

TOGETHER = 512
"""Ticks that are posed at once: arrays of them stay small."""


def clip_as_art(poses: ClipPoses, clip: Clip) -> BoneArt:
    """One clip, a key a tick and one at its very end, with the body it is of."""
    seconds, rate = clip.length / 1000, poses.puppet.rate
    times = np.append(np.arange(ceil(seconds * rate - 1e-9)) / rate, seconds)
    return _art(poses, clip.name, times, poses.at(clip, times))


def take_as_art(poses: ClipPoses, name: str, reports: Iterable[Report]) -> BoneArt:
    """A run, a key a tick, with the body it is of: in place, as a pose knows no world."""
    parts = list(take_poses(poses, reports))
    pose = LocalPose(*[np.concatenate(each) for each in zip(*parts, strict=True)])
    return _art(poses, name, np.arange(len(pose.places)) / poses.puppet.rate, pose)


def take_poses(poses: ClipPoses, reports: Iterable[Report]) -> Iterator[LocalPose]:
    """The poses of a run, some ticks at once."""
    figure, waiting = FigurePoses(poses), list[Report]()
    for report in reports:
        waiting.append(report)
        if len(waiting) == TOGETHER:
            yield figure.of(waiting)
            waiting = []
    if waiting:
        yield figure.of(waiting)


def _art(poses: ClipPoses, name: str, times: Floats, pose: LocalPose) -> BoneArt:
    channels = tuple(channels_of(poses.skeleton, times, pose))
    clip = BoneClip(name, float(times[-1]), channels)
    return BoneArt(poses.skeleton, (clip,), poses.body.meshes, ())


def channels_of(skeleton: Skeleton, times: Floats, pose: LocalPose) -> Iterator[Channel]:
    """The channels of poses at some times: what stays as it rests has none, what stays otherwise
    one key. The first bone's place always has all keys, and so says how long it is."""
    parts: Sequence[tuple[TransformPart, Floats, Floats]] = (
        ("place", pose.places, skeleton.places), ("turn", pose.turns, skeleton.turns),
        ("size", pose.sizes, skeleton.sizes))
    for bone in range(len(skeleton.names)):
        for part, values, rest in parts:
            own = values[:, bone]
            if part == "turn":
                own = _on_one_side(own)
            # One says how long it all is.
            longest = bone == 0 and part == "place"
            if not longest and (own == own[0]).all():
                if not np.array_equal(own[0], rest[bone]):
                    yield Channel(bone, part, "LINEAR", times[:1], own[:1])
                continue
            yield Channel(bone, part, "LINEAR", times, own)


def _on_one_side(turns: Floats) -> Floats:
    """The same turns, each as the quaternion that is nearer to the one before: who mixes them
    without looking goes the short way."""
    flips = np.sum(turns[1:] * turns[:-1], axis=-1) < 0
    signs = np.where(np.cumsum(np.append(False, flips)) % 2, -1.0, 1.0)
    found: Floats = turns * signs[:, None]
    return found
