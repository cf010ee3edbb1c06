"""Where bones are: against values worked out by hand, a simpler model, and an independent
reader."""

from __future__ import annotations

import tempfile
from pathlib import Path
from typing import Any, NamedTuple

import numpy as np
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation

from tests.bone_files import LEG, GltfBuilder, arm
from tests.depth import examples
from tests.helpers import Case
from tests.simple_bones import Moved, sampled, world
from yarn_puppet.core.formats.bones.reading import load_bones
from yarn_puppet.core.model.bones import BoneArt
from yarn_puppet.core.pose.bones.sampling import ClipSampler, rest_pose
from yarn_puppet.core.pose.bones.turns import matrices, product, slerp
from yarn_puppet.core.pose.bones.world_pose import WorldPose, in_world, skinned

CLOSE = 1e-6
"""Files have 32-bit floats of lengths near one."""


def read(made: GltfBuilder, ending: str = ".glb") -> BoneArt:
    with tempfile.TemporaryDirectory() as folder:
        return load_bones(made.save(Path(folder) / f"a{ending}"))


def posed(art: BoneArt, seconds: float, clip: int = 0) -> WorldPose:
    return in_world(art.skeleton, ClipSampler(art.skeleton, art.clips[clip]).at(
        np.array([seconds])))


numbers = st.floats(-2, 2, width=32)
lengths = st.sampled_from([0.5, 1.0, 2.0, 1.5])
turns = st.tuples(*[st.floats(-1, 1, width=32)] * 4).filter(
    lambda turn: sum(value * value for value in turn) > 0.05)


class Bone(NamedTuple):
    """A random bone."""

    parent: int
    place: tuple[float, ...]
    turn: tuple[float, ...]
    size: tuple[float, ...]
    as_matrix: bool


@st.composite
def channels(draw: Any, bones: int) -> tuple[int, str, str, list[float], list[Any]]:
    """A random channel: bone, path, interpolation, times, values."""
    path = draw(st.sampled_from(["translation", "rotation", "scale"]))
    way = draw(st.sampled_from(["STEP", "LINEAR", "CUBICSPLINE"]))
    times = sorted(draw(st.lists(st.integers(0, 64), min_size=1, max_size=5, unique=True)))
    value = turns if path == "rotation" else st.tuples(*[numbers] * 3)
    keys = draw(st.lists(st.tuples(value, value, value), min_size=len(times), max_size=len(times)))
    return draw(st.integers(0, bones - 1)), path, way, [time / 16 for time in times], keys


@st.composite
def figures(draw: Any) -> tuple[list[Bone], list[Any]]:
    """A random skeleton, with a clip."""
    count = draw(st.integers(1, 6))
    bones = [Bone(draw(st.integers(-1, number - 1)), draw(st.tuples(*[numbers] * 3)), draw(turns),
                  draw(st.tuples(*[lengths] * 3)), draw(st.booleans()))
             for number in range(count)]
    found = {(each[0], each[1]): each for each in draw(st.lists(channels(count), max_size=6))}
    return bones, list(found.values())


def built(bones: list[Bone], moved: list[Any], backwards: bool = False) -> GltfBuilder:
    """The figure as a file; its nodes from the first or from the last."""
    made = GltfBuilder()
    order = list(range(len(bones)))[::-1 if backwards else 1]
    place = {bone: number for number, bone in enumerate(order)}
    for number in order:
        bone = bones[number]
        fields: dict[str, Any] = {"name": f"b{number}"}
        children = [place[other] for other in range(len(bones)) if bones[other].parent == number]
        if children:
            fields["children"] = children
        unit = np.array(bone.turn) / np.linalg.norm(bone.turn)
        if bone.as_matrix and not any(each[0] == number for each in moved):
            matrix = np.eye(4)
            matrix[:3, :3] = Rotation.from_quat(unit).as_matrix() * np.array(bone.size)
            matrix[:3, 3] = bone.place
            fields["matrix"] = matrix.T.reshape(-1).tolist()
        else:
            fields |= {"translation": list(bone.place), "rotation": unit.tolist(),
                       "scale": list(bone.size)}
        made.node(**fields)
    # A channel that moves nothing makes every node a bone.
    for bone, path, way, times, keys in moved:
        values = [value for key in keys for value in key] if way == "CUBICSPLINE" else [
            key[1] for key in keys]
        made.channel(0, place[bone], path, times, values, way)
    for number in range(len(bones)):
        made.channel(1, place[number], "translation", [0], [bones[number].place])
    if not moved:
        made.json["animations"][0]["name"] = "nothing"
    return made


