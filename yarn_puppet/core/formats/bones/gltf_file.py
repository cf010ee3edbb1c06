"""glTF 2.0 files, .glb and .gltf (Khronos, "glTF 2.0 Specification", 2021), read strictly."""

from __future__ import annotations

from pathlib import Path

from ...model.bones import BoneArt
from ..watching import Watch, unwatched
from .gltf_accessors import Accessors
from .gltf_clips import GltfClips
from .gltf_container import GltfBytes
from .gltf_meshes import GltfMeshes
from .gltf_nodes import NodeTree, bones_of


def load_gltf(path: Path, watch: Watch = unwatched) -> BoneArt:
    """A glTF file. Raises FileProblem, which names the place in it, and what `watch` raises, which
    hears of channels and meshes."""
    content = GltfBytes(path)
    tree = NodeTree(content)
    left_out = _decoration(content)
    bones = bones_of(tree)
    accessors = Accessors(content)
    channels = sum(len(each.channels) for each in content.document.animations)
    whole = channels + sum(node.mesh is not None for node in tree.nodes)
    clips = GltfClips(accessors, bones.of_node, left_out).read(lambda done: watch(done, whole))
    meshes = GltfMeshes(tree, accessors, bones, left_out).read(
        lambda done: watch(channels + done, whole))
    return BoneArt(bones.skeleton, clips, meshes, tuple(dict.fromkeys(left_out)))


def _decoration(content: GltfBytes) -> list[str]:
    """What is passed over of a file as a whole: cameras, lights, and what extensions say."""
    document = content.document
    found = [f"{len(document.cameras)} camera{'s' * (len(document.cameras) != 1)}"] * bool(
        document.cameras)
    return found + [f"extension {name[:80]}" for name in document.extensions_used
                    if name != "KHR_mesh_quantization"]
