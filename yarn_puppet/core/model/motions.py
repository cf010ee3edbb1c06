"""Clips of bones: of which file each is, and what of ours lies over it.

A puppet keeps names and times; the file of bones is read where a pose is wanted, and is never
written. Times are milliseconds. Rules: docs/poses.md.
"""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta

from .basics.base import (
    LONGEST_NAME,
    NO_NUL,
    Fraction,
    Identifier,
    Name,
    Number,
    Positive,
    Value,
)

BoneName = Annotated[str, Meta(min_length=1, max_length=1024)]
"""A bone as its file calls it; equal names are numbered."""

Vector = tuple[Number, Number, Number]
"""Along x, y and z."""

BoxShape = Literal["box", "ball", "capsule"]

MOST_SOFT = 99
"""Bones down a chain over which a mask may rise."""


class BonePair(Value, frozen=True):
    """A bone of another file, and the bone of ours that it is, by hand; none for one that is to be
    left out."""

    theirs: BoneName
    ours: BoneName | None


class BoneSetting(Value, frozen=True):
    """How a file of bones is meant, where it does not say: how many metres one of its lengths is
    of what it was read as, its axis that is up, how far it is turned about that, in degrees, and
    whether limbs point as they do there (`limbs`) or turn from rest as they do there."""

    scale: Positive = 1.0
    up: Literal["x", "y", "z"] = "y"
    turned: Annotated[float, Meta(ge=-360, le=360)] = 0.0
    limbs: bool = False


class BoneFile(Value, frozen=True):
    """A file of bones. `path` is relative to the puppet's file once that is saved. The first of a
    puppet has its skeleton and its meshes; the bones of others are matched by name, and by `pairs`
    first."""

    id: Identifier
    name: Name
    path: Annotated[str, Meta(min_length=1, max_length=4096, pattern=NO_NUL)]
    pairs: tuple[BonePair, ...] = ()
    digest: Annotated[str, Meta(pattern="^[0-9a-f]*$", max_length=64)] = ""
    """Of the file as it was read last: what stands on its bones is of that content."""
    setting: BoneSetting = BoneSetting()


class BoneKey(Value, frozen=True):
    """A turn of ours, on top of a bone's own: `turn` is the axis, in the bone's own axes, times the
    angle in degrees. `at` is a time of the clip."""

    bone: BoneName
    at: Fraction
    turn: Vector


class Motion(Value, frozen=True):
    """What a clip of bones shows: the clip called `clip` of a file, from `start` to `end`, sped up,
    and turns of ours over it.

    `whole` is how long the file's clip was when it was read: one that is not trimmed lasts as long
    when the file changes. Keys, as moments and windows, stand at times of our clip.
    """

    bones: Identifier
    """The file of bones."""
    clip: Annotated[str, Meta(max_length=1024)]
    whole: Fraction
    start: Fraction = 0.0
    end: Fraction | None = None
    """None for the end of the file's clip."""
    speed: Annotated[float, Meta(ge=0.01, le=100)] = 1.0
    bone_keys: tuple[BoneKey, ...] = ()

    @property
    def length(self) -> float:
        """How long our clip is, in milliseconds; zero for a single pose."""
        end = self.whole if self.end is None else self.end
        return max(0.0, end - self.start) / self.speed

    def file_time(self, time: float) -> float:
        """The time in the file's clip, in milliseconds, of one of ours."""
        return self.start + max(0.0, min(time, self.length)) * self.speed


class BoneWeight(Value, frozen=True):
    """How much of a layer one bone takes, 0 to 1."""

    bone: BoneName
    weight: Annotated[float, Meta(ge=0, le=1)]


class ReferencePose(Value, frozen=True):
    """The pose from which an adding layer's clips differ: a time of a clip. A clip that is gone is
    the rest pose."""

    clip: Identifier
    at: Fraction = 0.0


class BoneBox(Value, frozen=True):
    """Where the puppet hits, or can be hit, on a bone. A hit box strikes while a hit window of its
    `name` is open, one without a name while any is; a body box with a name counts while a
    while-rule asks for it.

    Its middle is at `place`, turned by `turn`, in the bone's own axes; `size` is in metres. A ball
    is x wide; a capsule is x wide and, with its round ends, y long, along its own y.
    """

    id: Identifier
    kind: Literal["body", "hit"]
    bone: BoneName
    shape: BoxShape = "capsule"
    place: Vector = (0.0, 0.0, 0.0)
    turn: Vector = (0.0, 0.0, 0.0)
    size: tuple[Positive, Positive, Positive] = (0.2, 0.4, 0.2)
    name: Annotated[str, Meta(max_length=LONGEST_NAME)] = ""


class BonePlace(Value, frozen=True):
    """Where an anchor is on a bone: a place in metres and a turn (axis × degrees) in the bone's own
    axes, and how large what hangs there is."""

    bone: BoneName
    place: Vector = (0.0, 0.0, 0.0)
    turn: Vector = (0.0, 0.0, 0.0)
    size: Positive = 1.0
