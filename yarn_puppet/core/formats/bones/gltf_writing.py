"""Writes skeletons, clips and meshes as glTF 2.0, one file with all of its bytes (.glb)."""

from __future__ import annotations

import struct
from pathlib import Path
from typing import TYPE_CHECKING, Any

import msgspec
import numpy as np
import scipy

from ...model.bones import BoneArt, BoneClip, Channel, Mesh, Skeleton
from ..replacing import write_safely
from .gltf_container import BIN_CHUNK, JSON_CHUNK, MAGIC
from .gltf_document import PARTS
from .transforms import taken_apart

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from ...model.bones import Floats

PATHS = {part: path for path, part in PARTS.items()}
ARRAY, INDICES = 34962, 34963
"""What a buffer view is for, as graphics cards have it."""
COMPONENTS = {np.dtype("<f4"): 5126, np.dtype("u1"): 5121, np.dtype("<u2"): 5123,
              np.dtype("<u4"): 5125}
WRITTEN_BY = "Yarn Puppet"


def save_gltf(art: BoneArt, path: Path) -> None:
    """Write a .glb file. Raises FileProblem where it cannot be written."""
    write_safely(path, glb_of(art))


def glb_of(art: BoneArt) -> bytes:
    """The bytes of a .glb file: numbers as 32-bit floats, textures within. What of a file was left
    out when it was read is not in it."""
    return glb_and_nodes(art)[0]


def glb_and_nodes(art: BoneArt) -> tuple[bytes, list[int]]:
    """The same, and the number of the node that each bone is."""
    writer = _GltfWriter(art)
    content = bytes(writer.bytes) + b"\0" * (-len(writer.bytes) % 4)
    text = msgspec.json.encode(writer.json)
    text += b" " * (-len(text) % 4)
    chunks = struct.pack("<II", len(text), JSON_CHUNK) + text
    if content:
        chunks += struct.pack("<II", len(content), BIN_CHUNK) + content
    return MAGIC + struct.pack("<II", 2, 12 + len(chunks)) + chunks, writer.node_of


