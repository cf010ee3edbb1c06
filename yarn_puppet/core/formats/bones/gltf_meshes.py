"""The meshes of a glTF file: triangles with their base colour and texture, and their skins."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

import numpy as np

from ...model.bones import Mesh, Texture
from .gltf_accessors import Accessors
from .gltf_document import MeshEntry, Node, Primitive
from .gltf_nodes import NodeBones, NodeTree

if TYPE_CHECKING:
    from ...model.bones import Floats, Indices

    Color = tuple[float, float, float, float]

TRIANGLES, STRIP, FAN = 4, 5, 6
MOST_TRIANGLES = 1 << 22
WHITE = (1.0, 1.0, 1.0, 1.0)


class GltfMeshes:
    """Reads them; `left_out` gets what of them is passed over. Raises FileProblem."""

    def __init__(
        self, tree: NodeTree, accessors: Accessors, bones: NodeBones, left_out: list[str]
    ) -> None:
        self.tree, self.accessors, self.bones, self.left_out = tree, accessors, bones, left_out
        self.content, self.document = tree.content, tree.content.document
        self._textures: dict[int, Texture | None] = {}
        self._count = 0

    def read(self, told: Callable[[int], None]) -> tuple[Mesh, ...]:
        """Those of the scene, in the order of its nodes; a mesh of several materials is several.
        `told` hears how many nodes' are read."""
        found: list[Mesh] = []
        done = 0
        shown = self.tree.shown()
        for number in self.tree.order:
            node = self.tree.nodes[number]
            if number in shown and node.mesh is not None:
                if node.mesh >= len(self.document.meshes):
                    raise self.content.problem(f"nodes[{number}].mesh",
                                               f"there is no mesh {node.mesh}")
                told(done)
                done += 1
                found += self._of_node(number, node, self.document.meshes[node.mesh])
        return tuple(found)

    def _of_node(self, number: int, node: Node, entry: MeshEntry) -> list[Mesh]:
        name = entry.name or node.name or f"mesh {node.mesh}"
        made: list[Mesh] = []
        for place, primitive in enumerate(entry.primitives):
            here = f"meshes[{node.mesh}].primitives[{place}]"
            if primitive.mode not in (TRIANGLES, STRIP, FAN):
                self.left_out.append(f"points or lines of mesh {name}")
                continue
            if primitive.targets:
                self.left_out.append(f"morph targets of mesh {name}")
            places = self.accessors.floats(self._attribute(primitive, "POSITION", here),
                                           f"{here}.attributes.POSITION", "VEC3")
            triangles = self._triangles(primitive, len(places), here)
            color, texture, over = self._surface(primitive, len(places), name, here)
            mesh = Mesh(name, places, triangles, color, over, texture,
                        self.bones.of_node.get(number, -1), (), None, None, None)
            if node.skin is not None:
                mesh = self._skinned(mesh, node.skin, primitive, f"nodes[{number}].skin", here)
            made.append(mesh)
        return made

    def _attribute(self, primitive: Primitive, name: str, here: str) -> int:
        found = primitive.attributes.get(name)
        if found is None:
            raise self.content.problem(f"{here}.attributes", f"expected {name}")
        return found

    def _triangles(self, primitive: Primitive, count: int, here: str) -> Indices:
        if primitive.indices is None:
            corners = np.arange(count)
        else:
            corners = self.accessors.indices(primitive.indices, f"{here}.indices", "SCALAR")[:, 0]
            if corners.max() >= count:
                raise self.content.problem(f"{here}.indices", f"there is no vertex "
                                                              f"{int(corners.max())} of {count}")
        if primitive.mode == TRIANGLES:
            made = corners[:len(corners) // 3 * 3].reshape(-1, 3)
        elif len(corners) < 3:
            made = np.zeros((0, 3), np.int64)
        elif primitive.mode == FAN:
            made = np.stack([np.full(len(corners) - 2, corners[0]), corners[1:-1], corners[2:]], 1)
        else:
            made = np.stack([corners[:-2], corners[1:-1], corners[2:]], 1)
            made[1::2] = made[1::2][:, [1, 0, 2]]
        self._count += len(made)
        if self._count > MOST_TRIANGLES:
            raise self.content.problem(here, f"expected at most {MOST_TRIANGLES >> 20} million "
                                             "triangles in a file")
        return made

    # The skin -------------------------------------------------------------------------------------

    def _skinned(
        self, mesh: Mesh, number: int, primitive: Primitive, place: str, here: str
    ) -> Mesh:
        if number >= len(self.document.skins):
            raise self.content.problem(place, f"there is no skin {number}")
        skin = self.document.skins[number]
        joints, weights = self._joints(primitive, len(mesh.places), here)
        if joints.max() >= len(skin.joints):
            raise self.content.problem(f"{here}.attributes",
                                       f"there is no joint {int(joints.max())} of the "
                                       f"{len(skin.joints)} of skin {number}")
        if skin.inverse_bind_matrices is None:
            binds = np.tile(np.eye(4), (len(skin.joints), 1, 1))
        else:
            at = f"skins[{number}].inverseBindMatrices"
            binds = self.accessors.floats(skin.inverse_bind_matrices, at, "MAT4")
            if len(binds) < len(skin.joints):
                raise self.content.problem(at, f"expected {len(skin.joints)} matrices, found "
                                               f"{len(binds)}")
        bones = tuple([self.bones.of_node[joint] for joint in skin.joints])
        return mesh._replace(bone=-1, bones=bones, joints=joints, weights=weights,
                             binds=binds[:len(bones)])

    def _joints(self, primitive: Primitive, count: int, here: str) -> tuple[Indices, Floats]:
        """All sets of four joints a vertex, and weights that sum to one."""
        joints: list[Indices] = []
        weights: list[Floats] = []
        while f"JOINTS_{len(joints)}" in primitive.attributes or not joints:
            names = f"JOINTS_{len(joints)}", f"WEIGHTS_{len(joints)}"
            places = [f"{here}.attributes.{name}" for name in names]
            joints.append(self.accessors.indices(
                self._attribute(primitive, names[0], here), places[0], "VEC4"))
            weights.append(self.accessors.floats(
                self._attribute(primitive, names[1], here), places[1], "VEC4"))
            if len(joints[-1]) != count or len(weights[-1]) != count:
                raise self.content.problem(places[0], f"expected one for each of {count} vertices")
        each, shares = np.concatenate(joints, 1), np.concatenate(weights, 1)
        if (shares < 0).any():
            raise self.content.problem(f"{here}.attributes.WEIGHTS_0", "a weight is negative")
        sums = shares.sum(1)
        shares[sums <= 0, 0] = 1.0
        sums[sums <= 0] = 1.0
        return each, shares / sums[:, None]

    # How it looks ---------------------------------------------------------------------------------

    def _surface(
        self, primitive: Primitive, count: int, name: str, here: str
    ) -> tuple[Color, Texture | None, Floats | None]:
        """Its base colour, texture, and where in that each vertex is."""
        if primitive.material is None:
            return WHITE, None, None
        if primitive.material >= len(self.document.materials):
            raise self.content.problem(f"{here}.material",
                                       f"there is no material {primitive.material}")
        material = self.document.materials[primitive.material]
        base = material.pbr_metallic_roughness
        if base.metallic_roughness_texture or material.normal_texture or (
            material.occlusion_texture or material.emissive_texture
        ):
            self.left_out.append(f"all but the base colour of the material of {name}")
        red, green, blue, alpha = [min(1.0, max(0.0, value)) for value in base.base_color_factor]
        color = (red, green, blue, alpha)
        if base.base_color_texture is None:
            return color, None, None
        use = base.base_color_texture
        texture, over = self._texture(use.index, here), primitive.attributes.get(
            f"TEXCOORD_{use.tex_coord}")
        if texture is None or over is None:
            return color, None, None
        at = self.accessors.floats(over, f"{here}.attributes.TEXCOORD_{use.tex_coord}", "VEC2")
        if len(at) != count:
            raise self.content.problem(f"{here}.attributes",
                                       f"expected a place in the texture for each of {count} "
                                       "vertices")
        return color, texture, at

    def _texture(self, index: int, here: str) -> Texture | None:
        if index in self._textures:
            return self._textures[index]
        if index >= len(self.document.textures):
            raise self.content.problem(f"{here}.material", f"there is no texture {index}")
        source = self.document.textures[index].source
        found: Texture | None = None
        if source is None:
            self.left_out.append(f"texture {index}: its picture needs an extension")
        elif source >= len(self.document.images):
            raise self.content.problem(f"textures[{index}].source", f"there is no image {source}")
        else:
            image, at = self.document.images[source], f"images[{source}]"
            if image.buffer_view is not None:
                content = bytes(self.content.view(image.buffer_view, f"{at}.bufferView"))
            elif image.uri is not None:
                content = self.content.at_uri(image.uri, f"{at}.uri")
            else:
                raise self.content.problem(at, "expected a uri or a bufferView")
            found = Texture(content, image.mime_type)
        self._textures[index] = found
        return found
