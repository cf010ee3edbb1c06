"""Files of bones made for tests, byte by byte with `struct`: it shares nothing with the reader."""

from __future__ import annotations

import base64
import json
import struct
from collections.abc import Sequence
from pathlib import Path
from typing import Any

SIZES = {5120: "b", 5121: "B", 5122: "h", 5123: "H", 5125: "I", 5126: "f"}
WIDTHS = {"SCALAR": 1, "VEC2": 2, "VEC3": 3, "VEC4": 4, "MAT4": 16}
Values = Sequence[Sequence[float]]


class GltfBuilder:
    """Puts a glTF file together. `json` may be changed before it is written."""

    def __init__(self) -> None:
        self.json: dict[str, Any] = {"asset": {"version": "2.0"}, "nodes": [], "accessors": [],
                                     "bufferViews": []}
        self.bytes = bytearray()

    def node(self, **fields: Any) -> int:
        """Another node."""
        self.json["nodes"].append(fields)
        return len(self.json["nodes"]) - 1

    def view(self, content: bytes, stride: int | None = None) -> int:
        """Another buffer view."""
        self.bytes += b"\xee" * (-len(self.bytes) % 4)
        entry: dict[str, Any] = {"buffer": 0, "byteOffset": len(self.bytes),
                                 "byteLength": len(content)}
        if stride is not None:
            entry["byteStride"] = stride
        self.bytes += content
        self.json["bufferViews"].append(entry)
        return len(self.json["bufferViews"]) - 1

    def numbers(
        self, values: Values, kind: str, component: int = 5126, normalized: bool = False,
        stride: int | None = None,
    ) -> int:
        """Another accessor, of values as they are stored."""
        made = b""
        for value in values:
            packed = struct.pack("<" + SIZES[component] * WIDTHS[kind], *value)
            made += packed.ljust(stride, b"\xee") if stride else packed
        entry = {"bufferView": self.view(made, stride), "componentType": component,
                 "count": len(values), "type": kind}
        if normalized:
            entry["normalized"] = True
        self.json["accessors"].append(entry)
        return len(self.json["accessors"]) - 1

    def scalars(self, values: Sequence[float]) -> int:
        """An accessor of single floats."""
        return self.numbers([(value,) for value in values], "SCALAR")

    def channel(
        self, clip: int, node: int, path: str, times: Sequence[float], values: Values,
        interpolation: str = "LINEAR",
    ) -> None:
        """Another channel of a clip; clips are begun by being named here."""
        clips = self.json.setdefault("animations", [])
        while len(clips) <= clip:
            clips.append({"name": f"clip{len(clips)}", "channels": [], "samplers": []})
        clips[clip]["samplers"].append({
            "input": self.scalars(times), "interpolation": interpolation,
            "output": self.numbers(values, "VEC4" if path == "rotation" else "VEC3")})
        clips[clip]["channels"].append({"sampler": len(clips[clip]["samplers"]) - 1,
                                        "target": {"node": node, "path": path}})

    def glb(self) -> bytes:
        """All of it as a .glb."""
        buffers = {"buffers": [{"byteLength": len(self.bytes)}]} if self.bytes else {}
        text = json.dumps({**self.json, **buffers}).encode()
        text += b" " * (-len(text) % 4)
        binary = bytes(self.bytes) + b"\0" * (-len(self.bytes) % 4)
        body = (struct.pack("<II", len(text), 0x4E4F534A) + text
                + struct.pack("<II", len(binary), 0x004E4942) + binary)
        return b"glTF" + struct.pack("<II", 2, 12 + len(body)) + body

    def gltf(self, uri: str = "") -> bytes:
        """All of it as text, its bytes within, or in a file of this name."""
        inline = "data:application/octet-stream;base64," + base64.b64encode(self.bytes).decode()
        return json.dumps({**self.json, "buffers": [
            {"byteLength": len(self.bytes), "uri": uri or inline}]}).encode()

    def save(self, path: Path) -> Path:
        """Write it, as the ending of its name says."""
        path.write_bytes(self.glb() if path.suffix == ".glb" else self.gltf())
        return path


def arm() -> GltfBuilder:
    """Three bones in a row, each one metre over the one before, and a square that the two upper
    ones hold; clip 0 bends the middle one by a right angle in one second."""
    made = GltfBuilder()
    made.node(name="hand", translation=[0, 1, 0])
    made.node(name="elbow", translation=[0, 1, 0], children=[0])
    made.node(name="shoulder", children=[1])
    made.node(name="cloth", mesh=0, skin=0)
    half = 0.5 ** 0.5
    made.channel(0, 1, "rotation", [0, 1], [(0, 0, 0, 1), (0, 0, half, half)])
    places = [(-0.5, 1, 0), (0.5, 1, 0), (0.5, 3, 0), (-0.5, 3, 0)]
    made.json["meshes"] = [{"name": "cloth", "primitives": [{
        "attributes": {
            "POSITION": made.numbers(places, "VEC3"),
            "JOINTS_0": made.numbers([(0, 0, 0, 0)] * 2 + [(1, 0, 0, 0)] * 2, "VEC4", 5121),
            "WEIGHTS_0": made.numbers([(1, 0, 0, 0)] * 4, "VEC4")},
        "indices": made.numbers([(0,), (1,), (2,), (0,), (2,), (3,)], "SCALAR", 5123)}]}]
    binds = [_lowered(1), _lowered(2), _lowered(0)]
    made.json["skins"] = [{"joints": [1, 0, 2], "inverseBindMatrices": made.numbers(binds, "MAT4")}]
    made.json["scenes"] = [{"nodes": [2, 3]}]
    return made


def _lowered(by: float) -> tuple[float, ...]:
    """A matrix, column by column, that moves downwards."""
    return (1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, -by, 0, 1)


LEG = """HIERARCHY
ROOT hip
{
  OFFSET 0 0 0
  CHANNELS 6 Xposition Yposition Zposition Zrotation Xrotation Yrotation
  JOINT knee
  {
    OFFSET 0 -40 0
    CHANNELS 3 Zrotation Xrotation Yrotation
    End Site
    {
      OFFSET 0 -45 0
    }
  }
}
MOTION
Frames: 3
Frame Time: 0.5
0 90 0 0 0 0 0 0 0
10 90 0 90 0 0 0 0 0
20 90 5 0 0 90 0 90 0
"""
"""A leg in centimetres: it swings to the right, then turns round and lifts its foot."""
