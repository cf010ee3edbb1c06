"""A file of bones with all that is drawn of it, made in the thread that reads it."""

from __future__ import annotations

from collections import OrderedDict
from dataclasses import dataclass
from functools import cached_property
from pathlib import Path

from ...core.formats.bones.puppet_bones import bones_in, digest_of
from ...core.formats.bones.textures import colors_of, textures_of
from ...core.formats.errors import FileProblem
from ...core.model.bones import BoneArt
from ...core.model.motions import BoneSetting
from ...core.pose.bones.limbs import Limbs, height_of, limbs_of
from ...core.pose.bones.sampling import ClipSampler, rest_pose
from ...core.pose.bones.set_right import set_right
from ...core.pose.bones.world_pose import in_world
from .mesh.model import MeshModel, Shape
from .meshes import PropMesh


@dataclass(frozen=True)
class Drawable:
    """What a file holds: its limbs and how high it stands, in metres; its meshes as triangles that
    a painter draws, and as a model of the renderer."""

    art: BoneArt
    digest: str
    """Of its bones and clips."""
    samplers: dict[str, ClipSampler]
    """Its clips, by name."""
    limbs: Limbs
    height: float
    mesh: PropMesh
    model: MeshModel

    @cached_property
    def rest(self) -> Shape:
        """Its meshes as they are at rest: so a prop is held."""
        skeleton = self.art.skeleton
        return self.model.placed(in_world(skeleton, rest_pose(skeleton)))


@dataclass(frozen=True)
class ReadFile:
    """A file as it was read: what is drawn of it, or why it could not be."""

    drawable: Drawable | None
    problem: str = ""


MOST_KEPT = 8
PLAIN = BoneSetting()
_kept: OrderedDict[tuple[int, BoneSetting], Drawable] = OrderedDict()
"""What was made last, by the identity of what was read, which it holds."""


def read_bone_file(path: Path, setting: BoneSetting = PLAIN) -> ReadFile:
    """Read a file, where it is another than when it was read last, and set it right; in no thread
    that anyone waits for."""
    try:
        art = bones_in(path)
    except FileProblem as problem:
        return ReadFile(None, str(problem))
    known = _kept.get((id(art), setting))
    if known is None or known.art is not art:
        known = _kept[id(art), setting] = _drawable(art, set_right(art, setting))
        while len(_kept) > MOST_KEPT:
            _kept.popitem(last=False)
    return ReadFile(known)


def _drawable(art: BoneArt, right: BoneArt) -> Drawable:
    textures = textures_of(art)
    colors = colors_of(art, textures)
    limbs = limbs_of(right, colors)
    # The first of one name counts, as everywhere.
    samplers = {clip.name: ClipSampler(art.skeleton, clip) for clip in reversed(art.clips)}
    return Drawable(
        art, digest_of(art), samplers, limbs, height_of(right.skeleton, limbs),
        PropMesh(art, colors), MeshModel(art.meshes, textures))
