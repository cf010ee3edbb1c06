"""Puppets of bones: files, motions and keys in the model; what the engine makes of them."""

from __future__ import annotations

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace
from scipy.spatial.transform import Rotation, Slerp

from tests.helpers import Case, run
from yarn_puppet.core.engine.compiling.puppets import compile_puppet
from yarn_puppet.core.formats.bones.puppet_bones import bones_of
from yarn_puppet.core.formats.errors import FileProblem
from yarn_puppet.core.formats.puppet_file import load_puppet, puppet_bytes, puppet_from
from yarn_puppet.core.model.clips import Cell, Clip, Frame
from yarn_puppet.core.model.edits import motions as edits
from yarn_puppet.core.model.edits.clips import clip_changed
from yarn_puppet.core.model.events import Moment, Window
from yarn_puppet.core.model.motions import BoneFile, BoneKey, Motion, Vector
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.pose.bones.clip_poses import ClipPoses, turned_further
from yarn_puppet.core.pose.bones.lost import lost_parts, unmatched
from yarn_puppet.core.pose.bones.mirroring import mirror_name, mirrored_turns
from yarn_puppet.core.pose.bones.world_pose import in_world
from yarn_puppet.core.rules.copying import pasted
from yarn_puppet.core.rules.parcels import parcel_of
from yarn_puppet.core.takes.run import set_up
from yarn_puppet.demo import DEMO_FOLDER
from yarn_puppet.demo.make.harrow.puppet import harrow

HARROW = DEMO_FOLDER / "harrow.puppet.json"
ARTS = bones_of(load_puppet(HARROW), DEMO_FOLDER)
turns = st.tuples(*[st.floats(-170, 170)] * 3)


def named(puppet: Puppet, name: str) -> Clip:
    return next(clip for clip in puppet.clips if clip.name == name)


class Files(Case):
    def test_what_ships_is_what_the_script_makes_and_round_trips(self) -> None:
        puppet = load_puppet(HARROW)
        self.assertEqual(puppet, harrow())
        self.assertEqual(HARROW.read_bytes(), puppet_bytes(puppet))
        self.assertTrue(puppet.is_of_bones)

    def test_a_clip_is_of_frames_or_of_bones(self) -> None:
        both = Clip("both", "both", (Frame(Cell("s", 0, 0, 8, 8)),), motion=Motion("b", "walk", 10))
        with self.assertRaisesRegex(FileProblem, "either frames or a motion"):
            puppet_from(puppet_bytes(Puppet(clips=(both,))), "here")

    def test_a_key_a_line(self) -> None:
        """A diff of one key is a diff of one line."""
        self.assertEqual(HARROW.read_text().count('{"bone":"upper arm L","at":0.0,"turn":['), 1)

    def test_states_bring_their_files_of_bones_along(self) -> None:
        puppet = load_puppet(HARROW)
        parcel = parcel_of(puppet, {"crouch_state"}).puppet
        self.assertEqual([file.path for file in parcel.bone_files], ["harrow_more.glb"])
        onto = Puppet(bone_files=(BoneFile("harrow_more_glb", "another", "another.glb"),))
        found = pasted(onto, parcel, "body").puppet
        motion = named(found, "crouch").motion
        assert motion is not None
        brought = next(file for file in found.bone_files if file.id == motion.bones)
        self.assertEqual(brought.path, "harrow_more.glb")


class Playing(Case):
    def test_a_motion_lasts_as_long_as_its_clip_in_the_file_sped_up(self) -> None:
        puppet = load_puppet(HARROW)
        for name, seconds in (("idle", 2.4), ("walk", 32 / 30), ("crouch", 1.8)):
            clip = named(puppet, name)
            program = compile_puppet(puppet).clips[clip.id]
            # A second is rate × 1000 units.
            self.assertAlmostEqual(program.cycle / 60000, seconds, 4)
            twice = edits.sped(puppet, clip.id, 2.0)
            self.assertAlmostEqual(compile_puppet(twice).clips[clip.id].cycle / 60000,
                                   seconds / 2, 4)

    def test_back_and_forth_tells_the_time_of_the_clip_on_both_ways(self) -> None:
        puppet = load_puppet(HARROW)
        idle = named(puppet, "idle").id
        puppet = clip_changed(edits.trimmed(puppet, idle, 0.0, 500.0), idle, mode="back and forth")
        records = run(set_up(puppet, None), [], 70)
        times = [record.report.layers[0].clip_time for record in records]
        for tick, time in enumerate(times):
            along = tick / 60 % 1.0
            self.assertAlmostEqual(time, min(along, 1.0 - along), 5)

    def test_a_window_of_bones_opens_when_it_says(self) -> None:
        records = run(set_up(load_puppet(HARROW), None), [(10, 12, "attack")], 60)
        entered = next(record.report.tick for record in records
                       if record.report.layers[0].state == "light_strike_state")
        open_in = [record.report.tick for record in records
                   if any(each.window.id == "cut" for each in record.report.windows)]
        self.assertEqual(open_in[0] - entered, round(210 * 60 / 1000))


