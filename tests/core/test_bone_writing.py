"""What is written as glTF: read again it is the same, and the validator has nothing against it."""

from __future__ import annotations

import tempfile
import unittest
from pathlib import Path
from typing import Any

import numpy as np
from hypothesis import given, settings
from PIL import Image

from tests import khronos
from tests.bone_files import GltfBuilder, arm
from tests.core.test_bone_poses import built, figures, read
from tests.depth import examples
from tests.helpers import Case
from yarn_puppet.core.formats.bones.gltf_writing import glb_of, save_gltf
from yarn_puppet.core.formats.bones.reading import load_bones
from yarn_puppet.core.model.bones import BoneArt, Texture
from yarn_puppet.core.pose.bones.sampling import ClipSampler, rest_pose
from yarn_puppet.core.pose.bones.world_pose import in_world, skinned
from yarn_puppet.demo import DEMO_FOLDER


def again(art: BoneArt) -> BoneArt:
    """Written, and read."""
    with tempfile.TemporaryDirectory() as folder:
        save_gltf(art, Path(folder) / "a.glb")
        return load_bones(Path(folder) / "a.glb")


class Written(Case):
    def compare(self, one: BoneArt, other: BoneArt) -> None:
        """The same bones, clips and triangles, as far as 32-bit floats tell."""
        self.assertEqual(one.skeleton.names, other.skeleton.names)
        self.assertEqual(one.skeleton.parents, other.skeleton.parents)
        self.assertEqual([clip.name for clip in one.clips], [clip.name for clip in other.clips])
        times = np.array([0.0, 0.3, 1.1, 3.0])
        for first, second in zip(one.clips, other.clips, strict=True):
            poses = [in_world(art.skeleton, ClipSampler(art.skeleton, clip).at(times))
                     for art, clip in ((one, first), (other, second))]
            most = max(1.0, float(np.abs(poses[0].matrices).max()))
            self.assertLess(np.abs(poses[0].matrices - poses[1].matrices).max() / most, 1e-4)
        for mesh, same in zip(one.meshes, other.meshes, strict=True):
            self.assertEqual(mesh.name, same.name)
            self.assertEqual(mesh.triangles.tolist(), same.triangles.tolist())
            self.assertLess(np.abs(mesh.places - same.places).max(), 1e-5)
            self.assertEqual(mesh.texture, same.texture)

    @settings(max_examples=examples(40))
    @given(figures())
    def test_random_figures_are_the_same_again(self, figure: tuple[Any, Any]) -> None:
        art = read(built(*figure))
        self.compare(art, again(art))

    def test_harrow_and_the_arm_are_the_same_again(self) -> None:
        for art in (read(arm()), load_bones(DEMO_FOLDER / "harrow.glb"),
                    load_bones(DEMO_FOLDER / "harrow_more.glb")):
            other = again(art)
            self.compare(art, other)
            for mesh, same in zip(art.meshes, other.meshes, strict=True):
                pose = in_world(art.skeleton, ClipSampler(art.skeleton, art.clips[0]).at(
                    np.array([0.4])))
                self.assertLess(np.abs(skinned(mesh, pose) - skinned(same, pose)).max(), 1e-5)

    def test_written_twice_it_is_the_very_same(self) -> None:
        once = again(read(arm()))
        self.assertEqual(glb_of(once), glb_of(again(once)))

    def test_a_base_that_shears_stays_where_it_is(self) -> None:
        made = GltfBuilder()
        made.node(name="bone", translation=[1, 2, 3])
        made.node(rotation=[0, 0, 0.3826834, 0.9238795], children=[0])
        made.node(scale=[1, 3, -2], translation=[0, 5, 0], children=[1])
        made.json["skins"] = [{"joints": [0]}]
        art = read(made)
        one, other = (in_world(each.skeleton, rest_pose(each.skeleton))
                      for each in (art, again(art)))
        self.assertLess(np.abs(one.matrices - other.matrices).max(), 1e-5)

    def test_two_meshes_of_one_bone_and_a_texture(self) -> None:
        made = GltfBuilder()
        places = made.numbers([(0, 0, 0), (1, 0, 0), (0, 1, 0)], "VEC3")
        made.node(name="part", mesh=0)
        made.json["meshes"] = [{"name": "part", "primitives": [
            {"attributes": {"POSITION": places}}, {"attributes": {"POSITION": places}}]}]
        art = read(made)
        self.assertEqual(len(art.meshes), 2)
        self.compare(art, again(art))
        with tempfile.TemporaryDirectory() as folder:
            Image.new("RGB", (2, 2), (255, 0, 0)).save(Path(folder) / "a.png")
            content = (Path(folder) / "a.png").read_bytes()
        worn = art.meshes[0]._replace(texture=Texture(content, "image/png"),
                                      over=np.array([[0.0, 0], [1, 0], [0, 1]]))
        found = again(art._replace(meshes=(worn,)))
        self.assertEqual(found.meshes[0].texture, Texture(content, "image/png"))
        assert found.meshes[0].over is not None
        self.assertEqual(found.meshes[0].over.tolist(), [[0, 0], [1, 0], [0, 1]])


@unittest.skipUnless(khronos.is_there(), "Khronos' validator is not installed")
class Valid(Case):
    def test_what_is_written_has_no_error_and_no_warning(self) -> None:
        arts: list[BoneArt] = [read(arm()), load_bones(DEMO_FOLDER / "harrow.glb"),
                               load_bones(DEMO_FOLDER / "harrow_more.glb")]

        @settings(max_examples=examples(30), database=None)
        @given(figures())
        def gather(figure: tuple[Any, Any]) -> None:
            arts.append(read(built(*figure)))

        gather()
        with tempfile.TemporaryDirectory() as folder:
            files = []
            for number, art in enumerate(arts):
                files.append(Path(folder) / f"{number}.glb")
                save_gltf(art, files[-1])
            for number, found in enumerate(khronos.complaints(*files)):
                self.assertEqual(found, [], arts[number].skeleton)

    def test_it_is_really_asked(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            made = arm()
            made.json["nodes"][0]["rotation"] = [0, 0, 0.5, 0.5]
            found = khronos.complaints(made.save(Path(folder) / "a.glb"))
        self.assertIn("ROTATION_NON_UNIT", [each["code"] for each in found[0]])
