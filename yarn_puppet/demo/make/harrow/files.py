"""The two files of Harrow: his body with some clips, and more clips on the same bones, called as
another program would have called them."""

from __future__ import annotations

from pathlib import Path

from ....core.formats.bones.gltf_writing import save_gltf
from ....core.model.bones import BoneArt
from .body import meshes
from .frame import skeleton
from .moves import FIRST, MORE, clip
from .shield import shield

PREFIX = "warden:"


def write_harrow(folder: Path) -> None:
    """Write `harrow.glb`, `harrow_more.glb` and `harrow_shield.glb`."""
    body = BoneArt(skeleton(), tuple([clip(name, *move) for name, move in FIRST.items()]), meshes(),
                   ())
    save_gltf(body, folder / "harrow.glb")
    more = BoneArt(skeleton(PREFIX), tuple([clip(name, *move) for name, move in MORE.items()]), (),
                   ())
    save_gltf(more, folder / "harrow_more.glb")
    save_gltf(shield(), folder / "harrow_shield.glb")