class Edits(Case):
    def setUp(self) -> None:
        self.puppet = load_puppet(HARROW)
        self.clip = named(self.puppet, "heavy strike").id
        for bone, at, turn in (("head", 200.0, (20.0, 0.0, 0.0)), ("head", 700.0, (0.0, 9.0, 0.0)),
                               ("hand R", 400.0, (0.0, 0.0, 30.0))):
            self.puppet = edits.bone_turned(self.puppet, self.clip, bone, at, turn)

    def events(self, puppet: Puppet) -> dict[str, float]:
        """The time in the file's clip at which each moment, key and border of a window stands."""
        clip = puppet.clip(self.clip)
        assert clip is not None and clip.motion is not None
        at: dict[str, float] = {moment.id: moment.at for moment in clip.moments}
        at |= {f"{window.id} {side}": getattr(window, side) for window in clip.windows
               for side in ("start", "end")}
        at |= {f"{key.bone} {key.turn}": key.at for key in clip.motion.bone_keys}
        return {name: clip.motion.file_time(time) for name, time in at.items()}

    @given(st.floats(0, 1200), st.floats(50, 1300), st.floats(0.1, 5))
    def test_what_stands_in_a_clip_stays_at_its_poses(
        self, start: float, length: float, speed: float
    ) -> None:
        before = self.events(self.puppet)
        made = edits.sped(edits.trimmed(self.puppet, self.clip, start, start + length),
                          self.clip, speed)
        clip = made.clip(self.clip)
        assert clip is not None and clip.motion is not None
        motion = clip.motion
        end = motion.whole if motion.end is None else motion.end
        for name, at in self.events(made).items():
            self.assertTrue(motion.start - 0.01 <= at <= end + 0.01 * speed, name)
            if motion.start + 0.01 < at < end - 0.01 * speed:
                self.assertAlmostEqual(at, before[name], delta=0.002 * max(1.0, speed))
        # Nothing inside is lost.
        inside = {name for name, at in before.items()
                  if motion.start + 0.01 < at < end - 0.01 and "start" not in name
                  and "end" not in name}
        self.assertLessEqual(inside, self.events(made).keys())
        puppet_from(puppet_bytes(made), "here")

    def test_a_file_that_grew_is_followed_where_a_clip_is_whole(self) -> None:
        file = self.puppet.bone_files[0].id
        trimmed = edits.trimmed(self.puppet, named(self.puppet, "idle").id, 100.0, 900.0)
        made = edits.followed(trimmed, file, {"idle": 3000.0, "walk": 900.0, "heavy strike": 60.0})
        self.assertEqual([named(made, name).length for name in ("idle", "walk", "heavy strike")],
                         [800.0, 900.0, 60.0])
        self.assertIs(edits.followed(made, file, {"idle": 3000.0}), made)

    def test_the_only_key_of_a_bone_holds_and_a_second_is_beside_it(self) -> None:
        clip = named(self.puppet, "idle").id
        puppet = edits.bone_turned(self.puppet, clip, "head", 0.0, (5.0, 0.0, 0.0))
        puppet = edits.bone_turned(puppet, clip, "head", 0.0, (7.0, 0.0, 0.0))
        puppet = edits.bone_turned(puppet, clip, "head", 800.0, (9.0, 0.0, 0.0))
        puppet = edits.bone_key_moved(puppet, clip, "head", 800.0, 1e9)
        motion = named(puppet, "idle").motion
        assert motion is not None
        self.assertEqual(motion.bone_keys, (BoneKey("head", 0.0, (7.0, 0.0, 0.0)),
                                            BoneKey("head", 2400.0, (9.0, 0.0, 0.0))))
        self.assertEqual(edits.bone_keys_removed(puppet, clip, "head").clips,
                         edits.bone_keys_removed(self.puppet, clip, "head").clips)

    def test_arms_over_a_state_are_one_edit_that_plays(self) -> None:
        bare = replace(self.puppet, layers=self.puppet.layers[:1],
                       states=tuple(each for each in self.puppet.states if each.layer == "body"),
                       transitions=tuple(each for each in self.puppet.transitions
                                         if not each.id.startswith(("arms", "guard"))))
        made, arms = edits.arms_over(bare, named(bare, "guard").id, ("spine 2",), "held_guard", 2)
        assert arms is not None
        self.assertEqual(compile_puppet(made).problems, ())
        records = run(set_up(made, None), [(10, 40, "guard")], 80)
        shown = [next(layer.state for layer in record.report.layers if layer.layer == arms.layer)
                 for record in records]
        self.assertEqual(shown[9:11] + shown[40:41], [arms.resting, arms.playing, arms.resting])


