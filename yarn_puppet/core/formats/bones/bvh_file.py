"""BVH files: a hierarchy of joints, and one motion (M. Meredith and S. Maddock, "Motion Capture
File Formats Explained", 2001). docs/poses.md says what is made of it."""

from __future__ import annotations

import re
from collections.abc import Iterator
from pathlib import Path
from typing import TYPE_CHECKING

import numpy as np
import scipy

from ...model.bones import BoneArt, BoneClip, Channel, Skeleton
from ..errors import read_whole
from ..watching import Watch, unwatched
from .bvh_hierarchy import AXES, SIZES, TURNS, Joint, joints_in
from .bvh_motion import motion_in
from .names import each_once

if TYPE_CHECKING:
    from ...model.bones import Floats

LARGEST_BVH = 256 * 1024 * 1024
TALL = 10.0
"""A rest pose that is longer or higher than this is taken to be in centimetres."""
CENTIMETRE = 0.01
MOTION = re.compile(rb"^[ \t]*MOTION\b|(?<=[\r\n}])[ \t]*MOTION\b", re.IGNORECASE)


def load_bvh(path: Path, watch: Watch = unwatched) -> BoneArt:
    """A BVH file, in whatever dialect is plain. Raises FileProblem, which names the line, and what
    `watch` raises, which hears of bytes."""
    raw, assumed = read_whole(path, LARGEST_BVH), list[str]()
    if raw[:2] in (b"\xff\xfe", b"\xfe\xff"):
        raw = raw.decode("utf-16", "replace").encode()
    motion = MOTION.search(raw)
    head = raw[: motion.start() if motion else len(raw)]
    joints = joints_in(path, _text(head, assumed), assumed)
    if motion is None:
        assumed.append("it has no MOTION, only how it rests")
        return _made(path, joints, 0.0, np.zeros((0, 0)), assumed)
    line = len(re.findall(rb"\r\n|\r|\n", head)) + 1
    wide = sum(len(joint.channels) for joint in joints)
    seconds, frames = motion_in(path, raw, motion.end(), line, wide, watch, assumed)
    return _made(path, joints, seconds, frames, assumed)


def _text(head: bytes, assumed: list[str]) -> str:
    try:
        return head.decode("utf-8-sig")
    except UnicodeDecodeError:
        assumed.append("its names are not UTF-8, and are read as Latin-1")
        return head.decode("latin-1")


def _made(
    path: Path, joints: list[Joint], seconds: float, frames: Floats, assumed: list[str]
) -> BoneArt:
    count = len(joints)
    offsets = np.array([joint.offset for joint in joints])
    parents = tuple([joint.parent for joint in joints])
    # Where each stands at rest, to guess how long the unit is.
    worlds = offsets.copy()
    for number, parent in enumerate(parents):
        if parent >= 0:
            worlds[number] += worlds[parent]
    inner = worlds - worlds[0]
    reach = float(np.ptp(inner, axis=0).max()) if count > 1 else 0.0
    scale = CENTIMETRE if reach > TALL else 1.0
    names = each_once([joint.name for joint in joints])
    still = np.tile(np.array((0.0, 0.0, 0.0, 1.0)), (count, 1))
    skeleton = Skeleton(
        names, parents, offsets * scale, still, np.ones((count, 3)),
        np.tile(np.eye(4), (count, 1, 1)), still.copy(),
        {number: (joint.end[0] * scale, joint.end[1] * scale, joint.end[2] * scale)
         for number, joint in enumerate(joints) if joint.end is not None})
    times: Floats = np.arange(len(frames), dtype=np.float64) * np.float64(seconds)
    name = path.stem[:190] or "clip 1"
    clips = (
        BoneClip(name, float(times[-1]), tuple(_channels(joints, times, frames, scale))),
    ) if len(frames) else ()
    sizes = any(name in SIZES for joint in joints for name in joint.channels)
    return BoneArt(skeleton, clips, (), ("scales of joints",) * sizes,
                   "centimetres (a guess)" if scale != 1.0 else "metres (a guess)", tuple(assumed))


def _channels(
    joints: list[Joint], times: Floats, frames: Floats, scale: float
) -> Iterator[Channel]:
    for number, joint in enumerate(joints):
        columns = frames[:, joint.first:joint.first + len(joint.channels)]
        places = [(AXES[name], place) for place, name in enumerate(joint.channels) if name in AXES]
        if places:
            moved = np.tile(np.array(joint.offset), (len(frames), 1))
            for column, place in places:
                moved[:, column] = columns[:, place]
            yield Channel(number, "place", "LINEAR", times, moved * scale)
        turns = [(TURNS[name], place) for place, name in enumerate(joint.channels) if name in TURNS]
        if turns:
            # Each about the axes that the ones before it have turned, as they are listed.
            turned = scipy.spatial.transform.Rotation.identity(len(frames))
            for axis, place in turns:
                turned = turned * scipy.spatial.transform.Rotation.from_rotvec(
                    np.outer(np.radians(columns[:, place]), axis))
            yield Channel(number, "turn", "LINEAR", times, turned.as_quat())
