"""BVH files, read strictly: a hierarchy of joints, and one motion (M. Meredith and S. Maddock,
"Motion Capture File Formats Explained", 2001). docs/poses.md says what is made of it."""

from __future__ import annotations

import re
from collections.abc import Iterator
from pathlib import Path
from typing import TYPE_CHECKING, NamedTuple

import numpy as np
import scipy

from ...model.bones import BoneArt, BoneClip, Channel, Skeleton
from ..errors import FileProblem, read_whole
from ..watching import Watch, unwatched
from .names import each_once
from .transforms import MOST, are_usable

if TYPE_CHECKING:
    from ...model.bones import Floats

LARGEST_BVH = 256 * 1024 * 1024
MOST_JOINTS = 4096
TALL = 10.0
"""A rest pose that is longer or higher than this is taken to be in centimetres."""
CENTIMETRE = 0.01
WORD = re.compile(r"[^\s{}]+|[{}]")
MOTION = re.compile(r"^[ \t]*MOTION\b", re.MULTILINE | re.IGNORECASE)
AXES = {"Xposition": 0, "Yposition": 1, "Zposition": 2}
TURNS = {"Xrotation": (1.0, 0.0, 0.0), "Yrotation": (0.0, 1.0, 0.0), "Zrotation": (0.0, 0.0, 1.0)}


class _Word(NamedTuple):
    text: str
    line: int


class _Joint:
    def __init__(self, name: str, parent: int) -> None:
        self.name, self.parent = name, parent
        self.offset = (0.0, 0.0, 0.0)
        self.channels: list[str] = []
        self.first = 0
        """Where in a line of the motion its channels begin."""
        self.end: tuple[float, float, float] | None = None


def load_bvh(path: Path, watch: Watch = unwatched) -> BoneArt:
    """A BVH file. Raises FileProblem, which names the line, and what `watch` raises, which hears of
    frames."""
    try:
        text = read_whole(path, LARGEST_BVH).decode("utf-8-sig")
    except UnicodeDecodeError:
        raise FileProblem(path, "", "expected text in UTF-8") from None
    motion = MOTION.search(text)
    if motion is None:
        raise FileProblem(path, "", "expected a part that begins with MOTION")
    head = text[:motion.start()]
    joints = _Hierarchy(path, head).joints
    seconds, frames = _motion(path, text[motion.end():], head.count("\n") + 1, joints,
                              watch)
    return _made(path, joints, seconds, frames)


class _Hierarchy:
    """Reads the joints, without a stack of calls: how deep they stand is the file's to say."""

    def __init__(self, path: Path, text: str) -> None:
        self.path, self.joints = path, list[_Joint]()
        self._words = self._split(text)
        self._count = 0
        self._expect("HIERARCHY")
        self._read()

    def _split(self, text: str) -> Iterator[_Word]:
        for number, line in enumerate(text.split("\n"), 1):
            for word in WORD.findall(line):
                yield _Word(word, number)

    def _next(self, wanted: str) -> _Word:
        word = next(self._words, None)
        if word is None:
            raise FileProblem(self.path, "", f"ends where {wanted} was expected")
        return word

    def _expect(self, text: str) -> None:
        word = self._next(text)
        if word.text.upper() != text:
            raise FileProblem(self.path, f"line {word.line}",
                              f"expected {text}, found {word.text[:40]}")

    def _three(self) -> tuple[float, float, float]:
        return self._number(), self._number(), self._number()

    def _number(self) -> float:
        word = self._next("a number")
        value = number_of(word.text)
        if value is None:
            raise FileProblem(self.path, f"line {word.line}",
                              f"expected a number, found {word.text[:40]}")
        return value

    def _read(self) -> None:
        open_joints: list[int] = []
        while True:
            word = next(self._words, None) if not open_joints else self._next("a joint or }")
            if word is None:
                break
            kind = word.text.upper()
            if kind in ("ROOT", "JOINT"):
                if (kind == "ROOT") == bool(open_joints):
                    raise FileProblem(self.path, f"line {word.line}",
                                      f"{kind} stands {'inside' if open_joints else 'outside of'} "
                                      "a joint")
                self._begin(word, open_joints)
            elif kind == "END" and open_joints:
                self._end_site(open_joints[-1])
            elif kind == "}" and open_joints:
                open_joints.pop()
            else:
                raise FileProblem(self.path, f"line {word.line}",
                                  f"expected a joint, found {word.text[:40]}")
        if not self.joints:
            raise FileProblem(self.path, "", "expected ROOT with joints")

    def _begin(self, word: _Word, open_joints: list[int]) -> None:
        names: list[str] = []
        while (part := self._next("{")).text != "{":
            if part.line != word.line:
                raise FileProblem(self.path, f"line {part.line}",
                                  f"expected {{, found {part.text[:40]}")
            names.append(part.text)
        joint = _Joint(" ".join(names) or f"joint {len(self.joints) + 1}",
                       open_joints[-1] if open_joints else -1)
        if len(self.joints) >= MOST_JOINTS:
            raise FileProblem(self.path, f"line {word.line}",
                              f"expected at most {MOST_JOINTS} joints")
        self._expect("OFFSET")
        joint.offset = self._three()
        self._expect("CHANNELS")
        count = self._number()
        joint.first = self._count
        for _ in range(int(min(max(count, 0), 7))):
            channel = self._next("a channel")
            if channel.text not in AXES and channel.text not in TURNS:
                raise FileProblem(self.path, f"line {channel.line}",
                                  f"expected a position or rotation, found {channel.text[:40]}")
            if channel.text in joint.channels:
                raise FileProblem(self.path, f"line {channel.line}", f"{channel.text} stands twice")
            joint.channels.append(channel.text)
        if len(joint.channels) != count:
            raise FileProblem(self.path, f"line {word.line}",
                              f"expected 0 to 6 channels, found {count:g}")
        self._count += len(joint.channels)
        open_joints.append(len(self.joints))
        self.joints.append(joint)

    def _end_site(self, joint: int) -> None:
        self._expect("SITE")
        self._expect("{")
        self._expect("OFFSET")
        self.joints[joint].end = self._three()
        self._expect("}")


