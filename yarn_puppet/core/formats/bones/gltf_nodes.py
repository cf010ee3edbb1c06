"""Which nodes of a glTF file are bones, and the skeleton they make."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from typing import TYPE_CHECKING, NamedTuple

import numpy as np
import scipy

from ...model.bones import Skeleton
from .gltf_container import GltfBytes
from .gltf_document import PARTS
from .names import each_once
from .transforms import MOST, are_usable, matrix_of, taken_apart, unit_turn

if TYPE_CHECKING:
    from ...model.bones import Floats

    Transform = tuple[Floats, Floats, Floats]

MOST_BONES = 4096
MOST_OF_BASE = 1e12
"""No number of a base is beyond this, as docs/poses.md 5 has it of matrices in the world."""
NO_TURN = (0.0, 0.0, 0.0, 1.0)


class NodeBones(NamedTuple):
    """The skeleton of a file, and the index of the bone that each node is."""

    skeleton: Skeleton
    of_node: dict[int, int]


class NodeTree:
    """The nodes of a file, each under one parent. Raises FileProblem."""

    def __init__(self, content: GltfBytes) -> None:
        self.content, self.nodes = content, content.document.nodes
        self.parents = self._parents()
        self.order = tuple(self._order())

    def _parents(self) -> list[int]:
        parents = [-1] * len(self.nodes)
        for number, node in enumerate(self.nodes):
            for child in node.children:
                if child >= len(self.nodes):
                    raise self.content.problem(f"nodes[{number}].children",
                                               f"there is no node {child}")
                if parents[child] >= 0:
                    raise self.content.problem(
                        f"nodes[{number}].children",
                        f"node {child} already stands under node {parents[child]}; expected one "
                        "parent")
                parents[child] = number
        return parents

    def _order(self) -> Iterator[int]:
        """Each after its parent, children in the order of the file."""
        waiting = [number for number, parent in enumerate(self.parents) if parent < 0][::-1]
        seen = 0
        while waiting:
            number = waiting.pop()
            seen += 1
            yield number
            waiting += reversed(self.nodes[number].children)
        if seen < len(self.nodes):
            # Every node has at most one parent, so what no root leads to goes round.
            reached = set(self._reached())
            lost = next(number for number in range(len(self.nodes)) if number not in reached)
            raise self.content.problem(f"nodes[{lost}]", "stands under itself, in a circle")

    def _reached(self) -> Iterator[int]:
        waiting = [number for number, parent in enumerate(self.parents) if parent < 0]
        while waiting:
            number = waiting.pop()
            yield number
            waiting += self.nodes[number].children

    def transform(self, number: int) -> Transform:
        """The place, turn and size of a node at rest."""
        node, here = self.nodes[number], f"nodes[{number}]"
        if node.matrix is not None:
            found = taken_apart(np.array(node.matrix, dtype=np.float64).reshape(4, 4).T)
            if found is None:
                raise self.content.problem(f"{here}.matrix",
                                           "expected a place, a turn and a size; it shears, or "
                                           "holds what is no number")
            return found
        place = np.array(node.translation or (0.0, 0.0, 0.0))
        size = np.array(node.scale or (1.0, 1.0, 1.0))
        turn = unit_turn(node.rotation or NO_TURN)
        if turn is None:
            raise self.content.problem(f"{here}.rotation",
                                       "expected a turn; a quaternion of zero is none")
        for values, name in ((place, "translation"), (size, "scale")):
            if not are_usable(values):
                raise self.content.problem(f"{here}.{name}",
                                           f"holds a number that is not within ±{MOST:g}")
        return place, turn, size

    def shown(self) -> set[int]:
        """The nodes of the scene that is shown: all, where the file has none."""
        document = self.content.document
        if not document.scenes:
            return set(range(len(self.nodes)))
        chosen = document.scene if document.scene is not None else 0
        if chosen >= len(document.scenes):
            raise self.content.problem("scene", f"there is no scene {chosen}")
        found: set[int] = set()
        waiting = list(document.scenes[chosen].nodes)
        while waiting:
            number = waiting.pop()
            if number >= len(self.nodes):
                raise self.content.problem(f"scenes[{chosen}].nodes", f"there is no node {number}")
            if number not in found:
                found.add(number)
                waiting += self.nodes[number].children
        return found


def bones_of(tree: NodeTree) -> NodeBones:
    """The bones of a file, see docs/poses.md 2."""
    chosen = _bone_nodes(tree)
    order = [number for number in tree.order if number in chosen]
    if not order:
        raise tree.content.problem("", "holds no skeleton, no clip and no mesh that a clip moves")
    if len(order) > MOST_BONES:
        raise tree.content.problem("nodes",
                                   f"expected at most {MOST_BONES} bones, found {len(order)}")
    of_node = {number: place for place, number in enumerate(order)}
    parents = tuple([of_node.get(tree.parents[number], -1) for number in order])
    rests = [tree.transform(number) for number in order]
    bases = np.tile(np.eye(4), (len(order), 1, 1))
    base_turns = np.tile(np.array(NO_TURN), (len(order), 1))
    above = _Bases(tree)
    for place, number in enumerate(order):
        if parents[place] < 0:
            bases[place], base_turns[place] = above.at(tree.parents[number])
    names = each_once(_named(tree, order, parents))
    return NodeBones(Skeleton(
        names, parents,
        np.array([place for place, _, _ in rests]), np.array([turn for _, turn, _ in rests]),
        np.array([size for _, _, size in rests]), bases, base_turns, {}), of_node)


def _named(tree: NodeTree, order: list[int], parents: tuple[int, ...]) -> list[str]:
    """Names; a bone without one is called after its parent, and which it is of those without one
    there. Numbers of nodes change with every export."""
    found, counts = list[str](), Counter[int]()
    for number, parent in zip(order, parents, strict=True):
        name = tree.nodes[number].name
        if not name:
            counts[parent] += 1
            name = f"{found[parent] if parent >= 0 else 'bone'} › {counts[parent]}"
        found.append(name)
    return found


class _Bases:
    """What stands at nodes that are no bones and above them, each worked out once: as matrices, and
    the turns of them."""

    def __init__(self, tree: NodeTree) -> None:
        self.tree = tree
        self._known: dict[int, tuple[Floats, scipy.spatial.transform.Rotation]] = {
            -1: (np.eye(4), scipy.spatial.transform.Rotation.identity())}

    def at(self, number: int) -> tuple[Floats, Floats]:
        """That of one node; of -1 for none."""
        way: list[int] = []
        while number not in self._known:
            way.append(number)
            number = self.tree.parents[number]
        made, turned = self._known[number]
        for each in reversed(way):
            place, turn, size = self.tree.transform(each)
            # Sizes of a billion, forty deep, would be infinite.
            made = np.clip(made @ matrix_of(place, turn, size), -MOST_OF_BASE, MOST_OF_BASE)
            turned = turned * scipy.spatial.transform.Rotation.from_quat(turn)
            self._known[each] = made, turned
        return made, turned.as_quat()


def _bone_nodes(tree: NodeTree) -> set[int]:
    document, shown = tree.content.document, tree.shown()
    found: set[int] = set()
    for number, skin in enumerate(document.skins):
        for joint in skin.joints:
            if joint >= len(tree.nodes):
                raise tree.content.problem(f"skins[{number}].joints", f"there is no node {joint}")
        found.update(skin.joints)
    for number, clip in enumerate(document.animations):
        for place, channel in enumerate(clip.channels):
            moved = channel.target.node
            if moved is not None and channel.target.path in PARTS:
                if moved >= len(tree.nodes):
                    raise tree.content.problem(
                        f"animations[{number}].channels[{place}].target.node",
                        f"there is no node {moved}")
                found.add(moved)
    found.update(number for number, node in enumerate(tree.nodes)
                 if number in shown and node.mesh is not None and node.skin is None)
    _add_between(tree, found)
    # From the top down, so that what stands under one that was added is looked at too.
    for number in tree.order:
        node = tree.nodes[number]
        only_worn = node.camera is not None or (node.mesh is not None and node.skin is not None)
        if tree.parents[number] in found and not only_worn and (
            "KHR_lights_punctual" not in node.extensions
        ):
            found.add(number)
    return found


def _add_between(tree: NodeTree, found: set[int]) -> None:
    """Add every node between two that are found."""
    above: set[int] = set()
    for number in tree.order:
        parent = tree.parents[number]
        if parent in found or parent in above:
            above.add(number)
    below: set[int] = set()
    for number in reversed(tree.order):
        if number in found or number in below:
            below.add(tree.parents[number])
    found |= above & below
