"""glTF 2.0 files, .glb and .gltf (Khronos, "glTF 2.0 Specification", 2021), read strictly."""

from __future__ import annotations

from pathlib import Path

from ...model.bones import BoneArt
from .gltf_accessors import Accessors
from .gltf_clips import GltfClips
from .gltf_container import GltfBytes
from .gltf_meshes import GltfMeshes
from .gltf_nodes import NodeTree, bones_of


def load_gltf(path: Path) -> BoneArt:
    """A glTF file. Raises FileProblem, which names the place in it."""
    content = GltfBytes(path)
    tree = NodeTree(content)
    left_out = _decoration(content)
    bones = bones_of(tree)
    accessors = Accessors(content)
    clips = GltfClips(accessors, bones.of_node, left_out).read()
    meshes = GltfMeshes(tree, accessors, bones, left_out).read()
    return BoneArt(bones.skeleton, clips, meshes, tuple(dict.fromkeys(left_out)))


def _decoration(content: GltfBytes) -> list[str]:
    """What is passed over of a file as a whole: cameras, lights, and what extensions say."""
    document = content.document
    found = [f"{len(document.cameras)} camera{'s' * (len(document.cameras) != 1)}"] * bool(
        document.cameras)
    return found + [f"extension {name[:80]}" for name in document.extensions_used
                    if name != "KHR_mesh_quantization"]
