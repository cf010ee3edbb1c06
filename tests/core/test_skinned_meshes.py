"""All meshes of a file at once stand where each by itself does; textures are read within bounds."""

from __future__ import annotations

import io

import numpy as np
from hypothesis import given
from hypothesis import strategies as some
from PIL import Image

from tests import bombs
from tests.helpers import Case
from yarn_puppet.core.formats.bones.reading import load_bones
from yarn_puppet.core.formats.bones.textures import colors_of, textures_of
from yarn_puppet.core.model.bones import Mesh, Texture
from yarn_puppet.core.pose.bones.sampling import ClipSampler
from yarn_puppet.core.pose.bones.skinned_meshes import SkinnedMeshes
from yarn_puppet.core.pose.bones.world_pose import in_world, skinned
from yarn_puppet.demo import DEMO_FOLDER

ART = load_bones(DEMO_FOLDER / "harrow.glb")
PROP = load_bones(DEMO_FOLDER / "harrow_shield.glb")


def rigid(bone: int) -> Mesh:
    """A mesh that hangs on a bone, or on nothing."""
    places = np.random.default_rng(bone + 2).normal(size=(7, 3))
    return Mesh("rigid", places, np.array([[0, 1, 2], [3, 4, 5]]), (1.0, 0.5, 0.25, 1.0), None,
                None, bone, (), None, None, None)


class Skins(Case):
    @given(some.lists(some.one_of(some.sampled_from(ART.meshes),
                                  some.integers(-1, 33).map(rigid)), max_size=5),
           some.sampled_from(ART.clips), some.floats(0, 1))
    def test_it_is_what_each_mesh_is(
        self, meshes: list[Mesh], clip: object, share: float
    ) -> None:
        pose = in_world(ART.skeleton, ClipSampler(ART.skeleton, clip).at(
            np.array([0.0, share * clip.seconds])))
        skin = SkinnedMeshes(meshes)
        for time in range(2):
            apart = [skinned(mesh, pose, time) for mesh in meshes]
            self.assertLess(np.abs(skin.placed(pose, time) - np.concatenate(
                [np.zeros((0, 3)), *apart])).max(initial=0.0), 1e-12)

    def test_its_triangles_are_those_of_its_meshes(self) -> None:
        skin = SkinnedMeshes(ART.meshes)
        every = np.concatenate([mesh.places for mesh in ART.meshes])
        for part, mesh in zip(skin.parts, ART.meshes, strict=True):
            self.assertArray(every[skin.triangles[part.first:part.last]],
                             mesh.places[mesh.triangles])

    def test_the_shares_of_all_bones_are_the_whole(self) -> None:
        skin = SkinnedMeshes(ART.meshes)
        whole = sum(skin.share_of(bone) for bone in range(len(ART.skeleton.names)))
        self.assertLess(np.abs(whole - 1).max(), 1e-6)
        self.assertEqual(SkinnedMeshes((rigid(4),)).share_of(4).tolist(), [1.0] * 7)
        self.assertEqual(SkinnedMeshes((rigid(4),)).share_of(5).tolist(), [0.0] * 7)

    def assertArray(self, one: np.ndarray, other: np.ndarray) -> None:
        self.assertTrue(np.array_equal(one, other))


class Textures(Case):
    def worn(self, content: bytes) -> tuple[object, ...]:
        return textures_of(ART._replace(meshes=(
            rigid(0)._replace(texture=Texture(content, "image/png")),)))

    def test_the_colour_of_a_limb_is_that_of_the_cloth_times_its_own(self) -> None:
        cloth = io.BytesIO()
        Image.new("RGB", (4, 4), (255, 102, 51)).save(cloth, "PNG")
        art = ART._replace(meshes=(rigid(0)._replace(texture=Texture(cloth.getvalue(), "")),
                                   rigid(1)))
        (color, bare) = colors_of(art, textures_of(art))
        for one, other in zip(color, (1.0, 0.2, 0.05), strict=True):
            self.assertAlmostEqual(one, other)
        self.assertEqual(bare, (1.0, 0.5, 0.25))

    def test_meshes_that_wear_one_picture_share_it(self) -> None:
        found = textures_of(ART)
        self.assertEqual(len({id(page) for page in found}), 1)
        self.assertGreater(found[0].width, 1)

    def test_what_cannot_be_read_within_bounds_is_left_out(self) -> None:
        huge = bombs.png(30_000, 30_000, kind=0, depth=1)
        self.assertLess(len(huge), 200_000)
        for content in (huge, b"\x89PNG", b"", b"GIF89a", b"\xff\xd8\xff"):
            self.assertEqual(self.worn(content), (None,))