class Keys(Case):
    """The poses of clips with keys of ours, beside those that scipy makes."""

    def poses(self, clip: str, *keys: BoneKey) -> ClipPoses:
        puppet = load_puppet(HARROW)
        found = named(puppet, clip)
        assert found.motion is not None
        kept = tuple([replace(each, motion=replace(found.motion, bone_keys=keys))
                      if each is found else each for each in puppet.clips])
        return ClipPoses(replace(puppet, clips=kept), ARTS)

    @given(turns, turns, st.floats(0, 2.4))
    def test_a_bone_is_turned_on_top_of_the_file_and_between_keys_the_short_way(
        self, first: Vector, last: Vector, time: float
    ) -> None:
        made = self.poses("idle", BoneKey("head", 300.0, first), BoneKey("head", 1500.0, last))
        clip = named(made.puppet, "idle")
        assert clip.motion is not None
        bare = made.from_file(clip.motion, np.array([time]))
        found, head = made.at(clip, np.array([time])), made.bone("head")
        assert head is not None
        ends = Rotation.from_rotvec([first, last], degrees=True)
        share = min(1.0, max(0.0, (time - 0.3) / 1.2))
        wanted = Rotation.from_quat(bare.turns[0, head]) * Slerp([0, 1], ends)(share)
        gap = (wanted.inv() * Rotation.from_quat(found.turns[0, head])).magnitude()
        half_a_turn = (ends[0].inv() * ends[1]).magnitude() > 3.1
        self.assertTrue(gap < 1e-6 or half_a_turn)
        others = [bone for bone in range(len(made.skeleton.names)) if bone != head]
        self.assertTrue((found.turns[:, others] == bare.turns[:, others]).all())
        self.assertTrue((found.places == bare.places).all())

    @given(turns, st.integers(0, 2), st.floats(-170, 170))
    def test_turning_further_is_about_the_bones_own_axis(
        self, turn: Vector, axis: int, degrees: float
    ) -> None:
        more = np.zeros(3)
        more[axis] = degrees
        wanted = Rotation.from_rotvec(turn, degrees=True) * Rotation.from_rotvec(more, degrees=True)
        found = Rotation.from_rotvec(turned_further(turn, axis, degrees), degrees=True)
        self.assertLess((wanted.inv() * found).magnitude(), 1e-6)

    @given(st.dictionaries(st.sampled_from(
        ("upper arm L", "hand R", "thigh L", "head", "spine 2")), turns, min_size=1))
    def test_a_mirrored_pose_is_as_in_a_mirror_and_twice_is_the_same(
        self, given_turns: dict[str, Vector]
    ) -> None:
        made = self.poses("idle")
        other = mirrored_turns(made.skeleton, given_turns)
        for bone, turn in mirrored_turns(made.skeleton, other).items():
            self.assertLess(np.abs(np.array(turn) - given_turns[bone]).max(), 1e-4)

        def places(turned: dict[str, Vector]) -> dict[str, np.ndarray]:
            posed = self.poses("idle", *[BoneKey(bone, 0.0, turn)
                                         for bone, turn in turned.items()])
            rest = posed.at(None, np.zeros(1))
            local = rest.turns.copy()
            for bone, turn in turned.items():
                number = posed.bone(bone)
                assert number is not None
                local[0, number] = (Rotation.from_quat(local[0, number])
                                    * Rotation.from_rotvec(turn, degrees=True)).as_quat()
            world = in_world(posed.skeleton, rest._replace(turns=local))
            return dict(zip(posed.skeleton.names, world.places[0], strict=True))

        names = set(made.skeleton.names)
        here, there = places(given_turns), places(other)
        for bone, place in here.items():
            if bone.startswith("scarf"):
                # It lies over one shoulder at rest.
                continue
            seen = there[mirror_name(bone, names)] * (-1, 1, 1)
            self.assertLess(np.abs(place - seen).max(), 1e-5, bone)

    def test_sides_are_known_by_names_of_many_makes(self) -> None:
        for one, other in (("hand.L", "hand.R"), ("L_hand", "R_hand"), ("LeftArm", "RightArm"),
                           ("arm_left", "arm_right"), ("upper arm L", "upper arm R"),
                           ("l hand", "r hand")):
            self.assertEqual((mirror_name(one, {one, other}), mirror_name(other, {one, other})),
                             (other, one))
        self.assertEqual(mirror_name("pelvis", {"pelvis", "pervis"}), "pelvis")


