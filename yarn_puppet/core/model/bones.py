"""What a file of bones holds, once it is read: a skeleton, clips and meshes.

Lengths are metres, times seconds, turns unit quaternions x, y, z, w; docs/poses.md has the rules.
None of it stands in a puppet's file: a puppet names the file, and it is read again. Arrays are
64-bit floats and are not written to once they are here; two of these values are the same only where
they are one.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal, NamedTuple

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

    Floats = NDArray[np.float64]
    Indices = NDArray[np.int64]

TransformPart = Literal["place", "turn", "size"]
Interpolation = Literal["STEP", "LINEAR", "CUBICSPLINE"]
NUMBERS_OF: dict[TransformPart, int] = {"place": 3, "turn": 4, "size": 3}
"""How many numbers each part of a transform has."""


class Skeleton(NamedTuple):
    """Bones in an order in which each stands after its parent, and how they rest.

    `parents` has the index of each bone's parent, -1 for a topmost one. `places` and `sizes` are of
    the shape (bones, 3), `turns` (bones, 4): each relative to the parent. `bases` (bones, 4, 4) has
    what stands above a topmost bone and never moves, the unit matrix for the others, and
    `base_turns` (bones, 4) the turn of it. `tips` are the places of ends that are no bones, by
    bone, relative to it.
    """

    names: tuple[str, ...]
    parents: tuple[int, ...]
    places: Floats
    turns: Floats
    sizes: Floats
    bases: Floats
    base_turns: Floats
    tips: dict[int, tuple[float, float, float]]


class Channel(NamedTuple):
    """The keys of one part of one bone's transform: `times` (keys,) grow; `values` (keys, numbers),
    and of a CUBICSPLINE (keys, 3, numbers): tangent in, value, tangent out."""

    bone: int
    part: TransformPart
    interpolation: Interpolation
    times: Floats
    values: Floats


class BoneClip(NamedTuple):
    """A clip as its file has it."""

    name: str
    seconds: float
    channels: tuple[Channel, ...]


class Texture(NamedTuple):
    """A picture that a mesh wears: the bytes of its file, and their MIME type or ""."""

    content: bytes
    kind: str


class Mesh(NamedTuple):
    """Triangles of one colour and at most one texture.

    `places` (vertices, 3); `triangles` (triangles, 3) indexes them; `over` (vertices, 2) is where
    in the texture each is, x to the right and y downwards from 0 to 1, None without. A mesh with a
    skin has `joints` (vertices, n), which index `bones`, `weights` (vertices, n) that sum to one,
    and `binds` (bones of the skin, 4, 4), the inverse bind matrices. One without follows `bone`.
    """

    name: str
    places: Floats
    triangles: Indices
    color: tuple[float, float, float, float]
    over: Floats | None
    texture: Texture | None
    bone: int
    bones: tuple[int, ...]
    joints: Indices | None
    weights: Floats | None
    binds: Floats | None


class BoneArt(NamedTuple):
    """A file of bones. `left_out` says what of it was passed over; `unit` how its lengths were
    understood."""

    skeleton: Skeleton
    clips: tuple[BoneClip, ...]
    meshes: tuple[Mesh, ...]
    left_out: tuple[str, ...]
    unit: str = "metres"
    assumed: tuple[str, ...] = ()
    """What its file leaves open or says otherwise, and how that was read."""
