"""Clips of one skeleton on another."""

from __future__ import annotations

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation

from tests.helpers import Case
from yarn_puppet.core.formats.bones.reading import load_bones
from yarn_puppet.core.model.bones import Skeleton
from yarn_puppet.core.pose.bones.matching import by_names, matched
from yarn_puppet.core.pose.bones.sampling import ClipSampler, LocalPose, rest_pose
from yarn_puppet.core.pose.bones.taking_over import TakingOver
from yarn_puppet.core.pose.bones.world_pose import in_world
from yarn_puppet.demo import DEMO_FOLDER
from yarn_puppet.demo.make.harrow.frame import NAMES, skeleton
from yarn_puppet.demo.make.harrow.moves import MORE, clip


def random_skeleton(numbers: np.random.Generator, parents: tuple[int, ...]) -> Skeleton:
    count = len(parents)
    base = np.eye(4)
    base[:3, :3] = Rotation.random(random_state=int(numbers.integers(1 << 30))).as_matrix()
    bases = np.tile(np.eye(4), (count, 1, 1))
    turns = np.tile(np.array((0.0, 0.0, 0.0, 1.0)), (count, 1))
    for bone in range(count):
        if parents[bone] < 0:
            bases[bone], turns[bone] = base, Rotation.from_matrix(base[:3, :3]).as_quat()
    return Skeleton(
        tuple([f"b{number}" for number in range(count)]), parents, numbers.normal(size=(count, 3)),
        Rotation.from_rotvec(numbers.normal(size=(count, 3))).as_quat(), np.ones((count, 3)), bases,
        turns, {})


def random_pose(numbers: np.random.Generator, skeleton: Skeleton, times: int = 2) -> LocalPose:
    rest = rest_pose(skeleton, times)
    turned = Rotation.from_rotvec(numbers.normal(size=(times * len(skeleton.names), 3))).as_quat()
    return rest._replace(turns=turned.reshape(rest.turns.shape))


class Names(Case):
    def test_prefixes_casing_and_signs_are_forgiven(self) -> None:
        found = by_names(
            ["rig:Hips", "rig:upper_arm.L", "rig:UPPER ARM R", "rig:Tail", "rig:left"],
            ["hips", "upper arm L", "upper arm R", "head", "left"])
        self.assertEqual(found.ours, {0: 0, 1: 1, 2: 2, 4: 4})
        self.assertEqual(found.lost, ("rig:Tail",))
        self.assertEqual(found.prefix, "rig:")

    def test_what_could_be_two_is_none_and_none_is_taken_twice(self) -> None:
        self.assertEqual(by_names(["HAND"], ["hand", "Hand"]).ours, {})
        found = by_names(["hand", "Hand"], ["hand"])
        self.assertEqual((found.ours, found.lost), ({0: 0}, ("Hand",)))

    def test_letters_of_any_script_tell_names_apart(self) -> None:
        self.assertEqual(by_names(["頭 L", "ΧΈΡΙ_L", "рука.R"], ["手 L", "χέρι L", "Рука R"]).ours,
                         {1: 1, 2: 2})

    def test_what_was_mapped_by_hand_goes_first(self) -> None:
        found = by_names(["a", "b"], ["a", "b"], {"a": "b"})
        self.assertEqual(found.ours, {0: 1})
        self.assertEqual(by_names(["tail"], ["cape"], {"tail": "cape"}).ours, {0: 0})
        self.assertEqual(by_names(["a"], ["a"], {"a": "gone"}).ours, {0: 0})
        self.assertEqual(by_names(["b", "a"], ["b"], {"a": "b"}).ours, {1: 0})
        self.assertEqual(by_names(["Hand", "hand"], ["hand"]).ours, {1: 0})

    def test_a_prefix_that_ours_have_too_is_part_of_the_name(self) -> None:
        found = by_names(["rig_hip", "rig_knee"], ["rig_hip", "rig_knee"])
        self.assertEqual((found.ours, found.prefix), ({0: 0, 1: 1}, ""))

    def test_all_bones_of_harrows_other_file_are_his(self) -> None:
        body, more = (load_bones(DEMO_FOLDER / f"{name}.glb") for name in ("harrow", "harrow_more"))
        found = matched(more.skeleton, body.skeleton)
        self.assertEqual((len(found.ours), found.lost, found.prefix), (34, (), "warden:"))
        for file_clip, (name, move) in zip(more.clips, MORE.items(), strict=True):
            own = clip(name, *move)
            times = np.linspace(0, own.seconds, 5)
            taken = TakingOver(more.skeleton, body.skeleton, found.ours).on_ours(
                ClipSampler(more.skeleton, file_clip).at(times))
            drawn = skeleton()
            wanted = in_world(drawn, ClipSampler(drawn, own).at(times)).matrices
            # The file has them from the hips down, one limb after the other.
            order = [NAMES.index(bone) for bone in body.skeleton.names]
            gap = np.abs(in_world(body.skeleton, taken).matrices - wanted[:, order])
            self.assertLess(gap.max(), 1e-5, name)


