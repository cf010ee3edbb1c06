"""The animations of a glTF file as clips."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

import numpy as np

from ...model.bones import NUMBERS_OF, BoneClip, Channel, TransformPart
from .gltf_accessors import Accessors
from .gltf_document import PARTS, Animation, ChannelEntry, KeysEntry
from .names import each_once
from .transforms import LEAST_LENGTH

if TYPE_CHECKING:
    from ...model.bones import Floats

LONGEST_CLIP = 24 * 3600.0
"""Seconds."""


class GltfClips:
    """Reads them; `left_out` gets what moves no bone. Raises FileProblem."""

    def __init__(
        self, accessors: Accessors, of_node: dict[int, int], left_out: list[str]
    ) -> None:
        self.accessors, self.of_node, self.left_out = accessors, of_node, left_out
        self.content = accessors.content

    def read(self, told: Callable[[int], None]) -> tuple[BoneClip, ...]:
        """All of them, in the order of the file; `told` hears how many channels are read."""
        self._progress, self._done = told, 0
        entries = self.content.document.animations
        names = each_once([each.name or f"clip {number + 1}"
                           for number, each in enumerate(entries)])
        return tuple([self._clip(number, each, names[number])
                      for number, each in enumerate(entries)])

    def _clip(self, number: int, entry: Animation, name: str) -> BoneClip:
        channels: list[Channel] = []
        taken: set[tuple[int, str]] = set()
        for place, channel in enumerate(entry.channels):
            here = f"animations[{number}].channels[{place}]"
            part = PARTS.get(channel.target.path)
            if channel.target.node is None or part is None:
                self.left_out.append(f"{channel.target.path[:40]} of clip {name}: it moves no bone")
                continue
            bone = self.of_node[channel.target.node]
            if (bone, part) in taken:
                raise self.content.problem(
                    here, f"a second channel for {channel.target.path} of node "
                          f"{channel.target.node}; expected one")
            taken.add((bone, part))
            self._progress(self._done)
            self._done += 1
            channels.append(self._channel(number, entry, channel, bone, part))
        seconds = max((float(each.times[-1]) for each in channels), default=0.0)
        return BoneClip(name, seconds, tuple(channels))

    def _channel(
        self, number: int, entry: Animation, channel: ChannelEntry, bone: int, part: TransformPart
    ) -> Channel:
        if channel.sampler >= len(entry.samplers):
            raise self.content.problem(f"animations[{number}].channels",
                                       f"there is no sampler {channel.sampler}")
        sampler = entry.samplers[channel.sampler]
        here = f"animations[{number}].samplers[{channel.sampler}]"
        times = self._times(sampler, here)
        values = self.accessors.floats(sampler.output, f"{here}.output",
                                       "VEC4" if part == "turn" else "VEC3")
        cubic = sampler.interpolation == "CUBICSPLINE"
        expected = len(times) * (3 if cubic else 1)
        if len(values) != expected:
            raise self.content.problem(f"{here}.output", f"expected {expected} values for "
                                                         f"{len(times)} keys, found {len(values)}")
        values = values.reshape(len(times), 3, NUMBERS_OF[part]) if cubic else values
        if part == "turn":
            values = self._units(values, cubic, here)
        return Channel(bone, part, sampler.interpolation, times, values)

    def _times(self, sampler: KeysEntry, here: str) -> Floats:
        times = self.accessors.floats(sampler.input, f"{here}.input", "SCALAR")[:, 0]
        wrong = np.flatnonzero(np.diff(times) <= 0)
        if len(wrong):
            key = int(wrong[0]) + 1
            raise self.content.problem(
                f"{here}.input", f"key {key} at {times[key]:g} s comes after one at "
                                 f"{times[key - 1]:g} s; expected times that grow")
        if times[0] < 0 or times[-1] > LONGEST_CLIP:
            raise self.content.problem(
                f"{here}.input", f"expected times from 0 to {LONGEST_CLIP:g} s, found "
                                 f"{times[0] if times[0] < 0 else times[-1]:g} s")
        return times

    def _units(self, values: Floats, cubic: bool, here: str) -> Floats:
        """The same turns as unit quaternions; tangents stay as they are."""
        turns = values[:, 1] if cubic else values
        lengths = np.linalg.norm(turns, axis=1)
        wrong = np.flatnonzero(lengths <= LEAST_LENGTH)
        if len(wrong):
            raise self.content.problem(f"{here}.output",
                                       f"key {int(wrong[0])} is a quaternion of zero, which is no "
                                       "turn")
        if not cubic:
            made: Floats = values / lengths[:, None]
            return made
        made = values.copy()
        made[:, 1] = turns / lengths[:, None]
        return made
