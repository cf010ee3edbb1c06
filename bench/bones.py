"""What poses cost: four clips of sixty bones blended through two masks, beside the NumPy arithmetic
that it needs at the least, `python -m bench.bones`.

The least is written out by hand below: three mixes of places and sizes, three of turns, two masks,
and the products down the chains, all bones that are as deep in one call. Both are timed in turns in
one run; the figure is the ratio of their medians.
"""

from __future__ import annotations

from collections.abc import Callable
from statistics import median
from time import perf_counter
from typing import TYPE_CHECKING

import numpy as np

from yarn_puppet.core.model.bones import BoneClip, Channel, Skeleton
from yarn_puppet.core.pose.bones.blending import blended
from yarn_puppet.core.pose.bones.layering import mask_from, over
from yarn_puppet.core.pose.bones.sampling import ClipSampler
from yarn_puppet.core.pose.bones.world_pose import WorldPose, in_world

if TYPE_CHECKING:
    from yarn_puppet.core.model.bones import Floats

BONES, KEYS, TURNS = 60, 60, 400
WEIGHTS = (0.2, 0.3)


def figure() -> tuple[Skeleton, list[BoneClip]]:
    """A skeleton as a person has: a spine, and limbs of some bones; and four clips."""
    numbers = np.random.default_rng(7)
    parents = tuple([-1 if not bone else bone - 1 if bone % 10 else max(0, bone // 20)
                     for bone in range(BONES)])
    still = np.tile(np.array((0.0, 0.0, 0.0, 1.0)), (BONES, 1))
    skeleton = Skeleton(
        tuple([f"bone {bone}" for bone in range(BONES)]), parents, numbers.normal(size=(BONES, 3)),
        still, np.ones((BONES, 3)), np.tile(np.eye(4), (BONES, 1, 1)), still.copy(), {})
    times = np.arange(KEYS) / 30
    clips = []
    for number in range(4):
        turns = numbers.normal(size=(BONES, KEYS, 4))
        turns /= np.linalg.norm(turns, axis=2, keepdims=True)
        clips.append(BoneClip(f"clip {number}", float(times[-1]), tuple([
            Channel(bone, "turn", "LINEAR", times, turns[bone]) for bone in range(BONES)])))
    return skeleton, clips


def ours(skeleton: Skeleton, clips: list[BoneClip]) -> Callable[[float], WorldPose]:
    """Two clips blended, and two layers with a mask each over them."""
    samplers = [ClipSampler(skeleton, clip) for clip in clips]
    masks = mask_from(skeleton, 10, 2), mask_from(skeleton, 20, 1)

    def pose(time: float) -> WorldPose:
        at = np.array([time])
        poses = [sampler.at(at) for sampler in samplers]
        mixed = blended(poses[:2], WEIGHTS)
        mixed = over(mixed, poses[2], masks[0], 0.7)
        return in_world(skeleton, over(mixed, poses[3], masks[1], 1.0))

    return pose


def least(skeleton: Skeleton, clips: list[BoneClip]) -> Callable[[float], Floats]:
    """The arithmetic alone: no short way, no exact ends, no checks, everything beforehand that can
    be."""
    keys = [np.stack([channel.values for channel in clip.channels], axis=1) for clip in clips]
    times = clips[0].channels[0].times
    depths = [0] * BONES
    for bone in range(1, BONES):
        depths[bone] = depths[skeleton.parents[bone]] + 1
    levels = [np.array([bone for bone in range(BONES) if depths[bone] == depth])
              for depth in range(1, max(depths) + 1)]
    above = [np.array(skeleton.parents)[level] for level in levels]
    parts = [np.full((BONES, 1), 0.6), mask_from(skeleton, 10, 2)[:, None] * 0.7,
             mask_from(skeleton, 20, 1)[:, None]]

    def turned(first: Floats, second: Floats, share: Floats | float) -> Floats:
        angle = np.arccos(np.clip(np.abs((first * second).sum(-1, keepdims=True)), 0, 0.999999))
        return (np.sin((1 - share) * angle) * first + np.sin(share * angle) * second) / np.sin(
            angle)

    def pose(time: float) -> Floats:
        at = int(np.searchsorted(times, time)) - 1
        share = (time - times[at]) / (times[at + 1] - times[at])
        poses = [turned(each[at], each[at + 1], share) for each in keys]
        place, size, turn = skeleton.places, skeleton.sizes, poses[0]
        for part, other in zip(parts, poses[1:], strict=True):
            place = place * (1 - part) + skeleton.places * part
            size = size * (1 - part) + skeleton.sizes * part
            turn = turned(turn, other, part)
        x, y, z, w = turn.T
        found = np.zeros((BONES, 4, 4))
        found[:, :3, :3] = np.array([
            [1 - 2 * (y * y + z * z), 2 * (x * y - z * w), 2 * (x * z + y * w)],
            [2 * (x * y + z * w), 1 - 2 * (x * x + z * z), 2 * (y * z - x * w)],
            [2 * (x * z - y * w), 2 * (y * z + x * w), 1 - 2 * (x * x + y * y)],
        ]).transpose(2, 0, 1) * size[:, None, :]
        found[:, :3, 3], found[:, 3, 3] = place, 1
        for level, parents in zip(levels, above, strict=True):
            found[level] = found[parents] @ found[level]
        return found

    return pose


def main() -> None:
    """Time both in turns."""
    made = figure()
    both = ours(*made), least(*made)
    took: tuple[list[float], list[float]] = ([], [])
    for number in range(TURNS):
        for which, pose in enumerate(both):
            began = perf_counter()
            pose(0.01 + number / TURNS)
            took[which].append(perf_counter() - began)
    mine, needed = median(took[0]), median(took[1])
    print(f"a pose of {BONES} bones from four clips through two masks: {mine * 1e3:.2f} ms; the "
          f"arithmetic alone {needed * 1e3:.2f} ms: {mine / needed:.2f} times")


if __name__ == "__main__":
    main()
