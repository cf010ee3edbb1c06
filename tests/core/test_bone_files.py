"""Files of bones: what is read of them, and by the command line."""

from __future__ import annotations

import csv
import io
import json
import struct
import tempfile
from contextlib import redirect_stdout
from pathlib import Path

import numpy as np

from tests.bone_files import LEG, GltfBuilder, arm
from tests.helpers import Case
from yarn_puppet.cli import main
from yarn_puppet.commands.art import clip_of
from yarn_puppet.core.formats.bones.reading import load_bones
from yarn_puppet.core.formats.errors import FileProblem
from yarn_puppet.core.formats.watching import Stopped
from yarn_puppet.core.model.bones import BoneArt
from yarn_puppet.demo import DEMO_FOLDER, DEMO_PUPPET


class BoneFiles(Case):
    def setUp(self) -> None:
        held = tempfile.TemporaryDirectory()
        self.addCleanup(held.cleanup)
        self.folder = Path(held.name)

    def load(self, made: GltfBuilder, name: str = "a.glb") -> BoneArt:
        return load_bones(made.save(self.folder / name))

    def said(self, *arguments: str) -> str:
        """What a command writes."""
        output = io.StringIO()
        with redirect_stdout(output):
            self.assertEqual(main(list(arguments)), 0)
        return output.getvalue()


