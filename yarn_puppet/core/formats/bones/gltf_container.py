"""The bytes of a glTF file: the JSON, and the buffers, of a .glb, of files beside it, or in the
text.

Nothing outside the file's own folder is opened, and no address of a network.
"""

from __future__ import annotations

import base64
import binascii
import struct
from pathlib import Path
from urllib.parse import unquote, urlsplit

import msgspec
from msgspec import Struct

from ..errors import FileProblem, decode, read_whole
from .gltf_document import Document

MAGIC = b"glTF"
JSON_CHUNK, BIN_CHUNK = 0x4E4F534A, 0x004E4942
LARGEST_BONE_FILE = 512 * 1024 * 1024
"""Bytes of one file, and of all buffers of one glTF together."""
KNOWN = frozenset({"KHR_mesh_quantization"})
"""Extensions that change what geometry means, and that we read."""
DECORATION = ("KHR_materials_", "KHR_lights_punctual", "KHR_texture_transform", "KHR_xmp",
              "KHR_node_visibility", "EXT_lights_")
"""Beginnings of the names of extensions without which bones, clips and triangles are the same."""


class GltfBytes:
    """A glTF file, taken apart; `document` is its JSON. Buffers are read when they are asked for.

    Raises FileProblem, as all that is asked of it does.
    """

    def __init__(self, path: Path) -> None:
        self.path = path
        content = read_whole(path, LARGEST_BONE_FILE)
        text, self._own = self._chunks(content) if content[:4] == MAGIC else (content, None)
        try:
            self.document = decode(text, path, Document)
        except FileProblem:
            if version := _older(text):
                raise self.problem("asset.version", f"expected glTF 2.0, found {version}: save it "
                                   "as glTF 2.0") from None
            raise
        self._buffers: dict[int, bytes] = {}
        self._read = 0
        self._check()

    def problem(self, place: str, expected: str) -> FileProblem:
        """What is wrong at a place of the JSON."""
        return FileProblem(self.path, place, expected)

    def _check(self) -> None:
        version = self.document.asset.min_version or self.document.asset.version
        if version.partition(".")[0] != "2" or (
            self.document.asset.min_version not in ("", "2.0")
        ):
            raise self.problem("asset.version", f"expected glTF 2.0, found {version[:20]}")
        lacking = [name for name in self.document.extensions_required
                   if name not in KNOWN and not name.startswith(DECORATION)]
        if lacking:
            raise self.problem("extensionsRequired",
                               f"needs {', '.join(lacking)[:200]}, which is not read here. Save it "
                               "without compression and without such extensions")

    def _chunks(self, content: bytes) -> tuple[bytes, bytes | None]:
        """The JSON and the binary chunk of a .glb."""
        if len(content) < 20:
            raise FileProblem(self.path, "", "ends in the middle of its header")
        version, length = struct.unpack_from("<II", content, 4)
        if version != 2:
            raise FileProblem(self.path, "header", f"expected glTF 2.0, found version {version}")
        if length > len(content):
            raise FileProblem(self.path, "header",
                              f"says {length} bytes, of which {len(content)} are there; the file "
                              "was cut off")
        found: dict[int, bytes] = {}
        at, first = 12, True
        while at + 8 <= length:
            size, kind = struct.unpack_from("<II", content, at)
            if at + 8 + size > length:
                raise FileProblem(self.path, f"byte {at}",
                                  f"a chunk of {size} bytes reaches past the end of the file")
            if first and kind != JSON_CHUNK:
                raise FileProblem(self.path, f"byte {at}", "expected the JSON chunk first")
            if kind in (JSON_CHUNK, BIN_CHUNK):
                found.setdefault(kind, content[at + 8:at + 8 + size])
            at, first = at + 8 + size + (-size % 4), False
        if JSON_CHUNK not in found:
            raise FileProblem(self.path, "", "expected a JSON chunk")
        return found[JSON_CHUNK].rstrip(b" \0"), found.get(BIN_CHUNK)

    def buffer(self, index: int, place: str) -> bytes:
        """The bytes of a buffer; `place` is where it is named."""
        if index >= len(self.document.buffers):
            raise self.problem(place, f"there is no buffer {index}")
        known = self._buffers.get(index)
        if known is None:
            entry, here = self.document.buffers[index], f"buffers[{index}]"
            if entry.uri is None:
                if index or self._own is None:
                    raise self.problem(here, "has no uri, and the file no bytes for it")
                known = self._own
            else:
                known = self.at_uri(entry.uri, f"{here}.uri")
            if len(known) < entry.byte_length:
                raise self.problem(f"{here}.byteLength",
                                   f"says {entry.byte_length} bytes, of which {len(known)} are "
                                   "there")
            self._buffers[index] = known
        return known

    def view(self, index: int, place: str) -> memoryview:
        """The bytes of a buffer view; `place` is where it is named."""
        views = self.document.buffer_views
        if index >= len(views):
            raise self.problem(place, f"there is no buffer view {index}")
        view, here = views[index], f"bufferViews[{index}]"
        content = self.buffer(view.buffer, f"{here}.buffer")
        length = self.document.buffers[view.buffer].byte_length
        if view.byte_offset + view.byte_length > length:
            raise self.problem(here, f"ends at byte {view.byte_offset + view.byte_length} of a "
                                     f"buffer of {length}")
        return memoryview(content)[view.byte_offset:view.byte_offset + view.byte_length]

    def at_uri(self, uri: str, place: str) -> bytes:
        """The bytes that a uri names: in itself, or a file in the folder of this one."""
        if uri[:5].lower() == "data:":
            return self._counted(self._inline(uri, place), place)
        try:
            parts = urlsplit(uri)
        except ValueError:
            raise self.problem(place, "expected the name of a file") from None
        name = unquote(parts.path)
        if parts.scheme or parts.netloc or not name or "\0" in name:
            raise self.problem(place, "expected a file beside this one, or data in the text; "
                                      f"found {uri[:60]!r}")
        folder = self.path.absolute().parent.resolve()
        try:
            path = (folder / name).resolve()
        except (OSError, RuntimeError) as error:
            raise self.problem(place, f"cannot be read ({error})") from None
        if not path.is_relative_to(folder):
            raise self.problem(place, f"{name[:60]!r} lies outside of the folder of this file")
        return self._counted(read_whole(path, LARGEST_BONE_FILE), place)

    def _counted(self, content: bytes, place: str) -> bytes:
        self._read += len(content)
        if self._read > LARGEST_BONE_FILE:
            raise self.problem(place, f"expected at most {LARGEST_BONE_FILE >> 20} MiB in all")
        return content

    def _inline(self, uri: str, place: str) -> bytes:
        head, comma, content = uri.partition(",")
        if not comma or not head.lower().endswith(";base64"):
            raise self.problem(place, "expected data in base64")
        try:
            return base64.b64decode(unquote(content), validate=True)
        except (binascii.Error, ValueError):
            raise self.problem(place, "expected data in base64") from None


class _Asset(Struct, frozen=True):
    version: str = ""


class _Older(Struct, frozen=True):
    asset: _Asset = _Asset()


def _older(text: bytes) -> str:
    """The version of a file that is older than glTF 2.0, which is laid out otherwise; or ""."""
    try:
        version = msgspec.json.decode(text, type=_Older).asset.version[:20]
    except (msgspec.DecodeError, UnicodeDecodeError):
        return ""
    return version if version[:2] in ("0.", "1.") else ""
