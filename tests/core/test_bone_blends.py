"""Poses mixed, masked, added and dying away: what must hold of any of them."""

from __future__ import annotations

from itertools import pairwise
from typing import Any

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation

from tests.depth import examples
from tests.helpers import Case
from yarn_puppet.core.model.bones import Skeleton
from yarn_puppet.core.pose.bones.blending import between, blended
from yarn_puppet.core.pose.bones.layering import added, mask_from, over
from yarn_puppet.core.pose.bones.momentum import dying, offset_of
from yarn_puppet.core.pose.bones.sampling import LocalPose
from yarn_puppet.core.pose.bones.turns import turn_about, turned_by

BONES = 3


def pose_of(numbers: np.random.Generator, spread: float = 3.0) -> LocalPose:
    return LocalPose(numbers.normal(size=(1, BONES, 3)),
                     Rotation.from_rotvec(numbers.normal(size=(BONES, 3)) * spread).as_quat()[None],
                     numbers.uniform(0.5, 2, (1, BONES, 3)))


poses = st.integers(0, 1 << 30).map(lambda seed: pose_of(np.random.default_rng(seed)))
shares = st.floats(0, 1)


def far(one: LocalPose, other: LocalPose) -> float:
    """How far two poses are apart: the largest difference of any number, turns as turns."""
    angle = (Rotation.from_quat(one.turns[0]).inv()
             * Rotation.from_quat(other.turns[0])).magnitude().max()
    return float(max(angle, np.abs(one.places - other.places).max(),
                     np.abs(one.sizes - other.sizes).max()))


class Blends(Case):
    @given(poses, poses)
    def test_all_and_nothing_are_the_very_pose(self, one: LocalPose, other: LocalPose) -> None:
        for share, wanted in ((0.0, one), (1.0, other)):
            found = between(one, other, share)
            self.assertTrue((found.places == wanted.places).all())
            self.assertTrue((found.sizes == wanted.sizes).all())
            self.assertTrue((np.abs(found.turns) == np.abs(wanted.turns)).all())

    @given(poses, poses, shares)
    def test_the_other_way_round_is_the_rest(
        self, one: LocalPose, other: LocalPose, share: float
    ) -> None:
        halves = np.abs(np.sum(one.turns * other.turns, axis=-1)) < 1e-3
        if not halves.any():
            self.assertLess(far(between(one, other, share), between(other, one, 1 - share)), 1e-6)

    @given(poses, st.lists(st.floats(0, 4), min_size=1, max_size=5).filter(any))
    def test_a_pose_with_itself_stays(self, one: LocalPose, weights: list[float]) -> None:
        self.assertLess(far(blended([one] * len(weights), weights), one), 1e-6)

    @given(st.lists(st.tuples(poses, st.floats(0.01, 1)), min_size=1, max_size=5),
           st.floats(0.1, 9))
    def test_only_ratios_of_weights_count_and_places_are_their_mean(
        self, mixed: list[Any], times: float
    ) -> None:
        all_poses, weights = [pose for pose, _ in mixed], [weight for _, weight in mixed]
        found = blended(all_poses, weights)
        self.assertLess(far(found, blended(all_poses, [each * times for each in weights])), 1e-6)
        mean = sum(pose.places * weight for pose, weight in mixed) / sum(weights)
        self.assertLess(np.abs(found.places - mean).max(), 1e-9)
        self.assertLess(np.abs(np.linalg.norm(found.turns, axis=-1) - 1).max(), 1e-12)

    @given(poses, poses, poses, shares, shares)
    def test_interrupted_it_goes_on_from_what_was_on_show(
        self, first: LocalPose, second: LocalPose, third: LocalPose, reached: float, on: float
    ) -> None:
        shown = between(first, second, reached)
        weights = [(1 - reached) * (1 - on), reached * (1 - on), on]
        if on < 1 or reached < 1:
            self.assertLess(far(blended([first, second, third], weights),
                                between(shown, third, on)), 1e-6)

    def test_without_a_weight_there_is_no_pose(self) -> None:
        pose = pose_of(np.random.default_rng(1))
        with self.assertRaises(ValueError):
            blended([pose], [0.0])


def chain(parents: tuple[int, ...]) -> Skeleton:
    count = len(parents)
    return Skeleton(tuple(str(number) for number in range(count)), parents, np.zeros((count, 3)),
                    np.zeros((count, 4)), np.ones((count, 3)), np.zeros((count, 4, 4)),
                    np.zeros((count, 4)), {})