class Gltf(BoneFiles):
    def test_an_arm_in_all_three_ways_of_keeping_its_bytes(self) -> None:
        beside = arm()
        (self.folder / "arm data.bin").write_bytes(beside.bytes)
        (self.folder / "beside.gltf").write_bytes(beside.gltf("arm%20data.bin"))
        for art in (self.load(arm(), "arm.glb"), self.load(arm(), "arm.gltf"),
                    load_bones(self.folder / "beside.gltf")):
            self.assertEqual(art.skeleton.names, ("shoulder", "elbow", "hand"))
            self.assertEqual(art.skeleton.parents, (-1, 0, 1))
            self.assertEqual([(clip.name, clip.seconds) for clip in art.clips], [("clip0", 1.0)])
            self.assertEqual(art.left_out, ())
            mesh, = art.meshes
            self.assertEqual([art.skeleton.names[bone] for bone in mesh.bones],
                             ["elbow", "hand", "shoulder"])
            assert mesh.joints is not None and mesh.weights is not None
            self.assertEqual(mesh.joints[:, 0].tolist(), [0, 0, 1, 1])
            self.assertEqual(mesh.weights.sum(1).tolist(), [1.0] * 4)
            self.assertEqual(mesh.triangles.tolist(), [[0, 1, 2], [0, 2, 3]])

    def test_numbers_normalised_interleaved_and_sparse(self) -> None:
        made = arm()
        half = 0.5 ** 0.5
        made.json["animations"][0]["samplers"][0]["output"] = made.numbers(
            [(0, 0, 0, 32767), (0, 0, round(half * 32767), round(half * 32767))], "VEC4", 5122,
            True)
        attributes = made.json["meshes"][0]["primitives"][0]["attributes"]
        places = made.numbers([(9, 9, 9)] * 4, "VEC3", stride=20)
        made.json["accessors"][places]["sparse"] = {
            "count": 2,
            "indices": {"bufferView": made.view(struct.pack("<HH", 1, 3)), "componentType": 5123},
            "values": {"bufferView": made.view(struct.pack("<6f", 1, 2, 3, 4, 5, 6))}}
        attributes["POSITION"] = places
        attributes["WEIGHTS_0"] = made.numbers([(255, 0, 0, 0)] * 4, "VEC4", 5121, True)
        art = self.load(made)
        turn = art.clips[0].channels[0].values
        self.assertLess(np.abs(turn[1] - (0, 0, half, half)).max(), 2 / 32767)
        self.assertEqual(np.linalg.norm(turn, axis=1).round(12).tolist(), [1, 1])
        self.assertEqual(art.meshes[0].places.tolist(),
                         [[9, 9, 9], [1, 2, 3], [9, 9, 9], [4, 5, 6]])

    def test_an_accessor_without_a_view_is_zeros_and_what_is_replaced(self) -> None:
        made = arm()
        replaced = {
            "count": 1,
            "indices": {"bufferView": made.view(struct.pack("<B", 2)), "componentType": 5121},
            "values": {"bufferView": made.view(struct.pack("<3f", 1, 2, 3))}}
        made.json["accessors"].append({"componentType": 5126, "count": 4, "type": "VEC3",
                                       "sparse": replaced})
        made.json["meshes"][0]["primitives"][0]["attributes"]["POSITION"] = len(
            made.json["accessors"]) - 1
        self.assertEqual(self.load(made).meshes[0].places.tolist(),
                         [[0, 0, 0], [0, 0, 0], [1, 2, 3], [0, 0, 0]])

    def test_bones_are_joints_what_moves_and_what_stands_between_and_under(self) -> None:
        made = GltfBuilder()
        tip = made.node(name="tip", translation=[0, 0, 1])
        joint = made.node(name="joint", children=[tip])
        between = made.node(name="between", children=[joint])
        lamp = made.node(name="lamp", camera=0)
        top = made.node(name="top", children=[between, lamp])
        made.node(name="armature", scale=[0.01, 0.01, 0.01], children=[top])
        made.json["cameras"] = [{"type": "perspective"}]
        made.json["skins"] = [{"joints": [joint]}]
        made.channel(0, top, "translation", [0], [(100, 0, 0)])
        art = self.load(made)
        self.assertEqual(art.skeleton.names, ("top", "between", "joint", "tip"))
        self.assertEqual(art.skeleton.bases[0].diagonal().tolist(), [0.01, 0.01, 0.01, 1])
        self.assertEqual(art.left_out, ("1 camera",))

    def test_equal_names_get_numbers_and_none_is_called_after_its_parent(self) -> None:
        made = GltfBuilder()
        made.node(name="hand", mesh=0)
        made.node(name="hand", mesh=0)
        made.node(mesh=0)
        made.node(name="hand 2", mesh=0)
        made.json["meshes"] = [{"primitives": [{"attributes": {
            "POSITION": made.numbers([(0, 0, 0), (1, 0, 0), (0, 1, 0)], "VEC3")}}]}]
        art = self.load(made)
        self.assertEqual(art.skeleton.names, ("hand", "hand 2", "bone › 1", "hand 2 2"))
        self.assertEqual([mesh.bone for mesh in art.meshes], [0, 1, 2, 3])

    def test_a_matrix_is_taken_apart(self) -> None:
        made = GltfBuilder()
        # Columns: x goes to y three times as long, y to minus x, z stays; moved by 1, 2, 3.
        made.node(name="a", matrix=[0, 3, 0, 0, -1, 0, 0, 0, 0, 0, 1, 0, 1, 2, 3, 1])
        made.channel(0, 0, "scale", [0], [(3, 1, 1)])
        skeleton = self.load(made).skeleton
        self.assertEqual(skeleton.places[0].tolist(), [1, 2, 3])
        self.assertEqual(skeleton.sizes[0].tolist(), [3, 1, 1])
        half = 0.5 ** 0.5
        self.assertLess(np.abs(skeleton.turns[0] - (0, 0, half, half)).max(), 1e-12)

    def test_what_is_passed_over_is_listed(self) -> None:
        made = arm()
        made.json["extensionsUsed"] = ["KHR_lights_punctual", "KHR_materials_clearcoat"]
        made.json["materials"] = [{"normalTexture": {"index": 0},
                                   "pbrMetallicRoughness": {"baseColorFactor": [1, 0.5, 0, 1]}}]
        made.json["meshes"][0]["primitives"][0]["material"] = 0
        made.json["meshes"][0]["primitives"][0]["targets"] = [{}]
        made.json["meshes"][0]["primitives"].append({"mode": 1, "attributes": {"POSITION": 0}})
        made.json["animations"][0]["channels"].append(
            {"sampler": 0, "target": {"node": 3, "path": "weights"}})
        art = self.load(made)
        self.assertEqual(art.left_out, (
            "extension KHR_lights_punctual", "extension KHR_materials_clearcoat",
            "weights of clip clip0: it moves no bone", "morph targets of mesh cloth",
            "all but the base colour of the material of cloth", "points or lines of mesh cloth"))
        self.assertEqual(art.meshes[0].color, (1, 0.5, 0, 1))


class Bvh(BoneFiles):
    def test_a_leg(self) -> None:
        path = self.folder / "leg.bvh"
        path.write_text(LEG)
        art = load_bones(path)
        self.assertEqual(art.skeleton.names, ("hip", "knee"))
        self.assertEqual(art.unit, "centimetres (a guess)")
        self.assertEqual(art.skeleton.places.tolist(), [[0, 0, 0], [0, -0.4, 0]])
        self.assertEqual(art.skeleton.tips, {1: (0.0, -0.45, 0.0)})
        self.assertEqual([(clip.name, clip.seconds) for clip in art.clips], [("leg", 1.0)])
        path.write_text(LEG.replace("-40", "-0.40").replace("-45", "-0.45").replace("90 ", "0.9 "))
        self.assertEqual(load_bones(path).unit, "metres (a guess)")