class AgainstASimplerModel(Case):
    @settings(max_examples=examples(60))
    @given(figures(), st.floats(0, 5), st.booleans())
    def test_bones_are_where_it_says(
        self, figure: tuple[list[Bone], list[Any]], at: float, backwards: bool
    ) -> None:
        bones, moved = figure
        art = read(built(bones, moved, backwards))
        parts = {"translation": 0, "rotation": 1, "scale": 2}

        def local(number: int) -> Moved:
            bone = bones[number]
            found: list[Any] = [np.array(bone.place), np.array(bone.turn), np.array(bone.size)]
            for target, path, way, times, keys in moved:
                if target == number:
                    found[parts[path]] = sampled(
                        [(time, key if way == "CUBICSPLINE" else key[1])
                         for time, key in zip(times, keys, strict=True)], way,
                        path == "rotation", at)
            return Moved(found[0], Rotation.from_quat(found[1]), found[2])

        pose = posed(art, at)
        for number, bone in enumerate(bones):
            index = art.skeleton.names.index(f"b{number}")
            parent = art.skeleton.parents[index]
            self.assertEqual(art.skeleton.names[parent] if parent >= 0 else "",
                             f"b{bone.parent}" if bone.parent >= 0 else "")
            place, turn = world([each.parent for each in bones], local, number)
            far = max(1.0, float(np.abs(place).max()))
            # A spline of turns may pass near no direction at all, where a hair turns it far.
            steep = any(each[1] == "rotation" and each[2] == "CUBICSPLINE" for each in moved)
            self.assertLess(np.abs(pose.places[0, index] - place).max() / far,
                            2e-3 if steep else 3e-5)
            angle = (turn.inv() * Rotation.from_quat(pose.turns[0, index])).magnitude()
            self.assertLess(angle, 5e-3 if steep else 1e-4)

    @settings(max_examples=examples(30))
    @given(figures())
    def test_many_times_at_once_are_each_by_itself(self, figure: tuple[list[Bone], Any]) -> None:
        art = read(built(*figure))
        sampler, times = ClipSampler(art.skeleton, art.clips[0]), np.linspace(-0.1, 4.3, 40)
        all_of_them = in_world(art.skeleton, sampler.at(times))
        for number, time in enumerate(times):
            alone = in_world(art.skeleton, sampler.at(np.array([time])))
            most = max(1.0, float(np.abs(alone.matrices).max()))
            self.assertLess(np.abs(all_of_them.matrices[number] - alone.matrices[0]).max() / most,
                            1e-9)
            self.assertLess(np.abs(all_of_them.turns[number] - alone.turns[0]).max(), 1e-9)

    @settings(max_examples=examples(40))
    @given(st.lists(st.tuples(turns, turns), min_size=1, max_size=4), st.floats(0, 1))
    def test_the_short_way_at_an_even_speed(self, pairs: list[Any], share: float) -> None:
        first, second = (np.array([pair[which] for pair in pairs]) for which in (0, 1))
        first /= np.linalg.norm(first, axis=1)[:, None]
        second /= np.linalg.norm(second, axis=1)[:, None]
        found = slerp(first, second, np.array([[share]]))
        self.assertLess(np.abs(np.linalg.norm(found, axis=1) - 1).max(), 1e-12)
        whole = (Rotation.from_quat(first).inv() * Rotation.from_quat(second)).magnitude()
        gone = (Rotation.from_quat(first).inv() * Rotation.from_quat(found)).magnitude()
        self.assertLess(np.abs(gone - share * whole).max(), 1e-6)
        ends = slerp(first, second, np.array([[1.0]]))
        self.assertLess(np.abs(np.abs(np.sum(ends * second, axis=1)) - 1).max(), 1e-15 * 8)
        self.assertTrue((slerp(first, second, np.array([[0.0]])) == first).all())

    @settings(max_examples=examples(30))
    @given(turns, turns)
    def test_products_and_matrices_of_turns(self, one: Any, other: Any) -> None:
        first, second = (np.array(each) / np.linalg.norm(each) for each in (one, other))
        self.assertLess(np.abs(matrices(product(first, second))
                               - matrices(first) @ matrices(second)).max(), 1e-12)
        self.assertLess(np.abs(matrices(first) - Rotation.from_quat(first).as_matrix()).max(),
                        1e-12)