def number_of(text: str) -> float | None:
    """A number within what is usable, or None."""
    try:
        value = float(text)
    except ValueError:
        return None
    return value if abs(value) <= MOST and "_" not in text else None


def _motion(
    path: Path, text: str, line: int, joints: list[_Joint], watch: Watch
) -> tuple[float, Floats]:
    """Seconds a frame, and the frames: (frames, channels). `text` begins in line `line`."""
    lines = [(line + number, each.strip()) for number, each in enumerate(text.split("\n"))]
    told = [(number, each) for number, each in lines if each]
    count = _said(path, told, 0, "Frames:")
    seconds = _said(path, told, 1, "Frame Time:")
    if not (count == int(count) and count >= 1) or seconds <= 0:
        raise FileProblem(path, f"line {told[0][0]}",
                          "expected one frame or more, and a time above zero for each")
    rows, wide = told[2:], sum(len(joint.channels) for joint in joints)
    if len(rows) != count:
        raise FileProblem(path, f"line {told[0][0]}",
                          f"says {count:g} frames, of which {len(rows)} are there")
    found = np.zeros((len(rows), wide))
    for place, (number, each) in enumerate(rows):
        watch(place, len(rows))
        words = each.split()
        try:
            # A line at a time: a recorded hour has twenty million of them.
            found[place] = np.array(words, dtype=np.float64) if "_" not in each else ()
            usable = len(words) == wide and are_usable(found[place])
        except ValueError:
            usable = False
        if not usable:
            raise FileProblem(path, f"line {number}",
                              f"expected {wide} finite numbers, one for each channel")
    return seconds, found


def _said(path: Path, told: list[tuple[int, str]], place: int, name: str) -> float:
    if place >= len(told):
        raise FileProblem(path, "", f"ends where {name} was expected")
    number, line = told[place]
    value = number_of(line[len(name):].strip()) if line.startswith(name) else None
    if value is None:
        raise FileProblem(path, f"line {number}", f"expected {name} and a number")
    return value


def _made(path: Path, joints: list[_Joint], seconds: float, frames: Floats) -> BoneArt:
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
    channels = tuple(_channels(joints, times, frames, scale))
    clip = BoneClip(path.stem[:190] or "clip 1", float(times[-1]), channels)
    return BoneArt(skeleton, (clip,), (), (),
                   "centimetres (a guess)" if scale != 1.0 else "metres (a guess)")


def _channels(
    joints: list[_Joint], times: Floats, frames: Floats, scale: float
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