class _GltfWriter:
    def __init__(self, art: BoneArt) -> None:
        self.bytes = bytearray()
        self.json: dict[str, Any] = {
            "asset": {"version": "2.0", "generator": WRITTEN_BY}, "scene": 0,
            "scenes": [{"nodes": []}], "nodes": []}
        self._times: dict[bytes, int] = {}
        self._textures: dict[bytes, int] = {}
        self.node_of: list[int] = []
        self.rest = art.skeleton.places[0]
        self._skeleton(art.skeleton)
        self._skins: dict[tuple[int, ...], int] = {}
        for mesh in art.meshes:
            self._mesh(mesh)
        for clip in art.clips:
            self._clip(clip)
        if not any(len(set(mesh.bones)) == len(self.node_of) for mesh in art.meshes):
            # A skin of nothing, which says that all of these nodes are bones.
            self._list("skins").append({"name": "bones", "joints": self.node_of})
        if self.bytes:
            self.json["buffers"] = [{"byteLength": len(self.bytes)}]

    def _list(self, name: str) -> list[Any]:
        found: list[Any] = self.json.setdefault(name, [])
        return found

    # Numbers --------------------------------------------------------------------------------------

    def _view(self, content: bytes, target: int | None = None) -> int:
        self.bytes += b"\0" * (-len(self.bytes) % 4)
        entry: dict[str, Any] = {"buffer": 0, "byteOffset": len(self.bytes),
                                 "byteLength": len(content)}
        if target is not None:
            entry["target"] = target
        self.bytes += content
        self._list("bufferViews").append(entry)
        return len(self.json["bufferViews"]) - 1

    def _accessor(
        self, values: NDArray[Any], kind: str, target: int | None = None, bounds: bool = False
    ) -> int:
        """Another accessor, of an array whose type says how it is stored."""
        entry = {"bufferView": self._view(values.tobytes(), target), "type": kind,
                 "componentType": COMPONENTS[values.dtype], "count": len(values)}
        if bounds:
            flat = values.reshape(len(values), -1)
            entry |= {"min": flat.min(0).tolist(), "max": flat.max(0).tolist()}
        self._list("accessors").append(entry)
        return len(self.json["accessors"]) - 1

    # The skeleton ---------------------------------------------------------------------------------

    def _skeleton(self, skeleton: Skeleton) -> None:
        """A node a bone, in the same order, and before a topmost one what its base is made of: so
        that whoever reads it finds the bones in the same order again."""
        nodes, base = self.json["nodes"], np.eye(4)
        top = self.json["scenes"][0]["nodes"]
        if skeleton.parents.count(-1) > 1:
            # The joints of a skin have one node above them all.
            nodes.append({"name": "skeleton", "children": []})
            top.append(0)
            top = nodes[0]["children"]
        below = top
        for bone, parent in enumerate(skeleton.parents):
            if parent >= 0:
                siblings = nodes[self.node_of[parent]].setdefault("children", [])
            else:
                if not bone or (skeleton.bases[bone] != base).any():
                    base = skeleton.bases[bone]
                    below = (top if (base == np.eye(4)).all()
                             else self._base(base, top)["children"])
                siblings = below
            siblings.append(len(nodes))
            self.node_of.append(len(nodes))
            node: dict[str, Any] = {"name": skeleton.names[bone]}
            for key, value, usual in (
                ("translation", skeleton.places[bone], (0, 0, 0)),
                ("rotation", skeleton.turns[bone], (0, 0, 0, 1)),
                ("scale", skeleton.sizes[bone], (1, 1, 1)),
            ):
                if tuple(value) != usual:
                    node[key] = [float(number) for number in value]
            nodes.append(node)

    def _base(self, base: Floats, top: list[int]) -> dict[str, Any]:
        """Nodes that have this matrix, hung under the top; gives the lowest of them. One that
        shears is three: a turn, a size and a turn, as every matrix is."""
        nodes = self.json["nodes"]
        parts: list[dict[str, Any]] = [{"matrix": base.T.reshape(-1).tolist()}]
        if taken_apart(base) is None:
            left, sizes, right = np.linalg.svd(base[:3, :3])
            for turn in (left, right):
                if np.linalg.det(turn) < 0:
                    turn *= -1
                    sizes = -sizes
            first, last = (scipy.spatial.transform.Rotation.from_matrix(each).as_quat().tolist()
                           for each in (left, right))
            parts = [{"translation": base[:3, 3].tolist(), "rotation": first},
                     {"scale": sizes.tolist()}, {"rotation": last}]
        top.append(len(nodes))
        for number, part in enumerate(parts):
            part |= {"name": "base",
                     "children": [len(nodes) + 1] if number + 1 < len(parts) else []}
            nodes.append(part)
        found: dict[str, Any] = nodes[-1]
        return found

    # Meshes ---------------------------------------------------------------------------------------

    def _mesh(self, mesh: Mesh) -> None:
        attributes = {"POSITION": self._accessor(mesh.places.astype("<f4"), "VEC3", ARRAY, True)}
        if mesh.joints is not None and mesh.weights is not None:
            attributes |= self._joints(mesh.joints, mesh.weights, len(mesh.bones))
        primitive: dict[str, Any] = {
            "attributes": attributes, "material": self._material(mesh, attributes),
            "indices": self._accessor(mesh.triangles.reshape(-1).astype(
                "<u2" if len(mesh.places) < 65535 else "<u4"), "SCALAR", INDICES)}
        self._list("meshes").append({"name": mesh.name, "primitives": [primitive]})
        node: dict[str, Any] = {"name": mesh.name, "mesh": len(self.json["meshes"]) - 1}
        number = len(self.json["nodes"])
        if mesh.binds is not None:
            node["skin"] = self._skin(mesh)
            self.json["scenes"][0]["nodes"].append(number)
            self.json["nodes"].append(node)
            return
        bone = self.json["nodes"][self.node_of[mesh.bone]]
        if "mesh" not in bone:
            bone["mesh"] = node["mesh"]
        else:
            # A second mesh of a bone is another part of the first.
            self.json["meshes"].pop()
            self.json["meshes"][bone["mesh"]]["primitives"].append(primitive)

    def _joints(
        self, joints: NDArray[Any], weights: NDArray[Any], count: int
    ) -> dict[str, int]:
        """Sets of four a vertex."""
        spare = -joints.shape[1] % 4
        each = np.pad(joints, ((0, 0), (0, spare)))
        shares = np.pad(weights, ((0, 0), (0, spare)))
        # Nothing is said of joints that have no weight.
        each[shares == 0] = 0
        kind = "u1" if count <= 255 else "<u2"
        found = {}
        for number in range(each.shape[1] // 4):
            part = slice(4 * number, 4 * number + 4)
            found[f"JOINTS_{number}"] = self._accessor(each[:, part].astype(kind), "VEC4", ARRAY)
            found[f"WEIGHTS_{number}"] = self._accessor(shares[:, part].astype("<f4"), "VEC4",
                                                        ARRAY)
        return found

    def _skin(self, mesh: Mesh) -> int:
        assert mesh.binds is not None
        key = (*mesh.bones, hash(mesh.binds.tobytes()))
        if key not in self._skins:
            matrices = np.ascontiguousarray(mesh.binds.transpose(0, 2, 1)).astype("<f4")
            # The last row of a transform, whatever was lost on the way.
            matrices[:, :, 3] = (0, 0, 0, 1)
            self._list("skins").append({
                "joints": [self.node_of[bone] for bone in mesh.bones],
                "inverseBindMatrices": self._accessor(matrices, "MAT4")})
            self._skins[key] = len(self.json["skins"]) - 1
        return self._skins[key]

    def _material(self, mesh: Mesh, attributes: dict[str, int]) -> int:
        look: dict[str, Any] = {"baseColorFactor": list(mesh.color), "metallicFactor": 0.0,
                                "roughnessFactor": 1.0}
        if mesh.texture is not None and mesh.over is not None:
            attributes["TEXCOORD_0"] = self._accessor(mesh.over.astype("<f4"), "VEC2", ARRAY)
            look["baseColorTexture"] = {"index": self._texture(mesh.texture.content)}
        entry = {"pbrMetallicRoughness": look, "doubleSided": True}
        if entry not in self._list("materials"):
            self.json["materials"].append(entry)
        return int(self.json["materials"].index(entry))

    def _texture(self, content: bytes) -> int:
        if content not in self._textures:
            kind = "image/png" if content.startswith(b"\x89PNG") else "image/jpeg"
            self._list("images").append({"bufferView": self._view(content), "mimeType": kind})
            self._list("textures").append({"source": len(self.json["images"]) - 1})
            self._textures[content] = len(self.json["textures"]) - 1
        return self._textures[content]

    # Clips ----------------------------------------------------------------------------------------

    def _clip(self, clip: BoneClip) -> None:
        entry: dict[str, Any] = {"name": clip.name, "channels": [], "samplers": []}
        # A clip that moves nothing holds the first bone where it is: glTF has none without keys.
        still = Channel(0, "place", "STEP", np.zeros(1), self.rest[None])
        for channel in clip.channels or (still,):
            known = channel.times.tobytes()
            if known not in self._times:
                self._times[known] = self._accessor(channel.times.astype("<f4"), "SCALAR",
                                                    bounds=True)
            way, stored = channel.interpolation, channel.values
            if way == "CUBICSPLINE" and len(channel.times) == 1:
                # A spline needs two keys, and one key is the same whichever way it goes.
                way, stored = "STEP", stored[:, 1]
            values = stored.reshape(-1, stored.shape[-1]).astype("<f4")
            entry["samplers"].append({
                "input": self._times[known], "interpolation": way,
                "output": self._accessor(values, "VEC4" if channel.part == "turn" else "VEC3")})
            entry["channels"].append({
                "sampler": len(entry["samplers"]) - 1,
                "target": {"node": self.node_of[channel.bone], "path": PATHS[channel.part]}})
        self._list("animations").append(entry)
