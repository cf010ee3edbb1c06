"""From reports to poses: blends, momentum, layers and masks, as docs/poses.md has them."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace
from scipy.spatial.transform import Rotation, Slerp

from tests.core.test_bone_puppets import ARTS, HARROW, named
from tests.helpers import Case, demo_world, run
from yarn_puppet.core.engine.state import Inputs, LayerReport, Report
from yarn_puppet.core.formats.puppet_file import load_puppet
from yarn_puppet.core.model.edits.graph import transition_changed
from yarn_puppet.core.model.graph import Blend
from yarn_puppet.core.model.motions import BoneWeight, ReferencePose
from yarn_puppet.core.model.promise import Happening, Promise
from yarn_puppet.core.model.puppet import Puppet
from yarn_puppet.core.pose.bones.baking import take_poses
from yarn_puppet.core.pose.bones.clip_poses import ClipPoses
from yarn_puppet.core.pose.bones.figure_poses import FigurePoses, PoseByPose
from yarn_puppet.core.pose.bones.in_hand import anchor_matrix, in_hand, place_from
from yarn_puppet.core.pose.bones.jumps import seam_of
from yarn_puppet.core.pose.bones.sampling import LocalPose
from yarn_puppet.core.pose.bones.world_pose import in_world
from yarn_puppet.core.takes.promising.promises import judged, promise_words
from yarn_puppet.core.takes.run import set_up

PRESSES = [(5, 60, "right"), (20, 50, "guard"), (62, 64, "attack"), (75, 120, "down"),
           (130, 160, "attack"), (133, 140, "guard")]
TICKS = 190
WORLD = demo_world()
JUMPS = Promise("jumps", Happening("always", "always"), centimetres=11.0)


def reports_of(puppet: Puppet, presses: Sequence[Any] = PRESSES, ticks: int = TICKS
               ) -> list[Report]:
    return [record.report for record in run(set_up(puppet, WORLD), presses, ticks)]


def far(one: LocalPose, other: LocalPose) -> float:
    """How far two poses are apart, any number of any bone; a turn and its negative are one."""
    return max(float(np.abs(one.places - other.places).max()),
               float(np.abs(one.sizes - other.sizes).max()),
               float(np.minimum(np.abs(one.turns - other.turns).max(axis=-1),
                                np.abs(one.turns + other.turns).max(axis=-1)).max()))


def plainly(poses: ClipPoses, report: Report) -> LocalPose:
    """The pose of a report without momentum, bone by bone with scipy: a second, simpler thought."""
    skeleton = poses.skeleton
    count = len(skeleton.names)
    places = [np.array(each) for each in skeleton.places]
    turns = [Rotation.from_quat(each) for each in skeleton.turns]
    for entry in poses.puppet.layers:
        layer = next((each for each in report.layers if each.layer == entry.id), None)
        if layer is None:
            continue
        shown, share = _blended(poses, layer)
        if shown is None:
            continue
        mask = poses.mask(entry)
        for bone in range(count):
            part = float(mask[bone]) * layer.weight * share
            places[bone] = places[bone] * (1 - part) + shown[bone][0] * part
            turns[bone] = Slerp([0, 1], Rotation.concatenate([turns[bone], shown[bone][1]]))(part)
    return LocalPose(np.array(places)[None], np.array([each.as_quat() for each in turns])[None],
                     np.ones((1, count, 3)))


def _blended(poses: ClipPoses, layer: LayerReport) -> tuple[Any, float]:
    clips = [(each.clip, each.clip_time, each.weight) for each in layer.fading]
    clips += [(layer.clip, layer.clip_time, layer.blend)] if layer.clip is not None else []
    found, total = None, 0.0
    for clip, time, weight in clips:
        pose = poses.at(poses.puppet.clip(clip), np.array([time]))
        new = [(place, Rotation.from_quat(turn))
               for place, turn in zip(pose.places[0], pose.turns[0], strict=True)]
        total += weight
        if weight <= 0:
            continue
        part = weight / total
        found = new if found is None else [
            (a[0] * (1 - part) + b[0] * part,
             Slerp([0, 1], Rotation.concatenate([a[1], b[1]]))(part))
            for a, b in zip(found, new, strict=True)]
    return found, min(1.0, total)


def without_momentum(puppet: Puppet) -> Puppet:
    return replace(puppet, transitions=tuple(
        [replace(each, blend=Blend("crossfade", each.blend.seconds))
         if each.blend.kind == "momentum" else each for each in puppet.transitions]))


class Figures(Case):
    def setUp(self) -> None:
        self.puppet = load_puppet(HARROW)

    def test_blends_layers_and_masks_are_those_of_a_simpler_model(self) -> None:
        puppet = without_momentum(self.puppet)
        poses, reports = ClipPoses(puppet, ARTS), reports_of(puppet)
        self.assertGreater(sum(bool(layer.fading) for report in reports
                               for layer in report.layers), 30)
        found = FigurePoses(poses).of(reports)
        for tick in range(0, TICKS, 3):
            one = LocalPose(*[each[tick:tick + 1] for each in found])
            self.assertLess(far(one, plainly(poses, reports[tick])), 1e-6, tick)

    @given(st.lists(st.integers(1, 60), max_size=6))
    def test_it_is_the_same_however_many_ticks_are_posed_together(self, parts: list[int]) -> None:
        poses, reports = ClipPoses(self.puppet, ARTS), reports_of(self.puppet)
        whole, figure, at = FigurePoses(poses).of(reports), FigurePoses(poses), 0
        for count in (*parts, TICKS):
            part = figure.of(reports[at:at + count])
            wanted = LocalPose(*[each[at:at + count] for each in whole])
            if len(part.places):
                self.assertLess(far(part, wanted), 1e-12)
            at += count

    @given(st.lists(st.one_of(st.integers(0, TICKS - 1), st.just(None)), min_size=1, max_size=40))
    def test_ticks_that_are_looked_at_are_as_the_run_went(self, ticks: list[int | None]) -> None:
        """One by one, in any order; None is the next one."""
        poses, reports = ClipPoses(self.puppet, ARTS), reports_of(self.puppet)
        whole, one_by_one, at = FigurePoses(poses).of(reports), PoseByPose(poses), 0
        for tick in ticks:
            at = min(at + 1, TICKS - 1) if tick is None else tick
            wanted = LocalPose(*[each[at:at + 1] for each in whole])
            self.assertLess(far(one_by_one.at(reports, at), wanted), 1e-12)

    def test_of_another_run_it_begins_at_its_own_start(self) -> None:
        """Two runs looked at in turns, whose momentum is of other ticks."""
        poses, reports = ClipPoses(self.puppet, ARTS), reports_of(self.puppet)
        other = reports_of(self.puppet, [(first + 3, last + 3, key)
                                         for first, last, key in PRESSES])
        one_by_one, whole = PoseByPose(poses), FigurePoses(poses).of(other)
        for tick in range(60, 90):
            one_by_one.at(reports, tick)
            wanted = LocalPose(*[each[tick + 1:tick + 2] for each in whole])
            self.assertLess(far(one_by_one.at(other, tick + 1), wanted), 1e-12)

    def test_the_legs_walk_on_under_a_guard_to_the_last_bit(self) -> None:
        reports = reports_of(self.puppet)
        bare = replace(self.puppet, layers=self.puppet.layers[:1])
        body = FigurePoses(ClipPoses(bare, ARTS)).of(reports)
        both = FigurePoses(ClipPoses(self.puppet, ARTS)).of(reports)
        poses = ClipPoses(self.puppet, ARTS)
        for name in ("hips", "thigh L", "shin R", "toes L", "coat back"):
            bone = poses.bone(name)
            self.assertTrue((body.turns[:, bone] == both.turns[:, bone]).all(), name)
        arm = poses.bone("upper arm L")
        self.assertFalse(np.allclose(body.turns[40, arm], both.turns[40, arm]))

    def test_masks_rise_down_the_chain_and_single_bones_have_weights_by_hand(self) -> None:
        poses = ClipPoses(self.puppet, ARTS)
        layer = replace(self.puppet.layers[1], weights=(BoneWeight("head", 0.25),))
        mask = dict(zip(poses.skeleton.names, poses.mask(layer), strict=True))
        self.assertEqual([round(mask[name], 9) for name in (
            "hips", "spine", "spine 2", "chest", "neck", "head", "hand L")],
            [0, 0, round(1 / 3, 9), round(2 / 3, 9), 1, 0.25, 1])
        self.assertTrue((poses.mask(replace(layer, mask=(), weights=())) == 1).all())

    def test_what_is_added_is_what_a_clip_has_beyond_its_reference(self) -> None:
        idle = named(self.puppet, "idle").id
        arms = replace(self.puppet.layers[1], adds=True, reference=ReferencePose(idle, 0.0))
        puppet = replace(self.puppet, layers=(self.puppet.layers[0], arms), states=tuple(
            [replace(each, clip=idle, speed=0.0) if each.layer == "arms" else each
             for each in self.puppet.states]))
        # A clip that stands still at its own reference adds nothing.
        reports = reports_of(puppet)
        bare = replace(puppet, layers=puppet.layers[:1])
        self.assertLess(far(FigurePoses(ClipPoses(puppet, ARTS)).of(reports),
                            FigurePoses(ClipPoses(bare, ARTS)).of(reports)), 1e-9)


class Momentum(Case):
    """The walk is left for idle, or for a strike, in the middle of a step."""

    def poses(self, blend: Blend) -> tuple[list[Report], LocalPose, Puppet]:
        puppet = load_puppet(HARROW)
        for id in ("walk_to_idle", "ground_to_light"):
            puppet = transition_changed(puppet, id, blend=blend)
        reports = reports_of(puppet, [(5, 47, "right"), (92, 94, "attack")], 120)
        return reports, FigurePoses(ClipPoses(puppet, ARTS)).of(reports), puppet

    def test_it_begins_with_the_old_pose_and_its_speed_and_ends_in_the_new(self) -> None:
        reports, carried, puppet = self.poses(Blend("momentum", 0.25))
        _, cut, _ = self.poses(Blend("cut"))
        at = next(report.tick for report in reports
                  if any(each.transition == "walk_to_idle" for each in report.taken))
        skeleton = ClipPoses(puppet, ARTS).skeleton
        one, other = (in_world(skeleton, each).places for each in (carried, cut))
        pop = np.linalg.norm(other[at] - other[at - 1], axis=-1).max()
        before = one[at - 1] - one[at - 2]
        step = one[at] - one[at - 1]
        self.assertGreater(pop, 0.1)
        self.assertLess(np.linalg.norm(step, axis=-1).max(), pop / 2)
        # The speed of each bone goes on: the change of speed is a small part of the pop.
        self.assertLess(np.linalg.norm(step - before, axis=-1).max(), pop / 5)
        over = at + round(0.25 * 60)
        self.assertLess(np.abs(one[over:over + 5] - other[over:over + 5]).max(), 1e-12)

    def test_a_hit_stop_holds_what_dies_away(self) -> None:
        puppet = load_puppet(HARROW)
        setup = set_up(puppet, WORLD)
        records = run(setup, [(5, 40, "right")], 60)
        at = next(record.report.tick for record in records
                  if any(each.transition == "walk_to_idle" for each in record.report.taken))
        state, reports = records[at + 3].after.machine, [each.report for each in
                                                         records[:at + 4]]
        inputs = records[at + 3].inputs
        for stopped in (True, True, True, False, False):
            state, report = setup.tick(state, Inputs(inputs.down, inputs.senses, stopped=stopped))
            reports.append(report)
        found = FigurePoses(ClipPoses(puppet, ARTS)).of(reports)
        held = [LocalPose(*[each[place:place + 1] for each in found])
                for place in range(at + 3, at + 9)]
        self.assertEqual([far(held[0], each) for each in held[1:4]], [0.0, 0.0, 0.0])
        plain = FigurePoses(ClipPoses(puppet, ARTS)).of(
            [record.report for record in records[:at + 6]])
        self.assertLess(far(held[4], LocalPose(*[each[at + 4:at + 5] for each in plain])), 1e-9)

    def test_a_crossfade_that_interrupts_it_does_not_pop(self) -> None:
        puppet = load_puppet(HARROW)
        presses = [(5, 40, "right"), (48, 90, "down")]
        reports = reports_of(puppet, presses, 90)
        taken = [(report.tick, each.transition) for report in reports for each in report.taken]
        at = next(tick for tick, id in taken if id == "idle_to_crouch")
        left = next(tick for tick, id in taken if id == "walk_to_idle")
        self.assertLess(at - left, 15)
        places = in_world(ClipPoses(puppet, ARTS).skeleton,
                          FigurePoses(ClipPoses(puppet, ARTS)).of(reports)).places
        steps = np.linalg.norm(np.diff(places, axis=0), axis=-1).max(axis=1)
        self.assertLess(steps[at - 1], 1.5 * max(steps[at - 2], steps[at]))


class Promises(Case):
    def test_a_pop_is_seen_promised_against_and_found_again(self) -> None:
        puppet = load_puppet(HARROW)
        for changed, kept in ((puppet, True),
                              (transition_changed(puppet, "arms_to_guard", blend=Blend()), False)):
            records = run(set_up(changed, WORLD), [(5, 60, "right"), (20, 50, "guard")], 80)
            verdict = judged(JUMPS, records, poses=ClipPoses(changed, ARTS))
            self.assertEqual(verdict.kept, kept, verdict)
        self.assertEqual((verdict.tick, len(verdict.marks)), (20, 1))
        self.assertRegex(verdict.words, r"^worst \d+\.\d cm, (hand|fingers|thumb) L, at 20$")
        self.assertEqual(promise_words(JUMPS, puppet),
                         "no bone jumps more than 11 cm while it plays")

    def test_it_is_asked_for_only_while_something_is_so(self) -> None:
        puppet = transition_changed(load_puppet(HARROW), "arms_to_guard", blend=Blend())
        records = run(set_up(puppet, WORLD), [(5, 60, "right"), (20, 50, "guard")], 80)
        poses = ClipPoses(puppet, ARTS)
        for state, kept in (("walk_state", False), ("idle_state", True)):
            promise = replace(JUMPS, first=Happening("state", state))
            self.assertEqual(judged(promise, records, poses=poses).kept, kept)

    def test_without_its_bones_it_is_not_said_to_be_kept(self) -> None:
        records = run(set_up(load_puppet(HARROW), WORLD), [], 5)
        self.assertEqual(judged(JUMPS, records).words, "its file of bones cannot be read")
        self.assertFalse(judged(JUMPS, records).kept)


class InHand(Case):
    def test_the_shield_goes_from_the_back_to_the_arm_and_back_again(self) -> None:
        puppet = load_puppet(HARROW)
        poses, reports = ClipPoses(puppet, ARTS), reports_of(puppet)
        held = []
        for tick, report in enumerate(reports[:70]):
            world = in_world(poses.skeleton, PoseByPose(poses).at(reports, tick))
            props = in_hand(poses, world, report)
            self.assertEqual([each.shows for each in props], ["harrow_shield.glb"])
            held.append(props[0].anchor)
            bone = poses.bone("chest" if props[0].anchor == "back" else "fore arm L")
            self.assertLess(np.linalg.norm(props[0].matrix[:3, 3] - world.places[0, bone]), 0.3)
        self.assertEqual([anchor for tick, anchor in enumerate(held)
                          if not tick or held[tick - 1] != anchor],
                         ["back", "shield_arm", "back"])
        self.assertEqual((held.index("shield_arm"), held[20:50]), (20, ["shield_arm"] * 30))

    @given(st.tuples(*[st.floats(-2, 2)] * 3))
    def test_an_anchor_that_is_put_somewhere_is_there(self, at: tuple[float, float, float]) -> None:
        puppet = load_puppet(HARROW)
        poses = ClipPoses(puppet, ARTS)
        world = in_world(poses.skeleton, poses.at(named(puppet, "walk"), np.array([0.4])))
        place = puppet.anchors[1].on_bone
        assert place is not None
        moved = anchor_matrix(poses, world, place_from(poses, world, place, np.array(at)))
        assert moved is not None
        self.assertLess(np.abs(moved[:3, 3] - at).max(), 2e-4)


class Seams(Case):
    def test_a_loop_closes_and_a_strike_does_not(self) -> None:
        puppet = load_puppet(HARROW)
        poses = ClipPoses(puppet, ARTS)
        for name in ("idle", "walk", "guard", "hanging"):
            gap = seam_of(poses, named(puppet, name))
            self.assertLess(max(gap.centimetres, gap.degrees), 0.1, name)
        cut = named(puppet, "walk")
        assert cut.motion is not None
        half = replace(cut, motion=replace(cut.motion, end=cut.motion.whole / 2))
        gap = seam_of(poses, half)
        self.assertGreater(gap.centimetres, 20)
        self.assertRegex(gap.bone, "toes|foot")

    def test_poses_of_a_take_come_some_ticks_at_once(self) -> None:
        puppet = load_puppet(HARROW)
        parts = list(take_poses(ClipPoses(puppet, ARTS), iter(reports_of(puppet, [], 600))))
        self.assertEqual([len(part.places) for part in parts], [512, 88])