class Gone(Case):
    def test_what_a_file_lacks_is_listed(self) -> None:
        puppet = load_puppet(HARROW)
        puppet = edits.bone_turned(puppet, named(puppet, "idle").id, "tail", 0.0, (1.0, 0.0, 0.0))
        clip = named(puppet, "hurt")
        assert clip.motion is not None
        puppet = clip_changed(puppet, clip.id, motion=replace(clip.motion, clip="ouch"))
        puppet = replace(puppet, layers=(*puppet.layers[:1],
                                         replace(puppet.layers[1], mask=("wing",))))
        words = [lost.words for lost in lost_parts(ClipPoses(puppet, ARTS))]
        self.assertEqual(words, [
            "idle: there is no bone “tail” for its keys",
            "hurt: harrow_more.glb has no clip “ouch”",
            "layer arms: there is no bone “wing” for its mask"])

    def test_bones_of_another_file_that_are_none_of_ours_are_listed_until_settled(self) -> None:
        puppet = load_puppet(HARROW)
        self.assertEqual(unmatched(ClipPoses(puppet, ARTS)), {})
        more = puppet.bone_files[1].id
        art = ARTS[more]
        names = tuple(["warden:beak" if name == "warden:head" else name
                       for name in art.skeleton.names])
        arts = ARTS | {more: art._replace(skeleton=art.skeleton._replace(names=names))}
        self.assertEqual(unmatched(ClipPoses(puppet, arts)), {more: ("warden:beak",)})
        by_hand = edits.paired(puppet, more, "warden:beak", "head")
        poses = ClipPoses(by_hand, arts)
        self.assertEqual(unmatched(poses), {})
        crouch = named(puppet, "crouch")
        self.assertLess(np.abs(poses.at(crouch, np.array([0.7])).turns
                               - ClipPoses(puppet, ARTS).at(crouch, np.array([0.7])).turns).max(),
                        1e-9)
        self.assertEqual(unmatched(ClipPoses(edits.paired(puppet, more, "warden:beak", None),
                                             arts)), {})

    def test_a_clip_without_its_file_shows_the_rest_pose(self) -> None:
        puppet = load_puppet(HARROW)
        first = puppet.bone_files[0].id
        poses = ClipPoses(puppet, {first: ARTS[first]})
        crouch = poses.at(named(puppet, "crouch"), np.array([0.5]))
        self.assertTrue((crouch.turns[0] == poses.skeleton.turns).all())


class Lanes(Case):
    def test_moments_and_windows_of_the_demo_lie_within_their_clips(self) -> None:
        for clip in load_puppet(HARROW).clips:
            for event in clip.events:
                last = event.at if isinstance(event, Moment) else event.end
                self.assertLessEqual(last, clip.length, clip.name)
                self.assertIsInstance(event, Moment | Window)