class Poses(Case):
    @given(st.integers(0, 1 << 30))
    def test_on_the_very_same_skeleton_it_is_the_very_same_pose(self, seed: int) -> None:
        numbers = np.random.default_rng(seed)
        bones = random_skeleton(numbers, (-1, 0, 1, 1, 0))
        pose = random_pose(numbers, bones)
        pose.places[:, 0] += numbers.normal(size=(2, 3))
        found = TakingOver(bones, bones, {bone: bone for bone in range(5)}).on_ours(pose)
        one, other = (in_world(bones, each) for each in (pose, found))
        self.assertLess(np.abs(one.matrices - other.matrices).max(), 1e-9)

    @given(st.integers(0, 1 << 30), st.floats(0.3, 4))
    def test_each_bone_turns_in_the_world_as_theirs_and_keeps_its_length(
        self, seed: int, times: float
    ) -> None:
        numbers = np.random.default_rng(seed)
        parents = (-1, 0, 1, 1, 0)
        theirs, ours = (random_skeleton(numbers, parents) for _ in range(2))
        pose = random_pose(numbers, theirs)
        bones = {0: 0, 1: 1, 3: 3, 4: 4}
        found = TakingOver(theirs, ours, bones).on_ours(pose)
        world, rest = in_world(theirs, pose), in_world(theirs, rest_pose(theirs))
        got, own = in_world(ours, found), in_world(ours, rest_pose(ours))
        for their, our in bones.items():
            wanted = (Rotation.from_quat(world.turns[:, their])
                      * Rotation.from_quat(rest.turns[0, their]).inv())
            gone = (Rotation.from_quat(got.turns[:, our])
                    * Rotation.from_quat(own.turns[0, our]).inv())
            self.assertLess((wanted.inv() * gone).magnitude().max(), 1e-6)
        self.assertTrue((found.places[:, 1:] == ours.places[1:]).all())
        self.assertTrue((found.turns[:, 2] == ours.turns[2]).all(), "one that is not matched rests")

    @given(st.integers(0, 1 << 30), st.floats(0.2, 5))
    def test_the_root_moves_by_the_ratio_of_heights(self, seed: int, times: float) -> None:
        numbers = np.random.default_rng(seed)
        theirs = random_skeleton(numbers, (-1, 0))
        ours = theirs._replace(bases=theirs.bases * [[[times]] * 3 + [[1.0]]])
        pose = rest_pose(theirs)
        pose.places[0, 0] += numbers.normal(size=3)
        moved = (in_world(theirs, pose).places - in_world(theirs, rest_pose(theirs)).places)[0, 0]
        found = TakingOver(theirs, ours, {0: 0, 1: 1}).on_ours(pose)
        gone = (in_world(ours, found).places - in_world(ours, rest_pose(ours)).places)[0, 0]
        if abs(in_world(theirs, rest_pose(theirs)).places[0, 0, 1]) > 0.01:
            self.assertLess(np.abs(gone - times * moved).max(), 1e-6)