class Watched(BoneFiles):
    def test_a_reader_tells_how_far_it_is_and_ends_where_it_should(self) -> None:
        (self.folder / "leg.bvh").write_text(LEG)
        for path in (DEMO_FOLDER / "harrow.glb", self.folder / "leg.bvh"):
            told: list[tuple[int, int]] = []
            load_bones(path, lambda done, whole, told=told: told.append((done, whole)))
            with self.subTest(path.name):
                done = [each for each, _ in told]
                self.assertEqual(done, sorted(set(done)))
                self.assertEqual(len({whole for _, whole in told}), 1)

                heard: list[int] = []

                def stop(done: int, whole: int, heard: list[int] = heard) -> None:
                    heard.append(done)
                    if done >= whole // 2:
                        raise Stopped

                with self.assertRaises(Stopped):
                    load_bones(path, stop)
                self.assertEqual(heard, done[:len(heard)])


class Commands(BoneFiles):
    def test_art_says_what_a_file_holds(self) -> None:
        path = arm().save(self.folder / "arm.glb")
        found = json.loads(self.said("art", str(path), "--json"))
        self.assertEqual(found, {
            "pages": [], "left_out": [], "clips": [{"name": "clip0", "seconds": 1.0}],
            "bones": [{"name": "shoulder", "parent": None},
                      {"name": "elbow", "parent": "shoulder"},
                      {"name": "hand", "parent": "elbow"}]})
        self.assertEqual(self.said("art", str(path)).splitlines(), [
            "arm.glb: 3 bones, 1 clip, 1 mesh · lengths in metres", "bones", "  shoulder",
            "    elbow", "      hand", "clips", "  clip0 · 1 s · 1 channel of 1 bone", "meshes",
            "  cloth · 4 vertices, 2 triangles · follows 3 bones"])

    def test_a_name_cannot_write_on_the_terminal(self) -> None:
        made = arm()
        made.json["nodes"][0]["name"] = "\x1b[31mhand\nelbow\x9b"
        said = self.said("art", str(made.save(self.folder / "arm.glb")))
        self.assertIn("\\x1b[31mhand\\x0aelbow\\x9b", said)
        self.assertEqual(len(said.splitlines()), 9)
        (self.folder / "leg.bvh").write_text("HIERARCHY\nROOT a\n{\n\x1b[2J")
        with self.assertRaises(FileProblem) as caught:
            load_bones(self.folder / "leg.bvh")
        self.assertNotIn("\x1b", str(caught.exception))

    def test_art_of_a_picture_is_its_pages(self) -> None:
        found = json.loads(self.said("art", str(DEMO_FOLDER / "thatch.png"), "--json"))
        self.assertEqual(len(found["pages"]), 1)
        self.assertGreater(found["pages"][0]["width"], 0)
        self.assertEqual((found["bones"], found["clips"]), ([], []))

    def test_pose_writes_a_row_a_bone(self) -> None:
        path = arm().save(self.folder / "arm.glb")
        rows = list(csv.reader(io.StringIO(self.said(
            "pose", str(path), "--clip", "clip0", "--at", "1000"), newline="")))
        self.assertEqual(rows[0], ["time_ms", "bone", "x", "y", "z", "qx", "qy", "qz", "qw"])
        half = 0.5 ** 0.5
        for row, name, place, turn in zip(
            rows[1:], ("shoulder", "elbow", "hand"), ((0, 0, 0), (0, 1, 0), (-1, 1, 0)),
            ((0, 0, 0, 1), (0, 0, half, half), (0, 0, half, half)), strict=True,
        ):
            self.assertEqual(row[:2], ["1000.0", name])
            self.assertLess(np.abs(np.array(row[2:], float) - (*place, *turn)).max(), 1e-6)
        out = self.folder / "pose.csv"
        self.said("pose", str(path), "--clip", "clip0", "--out", str(out))
        self.assertEqual(len(out.read_text().splitlines()), 4)
        self.said("pose", str(path), "--clip", "clip0", "--at", "5", "--out", str(out))

    def test_what_cannot_be_posed_is_said_and_nothing_is_written_over(self) -> None:
        path = str(arm().save(self.folder / "arm.glb"))
        other = self.folder / "other.csv"
        other.write_text("a,b\n")
        for arguments in (["pose", path, "--clip", "no"], ["pose", path, "--clip", "clip0", "--at",
                                                           "-1"],
                          ["pose", path, "--clip", "clip0", "--at", "nan"],
                          ["pose", path, "--clip", "clip0", "--out", path],
                          ["pose", path, "--clip", "clip0", "--out", str(other)],
                          ["pose", str(DEMO_PUPPET), "--clip", "idle"],
                          ["art", str(self.folder / "none.glb")],
                          ["art", str(other)]):
            with self.subTest(arguments=arguments):
                self.assertEqual(main(arguments), 2)
        self.assertEqual(other.read_text(), "a,b\n")
        self.assertEqual(Path(path).read_bytes(), arm().glb())
        with self.assertRaisesRegex(FileProblem, "expected one of clip0"):
            clip_of(Path(path), load_bones(Path(path)), "clip9")
