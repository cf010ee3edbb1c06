"""The JSON of a glTF 2.0 file as typed values: fields that the specification has and we read.

Fields of other names are passed over, as glTF asks of readers; wrong types, indices below zero and
unknown words are errors that name their place.
"""

from __future__ import annotations

from typing import Annotated, Any, Literal

from msgspec import Meta, Struct

from ...model.bones import TransformPart

Index = Annotated[int, Meta(ge=0, le=1 << 31)]
Count = Annotated[int, Meta(ge=1, le=1 << 31)]
Bytes = Annotated[int, Meta(ge=0, le=1 << 40)]
Three = Annotated[tuple[float, ...], Meta(min_length=3, max_length=3)]
Four = Annotated[tuple[float, ...], Meta(min_length=4, max_length=4)]
Sixteen = Annotated[tuple[float, ...], Meta(min_length=16, max_length=16)]
PARTS: dict[str, TransformPart] = {"translation": "place", "rotation": "turn", "scale": "size"}
"""What a channel may move of a bone, by its path."""
MOST = 1 << 20
"""Entries of any list of the file."""


class GltfPart(Struct, frozen=True, rename="camel", gc=False):
    """What every part shares."""


class Asset(GltfPart, frozen=True):
    """Which glTF this is."""

    version: str
    min_version: str = ""


class SparseIndices(GltfPart, frozen=True):
    """Which values of an accessor are replaced."""

    buffer_view: Index
    component_type: Literal[5121, 5123, 5125]
    byte_offset: Bytes = 0


class SparseValues(GltfPart, frozen=True):
    """What they are replaced with."""

    buffer_view: Index
    byte_offset: Bytes = 0


class Sparse(GltfPart, frozen=True):
    """Values that stand in place of some of an accessor's."""

    count: Count
    indices: SparseIndices
    values: SparseValues


class Accessor(GltfPart, frozen=True):
    """Numbers in a buffer."""

    component_type: Literal[5120, 5121, 5122, 5123, 5125, 5126]
    count: Count
    type: Literal["SCALAR", "VEC2", "VEC3", "VEC4", "MAT2", "MAT3", "MAT4"]
    buffer_view: Index | None = None
    byte_offset: Bytes = 0
    normalized: bool = False
    sparse: Sparse | None = None


class BufferView(GltfPart, frozen=True):
    """A piece of a buffer."""

    buffer: Index
    byte_length: Annotated[int, Meta(ge=1, le=1 << 40)]
    byte_offset: Bytes = 0
    byte_stride: Annotated[int, Meta(ge=4, le=252)] | None = None


class Buffer(GltfPart, frozen=True):
    """Bytes: of the same .glb file, of a file beside it, or in the text itself."""

    byte_length: Annotated[int, Meta(ge=1, le=1 << 40)]
    uri: str | None = None


class Node(GltfPart, frozen=True):
    """A transform with what stands in it."""

    name: str = ""
    children: tuple[Index, ...] = ()
    matrix: Sixteen | None = None
    translation: Three | None = None
    rotation: Four | None = None
    scale: Three | None = None
    mesh: Index | None = None
    skin: Index | None = None
    camera: Index | None = None
    extensions: dict[str, Any] = {}


class SkinEntry(GltfPart, frozen=True):
    """Which nodes move a mesh."""

    joints: Annotated[tuple[Index, ...], Meta(min_length=1)]
    name: str = ""
    inverse_bind_matrices: Index | None = None


class Primitive(GltfPart, frozen=True):
    """A part of a mesh, of one material."""

    attributes: dict[str, Index]
    indices: Index | None = None
    material: Index | None = None
    mode: Annotated[int, Meta(ge=0, le=6)] = 4
    targets: tuple[dict[str, Index], ...] = ()
    extensions: dict[str, Any] = {}


class MeshEntry(GltfPart, frozen=True):
    """A mesh."""

    primitives: Annotated[tuple[Primitive, ...], Meta(min_length=1)]
    name: str = ""


class TextureUse(GltfPart, frozen=True):
    """Which texture, and by which of the mesh's coordinates."""

    index: Index
    tex_coord: Index = 0


class BaseColor(GltfPart, frozen=True):
    """All that we read of how a surface looks."""

    base_color_factor: Four = (1.0, 1.0, 1.0, 1.0)
    base_color_texture: TextureUse | None = None
    metallic_roughness_texture: TextureUse | None = None


class Material(GltfPart, frozen=True):
    """How a surface looks."""

    name: str = ""
    pbr_metallic_roughness: BaseColor = BaseColor()
    normal_texture: Any = None
    occlusion_texture: Any = None
    emissive_texture: Any = None


class TextureEntry(GltfPart, frozen=True):
    """A texture; without a source where only an extension has one."""

    source: Index | None = None


class Image(GltfPart, frozen=True):
    """A picture: of a file beside, in the text, or in a buffer."""

    uri: str | None = None
    mime_type: str = ""
    buffer_view: Index | None = None


class TargetEntry(GltfPart, frozen=True):
    """What a channel moves."""

    path: str
    node: Index | None = None


class ChannelEntry(GltfPart, frozen=True):
    """A channel of an animation."""

    sampler: Index
    target: TargetEntry


class KeysEntry(GltfPart, frozen=True):
    """The keys of a channel."""

    input: Index
    output: Index
    interpolation: Literal["LINEAR", "STEP", "CUBICSPLINE"] = "LINEAR"


class Animation(GltfPart, frozen=True):
    """A clip."""

    channels: tuple[ChannelEntry, ...]
    samplers: tuple[KeysEntry, ...]
    name: str = ""


class SceneEntry(GltfPart, frozen=True):
    """The nodes that are shown."""

    nodes: tuple[Index, ...] = ()


class Document(GltfPart, frozen=True):
    """A glTF file, but for its bytes."""

    asset: Asset
    accessors: Annotated[tuple[Accessor, ...], Meta(max_length=MOST)] = ()
    buffer_views: Annotated[tuple[BufferView, ...], Meta(max_length=MOST)] = ()
    buffers: Annotated[tuple[Buffer, ...], Meta(max_length=1 << 10)] = ()
    nodes: Annotated[tuple[Node, ...], Meta(max_length=1 << 15)] = ()
    skins: Annotated[tuple[SkinEntry, ...], Meta(max_length=1 << 12)] = ()
    meshes: Annotated[tuple[MeshEntry, ...], Meta(max_length=1 << 16)] = ()
    materials: Annotated[tuple[Material, ...], Meta(max_length=1 << 16)] = ()
    textures: Annotated[tuple[TextureEntry, ...], Meta(max_length=1 << 16)] = ()
    images: Annotated[tuple[Image, ...], Meta(max_length=1 << 16)] = ()
    animations: Annotated[tuple[Animation, ...], Meta(max_length=1 << 14)] = ()
    scenes: Annotated[tuple[SceneEntry, ...], Meta(max_length=1 << 12)] = ()
    scene: Index | None = None
    cameras: tuple[Any, ...] = ()
    extensions_used: tuple[str, ...] = ()
    extensions_required: tuple[str, ...] = ()
    extensions: dict[str, Any] = {}
