"""Which bones of rigs that strangers made are ours, by sides and kinds; and their poses on ours."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation

from tests.bone_files import LEG
from tests.core.test_bone_files import BoneFiles
from tests.helpers import Case
from yarn_puppet.core.model.bones import BoneArt, BoneClip, Channel, Skeleton
from yarn_puppet.core.model.edits.motions import FileClip, bone_file_added
from yarn_puppet.core.model.motions import BonePlace, BoneSetting
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.pose.bones.clip_poses import ClipPoses
from yarn_puppet.core.pose.bones.in_hand import anchor_matrix
from yarn_puppet.core.pose.bones.matching import matched
from yarn_puppet.core.pose.bones.recognising import unlike, up_at_rest
from yarn_puppet.core.pose.bones.sampling import rest_pose
from yarn_puppet.core.pose.bones.set_right import set_right
from yarn_puppet.core.pose.bones.taking_over import TakingOver, below_rest, roots_at_first
from yarn_puppet.core.pose.bones.world_pose import in_world
from yarn_puppet.core.snags.check import check
from yarn_puppet.core.takes.bones_read import with_bones

Tree = Sequence[tuple[str, str]]
"""Each bone and what it hangs on."""


def skeleton(tree: Tree, places: dict[str, tuple[float, float, float]] | None = None) -> Skeleton:
    names = tuple([name for name, _ in tree])
    count = len(names)
    still = np.tile(np.array((0.0, 0.0, 0.0, 1.0)), (count, 1))
    return Skeleton(
        names, tuple([names.index(parent) if parent else -1 for _, parent in tree]),
        np.array([(places or {}).get(name, (0.0, 0.1, 0.0)) for name in names]), still,
        np.ones((count, 3)), np.tile(np.eye(4), (count, 1, 1)), still.copy(), {})


def body(words: str, sides: Sequence[str] = ("L", "R")) -> Tree:
    """A body of names that hang in one order: hips, spine, neck, head, then of each side collar,
    upper arm, forearm, hand, thigh, shin, foot, toes. `@` is the side; a - is not there."""
    hips, spines, neck, head, *limbs = words.split()
    tree, above = [(hips, "")], hips
    for spine in spines.split(","):
        tree.append((spine, above))
        above = spine
    for name in (neck, head):
        if name != "-":
            tree.append((name, tree[-1][0]))
    for side in sides:
        for chain, top in ((limbs[:4], above), (limbs[4:], hips)):
            last = top
            for name in chain:
                if name != "-":
                    tree.append((name.replace("@", side), last))
                    last = tree[-1][0]
    return tree


OURS = body("hips spine,chest neck head collar.@ upper_arm.@ forearm.@ hand.@ "
            "thigh.@ shin.@ foot.@ toes.@", ("L", "R"))
BODIES: dict[str, Tree] = {
    "sides before, up and fore": body(
        "Hips Spine,Spine1,Spine2 Neck Head @Shoulder @Arm @ForeArm @Hand "
        "@UpLeg @Leg @Foot @ToeBase", ("Left", "Right")),
    "joints": body("Hips Chest,Chest2 Neck Head @Collar @Shoulder @Elbow @Wrist "
                   "@Hip @Knee @Ankle @Toe", ("Left", "Right")),
    "joints without collars": body("pelvis torso neck head - @_shoulder @_elbow @_wrist "
                                   "@_hip @_knee @_ankle -", ("l", "r")),
    "small letters after": body("pelvis spine_01,spine_02,spine_03 neck_01 head clavicle_@ "
                                "upperarm_@ lowerarm_@ hand_@ thigh_@ calf_@ foot_@ ball_@",
                                ("l", "r")),
    "letters before": body("Root_Hips Spine,Chest Neck Head @_Shoulder @_UpperArm @_LowerArm "
                           "@_Hand @_UpLeg @_LowLeg @_Foot @_Toe", ("L", "R")),
    "one small letter before": body("hip abdomen,chest neck head @Collar @Shldr @ForeArm @Hand "
                                    "@Thigh @Shin @Foot @Toe", ("l", "r")),
    "a rig's name before": body("rig01_Pelvis rig01_Spine,rig01_Spine1 rig01_Neck rig01_Head "
                                "rig01_@_Clavicle rig01_@_UpperArm rig01_@_Forearm rig01_@_Hand "
                                "rig01_@_Thigh rig01_@_Calf rig01_@_Foot rig01_@_Toe0",
                                ("L", "R")),
    "sides at the end": body("Torso Back,Ribs Neck Head ClavicleLeft ArmLeft ElbowLeft WristLeft "
                             "LegLeft KneeLeft AnkleLeft ToesLeft", ("",)),
}
CALLED = ("collar", "upper_arm", "forearm", "hand", "thigh", "shin", "foot", "toes")


class Kinds(Case):
    def test_limbs_of_other_rigs_are_ours_in_their_order(self) -> None:
        ours = skeleton(OURS)
        for name, tree in BODIES.items():
            with self.subTest(name):
                theirs = skeleton(tree)
                match = matched(theirs, ours)
                found = {theirs.names[their]: ours.names[our] for their, our in match.ours.items()}
                # What hangs where in the list of our body hangs there in theirs.
                limbs = [each for each, _ in tree if found.get(each, "").endswith((".L", ".R"))]
                wanted = [own for own, _ in OURS if own.endswith((".L", ".R"))]
                if name == "joints without collars":
                    wanted = [each for each in wanted if not each.startswith(("collar", "toes"))]
                if name == "sides at the end":
                    wanted = [each for each in wanted if each.endswith(".L")]
                self.assertEqual([found[each] for each in limbs], wanted)
                self.assertEqual(found[tree[0][0]], "hips")
                middle = {"spine", "chest", "neck", "head"} & {*found.values()}
                self.assertEqual(len(middle), 4 - (name == "joints without collars"))

    def test_more_of_a_chain_is_shared_out_and_what_only_helps_is_none(self) -> None:
        theirs = skeleton([*body("h spine1,spine2,spine3,spine4,spine5 neck head "
                                 "- - - - - - - -"), ("LeftForeArmTwist", "h"), ("cape", "h")])
        ours = skeleton([*body("hips spine1,middle,top neck head - - - - - - - -"),
                         ("chest a", "hips"), ("chest b", "hips")])
        match = matched(theirs, ours)
        self.assertEqual(match.lost[-2:], ("LeftForeArmTwist", "cape"))
        fingers = [("hand.L", "")] + [(f"thumb.{number}.L", "hand.L") for number in (1, 2, 3)]
        other = [("LeftHand", "")] + [(f"LeftHandThumb{number}", "LeftHand")
                                      for number in (1, 2, 3)]
        self.assertEqual(matched(skeleton(other), skeleton(fingers)).ours,
                         {0: 0, 1: 1, 2: 2, 3: 3})

    def test_what_a_hand_has_left_out_stays_out(self) -> None:
        theirs, ours = skeleton(BODIES["joints"]), skeleton(OURS)
        self.assertIn("LeftElbow", matched(theirs, ours, {"LeftElbow": None}).lost)


HIPS = {"root": (0.0, 0.0, 0.0), "hips": (0.0, 1.0, 0.0), "leg": (0.0, -0.5, 0.0),
        "foot": (0.0, -0.5, 0.0), "arm": (0.2, 0.4, 0.0), "hand": (0.5, 0.0, 0.0)}
RIG: Tree = (("root", ""), ("hips", "root"), ("leg", "hips"), ("foot", "leg"), ("arm", "hips"),
             ("hand", "arm"))
ALL = {bone: bone for bone in range(len(RIG))}


class OnOurs(Case):
    def test_a_squat_of_the_hips_under_a_root_is_kept_and_scaled(self) -> None:
        theirs = skeleton(RIG, HIPS)
        pose = rest_pose(theirs)
        pose.places[0, 1, 1] = 0.6
        for times in (1.0, 2.0):
            ours = skeleton(RIG, {name: tuple(times * np.array(at)) for name, at in HIPS.items()})
            found = TakingOver(theirs, ours, ALL).on_ours(pose)
            self.assertAlmostEqual(in_world(ours, found).places[0, 3, 1], -0.4 * times)

    @given(st.integers(0, 1 << 30))
    def test_on_the_same_rig_places_and_sizes_are_the_very_same(self, seed: int) -> None:
        numbers = np.random.default_rng(seed)
        bones = skeleton(RIG, HIPS)
        pose = rest_pose(bones, 3)
        pose.places[:] += numbers.normal(size=pose.places.shape)
        pose.sizes[:] *= numbers.uniform(0.5, 2, size=(3, len(RIG), 1))
        turned = Rotation.from_rotvec(numbers.normal(size=(3 * len(RIG), 3))).as_quat()
        pose.turns[:] = turned.reshape(pose.turns.shape)
        found = TakingOver(bones, bones, ALL).on_ours(pose)
        gap = in_world(bones, pose).matrices - in_world(bones, found).matrices
        self.assertLess(np.abs(gap).max(), 1e-9)

    def test_a_root_at_zero_does_not_float(self) -> None:
        body = [pair for pair in RIG[1:] if pair[0] != "hips"]
        tree: Tree = [("hips", ""), *body]
        ours, theirs = skeleton(tree, HIPS), skeleton(tree, {**HIPS, "hips": (0.0, 0.0, 0.0)})
        for begins, stands in ((0.95, 0.95), (0.05, 1.05), (-0.1, 0.9)):
            clip = BoneClip("walk", 0.0, (Channel(0, "place", "LINEAR", np.zeros(1),
                                                  np.array([[0.0, begins, 0.0]])),))
            art = BoneArt(theirs, (clip,), (), ())
            pose = rest_pose(theirs)
            pose.places[0, 0, 1] = begins
            low = below_rest(theirs, roots_at_first(art))
            found = TakingOver(theirs, ours, {bone: bone for bone in range(5)}, low).on_ours(pose)
            self.assertAlmostEqual(in_world(ours, found).places[0, 0, 1], stands)

    @given(st.integers(0, 1 << 30))
    def test_limbs_point_as_theirs_however_both_rest(self, seed: int) -> None:
        numbers = np.random.default_rng(seed)
        theirs, ours = (skeleton(RIG, {name: tuple(numbers.normal(size=3)) for name in HIPS})
                        for _ in range(2))
        pose = rest_pose(theirs)
        pose.turns[0] = Rotation.from_rotvec(numbers.normal(size=(len(RIG), 3))).as_quat()
        found = in_world(ours, TakingOver(theirs, ours, ALL, limbs=True).on_ours(pose)).places[0]
        wanted = in_world(theirs, pose).places[0]
        for bone, end in ((2, 3), (4, 5)):
            one, other = (places[end] - places[bone] for places in (found, wanted))
            self.assertAlmostEqual(float(one @ other) / np.linalg.norm(one) / np.linalg.norm(other),
                                   1.0)

    def test_a_setting_makes_it_larger_and_upright(self) -> None:
        lying = skeleton(RIG, {name: (at[0] * 100, -at[2] * 100, at[1] * 100)
                               for name, at in HIPS.items()})
        right = set_right(BoneArt(lying, (), (), ()), BoneSetting(0.01, "z")).skeleton
        wanted = in_world(skeleton(RIG, HIPS), rest_pose(skeleton(RIG, HIPS))).places
        self.assertLess(np.abs(in_world(right, rest_pose(right)).places - wanted).max(), 1e-9)
        turned = set_right(BoneArt(lying, (), (), ()), BoneSetting(0.01, "z", 90.0)).skeleton
        hand = in_world(turned, rest_pose(turned)).places[0, 5]
        self.assertLess(np.abs(hand - (0.0, 1.4, -0.7)).max(), 1e-9)

    def test_another_axis_another_way_round_and_other_arms_are_recognised(self) -> None:
        ours = skeleton(RIG, HIPS)
        for up, turned in (("z", 0.0), ("y", 180.0), ("x", 90.0), ("z", 270.0), ("y", 0.0)):
            with self.subTest(up=up, turned=turned):
                right = BoneSetting(up=up, turned=turned)
                back = set_right(BoneArt(ours, (), (), ()), right).skeleton.bases[0, :3, :3].T
                theirs = skeleton(RIG, {name: tuple(back @ at) for name, at in HIPS.items()})
                match = matched(theirs, ours)
                art = BoneArt(theirs, (), (), ())
                found = unlike(art, BoneSetting(), ours, match)
                self.assertEqual(found, (right, {}))
                self.assertEqual(unlike(art, right, ours, match), (right, {}))
        hanging = skeleton(RIG, {**HIPS, "hand": (0.3, -0.4, 0.0)})
        found = unlike(BoneArt(hanging, (), (), ()), BoneSetting(), ours, matched(hanging, ours))
        self.assertEqual((found.setting, [*found.limbs]), (BoneSetting(), ["arm"]))
        self.assertAlmostEqual(found.limbs["arm"], 53.13, 2)

    def test_what_would_lie_flat_has_z_up(self) -> None:
        self.assertEqual(up_at_rest(BoneArt(skeleton(RIG, HIPS), (), (), ())), BoneSetting())
        lying = skeleton(RIG, {name: (at[0], -at[2], at[1]) for name, at in HIPS.items()})
        self.assertEqual(up_at_rest(BoneArt(lying, (), (), ())), BoneSetting(up="z"))


class GoingAway(BoneFiles):
    def test_a_loop_that_goes_away_or_round_is_a_snag_with_metres_and_degrees(self) -> None:
        path = self.folder / "walk.bvh"
        for row, said in (("200 90 0 0 0 0", "it goes 2.00 m away in its file"),
                          ("0 90 0 0 0 30", "it goes round by 30° in its file"),
                          ("0 90 0 0 0 0", "")):
            text = LEG[:LEG.index("Frames:")]
            path.write_text(f"{text}Frames: 2\nFrame Time: 1\n0 90 0 0 0 0 0 0 0\n{row} 0 0 0\n")
            puppet, _ = bone_file_added(Puppet(), "walk.bvh", "walk.bvh",
                                        [FileClip("walk", 1000, "loop")])
            found = [snag.why for snag in check(with_bones(puppet, self.folder))
                     if "in its file" in snag.why]
            self.assertEqual([why.partition(",")[0] for why in found], [said] * bool(said))


class OnBones(Case):
    def test_what_hangs_on_a_bone_is_turned_as_the_bone_whatever_its_size(self) -> None:
        bones = skeleton(RIG, HIPS)
        puppet, _ = bone_file_added(Puppet(), "a.glb", "a.glb", [])
        poses = ClipPoses(puppet, {puppet.bone_files[0].id: BoneArt(bones, (), (), ())})
        place, found = BonePlace("hand", (0.0, 0.1, 0.0), (0.0, 0.0, 30.0), 2.0), []
        for sizes in ((1, 1, 1), (-1, 1, 1), (1, 3, 0.5), (0, 0, 0)):
            pose = rest_pose(bones)
            pose.turns[0, 4] = Rotation.from_euler("z", 40, degrees=True).as_quat()
            pose.sizes[0, 4] = sizes
            found.append(anchor_matrix(poses, in_world(bones, pose), place))
        for each in found[1:]:
            self.assertLess(np.abs(each[:3, :3] - found[0][:3, :3]).max(), 1e-12)
