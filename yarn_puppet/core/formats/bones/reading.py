"""Files of bones of either format, told by what they begin with."""

from __future__ import annotations

from pathlib import Path

from ...model.bones import BoneArt
from ..errors import FileProblem, open_regular
from ..watching import Watch, unwatched
from .bvh_file import load_bvh
from .gltf_container import MAGIC
from .gltf_file import load_gltf

HEAD = 256


def holds_bones(path: Path) -> bool:
    """Whether a file is, by its beginning or its name, one of bones. A folder is none.

    Raises FileProblem where it cannot be read.
    """
    try:
        if path.is_dir():
            return False
        with open_regular(path) as file:
            head = file.read(HEAD)
    except (OSError, ValueError) as error:
        raise FileProblem(path, "", f"cannot be read ({getattr(error, 'strerror', error)})"
                          ) from None
    return head[:4] == MAGIC or _is_bvh(head) or path.suffix.lower() in (".gltf", ".glb", ".bvh")


def load_bones(path: Path, watch: Watch = unwatched) -> BoneArt:
    """A glTF or BVH file. Raises FileProblem, and what `watch` raises."""
    try:
        with open_regular(path) as file:
            head = file.read(HEAD)
    except (OSError, ValueError) as error:
        raise FileProblem(path, "", f"cannot be read ({getattr(error, 'strerror', error)})"
                          ) from None
    return load_bvh(path, watch) if _is_bvh(head) or (
        path.suffix.lower() == ".bvh" and head[:4] != MAGIC) else load_gltf(path, watch)


def _is_bvh(head: bytes) -> bool:
    return head.lstrip(b"\xef\xbb\xbf \t\r\n")[:9].upper() == b"HIERARCHY"
