"""Limbs: for each bone a tube as thick and as coloured as what the mesh has about it, for who draws
no meshes."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING, NamedTuple

import numpy as np

from ...model.bones import BoneArt, Skeleton
from .sampling import rest_pose
from .world_pose import WorldPose, in_world, skinned

if TYPE_CHECKING:
    from ...model.bones import Floats, Indices

ALONG = 0.8
"""The cosine up to which a child lies in the direction of what a bone carries."""
FAR = 92.0
"""The percentile of a bone's vertices that counts as its end."""
FEWEST = 4
"""Vertices from which a thickness is told."""
THIN, THINNEST = 0.09, 0.004
"""The radius of a bone without a mesh: this share of its length; and the least, in metres."""
Color = tuple[float, float, float]


class Limbs(NamedTuple):
    """Tubes: the `bones` (n,) they follow, their ends `starts` and `ends` (n, 3) in the bone's own
    axes, the radii there (n, 2) in metres, and colours from 0 to 1, None where no mesh has one."""

    bones: Indices
    starts: Floats
    ends: Floats
    radii: Floats
    colors: tuple[Color | None, ...]

    def placed(self, pose: WorldPose, time: int = 0) -> tuple[Floats, Floats]:
        """The two ends (n, 3) in the world, at one of a pose's times."""
        matrices = pose.matrices[time][self.bones]
        turned, moved = matrices[:, :3, :3], matrices[:, :3, 3]
        return (np.einsum("nij,nj->ni", turned, self.starts) + moved,
                np.einsum("nij,nj->ni", turned, self.ends) + moved)


class _Around(NamedTuple):
    """The vertices that a bone carries, at rest in the world, and their colour."""

    places: Floats
    color: Color | None


def limbs_of(art: BoneArt, colors: Sequence[Color] | None = None) -> Limbs:
    """The limbs of a file of bones. `colors` are those of its meshes as they are seen from afar,
    where they are others than the meshes' own."""
    rest = in_world(art.skeleton, rest_pose(art.skeleton))
    around = _around(art, rest, colors or [mesh.color[:3] for mesh in art.meshes])
    children: dict[int, list[int]] = {}
    for bone, parent in enumerate(art.skeleton.parents):
        children.setdefault(parent, []).append(bone)
    made: list[tuple[int, Floats, Floats, tuple[float, float], Color | None]] = []
    places = rest.places[0]
    for bone, place in enumerate(places):
        own = around.get(bone)
        below = [places[child] for child in children.get(bone, ())]
        if own is not None:
            end = _end(place, own.places, below)
            made.append((bone, place, end, _radii(place, end, own.places), own.color))
            continue
        if bone in art.skeleton.tips:
            tip = np.append(np.array(art.skeleton.tips[bone]), 1.0)
            below.append((rest.matrices[0, bone] @ tip)[:3])
        for end in below:
            thin = max(THINNEST, THIN * float(np.linalg.norm(end - place)))
            if np.linalg.norm(end - place) > THINNEST:
                made.append((bone, place, end, (thin, thin), None))
    return _local(rest, made)


def _local(
    rest: WorldPose,
    made: list[tuple[int, Floats, Floats, tuple[float, float], Color | None]],
) -> Limbs:
    bones = np.array([bone for bone, *_ in made], dtype=np.int64)
    back = np.linalg.pinv(rest.matrices[0][bones]) if made else np.zeros((0, 4, 4))

    def within(which: int) -> Floats:
        points = np.array([each[which] for each in made], dtype=np.float64).reshape(-1, 3)
        found: Floats = np.einsum("nij,nj->ni", back[:, :3, :3], points) + back[:, :3, 3]
        return found

    return Limbs(bones, within(1), within(2),
                 np.array([each[3] for each in made], dtype=np.float64).reshape(-1, 2),
                 tuple([each[4] for each in made]))


def _around(
    art: BoneArt, rest: WorldPose, colors: Sequence[Color]
) -> dict[int, _Around]:
    """By bone what it carries most of, of all meshes; the colour is that of the mesh it has most
    of."""
    pieces: dict[int, list[tuple[Floats, Color]]] = {}
    for mesh, color in zip(art.meshes, colors, strict=True):
        places = skinned(mesh, rest)
        if mesh.joints is None or mesh.weights is None:
            if mesh.bone >= 0:
                pieces.setdefault(mesh.bone, []).append((places, color))
            continue
        strongest = mesh.joints[np.arange(len(places)), np.argmax(mesh.weights, axis=1)]
        for joint in np.unique(strongest):
            own = places[strongest == joint]
            pieces.setdefault(mesh.bones[int(joint)], []).append((own, color))
    found = {}
    for bone, parts in pieces.items():
        largest = max(parts, key=lambda part: len(part[0]))
        if len(largest[0]) >= FEWEST:
            found[bone] = _Around(largest[0], largest[1])
    return found


def _end(place: Floats, around: Floats, below: list[Floats]) -> Floats:
    """Where a bone's limb ends: at the child that lies where its vertices do, or where these
    end."""
    way = around.mean(axis=0) - place
    length = float(np.linalg.norm(way))
    if length < THINNEST:
        return place
    way = way / length
    best, nearest = None, ALONG
    for child in below:
        apart = child - place
        far = float(np.linalg.norm(apart))
        cosine = float(apart @ way) / far if far > THINNEST else 0.0
        if cosine > nearest:
            best, nearest = child, cosine
    if best is not None:
        return best
    reach = float(np.percentile((around - place) @ way, FAR))
    thick = float(np.median(_from_axis(around - place, way)))
    end: Floats = place + way * max(0.0, reach - thick / 2)
    return end


def _radii(place: Floats, end: Floats, around: Floats) -> tuple[float, float]:
    way = end - place
    length = float(np.linalg.norm(way))
    if length < THINNEST:
        thick = max(THINNEST, float(np.median(np.linalg.norm(around - place, axis=1))))
        return thick, thick
    way = way / length
    off, along = _from_axis(around - place, way), (around - place) @ way / length
    whole = float(np.median(off))
    near, far = off[along < 0.5], off[along >= 0.5]
    first = float(np.median(near)) if len(near) >= FEWEST else whole
    last = float(np.median(far)) if len(far) >= FEWEST else whole
    return max(THINNEST, first), max(THINNEST, last)


def _from_axis(points: Floats, way: Floats) -> Floats:
    found: Floats = np.linalg.norm(points - (points @ way)[:, None] * way, axis=1)
    return found


def height_of(skeleton: Skeleton, limbs: Limbs) -> float:
    """How high the figure stands at rest, in metres; at least a millimetre."""
    rest = in_world(skeleton, rest_pose(skeleton))
    if not len(limbs.bones):
        high = rest.places[0, :, 1]
        return max(1e-3, float(high.max() - min(0.0, high.min())))
    first, last = limbs.placed(rest)
    top = max(float((first[:, 1] + limbs.radii[:, 0]).max()),
              float((last[:, 1] + limbs.radii[:, 1]).max()))
    low = min(float((first[:, 1] - limbs.radii[:, 0]).min()),
              float((last[:, 1] - limbs.radii[:, 1]).min()))
    return max(1e-3, top - min(0.0, low))