class ByHand(Case):
    def test_an_arm_that_bends(self) -> None:
        art = read(arm())
        for seconds, hand in ((0, (0, 2, 0)), (1, (-1, 1, 0)), (2, (-1, 1, 0)),
                              (0.5, (-0.5 ** 0.5, 1 + 0.5 ** 0.5, 0))):
            places = posed(art, seconds).places[0]
            self.assertLess(np.abs(places - ((0, 0, 0), (0, 1, 0), hand)).max(), CLOSE, seconds)

    def test_cloth_on_it(self) -> None:
        art = read(arm())
        for seconds, corners in (
            (0, [(-0.5, 1, 0), (0.5, 1, 0), (0.5, 3, 0), (-0.5, 3, 0)]),
            # The lower edge turns about the elbow, the upper one with the hand.
            (1, [(0, 0.5, 0), (0, 1.5, 0), (-2, 1.5, 0), (-2, 0.5, 0)]),
        ):
            found = skinned(art.meshes[0], posed(art, seconds))
            self.assertLess(np.abs(found - corners).max(), CLOSE, seconds)

    def test_a_size_of_zero_and_a_mirrored_one(self) -> None:
        made = GltfBuilder()
        made.node(name="tip", translation=[1, 2, 3])
        made.node(name="flat", scale=[0, -1, 2], children=[0])
        made.channel(0, 1, "translation", [0], [(5, 0, 0)])
        pose = posed(read(made), 0)
        self.assertEqual(pose.places[0].tolist(), [[5, 0, 0], [5, -2, 6]])
        self.assertEqual(pose.turns[0].tolist(), [[0, 0, 0, 1]] * 2)

    def test_a_chain_of_vast_sizes_stays_finite(self) -> None:
        made = GltfBuilder()
        for number in range(60):
            made.node(scale=[1e9] * 3, translation=[1e9] * 3, children=[number + 1] * (number < 59))
        for joints in (list(range(60)), [59]):
            made.json["skins"] = [{"joints": joints}]
            art = read(made)
            pose = in_world(art.skeleton, rest_pose(art.skeleton))
            self.assertTrue(np.isfinite(pose.matrices).all())
            self.assertTrue(np.isfinite(pose.turns).all())

    def test_what_stands_above_the_bones_is_counted_in(self) -> None:
        made = GltfBuilder()
        half = 0.5 ** 0.5
        made.node(name="tip", translation=[0, 100, 0])
        made.node(name="root", translation=[0, 0, 50], children=[0])
        made.node(name="armature", scale=[0.01] * 3, rotation=[half, 0, 0, half], children=[1])
        made.node(name="scene", translation=[7, 0, 0], children=[2])
        made.json["skins"] = [{"joints": [1, 0]}]
        art = read(made)
        pose = in_world(art.skeleton, rest_pose(art.skeleton))
        # Turned about x by a right angle y goes to z, and z to minus y.
        self.assertLess(np.abs(pose.places[0] - ((7, -0.5, 0), (7, -0.5, 1))).max(), CLOSE)
        self.assertLess(np.abs(pose.turns[0] - (half, 0, 0, half)).max(), CLOSE)

    def test_a_leg_of_a_bvh_file(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "leg.bvh"
            path.write_text(LEG)
            art = load_bones(path)
        for seconds, hip, knee in (
            (0, (0, 0.9, 0), (0, 0.5, 0)),
            # Turned about z by a right angle, minus y goes to x.
            (0.5, (0.1, 0.9, 0), (0.5, 0.9, 0)),
            (0.25, (0.05, 0.9, 0), (0.05 + 0.4 * 0.5 ** 0.5, 0.9 - 0.4 * 0.5 ** 0.5, 0)),
            (1, (0.2, 0.9, 0.05), (0.2, 0.5, 0.05)),
        ):
            found = posed(art, seconds).places[0]
            self.assertLess(np.abs(found - (hip, knee)).max(), 1e-12, seconds)


AXES = {"X": (1, 0, 0), "Y": (0, 1, 0), "Z": (0, 0, 1)}
channel_lists = st.permutations("XYZ").flatmap(lambda order: st.integers(0, 3).map(
    lambda count: [f"{axis}rotation" for axis in order[:count]]))


@st.composite
def legs(draw: Any) -> tuple[list[Any], list[list[float]]]:
    """Random joints, (parent, offset, channels), and frames of numbers for their channels."""
    count = draw(st.integers(1, 5))
    whole = st.integers(-4, 4).map(float)
    joints = [(draw(st.integers(0, number - 1)) if number else -1,
               [draw(whole) for _ in range(3)],
               ["Zposition", "Xposition"] * draw(st.booleans()) + draw(channel_lists))
              for number in range(count)]
    wide = sum(len(names) for _, _, names in joints)
    frames = draw(st.lists(st.lists(st.integers(-720, 720).map(lambda value: value / 4),
                                    min_size=wide, max_size=wide), min_size=1, max_size=3))
    return joints, frames


def as_text(joints: list[Any], frames: list[list[float]]) -> tuple[str, list[int]]:
    """A BVH file of them, and the joints in the order in which it has them."""
    order: list[int] = []

    def told(number: int) -> str:
        order.append(number)
        _, offset, names = joints[number]
        inner = [told(child) for child in range(len(joints)) if joints[child][0] == number]
        return (f"{'JOINT' if number else 'ROOT'} j{number} {{\nOFFSET "
                f"{' '.join(map(str, offset))}\nCHANNELS {len(names)} {' '.join(names)}\n"
                + "".join(inner) + "}\n")

    text = f"HIERARCHY\n{told(0)}MOTION\nFrames: {len(frames)}\nFrame Time: 0.25\n"
    starts = [sum(len(names) for _, _, names in joints[:number]) for number in range(len(joints))]
    for frame in frames:
        text += " ".join(str(frame[starts[number] + place]) for number in order
                         for place in range(len(joints[number][2]))) + "\n"
    return text, order


class BvhAgainstASimplerModel(Case):
    @settings(max_examples=examples(60))
    @given(legs())
    def test_joints_are_where_it_says(self, leg: tuple[list[Any], list[list[float]]]) -> None:
        joints, frames = leg
        if not any(names for _, _, names in joints):
            return
        text, order = as_text(joints, frames)
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "leg.bvh"
            path.write_text(text)
            art = load_bones(path)
        scale = 0.01 if art.unit.startswith("centi") else 1.0
        self.assertEqual(art.skeleton.names, tuple([f"j{number}" for number in order]))
        for frame, values in enumerate(frames):
            at = 0
            local: list[Moved] = []
            for _, offset, names in joints:
                place, turn = np.array(offset), Rotation.identity()
                for name in names:
                    if name.endswith("position"):
                        place["XYZ".index(name[0])] = values[at]
                    else:
                        turn = turn * Rotation.from_rotvec(
                            np.radians(values[at]) * np.array(AXES[name[0]]))
                    at += 1
                local.append(Moved(place * scale, turn, np.ones(3)))
            pose = posed(art, frame * 0.25)
            for number in range(len(joints)):
                wanted, turned = world([parent for parent, _, _ in joints], local.__getitem__,
                                       number)
                index = order.index(number)
                self.assertLess(np.abs(pose.places[0, index] - wanted).max(), 1e-9)
                self.assertLess((turned.inv() * Rotation.from_quat(
                    pose.turns[0, index])).magnitude(), 1e-7)


class AgainstAnIndependentReader(Case):
    @settings(max_examples=examples(25))
    @given(figures())
    def test_bones_at_rest(self, figure: tuple[list[Bone], list[Any]]) -> None:
        bones, moved = figure
        made = built(bones, moved)
        made.json["scenes"] = [{"nodes": [number for number, bone in enumerate(bones)
                                          if bone.parent < 0]}]
        made.json["scene"] = 0
        # It reads no file without a mesh.
        made.json["meshes"] = [{"primitives": [{"attributes": {
            "POSITION": made.numbers([(0, 0, 0), (1, 0, 0), (0, 1, 0)], "VEC3")}}]}]
        made.json["scenes"][0]["nodes"].append(made.node(name="extra", mesh=0))
        with tempfile.TemporaryDirectory() as folder:
            path = made.save(Path(folder) / "a.glb")
            scene, art = trimesh.load_scene(path), load_bones(path)
        pose = in_world(art.skeleton, rest_pose(art.skeleton))
        for number in range(len(bones)):
            matrix, _ = scene.graph.get(f"b{number}")
            ours = pose.matrices[0, art.skeleton.names.index(f"b{number}")]
            self.assertLess(np.abs(matrix - ours).max() / max(1.0, float(np.abs(matrix).max())),
                            CLOSE)

    def test_triangles_sparse_and_normalised(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            path = arm().save(Path(folder) / "a.glb")
            mesh = trimesh.load_scene(path).geometry["cloth"]
            ours = load_bones(path).meshes[0]
        self.assertEqual(mesh.vertices.tolist(), ours.places.tolist())
        self.assertEqual(mesh.faces.tolist(), ours.triangles.tolist())