class Layers(Case):
    def test_a_mask_is_a_bone_and_what_is_under_it(self) -> None:
        #            spine, arm, hand, finger, leg
        skeleton = chain((-1, 0, 1, 2, 0))
        self.assertEqual(mask_from(skeleton, 1).tolist(), [0, 1, 1, 1, 0])
        self.assertEqual(mask_from(skeleton, 1, 1).tolist(), [0, 0.5, 1, 1, 0])
        self.assertEqual(mask_from(skeleton, 0, 3).tolist(), [0.25, 0.5, 0.75, 1, 0.5])

    @given(poses, poses, shares)
    def test_masks_of_nothing_and_all_are_exact(
        self, below: LocalPose, above: LocalPose, weight: float
    ) -> None:
        mask = np.array([0.0, 1.0, 0.5])
        found = over(below, above, mask, weight)
        self.assertTrue((found.places[:, 0] == below.places[:, 0]).all())
        self.assertTrue((found.turns[:, 0] == below.turns[:, 0]).all())
        whole = over(below, above, mask, 1.0)
        self.assertTrue((whole.places[:, 1] == above.places[:, 1]).all())
        self.assertTrue((np.abs(whole.turns[:, 1]) == np.abs(above.turns[:, 1])).all())

    @given(poses, poses, poses)
    def test_added_to_its_reference_it_is_the_pose(
        self, below: LocalPose, above: LocalPose, reference: LocalPose
    ) -> None:
        ones = np.ones(BONES)
        self.assertLess(far(added(reference, above, reference, ones, 1.0), above), 1e-6)
        self.assertLess(far(added(below, reference, reference, ones, 1.0), below), 1e-6)
        nothing = added(below, above, reference, ones, 0.0)
        self.assertTrue((nothing.turns == below.turns).all() and
                        (nothing.places == below.places).all())

    @given(poses, poses, poses, shares)
    def test_half_twice_is_the_whole(
        self, below: LocalPose, above: LocalPose, reference: LocalPose, share: float
    ) -> None:
        ones = np.ones(BONES)
        parts = added(added(below, above, reference, ones, share), above, reference, ones,
                      1 - share)
        whole = added(below, above, reference, ones, 1.0)
        self.assertLess(np.abs(parts.places - whole.places).max(), 1e-9)
        angle = (Rotation.from_quat(parts.turns[0]).inv()
                 * Rotation.from_quat(whole.turns[0])).magnitude().max()
        self.assertLess(angle, 1e-6)


class Momentum(Case):
    @given(st.floats(-3, 3), st.floats(-40, 40), st.floats(0.02, 1))
    def test_it_begins_as_it_was_ends_at_rest_and_never_passes_zero(
        self, offset: float, speed: float, seconds: float
    ) -> None:
        def left(time: float) -> float:
            return float(dying(np.array([offset]), np.array([speed]), seconds, time)[0])

        self.assertAlmostEqual(left(0), offset, places=12)
        side = 1 if offset > 0 or (offset == 0 and speed > 0) else -1
        ends = min(seconds, -5 * offset / speed) if offset * speed < 0 else seconds
        if ends > 1e-6:
            step = ends * 1e-6
            scale = abs(speed) + abs(offset) / ends + 1e-9
            self.assertLess(abs((left(step) - left(0)) / step - speed), 1e-3 * scale)
            self.assertLess(abs(left(ends) - left(ends - step)) / step, 1e-3 * scale)
        values = [left(seconds * number / 200) * side for number in range(201)]
        self.assertGreater(min(values), -1e-9 * (1 + abs(offset)))
        self.assertEqual(left(seconds), 0)
        # Once it falls it falls to the end.
        top = int(np.argmax(values))
        self.assertTrue(all(after <= before + 1e-9 for before, after in pairwise(values[top:])))
        if offset * speed < 0:
            self.assertEqual(top, 0)

    @settings(max_examples=examples(60))
    @given(st.integers(0, 1 << 30))
    def test_a_pose_goes_on_with_its_speed(self, seed: int) -> None:
        numbers, tick = np.random.default_rng(seed), 1 / 60
        new, now = pose_of(numbers), pose_of(numbers)
        drift = [numbers.normal(size=(1, BONES, 3)) for _ in range(2)]

        def old(time: float) -> LocalPose:
            turned = Rotation.from_quat(now.turns[0]) * Rotation.from_rotvec(drift[1][0] * time)
            return LocalPose(now.places + drift[0] * time, turned.as_quat()[None], now.sizes)

        found = offset_of(old(0), old(-tick), new, tick)
        self.assertLess(far(found.onto(new, 0.3, 0), now), 1e-6)
        self.assertLess(far(found.onto(new, 0.3, 0.3), new), 1e-9)
        small = 1e-4
        went = found.onto(new, 0.3, small)
        self.assertLess(np.abs((went.places - now.places) / small - drift[0]).max(), 0.3)
        angles = turn_about(found.onto(new, 0.3, 0).turns)[1]
        if angles.min() > 0.2 and np.linalg.norm(found.turns, axis=-1).max() < 2.9:
            speed = (Rotation.from_quat(now.turns[0]).inv()
                     * Rotation.from_quat(went.turns[0])).as_rotvec() / small
            # Half of what curves in one tick is not seen by a difference over it.
            self.assertLess(np.abs(speed - drift[1][0]).max(), 0.5)

    @given(st.lists(st.floats(-3, 3), min_size=3, max_size=3))
    def test_turns_and_their_vectors(self, vector: list[float]) -> None:
        turn = turned_by(np.array(vector))
        self.assertLess(np.abs(Rotation.from_quat(turn).as_matrix()
                               - Rotation.from_rotvec(vector).as_matrix()).max(), 1e-12)
